<script lang="ts">
	import { Combobox } from 'bits-ui';
	import { makePause } from '../frame/pause';

	/** Finds a record by its name, as Find does, and gives it to the caller. */
	let {
		slug,
		kind,
		label,
		pick
	}: { slug: string; kind: string; label: string; pick: (kind: string, id: string, name: string) => void } =
		$props();

	let typed = $state('');
	let hits = $state<{ kind: string; record: string; name: string | null; kindTitle: string }[]>([]);
	let open = $state(false);
	const pause = makePause();

	function look() {
		pause.after(() => {
			void (async () => {
				const query = typed;
				const answer = await fetch(
					`/p/${slug}/api/find?q=${encodeURIComponent(query)}${kind ? `&kind=${encodeURIComponent(kind)}` : ''}`
				).catch(() => null);
				if (answer?.ok && query === typed) hits = (await answer.json()).records;
			})();
		}, 80);
	}
</script>

<Combobox.Root
	type="single"
	bind:open
	inputValue={typed}
	value=""
	onValueChange={(value) => {
		const hit = hits.find((candidate) => `${candidate.kind}/${candidate.record}` === value);
		if (!hit) return;
		typed = '';
		hits = [];
		open = false;
		pick(hit.kind, hit.record, hit.name ?? hit.record);
	}}
>
	<Combobox.Input
		aria-label={label}
		placeholder="{label}…"
		class="box w-64"
		oninput={(event: Event) => {
			typed = (event.currentTarget as HTMLInputElement).value;
			open = true;
			look();
		}}
	/>
	<Combobox.Portal>
		<Combobox.Content sideOffset={4} class="plate z-50 max-h-80 w-96 overflow-auto p-1 shadow-lg">
			{#if hits.length === 0}<p class="px-2 py-1 text-steam">
					{typed === '' ? 'Type a name, an id or a value.' : 'No matches.'}
				</p>{/if}
			{#each hits as hit (hit.kind + hit.record)}
				<Combobox.Item
					value="{hit.kind}/{hit.record}"
					label={hit.record}
					class="flex justify-between gap-3 rounded px-2 py-1 data-highlighted:bg-wash"
					><span class="truncate">{hit.name ?? hit.record}</span><span class="text-[12px] text-steam"
						>{hit.kindTitle} <code>{hit.record}</code></span
					></Combobox.Item
				>
			{/each}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>
