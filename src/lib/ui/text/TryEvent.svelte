<script lang="ts">
	import { untrack } from 'svelte';
	import { counted } from '$core/wording';
	import type { TryPage } from '$core/views';
	import type { Outcome, Thrown } from '$core/scripts';
	import { fileAddress } from '../frame/address';
	import { post } from '../frame/client.svelte';
	import RecordBox from '../pickers/RecordBox.svelte';

	/** An event tried without the game: what it gets, what comes of it, with my mod and without. */
	let { data }: { data: TryPage } = $props();

	type Result = { thrown: Thrown } | { fault: string };
	let records = $state<Record<string, { id: string; name: string }>>(
		untrack(() =>
			Object.fromEntries(data.parameters.flatMap(({ name, kind }) => (kind ? [[name, kind.first]] : [])))
		)
	);
	let values = $state<Record<string, string>>({});
	let returns = $state<Record<string, string>>(
		untrack(() => Object.fromEntries(data.game.map(({ name, returns }) => [name, returns])))
	);
	let seed = $state(1);
	let busy = $state(0);
	let fault = $state<string | null>(null);
	let result = $state<{ mine: Result; below: Result | null; times: number } | null>(null);

	async function run(times: number): Promise<void> {
		busy = times;
		fault = null;
		try {
			const answer = await post<{ mine: Result; below: Result | null }>(`/p/${data.slug}/api/try`, {
				name: data.name,
				args: data.parameters.map(({ name, kind }) =>
					kind ? { kind: kind.id, id: records[name]!.id } : { value: values[name] ?? '' }
				),
				returns,
				seed: Number(seed) || 0,
				times
			});
			result = { ...answer, times };
		} catch (error) {
			fault = (error as Error).message;
		}
		busy = 0;
	}

	const sides = $derived(
		result === null
			? []
			: [
					...(result.below ? [{ title: 'Without my mod', side: result.below, mine: false }] : []),
					{
						title: result.below ? 'With my mod' : 'What happens',
						side: result.mine,
						mine: result.below !== null
					}
				]
	);
	/** All outcomes of many throws, with how often each came on each side. */
	const outcomes = $derived.by(() => {
		if (result === null || result.times === 1) return [];
		const shares = (side: Result | null) => (side && 'thrown' in side ? side.thrown.shares : []);
		const found: Record<string, { mine: number; below: number }> = {};
		for (const { outcome, count } of shares(result.mine)) found[outcome] = { mine: count, below: 0 };
		for (const { outcome, count } of shares(result.below))
			found[outcome] = { mine: found[outcome]?.mine ?? 0, below: count };
		return Object.entries(found).sort(([, a], [, b]) => b.mine + b.below - a.mine - a.below);
	});
	const percent = (count: number, of: number) =>
		(count / of).toLocaleString('en', { style: 'percent', maximumFractionDigits: 1 });
</script>

