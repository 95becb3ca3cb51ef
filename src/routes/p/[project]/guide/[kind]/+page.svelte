<script lang="ts">
	import { counted, listed } from '$core/wording';
	import { tick } from 'svelte';
	import { replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { changeGuide, TYPES } from '$ui/guide/change';
	import MergeRules from '$ui/guide/MergeRules.svelte';
	import FieldStatements from '$ui/guide/FieldStatements.svelte';
	import { onAction } from '$ui/frame/keys';
	import { arrowKeys } from '$ui/frame/move';
	import NoteOn from '$ui/frame/NoteOn.svelte';
	import FieldPath from '$ui/guide/FieldPath.svelte';
	import SureMark from '$ui/frame/SureMark.svelte';
	import type { GuidePartView } from '$core/views';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const about = $derived(data.about);
	const inOrder = $derived(page.url.searchParams.get('order') === 'file');
	const fields = $derived(
		inOrder ? about.fields : about.fields.toSorted((a, b) => a.sure - b.sure || (a.path < b.path ? -1 : 1))
	);
	/** What is chosen here is only written to the address: a way through the list is no walk from page to page. */
	let wanted = $derived(page.url.searchParams.get('field'));
	const chosen = $derived(wanted ?? fields[0]?.path ?? null);
	const field = $derived(about.fields.find(({ path }) => path === chosen) ?? null);
	const titleOf = (kind: string) => about.kinds.find((other) => other.kind === kind)?.title ?? kind;
	const unsure = $derived(about.fields.filter(({ sure }) => sure < 0.9).length);
	let list = $state<HTMLElement>();
	let panel = $state<HTMLElement>();

	function choose(path: string) {
		if (path === chosen) return;
		wanted = path;
		const address = new URL(page.url);
		address.searchParams.set('field', path);
		replaceState(address, {});
	}

	/** What is next in the list, the least sure first, once this one is settled. */
	async function settle(what: 'accept' | 'reject') {
		if (!field) return;
		const { path } = field;
		const at = fields.findIndex((row) => row.path === path);
		const next = (fields[at + 1] ?? fields[at - 1])?.path;
		const focus = (target: string) =>
			list?.querySelector<HTMLElement>(`[data-path="${CSS.escape(target)}"]`)?.focus();
		// One goes on at once; the list is computed again meanwhile, and its rows may move from under the focus.
		const to = what === 'accept' && next !== undefined ? next : path;
		focus(to);
		const done = await changeGuide(slug, { do: what, kind: about.kind, field: path });
		await tick();
		if (!done || document.activeElement === document.body) focus(done ? to : path);
	}

	/** Fields that may hold the shown name of a record: the first of them, in a kind with very many. */
	const named = $derived([
		...new Set([
			...(about.name?.from ? [about.name.from] : []),
			...about.fields
				.filter(({ path, type }) => ['text', 'code', 'textKey'].includes(type) && !/\[\]|[*#]/.test(path))
				.map(({ path }) => path)
				.slice(0, 100)
		])
	]);
	const nameBy = (from: string) =>
		changeGuide(slug, { do: 'say', kind: about.kind, statements: { name: { from } } });

	$effect(() => {
		const offs = [
			onAction('accept', () => void settle('accept')),
			onAction('reject', () => void settle('reject')),
			onAction('edit', () => panel?.querySelector<HTMLElement>('input, textarea, select')?.focus())
		];
		return () => offs.forEach((off) => off());
	});

	const PARTS: Record<GuidePartView['part'], string> = {
		texts: 'Texts',
		assets: 'Files',
		twins: 'Twins',
		covers: 'Ranges covered',
		inherits: 'Inherited values'
	};
</script>

<svelte:head><title>{about.plural} · Field guide · Kettle Dial</title></svelte:head>
<div class="flex h-full min-w-0">
	<div class="h-full min-w-0 flex-1 overflow-auto px-6 py-5">
		<p class="text-steam">
			<a class="follow" href="/p/{slug}/guide">Field guide</a> ·
			<a class="follow" href="/p/{slug}/tables/{encodeURIComponent(about.kind)}"
				>{counted(about.records, 'record')}</a
			>
			in <code>{about.files.join(', ')}</code>
		</p>
		<h1 class="flex items-center gap-2">{about.plural} <NoteOn on={{ kind: about.kind }} /></h1>
		<p class="mt-1 max-w-2xl text-steam">
			{about.because ?? ''}
			{about.keyParts && about.keyParts.length > 0
				? `Key: ${listed(about.keyParts)} together.`
				: about.key
					? `Key: ${about.key}${about.severalIds ? ', which may be a list of ids' : ''}.`
					: about.id
						? `Key: the ${about.id === 'path' ? 'path of the file' : about.id === 'folder' ? 'name of the folder' : 'name of the file'}.`
						: ''}
			{about.place}
			{#if about.example}<a
					class="follow"
					href="/p/{slug}/read/{encodeURIComponent(about.example.layer)}/{about.example.path
						.split('/')
						.map(encodeURIComponent)
						.join('/')}">Read these files in another way</a
				>{/if}
		</p>
		<p class="mt-1 flex max-w-2xl flex-wrap items-center gap-x-2 text-steam">
			<label for="merge">A mod’s file</label>
			<select
				id="merge"
				class="box"
				value={about.merge}
				onchange={(event) =>
					void changeGuide(slug, {
						do: 'say',
						kind: about.kind,
						statements: { merge: event.currentTarget.value }
					})}
			>
				<option value="file">replaces the game’s file</option>
				<option value="record">adds to it, record by record</option>
				<option value="field">adds to it, field by field</option>
			</select>
			{#if about.adds}<span class="text-[12px]">{about.adds}</span>
			{:else if !about.mergeSaid}<span class="text-[12px]">This is a guess.</span>{/if}
		</p>
		{#if !about.texts && !about.namedByTexts && named.length > 0}
			<p class="mt-1 flex max-w-2xl flex-wrap items-center gap-x-2 text-steam">
				<label for="shown">Shown name</label>
				<select
					id="shown"
					class="box"
					value={about.name?.from ?? ''}
					onchange={(event) => void nameBy(event.currentTarget.value)}
				>
					<option value="">none: records are shown by their ids</option>
					{#each named as path (path)}<option value={path}>{path}</option>{/each}
				</select>
				{#if about.name?.because}<span class="text-[12px]">{about.name.because}</span>{/if}
			</p>
		{/if}
		{#if about.merge !== 'file'}<MergeRules {slug} {about} />{/if}
		<div class="mt-3 flex items-center gap-3 text-[12px] text-steam">
			<span aria-live="polite"
				>{unsure === 0 ? 'Nothing here is unsure.' : `${unsure} to review.`}
				<kbd>a</kbd> accepts, <kbd>x</kbd> rejects, <kbd>e</kbd> corrects.</span
			>
			<a class="follow ml-auto" href={inOrder ? '?' : '?order=file'}
				>{inOrder ? 'Least sure first' : 'In the order of the file'}</a
			>
		</div>
		{#if fields.length === 0}
			<p class="plate mt-3 p-6">
				{about.texts
					? 'These are texts: each has a key and its wording in every language.'
					: 'No field was found in these files.'}
			</p>
		{:else}
			<div
				class="plate mt-2"
				role="listbox"
				aria-label="Fields, the least sure first"
				bind:this={list}
				{@attach arrowKeys}
			>
				{#each fields as row (row.path)}
					<button
						data-move
						data-path={row.path}
						role="option"
						aria-selected={row.path === chosen}
						class="grid w-full grid-cols-[minmax(110px,1.3fr)_112px_minmax(120px,2fr)_96px] items-center gap-3 border-b border-line/60 px-3 py-1 text-left hover:bg-wash {row.path ===
						chosen
							? 'bg-wash'
							: ''} {row.unused ? 'opacity-60' : ''}"
						onfocus={() => choose(row.path)}
						onclick={() => choose(row.path)}
					>
						<span class="flex min-w-0 items-baseline gap-1"
							>{#if row.title}<span class="max-w-full shrink-0 truncate">{row.title}</span>{/if}
							<span class="min-w-0 text-[12px] text-steam"><FieldPath path={row.path} /></span></span
						>
						<span class="text-[12px]">{TYPES[row.type] ?? row.type}{row.unit ? `, ${row.unit}` : ''}</span>
						<span class="min-w-0 truncate text-[12px] text-steam"
							>{row.reference
								? `refers to ${row.reference.kinds.map(titleOf).join(' or ')}${row.reference.rule === 'as is' ? '' : `: ${row.reference.rule}`}`
								: [row.meaning, ...row.says].filter(Boolean).join(' · ')}</span
						>
						<SureMark origin={row.sure >= 1 ? row.origin : 'found'} sure={row.sure} />
					</button>
				{/each}
			</div>
		{/if}
		{#each about.parts as part (part.part)}
			<section class="mt-5">
				<h2 class="flex items-center gap-3">
					{PARTS[part.part]}
					<SureMark origin={part.origin} sure={part.sure} />
					{#if part.origin === 'found'}
						<button
							class="press slight"
							onclick={() => void changeGuide(slug, { do: 'accept', kind: about.kind, part: part.part })}
							>Accept</button
						>
						<button
							class="press slight"
							onclick={() => void changeGuide(slug, { do: 'reject', kind: about.kind, part: part.part })}
							>Reject</button
						>
					{/if}
				</h2>
				<ul class="mt-1">
					{#each part.says as line (line.said)}
						<li class="border-b border-line/60 py-1">
							<code>{line.said}</code>
							{#if line.because}<span class="block text-[12px] text-steam">{line.because}</span>{/if}
						</li>
					{/each}
				</ul>
			</section>
		{/each}
	</div>
	{#if field}
		<aside bind:this={panel} class="h-full w-110 shrink-0 border-l border-line bg-porcelain">
			{#key `${about.kind} ${field.path}`}
				<FieldStatements {slug} kind={about.kind} kinds={about.kinds} sets={about.sets} {field} {settle} />
			{/key}
		</aside>
	{/if}
</div>
