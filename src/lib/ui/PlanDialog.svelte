<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Intention } from '$core/edits';
	import { applyIntention, previewPlan, type PlanPreview } from './client.svelte';
	import { onAction } from './keys';
	import PlanView from './PlanView.svelte';

	/** A plan before it is applied: every file, every value, the snags it adds and removes. */
	let {
		slug,
		intention = $bindable(null),
		onapplied
	}: { slug: string; intention: Intention | null; onapplied?: () => void } = $props();

	let preview = $state<PlanPreview | null>(null);
	let fault = $state<string | null>(null);
	let working = $state(false);

	$effect(() => {
		const wanted = intention;
		preview = null;
		fault = null;
		if (!wanted) return;
		previewPlan(slug, wanted).then(
			(found) => {
				if (intention === wanted) preview = found;
			},
			(error: Error) => {
				if (intention === wanted) fault = error.message;
			}
		);
	});

	async function apply() {
		if (!preview || !intention || working) return;
		working = true;
		const done = await applyIntention(slug, $state.snapshot(intention), preview.version);
		working = false;
		if (done) {
			intention = null;
			onapplied?.();
		}
	}

	$effect(() => (intention ? onAction('apply', () => void apply()) : undefined));
</script>

<Dialog.Root
	open={intention !== null}
	onOpenChange={(open) => {
		if (!open) intention = null;
	}}
>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-20 left-1/2 z-50 flex max-h-[80vh] w-[720px] max-w-[94vw] -translate-x-1/2 flex-col shadow-xl"
		>
			<header class="border-b border-line px-5 py-3">
				<Dialog.Title class="text-[16px] font-semibold">{preview?.plan.title ?? 'Plan'}</Dialog.Title>
				<Dialog.Description class="text-steam">What this would do. Nothing is done yet.</Dialog.Description>
			</header>
			<div class="min-h-32 overflow-auto px-5 py-3">
				{#if fault}
					<p class="text-scald" role="alert">{fault}</p>
				{:else if preview}
					<PlanView plan={preview.plan} added={preview.added} removed={preview.removed} />
				{:else}
					<p class="text-steam" role="status">Working the plan out…</p>
				{/if}
			</div>
			<footer class="flex justify-end gap-2 border-t border-line px-5 py-3">
				<Dialog.Close class="press">Leave it</Dialog.Close>
				<button class="press main" disabled={!preview || working} onclick={apply} data-testid="apply-plan">
					Apply the plan <kbd class="text-[11px] opacity-75">Ctrl Enter</kbd>
				</button>
			</footer>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
