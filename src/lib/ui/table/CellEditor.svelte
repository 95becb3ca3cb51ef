<script lang="ts">
	import { onMount, tick } from 'svelte';
	import type { FieldRow } from '$core/views';
	import FieldEditor from '../editors/FieldEditor.svelte';

	/** The editor of a ticket over a cell of a table: what fits the value, with its meaning and limits. */
	let {
		slug,
		kind,
		id,
		path,
		style,
		set,
		close
	}: {
		slug: string;
		kind: string;
		id: string;
		path: string;
		style: string;
		set: (field: string, value: string, expected: string | null) => Promise<boolean>;
		/** `done` when a value was written. */
		close: (done: boolean) => void;
	} = $props();

	let row = $state<FieldRow | null>(null);
	let fault = $state('');
	let root = $state<HTMLDivElement>();

	onMount(async () => {
		const place = [kind, id, path].map(encodeURIComponent).join('/');
		const answer = await fetch(`/p/${slug}/api/field/${place}`);
		if (!answer.ok) {
			fault = 'The record could not be loaded. Try again.';
			return;
		}
		row = (await answer.json()) as FieldRow | null;
		if (!row) fault = 'This record does not have this field; open its ticket to add it.';
		await tick();
		const first = root?.querySelector<HTMLElement>('[data-edit], input, select, button');
		first?.focus();
		if (first?.matches('button[data-edit]')) first.click();
	});

	async function save(field: string, value: string, expected: string | null): Promise<boolean> {
		const several = row?.flags.length || row?.parts;
		if (!several) close(true);
		const done = await set(field, value, expected);
		if (several && done && row) row = { ...row, value };
		return done;
	}
	const limits = $derived(
		row && (row.min !== null || row.max !== null) ? `${row.min ?? '…'} to ${row.max ?? '…'}` : ''
	);
</script>

<!-- svelte-ignore a11y_no_static_element_interactions (Esc and leaving close it; what is inside is focusable) -->
<div
	bind:this={root}
	class="plate absolute z-30 min-w-56 p-2 shadow-lg"
	{style}
	data-testid="cell-editor"
	data-field={path}
	onkeydown={(event) => {
		// What is inside has had its turn: it leaves its value as it was, and then this closes.
		event.stopPropagation();
		if (event.key !== 'Escape') return;
		event.preventDefault();
		close(false);
	}}
	onfocusout={(event) => {
		const to = event.relatedTarget as HTMLElement | null;
		if (to && !root?.contains(to) && !to.closest('[data-bits-floating-content-wrapper]')) close(false);
	}}
>
	{#if row}
		<FieldEditor {slug} {kind} {id} {row} set={save} />
		<p class="mt-1 max-w-72 text-[12px] leading-4 text-steam">
			{row.title}{row.unit ? ` (${row.unit})` : ''}{limits ? `, ${limits}` : ''}{row.base !== null &&
			row.changed
				? `. ${row.below ?? 'The base'} says ${row.base || 'nothing'}`
				: ''}{row.meaning ? `. ${row.meaning}` : ''}
		</p>
	{:else}
		<p class={fault ? 'text-scald' : 'text-steam'} role={fault ? 'alert' : 'status'}>
			{fault || 'Loading…'}
		</p>
	{/if}
</div>
