<script lang="ts">
	import { counted, either } from '$core/wording';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import type { RecipeView } from '$core/views';
	import { changeGuide } from '$ui/guide/change';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import RecordBox from '$ui/pickers/RecordBox.svelte';
	import SureMark from '$ui/frame/SureMark.svelte';
	import StepList from '$ui/plan/StepList.svelte';

	/** All recipes; one is open, its blanks are filled in and its plan is shown. */
	let { data } = $props();
	const slug = $derived(data.project.slug);
	const recipes = $derived(data.recipes);
	let wanted = $state(page.url.searchParams.get('recipe'));
	const open = $derived(recipes.find(({ name }) => name === wanted) ?? recipes[0] ?? null);
	let fill = $state<Record<string, string>>(filledBy(page.url));
	let plan = $state<Intention | null>(null);

	/** The address tells what the blanks are filled with, by `fill.` and their names. */
	function filledBy(url: URL): Record<string, string> {
		return Object.fromEntries(
			[...url.searchParams].flatMap(([name, value]) =>
				name.startsWith('fill.') ? [[name.slice('fill.'.length), value] as const] : []
			)
		);
	}
	function kept() {
		const address = new URL(page.url);
		for (const name of [...address.searchParams.keys()])
			if (name.startsWith('fill.')) address.searchParams.delete(name);
		if (open) address.searchParams.set('recipe', open.name);
		for (const name of Object.keys(open?.recipe.blanks ?? {}))
			if (fill[name]) address.searchParams.set(`fill.${name}`, fill[name]);
		replaceState(address, {});
	}
	function choose({ name }: RecipeView) {
		wanted = name;
		kept();
	}
	function put(name: string, value: string) {
		fill[name] = value;
		kept();
	}
	const lacking = $derived(
		open ? Object.entries(open.recipe.blanks).filter(([name, { kind }]) => kind && !fill[name]?.trim()) : []
	);
	function show(event: SubmitEvent) {
		event.preventDefault();
		if (!open || lacking.length > 0) return;
		const said = Object.keys(open.recipe.blanks).map((name) => [name, fill[name] ?? '']);
		plan = { do: 'recipe', recipe: open.name, fill: Object.fromEntries(said) };
	}
</script>

<svelte:head><title>Recipes · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-6">
	<div class="flex items-baseline gap-3">
		<h1>Recipes</h1>
		<a class="press ml-auto" href="/p/{slug}/ledger?choose">Make one from recent steps</a>
	</div>
	<p class="mt-1 text-steam">
		A change that takes several steps, written down once and replayed. Recipes are kept in the field guide.
	</p>
	{#if recipes.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">There is no recipe yet.</p>
			<p class="mt-1 text-steam">
				Make a change once, step by step. Then choose the steps in the ledger: records, new ids and values
				become blanks.
			</p>
		</div>
	{:else}
		<div class="mt-4 grid grid-cols-[240px_minmax(0,1fr)] gap-5">
			<ul class="space-y-1" aria-label="Recipes">
				{#each recipes as one (one.name)}
					<li>
						<button
							class="w-full rounded-lg px-3 py-2 text-left hover:bg-wash {one === open
								? 'bg-wash font-semibold'
								: ''}"
							aria-pressed={one === open}
							onclick={() => choose(one)}
							>{one.recipe.title}<span class="block text-[12px] font-normal text-steam"
								>{counted(one.said.length, 'step')}, {Object.keys(one.recipe.blanks).length}
								{either(Object.keys(one.recipe.blanks).length, 'blank', 'blanks')}</span
							></button
						>
					</li>
				{/each}
			</ul>
			{#if open}
				{#key open.name}
					<section class="plate min-w-0 px-5 py-4" aria-label={open.recipe.title}>
						<div class="flex items-start gap-3">
							<h2 class="min-w-0 flex-1 font-title text-[20px] font-medium">{open.recipe.title}</h2>
							<SureMark origin={open.origin} sure={1} />
							{#if open.origin === 'mine'}<button
									class="press"
									onclick={() => void changeGuide(slug, { do: 'recipe', name: open.name, recipe: null })}
									>Remove</button
								>{/if}
						</div>
						{#if open.recipe.meaning}<p class="mt-1 whitespace-pre-line">{open.recipe.meaning}</p>{/if}
						<form class="mt-3" onsubmit={show}>
							{#each Object.entries(open.recipe.blanks) as [name, blank] (name)}
								<div class="flex items-center gap-3 border-b border-line/60 py-1.5">
									<label class="w-48 shrink-0" for="blank-{name}">{blank.title}</label>
									<input
										id="blank-{name}"
										class="box min-w-0 flex-1 {blank.kind ? 'font-mono' : ''}"
										value={fill[name] ?? ''}
										placeholder={blank.example ? `as ${blank.example}` : ''}
										oninput={(event) => put(name, event.currentTarget.value)}
									/>
									{#if blank.kind && !blank.new}<RecordBox
											{slug}
											kind={blank.kind}
											label="Search by name"
											pick={(_, id) => put(name, id)}
										/>{/if}
								</div>
							{/each}
							<h3 class="mt-4 font-semibold">Steps</h3>
							<StepList said={open.said} {fill} blanks={open.recipe.blanks} />
							<div class="mt-4 flex items-center justify-end gap-3">
								{#if lacking.length > 0}<span class="text-steam"
										>Still open: {lacking.map(([, { title }]) => title.toLowerCase()).join(', ')}</span
									>{/if}
								<button class="press main" disabled={lacking.length > 0}>Preview changes</button>
							</div>
						</form>
					</section>
				{/key}
			{/if}
		</div>
	{/if}
</div>
<PlanDialog {slug} bind:intention={plan} />
