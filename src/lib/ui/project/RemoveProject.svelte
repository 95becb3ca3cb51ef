<script lang="ts">
	import { counted } from '$core/wording';
	import { Dialog } from 'bits-ui';
	import { refresh } from '../frame/refresh';
	import { post, say } from '../frame/client.svelte';

	/** Asks for the name of a project before it is removed. */
	let { slug, title, steps, done }: { slug: string; title: string; steps: number; done: () => void } =
		$props();

	let name = $state('');
	let fault = $state<string | null>(null);
	let working = $state(false);

	async function remove(event: SubmitEvent) {
		event.preventDefault();
		working = true;
		try {
			await post(`/p/${slug}/api/project`, { do: 'remove', name });
			await refresh();
			say(`${title} is removed`);
			done();
		} catch (error) {
			fault = (error as Error).message;
		} finally {
			working = false;
		}
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && done()}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-24 left-1/2 z-50 w-[480px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Remove {title}</Dialog.Title>
			<Dialog.Description class="mt-1 text-steam"
				>Your mod, its {counted(steps, 'step')}, notes and pocket are deleted and cannot be restored. The
				game’s folders and a linked folder stay as they are.</Dialog.Description
			>
			<p class="mt-2"><a class="follow" href="/p/{slug}/pack">Pack my mod first to keep it</a></p>
			<form onsubmit={remove} class="mt-3 space-y-3">
				<label class="block"
					>Type its name to remove it: <code>{title}</code><input
						class="box mt-1 block w-full"
						bind:value={name}
						autocomplete="off"
						spellcheck="false"
					/></label
				>
				{#if fault}<p class="text-scald" role="alert">{fault}</p>{/if}
				<div class="flex justify-end gap-2">
					<Dialog.Close class="press" type="button">Cancel</Dialog.Close>
					<button class="press main" disabled={working || name.trim() !== title}
						>{working ? 'Removing…' : 'Remove it'}</button
					>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
