<!-- The band above pages that are of no open project. -->
<header class="border-b-2 border-rim bg-porcelain px-6 py-3">
	<a href="/?all" class="font-title text-[20px] font-medium" title="All projects">Kettle Dial</a>
</header>
