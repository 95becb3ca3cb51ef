<script lang="ts">
	import { untrack } from 'svelte';
	import type { ScenariosPage } from '$core/views';
	import { counted } from '$core/wording';
	import { post, say } from '$ui/frame/client.svelte';
	import ScenarioForm from '$ui/project/ScenarioForm.svelte';
	import ScenarioNew from '$ui/project/ScenarioNew.svelte';
	import ScenarioResult from '$ui/project/ScenarioResult.svelte';

	/** What my change does: a scenario of the guide, played without my mod and with it. */
	let { data } = $props();
	const slug = $derived(data.slug);
	const address = $derived(`/p/${slug}/api/scenarios`);

	/** What came of playing is newer than what the page was loaded with. */
	let latest = $state.raw<ScenariosPage | null>(null);
	$effect(() => {
		void data;
		untrack(() => (latest = null));
	});
	const view = $derived(latest ?? data);
	const run = $derived(view.run);
	let chosen = $state<string | null>(null);
	const card = $derived(
		view.scenarios.find(({ name }) => name === (chosen ?? run?.scenario)) ?? view.scenarios[0] ?? null
	);
	let adding = $state(false);
	let busy = $state(false);

	async function ask(body: object): Promise<void> {
		busy = true;
		try {
			latest = await post<ScenariosPage>(address, body);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		busy = false;
	}

	// While it is played, what is known so far is shown as it comes.
	$effect(() => {
		if (run?.state !== 'running') return;
		const beat = setInterval(() => {
			void fetch(address)
				.then(async (answer) => {
					if (answer.ok) latest = (await answer.json()) as ScenariosPage;
				})
				.catch(() => undefined);
		}, 400);
		return () => clearInterval(beat);
	});
</script>

<svelte:head><title>Scenarios · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/trial">Trial</a></p>
	<h1>What does my change do?</h1>
	<p class="mt-1 max-w-3xl text-steam">
		A scenario is played many times, once with the game as it is without your mod and once with it, from the
		same seeds. The game’s folder ends up as it was.
	</p>
	{#if view.scenarios.length > 0}
		<nav class="mt-3 flex flex-wrap gap-2" aria-label="Scenarios">
			{#each view.scenarios as { name, title } (name)}
				<button
					class="press {name === card?.name && !adding ? 'main' : ''}"
					aria-pressed={name === card?.name && !adding}
					onclick={() => ([chosen, adding] = [name, false])}>{title}</button
				>
			{/each}
			<button class="press" aria-pressed={adding} onclick={() => (adding = !adding)}>New scenario…</button>
		</nav>
	{/if}
	{#if adding || card === null}
		<ScenarioNew
			{slug}
			kinds={view.kinds}
			first={card === null}
			done={(name) => ([chosen, adding] = [name, false])}
		/>
	{:else if card.formula === null && !view.ready}
		<div class="plate mt-4 p-5">
			<p class="font-semibold">Not set up yet: tell Kettle Dial how to install and start this game.</p>
			<p class="mt-2"><a class="press main" href="/p/{slug}/start">Set it up</a></p>
		</div>
	{:else}
		{#key card.name}
			<ScenarioForm
				{slug}
				{card}
				{run}
				{busy}
				play={(body) => void ask({ do: 'play', scenario: card.name, ...body })}
			/>
		{/key}
		{#if run && run.scenario === card.name}
			{#if run.state === 'running'}
				<p class="mt-4 flex items-center gap-3" role="status">
					<progress
						class="w-52 accent-(--brass)"
						aria-label="Playing"
						max={Math.max(1, run.all)}
						value={run.played}
					></progress>
					{run.said ?? 'Starting'}: {run.played.toLocaleString('en')} of {counted(run.all, 'play')}
					<button class="press" onclick={() => void ask({ do: 'stop' })}>Stop</button>
				</p>
			{:else if run.said}
				<p class="plate mt-4 p-4 {run.said === 'Stopped.' ? '' : 'text-scald'}" role="alert">{run.said}</p>
			{/if}
			{#if run.outcomes.length > 0}
				<ScenarioResult {slug} {run} stale={run.version !== view.version} />
			{/if}
		{/if}
	{/if}
</div>
