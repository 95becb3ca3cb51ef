<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Intention } from '$core/edits';
	import type { Ticket } from '$core/views';

	/** Asks for the id and the names of a new record that starts as a copy of this one. */
	let { ticket, done }: { ticket: Ticket; done: (made: Intention | null) => void } = $props();

	let newId = $state('');
	let texts = $state(true);
	const title = $derived(
		ticket.texts.find((text) =>
			text.languages.some((language) => ticket.names.some((entry) => entry.name === language.value))
		)
	);
	let names = $state<Record<string, string>>({});

	function submit(event: SubmitEvent) {
		event.preventDefault();
		const given = Object.fromEntries(
			Object.entries($state.snapshot(names)).filter(([, name]) => name.trim() !== '')
		);
		done({ do: 'copy', kind: ticket.kind, id: ticket.id, newId: newId.trim(), texts, names: given });
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-24 left-1/2 z-50 w-[440px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Copy {ticket.name} as new</Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>The plan is shown before anything is written.</Dialog.Description
			>
			<form onsubmit={submit} class="space-y-3">
				<label class="block"
					>New id<input
						class="box mt-1 block w-full font-mono"
						bind:value={newId}
						required
						pattern="\S+"
						title="an id without spaces"
						placeholder={ticket.id}
					/></label
				>
				{#if title}
					<label class="flex items-center gap-2"
						><input type="checkbox" bind:checked={texts} class="accent-(--rim)" />Copy its texts with it</label
					>
					{#if texts}
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
				{/if}
				<div class="flex justify-end gap-2">
					<Dialog.Close class="press">Leave it</Dialog.Close><button class="press main">Show the plan</button>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
