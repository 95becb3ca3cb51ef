<script lang="ts">
	import { counted } from '$core/wording';
	import { Dialog } from 'bits-ui';
	import type { FollowSort, KeptPlan } from '$core/change';
	import type { Intention } from '$core/edits';
	import { applyIntention, previewPlan, type PlanPreview } from '../frame/client.svelte';
	import { onAction } from '../frame/keys';
	import SpoilMarks from '../frame/SpoilMarks.svelte';
	import PlanView from './PlanView.svelte';

	/** A plan before it is applied: every file, every value, the snags it adds and removes. */
	let {
		slug,
		intention = $bindable(null),
		leadsTo,
		onapplied
	}: {
		slug: string;
		intention: Intention | null;
		/** Where it goes on once the plan is applied: what this page shows may be gone by then. */
		leadsTo?: string | undefined;
		onapplied?: (plan: KeptPlan) => void;
	} = $props();

	let preview = $state<PlanPreview | null>(null);
	/** The intention that the plan in view is of: no other one is applied unseen. */
	let seen = $state.raw<Intention | null>(null);
	const ready = $derived(preview !== null && seen === intention);
	let fault = $state<string | null>(null);
	let working = $state(false);

	const SORTS: Record<FollowSort, string> = {
		derived: 'calculated fields',
		text: 'texts of the record',
		twin: 'twins that stay alike',
		pair: 'its pair in another file',
		list: 'lists that contain the original',
		asset: 'files named after it',
		counter: 'counters',
		reference: 'fields that refer to it',
		script: 'scripts that use it'
	};
	/** What may be declined where that leaves a whole plan. */
	const FREE: FollowSort[] = ['derived', 'text', 'twin', 'pair', 'list', 'asset', 'counter', 'script'];
	const declined = $derived<FollowSort[]>(
		intention && 'without' in intention ? (intention.without ?? []) : []
	);
	const sorts = $derived([...new Set(preview?.plan.values.flatMap(({ by }) => by ?? []) ?? [])]);
	const included = $derived<FollowSort[]>(
		intention && 'including' in intention ? (intention.including ?? []) : []
	);
	/** What seems to follow: left alone unless somebody ticks it. */
	const detected = $derived([
		...(preview?.plan.detected ?? []),
		...included
			.filter((sort) => !preview?.plan.detected?.some(({ by }) => by === sort))
			.map((by) => ({ by, count: preview?.plan.values.filter((value) => value.by === by).length ?? 0 }))
	]);
	const offered = $derived(
		FREE.filter((sort) => !included.includes(sort) && (sorts.includes(sort) || declined.includes(sort)))
	);
	const howMany = (sort: FollowSort) => {
		const count = preview?.plan.values.filter(({ by }) => by === sort).length ?? 0;
		return declined.includes(sort) ? 'leave out this time' : counted(count, 'value');
	};
	type Declining = Extract<Intention, { do: 'set' | 'copy' }>;
	function decline(sort: FollowSort, off: boolean) {
		if (!intention) return;
		const without = off ? [...declined, sort] : declined.filter((one) => one !== sort);
		intention = { ...$state.snapshot(intention), without } as Declining;
	}
	function include(sort: FollowSort, on: boolean) {
		if (!intention) return;
		const including = on ? [...included, sort] : included.filter((one) => one !== sort);
		intention = { ...$state.snapshot(intention), including } as Declining;
	}
	function reasoned(reason: string) {
		if (intention) intention = { ...$state.snapshot(intention), reason } as Declining;
	}

	$effect(() => {
		const wanted = intention;
		if (!wanted) preview = null;
		fault = null;
		if (!wanted) return;
		previewPlan(slug, wanted).then(
			(found) => {
				if (intention !== wanted) return;
				preview = found;
				seen = wanted;
			},
			(error: Error) => {
				if (intention === wanted) fault = error.message;
			}
		);
	});

	async function apply() {
		if (!preview || !ready || !intention || working) return;
		working = true;
		const { plan } = preview;
		const done = await applyIntention(slug, $state.snapshot(intention), preview.version, leadsTo);
		working = false;
		if (done) {
			intention = null;
			onapplied?.(plan);
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
				<Dialog.Description class="text-steam">Preview. Nothing has changed yet.</Dialog.Description>
			</header>
			<div class="min-h-32 overflow-auto px-5 py-3">
				{#if fault}
					<p class="text-scald" role="alert">{fault}</p>
				{:else if preview}
					<SpoilMarks spoiled={preview.spoiled} />
					<PlanView
						plan={preview.plan}
						lines={preview.lines}
						added={preview.added}
						removed={preview.removed}
					/>
					{#if offered.length > 0}
						<fieldset class="mt-3">
							<legend class="font-semibold">Also changes</legend>
							{#each offered as sort (sort)}
								<label class="flex items-center gap-2 py-0.5"
									><input
										type="checkbox"
										class="accent-(--rim)"
										checked={!declined.includes(sort)}
										onchange={(event) => decline(sort, !event.currentTarget.checked)}
									/>{SORTS[sort]}<span class="text-steam">{howMany(sort)}</span></label
								>
							{/each}
							{#if declined.length > 0}
								<label class="mt-1 flex items-center gap-2"
									>Reason for leaving it out<input
										class="box min-w-0 flex-1"
										value={'reason' in intention! ? (intention.reason ?? '') : ''}
										onchange={(event) => reasoned(event.currentTarget.value)}
									/></label
								>
							{/if}
						</fieldset>
					{/if}
					{#if detected.length > 0}
						<fieldset class="mt-3" data-testid="detected">
							<legend class="font-semibold">Detected, changed only if you tick it</legend>
							{#each detected as { by, count } (by)}
								<label class="flex items-center gap-2 py-0.5"
									><input
										type="checkbox"
										class="accent-(--rim)"
										checked={included.includes(by)}
										onchange={(event) => include(by, event.currentTarget.checked)}
									/>{SORTS[by]}<span class="text-steam">{counted(count, 'place')}</span></label
								>
							{/each}
							<p class="text-[12px] text-steam">
								Accept it in the field guide, and it will change along every time.
							</p>
						</fieldset>
					{/if}
				{:else}
					<p class="text-steam" role="status">Preparing the preview…</p>
				{/if}
			</div>
			<footer class="flex justify-end gap-2 border-t border-line px-5 py-3">
				<Dialog.Close class="press">Cancel</Dialog.Close>
				<button class="press main" disabled={!ready || working} onclick={apply} data-testid="apply-plan">
					Apply the plan <kbd class="text-[11px] opacity-75">Ctrl Enter</kbd>
				</button>
			</footer>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
