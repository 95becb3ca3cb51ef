<script lang="ts">
	import { recordAddress } from '../frame/address';
	import type { Estimate } from '$core/scenario';
	import type { ScenarioOutcome, ScenarioRun } from '$core/views';
	import { counted } from '$core/wording';
	import Sides from '../charts/Sides.svelte';
	import Sweep from '../charts/Sweep.svelte';

	/** What came of playing a scenario on both sides. */
	let { slug, run, stale }: { slug: string; run: ScenarioRun; stale: boolean } = $props();

	const isFormula = $derived(run.outcomes[0]?.name === 'value' && Object.keys(run.inputs).length === 0);
	const number = (value: number) =>
		Math.abs(value) >= 1000
			? Math.round(value).toLocaleString('en')
			: value.toLocaleString('en', { maximumSignificantDigits: 3 });
	const signed = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${number(Math.abs(value))}`;
	const isSure = ({ low, high }: Estimate) => low > 0 || high < 0;

	/** The answer in a sentence. */
	function answer({ title, unit, better, difference, base, count }: ScenarioOutcome): string {
		const what = `${title}: ${signed(difference.value)}${unit && ` ${unit}`} on average`;
		const within = `between ${signed(difference.low)} and ${signed(difference.high)}, 95 % sure`;
		if (difference.value === 0 && difference.low === 0 && difference.high === 0)
			return `${title}: the same in all ${count.toLocaleString('en')}.`;
		if (!isSure(difference)) return `${what}, ${within}. That may be chance.`;
		const share = base.mean === 0 ? '' : ` (${signed((difference.value / Math.abs(base.mean)) * 100)} %)`;
		const good = better === null ? '' : (better === 'more') === difference.value > 0 ? ' Better.' : ' Worse.';
		return `${what}${share}, ${within}.${good}`;
	}
	const tone = ({ better, difference }: ScenarioOutcome): string =>
		better === null || !isSure(difference)
			? ''
			: (better === 'more') === difference.value > 0
				? 'text-verdigris'
				: 'text-scald';
	const percent = (share: number) => `${Math.round(share * 100)} %`;
	const parts = $derived(run.parts ?? []);
</script>

<section class="mt-5" aria-label="Result">
	{#if stale}
		<p class="mb-2 text-[13px] text-steam">Your mod was changed since; play it again for what it is now.</p>
	{/if}
	<ul class="plate p-4" role="status">
		{#each run.outcomes as outcome (outcome.name)}
			<li class="py-0.5 {tone(outcome)}" data-outcome={outcome.name}>{answer(outcome)}</li>
		{/each}
	</ul>
	<p class="mt-2 text-[13px] text-steam">
		{#if isFormula}
			{counted(run.outcomes[0]!.count, 'record')}; the interval is that of the mean over them.
		{:else}
			{counted(run.outcomes[0]!.count, 'play')} on each side, seeds {run.seed} to {run.seed + run.times - 1},
			{Object.values(run.inputs)
				.map(({ name }) => name)
				.join(', ')}{#if run.state === 'done'}; {(run.milliseconds / 1000).toFixed(1)} s{/if}. Intervals by
			the paired bootstrap.
		{/if}
		<a class="follow" href="/p/{slug}/api/scenarios?csv" download>Save all as CSV</a>
	</p>
	{#each run.without as { id, why } (id)}
		<p class="text-[13px] text-steam"><code>{id}</code> is left out: {why}.</p>
	{/each}
	<div class="mt-4 grid gap-x-8 gap-y-5 md:grid-cols-2">
		{#each run.outcomes as outcome (outcome.name)}
			<figure>
				<figcaption class="flex items-baseline justify-between gap-3">
					<span class="font-semibold"
						>{outcome.title}{#if outcome.unit}<span class="font-normal text-steam">, {outcome.unit}</span
							>{/if}</span
					>
					<span class="text-[12px] text-steam"
						>more in {number(outcome.more)}, less in {number(outcome.less)}, same in {number(
							outcome.same
						)}</span
					>
				</figcaption>
				<Sides {outcome} />
				<table class="w-full text-right font-mono text-[12px]">
					<thead class="font-sans text-steam"
						><tr
							><th class="text-left font-normal"></th><th class="font-normal">Mean</th><th class="font-normal"
								>Deviation</th
							><th class="font-normal">Median</th><th class="font-normal">80 % between</th></tr
						></thead
					>
					<tbody>
						{#each [['base', 'Without your mod', 'bg-steam opacity-55'], ['mine', 'With your mod', 'bg-brass']] as const as [side, words, colour] (side)}
							{@const one = outcome[side]}
							<tr
								><th class="text-left font-sans font-normal"
									><span class="mr-1.5 inline-block size-2 rounded-full {colour}"></span>{words}</th
								><td>{number(one.mean)}</td><td>{number(one.deviation)}</td><td>{number(one.median)}</td><td
									>{number(one.tenth)} to {number(one.ninth)}</td
								></tr
							>
						{/each}
					</tbody>
				</table>
			</figure>
		{/each}
	</div>
	{#if run.places.length > 0}
		<h2 class="mt-6">Among similar records</h2>
		<table class="mt-1 w-full max-w-3xl text-left text-[13px]" aria-label="Among similar records">
			<thead class="text-[12px] text-steam"
				><tr
					><th class="py-1 pr-3 font-normal">Record</th><th class="pr-3 font-normal"
						>{isFormula ? '' : 'Field'}</th
					><th class="pr-3 text-right font-normal">Without your mod</th><th
						class="pr-3 text-right font-normal">With it</th
					><th class="font-normal">Share of similar records below it</th></tr
				></thead
			>
			<tbody>
				{#each run.places as { record, field, title, base, mine, ranks } (record.id + field)}
					<tr class="border-t border-line"
						><td class="py-1 pr-3"
							><a class="follow" href={recordAddress(slug, record.kind, record.id)}>{record.name}</a></td
						><td class="pr-3">{title}</td><td class="pr-3 text-right font-mono">{base}</td><td
							class="pr-3 text-right font-mono">{mine}</td
						><td
							>{#if ranks}{percent(ranks[0])} → {percent(ranks[1])}{/if}</td
						></tr
					>
				{/each}
			</tbody>
		</table>
	{/if}
	{#if parts.length > 0}
		<h2 class="mt-6">Each change alone</h2>
		<table class="mt-1 w-full text-left text-[13px]" aria-label="Each change alone">
			<thead class="text-[12px] text-steam"
				><tr
					><th class="py-1 pr-3 font-normal">Change</th>{#each run.outcomes as { name, title } (name)}<th
							class="pr-3 text-right font-normal">{title}</th
						>{/each}</tr
				></thead
			>
			<tbody>
				{#each parts as part (part.href)}
					<tr class="border-t border-line"
						><td class="py-1 pr-3"><a class="follow" href={part.href}>{part.title}</a></td
						>{#each run.outcomes as { name } (name)}{@const one = part.differences[name]}<td
								class="pr-3 text-right font-mono {one && isSure(one) ? '' : 'text-steam'}"
								>{#if one}{#if one.value === 0 && one.low === 0 && one.high === 0}–{:else}{signed(one.value)}
										<span class="text-steam">({signed(one.low)} to {signed(one.high)})</span>{/if}{/if}</td
							>{/each}</tr
					>
				{/each}
			</tbody>
		</table>
	{/if}
	{#if run.sweep}
		{@const sweep = run.sweep}
		<h2 class="mt-6">Over {sweep.title}</h2>
		<div class="mt-1 grid gap-x-8 gap-y-4 md:grid-cols-2">
			{#each run.outcomes as outcome (outcome.name)}
				<figure>
					<figcaption class="font-semibold">{outcome.title}</figcaption>
					<Sweep {sweep} {outcome} />
				</figure>
			{/each}
		</div>
		<details class="mt-1 text-[13px]">
			<summary class="cursor-pointer text-steam">As a table</summary>
			<table class="mt-1 text-right font-mono text-[12px]" aria-label="Over {sweep.title}">
				<thead
					><tr
						><th class="pr-4 font-normal">{sweep.title}</th>{#each run.outcomes as { name, title } (name)}<th
								class="pr-4 font-normal">{title}</th
							>{/each}</tr
					></thead
				>
				<tbody
					>{#each sweep.points as { value, means } (value)}<tr
							><td class="pr-4">{value}</td>{#each run.outcomes as { name } (name)}<td class="pr-4"
									>{means[name] ? number(means[name].value) : ''}</td
								>{/each}</tr
						>{/each}</tbody
				>
			</table>
		</details>
	{/if}
</section>
