<script lang="ts">
	import Nick from '$ui/frame/Nick.svelte';
	import { arrowKeys } from '$ui/frame/move';
	let { data } = $props();
</script>

<svelte:head><title>Tables · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Tables</h1>
	{#if data.kinds.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">No file of this game could be read as data yet.</p>
			<p class="mt-3"><a class="press" href="/p/{data.project.slug}/setup">See what was detected</a></p>
		</div>
	{/if}
	<div class="plate mt-4 divide-y divide-line" role="group" aria-label="Kinds" {@attach arrowKeys}>
		{#each data.kinds as kind (kind.kind)}
			<a
				data-move
				href="/p/{data.project.slug}/tables/{kind.kind}"
				class="grid grid-cols-[180px_120px_100px_1fr] items-baseline px-4 py-2.5 hover:bg-wash"
			>
				<span class="font-semibold">{kind.title}<Nick on={{ kind: kind.kind }} /></span><span
					>{kind.records} records</span
				><span class="text-copper">{kind.mine > 0 ? `${kind.mine} mine` : ''}</span><code
					class="truncate text-[12px] text-steam"
					title={kind.files}>{kind.files}{kind.inferred ? ' (found by itself)' : ''}</code
				>
			</a>
		{/each}
	</div>
</div>
