<script lang="ts">
	import { untrack } from 'svelte';
	import type { ScenarioCard, ScenarioRun } from '$core/views';
	import RecordBox from '../pickers/RecordBox.svelte';

	/** What a scenario is played with. */
	let {
		slug,
		card,
		run,
		busy,
		play
	}: {
		slug: string;
		card: ScenarioCard;
		run: ScenarioRun | null;
		busy: boolean;
		play: (body: object) => void;
	} = $props();

	const last = untrack(() => (run?.scenario === card.name ? run : null));
	let records = $state<Record<string, { id: string; name: string } | null>>(
		untrack(() =>
			Object.fromEntries(card.inputs.map(({ name, record }) => [name, last?.inputs[name] ?? record]))
		)
	);
	let times = $state(last?.times ?? 2000);
	let seed = $state(last?.seed ?? 1);
	let parts = $state(false);
	let sweeps = $state(false);
	let agreed = $state(false);
	let input = $state(untrack(() => card.inputs.find(({ fields }) => fields.length > 0)?.name ?? ''));
	const fields = $derived(card.inputs.find(({ name }) => name === input)?.fields ?? []);
	let field = $state(
		untrack(() => {
			const own = last?.places[0]?.field;
			const all = card.inputs.find(({ name }) => name === input)?.fields ?? [];
			return all.some(({ path }) => path === own) ? own! : (all[0]?.path ?? '');
		})
	);
	let from = $state<number | null>(null);
	let to = $state<number | null>(null);
	const isRunning = $derived(run?.state === 'running');

	function submit(event: SubmitEvent): void {
		event.preventDefault();
		play({
			inputs: Object.fromEntries(Object.entries(records).map(([name, one]) => [name, one?.id ?? ''])),
			times,
			seed,
			agreed,
			parts,
			sweep: sweeps && from !== null && to !== null ? { input, field, from, to } : null
		});
	}
</script>

<form class="plate mt-4 p-5" onsubmit={submit} aria-label="Scenario">
	{#if card.asks}<p class="font-semibold">{card.asks}</p>{/if}
	{#if card.formula !== null}
		<p class="mt-1">
			<code>{card.formula}</code> <span class="text-steam">for every record of {card.kindTitle}</span>
		</p>
	{:else}
		<div class="mt-2 flex flex-wrap items-end gap-x-6 gap-y-3">
			{#each card.inputs as { name, title, kind } (name)}
				<div>
					<span class="block font-semibold"
						>{title}
						<span class="font-normal text-steam">{records[name]?.name ?? 'none yet'}</span></span
					>
					<RecordBox
						{slug}
						{kind}
						label="Another {title.toLowerCase()}"
						pick={(_, id, called) => (records[name] = { id, name: called })}
					/>
				</div>
			{/each}
			<label
				><span class="block font-semibold"
					>Times <span class="font-normal text-steam">on each side</span></span
				><input
					class="box w-28 text-right font-mono"
					type="number"
					min="1"
					max="100000"
					required
					bind:value={times}
				/></label
			>
			<label
				><span class="block font-semibold">First seed</span><input
					class="box w-28 text-right font-mono"
					type="number"
					min="0"
					max="2000000000"
					required
					bind:value={seed}
				/></label
			>
		</div>
		<p class="mt-3">
			<label class="inline-flex items-center gap-2"
				><input type="checkbox" class="accent-(--rim)" bind:checked={parts} />Also play each of my changes
				alone</label
			>
		</p>
		{#if fields.length > 0}
			<p class="mt-1 flex flex-wrap items-center gap-2">
				<label class="inline-flex items-center gap-2"
					><input type="checkbox" class="accent-(--rim)" bind:checked={sweeps} />Try other values of</label
				>
				{#if card.inputs.filter((one) => one.fields.length > 0).length > 1}
					<select
						class="box"
						aria-label="Of which record"
						bind:value={input}
						onchange={() => (field = fields[0]?.path ?? '')}
					>
						{#each card.inputs.filter((one) => one.fields.length > 0) as { name, title } (name)}<option
								value={name}>{title}</option
							>{/each}
					</select>
				{/if}
				<select class="box" aria-label="Field" bind:value={field}>
					{#each fields as { path, title } (path)}<option value={path}>{title}</option>{/each}
				</select>
				from<input
					class="box w-24 text-right font-mono"
					type="number"
					step="any"
					aria-label="From"
					required={sweeps}
					bind:value={from}
				/>
				to<input
					class="box w-24 text-right font-mono"
					type="number"
					step="any"
					aria-label="To"
					required={sweeps}
					bind:value={to}
				/>
			</p>
		{/if}
		{#if card.command}
			<details class="mt-2" open={!card.confirmed}>
				<summary class="cursor-pointer text-[13px] text-steam">What is run on this machine</summary>
				<p class="mt-1 font-mono text-[12px] break-all">
					{#each card.command as word, nth (nth)}<span class="mr-2">{word}</span>{/each}
				</p>
			</details>
			{#if !card.confirmed}
				<p class="mt-1">
					<label class="inline-flex items-center gap-2"
						><input type="checkbox" class="accent-(--rim)" required bind:checked={agreed} />Run this command.
						It has not been run from here before.</label
					>
				</p>
			{/if}
		{/if}
	{/if}
	<p class="mt-4">
		<button class="press main" disabled={busy || isRunning}
			>{card.formula === null ? 'Play' : 'Work it out'}</button
		>
	</p>
</form>
