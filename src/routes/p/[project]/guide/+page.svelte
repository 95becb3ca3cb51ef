<script lang="ts">
	import { counted } from '$core/wording';
	import { Dialog } from 'bits-ui';
	import { page } from '$app/state';
	import { goto } from '$app/navigation';
	import { changeGuide, TYPES } from '$ui/guide/change';
	import KindArcs, { MANY_ARCS } from '$ui/charts/KindArcs.svelte';
	import { arrowKeys } from '$ui/frame/move';
	import PatchFiles from '$ui/guide/PatchFiles.svelte';
	import FieldPath from '$ui/guide/FieldPath.svelte';
	import SureMark from '$ui/frame/SureMark.svelte';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const index = $derived(data.index);
	const ROW = 34;

	const sort = $derived(page.url.searchParams.get('sort') ?? 'unsure');
	const kinds = $derived(index.kinds);
	const { understood } = $derived(index);
	const number = new Intl.NumberFormat('en');
	/** The order, and the words that kinds are picked by, are in the address. */
	const withWord = (name: string, value: string) => {
		const address = new URL(page.url);
		if (value === '') address.searchParams.delete(name);
		else address.searchParams.set(name, value);
		return goto(address, { replaceState: true, keepFocus: true, noScroll: true });
	};
	let over = $state<string | null>(null);
	const named = $derived(
		over === null ? [] : index.edges.filter((edge) => edge.from === over || edge.to === over)
	);

	let bringing = $state<'guide' | 'docs' | null>(null);
	let text = $state('');
	let prefer = $state<'here' | 'there'>('here');
	async function bring() {
		const done = await changeGuide(
			slug,
			bringing === 'guide' ? { do: 'merge', yaml: text, prefer } : { do: 'docs', text }
		);
		if (done) {
			bringing = null;
			text = '';
		}
	}
	async function chosen(event: Event) {
		const file = (event.currentTarget as HTMLInputElement).files?.[0];
		if (file) text = await file.text();
	}
</script>

