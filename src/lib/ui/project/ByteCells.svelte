<script lang="ts">
	import type { ByteCell } from '$core/views';
	import { bytesInWords } from './bytes';

	/** Bytes, each group with the value that it is below it; what my mod changed in copper. */
	let {
		cells,
		seen = null,
		see = () => {}
	}: { cells: readonly ByteCell[]; seen?: ByteCell | null; see?: (cell: ByteCell) => void } = $props();

	const FRAMES: Record<ByteCell['of'], string> = {
		head: 'border-line bg-wash',
		row: 'border-line bg-wash',
		pool: 'border-line bg-wash',
		sum: 'border-plum',
		filler: 'border-dotted border-line text-steam',
		nothing: 'border-dashed border-line'
	};
</script>

{#each cells as cell (cell.from)}
	<span
		class="rounded-sm border px-1 {FRAMES[cell.of]} {seen === cell ? 'outline-2 outline-rim' : ''}"
		title={bytesInWords(cell)}
		role="presentation"
		onpointerenter={() => see(cell)}
	>
		<span class="block max-w-120 whitespace-normal"
			>{#each cell.bytes as [hex, mine], at (at)}<span
					class={mine ? 'rounded-sm bg-copper px-px text-porcelain' : ''}
					data-mine={mine || undefined}>{hex}</span
				>{at < cell.bytes.length - 1 ? ' ' : ''}{/each}</span
		>
		{#if cell.of !== 'nothing' && (cell.path !== null || cell.value !== '')}
			<span class="block max-w-60 truncate font-sans text-[11px] text-steam"
				>{cell.of === 'sum' ? 'check sum' : (cell.path ?? '')}
				<span class="font-mono text-ink">{cell.value}</span></span
			>
		{/if}
	</span>
{/each}
