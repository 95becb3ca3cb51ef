<script lang="ts">
	import type { FieldRow } from '$core/views';
	import CodeMeaning from '../editors/CodeMeaning.svelte';
	import FieldEditor from '../editors/FieldEditor.svelte';
	import { X } from '../frame/icons';
	import Nick from '../frame/Nick.svelte';
	import NoteOn from '../frame/NoteOn.svelte';
	import Peek from './Peek.svelte';
	import SharedValue from './SharedValue.svelte';
	import Scale from '../charts/Scale.svelte';

	/** One field of the ticket: what the base says, what I say, where that stands, what it means. */
	let {
		slug,
		kind,
		id,
		row,
		plain = false,
		remove = null,
		set,
		linkTo
	}: {
		slug: string;
		kind: string;
		id: string;
		row: FieldRow;
		/** Whether it is in a list, which says its name. */
		plain?: boolean;
		/** Takes the field out of the record, where others of the kind do without. */
		remove?: (() => void) | null;
		set: (field: string, value: string, expected: string | null, everywhere?: boolean) => Promise<boolean>;
		linkTo: (kind: string, id: string) => string;
	} = $props();

	/** Whether a value that others point at, too, is changed for all of them. */
	let everywhere = $state(false);
	const setHere: typeof set = (field, value, expected) => set(field, value, expected, everywhere);

	const number = (value: string | null) =>
		value === null || value.trim() === '' || !Number.isFinite(Number(value)) ? null : Number(value);
	/** Whether one value is there, and not several bits or parts. */
	const alone = $derived(row.flags.length === 0 && !row.parts && !row.reference?.several);
	/** Between which numbers it has to lie: `1–40`. */
	const limits = $derived(
		row.min !== null && row.max !== null
			? `${row.min}–${row.max}`
			: row.min !== null
				? `at least ${row.min}`
				: row.max !== null
					? `at most ${row.max}`
					: ''
	);
	/** What the game makes of numbers beyond the limits. */
	const adjusts = $derived(
		row.beyond === 'clamps' && limits ? `The game reads numbers beyond ${limits} as the nearest one.` : ''
	);
	/** What the base says is in words below where its column is too narrow for it. */
	const inColumn = $derived(
		!row.reference && (row.numeric || !['text', 'textKey', 'file'].includes(row.type))
	);
	const baseInWords = $derived(
		row.changed && !inColumn
			? `${row.below ?? 'The base'} says ${row.base ? `“${row.base}”` : 'nothing'}.`
			: ''
	);
</script>

<div
	class="group grid items-center gap-x-3 py-0.5 {plain
		? row.spread
			? 'grid-cols-[96px_104px_128px]'
			: 'grid-cols-[96px_minmax(104px,1fr)_128px]'
		: 'grid-cols-[minmax(88px,1fr)_minmax(48px,96px)_104px_128px] border-b border-line/60'}"
	data-field={row.path}
	role="presentation"
	onkeydown={(event) => {
		if (event.key !== 'Delete' || !remove || !(event.target instanceof HTMLButtonElement)) return;
		event.preventDefault();
		remove();
	}}
