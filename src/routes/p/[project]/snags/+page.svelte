<script lang="ts">
	import { counted, numbered } from '$core/wording';
	import { page } from '$app/state';
	import { fileAddress, withTicket } from '$ui/frame/address';
	import type { Intention } from '$core/edits';
	import type { Severity, Vouched } from '$core/checks';
	import { onAction } from '$ui/frame/keys';
	import { arrowKeys } from '$ui/frame/move';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import Sentence from '$ui/frame/Sentence.svelte';
	import SnagMark from '$ui/frame/SnagMark.svelte';

	let { data } = $props();
	let plan = $state<Intention | null>(null);
	let list = $state<HTMLElement>();

	const heads: Record<Severity, string> = {
		blocks: 'Blocks',
		warns: 'Warns',
		note: 'Notes'
	};
	const groups = $derived(
		(['blocks', 'warns', 'note'] as const)
			.map((severity) => ({ severity, snags: data.snags.filter((snag) => snag.severity === severity) }))
			.filter((group) => group.snags.length > 0)
	);
	const at = $derived(page.url.searchParams.get('at'));

	function step(by: number) {
		const items = [...(list?.querySelectorAll<HTMLElement>('[data-move]') ?? [])];
		const now = items.findIndex((item) => item.contains(document.activeElement));
		items[now < 0 ? (by > 0 ? 0 : items.length - 1) : (now + by + items.length) % items.length]?.focus();
	}

	/** What the checks speak for, and what not. */
	function checkedSoFar(vouched: Vouched, all: number): string {
		const { records, values, known, references, guided, files, read } = vouched;
		return [
			guided
				? `Checked against the field guide: ${counted(all, 'file')}, ${counted(references, 'reference')}.`
				: `There is no field guide yet: everything checked was detected from ${counted(all, 'file')} of the game.`,
			...(records > 0
				? [
						`In your mod, ${numbered(known)} of ${counted(values, 'value')} in ${counted(records, 'record')} could be checked.`
					]
				: []),
			...(read < files ? [`${numbered(read)} of its ${counted(files, 'file')} could be read.`] : []),
			...(guided ? [] : ['Confirm detected kinds and fields on the Field guide page to be surer.'])
		].join(' ');
	}

	$effect(() => {
		const offs = [onAction('next-snag', () => step(1)), onAction('previous-snag', () => step(-1))];
		return () => offs.forEach((off) => off());
	});
	$effect(() => {
		if (at)
			[...(list?.querySelectorAll<HTMLElement>('[data-move]') ?? [])]
				.find((item) => item.dataset.snag === at)
				?.focus();
	});
</script>

<svelte:head><title>Snags · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Snags</h1>
	{#if data.counts.blocks + data.counts.warns === 0}
		<div class="plate mt-4 p-6">
			{#if data.vouched.whole}
				<p class="font-semibold text-verdigris">The game should load this cleanly.</p>
			{:else}
				<p class="font-semibold">No snags found.</p>
			{/if}
			<p class="mt-1 text-steam" data-testid="vouched">{checkedSoFar(data.vouched, data.checked)}</p>
			{#if data.vouched.unread.length > 0}
				<p class="mt-1 text-steam">
					Not checked: {#each data.vouched.unread as path, at (path)}{at > 0 ? ', ' : ''}<code>{path}</code
						>{/each}
				</p>
			{/if}
			<p class="mt-3"><a class="press main" href="/p/{data.project.slug}/pack">Pack it</a></p>
		</div>
	{/if}
	<div bind:this={list} role="group" aria-label="Snags" {@attach arrowKeys}>
		{#each groups as group (group.severity)}
			<h2 class="mt-5 mb-2 flex items-center gap-2">
				<SnagMark severity={group.severity} />{heads[group.severity]}
				<span class="font-normal text-steam">{group.snags.length}</span>
			</h2>
			{#each data.forAll.filter((one) => one.severity === group.severity) as one (one.rule + one.label)}
				<p class="mb-1 flex items-baseline gap-2 text-[13px]">
					<span class="text-steam">{data.titles[one.rule]}:</span>
					<button class="press slight" onclick={() => (plan = one.intention)}>{one.label}</button>
				</p>
			{/each}
			<ul class="space-y-2">
				{#each group.snags as snag (snag.id)}
					<!-- svelte-ignore a11y_no_noninteractive_tabindex (n, b and the arrows go from snag to snag) -->
					<li
						class="plate px-4 py-3 {at === snag.id ? 'border-brass' : ''}"
						data-move
						data-snag={snag.id}
						data-rule={snag.rule}
						tabindex="0"
						aria-label="{data.titles[snag.rule]}: {snag.name ?? snag.file}"
					>
						<p class="flex flex-wrap items-baseline gap-x-3 text-[12px] text-steam">
							<span>{data.titles[snag.rule]}</span>
							<a class="follow" href={fileAddress(data.project.slug, snag.layer, snag.file, snag.line)}
								><code>{snag.file}:{snag.line}</code></a
							><span>{snag.layerTitle}</span>
							{#if snag.kind && snag.record}<a
									class="follow"
									href={withTicket(page.url, snag.kind, snag.record)}>ticket of {snag.name}</a
								>{/if}
						</p>
						<p class="mt-1">
							<Sentence text={snag.message} />
						</p>
						{#if snag.excerpt !== undefined}<pre
								class="mt-2 overflow-x-auto rounded border border-line bg-enamel px-2 py-1 font-mono text-[12px]">{snag.excerpt.replaceAll(
									'\t',
									' → '
								)}</pre>{/if}
						{#if snag.repairs.length > 0}
							<p class="mt-2 flex flex-wrap gap-2">
								{#each snag.repairs as repair, nth (nth)}<button
										class="press {nth === 0 ? '' : 'slight'}"
										onclick={() => (plan = repair.intention)}>{repair.label}</button
									>{/each}
							</p>
						{/if}
					</li>
				{/each}
			</ul>
		{/each}
	</div>
	{#if data.total > data.snags.length}<p class="mt-3 text-steam">
			The first {data.snags.length} of {data.total} are shown; the rest appear as you fix these.
		</p>{/if}
</div>
<PlanDialog slug={data.project.slug} bind:intention={plan} />
