<script lang="ts">
	import { sharesOf, withoutPart, withPart, withPartMoved, withPartText, withWeight } from '$core/numbers';
	import type { FieldRow } from '$core/views';
	import ReferencePicker from '../pickers/ReferencePicker.svelte';
	import ItemButtons from '../ticket/ItemButtons.svelte';
	import ValueEditor from './ValueEditor.svelte';

	/** A list in one value: its parts in order; with weights, each with the share of all that it comes to. */
	let {
		slug,
		kind,
		row,
		save
	}: { slug: string; kind: string; row: FieldRow; save: (value: string) => Promise<boolean> } = $props();

	const rule = $derived(row.parts ?? {});
	const weighted = $derived(rule.weight !== undefined);
	const parts = $derived(sharesOf(row.value, rule));
	const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
	const weightFault = (text: string) =>
		/^\d+(\.\d+)?$/.test(text.trim()) ? null : 'A weight must be 0 or more.';
	/** A part is one word or text; the marks of the list would make it several. */
	const textFault = (text: string) =>
		text.trim() === ''
			? 'A part cannot be empty; remove it instead.'
			: [rule.list, rule.weight].some((mark) => mark && text.includes(mark))
				? `A part cannot contain “${rule.list}”${rule.weight ? ` or “${rule.weight}”` : ''}.`
				: null;
	/** The picker of one more part: the same field without a value. */
	const more = $derived({ ...row, value: '', base: null, changed: false, title: `${row.title}, one more` });
	const add = (text: string) =>
		text.trim() === '' || textFault(text)
			? Promise.resolve(false)
			: save(withPart(row.value, rule, text.trim(), '1'));
</script>

<div role="group" aria-label={row.title}>
	{#each parts as part, nth (nth)}
		<div class="group/item flex h-6.5 items-center gap-2">
			{#if row.reference || weighted}
				<span class="min-w-0 flex-1 truncate {row.changed ? 'text-copper' : ''}" title={part.id}
					>{row.names?.[part.id] ?? part.id}</span
				>
			{:else}
				<span class="min-w-0 flex-1"
					><ValueEditor
						value={part.id}
						label="{row.title} {nth + 1}"
						mine={row.changed}
						fault={textFault}
						save={(text) =>
							textFault(text)
								? Promise.resolve(false)
								: save(withPartText(row.value, rule, nth, text.trim()))}
					/></span
				>
			{/if}
			{#if weighted}
				<span class="w-12"
					><ValueEditor
						value={String(part.weight)}
						label="Weight of {part.id}"
						numeric
						fault={weightFault}
						save={(text) =>
							weightFault(text)
								? Promise.resolve(false)
								: save(withWeight(row.value, rule, nth, text.trim()))}
					/></span
				>
				<span class="h-1.5 w-14 rounded bg-line" aria-hidden="true"
					><span class="block h-1.5 rounded bg-rim/70" style="width: {part.share * 100}%"></span></span
				>
				<span class="w-11 text-right font-mono text-[12px] text-steam">{percent(part.share)}</span>
			{/if}
			<ItemButtons
				label={part.id}
				first={nth === 0}
				last={nth === parts.length - 1}
				move={(by) => void save(withPartMoved(row.value, rule, nth, nth + by))}
				remove={() => void save(withoutPart(row.value, rule, nth))}
			/>
		</div>
	{/each}
	<div class="flex items-center gap-2 py-0.5">
		{#if row.reference}
			<ReferencePicker {slug} {kind} row={more} placeholder="add one" save={add} />
		{:else}
			<ValueEditor value="" label={more.title} empty="add one…" fault={textFault} save={add} />
		{/if}
	</div>
</div>
