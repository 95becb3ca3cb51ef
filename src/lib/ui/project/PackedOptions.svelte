<script lang="ts">
	import type { PackedField, PackedLayout } from '$core/formats';
	import type { ReadHow } from '$core/infer';
	import { X } from '../frame/icons';
	import { beginOf, countOf, fieldSorts, sizeOfField, withCount, withFields, withTexts } from './packed';

	/** The layout of a packed table as a form: where rows begin, how many there are, and the fields of a row. */
	let { how = $bindable(), changed }: { how: ReadHow; changed: () => void } = $props();

	const layout = $derived(how.layout as PackedLayout);
	const table = $derived(layout.tables[0]!);
	/** What can be asked here: one table, and one pool at most. Other layouts are pasted. */
	const isPlain = $derived(
		layout.tables.length === 1 && layout.pools.length <= 1 && layout.sums.length === 0
	);
	const count = $derived(countOf(layout));
	const texts = $derived(layout.pools[0]);

	function put(next: PackedLayout) {
		how = { ...how, layout: next };
		changed();
	}
	const number = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : undefined);
	function setField(nth: number, part: Partial<PackedField>) {
		put(
			withFields(
				layout,
				table.fields.map((field, at) => (at === nth ? { ...field, ...part } : field))
			)
		);
	}
	function sort(nth: number, as: PackedField['as']) {
		const { length: _, ...field } = table.fields[nth]!;
		const sized = as === 'text' || as === 'bytes' ? { length: sizeOfField(table.fields[nth]!) } : {};
		const next = { ...field, as, ...sized };
		if (!/^u/.test(as)) delete next.to;
		put(
			withFields(
				layout,
				table.fields.map((one, at) => (at === nth ? next : one))
			)
		);
	}
	/** A field in two: the first of half its size, where it has more than a byte. */
	const add = () =>
		put(
			withFields(layout, [
				...table.fields,
				{ name: `field ${table.fields.length + 1}`, as: 'u8', pad: 'zero', from: 'file' }
			])
		);
	const drop = (nth: number) =>
		put(
			withFields(
				layout,
				table.fields.filter((_, at) => at !== nth)
			)
		);
</script>

{#if isPlain}
	<details class="mt-3 rounded-lg border border-line px-3 py-1.5" open>
		<summary class="cursor-pointer font-semibold">Layout</summary>
		<div class="mt-2 grid grid-cols-2 gap-x-4 gap-y-2 text-[13px]">
			<label class="block"
				>Rows begin at byte<input
					class="box mt-0.5 block w-full font-mono"
					inputmode="numeric"
					value={beginOf(layout)}
					onchange={(event) =>
						put(withCount(layout, { ...count, begin: number(event.currentTarget.value) ?? 0 }))}
				/></label
			>
			<label class="block"
				>Number of rows<input
					class="box mt-0.5 block w-full font-mono"
					inputmode="numeric"
					placeholder={count.at === null ? 'up to the end' : 'as the head says'}
					value={table.rows ?? ''}
					onchange={(event) => {
						const { rows: _, ...rest } = table;
						const rows = number(event.currentTarget.value);
						put({ ...layout, tables: [{ ...rest, ...(rows === undefined ? {} : { rows }) }] });
					}}
				/></label
			>
			<label class="block"
				>Their number stands at byte<input
					class="box mt-0.5 block w-full font-mono"
					inputmode="numeric"
					placeholder="nowhere"
					value={count.at ?? ''}
					onchange={(event) =>
						put(withCount(layout, { ...count, at: number(event.currentTarget.value) ?? null }))}
				/></label
			>
			<label class="block"
				>as<select
					class="box mt-0.5 block w-full"
					value={count.as}
					onchange={(event) => put(withCount(layout, { ...count, as: event.currentTarget.value as 'u8' }))}
				>
					{#each ['u8', 'u16', 'u32'] as const as as (as)}<option value={as}>{fieldSorts[as]}</option>{/each}
				</select></label
			>
			<label class="block"
				>Texts that rows point at begin at byte<input
					class="box mt-0.5 block w-full font-mono"
					inputmode="numeric"
					placeholder="there are none"
					value={texts?.at ?? ''}
					onchange={(event) => put(withTexts(layout, number(event.currentTarget.value)))}
				/></label
			>
			<label class="block"
				>Which byte of a number comes first<select
					class="box mt-0.5 block w-full"
					value={layout.order}
					onchange={(event) => put({ ...layout, order: event.currentTarget.value as 'little' })}
				>
					<option value="little">the lowest (little-endian)</option>
					<option value="big">the highest (big-endian)</option>
				</select></label
			>
		</div>
		<fieldset class="mt-2 pb-2">
			<legend class="font-semibold">Fields of a row</legend>
			{#each table.fields as field, nth (nth)}
				<div class="mt-1 flex flex-wrap items-center gap-2">
					<input
						class="box w-36 font-mono"
						aria-label="Name of field {nth + 1}"
						placeholder="left as it is"
						value={field.name ?? ''}
						onchange={(event) => {
							const { name: _, ...rest } = field;
							const name = event.currentTarget.value.trim();
							put(
								withFields(
									layout,
									table.fields.map((one, at) => (at === nth ? { ...rest, ...(name ? { name } : {}) } : one))
								)
							);
						}}
					/>
					<select
						class="box"
						aria-label="Sort of field {nth + 1}"
						value={field.as}
						onchange={(event) => sort(nth, event.currentTarget.value as PackedField['as'])}
					>
						{#each Object.entries(fieldSorts) as [as, title] (as)}<option value={as}>{title}</option>{/each}
					</select>
					{#if field.as === 'text' || field.as === 'bytes'}
						<label class="flex items-center gap-1"
							>of<input
								class="box w-14 font-mono"
								inputmode="numeric"
								aria-label="Bytes of field {nth + 1}"
								value={field.length}
								onchange={(event) =>
									setField(nth, { length: Math.max(1, number(event.currentTarget.value) ?? 1) })}
							/>bytes</label
						>
					{:else if texts && /^u(16|32)$/.test(field.as)}
						<label class="flex items-center gap-1"
							><input
								type="checkbox"
								class="accent-(--rim)"
								checked={field.to !== undefined}
								onchange={(event) => {
									const { to: _, ...rest } = field;
									const next = event.currentTarget.checked ? { ...rest, to: texts.name } : rest;
									put(
										withFields(
											layout,
											table.fields.map((one, at) => (at === nth ? next : one))
										)
									);
								}}
							/>is the address of a text</label
						>
					{/if}
					<button
						type="button"
						class="rounded p-0.5 text-steam hover:bg-wash"
						aria-label="Remove field {nth + 1}"
						disabled={table.fields.length === 1}
						onclick={() => drop(nth)}><X size={14} /></button
					>
				</div>
			{/each}
			<button type="button" class="press slight mt-2" onclick={add}>Add a field</button>
		</fieldset>
	</details>
{/if}
