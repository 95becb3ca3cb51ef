<script lang="ts">
	import type { ReadHow } from '$core/infer';

	/** What can be set about the way in which a file is read: marks, positions, a pattern. */
	let { how = $bindable(), changed }: { how: ReadHow; changed: () => void } = $props();

	const EXAMPLE = '^(?<name>\\w+) (?<amount>\\d+)$';
	const layout = $derived(how.layout);
	/** Writes another layout of the same shape. */
	function set(part: Record<string, unknown>) {
		how = { ...how, layout: { ...how.layout, ...part } as NonNullable<ReadHow['layout']> };
		changed();
	}
	const words = (text: string) => text.split(/[\s,]+/).filter(Boolean);
	const rows = (text: string) =>
		text
			.split('\n')
			.map(words)
			.filter((row) => row.length > 0);
	const asRows = (names: readonly (readonly string[])[]) => names.map((row) => row.join(' ')).join('\n');
</script>

{#snippet mark(label: string, value: string, put: (value: string) => void, hint = '')}
	<label class="block"
		>{label}<input
			class="box mt-0.5 block w-full font-mono"
			{value}
			placeholder={hint}
			oninput={(event) => put(event.currentTarget.value)}
		/></label
	>
{/snippet}

{#if how.format === 'csv' || layout}
	<details
		class="mt-3 rounded-lg border border-line px-3 py-1.5"
		open={layout?.shape === 'lines' || layout?.shape === 'positional'}
	>
		<summary class="cursor-pointer font-semibold">Details</summary>
		<div class="mt-2 grid grid-cols-2 gap-x-4 gap-y-2 pb-2 text-[13px]">
			{#if how.format === 'csv'}
				{@render mark('Between values', how.separator ?? ',', (separator) => {
					how = { ...how, separator };
					changed();
				})}
				<label class="flex items-center gap-2 pt-5"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={how.header ?? true}
						onchange={(event) => {
							how = { ...how, header: event.currentTarget.checked };
							changed();
						}}
					/>The first line names the columns</label
				>
			{:else if layout?.shape === 'block'}
				{@render mark('Opens a block', layout.open, (open) => set({ open }))}
				{@render mark('Closes a block', layout.close, (close) => set({ close }))}
				{@render mark('Between name and value', layout.assign, (assign) => set({ assign }), 'space')}
				{@render mark('After a value', layout.end, (end) => set({ end }), 'line end')}
				{@render mark(
					'Before the opening mark',
					layout.openAfter,
					(openAfter) => set({ openAfter }),
					'nothing'
				)}
				{@render mark(
					'Before a block’s name',
					layout.openBefore,
					(openBefore) => set({ openBefore }),
					'nothing'
				)}
				{@render mark(
					'Names that open a block by themselves',
					layout.heads.join(' '),
					(text) => set({ heads: words(text) }),
					'none'
				)}
				{@render mark('Comments begin with', layout.comments.join(' '), (text) =>
					set({ comments: words(text) })
				)}
			{:else if layout?.shape === 'tagged'}
				{@render mark('Tag of a record’s first line', layout.first, (first) => set({ first }))}
				{@render mark('Between tag and values', layout.separator, (separator) => set({ separator }))}
				{@render mark('Tags that hold one text', layout.texts.join(' '), (text) =>
					set({ texts: words(text) })
				)}
				{@render mark('Comments begin with', layout.comments.join(' '), (text) =>
					set({ comments: words(text) })
				)}
			{:else if layout?.shape === 'positional'}
				<label class="col-span-2 block"
					>Names of the values, a line for each line of a record<textarea
						class="box mt-0.5 block h-16 w-full font-mono"
						value={asRows(layout.record)}
						oninput={(event) => set({ record: rows(event.currentTarget.value) })}></textarea></label
				>
				<label class="col-span-2 block"
					>Lines before the first record, with the names of their values<textarea
						class="box mt-0.5 block h-10 w-full font-mono"
						placeholder="none"
						value={asRows(layout.head)}
						oninput={(event) => set({ head: rows(event.currentTarget.value) })}></textarea></label
				>
				{@render mark('Between values', layout.separator, (separator) => set({ separator }), 'space')}
				<label class="block"
					>Which of these counts the records
					<select
						class="box mt-0.5 block w-full"
						value={layout.count ?? ''}
						onchange={(event) => set({ count: event.currentTarget.value || null })}
					>
						<option value="">none</option>
						{#each layout.head.flat() as name (name)}<option value={name}>{name}</option>{/each}
					</select></label
				>
				{@render mark('Comments begin with', layout.comments.join(' '), (text) =>
					set({ comments: words(text) })
				)}
			{:else if layout?.shape === 'lines'}
				<label class="col-span-2 block"
					>Pattern of a line: what each named group matches is a field<input
						class="box mt-0.5 block w-full font-mono"
						value={layout.pattern ?? ''}
						placeholder={EXAMPLE}
						oninput={(event) => set({ pattern: event.currentTarget.value || null })}
					/></label
				>
				<p class="col-span-2 text-[12px] text-steam">
					<code>(?&lt;name&gt;\w+)</code> is a word under the name <i>name</i>; <code>\d+</code> is a whole
					number;
					<code>.*</code> is anything. Without a pattern each line is one text.
				</p>
				{@render mark('Comments begin with', layout.comments.join(' '), (text) =>
					set({ comments: words(text) })
				)}
			{:else if layout?.shape === 'groups'}
				{@render mark('Names of the lines of a record', layout.names.join(' '), (text) =>
					set({ names: words(text) })
				)}
			{/if}
		</div>
	</details>
{/if}
