<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import type { Choice } from '$core/carry';
	import type { Intention } from '$core/edits';
	import type { CarryCard, CarryPage } from '$core/views';
	import { counted } from '$core/wording';
	import { withParameters } from '$ui/frame/address';
	import { post, Refused } from '$ui/frame/client.svelte';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import CarryItem from '$ui/project/CarryItem.svelte';
	import CarryTry from '$ui/project/CarryTry.svelte';
	import Comparing from '$ui/project/Comparing.svelte';

	/** My mod on a new version of the game: what is left to decide, and all that follows by itself. */
	let { data } = $props();
	const slug = $derived(data.slug);
	let plan = $state<Intention | null>(null);
	/** What was applied: until it is undone, its version is the one in use. */
	let done = $state<{ to: string; title: string } | null>(null);
	const applied = $derived(done && !data.versions.some(({ id }) => id === done!.to) ? done.title : null);

	/** The last that was worked out stays in view while it is worked out again. */
	let last = $state.raw<CarryPage | null>(null);
	let fault = $state<string | null>(null);
	let working = $state(true);
	/** Of two that are asked for, the later one counts. */
	let asked = 0;
	async function choose(choices: { key: string; choice: Choice | null }[] = []): Promise<void> {
		const [own, { to }] = [++asked, data];
		working = to !== null;
		fault = null;
		if (to === null) return;
		try {
			const found = await post<CarryPage>(`/p/${slug}/api/carry`, { to, choices });
			if (own === asked) last = found;
		} catch (reason) {
			if (!(reason instanceof Refused)) throw reason;
			if (own === asked) fault = reason.message;
		}
		if (own === asked) working = false;
	}
	$effect(() => {
		void [data.to, data.version];
		void untrack(() => choose());
	});
	const shown = $derived(last?.to === data.to ? last : null);

	const SHOW = [
		['undecided', 'To decide'],
		['homeless', 'Without a place'],
		['carried', 'Carried over'],
		['refreshed', 'From the new version']
	] as const;
	/** What is in view at first: it stays so when the last of it is decided. */
	let first = $state<CarryCard['what'] | null>(null);
	$effect(() => {
		if (shown) first ??= SHOW.find(([what]) => shown.counts[what] > 0)?.[0] ?? 'undecided';
	});
	const only = $derived(
		SHOW.find(([what]) => what === page.url.searchParams.get('only'))?.[0] ?? first ?? 'undecided'
	);
	/** What was chosen stays where it was: it can be seen and taken back. */
	const items = $derived(
		shown?.items.filter(({ what, asks, choice }) => (choice !== null && asks ? asks : what) === only) ?? []
	);
	const open = $derived((shown?.counts.undecided ?? 0) + (shown?.counts.homeless ?? 0));

	const left = $derived(shown?.items.filter(({ what, asks }) => what === 'undecided' && asks) ?? []);
	const rule = (choice: Choice) => choose(left.map(({ key }) => ({ key, choice })));
	/** The version that is in view when a plan is asked for: once applied, it is the one in use. */
	let previewed: string | null = null;
	const preview = () => {
		if (!shown) return;
		previewed = shown.to;
		plan = { do: 'carry', to: shown.to, from: shown.from, called: shown.title };
	};
</script>

