<script lang="ts">
	import { page } from '$app/state';
	import PlainBand from '$ui/frame/PlainBand.svelte';
</script>

<svelte:head><title>Not found · Kettle Dial</title></svelte:head>
<PlainBand />
<main class="mx-auto max-w-xl p-12">
	<h1>{page.status === 404 ? 'Not found' : 'Something went wrong'}</h1>
	<p class="mt-2">{page.error?.message}</p>
	{#if page.error?.advice}<p class="mt-1 text-steam">{page.error.advice}</p>{/if}
	<p class="mt-4"><a class="press" href="/?all">All projects</a></p>
</main>
