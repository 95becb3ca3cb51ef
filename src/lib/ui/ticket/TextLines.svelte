<script lang="ts">
	import { faultOf, textSchema } from '$core/checks';
	import type { TextGoes } from '$core/edits';
	import type { TextRow } from '$core/views';
	import type { Translated } from '$core/words';
	import ValueEditor from '../editors/ValueEditor.svelte';
	import Drawn from '../text/Drawn.svelte';

	/** A text in each language: as it is written, as the game shows it, and where it goes when it is changed. */
	let {
		text,
		whole = false,
		slug = null,
		save
	}: {
		text: TextRow;
		/** Whether it has the page to itself: with more room, and with what the game says and where it goes. */
		whole?: boolean;
		/** The project, where sentences that were translated before are to be shown with it. */
		slug?: string | null;
		save: (language: string, value: string, expected: string | null) => Promise<boolean>;
	} = $props();

	/** What is being typed, by language: the picture of it follows. */
	let typed = $state<Record<string, string | null>>({});

	/** How sentences like this one were translated before, by language. */
	let before = $state.raw<Record<string, Translated[]>>({});
	const key = $derived(text.key);
	const source = $derived(text.languages.find(({ main }) => main)?.value ?? '');
	$effect(() => {
		before = {};
		if (slug === null || source === '') return;
		const asked = new AbortController();
		const address = `/p/${slug}/api/words/similar?key=${encodeURIComponent(key)}`;
		fetch(address, { signal: asked.signal }).then(
			async (answer) => {
				if (answer.ok) before = (await answer.json()) as Record<string, Translated[]>;
			},
			// Without them nothing is lost; they come again with the next text.
			() => undefined
		);
		return () => asked.abort();
	});
	/** Worth a look: where nothing is there yet, or something else than this. */
	const shownBefore = (code: string, value: string) =>
		(before[code] ?? []).filter(
			({ text: said, likeness }) => said !== value && (value === '' || likeness === 1)
		);

	const HOW: Record<TextGoes['how'], string> = {
		mine: 'in my mod',
		adds: 'adds to the game’s texts',
		hides: 'the game reads it in place of its own file of this name',
		copy: 'the game reads it in place of its own, so my mod gets a copy of the whole file',
		beside: 'the game reads it together with its own'
	};
</script>

{#each text.languages as language (language.code)}
	<div
		class="grid grid-cols-[76px_1fr] items-start gap-2 py-0.5 {language.mine ? 'mine-bar pl-2' : 'pl-2'}"
		data-field={whole ? language.code : undefined}
	>
		<span class="pt-0.5 text-steam"
			>{language.title}{#if whole && language.main}<span class="block text-[12px]">main</span>{/if}</span
		>
		<div class="min-w-0">
			<ValueEditor
				value={language.value}
				label="{text.label}, {language.title}"
				mine={language.mine && language.value !== language.base}
				wide
				tall={!text.oneLine && (whole || language.value.length > 40)}
				fault={(value) => {
					const said = faultOf(textSchema(text), value);
					return said && `${text.label} ${said}.`;
				}}
				typing={(value) => (typed[language.code] = value)}
				save={(value) => save(language.code, value, language.value === '' ? null : language.value)}
			/>
			<div class="pl-2">
				<Drawn
					text={typed[language.code] ?? language.value}
					look={text.look}
					label="{text.label}, {language.title}"
				/>
				{#each shownBefore(language.code, language.value) as found (found.key)}
					<p class="flex items-baseline gap-2 text-[12px] text-steam" data-testid="before">
						<span class="min-w-0"
							>{found.likeness === 1 ? 'The same text' : `A similar text (“${found.source}”)`} is “<span
								class="text-rim">{found.text}</span
							>” in <code>{found.key}</code></span
						>
						<button
							class="follow shrink-0"
							aria-label="Use “{found.text}” for {language.title}"
							onclick={() =>
								void save(language.code, found.text, language.value === '' ? null : language.value)}
							>Use it</button
						>
					</p>
				{/each}
				{#if whole}
					{#if language.mine && language.base !== null && language.base !== language.value}<p
							class="text-[12px] text-steam"
						>
							Without my mod: “{language.base}”
						</p>{/if}
					{#if language.goes}<p class="text-[12px] text-steam">
							{language.mine ? 'In' : 'Goes into'} <code>{language.goes.path}</code>{language.mine
								? ''
								: `${language.goes.fresh ? ', a new file' : ''}: ${HOW[language.goes.how]}`}
						</p>{:else}<p class="text-[12px] text-steam">
							No file of the game has texts in this language, so it cannot be written yet.
						</p>{/if}
				{/if}
			</div>
		</div>
	</div>
{/each}