<svelte:head><title>Field guide · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-6xl px-6 py-5">
	<div>
		<div>
			<h1>Field guide</h1>
			<p class="mt-1 max-w-3xl text-steam">
				{#if index.all === 0}Nothing here yet: no file of the base could be read as data.
				{:else}{index.written
						? 'This game has a field guide; what it leaves open was detected from the files.'
						: 'No field guide yet. Everything below was detected from the files.'}
					{index.unsure === 0
						? 'Nothing is unsure.'
						: `${counted(index.unsure, 'field needs', 'fields need')} review.`}{/if}
			</p>
		</div>
		<div class="mt-3 flex flex-wrap gap-2">
			{#if index.last}<button class="press" onclick={() => void changeGuide(slug, { do: 'undo' })}
					>Undo: {index.last.length > 40 ? `${index.last.slice(0, 39)}…` : index.last}</button
				>{/if}
			<a class="press" href="/p/{slug}/recipes">Recipes</a>
			<button class="press" onclick={() => (bringing = 'docs')}>Import field descriptions…</button>
			<button class="press" onclick={() => (bringing = 'guide')}>Merge a guide…</button>
			<a class="press" href="/p/{slug}/api/guide" download>Export guide</a>
			<a class="press" href="/p/{slug}/api/guide?found" download>Export guide with detected parts</a>
		</div>
	</div>

	{#if index.all > 0}
		<div class="mt-4 grid grid-cols-[repeat(auto-fit,minmax(320px,1fr))] gap-4">
			<section class="plate px-4 py-3" aria-labelledby="understood" data-testid="understood">
				<h2 id="understood">What was detected</h2>
				<dl class="mt-1 grid grid-cols-[auto_1fr] gap-x-3">
					{#each understood.lines as line (line.what)}
						<dt class="text-right font-mono {line.open ? 'text-saffron' : ''}">
							{number.format(line.count)}
						</dt>
						<dd>{line.what}</dd>
					{/each}
				</dl>
			</section>
			<section class="plate px-4 py-3" aria-labelledby="first" data-testid="look-first">
				<h2 id="first">Review these first</h2>
				{#if understood.first.length === 0}
					<p class="mt-1 text-steam">Nothing important is unsure.</p>
				{:else}
					{#if understood.first[0]!.hangs > 0}
						<p class="text-[12px] text-steam">These affect the most values.</p>
					{/if}
					<ul class="mt-1">
						{#each understood.first as one (one.kind + one.field)}
							<li class="flex items-center gap-2 border-b border-line/60 py-0.5">
								<a
									class="follow flex min-w-0 gap-1"
									href="/p/{slug}/guide/{encodeURIComponent(one.kind)}?field={encodeURIComponent(one.field)}"
									><span class="max-w-40 shrink-0 truncate">{one.title} ·</span>
									<FieldPath path={one.field} /></a
								>
								<span class="min-w-0 flex-1 truncate text-[12px] text-steam"
									>{one.says ?? `holds ${TYPES[one.type] ?? one.type}`}{one.hangs > 0
										? `, ${number.format(one.hangs)} times`
										: ''}</span
								>
								<SureMark origin="found" sure={one.sure} />
							</li>
						{/each}
					</ul>
				{/if}
			</section>
		</div>
		<div class="mt-4 flex items-center gap-3 text-[12px] text-steam">
			{#if index.all > 20}
				<input
					class="box w-44"
					type="search"
					placeholder="Only kinds with…"
					aria-label="Only kinds with"
					value={page.url.searchParams.get('kinds') ?? ''}
					oninput={(event) => void withWord('kinds', event.currentTarget.value)}
				/>
				<span
					>{kinds.length < index.passing
						? `the first ${kinds.length} of ${index.passing}`
						: `${index.passing} of ${index.all}`}</span
				>
			{/if}
			<span>Order by</span>
			{#each [['unsure', 'least sure'], ['name', 'name'], ['records', 'records']] as [key, title] (key)}
				<button
					class="rounded px-1.5 py-0.5 {sort === key ? 'bg-rim text-porcelain' : 'hover:bg-wash'}"
					aria-pressed={sort === key}
					onclick={() => void withWord('sort', key!)}>{title}</button
				>
			{/each}
			<span class="ml-auto min-h-5 truncate" aria-live="polite">
				{#if over !== null}
					{named.length === 0
						? `${over} refers to nothing, and nothing refers to it.`
						: named
								.slice(0, 4)
								.map((edge) => `${edge.from} names ${edge.to} by ${edge.fields.slice(0, 3).join(', ')}`)
								.join(' · ')}
				{/if}
			</span>
		</div>
		{#if kinds.length === 0}
			<p class="plate mt-2 p-6">
				No kind matches.
				<button class="press slight" onclick={() => void withWord('kinds', '')}>Show all kinds</button>
			</p>
		{/if}
		<div class="plate mt-2 flex overflow-x-auto {kinds.length === 0 ? 'hidden' : ''}" data-testid="kinds">
			<div class="min-w-0 flex-1" {@attach arrowKeys}>
				{#each kinds as kind (kind.kind)}
					<a
						data-move
						class="grid grid-cols-[minmax(110px,1.2fr)_minmax(120px,2fr)_90px_110px_110px] items-center gap-3 border-b border-line/60 px-4 hover:bg-wash focus:bg-wash"
						style="height: {ROW}px"
						href="/p/{slug}/guide/{encodeURIComponent(kind.kind)}"
						onmouseenter={() => (over = kind.kind)}
						onmouseleave={() => (over = null)}
						onfocus={() => (over = kind.kind)}
						onblur={() => (over = null)}
					>
						<span class="truncate font-semibold">{kind.title}</span>
						<code class="truncate text-[12px] text-steam" title={kind.globs.join(', ')}
							>{kind.globs.join(', ')}</code
						>
						<span class="text-right text-[12px] text-steam">{counted(kind.records, 'record')}</span>
						<span class="text-[12px] {kind.unsure > 0 ? 'text-saffron' : 'text-steam'}"
							>{kind.unsure > 0
								? `${kind.unsure} of ${kind.fields} unsure`
								: counted(kind.fields, 'field')}</span
						>
						<SureMark origin={kind.least >= 1 ? kind.origin : 'found'} sure={kind.least} />
					</a>
				{/each}
			</div>
			<KindArcs {kinds} edges={index.edges} row={ROW} {over} />
		</div>
		<p class="mt-1 text-[12px] text-steam {kinds.length === 0 ? 'hidden' : ''}">
			{index.edges.length > MANY_ARCS
				? 'Point at a kind, or go to it by keyboard, to see what it refers to and what refers to it; dashed lines are unsure.'
				: 'The lines show which kind refers to which; dashed lines are unsure.'}
		</p>
	{/if}

	{#if index.scripts.length > 0}
		<h2 class="mt-6">Ids in scripts</h2>
		<ul class="plate mt-2" {@attach arrowKeys}>
			{#each index.scripts as script (script.call + script.argument)}
				<li class="flex items-center gap-3 border-b border-line/60 px-4 py-1">
					<code>{script.argument === 0 ? `${script.call} == "…"` : `${script.call}(…)`}</code>
					<span class="text-steam"
						>{script.argument === 0 ? 'is compared with' : `argument ${script.argument} names`}
						{script.kinds.join(', ')}</span
					>
					<span class="min-w-0 flex-1 truncate text-[12px] text-steam">{script.because ?? ''}</span>
					<SureMark origin={script.because === null ? 'mine' : 'found'} sure={script.sure} />
					{#if script.because !== null}
						<button
							data-move
							class="press"
							onclick={() =>
								void changeGuide(slug, {
									do: 'script',
									call: script.call,
									argument: script.argument,
									accept: true
								})}>Accept</button
						>
						<button
							class="press"
							onclick={() =>
								void changeGuide(slug, {
									do: 'script',
									call: script.call,
									argument: script.argument,
									accept: false
								})}>Reject</button
						>
					{/if}
				</li>
			{/each}
		</ul>
	{/if}
	{#if index.all > 0}<PatchFiles {slug} patches={index.patches} />{/if}
</div>

<Dialog.Root bind:open={() => bringing !== null, (open) => !open && (bringing = null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-1/2 left-1/2 z-50 w-[640px] max-w-[95vw] -translate-x-1/2 -translate-y-1/2 p-5"
		>
			<Dialog.Title class="font-title text-[20px]"
				>{bringing === 'docs' ? 'Field descriptions from a table' : 'Merge another field guide'}</Dialog.Title
			>
			<Dialog.Description class="mt-1 text-steam">
				{bringing === 'docs'
					? 'CSV, or a table in Markdown, with the columns kind, field and text.'
					: 'A YAML file from someone else. What it says is added to your guide; nothing else in your guide changes.'}
			</Dialog.Description>
			<input
				class="mt-3 block"
				type="file"
				aria-label="A file"
				accept={bringing === 'docs' ? '.csv,.md,.txt' : '.yaml,.yml'}
				onchange={chosen}
			/>
			<textarea
				class="box mt-2 h-52 w-full p-2 font-mono text-[13px]"
				aria-label={bringing === 'docs' ? 'The table' : 'The guide'}
				placeholder={bringing === 'docs'
					? '| kind | field | text |\n| carts | load | What it carries. |'
					: 'guide: 1\nkinds: …'}
				bind:value={text}></textarea>
			{#if bringing === 'guide'}
				<fieldset class="mt-2 flex gap-4">
					<legend class="sr-only">Where both differ</legend>
					<label><input type="radio" bind:group={prefer} value="here" /> keep my guide</label>
					<label><input type="radio" bind:group={prefer} value="there" /> use the imported guide</label>
				</fieldset>
			{/if}
			<div class="mt-4 flex justify-end gap-2">
				<Dialog.Close class="press">Cancel</Dialog.Close>
				<button class="press main" disabled={text.trim() === ''} onclick={() => void bring()}>Import</button>
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
