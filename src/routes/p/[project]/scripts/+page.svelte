<script lang="ts">
	import { goto } from '$app/navigation';
	import { counted } from '$core/wording';
	import type { KeptPlan } from '$core/change';
	import type { Intention } from '$core/edits';
	import type { EventView } from '$core/views';
	import { fileAddress } from '$ui/frame/address';
	import { applyIntention } from '$ui/frame/client.svelte';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import AnswerForm from '$ui/text/AnswerForm.svelte';

	let { data } = $props();

	/** Which record or number an answer is for, by the name of the event. */
	let chosen = $state<Record<string, string>>({});
	let filter = $state('');
	const shown = $derived(
		data.events.filter(({ name, answers }) =>
			[name, ...answers.map((one) => one.path)].some((text) =>
				text.toLowerCase().includes(filter.toLowerCase())
			)
		)
	);
	const spoken = ({ name, kind, numbered }: EventView): string =>
		name.replace('{id}', kind ? `<${kind.title.toLowerCase()}>` : numbered ? '<number>' : '{id}');
	const colour = (owner: string) => (owner === 'me' ? 'text-copper' : owner === 'others' ? 'text-plum' : '');

	let answering = $state.raw<{ event: EventView; of: string | undefined } | null>(null);
	let plan = $state<Intention | null>(null);
	/** The id or number in the name of a function, where the event has one. */
	const ofEvent = (event: EventView): string | undefined =>
		event.kind
			? (chosen[event.name] ?? event.open[0]?.id)
			: event.numbered
				? (chosen[event.name] ?? '')
				: undefined;

	function answered(answer: Intention | null): void {
		answering = null;
		plan = answer;
	}

	/** Opens the new script where its function is still empty. */
	function openMade({ changes }: KeptPlan): void {
		const made = changes.find(({ before, of }) => before === null && of === 'text');
		if (!made) return;
		const text = made.splices?.map(({ insert }) => insert).join('') ?? '';
		const line = text.split('\n').findIndex((one) => /^\t+\r?$/.test(one)) + 1;
		const address = made.path.split('/').map(encodeURIComponent).join('/');
		void goto(`/p/${data.slug}/edit/${address}?line=${Math.max(1, line)}`);
	}
</script>

