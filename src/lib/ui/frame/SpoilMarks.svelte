<script lang="ts">
	import type { Spoiled } from '$core/guide';

	/** What a change takes from the player: short, or with why and by which files. */
	let { spoiled, short = false }: { spoiled: readonly Spoiled[]; short?: boolean } = $props();
</script>

{#each spoiled as one, at (at)}
	{#if short}<span
			class="rounded-full border border-saffron px-2 text-[12px] text-saffron"
			title="{one.because ? `${one.because} ` : ''}By {one.files.join(', ')}">{one.says}</span
		>{:else}<p class="mt-2 rounded-lg border border-saffron px-3 py-1.5" data-testid="spoils">
			<b class="font-semibold">This {one.says}.</b>
			{one.because ?? ''}
			<span class="text-steam"
				>By {one.files.slice(0, 3).join(', ')}{one.files.length > 3 ? ' and others' : ''}.</span
			>
		</p>{/if}
{/each}
