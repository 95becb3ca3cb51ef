<script lang="ts">
	import type { ModOption } from '$core/options';
	import type { OptionCell, OptionsPage, OptionThing, OptionView } from '$core/views';
	import { thingOf, type Moved } from './moved';
	import OptionChooser from './OptionChooser.svelte';

	/** One optional part: what it is called, when players have it, and what it sets. */
	let {
		slug,
		option,
		busy,
		page,
		groups,
		change,
		remove,
		move
	}: {
		slug: string;
		option: OptionView;
		busy: boolean;
		page: OptionsPage;
		groups: string[];
		change: (edit: (now: ModOption) => ModOption) => Promise<boolean>;
		remove: () => Promise<boolean>;
		move: (way: 'into' | 'out', what: Moved) => Promise<boolean>;
	} = $props();

	let choosing = $state(false);
	const keyOf = ({ kind, id, field }: Pick<OptionCell, 'kind' | 'id' | 'field'>) =>
		JSON.stringify([kind, id, field]);

	function setValue(cell: OptionCell, value: string): void {
		void change((now) => ({
			...now,
			cells: now.cells.map((one) => (keyOf(one) === keyOf(cell) ? { ...one, value } : one))
		}));
	}
	/** Values that are shown at once. */
	const SHOWN = 200;
	const hrefOf = ({ kind, id }: OptionCell) =>
		`/p/${slug}/tables/${kind}?ticket=${encodeURIComponent(`${kind}/${id}`)}`;
	const nameOf = ({ name, id, kindTitle }: OptionThing) =>
		id === null || name === id ? `${kindTitle} ${name}` : `${kindTitle} ${name} (${id})`;
</script>

{#snippet place(cell: OptionCell)}
	<a class="follow" href={hrefOf(cell)}>{cell.name}</a>, {cell.fieldTitle}
{/snippet}

<li class="plate p-4" aria-label={option.title}>
	<div class="flex flex-wrap items-end gap-3">
		<label
			>Title<input
				class="box mt-0.5 block w-64"
				value={option.title}
				maxlength="200"
				onchange={({ currentTarget }) => {
					const title = currentTarget.value;
					void change((now) => ({ ...now, title }));
				}}
			/></label
		>
		<label
			>One of<input
				class="box mt-0.5 block w-48"
				value={option.oneOf ?? ''}
				maxlength="200"
				list="groups-{option.id}"
				placeholder="none: on or off"
				onchange={({ currentTarget }) => {
					const oneOf = currentTarget.value.trim() || null;
					void change((now) => ({ ...now, oneOf }));
				}}
			/></label
		>
		<datalist id="groups-{option.id}"
			>{#each groups as group (group)}<option value={group}></option>{/each}</datalist
		>
		<label class="flex items-center gap-1.5 pb-1.5"
			><input
				type="checkbox"
				class="accent-(--rim)"
				checked={option.standard}
				onchange={({ currentTarget }) => {
					const standard = currentTarget.checked;
					void change((now) => ({ ...now, standard }));
				}}
			/>on by default</label
		>
		<span class="ml-auto pb-1.5 font-mono text-[12px] text-steam">{page.mod}_{option.id}</span>
	</div>
	<label class="mt-3 block"
		>What it does, for players<input
			class="box mt-0.5 block w-full"
			value={option.about}
			maxlength="2000"
			onchange={({ currentTarget }) => {
				const about = currentTarget.value;
				void change((now) => ({ ...now, about }));
			}}
		/></label
	>
	{#if option.cells.length > 0}
		<table class="mt-3 w-full text-left">
			<thead class="text-[12px] text-steam">
				<tr
					><th class="font-normal">Value</th><th class="font-normal">Without it</th><th class="font-normal"
						>With it</th
					><th></th></tr
				>
			</thead>
			<tbody>
				{#each option.cells.slice(0, SHOWN) as cell (keyOf(cell))}
					<tr class="border-t border-line">
						<td class="py-1">{@render place(cell)}</td>
						<td class="font-mono text-[13px] text-steam">{cell.without || 'nothing'}</td>
						<td
							><input
								class="box h-7 w-40 font-mono text-[13px]"
								value={cell.value}
								aria-label="{cell.name}, {cell.fieldTitle}, with {option.title}"
								onchange={({ currentTarget }) => setValue(cell, currentTarget.value)}
							/></td
						>
						<td class="text-right whitespace-nowrap"
							><button
								class="press slight"
								disabled={busy}
								aria-label="{cell.name}, {cell.fieldTitle}: into the main part"
								onclick={() => void move('out', { cells: [cell] })}>Into the main part</button
							><button
								class="press slight"
								disabled={busy}
								aria-label="Remove {cell.name}, {cell.fieldTitle}"
								onclick={() =>
									void change((now) => ({
										...now,
										cells: now.cells.filter((one) => keyOf(one) !== keyOf(cell))
									}))}>Remove</button
							></td
						>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if option.cells.length > SHOWN}<p class="text-steam">
				{(option.cells.length - SHOWN).toLocaleString('en')} more values are not shown.
			</p>{/if}
	{/if}
	{#if option.things.length > 0}
		<ul class="mt-3" aria-label="Records and files of {option.title}">
			{#each option.things.slice(0, SHOWN) as thing (JSON.stringify(thing))}
				<li class="flex items-center justify-between border-t border-line py-1">
					<span>{nameOf(thing)}</span><button
						class="press slight"
						disabled={busy}
						aria-label="{nameOf(thing)}: into the main part"
						onclick={() => void move('out', { things: [thingOf(thing)] })}>Into the main part</button
					>
				</li>
			{/each}
		</ul>
		{#if option.things.length > SHOWN}<p class="text-steam">
				{(option.things.length - SHOWN).toLocaleString('en')} more records and files are not shown.
			</p>{/if}
	{/if}
	{#if option.cells.length + option.things.length === 0}
		<p class="mt-3 text-steam">It changes nothing yet.</p>
	{/if}
	<p class="mt-3 flex flex-wrap gap-3">
		<button class="press" aria-expanded={choosing} onclick={() => (choosing = !choosing)}
			>Move changes of my mod here</button
		>
		<button class="press slight" disabled={busy} onclick={() => void remove()}>Remove this option</button>
	</p>
	{#if choosing}<OptionChooser
			{page}
			{busy}
			move={async (what) => {
				if (await move('into', what)) choosing = false;
			}}
		/>{/if}
</li>
