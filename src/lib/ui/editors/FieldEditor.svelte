<script lang="ts">
	import { faultOf, valueSchema } from '$core/checks';
	import { asWritten } from '$core/numbers';
	import type { FieldRow } from '$core/views';
	import FlagsEditor from './FlagsEditor.svelte';
	import ReferencePicker from '../pickers/ReferencePicker.svelte';
	import TypedEditor from './TypedEditor.svelte';
	import PartsEditor from './PartsEditor.svelte';

	/** The editor that fits a field, the same in a ticket and in a table. What is typed is checked by the field guide. */
	let {
		slug,
		kind,
		id,
		row,
		set
	}: {
		slug: string;
		kind: string;
		/** The record that it is a field of. */
		id: string;
		row: FieldRow;
		/** Writes a value; `expected` is the one that is on the screen. */
		set: (field: string, value: string, expected: string | null) => Promise<boolean>;
	} = $props();

	type About = Parameters<typeof asWritten>[0] & Parameters<typeof valueSchema>[0];
	const about = $derived({
		...row.about,
		type: row.type,
		codes: row.choices.some(({ means }) => means !== null)
			? Object.fromEntries(row.choices.map(({ value, means }) => [value, means ?? '']))
			: undefined,
		...(row.open ? { set: '' } : {}),
		required: row.required,
		min: row.min ?? undefined,
		max: row.max ?? undefined
	} as About);
	const schema = $derived(valueSchema(about));
	const written = (text: string) => asWritten(about, text, row.value);
	const save = (text: string) => set(row.path, written(text), row.value);

	function fault(typed: string): string | null {
		const said = faultOf(schema, written(typed));
		return said && `${row.title} ${said}.`;
	}
</script>

{#if row.reference && !row.reference.several}
	<ReferencePicker {slug} {kind} {id} {row} {save} />
{:else if row.flags.length > 0}
	<FlagsEditor {row} {save} />
{:else if row.parts}
	<PartsEditor {slug} {kind} {row} {save} />
{:else}
	<TypedEditor {row} {fault} {save} />
{/if}
