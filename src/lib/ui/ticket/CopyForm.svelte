<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { FollowSort } from '$core/change';
	import type { Intention } from '$core/edits';
	import type { PartsView, Ticket } from '$core/views';
	import NewId from './NewId.svelte';

	/** Asks for the id and the names of a new record that starts as a copy of this one, and what comes with it. */
	let { slug, ticket, done }: { slug: string; ticket: Ticket; done: (made: Intention | null) => void } =
		$props();

	let newId = $state('');
	let parts = $state<PartsView | null>(null);
	let left = $state<FollowSort[]>([]);
	/** Ids that were typed for records in its folder. */
	let ids = $state<Record<string, string>>({});
	const inside = $derived(newId.trim() === '' ? [] : (parts?.inside ?? []));
	const title = $derived(
		ticket.texts.find((text) =>
			text.languages.some((language) => ticket.names.some((entry) => entry.name === language.value))
		)
	);
	let names = $state<Record<string, string>>({});

	const WHAT: [FollowSort, string, (count: number) => string][] = [
		['text', 'its texts', (count) => `${count} in each language`],
		['list', 'its place in lists', (count) => `${count} that name the original`],
		['asset', 'files named after it', (count) => String(count)],
		['twin', 'its twin', (count) => `${count} that must stay alike`],
		['pair', 'its pair in another file', (count) => String(count)]
	];
	const offered = $derived(WHAT.filter(([sort]) => (parts?.parts[sort] ?? 0) > 0));

	function submit(event: SubmitEvent) {
		event.preventDefault();
		if (parts?.fault) return;
		const given = Object.fromEntries(
			Object.entries($state.snapshot(names)).filter(([, name]) => name.trim() !== '')
		);
		done({
			do: 'copy',
			kind: ticket.kind,
			id: ticket.id,
			newId: newId.trim(),
			names: given,
			...(inside.length > 0
				? {
						ids: Object.fromEntries(
							inside.map((one) => [`${one.kind}/${one.id}`, ids[`${one.kind}/${one.id}`]?.trim() || one.next])
						)
					}
				: {}),
			without: $state.snapshot(left)
		});
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-20 left-1/2 z-50 w-[460px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Copy {ticket.name} as new</Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>You see a preview before anything is written.</Dialog.Description
			>
			<form onsubmit={submit} class="space-y-2">
				<NewId {slug} kind={ticket.kind} id={ticket.id} bind:value={newId} bind:parts />
				{#if title && !left.includes('text')}
					{#each title.languages as language (language.code)}
						<label class="block"
							>{title.label}, {language.title}<input
								class="box mt-1 block w-full"
								bind:value={names[language.code]}
								placeholder={language.value}
							/></label
						>
					{/each}
				{/if}
				{#each ticket.ownNames as own (own.language)}
					<label class="block"
						>Name{own.title ? `, ${own.title}` : ''}<input
							class="box mt-1 block w-full"
							bind:value={names[own.language]}
							placeholder={own.name}
						/></label
					>
				{/each}
				{#if offered.length > 0}
					<fieldset class="pt-1">
						<legend class="text-steam">Also copied</legend>
						{#each offered as [sort, what, many] (sort)}
							<label class="flex items-center gap-2 py-0.5"
								><input
									type="checkbox"
									class="accent-(--rim)"
									checked={!left.includes(sort)}
									onchange={(event) =>
										(left = event.currentTarget.checked
											? left.filter((one) => one !== sort)
											: [...left, sort])}
								/>{what}<span class="text-steam">{many(parts!.parts[sort]!)}</span></label
							>
						{/each}
					</fieldset>
				{/if}
				{#if inside.length > 0}
					<fieldset class="pt-1">
						<legend class="text-steam">Records in its folder get ids of their own</legend>
						<div class="max-h-40 overflow-auto">
							{#each inside as one (one.kind + one.id)}
								<label class="grid grid-cols-[1fr_1fr] items-center gap-2 py-0.5"
									><span class="truncate">{one.title} <code>{one.id}</code></span><input
										class="box h-6.5 font-mono"
										placeholder={one.next}
										bind:value={ids[`${one.kind}/${one.id}`]}
									/></label
								>
							{/each}
						</div>
					</fieldset>
				{/if}
				<div class="flex justify-end gap-2 pt-2">
					<Dialog.Close class="press" type="button">Cancel</Dialog.Close><button
						class="press main"
						disabled={newId.trim() === '' || Boolean(parts?.fault)}>Preview changes</button
					>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
