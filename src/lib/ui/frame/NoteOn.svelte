<script lang="ts">
	import { refresh } from './refresh';
	import { page } from '$app/state';
	import { Popover } from 'bits-ui';
	import { targetKey, type Note, type NoteTarget } from '$core/guide';
	import { post, say } from './client.svelte';
	import { Pen } from './icons';

	/** What people call a thing and know of it; written here, found by search, shared with the field guide. */
	let { on, quiet = false }: { on: NoteTarget; quiet?: boolean } = $props();

	const known = $derived(
		((page.data.notes ?? []) as Note[]).find((note) => targetKey(note.on) === targetKey(on)) ?? null
	);
	let open = $state(false);
	let nickname = $state('');
	let note = $state('');

	async function save(event: SubmitEvent) {
		event.preventDefault();
		try {
			await post(`/p/${page.params.project}/api/notes`, { on, nickname, note });
			open = false;
			await refresh();
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
	}
</script>

<span class="inline-flex items-center gap-1 align-baseline font-sans text-[13px] leading-5 font-normal">
	{#if known?.nickname}<span class="italic" data-nickname>“{known.nickname}”</span>{/if}
	{#if known?.note && !quiet}<span class="max-w-64 truncate text-steam" title={known.note}>{known.note}</span
		>{/if}
	<Popover.Root
		bind:open
		onOpenChange={(next) => {
			if (next) [nickname, note] = [known?.nickname ?? '', known?.note ?? ''];
		}}
	>
		<Popover.Trigger
			class="grid size-6 place-items-center rounded-full text-steam hover:bg-wash {quiet && !known
				? 'opacity-0 group-hover:opacity-100 hover:opacity-100 focus-visible:opacity-100'
				: ''}"
			aria-label={known
				? `Change nickname and note${known.nickname ? ` “${known.nickname}”` : ''}`
				: 'Add a nickname or note'}
			title={known?.note || 'Nickname and note'}><Pen size={13} /></Popover.Trigger
		>
		<Popover.Portal>
			<Popover.Content sideOffset={4} class="plate z-50 w-80 p-3 shadow-lg">
				<form onsubmit={save} class="space-y-2">
					<label class="block text-[12px] text-steam"
						>Nickname<input
							class="box mt-0.5 block w-full text-rim"
							bind:value={nickname}
							maxlength="200"
						/></label
					>
					<label class="block text-[12px] text-steam"
						>Note<textarea
							class="box mt-0.5 block h-20 w-full py-1 text-rim"
							bind:value={note}
							maxlength="10000"></textarea></label
					>
					<p class="flex justify-end gap-2">
						<button type="button" class="press" onclick={() => (open = false)}>Cancel</button>
						<button class="press main">Keep</button>
					</p>
				</form>
			</Popover.Content>
		</Popover.Portal>
	</Popover.Root>
</span>
