<script lang="ts">
	import ImportForm from '$ui/ImportForm.svelte';
	let { data } = $props();
</script>

<svelte:head><title>Kettle Dial</title></svelte:head>
<header class="border-b-2 border-rim bg-porcelain px-6 py-3">
	<span class="font-title text-[20px] font-medium">Kettle Dial</span>
</header>
<main class="mx-auto max-w-3xl px-6 py-10">
	{#if data.projects.length > 0}
		<h1>Projects</h1>
		<ul class="mt-4 space-y-2">
			{#each data.projects as project (project.slug)}
				<li>
					<a
						class="plate flex justify-between px-4 py-3 text-[16px] font-semibold hover:bg-wash"
						href="/p/{project.slug}/find">{project.title}<span class="text-steam">Open</span></a
					>
				</li>
			{/each}
		</ul>
		<h2 class="mt-10">Bring another game in</h2>
	{:else}
		<h1>Bring your game in</h1>
		<p class="mt-1 text-steam">
			Its files are read and never changed; your own changes are kept beside them.
		</p>
	{/if}
	<ImportForm roots={data.roots} />
</main>
