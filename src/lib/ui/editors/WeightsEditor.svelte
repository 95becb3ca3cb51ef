<script lang="ts">
	import { sharesOf, withoutPart, withPart, withWeight } from '$core/numbers';
	import type { FieldRow } from '$core/views';
	import ReferencePicker from '../pickers/ReferencePicker.svelte';
	import ValueEditor from './ValueEditor.svelte';
	import { X } from '../frame/icons';

	/** A list with weights: each part with its weight, and the share of all that it comes to. */
	let {
		slug,
		kind,
		row,
		save
	}: { slug: string; kind: string; row: FieldRow; save: (value: string) => Promise<boolean> } = $props();

	const rule = $derived(row.weights ?? {});
	const parts = $derived(sharesOf(row.value, rule));
	const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
	const fault = (text: string) => (/^\d+(\.\d+)?$/.test(text.trim()) ? null : 'A weight must be 0 or more.');
	/** The picker of one more part: the same field without a value. */
	const more = $derived({ ...row, value: '', base: null, changed: false, title: `${row.title}, one more` });
</script>

<div role="group" aria-label={row.title}>
	{#each parts as part, nth (nth)}
		<div class="flex h-6.5 items-center gap-2">
			<span class="min-w-0 flex-1 truncate {row.changed ? 'text-copper' : ''}" title={part.id}
				>{row.names?.[part.id] ?? part.id}</span
			>
			<span class="w-12"
				><ValueEditor
					value={String(part.weight)}
					label="Weight of {part.id}"
					numeric
					{fault}
					save={(text) =>
						fault(text) ? Promise.resolve(false) : save(withWeight(row.value, rule, nth, text.trim()))}
				/></span
			>
			<span class="h-1.5 w-14 rounded bg-line" aria-hidden="true"
				><span class="block h-1.5 rounded bg-rim/70" style="width: {part.share * 100}%"></span></span
			>
			<span class="w-11 text-right font-mono text-[12px] text-steam">{percent(part.share)}</span>
			<button
				class="rounded p-0.5 hover:bg-wash"
				aria-label="Remove {part.id}"
				onclick={() => void save(withoutPart(row.value, rule, nth))}><X size={14} /></button
			>
		</div>
	{/each}
	<div class="flex items-center gap-2 py-0.5">
		{#if row.reference}
			<ReferencePicker
				{slug}
				{kind}
				row={more}
				placeholder="add one"
				save={(id) => (id === '' ? Promise.resolve(false) : save(withPart(row.value, rule, id, '1')))}
			/>
		{/if}
	</div>
</div>
