<script lang="ts">
	import { counted } from '$core/wording';
	import { makePause } from '$ui/frame/pause';
	import Nick from '$ui/frame/Nick.svelte';
	import { afterNavigate, goto } from '$app/navigation';
	import { follows } from '$ui/frame/follows.svelte';
	import { tick } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { navigating, page } from '$app/state';
	import type { Hit } from '$core/search';
	import { asked } from '$ui/frame/asked';
	import { fileAddress, withParameters } from '$ui/frame/address';
	import { onAction } from '$ui/frame/keys';
	import Marked from '$ui/find/Marked.svelte';
	import { arrowKeys } from '$ui/frame/move';
	import { keepSearch, recentSearches } from '$ui/find/recent.svelte';

	let { data } = $props();
	let box = $state<HTMLInputElement>();
	let list = $state<HTMLElement>();
	const pause = makePause();
	let keeper: ReturnType<typeof setTimeout> | undefined;
	let recent = $state<string[]>([]);

	const slug = $derived(data.project.slug);
	const query = $derived(data.query);
	const found = $derived(data.found);
	const selected = $derived(page.url.searchParams.get('ticket'));
	const waiting = $derived(navigating.to?.url.pathname === page.url.pathname);

	const NARROW = ['kind', 'layer', 'folder', 'language', 'format', 'group'] as const;
	const address = (changes: Record<string, string | null>) => withParameters(asked(), changes);
	const go = (changes: Record<string, string | null>) =>
		void goto(address(changes), { replaceState: true, keepFocus: true, noScroll: true });
	const everywhere = Object.fromEntries(NARROW.map((name) => [name, null]));

	/** When the last letter was typed: one after a pause is answered at once, one of several when they stop. */
	let before = -Infinity;
	function typed(event: Event) {
		const since = event.timeStamp - before;
		before = event.timeStamp;
		pause.after(() => go({ q: box?.value ?? '' }), since > 90 ? 0 : 25);
	}

	$effect(() => {
		const text = query.q;
		clearTimeout(keeper);
		keeper = setTimeout(() => keepSearch(slug, text), 1200);
		if (text === '') recent = recentSearches(slug);
	});
	// Whoever comes here to search can type at once; keys typed elsewhere would be commands.
	afterNavigate(() => {
		const free = document.activeElement === null || document.activeElement === document.body;
		if (free && query.q === '' && selected === null) box?.focus();
	});
	$effect(() =>
		onAction('search', () => {
			box?.focus();
			box?.select();
		})
	);

	/** Whether the first hit is to be opened as soon as the answer to what was typed is there. */
	let opening = false;
	const firstHit = () => list?.querySelector<HTMLElement>('[data-move]');

	function keys(event: KeyboardEvent) {
		// The key that leads to the search is no part of what is searched for.
		const isHereAlready = event.key === '/' && box?.value === '';
		if (event.key === 'ArrowDown' && firstHit()) firstHit()!.focus();
		else if (event.key === 'Enter') {
			keepSearch(slug, box?.value ?? '');
			if (query.q === box?.value && !waiting) firstHit()?.click();
			else {
				opening = true;
				pause.stop();
				go({ q: box?.value ?? '' });
			}
		} else if (!isHereAlready) return;
		event.preventDefault();
	}
	$effect(() => {
		if (!found || !opening || query.q !== box?.value) return;
		opening = false;
		void tick().then(() => firstHit()?.click());
	});

	/** Hits of a group that are shown before somebody asks for more. */
	const FIRST = 9;
	const opened = new SvelteSet<string>();

	const TITLES: Record<string, string> = {
		text: 'Texts',
		kind: 'Kinds',
		field: 'Fields',
		meaning: 'Meanings of codes',
		file: 'Files',
		folder: 'Folders',
		line: 'Scripts and other texts',
		note: 'Nicknames and notes'
	};

	/** Hits in groups: records by their kind, everything else by what it is; the group with the best hit first. */
	const groups = $derived.by(() => {
		const groups: { key: string; title: string; hits: (Hit & { mine: boolean; layerTitle: string })[] }[] =
			[];
		for (const hit of found?.hits ?? []) {
			const key = hit.group === 'record' ? `record ${hit.kind}` : hit.group;
			let group = groups.find((candidate) => candidate.key === key);
			if (!group)
				groups.push(
					(group = { key, title: TITLES[hit.group] ?? found!.titles[hit.kind ?? ''] ?? '', hits: [] })
				);
			group.hits.push(hit);
		}
		return groups.sort((a, b) => b.hits[0]!.score - a.hits[0]!.score);
	});

	const usesOf = (hit: Hit) => (hit.uses > 0 ? `used ${hit.uses}× · ` : '');
	const fileOf = (hit: Hit) => fileAddress(slug, hit.layer, hit.file, hit.line);
	function hrefOf(hit: Hit): string {
		if (hit.record !== null) return address({ ticket: `${hit.kind}/${hit.record}`, field: hit.field });
		if (hit.field !== null) return `/p/${slug}/values/${hit.kind}/${encodeURIComponent(hit.field)}`;
		if (hit.kind !== null) return `/p/${slug}/tables/${hit.kind}`;
		if (hit.group === 'folder' || (hit.group === 'note' && hit.layer === ''))
			return address({ folder: hit.file, q: null });
		return fileOf(hit);
	}

	const narrowed = $derived(
		NARROW.some((name) => query[name] !== '') || query.exact || query.whole || query.pattern
	);
	const menus = $derived(
		found
			? ([
					['kind', 'Kind', found.narrow.kind],
					['layer', 'Layer', found.narrow.layer],
					['folder', 'Folder', found.narrow.folder],
					['language', 'Language', found.narrow.language],
					['format', 'Format', found.narrow.format]
				] as const)
			: []
	);
	const SWITCHES = [
		['exact', 'Exact case', 'Capitals and accents exactly as typed'],
		['whole', 'Whole words', 'No parts of words, no typing errors'],
		['pattern', 'Pattern', '* stands for anything, ? for one character; the whole value must match']
	] as const;
