<script lang="ts">
	import { goto } from '$app/navigation';
	import { withFilled } from '$core/edits';
	import { changeGuide } from '$ui/guide/change';
	import StepList from '$ui/plan/StepList.svelte';

	/** A recipe is made of steps of the ledger: named, explained, and what of it is left open. */
	let { data } = $props();
	const slug = $derived(data.project.slug);
	const recording = $derived(data.recording);
	let title = $state('');
	let meaning = $state('');
	let titles = $state<Record<string, string>>({});
	/** Blanks that are same each time. */
	let same = $state<string[]>([]);
	let working = $state(false);

	const name = $derived(
		title
			.toLowerCase()
			.replace(/[^\p{L}\p{N}]+/gu, '-')
			.replace(/^-+|-+$/g, '')
			.slice(0, 100)
	);
	const fixed = $derived(Object.fromEntries(same.map((blank) => [blank, recording?.was[blank] ?? ''])));

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		if (!recording || name === '' || working) return;
		working = true;
		const made = withFilled(recording.recipe, $state.snapshot(fixed));
		const blanks = Object.fromEntries(
			Object.entries(made.blanks).map(([blank, about]) => [
				blank,
				{ ...about, title: titles[blank]?.trim() || about.title }
			])
		);
		const recipe = {
			...made,
			blanks,
			title: title.trim(),
			...(meaning.trim() ? { meaning: meaning.trim() } : {})
		};
		const done = await changeGuide(slug, { do: 'recipe', name, recipe });
		working = false;
		if (done) await goto(`/p/${slug}/recipes?recipe=${encodeURIComponent(name)}`);
	}
</script>

<svelte:head><title>A new recipe · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-3xl px-6 py-6">
	<h1>A recipe from recent steps</h1>
	{#if !recording}
		<p class="mt-3" role="alert">{data.fault}</p>
		<p class="mt-3"><a class="press" href="/p/{slug}/ledger?choose">Choose other steps</a></p>
	{:else}
		<p class="mt-1 text-steam">Blanks are asked for each time; everything else stays the same.</p>
		<form class="mt-4 space-y-4" onsubmit={keep}>
			<label class="block font-semibold"
				>Title<input
					class="box mt-1 block w-full font-normal"
					bind:value={title}
					required
					maxlength="200"
					placeholder={recording.recipe.title}
				/></label
			>
			<label class="block font-semibold"
				>What it is for, and why it needs these steps<textarea
					class="box mt-1 block h-20 w-full p-2 font-normal"
					bind:value={meaning}></textarea></label
			>
			<section>
				<h2 class="font-semibold">Blanks</h2>
				{#each Object.entries(recording.recipe.blanks) as [blank, about] (blank)}
					<div class="mt-1 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_170px] items-center gap-3">
						<input
							class="box"
							aria-label="What {blank} is called"
							placeholder={about.title}
							disabled={same.includes(blank)}
							bind:value={titles[blank]}
						/>
						<span class="truncate text-steam"
							>was <code class="text-copper">{recording.was[blank] || 'nothing'}</code></span
						>
						<label class="flex items-center gap-2"
							><input
								type="checkbox"
								class="accent-(--rim)"
								checked={same.includes(blank)}
								onchange={(event) =>
									(same = event.currentTarget.checked
										? [...same, blank]
										: same.filter((one) => one !== blank))}
							/>same each time</label
						>
					</div>
				{/each}
			</section>
			<section>
				<h2 class="font-semibold">Steps</h2>
				<StepList said={recording.said} fill={fixed} blanks={recording.recipe.blanks} />
			</section>
			<div class="flex justify-end gap-2">
				<a class="press" href="/p/{slug}/ledger?choose">Choose other steps</a>
				<button class="press main" disabled={name === '' || working}>Save to the field guide</button>
			</div>
		</form>
	{/if}
</div>