<svelte:head><title>Carry over · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/setup">Set up</a></p>
	<h1>
		Carry over to {shown?.title ?? data.versions.find(({ id }) => id === data.to)?.title ?? 'a new version'}
	</h1>
	<p class="mt-1 max-w-3xl text-steam">
		What only you changed stays as you have it; what only the game changed is taken over. What both changed,
		or what no longer has a place, is up to you. Nothing is written until you apply it, and one Undo reverts
		all of it.
	</p>
	{#if applied}
		<div class="plate mt-4 p-6" data-testid="carried">
			<p class="font-semibold">{applied}</p>
			<p class="mt-1 flex gap-3">
				<a class="press" href="/p/{slug}/snags">Snags</a><a class="press" href="/p/{slug}/trial">Trial</a>
			</p>
		</div>
	{:else if data.to === null}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">There is no other version of the game here.</p>
			<p class="text-steam">
				Import the new version under <a class="follow" href="/p/{slug}/setup">Set up</a> with
				<em>Another version</em>; the one in use stays until you have decided.
			</p>
		</div>
	{:else if fault}
		<div class="plate mt-4 p-6" role="alert">{fault}</div>
	{:else if !shown}
		<Comparing {slug} to={data.to} records={data.records} />
	{:else}
		{#if data.versions.length > 1}
			<label class="mt-2 flex items-center gap-2 text-[13px]"
				><span class="text-steam">Version</span>
				<select
					class="box"
					value={data.to}
					onchange={(event) =>
						(location.href = withParameters(page.url, { to: event.currentTarget.value, only: null }))}
				>
					{#each data.versions as { id, title } (id)}<option value={id}>{title}</option>{/each}
				</select></label
			>
		{/if}
		<p class="mt-2 text-[13px]" data-testid="game">
			The new version has {counted(shown.game.new, 'new record')}, {counted(
				shown.game.changed,
				'changed one'
			)},
			{shown.game.gone} gone, {shown.game.renamed} under another name, {shown.game.moved} in another place;
			{counted(shown.game.files, 'file differs', 'files differ')}.
			{#each shown.game.fields as field (field.kind + field.path)}
				<span
					>{field.kind}: {field.what === 'renamed'
						? `the field ${field.from} is called ${field.path} now.`
						: field.what === 'split'
							? `the field ${field.from} is split into ${field.path} now.`
							: `the field ${field.path} is ${field.what}.`}</span
				>
			{/each}
			<a class="follow" href="/p/{slug}/updated?to={data.to}">See all that it changed</a>
		</p>
		{#if shown.besides.length > 0}
			<p class="mt-1 text-[13px]" data-testid="besides">{shown.besides.join(' ')}</p>
		{/if}
		<nav class="mt-3 flex flex-wrap gap-2" aria-label="Show">
			{#each SHOW as [what, title] (what)}
				<a
					class="press {only === what ? 'main' : ''}"
					aria-current={only === what ? 'page' : undefined}
					href={withParameters(page.url, { only: what })}
					data-sveltekit-noscroll>{title} {shown.counts[what].toLocaleString('en')}</a
				>
			{/each}
		</nav>
		<p class="mt-3 flex flex-wrap items-center gap-3">
			<button class="press main" onclick={preview}
				>{open === 0 ? 'Preview all of it' : `Preview, with ${counted(open, 'thing')} still open`}</button
			>
			{#if left.length > 0}
				<button class="press" onclick={() => void rule('mine')}>Keep mine for the rest</button>
				<button class="press" onclick={() => void rule('theirs')}>Use the new version’s</button>
				<button class="press" onclick={() => void rule('on-top')}>Add my changes on top</button>
			{/if}
			{#if data.startable}{#key shown.to}<CarryTry {slug} to={shown.to} />{/key}{/if}
			<a class="follow" href="/p/{slug}/api/carry?to={data.to}" download>Save the list</a>
			<span class="text-[12px] text-steam" role="status">{working ? 'Working it out again…' : ''}</span>
		</p>
		{#if items.length === 0}
			<div class="plate mt-3 p-6">
				<p class="font-semibold">
					{only === 'undecided' || only === 'homeless' ? 'Nothing is left here.' : 'Nothing of this sort.'}
				</p>
			</div>
		{:else}
			<ul class="mt-3 space-y-2">
				{#each items as item (item.key + item.what)}
					<CarryItem {slug} {item} choose={(choice) => void choose([{ key: item.key, choice }])} />
				{/each}
			</ul>
			{#if shown.counts[only] > shown.most}<p class="mt-3 text-steam">
					{(shown.counts[only] - shown.most).toLocaleString('en')} more are not shown; the list has them all.
				</p>{/if}
		{/if}
	{/if}
</div>
<PlanDialog
	{slug}
	bind:intention={plan}
	onapplied={({ title }) => previewed !== null && (done = { to: previewed, title: `${title}: done.` })}
/>
