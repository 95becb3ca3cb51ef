<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>Not found · Kettle Dial</title></svelte:head>
<main class="p-8">
	<h1>{page.status === 404 ? 'Not found' : 'Something went wrong'}</h1>
	<p class="mt-2">{page.error?.message}</p>
	<p class="mt-4"><a class="press" href="/p/{page.params.project}/find">Go to Find</a></p>
</main>
