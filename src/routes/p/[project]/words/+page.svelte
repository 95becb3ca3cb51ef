<script lang="ts">
	import { goto } from '$app/navigation';
	import { counted, numbered } from '$core/wording';
	import type { Coverage } from '$core/words';
	import { withConditions } from '$ui/frame/address';
	import { asked } from '$ui/frame/asked';
	import TablePage from '$ui/table/TablePage.svelte';

	let { data } = $props();
	const words = $derived(data.words);
	const main = $derived(words?.languages.find((language) => language.main)?.title ?? '');
	const layers = $derived(data.lines?.asOf.layers ?? []);
	const share = (part: number) => (words && words.texts > 0 ? (100 * part) / words.texts : 0);

	/** What can be looked at of a language by itself: how many, in words, and the condition for them. */
	const partsOf = ({ title, missing, same, unlike, stale, terms }: Coverage): [number, string, string][] => [
		[missing, `${numbered(missing)} missing`, `${title} is empty`],
		[stale, `${numbered(stale)} older than the ${main} text`, `${title} is older than ${main}`],
		[same, `${numbered(same)} the same as ${main}`, `${title} is the same as ${main}`],
		[terms, `${numbered(terms)} against the terms`, `${title} is against the terms`],
		[unlike, `${numbered(unlike)} with other placeholders or tags`, `${title} is unlike ${main}`]
	];
	const where = $derived(asked().searchParams.getAll('where'));
	/** The condition of a sort that the texts that are shown were asked for with; empty for any. */
	const chosen = (sort: string) => where.find((one) => one.startsWith(sort)) ?? '';
	const choose = (sort: string, condition: string) =>
		void goto(
			withConditions(
				asked(),
				[...where.filter((one) => !one.startsWith(sort)), ...(condition === '' ? [] : [condition])],
				{}
			)
		);
	const [USED, LAYER] = ['used by ', 'in layer '];
	const only = (condition: string) => withConditions(asked(), [condition], { filter: null });
</script>

<svelte:head><title>Words · Kettle Dial</title></svelte:head>

{#if words && data.lines}
	<TablePage slug={data.project.slug} rows={data.lines} title="Words" hint="Only texts with…">
		{#snippet head()}
			<h1 class="leading-8">Words</h1>
			<p class="text-steam">
				{counted(words.texts, 'text')} in {counted(words.languages.length, 'language')}{#if words.snags > 0}, <a
						class="follow"
						href={only('has snags')}>{numbered(words.snags)} with snags</a
					>{/if}
			</p>
			{#if words.languages.length > 1}<a class="follow" href="/p/{data.project.slug}/words/translate"
					>Translation files</a
				>{/if}
			<a class="follow" href="/p/{data.project.slug}/words/languages">Languages and terms</a>
			{#if words.users.length > 0}<label class="text-steam"
					>used by <select
						class="box max-w-44"
						value={chosen(USED)}
						onchange={({ currentTarget }) => choose(USED, currentTarget.value)}
						><option value="">anything</option>
						{#each words.users as { plural, count } (plural)}<option value="used by {plural}"
								>{plural} ({numbered(count)})</option
							>{/each}
						{#if words.unused > 0}<option value="used by nothing">nothing ({numbered(words.unused)})</option
							>{/if}</select
					></label
				>{/if}
			{#if layers.length > 1}<label class="text-steam"
					>in <select
						class="box max-w-36"
						aria-label="in layer"
						value={chosen(LAYER)}
						onchange={({ currentTarget }) => choose(LAYER, currentTarget.value)}
						><option value="">any layer</option>
						{#each layers as { id, title } (id)}<option value="in layer {title}">{title}</option
							>{/each}</select
					></label
				>{/if}
			<ul
				class="order-last grid max-h-[121px] w-full gap-x-6 overflow-auto border-t border-line pt-1 {words
					.languages.length > 5
					? 'xl:grid-cols-2'
					: ''}"
				aria-label="Languages"
				data-testid="languages"
			>
				{#each words.languages as language (language.code)}
					<li class="flex min-h-6 flex-wrap items-center gap-x-3">
						<span
							class="w-36 truncate font-semibold"
							title={language.main ? `${language.code}: the others are compared with it` : language.code}
							>{language.title}{#if language.main}<span class="ml-1.5 font-normal text-steam">main</span
								>{/if}</span
						>
						<svg
							class="h-2.5 w-40 xl:w-64"
							role="img"
							aria-label="{Math.round(share(language.there))} % there"
						>
							<rect width="100%" height="100%" rx="2" class="fill-wash stroke-line" />
							<rect width="{share(language.there)}%" height="100%" rx="2" class="fill-steam" />
							<rect
								x="{share(language.there - language.same)}%"
								width="{share(language.same)}%"
								height="100%"
								class="fill-brass"
							/>
						</svg>
						<span class="w-24 font-mono text-[13px] whitespace-nowrap">{numbered(language.there)} there</span>
						{#if language.mine > 0}<span class="mine-bar w-20 pl-2 whitespace-nowrap text-copper"
								>{numbered(language.mine)} mine</span
							>{/if}
						{#each partsOf(language) as [count, says, condition] (condition)}
							{#if count > 0}<a class="follow whitespace-nowrap" href={only(condition)}>{says}</a>{/if}
						{/each}
					</li>
				{/each}
			</ul>
		{/snippet}
	</TablePage>
{:else}
	<div class="px-4 py-3">
		<h1>Words</h1>
		<div class="plate mt-3 p-6">
			<p class="font-semibold">No texts in languages are known in this game.</p>
			<p class="mt-2">
				The field guide says which kind holds the texts, and in which languages. Texts that stand in other
				tables are edited there.
			</p>
			<p class="mt-3"><a class="press" href="/p/{data.project.slug}/guide">Open the field guide</a></p>
		</div>
	</div>
{/if}