>
	<span class="min-w-0 leading-tight {plain ? 'hidden' : ''}">
		{#if !plain}<a
				class="decoration-steam underline-offset-2 hover:underline"
				href="/p/{slug}/values/{encodeURIComponent(kind)}/{encodeURIComponent(row.path)}"
				title="{row.path}: all values in use">{row.title}</a
			>{/if}
		{#if row.unit}<span class="text-[12px] text-steam">{row.unit}</span>{/if}
		{#if limits}<span
				class="text-[12px] whitespace-nowrap text-steam"
				title="The game accepts {limits}{row.decimals === null
					? ''
					: `, with ${row.decimals} decimals at most`}">{limits}</span
			>{/if}
		{#if remove}<button
				class="rounded p-0.5 align-middle text-steam opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:bg-wash"
				tabindex="-1"
				aria-label="Remove {row.title} from this record"
				title="Remove this field (Delete)"
				onclick={remove}><X size={12} /></button
			>{/if}
		<NoteOn on={{ kind, field: row.path }} quiet />
		<Nick on={{ kind, field: row.path, value: row.value }} />
	</span>
	<span
		class="truncate text-right font-mono text-steam {row.parts ? 'hidden' : ''}"
		title={row.below ? `${row.below} says ${row.base}` : (row.base ?? '')}
		>{inColumn ? (row.base ?? '—') : ''}</span
	>
	<span
		class="{row.parts
			? 'col-span-3'
			: row.spread && alone
				? ''
				: 'col-span-2'} flex min-w-0 items-center gap-2 pl-1 {row.changed ? 'mine-bar' : ''}"
		{...row.reference && alone ? { 'data-value': row.value, 'data-label': row.title } : {}}
	>
		<span class={row.reference && alone ? 'shrink-0' : 'min-w-0 flex-1'}
			><FieldEditor {slug} {kind} {id} {row} set={setHere} /></span
		>
		{#if row.reference?.target && alone}<Peek
				{slug}
				target={row.reference.target}
				href={linkTo(row.reference.target.kind, row.reference.target.id)}
			/>{/if}
	</span>
	{#if row.spread && alone}
		<Scale
			spread={row.spread}
			base={number(row.base)}
			mine={row.mine ? number(row.value) : null}
			title={row.title}
			unit={row.unit}
		/>
	{/if}
	{#if baseInWords || row.taken || row.shown || row.ignored || row.reference?.chain || row.costs || adjusts || (row.meaning && !plain) || row.remark || row.from || (row.means && alone) || row.choices.length > 0}
		<p class="{plain ? 'col-span-3' : 'col-span-4'} pb-0.5 text-[12px] leading-4 text-steam">
			{#if row.taken}<span class="mr-1" data-testid="taken-over"
					>{row.taken.how === 'put in' ? 'The list has' : 'Inherits'}
					<span class="{row.numeric ? 'font-mono' : ''} text-ink">{row.taken.value}</span>{row.taken.how ===
					'put in'
						? ', added by'
						: ' from'}
					<a class="follow" href={linkTo(row.taken.from.kind, row.taken.from.id)}>{row.taken.from.name}</a
					>{row.taken.how === 'added' || row.taken.how === 'multiplied' ? ', adjusted on the way' : ''}.</span
				>{/if}{#if baseInWords}<span class="mr-1">{baseInWords}</span>{/if}{#if row.shown}<span class="mr-1"
					>The game shows it as number {row.shown[0]} of {row.shown[1]}.</span
				>{/if}{#if row.ignored}<span class="mr-1 text-saffron">{row.ignored}</span
				>{/if}{#if row.choices.length > 0}<span class="mr-1"
					>Means <CodeMeaning {slug} {kind} field={row.path} code={row.value} means={row.means} />.</span
				>{:else if row.means && alone}<span class="mr-1">Means {row.means}.</span>{/if}{(plain
				? null
				: row.meaning) ??
				row.remark ??
				''}{#if adjusts}<span class="ml-1">{adjusts}</span>{/if}{#if row.costs}<span class="ml-1"
					>Costs {row.costs}.</span
				>{/if}
			{#if row.reference?.chain}<a
					class="follow"
					href="/p/{slug}/chains/{encodeURIComponent(kind)}/{encodeURIComponent(row.path)}"
					aria-label="Show the whole chain: {row.title}">Show the whole chain</a
				>{/if}
			{#if row.from}<span class="text-plum">From {row.from}.</span>{/if}
		</p>
	{/if}
	{#if row.shared}
		<SharedValue
			{row}
			shared={row.shared}
			bind:everywhere
			class={plain ? 'col-span-3' : 'col-span-4'}
			set={setHere}
			{linkTo}
		/>
	{/if}
</div>
