<script lang="ts">
	import { counted, either } from '$core/wording';
	import { refresh } from '$ui/frame/refresh';
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import { withParameters } from '$ui/frame/address';
	import { post, Refused, say } from '$ui/frame/client.svelte';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import SpoilMarks from '$ui/frame/SpoilMarks.svelte';
	import PlanView from '$ui/plan/PlanView.svelte';
	import ValueEditor from '$ui/editors/ValueEditor.svelte';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const states: Record<string, string> = {
		applied: '',
		undone: 'undone',
		dropped: 'undone for good'
	};
	const when = (at: string) => new Date(at).toLocaleString([], { dateStyle: 'short', timeStyle: 'medium' });
	let opened = $state(Number(page.url.searchParams.get('plan')));
	const last = $derived(data.entries.find(({ state }) => state === 'applied')?.id ?? 0);
	const marked = $derived(data.entries.filter(({ mark, state }) => mark !== null && state === 'applied'));
	let plan = $state<Intention | null>(null);
	const choosing = $derived(page.url.searchParams.has('choose'));
	let chosen = $state<number[]>([]);

	async function call(body: object): Promise<boolean> {
		try {
			const { said } = await post<{ said: string }>(`/p/${slug}/api/ledger`, body);
			await refresh();
			say(said);
			return true;
		} catch (fault) {
			if (!(fault instanceof Refused)) throw fault;
			say(fault.message, { bad: true });
			return false;
		}
	}
	const since = (id: number) => withParameters(page.url, { from: String(id), to: String(last), plan: null });
	const nameOf = (id: number) =>
		id === 0 ? 'the beginning' : (data.entries.find((entry) => entry.id === id)?.mark ?? `step ${id}`);
	const shown = (value: string | null) => (value === null || value === '' ? '—' : value);
</script>

<svelte:head><title>Ledger · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<div class="flex items-baseline gap-2">
		<h1 class="mr-auto">Ledger</h1>
		<a class="press" href="/p/{slug}/recipes">Recipes</a>
		{#if data.entries.some(({ state }) => state === 'applied')}
			<a
				class="press"
				href={withParameters(page.url, { choose: choosing ? null : 'steps' })}
				data-sveltekit-noscroll>{choosing ? 'Cancel' : 'Make a recipe from steps'}</a
			>
		{/if}
	</div>
	<p class="mt-1 text-steam">
		Every plan you applied, newest first. Ctrl Z undoes the last one, even after a restart; any other can be
		undone on its own.
	</p>
	{#if marked.length > 0}
		<p class="mt-2 flex flex-wrap items-center gap-2">
			<span class="text-steam">Named moments:</span>
			{#each marked as entry (entry.id)}<a class="follow" href="#step-{entry.id}">{entry.mark}</a>{/each}
		</p>
	{/if}
	{#if data.between}
		<section class="plate mt-4 px-4 py-3" aria-label="What changed between two moments" data-testid="between">
			<h2 class="flex items-baseline gap-3 font-semibold">
				From {nameOf(data.between.from)} to {data.between.to === last ? 'now' : nameOf(data.between.to)}: {data
					.between.count}
				{either(data.between.count, 'value', 'values')}
				<a
					class="follow ml-auto text-[13px] font-normal"
					href={withParameters(page.url, { from: null, to: null })}>close</a
				>
			</h2>
			<table class="mt-2 w-full border-collapse text-left">
				<tbody>
					{#each data.between.values as value, at (at)}
						<tr class="border-t border-line">
							<td class="py-0.5 pr-3">{value.name}</td><td class="py-0.5 pr-3 text-steam">{value.field}</td>
							<td class="max-w-60 truncate py-0.5 pr-3 font-mono text-steam">{shown(value.before)}</td>
							<td class="max-w-60 truncate py-0.5 font-mono text-copper">{shown(value.after)}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
	{/if}
	{#if data.entries.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Nothing has changed yet.</p>
			<p class="mt-3">
				<a class="press main" href="/p/{slug}/find">Find something to change</a>
			</p>
		</div>
	{/if}
	{#if choosing}
		<p
			class="sticky top-0 z-10 mt-3 flex items-center gap-3 rounded-lg border border-line bg-wash px-4 py-2"
			role="status"
		>
			<span class="flex-1"
				>{chosen.length === 0
					? 'Choose the steps that belong together; they are replayed in the order they were made.'
					: `${counted(chosen.length, 'step')} chosen.`}</span
			>
			{#if chosen.length > 0}<a class="press main" href="/p/{slug}/recipes/new?steps={chosen.join(',')}"
					>Next: fill in the blanks</a
				>{/if}
		</p>
	{/if}
	<ol class="mt-4 space-y-2">
		{#each data.entries as entry (entry.id)}
			<li class="plate {entry.state === 'applied' ? '' : 'opacity-75'} relative" id="step-{entry.id}">
				{#if choosing && entry.state === 'applied'}
					<input
						type="checkbox"
						class="absolute top-3 -left-6 size-4 accent-(--rim)"
						aria-label="Step {entry.id}: {entry.title}"
						value={entry.id}
						bind:group={chosen}
					/>
				{/if}
				<details
					open={opened === entry.id}
					ontoggle={(event) => {
						if (event.currentTarget.open) opened = entry.id;
						else if (opened === entry.id) opened = 0;
					}}
				>
					<summary class="flex cursor-pointer items-baseline gap-3 px-4 py-2"
						><span class="font-mono text-[12px] text-steam">{entry.id}</span><span
							class="flex-1 font-semibold {entry.state === 'applied' ? '' : 'line-through'}"
							>{entry.title}</span
						><SpoilMarks spoiled={entry.spoiled} short />{#if entry.mark}<span
								class="rounded-full border border-brass px-2 text-[12px]">{entry.mark}</span
							>{/if}<span class="text-steam">{states[entry.state]}</span><span class="text-[12px] text-steam"
							>{when(entry.at)}</span
						></summary
					>
					<div class="border-t border-line px-4 py-3">
						{#if entry.state === 'applied'}
							<p class="mb-3 flex flex-wrap items-center gap-2">
								<button class="press" onclick={() => (plan = { do: 'reverse', step: entry.id })}
									>Undo this step only</button
								>
								{#if entry.id !== last}
									<button class="press" onclick={() => void call({ do: 'back', step: entry.id, last })}
										>Go back to here</button
									>
									<a class="follow" href={since(entry.id)}>what changed since</a>
								{/if}
								<span class="ml-auto flex items-center gap-2 text-steam"
									>Called
									<span class="w-44"
										><ValueEditor
											value={entry.mark ?? ''}
											label="Name this moment"
											wide
											save={(mark) => call({ do: 'name', step: entry.id, mark })}
										/></span
									></span
								>
							</p>
						{/if}
						<PlanView plan={entry.plan} />
						{#if entry.count > entry.plan.values.length}<p class="mt-2 text-steam">
								{entry.count} values in all.
							</p>{/if}
						<p class="mt-3"><a class="follow text-steam" href="?plan={entry.id}">Address of this plan</a></p>
					</div>
				</details>
			</li>
		{/each}
	</ol>
</div>
<PlanDialog {slug} bind:intention={plan} />
