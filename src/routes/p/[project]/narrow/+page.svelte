<script lang="ts">
	import { untrack } from 'svelte';
	import type { NarrowBy, NarrowTry, NarrowView } from '$core/views';
	import { counted } from '$core/wording';
	import { post, say } from '$ui/frame/client.svelte';

	/** Which step or file of my mod brings a fault about: the game is started with some of them, by halves. */
	let { data } = $props();
	const slug = $derived(data.slug);
	const address = $derived(`/p/${slug}/api/narrow`);

	let view = $state.raw<NarrowView>(untrack(() => data));
	const run = $derived(view.run);
	let by = $state<NarrowBy>(untrack(() => (data.counts.steps > 0 ? 'steps' : 'files')));
	let seek = $state<'load' | 'line'>(untrack(() => (data.line ? 'line' : 'load')));
	let line = $state(untrack(() => data.line ?? ''));
	let busy = $state(false);

	async function ask(body: object): Promise<void> {
		busy = true;
		try {
			view = await post<NarrowView>(address, body);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		busy = false;
	}
	const start = (event: SubmitEvent) => {
		event.preventDefault();
		void ask({ do: 'start', by, line: seek === 'line' && line.trim() !== '' ? line.trim() : null });
	};

	// While it runs, each try is shown as it comes.
	$effect(() => {
		if (run?.state !== 'running') return;
		const beat = setInterval(() => {
			void fetch(address)
				.then(async (answer) => {
					if (answer.ok) view = (await answer.json()) as NarrowView;
				})
				.catch(() => undefined);
		}, 500);
		return () => clearInterval(beat);
	});

	const ONE = { steps: 'step', records: 'record', files: 'file', options: 'option', mods: 'mod' };
	const one = (what: NarrowBy) => ONE[what];
	const outcomeOf = (tried: NarrowTry) => (tried.outcome === 'fails' ? 'occurs' : 'does not occur');
	/** The parts that were in, as few words as they take: whole runs by their ends. */
	function inWords(parts: readonly number[]): string {
		if (parts.length === 0) return 'none';
		const runs: string[] = [];
		for (let at = 0; at < parts.length;) {
			let end = at;
			while (parts[end + 1] === parts[end]! + 1) end++;
			runs.push(end > at ? `${parts[at]! + 1} to ${parts[end]! + 1}` : `${parts[at]! + 1}`);
			at = end + 1;
		}
		return runs.join(', ');
	}
	function hrefOf(part: { id: string }): string {
		if (run?.by === 'steps') return `/p/${slug}/ledger#step-${part.id}`;
		if (run?.by === 'files') return `/p/${slug}/edit/${part.id}`;
		if (run?.by === 'options') return `/p/${slug}/options`;
		if (run?.by === 'mods') return `/p/${slug}/setup`;
		const [kind, id] = JSON.parse(part.id) as [string, string];
		return `/p/${slug}/tables/${kind}?ticket=${encodeURIComponent(`${kind}/${id}`)}`;
	}
</script>

{#snippet cells(parts: readonly number[], along: readonly number[])}
	{@const inside = new Set(parts)}
	{@const with_ = new Set(along)}
	<span class="flex h-4 w-full min-w-40 gap-px" aria-hidden="true">
		{#each run?.parts ?? [] as part, nth (part.id)}
			<span
				class="min-w-0 flex-1 rounded-[1px] {inside.has(nth)
					? 'bg-(--brass)'
					: with_.has(nth)
						? 'bg-(--brass) opacity-40'
						: 'bg-wash'}"
			></span>
		{/each}
	</span>
{/snippet}

<svelte:head><title>Narrow it down · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/trial">Trial</a></p>
	<h1>Narrow it down</h1>
	<p class="mt-1 max-w-3xl text-steam">
		The game is started with only some of your changes, or beside only some of the other mods, halving the
		suspects each time, until the smallest set that causes the fault is found. Your mod itself is not changed,
		and the game’s folder ends up as it was.
	</p>
	{#if !view.ready}
		<div class="plate mt-4 p-5">
			<p class="font-semibold">Not set up yet: tell Kettle Dial how to install and start this game.</p>
			<p class="mt-2"><a class="press main" href="/p/{slug}/start">Set it up</a></p>
		</div>
	{:else if run === null}
		<form class="plate mt-4 p-5" onsubmit={start}>
			<fieldset>
				<legend class="font-semibold">What is looked for</legend>
				<label class="mt-1 flex items-center gap-2"
					><input type="radio" class="accent-(--rim)" value="load" bind:group={seek} />The game does not load
					my mod cleanly</label
				>
				<label class="mt-1 flex items-center gap-2"
					><input type="radio" class="accent-(--rim)" value="line" bind:group={seek} />This line is in its log
					(numbers in it may differ)</label
				>
				{#if seek === 'line'}<input
						class="box mt-1 w-full font-mono text-[13px]"
						bind:value={line}
						required
						aria-label="Line of the log"
					/>{/if}
			</fieldset>
			<fieldset class="mt-4">
				<legend class="font-semibold">Where to look</legend>
				{#each [['steps', 'step', 'of the ledger'], ['records', 'changed record', ''], ['files', 'file', 'of my mod'], ['options', 'option', 'of my mod'], ['mods', 'other mod', 'in the game’s load order']] as const as [value, what, where] (value)}
					<label class="mt-1 flex items-center gap-2"
						><input
							type="radio"
							class="accent-(--rim)"
							{value}
							bind:group={by}
							disabled={view.counts[value] === 0}
						/>{counted(view.counts[value], what)}
						{where}</label
					>
				{/each}
			</fieldset>
			<p class="mt-4 flex items-center gap-3">
				<button class="press main" disabled={busy || view.counts[by] === 0}>Narrow it down</button>
				<span class="text-[13px] text-steam"
					>about {counted(3 + Math.ceil(Math.log2(Math.max(2, view.counts[by]))), 'start')} of the game</span
				>
			</p>
		</form>
	{:else}
		<p class="mt-3">
			{run.line === null ? 'Looked for: it does not load cleanly' : 'Looked for:'}
			{#if run.line !== null}<code>{run.line}</code>{/if}
			<span class="text-steam">among {counted(run.parts.length, one(run.by))}</span>
		</p>
		{#if run.found}
			<section class="plate mt-3 p-5" aria-label="Found" role="status">
				{#if run.found.none === 'without any'}
					<p class="font-semibold">It occurs even without any of them.</p>
					<p class="text-steam">
						{#if run.by === 'mods'}
							The cause is in the game or in your mod.
						{:else if run.by === 'options'}
							The cause is in the game, in another mod, or in the main part of yours.
						{:else}
							The cause is in the game, in another mod, or in what your mod was before the first step.
							{#if run.by === 'steps'}Narrow down by files to look there.{/if}
						{/if}
					</p>
				{:else if run.found.none === 'not with all'}
					<p class="font-semibold">It does not occur even with all of them.</p>
					<p class="text-steam">
						It may not occur on every start, or something else has changed in the meantime.
					</p>
				{:else}
					{#each run.found.causes as cause (cause.join())}
						<p class="font-semibold">
							{cause.length === 1
								? run.by === 'mods'
									? 'It occurs with this mod beside yours:'
									: `This ${one(run.by)} alone causes it:`
								: `These ${counted(cause.length, one(run.by))} cause it together; none of them does alone:`}
						</p>
						<ul class="mb-2 ml-5 list-disc">
							{#each cause as nth (nth)}
								<li>
									<a class="follow" href={hrefOf(run.parts[nth]!)}>{nth + 1}. {run.parts[nth]!.title}</a>
								</li>
							{/each}
						</ul>
					{/each}
					{#if run.by === 'mods'}<p class="text-[13px] text-steam">
							The load order lists all of them again. <a class="follow" href="/p/{slug}/clashes">Clashes</a> shows
							what two mods both change.
						</p>{/if}
					{#if run.by === 'steps'}<p class="text-[13px] text-steam">
							In the ledger you can undo this step only; later steps stay.
						</p>{/if}
				{/if}
			</section>
		{:else if run.said}
			<p class="plate mt-3 p-4 text-scald" role="alert">{run.said}</p>
		{/if}
		<p class="mt-3 flex flex-wrap items-center gap-3">
			{#if run.state === 'running'}
				<progress aria-label="Trying" class="w-40 accent-(--brass)"></progress>
				<button class="press" disabled={busy} onclick={() => void ask({ do: 'stop' })}>Stop</button>
			{:else}
				{#if run.state === 'stopped'}<button
						class="press main"
						disabled={busy}
						onclick={() => void ask({ do: 'go on' })}>Go on</button
					>{/if}
				<button class="press" disabled={busy} onclick={() => void ask({ do: 'forget' })}>Start anew</button>
			{/if}
			<span class="text-steam">{counted(run.tries.length, 'start')} of the game so far</span>
		</p>
		<table class="mt-3 w-full text-left" aria-label="Tries">
			<thead class="text-[12px] text-steam"
				><tr
					><th class="py-1 pr-3 font-normal">Start</th><th class="pr-3 font-normal">With</th><th
						class="w-2/5 pr-3 font-normal"><span class="sr-only">Which of them</span></th
					><th class="pr-3 font-normal">Outcome</th><th class="text-right font-normal">Time</th></tr
				></thead
			>
			<tbody>
				{#each run.tries as tried, nth (nth)}
					<tr class="border-t border-line"
						><td class="py-1 pr-3 font-mono text-steam">{nth + 1}</td><td class="pr-3"
							>{inWords(tried.parts)}{#if tried.along.length > 0}<span class="text-steam"
									>, and {inWords(tried.along)} that they stand on</span
								>{/if}</td
						><td class="pr-3">{@render cells(tried.parts, tried.along)}</td><td
							class="pr-3 {tried.outcome === 'fails' ? 'text-scald' : 'text-verdigris'}"
							>{outcomeOf(tried)}{#if tried.refused > 0}<span class="text-steam"
									>, {tried.refused} refused</span
								>{/if}</td
						><td class="text-right font-mono">{tried.milliseconds} ms</td></tr
					>
				{/each}
				{#if run.now}
					<tr class="border-t border-line"
						><td class="py-1 pr-3 font-mono text-steam">{run.tries.length + 1}</td><td class="pr-3"
							>{inWords(run.now)}</td
						><td class="pr-3">{@render cells(run.now, [])}</td><td class="text-steam">running…</td><td
						></td></tr
					>
				{/if}
			</tbody>
		</table>
		<details class="mt-4">
			<summary class="cursor-pointer text-steam">The {counted(run.parts.length, one(run.by))}</summary>
			<ol class="mt-1 ml-8 list-decimal text-[13px]">
				{#each run.parts as part (part.id)}<li>
						<a class="follow" href={hrefOf(part)}>{part.title}</a>
					</li>{/each}
			</ol>
		</details>
	{/if}
</div>
