<script lang="ts">
	import type { FieldRow } from '$core/views';
	import { limitFault, typeFault } from '$core/checks';
	import FlagsEditor from './FlagsEditor.svelte';
	import Nick from './Nick.svelte';
	import NoteOn from './NoteOn.svelte';
	import Peek from './Peek.svelte';
	import ReferencePicker from './ReferencePicker.svelte';
	import Scale from './Scale.svelte';
	import TypedEditor from './TypedEditor.svelte';
	import { asWritten } from '$core/numbers';

	/** One field of the ticket: what the base says, what I say, where that stands, what it means. */
	let {
		slug,
		kind,
		row,
		set,
		linkTo
	}: {
		slug: string;
		kind: string;
		row: FieldRow;
		set: (field: string, value: string, expected: string | null) => Promise<boolean>;
		linkTo: (kind: string, id: string) => string;
	} = $props();

	const number = (value: string | null) =>
		value === null || value.trim() === '' || !Number.isFinite(Number(value)) ? null : Number(value);
	/** What the base says stands in words below where its column is too narrow for it. */
	const inColumn = $derived(
		!row.reference && (row.numeric || !['text', 'textKey', 'file'].includes(row.type))
	);
	const baseInWords = $derived(row.changed && !inColumn ? `The base says ${row.base || 'nothing'}.` : '');
	const about = $derived({
		...row.about,
		type: row.type as NonNullable<Parameters<typeof asWritten>[0]['type']>
	});
	const written = (text: string) => asWritten(about, text, row.value);
	const save = (text: string) => set(row.path, written(text), row.value);

	function fault(typed: string): string | null {
		const text = written(typed);
		const asked = {
			type: row.type,
			decimals: row.about.decimals,
			codes: row.choices.some(({ means }) => means !== null)
				? Object.fromEntries(row.choices.map(({ value, means }) => [value, means ?? '']))
				: undefined,
			required: row.required,
			min: row.min ?? undefined,
			max: row.max ?? undefined
		} as Parameters<typeof typeFault>[0];
		const type = typeFault(asked, text);
		if (type) return `${row.title} ${type}.`;
		const limit = limitFault(asked, text);
		return limit ? `${row.title} ${limit.said}, the limit of the game.` : null;
	}
</script>

<div
	class="group grid grid-cols-[minmax(88px,1fr)_64px_104px_136px] items-center gap-x-3 border-b border-line/60 py-0.5"
	data-field={row.path}
>
	<span class="min-w-0 leading-tight">
		<a
			class="decoration-steam underline-offset-2 hover:underline"
			href="/p/{slug}/values/{encodeURIComponent(kind)}/{encodeURIComponent(row.path)}"
			title="{row.path}: all values that it takes">{row.title}</a
		>
		{#if row.unit}<span class="text-[12px] text-steam">{row.unit}</span>{/if}
		<NoteOn on={{ kind, field: row.path }} quiet />
		<Nick on={{ kind, field: row.path, value: row.value }} />
	</span>
	<span class="truncate text-right font-mono text-steam" title={row.base ?? ''}
		>{inColumn ? (row.base ?? '—') : ''}</span
	>
	{#if row.reference && !row.reference.several}
		<span
			class="col-span-2 flex min-w-0 items-center gap-2 {row.changed ? 'mine-bar' : ''} pl-1"
			data-value={row.value}
			data-label={row.title}
		>
			<ReferencePicker {slug} {kind} {row} {save} />
			{#if row.reference.target}<Peek
					{slug}
					target={row.reference.target}
					href={linkTo(row.reference.target.kind, row.reference.target.id)}
				/>{/if}
		</span>
	{:else if row.flags.length > 0}
		<span class="col-span-2 {row.changed ? 'mine-bar' : ''} pl-1"><FlagsEditor {row} {save} /></span>
	{:else if row.spread}
		<span class="{row.changed ? 'mine-bar' : ''} pl-1"><TypedEditor {row} {fault} {save} /></span>
		<Scale
			spread={row.spread}
			base={number(row.base)}
			mine={row.mine ? number(row.value) : null}
			title={row.title}
			unit={row.unit}
		/>
	{:else}
		<span class="col-span-2 {row.changed ? 'mine-bar' : ''} min-w-0 pl-1"
			><TypedEditor {row} {fault} {save} /></span
		>
	{/if}
	{#if baseInWords || row.ignored || row.meaning || row.remark || row.from || (row.means && row.flags.length === 0)}
		<p class="col-span-4 pb-0.5 text-[12px] leading-4 text-steam">
			{#if baseInWords}<span class="mr-1">{baseInWords}</span>{/if}{#if row.ignored}<span
					class="mr-1 text-saffron">{row.ignored}</span
				>{/if}{#if row.means && row.flags.length === 0}<span class="mr-1">Means {row.means}.</span
				>{/if}{row.meaning ?? row.remark ?? ''}
			{#if row.from}<span class="text-plum">From {row.from}.</span>{/if}
		</p>
	{/if}
</div>
