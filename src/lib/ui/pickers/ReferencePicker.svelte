<script lang="ts">
	import { Combobox } from 'bits-ui';
	import { tick } from 'svelte';
	import { fold } from '$core/search';
	import type { Choice, ChoiceList, FieldRow } from '$core/views';
	import { makePause } from '../frame/pause';
	import { say } from '../frame/client.svelte';
	import { makeNew } from './making.svelte';
	import { pocket } from '../frame/pocket.svelte';

	/** Picks a record that fits by the name players see, and writes its id. An id can also be typed. */
	let {
		slug,
		kind,
		id,
		row,
		placeholder = 'none',
		save
	}: {
		slug: string;
		kind: string;
		/** The record that it is a field of; without it no new one can be made for it. */
		id?: string;
		row: FieldRow;
		placeholder?: string;
		save: (value: string) => Promise<boolean>;
	} = $props();

	let choices = $state<Choice[] | null>(null);
	let total = $state(0);
	const pause = makePause();
	let typed = $state('');
	let touched = $state(false);
	let open = $state(false);
	/** The id of the record by likeness to which the list is ordered. */
	let like = $state('');
	/** What is in the list besides records; no id holds such a letter. */
	const [BY_LIKENESS, NEW] = ['\u0001like', '\u0001new'];

	const shown = $derived.by(() => {
		const words = touched ? fold(typed).split(/\s+/).filter(Boolean) : [];
		return (choices ?? []).filter((choice) =>
			words.every((word) => fold(`${choice.name} ${choice.id}`).includes(word))
		);
	});

	/** What a new one would be like: what is named now, else the first that fits what was typed. */
	const pattern = $derived(row.reference?.target ?? shown[0] ?? null);

	async function load() {
		const answer = await fetch(
			`/p/${slug}/api/choices?kind=${encodeURIComponent(kind)}&field=${encodeURIComponent(row.path)}&q=${encodeURIComponent(touched ? typed : '')}&like=${encodeURIComponent(like)}`
		).catch(() => null);
		if (answer?.ok) ({ choices, total } = (await answer.json()) as ChoiceList);
		else say('The list could not be loaded; you can still type an id.', { bad: true });
	}

	$effect(() => {
		if (!open) touched = false;
		else if (!choices) void load();
	});

	async function pick(value: string) {
		if (value === BY_LIKENESS) {
			like = like === '' ? (pattern?.id ?? '') : '';
			await load();
			await tick();
			open = true;
			return;
		}
		open = false;
		touched = false;
		if (value === NEW) {
			if (pattern && id !== undefined)
				makeNew({ kind: pattern.kind, id: pattern.id, into: { kind, id, field: row.path } });
		} else if (value !== row.value) await save(value);
	}
</script>

<Combobox.Root
	type="single"
	bind:value={() => row.value, (value) => void pick(value)}
	inputValue={touched ? typed : row.value}
	bind:open
>
	<Combobox.Input
		data-edit
		aria-label="{row.title}: pick by name"
		clearOnDeselect={false}
		{placeholder}
		class="box h-6.5 w-30 shrink-0 px-2 font-mono {row.changed ? 'text-copper' : ''}"
		onclick={() => (open = true)}
		onfocus={(event: FocusEvent) => (event.currentTarget as HTMLInputElement).select()}
		oninput={(event: Event) => {
			typed = (event.currentTarget as HTMLInputElement).value;
			touched = true;
			open = true;
			if (choices === null || total <= choices.length) return;
			pause.after(() => void load(), 120);
		}}
		onkeydown={(event: KeyboardEvent) => {
			// What is in hand is put in by its key, as in every other field, as long as nothing is typed yet.
			if (event.key === 'p' && pocket.inHand && !touched && !event.ctrlKey && !event.metaKey) {
				event.preventDefault();
				event.stopPropagation();
				void pick(pocket.inHand.value);
				return;
			}
			// Enter with nothing to pick writes what was typed: an id of another mod may be meant.
			if (event.key === 'Enter' && touched && (shown.length === 0 || typed === '')) {
				event.preventDefault();
				event.stopPropagation();
				void pick(typed);
			}
		}}
	/>
	<Combobox.Portal>
		<Combobox.Content sideOffset={4} class="plate z-50 max-h-80 w-100 overflow-auto p-1 shadow-lg">
			{#if choices === null}
				<p class="px-2 py-1 text-steam" role="status">Loading…</p>
			{:else if shown.length === 0}
				<p class="px-2 py-1 text-steam">
					No match. Enter uses “{typed}” anyway.
				</p>
			{/if}
			{#each shown.slice(0, 100) as choice (choice.kind + choice.id)}
				<Combobox.Item
					value={choice.value}
					label={choice.value}
					class="rounded px-2 py-1 data-highlighted:bg-wash {choice.value === row.base
						? 'font-semibold'
						: ''}"
				>
					<span class="flex justify-between gap-3"
						><span>{choice.name}</span><code class="text-[12px]"
							>{choice.id}{choice.value === row.base ? ' · base' : ''}</code
						></span
					>
					<span class="block text-[12px] font-normal text-steam"
						>{choice.figures.map((figure) => `${figure.title} ${figure.value}`).join(' · ')}</span
					>
				</Combobox.Item>
			{/each}
			{#if pattern && shown.length > 0}
				<div class="mt-1 border-t border-line pt-1 text-steam">
					<Combobox.Item value={BY_LIKENESS} label={typed} class="rounded px-2 py-1 data-highlighted:bg-wash"
						>{like === '' ? `Most similar to ${pattern.name} first` : 'Original order'}</Combobox.Item
					>
					{#if id !== undefined}<Combobox.Item
							value={NEW}
							label={typed}
							class="rounded px-2 py-1 data-highlighted:bg-wash">New, like {pattern.name}…</Combobox.Item
						>{/if}
				</div>
			{/if}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>
