<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Intention } from '$core/edits';
	import type { EventView, ScriptsPage } from '$core/views';
	import RecordBox from '../pickers/RecordBox.svelte';

	/** Asks for which records an event is answered. */
	let {
		slug,
		event,
		of,
		kinds,
		done
	}: {
		slug: string;
		event: EventView;
		/** The id or number for which it is, where each has a function of its own. */
		of: string | undefined;
		kinds: ScriptsPage['kinds'];
		done: (answer: Intention | null) => void;
	} = $props();

	const name = $derived(of === undefined ? event.name : event.name.replace('{id}', of));
	const kind = $derived(event.record ? kinds[event.record.kind] : undefined);
	let who = $state<'all' | 'one' | 'class'>('all');
	let record = $state<{ id: string; name: string } | null>(null);
	let field = $state('');
	let value = $state('');
	const chosen = $derived(kind?.classes.find((one) => one.field === field) ?? kind?.classes[0]);
	const wanted = $derived(
		chosen?.values.some((one) => one.value === value) ? value : (chosen?.values[0]?.value ?? '')
	);

	function submit(submitted: SubmitEvent): void {
		submitted.preventDefault();
		if (who === 'one' && !record) return;
		done({
			do: 'answer',
			event: event.name,
			...(of === undefined ? {} : { of }),
			...(who === 'one' ? { id: record!.id } : {}),
			...(who === 'class' && chosen ? { field: chosen.field, value: wanted } : {})
		});
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-20 left-1/2 z-50 w-[520px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Answer <code>{name}</code></Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>{event.when ?? ''} A new script is made and loaded. You see a preview before anything is written.</Dialog.Description
			>
			<form onsubmit={submit} class="space-y-3">
				{#if kind && event.record}
					<fieldset class="space-y-2">
						<legend class="font-semibold">For which <code>{event.record.argument}</code>?</legend>
						<label class="flex items-center gap-2"
							><input type="radio" class="accent-(--copper)" value="all" bind:group={who} />All {kind.plural.toLowerCase()}</label
						>
						{#if chosen}
							<div class="flex flex-wrap items-center gap-2">
								<label class="flex items-center gap-2"
									><input
										type="radio"
										class="accent-(--copper)"
										value="class"
										bind:group={who}
									/>{kind.plural} with</label
								>
								<select
									class="box h-8"
									aria-label="Field"
									value={chosen.field}
									onchange={({ currentTarget }) => {
										field = currentTarget.value;
										who = 'class';
									}}
								>
									{#each kind.classes as one (one.field)}<option value={one.field}>{one.title}</option>{/each}
								</select>
								<select
									class="box h-8 max-w-44"
									aria-label="Value"
									value={wanted}
									onchange={({ currentTarget }) => {
										value = currentTarget.value;
										who = 'class';
									}}
								>
									{#each chosen.values as one (one.value)}<option value={one.value}>{one.shown}</option
										>{/each}
								</select>
							</div>
						{/if}
						<div class="flex flex-wrap items-center gap-2">
							<label class="flex items-center gap-2"
								><input type="radio" class="accent-(--copper)" value="one" bind:group={who} />One
								{kind.title.toLowerCase()}{record ? `: ${record.name}` : ''}</label
							>
							<RecordBox
								{slug}
								kind={event.record.kind}
								label="Pick a {kind.title.toLowerCase()}"
								pick={(_, id, name) => {
									record = { id, name };
									who = 'one';
								}}
							/>
						</div>
					</fieldset>
				{/if}
				{#if event.returns}<p class="text-steam">Returns: {event.returns}</p>{/if}
				<div class="flex justify-end gap-2">
					<button type="button" class="press" onclick={() => done(null)}>Cancel</button>
					<button class="press main" disabled={who === 'one' && !record}>Preview</button>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