{#snippet lines(title: string, all: string[])}
	{#if all.length > 0}
		<dt class="text-[12px] text-steam">{title}</dt>
		<dd class="mb-2 font-mono text-[13px] break-words whitespace-pre-wrap">{all.join('\n')}</dd>
	{/if}
{/snippet}

{#snippet outcome(one: Outcome)}
	<dl>
		{#each one.unloaded as script (script.path)}
			<p class="mb-2 text-scald">{script.path} could not be loaded: {script.fault}</p>
		{/each}
		{#if one.fault}<p class="mb-2 text-scald">It stops: {one.fault}</p>{/if}
		{@render lines('Returns', one.returned)}
		{@render lines('Calls the game', one.calls)}
		{@render lines('Prints', one.printed)}
		{@render lines(
			'Changes globals',
			one.changed.map(({ name, before, after }) => `${name}: ${before} → ${after}`)
		)}
	</dl>
	{#if !one.fault && one.returned.length + one.calls.length + one.printed.length + one.changed.length === 0}
		<p class="text-steam">Nothing: it returns nothing and calls nothing.</p>
	{/if}
{/snippet}

<svelte:head><title>Try {data.name} · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-6xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{data.slug}/scripts">Scripts</a></p>
	<h1>Try <code>{data.name}</code></h1>
	<p class="mt-1 text-steam">
		In
		{#each data.answers as one, nth (nth)}{nth > 0 ? ', ' : ''}<a
				class="follow {one.layer.owner === 'me' ? 'text-copper' : ''}"
				href={fileAddress(data.slug, one.layer.id, one.path, one.line)}>{one.path}</a
			>{/each}. The scripts run in a machine of their own, without files, network or clock. Calls of the
		game’s functions are only recorded.
	</p>
	{#if data.when}<p class="mt-1">{data.when}{data.returns ? ` Returns: ${data.returns}` : ''}</p>{/if}
	<form
		class="plate mt-4 flex flex-wrap items-end gap-4 p-4"
		aria-label="What it gets"
		onsubmit={(event) => {
			event.preventDefault();
			void run(1);
		}}
	>
		{#each data.parameters as parameter (parameter.name)}
			{#if parameter.kind}
				<div>
					<span class="block font-semibold"
						>{parameter.name}
						<span class="font-normal text-steam">{records[parameter.name]!.name}</span></span
					>
					<RecordBox
						slug={data.slug}
						kind={parameter.kind.id}
						label="{parameter.name}: pick a {parameter.kind.title.toLowerCase()}"
						pick={(_, id, name) => (records[parameter.name] = { id, name })}
					/>
				</div>
			{:else}
				<label
					><span class="block font-semibold"
						>{parameter.name}
						{#if parameter.min !== null && parameter.max !== null}<span class="font-normal text-steam"
								>{parameter.min}–{parameter.max}{parameter.unit ? ` ${parameter.unit}` : ''}</span
							>{/if}</span
					>
					<input
						class="box w-32 font-mono"
						title={parameter.meaning}
						bind:value={values[parameter.name]}
						placeholder="nil"
					/></label
				>
			{/if}
		{/each}
		<label
			><span class="block font-semibold">Seed</span>
			<input class="box w-24 font-mono" type="number" min="0" bind:value={seed} /></label
		>
		<span class="flex gap-2">
			<button class="press main" disabled={busy > 0}>{busy === 1 ? 'Running…' : 'Try it'}</button>
			<button class="press" type="button" disabled={busy > 0} onclick={() => void run(1000)}
				>{busy > 1 ? 'Running…' : 'Try it 1,000 times'}</button
			>
		</span>
		{#if data.game.length > 0}
			<details class="w-full">
				<summary class="cursor-pointer text-steam">What the game’s functions return</summary>
				<div class="mt-2 flex flex-wrap gap-4">
					{#each data.game as { name, meaning } (name)}
						<label title={meaning}
							><span class="block font-mono text-[12px]">{name}()</span>
							<input class="box w-28 font-mono" bind:value={returns[name]} placeholder="nil" /></label
						>
					{/each}
				</div>
				<p class="mt-1 text-[12px] text-steam">A number, true, false or a text; without any, nil.</p>
			</details>
		{/if}
	</form>
	{#if fault}<p class="mt-4 text-scald" role="alert">{fault}</p>{/if}
	{#if result}
		<div class="mt-4 grid gap-4 {sides.length > 1 ? 'md:grid-cols-2' : ''}" aria-live="polite">
			{#each sides as { title, side, mine } (title)}
				<section class="plate p-4" aria-label={title}>
					<h2 class={mine ? 'text-copper' : ''}>{title}</h2>
					<div class="mt-2">
						{#if 'fault' in side}<p class="text-scald">{side.fault}</p>{:else}{@render outcome(
								side.thrown.first
							)}{/if}
					</div>
				</section>
			{/each}
		</div>
		{#if outcomes.length > 0}
			<section class="plate mt-4 p-4" aria-labelledby="shares">
				<h2 id="shares">
					{counted(outcomes.length, 'outcome')} in {result.times.toLocaleString('en')} runs
				</h2>
				<ul class="mt-2 space-y-2">
					{#each outcomes.slice(0, 30) as [what, count] (what)}
						<li>
							<p class="font-mono text-[12px] break-words">{what}</p>
							{#each [...(result.below ? [{ title: 'without my mod', count: count.below, mine: false }] : []), { title: 'with my mod', count: count.mine, mine: true }] as bar (bar.title)}
								<p class="flex items-center gap-2 text-[12px]">
									<span
										class="h-2 rounded {bar.mine && result.below ? 'bg-copper' : 'bg-rim'}"
										style="width: {(bar.count / result.times) * 60}%"
									></span>
									<span class="font-mono">{percent(bar.count, result.times)}</span>
									{#if result.below}<span class="text-steam">{bar.title}</span>{/if}
								</p>
							{/each}
						</li>
					{/each}
				</ul>
			</section>
		{/if}
	{/if}
</div>
