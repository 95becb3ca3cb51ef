<script lang="ts">
	import { counted } from '$core/wording';
	import { Dialog } from 'bits-ui';
	import type { Intention } from '$core/edits';
	import type { Ticket } from '$core/views';

	/** What becomes of those who name a record that goes. */
	let { ticket, done }: { ticket: Ticket; done: (made: Intention | null) => void } = $props();

	let how = $state<'leave' | 'empty' | 'point'>('point');
	let to = $state('');
	const users = $derived(ticket.usedBy.map(({ name, field }) => `${name} (${field.toLowerCase()})`));

	function submit(event: SubmitEvent) {
		event.preventDefault();
		if (how === 'point' && to.trim() === '') return;
		const settle = how === 'point' ? { how, to: to.trim() } : { how };
		done({ do: 'remove', kind: ticket.kind, id: ticket.id, settle });
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-24 left-1/2 z-50 w-[460px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Remove {ticket.name}</Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>{counted(ticket.users, 'place refers', 'places refer')} to it: {users
					.slice(0, 4)
					.join(', ')}{users.length > 4 ? ' and others' : ''}.</Dialog.Description
			>
			<form onsubmit={submit} class="space-y-2">
				<label class="flex items-center gap-2"
					><input type="radio" bind:group={how} value="point" class="accent-(--rim)" />They refer to another:
					<input
						class="box min-w-0 flex-1 font-mono"
						bind:value={to}
						aria-label="Id of the other record"
						disabled={how !== 'point'}
					/></label
				>
				<label class="flex items-center gap-2"
					><input type="radio" bind:group={how} value="empty" class="accent-(--rim)" />They are emptied, or
					removed from their lists</label
				>
				<label class="flex items-center gap-2"
					><input type="radio" bind:group={how} value="leave" class="accent-(--rim)" />They stay, and refer to
					nothing</label
				>
				<div class="flex justify-end gap-2 pt-2">
					<Dialog.Close class="press" type="button">Cancel</Dialog.Close><button
						class="press main"
						disabled={how === 'point' && to.trim() === ''}>Preview changes</button
					>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
