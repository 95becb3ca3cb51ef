<script lang="ts">
	import type { OptionsPage } from '$core/views';
	import { counted } from '$core/wording';
	import { thingOf, type Moved } from './moved';

	/** Changes of my mod, to be chosen one by one or by the step that made them. */
	let { page, busy, move }: { page: OptionsPage; busy: boolean; move: (what: Moved) => Promise<void> } =
		$props();

	let step = $state('');
	let chosen = $state<Record<string, boolean>>({});

	const items = $derived([
		...page.changed.map((cell) => ({
			key: JSON.stringify([cell.kind, cell.id, cell.field]),
			text: `${cell.name}, ${cell.fieldTitle}`,
			value: `${cell.without || 'nothing'} → ${cell.value || 'nothing'}`,
			cell,
			thing: null
		})),
		...page.things.map((thing) => ({
			key: JSON.stringify(thing.path === null ? [thing.kind, thing.id] : [thing.path]),
			text: thing.path ?? `${thing.kindTitle} ${thing.name}`,
			value: thing.path !== null ? 'file' : thing.name === thing.id ? 'new' : `new: ${thing.id}`,
			cell: null,
			thing
		}))
	]);
	const ofStep = $derived(
		step === '' ? null : new Set(page.steps.find(({ id }) => String(id) === step)?.keys)
	);
	const shown = $derived(items.filter(({ key }) => ofStep === null || ofStep.has(key)));
	const picked = $derived(items.filter(({ key }) => chosen[key]));
	const isAll = $derived(shown.length > 0 && shown.every(({ key }) => chosen[key]));

	function chooseAll(on: boolean): void {
		for (const { key } of shown) chosen[key] = on;
	}
	const moveChosen = () =>
		move({
			cells: picked.flatMap(({ cell }) =>
				cell ? [{ kind: cell.kind, id: cell.id, field: cell.field }] : []
			),
			things: picked.flatMap(({ thing }) => (thing ? [thingOf(thing)] : []))
		});
</script>

<fieldset class="mt-3 border-t border-line pt-3">
	<legend class="sr-only">Changes of my mod</legend>
	{#if items.length === 0}
		<p class="text-steam">Your mod changes nothing that could be moved on its own.</p>
	{:else}
		<p class="flex flex-wrap items-center gap-3">
			<label class="flex items-center gap-2"
				>Step<select class="box h-7 max-w-96" bind:value={step}>
					<option value="">any</option>
					{#each page.steps as { id, title } (id)}<option value={String(id)}>{title}</option>{/each}
				</select></label
			>
			<label class="flex items-center gap-2"
				><input
					type="checkbox"
					class="accent-(--rim)"
					checked={isAll}
					onchange={({ currentTarget }) => chooseAll(currentTarget.checked)}
				/>All {shown.length}</label
			>
		</p>
		<div class="mt-2 max-h-72 overflow-auto">
			{#each shown as { key, text, value } (key)}
				<label class="flex items-center gap-2 py-0.5"
					><input
						type="checkbox"
						class="accent-(--rim)"
						bind:checked={() => chosen[key] ?? false, (next) => (chosen[key] = next)}
					/><span>{text}</span><span class="font-mono text-[13px] text-steam">{value}</span></label
				>
			{/each}
		</div>
		{#if page.more}<p class="text-steam">More values are changed than are listed here.</p>{/if}
		<p class="mt-2 flex items-center gap-3">
			<button class="press main" disabled={busy || picked.length === 0} onclick={() => void moveChosen()}
				>{picked.length > 0 ? `Move ${counted(picked.length, 'change')}` : 'Move changes'}</button
			>
			<span class="text-[13px] text-steam">Your mod will no longer contain them; the option will.</span>
		</p>
	{/if}
</fieldset>
