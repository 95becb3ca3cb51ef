<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { counted } from '$core/wording';
	import type { LayersPreview } from '$core/views';
	import { post } from '../frame/client.svelte';
	import SnagMark from '../frame/SnagMark.svelte';

	/** What another order of the layers, or fewer or more of them, would change, before it is so. */
	let {
		slug,
		title,
		layers,
		apply,
		close
	}: {
		slug: string;
		title: string;
		/** Ids of the layers as they would be, from the game on. */
		layers: string[];
		apply: () => Promise<void>;
		close: () => void;
	} = $props();

	let preview = $state.raw<LayersPreview | null>(null);
	let fault = $state<string | null>(null);
	let busy = $state(false);
	$effect(() => {
		post<LayersPreview>(`/p/${slug}/api/layers`, { do: 'look', layers }).then(
			(found) => (preview = found),
			(error: Error) => (fault = error.message)
		);
	});
	async function done(): Promise<void> {
		busy = true;
		await apply();
		busy = false;
		close();
	}
</script>

<Dialog.Root open onOpenChange={(open) => !open && close()}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-20 left-1/2 z-50 flex max-h-[80vh] w-[640px] max-w-[94vw] -translate-x-1/2 flex-col shadow-xl"
		>
			<header class="border-b border-line px-5 py-3">
				<Dialog.Title class="text-[16px] font-semibold">{title}</Dialog.Title>
				<Dialog.Description class="text-steam"
					>What would change in the game. Nothing has changed yet.</Dialog.Description
				>
			</header>
			<div class="min-h-24 overflow-auto px-5 py-3">
				{#if fault}<p class="text-scald" role="alert">{fault}</p>
				{:else if preview === null}<p class="text-steam">Working it out…</p>
				{:else}
					<p role="status">
						{preview.count === 0
							? 'No value would change.'
							: `${counted(preview.count, 'value')} would change.`}
					</p>
					{#if preview.values.length > 0}
						<table class="mt-2 w-full border-collapse text-left text-[13px]">
							<thead class="text-[12px] text-steam"
								><tr
									><th class="py-1 font-normal">Record</th><th class="font-normal">Field</th><th
										class="font-normal">Now</th
									><th class="font-normal">Then</th></tr
								></thead
							>
							<tbody>
								{#each preview.values as value (`${value.kind} ${value.id} ${value.field}`)}
									<tr class="border-t border-line align-top"
										><td class="py-1 pr-3">{value.name}</td><td class="py-1 pr-3">{value.field}</td><td
											class="max-w-40 py-1 pr-3 font-mono break-words text-steam">{value.before ?? '—'}</td
										><td class="max-w-40 py-1 font-mono break-words">{value.after ?? '—'}</td></tr
									>
								{/each}
							</tbody>
						</table>
						{#if preview.count > preview.values.length}<p class="mt-1 text-steam">
								and {(preview.count - preview.values.length).toLocaleString('en')} more
							</p>{/if}
					{/if}
					{#each [['Fixes', preview.removed, 'text-verdigris'], ['New snags', preview.added, 'text-scald']] as const as [head, list, colour] (head)}
						{#if list.length > 0}
							<h3 class="mt-3 mb-1 font-semibold {colour}">{head}</h3>
							{#each list as snag (snag.id)}<p class="flex gap-2 py-0.5">
									<SnagMark severity={snag.severity} />{snag.message}
								</p>{/each}
						{/if}
					{/each}
				{/if}
			</div>
			<footer class="flex justify-end gap-2 border-t border-line px-5 py-3">
				<button class="press" onclick={close}>Cancel</button>
				<button
					class="press main"
					disabled={busy || (preview === null && fault === null)}
					onclick={() => void done()}>Apply</button
				>
			</footer>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
