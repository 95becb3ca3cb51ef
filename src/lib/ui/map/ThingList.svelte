<script lang="ts">
	import { group, rollup } from 'd3-array';
	import { counted, numbered } from '$core/wording';
	import type { MapPage } from '$core/views';
	import { keyOf, written, type Standing } from './scene';

	/** What is on the map as a list: for the keyboard and for those who do not see the map. */
	let {
		things,
		days,
		picked,
		pick
	}: {
		things: readonly Standing[];
		days: MapPage['map']['days'];
		picked: ReadonlySet<string>;
		pick: (thing: Standing, more: boolean) => void;
	} = $props();

	let filter = $state('');
	const MOST = 200;
	const wanted = $derived(filter.trim().toLowerCase());
	const found = $derived(
		wanted === ''
			? things
			: things.filter((thing) =>
					`${thing.name ?? ''} ${thing.id} ${thing.kind.title}`.toLowerCase().includes(wanted)
				)
	);
	const shown = $derived(found.slice(0, MOST));
	const groups = $derived([...group(shown, ({ kind }) => kind)]);
	const counts = $derived(
		rollup(
			found,
			(some) => some.length,
			({ kind }) => kind
		)
	);
	const when = ({ from, until }: Standing) =>
		from === null
			? ''
			: `${days?.title.toLowerCase() ?? 'from'} ${until === null || until === from ? from : `${from}–${until}`}`;
</script>

<div class="flex min-h-0 flex-col">
	<input
		class="box w-full"
		placeholder="Only things with…"
		aria-label="Only things with"
		bind:value={filter}
	/>
	<div class="mt-2 min-h-0 flex-1 overflow-auto" role="region" aria-label="What is on the map">
		{#each groups as [kind, some] (kind.kind)}
			<h2 class="sticky top-0 bg-enamel py-1 text-[13px] font-semibold">
				{kind.plural} <span class="font-normal text-steam">{numbered(counts.get(kind)!)}</span>
			</h2>
			<ul>
				{#each some as thing (thing.nth)}
					<li>
						<button
							class="flex w-full items-baseline gap-2 rounded px-1.5 py-0.5 text-left text-[13px] hover:bg-wash {picked.has(
								keyOf(thing)
							)
								? 'bg-wash outline-2 outline-brass'
								: ''}"
							aria-pressed={picked.has(keyOf(thing))}
							onclick={(event) => pick(thing, event.shiftKey)}
						>
							<span class="min-w-0 flex-1 truncate {thing.mine ? 'text-copper' : ''}"
								>{thing.name ?? thing.id}</span
							>
							{#if thing.cut || thing.lost}<span class="text-[12px] text-scald">no way</span>{/if}
							{#if when(thing)}<span class="text-[12px] whitespace-nowrap text-steam">{when(thing)}</span
								>{/if}
							<span class="font-mono text-[12px] whitespace-nowrap text-steam"
								>{written(thing.x, kind.decimals)}, {written(thing.y, kind.decimals)}</span
							>
						</button>
					</li>
				{/each}
			</ul>
		{/each}
		{#if found.length > shown.length}<p class="px-1.5 py-1 text-[12px] text-steam">
				{counted(found.length - shown.length, 'more thing')}
				{found.length - shown.length === 1 ? 'is' : 'are'} on the map.
			</p>{/if}
		{#if found.length === 0}<p class="px-1.5 py-1 text-steam">
				{wanted === '' ? 'Nothing is on the map.' : 'Nothing on the map has this.'}
			</p>{/if}
	</div>
</div>