<svelte:head><title>Scripts · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-7xl px-6 py-5">
	<div class="flex flex-wrap items-baseline gap-4">
		<h1>Scripts</h1>
		<a class="follow" href="/p/{data.slug}/new">New script</a>
		{#if data.pages}<a class="follow" href="/p/{data.slug}/pages">Pages of text</a>{/if}
		<a class="follow" href="/p/{data.slug}/patch">Apply a patch</a>
	</div>
	{#if data.count === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">This game has no scripts that could be read.</p>
			<p class="text-steam">
				What the game asks of scripts would be here, with who answers, and which script loads which.
			</p>
		</div>
	{:else}
		<p class="mt-1 text-steam">
			{counted(data.count, 'script')}. What the game asks is what the field guide says, and what was detected:
			functions that scripts define and never call themselves.
		</p>
		<div class="mt-4 grid gap-6 lg:grid-cols-[1fr_20rem]">
			<section aria-labelledby="asks">
				<div class="flex flex-wrap items-center gap-3">
					<h2 id="asks">What the game asks</h2>
					{#if data.events.length > 8}<input
							class="box w-56"
							bind:value={filter}
							placeholder="Only events with…"
							aria-label="Only events with"
						/>{/if}
				</div>
				{#if data.events.length === 0}
					<p class="mt-2 text-steam">No function was found that the game would call.</p>
				{:else if shown.length === 0}
					<p class="mt-2 text-steam">No event matches.</p>
				{/if}
				<ul class="mt-2 space-y-2">
					{#each shown as event (event.name + (event.kind?.id ?? ''))}
						<li class="plate px-4 py-2" aria-label={spoken(event)}>
							<div class="flex flex-wrap items-center gap-3">
								<code class="font-semibold">{spoken(event)}</code>
								<span class="text-[12px] text-steam">
									{#if event.parameters.length === 0}gets nothing{:else}gets
										{#each event.parameters as one, nth (one)}{nth > 0 ? ', ' : ''}<span
												title={event.about[nth] || null}
												class={event.about[nth] ? 'underline decoration-dotted underline-offset-2' : ''}
												>{one}</span
											>{/each}{/if}
								</span>
								{#if event.answers[0]}<a
										class="follow text-[13px]"
										href="/p/{data.slug}/try/{event.answers[0].name}">Try it</a
									>{/if}
								<span class="ml-auto flex items-center gap-2">
									{#if event.kind && event.open.length > 0}
										<select
											class="box h-7 max-w-44"
											aria-label="Answer {spoken(event)} for"
											value={chosen[event.name] ?? event.open[0]!.id}
											onchange={({ currentTarget }) => (chosen[event.name] = currentTarget.value)}
										>
											{#each event.open as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
										</select>
									{:else if event.numbered}
										<input
											class="box h-7 w-28 font-mono"
											inputmode="numeric"
											aria-label="Number of the new {spoken(event)}"
											placeholder="number"
											value={chosen[event.name] ?? ''}
											oninput={({ currentTarget }) => (chosen[event.name] = currentTarget.value)}
										/>
									{/if}
									{#if !event.kind || event.open.length > 0}
										<button
											class="press"
											disabled={event.numbered && !/^\d+$/.test(chosen[event.name] ?? '')}
											onclick={() => (answering = { event, of: ofEvent(event) })}
											>{event.kind || event.numbered ? 'Answer it' : 'Answer it too'}</button
										>
									{/if}
								</span>
							</div>
							{#if event.when}<p class="text-[13px]">
									{event.when}{event.returns ? ` Returns: ${event.returns}` : ''}
								</p>{/if}
							<p class="mt-1 text-[13px]">
								{#if event.answers.length === 0}<span class="text-steam">No script answers it yet.</span>{/if}
								{#if event.kind}<span class="text-steam"
										>{event.answers.length + event.more} of {event.kind.records}
										<a class="follow" href="/p/{data.slug}/tables/{event.kind.id}"
											>{event.kind.plural.toLowerCase()}</a
										>:</span
									>{/if}
								{#each event.answers as one, nth (nth)}{nth === 0
										? ' '
										: event.kind || event.numbered
											? ', '
											: ' → '}<a
										class="follow {colour(one.layer.owner)}"
										title="{one.layer.title}, {one.path}, line {one.line}"
										href={fileAddress(data.slug, one.layer.id, one.path, one.line)}
										>{one.id ?? `${one.path.replace(/^.*\//, '')}:${one.line}`}</a
									>{/each}{event.more > 0 ? ` and ${event.more} more` : ''}
							</p>
						</li>
					{/each}
				</ul>
			</section>
			<section aria-labelledby="loads">
				<h2 id="loads">What loads what</h2>
				{#if data.call === null}
					<p class="mt-1 text-steam">No call was found by which scripts load others.</p>
				{:else}
					<p class="mt-1 text-[13px] text-steam">
						By <code>{data.call}(…)</code>, in this order.
					</p>
					<ol class="mt-2 text-[13px]" aria-label="Order of loading">
						{#each data.order as one, nth (nth)}
							<li
								class="border-l-2 py-px {one.state === 'loaded' ? 'border-verdigris' : 'border-scald'}"
								style="margin-left: {one.depth * 14}px; padding-left: 8px"
							>
								{#if one.layer}<a
										class="follow font-mono {colour(one.layer.owner)}"
										title={one.layer.title}
										href={fileAddress(data.slug, one.layer.id, one.path)}>{one.path.replace(/^.*\//, '')}</a
									>{:else}<span class="font-mono text-scald">{one.path}</span>{/if}
								{#if one.state === 'gone'}<span class="text-scald">: no layer has it (line {one.line})</span
									>{:else if one.state === 'circle'}<span class="text-saffron">: loaded further up</span>{/if}
							</li>
						{/each}
					</ol>
					{#if data.unloaded.length > 0}
						<h3 class="mt-4 font-semibold">Nothing loads these</h3>
						<ul class="mt-1 space-y-1 text-[13px]">
							{#each data.unloaded as one (one.path)}
								<li class="flex items-center gap-2">
									<a
										class="follow font-mono {colour(one.layer.owner)}"
										href={fileAddress(data.slug, one.layer.id, one.path)}>{one.path}</a
									>
									{#if one.layer.owner === 'me'}<button
											class="press h-6 text-[12px]"
											onclick={() => void applyIntention(data.slug, { do: 'load', path: one.path })}
											>Load it</button
										>{/if}
								</li>
							{/each}
						</ul>
					{/if}
				{/if}
			</section>
		</div>
	{/if}
</div>
{#if answering}<AnswerForm
		slug={data.slug}
		event={answering.event}
		of={answering.of}
		kinds={data.kinds}
		done={answered}
	/>{/if}
<PlanDialog slug={data.slug} bind:intention={plan} onapplied={openMade} />