</script>

<svelte:head><title>{query.q === '' ? 'Find' : `${query.q} · Find`} · Kettle Dial</title></svelte:head>

<div class="mx-auto max-w-5xl px-6 py-5">
	<h1 class="sr-only">Find</h1>
	<label class="block">
		<span class="sr-only">Search by name, id, value, remark, script or file</span>
		<input
			bind:this={box}
			defaultValue={query.q}
			{@attach follows(() => query.q)}
			oninput={typed}
			onkeydown={keys}
			class="box h-11 w-full px-4 text-[16px]"
			placeholder="A name as shown in the game, an id, a number, a word in a script…"
			data-testid="find"
			autocomplete="off"
			spellcheck="false"
		/>
	</label>
	<div class="mt-2 flex flex-wrap items-center gap-2" role="group" aria-label="Search options">
		{#each SWITCHES as [name, title, about] (name)}
			<button
				type="button"
				class="h-7 rounded-full border px-2.5 {query[name]
					? 'border-rim bg-rim text-porcelain'
					: 'border-line text-steam hover:bg-wash'}"
				aria-pressed={query[name]}
				title={about}
				onclick={() => go({ [name]: query[name] ? null : 'on' })}>{title}</button
			>
		{/each}
		{#if menus.length > 0}<span class="mx-1 h-5 border-l border-line"></span>{/if}
		{#each menus as [name, title, choices] (name)}
			{#if query[name] !== '' || choices.length > (name === 'language' ? 0 : 1)}
				<select
					class="h-7 max-w-36 rounded-full border bg-porcelain px-2 {query[name]
						? 'border-rim font-semibold'
						: 'border-line text-steam'}"
					aria-label={title}
					value={query[name]}
					onchange={(event) => go({ [name]: event.currentTarget.value || null })}
				>
					<option value="">{title}: any</option>
					{#if query[name] !== '' && !choices.some((choice) => choice.value === query[name])}
						<option value={query[name]}>{query[name]}</option>
					{/if}
					{#each choices as choice (choice.value)}
						<option value={choice.value}>{choice.title}{choice.count > 0 ? ` ${choice.count}` : ''}</option>
					{/each}
				</select>
			{/if}
		{/each}
		{#if narrowed}<a
				class="follow text-[13px]"
				href={address({ ...everywhere, exact: null, whole: null, pattern: null })}>Look everywhere</a
			>{/if}
		<span class="ml-auto text-steam" role="status"
			>{waiting
				? 'Searching…'
				: found
					? `${found.total === 0 && found.hits.length > 0 ? `${found.hits.length} found` : `${counted(found.total, 'record')}`} in ${Math.max(1, Math.round(found.milliseconds))} ms`
					: ''}</span
		>
	</div>

	{#each SWITCHES.filter(([name]) => query[name]) as [name, title, about] (name)}
		<p class="mt-1 text-[12px] text-steam">{title}: {about}.</p>
	{/each}

	{#if !found}
		{#if recent.length > 0}
			<p class="mt-4 flex flex-wrap items-center gap-2">
				<span class="text-steam">Recent searches:</span>
				{#each recent as text (text)}
					<a class="rounded-full border border-line px-2.5 py-0.5 hover:bg-wash" href={address({ q: text })}
						>{text}</a
					>
				{/each}
			</p>
		{/if}
		{#if data.tries.length > 0}
			<h2 class="mt-6">Three things to try</h2>
			<ol class="mt-3 space-y-3">
				{#each data.tries as attempt, at (attempt.title)}
					<li class="plate flex items-center gap-5 px-5 py-4">
						<span class="font-title text-[24px] text-brass" aria-hidden="true">{at + 1}</span>
						<div class="flex-1">
							<p class="font-semibold">{attempt.title}</p>
							<p class="text-steam">{attempt.about}</p>
						</div>
						<a class="press" href="/p/{slug}/{attempt.href}">{attempt.button}</a>
					</li>
				{/each}
			</ol>
		{/if}
		<h2 class="mt-6">Contents</h2>
		<div class="mt-3 grid grid-cols-3 gap-x-6">
			{#each data.kinds.slice(0, 150) as kind (kind.kind)}
				<a
					class="flex justify-between border-b border-line py-1.5 hover:bg-wash"
					href="/p/{slug}/tables/{kind.kind}"
					><span class="font-semibold">{kind.title}<Nick on={{ kind: kind.kind }} /></span><span
						class="text-steam"
						>{kind.records}{#if kind.mine > 0}<span class="text-copper">, {kind.mine} mine</span>{/if}</span
					></a
				>
			{/each}
		</div>
		{#if data.kinds.length > 150}<p class="mt-3 text-steam">
				and {data.kinds.length - 150} more; <a class="follow" href="/p/{slug}/tables">all tables</a>
			</p>{/if}
	{:else if groups.length === 0}
		<div class="plate mt-6 p-6">
			<p class="font-semibold">Nothing found for “{query.q}”{narrowed ? ' here' : ''}.</p>
			<p class="mt-1 text-steam">
				Try part of the name, another language, or just the number. Ids, names in every language, values,
				comments, scripts and file names were searched.
			</p>
			<p class="mt-3 flex gap-2">
				{#if narrowed}<a
						class="press main"
						href={address({ ...everywhere, exact: null, whole: null, pattern: null })}>Look everywhere</a
					>{/if}
				<a class="press" href="/p/{slug}/find">Show contents</a>
			</p>
		</div>
	{:else}
		<div role="group" aria-label="Hits" {@attach arrowKeys} bind:this={list}>
			{#each groups as group (group.key)}
				<h2 class="mt-4 mb-1 flex items-baseline gap-2">
					{group.title}{#if group.key.startsWith('record')}<Nick on={{ kind: group.key.slice(7) }} />{/if}
					{#if group.key.startsWith('record') && !query.kind && found.narrow.kind.length > 1}
						<a
							class="text-[12px] font-normal text-steam underline-offset-2 hover:underline"
							href={address({ kind: group.key.slice(7) })}
							>only these, {found.narrow.kind.find((entry) => entry.value === group.key.slice(7))?.count ??
								''}</a
						>
					{/if}
				</h2>
				<ul class="plate divide-y divide-line">
					{#each opened.has(group.key) ? group.hits : group.hits.slice(0, FIRST) as hit, at (at)}
						<li
							class="grid [contain-intrinsic-size:auto_33px] grid-cols-[minmax(0,1fr)_240px] items-baseline gap-4 pr-4 [content-visibility:auto] hover:bg-wash {selected ===
							`${hit.kind}/${hit.record}`
								? 'bg-wash'
								: ''}"
						>
							<a
								data-move
								href={hrefOf(hit)}
								class="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] items-baseline gap-4 py-1.5 pl-4 -outline-offset-2"
							>
								{#if hit.group === 'line'}
									<code class="col-span-2 truncate"
										><Marked text={hit.matched} query={query.q} room={140} /></code
									>
								{:else}
									<span class="truncate"
										><span
											class="font-semibold {hit.group === 'file' || hit.group === 'folder'
												? 'font-mono text-[13px] font-normal'
												: ''}"><Marked text={hit.name ?? hit.record ?? ''} query={query.q} room={200} /></span
										>
										{#if hit.kind && hit.record}<Nick on={{ kind: hit.kind, record: hit.record }} />{/if}
										{#if hit.group === 'file'}<Nick
												on={{ file: hit.file }}
											/>{:else if hit.group === 'folder'}<Nick on={{ folder: hit.file }} />{/if}
										{#if hit.name && hit.record}<code class="text-[12px] text-steam">{hit.record}</code
											>{/if}</span
									>
									<span class="truncate text-steam"
										>{hit.reason}{#if hit.matched !== hit.name || hit.group === 'record'}: <span
												class="text-rim"><Marked text={hit.matched} query={query.q} /></span
											>{/if}</span
									>
								{/if}
							</a>
							<span class="truncate text-right text-[12px] text-steam">
								{usesOf(hit)}{#if hit.line > 0}<span class={hit.mine ? 'text-copper' : ''}
										>{hit.layerTitle}</span
									>
									<a class="follow" href={fileOf(hit)} title="Its neighbours in {hit.file}"
										>{hit.file.split('/').at(-1)}:{hit.line}</a
									>{/if}
							</span>
						</li>
					{/each}
				</ul>
				{#if group.hits.length > FIRST && !opened.has(group.key)}
					<button data-move class="follow mt-1 text-[13px] text-steam" onclick={() => opened.add(group.key)}
						>{group.hits.length - FIRST} more of these</button
					>
				{/if}
			{/each}
		</div>
		{#if found.total > data.found!.hits.filter((hit) => hit.group === 'record' || hit.group === 'text').length}
			<p class="mt-3 text-steam">
				The best of {found.total} are shown. Add a word or use a menu above to narrow them.
			</p>
		{/if}
	{/if}
</div>
