<script lang="ts">
	import Calendar from '@lucide/svelte/icons/calendar';
	import { tick } from 'svelte';
	import { hexOf, rgbOf, switched, withColour } from '$core/numbers';
	import type { FieldRow } from '$core/views';
	import ValueEditor from './ValueEditor.svelte';

	/** The editor that fits the sort of value: a switch, a code with its meaning, a colour, an angle, a date; else text. */
	let {
		row,
		fault,
		save
	}: {
		row: FieldRow;
		fault: (text: string) => string | null;
		save: (value: string) => Promise<boolean>;
	} = $props();

	const toggle = $derived(row.type === 'switch' ? switched(row.value) : null);
	const coded = $derived(row.choices.length > 0 && row.choices.length <= 60);
	const rgb = $derived(row.type === 'colour' ? rgbOf(row.value) : null);
	const degrees = $derived(
		row.type === 'angle' && row.value.trim() !== '' && Number.isFinite(Number(row.value))
			? Number(row.value)
			: null
	);
	const asDate = $derived(row.type === 'date' && /^\d{4}-\d\d-\d\d$/.test(row.value));
	/** Whether a value is typed that is none of the known ones. */
	let other = $state(false);
	/** What stands for another value: no file holds it. */
	const OTHER = '\u0000';
	let known = $state<HTMLSelectElement>();
	let calendar = $state<HTMLInputElement>();
	async function backToKnown(refocus: boolean) {
		if (!other) return;
		other = false;
		await tick();
		if (refocus) known?.focus();
	}
	const mine = $derived(row.changed ? 'text-copper' : '');

	/** Writes what was chosen; where that is refused, the control shows again what is there. */
	async function choose(control: HTMLInputElement | HTMLSelectElement, value: string) {
		if (await save(value)) return;
		if (control instanceof HTMLInputElement && control.type === 'checkbox')
			control.checked = toggle?.on ?? false;
		else control.value = row.value;
	}
</script>

{#if toggle}
	<label class="flex items-center gap-2 pl-2 {mine}">
		<input
			type="checkbox"
			role="switch"
			data-edit
			class="accent-(--rim)"
			checked={toggle.on}
			aria-label="{row.title}: {row.value}"
			onchange={(event) => void choose(event.currentTarget, toggle.other)}
		/><code>{row.value}</code>
	</label>
{:else if coded && !other}
	<select
		bind:this={known}
		data-edit
		class="box h-6.5 w-full min-w-0 font-mono {mine}"
		aria-label={row.title}
		value={row.value}
		onchange={(event) => {
			if (event.currentTarget.value === OTHER) other = true;
			else void choose(event.currentTarget, event.currentTarget.value);
		}}
	>
		{#if !row.choices.some(({ value }) => value === row.value)}<option value={row.value}
				>{row.value || 'nothing'}: not known</option
			>{/if}
		{#each row.choices as choice (choice.value)}
			<option value={choice.value}
				>{choice.value || 'nothing'}{choice.means ? `: ${choice.means}` : ''} ({choice.count})</option
			>
		{/each}
		{#if row.open}<option value={OTHER}>another value…</option>{/if}
	</select>
{:else}
	<span class="relative flex min-w-0 items-center gap-1.5">
		{#if rgb}
			<input
				type="color"
				class="h-6 w-8 shrink-0 rounded border border-line"
				aria-label="{row.title}: pick a colour"
				value={hexOf(rgb)}
				onchange={(event) => {
					const picked = rgbOf(event.currentTarget.value);
					if (picked) void save(withColour(row.value, picked));
				}}
			/>
		{/if}
		<span class="min-w-0 flex-1"
			><ValueEditor
				value={row.value}
				label={row.title}
				numeric={row.numeric}
				mine={row.changed}
				{fault}
				{save}
				begun={other}
				ended={(refocus) => void backToKnown(refocus)}
			/></span
		>
		{#if asDate}
			<!-- The file's own form is shown and typed: browsers order day and month as they like. -->
			<button
				type="button"
				class="grid size-6 shrink-0 place-items-center rounded text-steam hover:text-ink"
				aria-label="{row.title}: open the calendar"
				title="Open the calendar"
				onclick={() => calendar?.showPicker()}><Calendar size={15} /></button
			>
			<input
				bind:this={calendar}
				type="date"
				tabindex="-1"
				aria-hidden="true"
				class="pointer-events-none absolute size-px opacity-0"
				value={row.value}
				onchange={(event) => void choose(event.currentTarget, event.currentTarget.value)}
			/>
		{/if}
		{#if degrees !== null}
			<svg width="22" height="22" viewBox="-11 -11 22 22" aria-hidden="true">
				<circle r="10" fill="none" stroke="var(--steam)" stroke-width="0.75" />
				<path d="M0 -10V-7" stroke="var(--steam)" />
				<path d="M0 3L-2.5 5L0 -8L2.5 5Z" fill="var(--rim)" transform="rotate({degrees})" />
			</svg>
		{/if}
	</span>
{/if}
