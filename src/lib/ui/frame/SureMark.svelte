<script lang="ts">
	import type { Origin } from '$core/guide';

	/** How sure a statement is: people said it, or it was found, with a bar that fills as it gets surer. */
	let { origin, sure }: { origin: Origin; sure: number } = $props();
	const words = $derived(
		origin === 'mine'
			? 'set by you'
			: origin === 'shared'
				? 'from the shared guide'
				: `detected, ${Math.round(sure * 100)} % sure`
	);
	const tone = $derived(sure >= 0.9 ? 'bg-verdigris' : sure >= 0.6 ? 'bg-saffron' : 'bg-scald');
</script>

<span class="inline-flex shrink-0 items-center gap-1.5 whitespace-nowrap" title={words}>
	{#if origin === 'found'}
		<span class="h-1.5 w-10 overflow-hidden rounded-full bg-line" aria-hidden="true"
			><span class="block h-full {tone}" style="width: {Math.round(sure * 100)}%"></span></span
		><span class="font-mono text-[12px] text-steam">{Math.round(sure * 100)} %</span>
	{:else}
		<span class="text-[12px] {origin === 'mine' ? 'text-copper' : 'text-steam'}"
			>{origin === 'mine' ? 'mine' : 'shared'}</span
		>
	{/if}
	<span class="sr-only">{words}</span>
</span>
