<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Intention } from '$core/edits';
	import type { PartsView, Ticket } from '$core/views';
	import NewId from './NewId.svelte';

	/** Asks for another id of a record, which then stands wherever the old one stood. */
	let { slug, ticket, done }: { slug: string; ticket: Ticket; done: (made: Intention | null) => void } =
		$props();

	// svelte-ignore state_referenced_locally (it begins as the old one and is typed over)
	let newId = $state(ticket.id);
	let parts = $state<PartsView | null>(null);
	const same = $derived(newId.trim() === ticket.id);

	function submit(event: SubmitEvent) {
		event.preventDefault();
		if (!same && !parts?.fault) done({ do: 'rename', kind: ticket.kind, id: ticket.id, newId: newId.trim() });
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-24 left-1/2 z-50 w-[440px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Rename {ticket.name} everywhere</Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>Data, texts, scripts and files that refer to it change too. {ticket.inBase
					? 'It belongs to the game: the old record may stay there, but everything that refers to it will refer to the new one.'
					: ''}</Dialog.Description
			>
			<form onsubmit={submit} class="space-y-2">
				<NewId {slug} kind={ticket.kind} id={ticket.id} bind:value={newId} bind:parts />
				<div class="flex justify-end gap-2">
					<Dialog.Close class="press" type="button">Cancel</Dialog.Close><button
						class="press main"
						disabled={same || newId.trim() === '' || Boolean(parts?.fault)}>Preview changes</button
					>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
