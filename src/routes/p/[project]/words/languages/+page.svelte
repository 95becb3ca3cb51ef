<script lang="ts">
	import { numbered } from '$core/wording';
	import { X } from '$ui/frame/icons';
	import { changeGuide } from '$ui/guide/change';

	/** The languages of a game, a language for testing, and words that are always translated in one way. */
	let { data } = $props();
	const view = $derived(data.view);
	const main = $derived(view?.languages.find(({ code }) => code === view.main));
	const others = $derived(view?.languages.filter(({ code }) => code !== view.main) ?? []);

	let code = $state('');
	let title = $state('');
	let chosen = $state<string | null>(null);
	const as = $derived(chosen ?? others[0]?.code ?? view?.main ?? '');
	let term = $state<Record<string, string>>({});

	const known = $derived(view?.languages.some((language) => language.code === code.trim()) ?? false);

	/** What a language is called in itself, by its code. */
	function nameOf(tag: string): string {
		try {
			return new Intl.DisplayNames([tag], { type: 'language', fallback: 'none' }).of(tag) ?? '';
		} catch {
			return '';
		}
	}

	async function addLanguage(event: SubmitEvent) {
		event.preventDefault();
		if (!view || code.trim() === '' || known) return;
		const languages = Object.fromEntries(view.languages.map((one) => [one.code, one.title]));
		const done = await changeGuide(data.slug, {
			do: 'languages',
			languages: { ...languages, [code.trim()]: title.trim() || nameOf(code.trim()) || code.trim() }
		});
		if (done) code = title = '';
	}
	const removeLanguage = (gone: string) =>
		void changeGuide(data.slug, {
			do: 'languages',
			languages: Object.fromEntries(
				view!.languages.filter((one) => one.code !== gone).map((one) => [one.code, one.title])
			)
		});

	async function addTerm(event: SubmitEvent) {
		event.preventDefault();
		if (!view) return;
		const made = Object.fromEntries(
			Object.entries($state.snapshot(term)).filter(([, word]) => word.trim() !== '')
		);
		if (made[view.main] === undefined || Object.keys(made).length < 2) return;
		if (await changeGuide(data.slug, { do: 'terms', terms: [...view.terms, made] })) term = {};
	}
	const removeTerm = (nth: number) =>
		void changeGuide(data.slug, { do: 'terms', terms: view!.terms.filter((_, at) => at !== nth) });
</script>

<svelte:head><title>Languages and terms · Kettle Dial</title></svelte:head>
<div class="px-6 py-5">
	<p><a class="follow" href="/p/{data.slug}/words">Words</a></p>
	<h1>Languages and terms</h1>
	{#if !view || !main}
		<p class="plate mt-4 p-6">
			No texts in languages are known in this game. The
			<a class="follow" href="/p/{data.slug}/guide">field guide</a> says which kind holds the texts, and in which
			languages.
		</p>
	{:else}
		<div class="mt-4 grid max-w-6xl items-start gap-4 lg:grid-cols-2">
			<section class="plate p-4" aria-labelledby="languages-title">
				<h2 id="languages-title">Languages</h2>
				<ul class="mt-2" data-testid="languages">
					{#each view.languages as language (language.code)}
						<li class="flex items-center gap-3 py-0.5">
							<code class="w-24 truncate">{language.code}</code>
							<span class="w-40 truncate"
								>{language.title}{#if language.code === view.main}<span class="ml-1.5 text-steam">main</span
									>{/if}</span
							>
							<span class="font-mono text-[13px]">{numbered(language.there)}</span>
							{#if language.there === 0 && language.code !== view.main}<button
									class="rounded p-0.5 hover:bg-wash"
									aria-label="Remove {language.title}"
									onclick={() => removeLanguage(language.code)}><X size={14} /></button
								>{/if}
						</li>
					{/each}
				</ul>
				<form class="mt-3 flex flex-wrap items-end gap-2 border-t border-line pt-3" onsubmit={addLanguage}>
					<label
						><span class="block text-[12px] text-steam">Code, as the game’s files have it</span><input
							class="box w-36 font-mono"
							bind:value={code}
							placeholder="fr"
							pattern="[A-Za-z][A-Za-z0-9_\-]*"
							aria-invalid={known}
						/></label
					>
					<label
						><span class="block text-[12px] text-steam">Name</span><input
							class="box w-40"
							bind:value={title}
							placeholder={nameOf(code.trim()) || 'as players call it'}
						/></label
					>
					<button class="press main" disabled={code.trim() === '' || known}>Add language</button>
					{#if known}<p class="w-full text-scald" role="alert">The game already has “{code.trim()}”.</p>{/if}
				</form>
				<p class="mt-2 text-steam">
					{#if view.example}Texts in a new language go into <code>{view.example}</code> of your mod, file by file
						as you write them.{:else}Languages are fields of each text here. A table needs a column with this
						code before texts can be written into it.{/if}
					The game must know the language, too; how, differs from game to game.
				</p>
			</section>
			<section class="plate p-4" aria-labelledby="testing-title">
				<h2 id="testing-title">Language for testing</h2>
				<p class="mt-1 text-steam">
					A mod of its own, to be loaded after yours: every {main.title} text is a third longer, has accents, and
					stands between brackets. In the game you then see what is cut off (a bracket is missing), which letters
					the font lacks, and what is not translated at all.
				</p>
				<p class="mt-3 flex flex-wrap items-center gap-3">
					<label
						>In place of <select
							class="box ml-1"
							value={as}
							onchange={({ currentTarget }) => (chosen = currentTarget.value)}
							>{#each view.languages as { code: own, title: name } (own)}<option value={own}>{name}</option
								>{/each}</select
						></label
					>
					<a class="press main" href="/p/{data.slug}/api/words/testing?as={encodeURIComponent(as)}" download
						>Download as ZIP</a
					>
				</p>
			</section>
		</div>
		<section class="plate mt-4 max-w-6xl p-4" aria-labelledby="terms-title">
			<h2 id="terms-title">Terms</h2>
			<p class="mt-1 text-steam">
				Words that are always translated in one way. Where a text in {main.title} has such a word and its translation
				does not, <a class="follow" href="/p/{data.slug}/words">Words</a> counts it, and a snag tells it of your
				own texts.
			</p>
			<form onsubmit={addTerm}>
				<table class="mt-2" data-testid="terms">
					<thead
						><tr class="text-left text-[12px] text-steam"
							>{#each [main, ...others] as language (language.code)}<th class="pr-2 font-normal"
									>{language.title}</th
								>{/each}<th><span class="sr-only">Change</span></th></tr
						></thead
					>
					<tbody>
						{#each view.terms as one, nth (nth)}
							<tr>
								{#each [main, ...others] as language (language.code)}<td class="pr-6 pb-0.5"
										>{one[language.code] ?? ''}</td
									>{/each}
								<td
									><button
										class="rounded p-0.5 hover:bg-wash"
										type="button"
										aria-label="Remove {one[view.main]}"
										onclick={() => removeTerm(nth)}><X size={14} /></button
									></td
								>
							</tr>
						{/each}
						<tr>
							{#each [main, ...others] as language (language.code)}<td class="pr-2 pb-0.5"
									><input
										class="box w-44"
										bind:value={term[language.code]}
										aria-label="New term, {language.title}"
									/></td
								>{/each}
							<td
								><button
									class="press"
									disabled={!term[view.main]?.trim() ||
										!others.some((language) => term[language.code]?.trim())}>Add term</button
								></td
							>
						</tr>
					</tbody>
				</table>
			</form>
		</section>
	{/if}
</div>
