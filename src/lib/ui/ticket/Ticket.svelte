<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import Nick from '../frame/Nick.svelte';
	import { X } from '../frame/icons';
	import type { Intention } from '$core/edits';
	import { onAction } from '../frame/keys';
	import { appliedIntention, applyIntention } from '../frame/client.svelte';
	import CopyForm from './CopyForm.svelte';
	import RemoveForm from './RemoveForm.svelte';
	import RenameForm from './RenameForm.svelte';
	import AlikeList from './AlikeList.svelte';
	import MentionList from './MentionList.svelte';
	import AssetList from './AssetList.svelte';
	import ByteCells from '../project/ByteCells.svelte';
	import { fileAddress } from '../frame/address';
	import AddPart from './AddPart.svelte';
	import FieldTree from './FieldTree.svelte';
	import { nodesOf } from './nodes';
	import PlaceInFile from './PlaceInFile.svelte';
	import NoteOn from '../frame/NoteOn.svelte';
	import PlanDialog from '../plan/PlanDialog.svelte';
	import Sentence from '../frame/Sentence.svelte';
	import SnagMark from '../frame/SnagMark.svelte';
	import Source from './Source.svelte';
	import TextLines from './TextLines.svelte';
	import type { Ticket } from '$core/views';

	/** One record on one page: fields, words, used by, source. */
	let {
		slug,
		ticket,
		wordsKind,
		close,
		linkTo
	}: {
		slug: string;
		ticket: Ticket;
		wordsKind: string | null;
		close: string;
		linkTo: (kind: string, id: string) => string;
	} = $props();

	let plan = $state<Intention | null>(null);
	let asking = $state<'copy' | 'rename' | 'remove' | null>(null);
	let used = $state<HTMLElement>();
	let root = $state<HTMLElement>();

	/** Where the record is after the plan, as far as its name or its being there is what changes. */
	const leadsTo = $derived.by(() => {
		if (plan?.do === 'rename') return linkTo(plan.kind, plan.newId);
		if (plan?.do === 'set' && plan.field === '#id') return linkTo(plan.kind, plan.value);
		return plan?.do === 'remove' && !ticket.inBase ? close : undefined;
	});

	/** A form was filled in, or left. */
	function asked(made: Intention | null) {
		asking = null;
		if (made) plan = made;
	}

	const standing = $derived(
		!ticket.inMine
			? 'as in the base'
			: !ticket.inBase
				? 'new in my mod'
				: ticket.changed
					? 'changed in my mod'
					: 'in my mod, as in the base'
	);

	async function set(
		field: string,
		value: string,
		expected: string | null,
		everywhere = false
	): Promise<boolean> {
		// Where a record lies and what names it: more may change than is in sight.
		if (field === '#id' || field === '#folder' || field === '#file') {
			plan = { do: 'set', kind: ticket.kind, id: ticket.id, field, value };
			return true;
		}
		if (field === ticket.ownId) {
			plan = { do: 'rename', kind: ticket.kind, id: ticket.id, newId: value };
			return true;
		}
		const { kind, id, together } = ticket;
		const done = await applyIntention(slug, {
			do: 'set',
			kind,
			id,
			field,
			value,
			expected,
			...(everywhere ? { everywhere } : {})
		});
		// It goes by its values: with another one it has another name.
		if (done && together?.some((part) => part.field === field))
			await goto(linkTo(kind, calledWith(id, together, field, value)), { keepFocus: true, noScroll: true });
		return done;
	}

	/** What a record is called when one of the values that name it is another. */
	function calledWith(id: string, parts: { field: string; value: string }[], field: string, next: string) {
		const before = parts.map(({ value }) => value).join('/');
		const bare = id.replace(/#\d+$/, '');
		const lead = bare.endsWith(before) ? bare.slice(0, bare.length - before.length) : '';
		return lead + parts.map((part) => (part.field === field ? next : part.value)).join('/');
	}
	const setText = (key: string, language: string, value: string, expected: string | null) =>
		applyIntention(slug, { do: 'set', kind: wordsKind ?? '', id: key, field: language, value, expected });

	/** A record that has no name of its own is copied at once, and its copy opened. */
	async function another() {
		const done = await appliedIntention(slug, { do: 'another', kind: ticket.kind, id: ticket.id });
		if (done?.about) await goto(linkTo(done.about.kind, done.about.id), { keepFocus: true, noScroll: true });
	}

	/** The field that the way here was about. */
	$effect(() => {
		const field = page.url.searchParams.get('field');
		if (!field || !root) return;
		const row = root.querySelector<HTMLElement>(`[data-field="${CSS.escape(field)}"]`);
		row?.scrollIntoView({ block: 'center' });
		row?.classList.add('asked');
		return () => row?.classList.remove('asked');
	});

	$effect(() => {
		const offs = [
			onAction('edit', () => {
				const grid = document.activeElement?.closest<HTMLElement>('[role=grid]');
				if (grid) grid.dispatchEvent(new CustomEvent('editcell'));
				else root?.querySelector<HTMLElement>('[data-edit]')?.click();
			}),
			onAction('copy', () => {
				if (ticket.named) asking = 'copy';
				else void another();
			}),
			onAction('rename', () => {
				if (ticket.named) asking = 'rename';
			}),
			onAction('used', () => used?.focus())
		];
		return () => offs.forEach((off) => off());
	});
</script>

<section
	class="flex h-full min-w-0 flex-col"
	aria-label="Ticket of {ticket.name}"
	bind:this={root}
	data-testid="ticket"
>
	<header class="border-b border-line px-4 pt-3 pb-2">
		<div class="flex items-start gap-3">
			<div class="min-w-0 flex-1">
				<p class="text-[12px] text-steam">
					{ticket.kindTitle} · <code>{ticket.id}</code> ·
					<span class={ticket.changed ? 'text-copper' : ''}>{standing}</span>
				</p>
				<h2 class="flex items-center gap-2 font-title text-[22px] leading-8 font-medium">
					<span class="truncate">{ticket.name}</span><NoteOn on={{ kind: ticket.kind, record: ticket.id }} />
				</h2>
				{#if ticket.names.length > 1}
					<p class="truncate text-steam">
						{ticket.names
							.slice(1)
							.map((entry) => `${entry.name} (${entry.language})`)
							.join(' · ')}
					</p>
				{/if}
				{#if ticket.remark}<p class="mt-1 line-clamp-3 whitespace-pre-line text-steam" data-testid="remark">
						“{ticket.remark}”
					</p>{/if}
			</div>
			<a href={close} class="rounded-full p-1.5 hover:bg-wash" aria-label="Close the ticket"
				><X size={18} /></a
			>
		</div>
		<div class="mt-2 flex flex-wrap gap-2">
			{#if ticket.named}
				<button class="press" onclick={() => (asking = 'copy')}>Copy as new</button>
				<button class="press" onclick={() => (asking = 'rename')}>Rename</button>
			{:else}
				<button class="press" onclick={() => void another()}>Add another like this</button>
			{/if}
			<a class="press" href="/p/{slug}/compare?with={encodeURIComponent(`${ticket.kind}/${ticket.id}`)}"
				>Side by side</a
			>
			{#if ticket.inMine}
				<button
					class="press"
					onclick={() => {
						if (!ticket.inBase && ticket.usedBy.length > 0) asking = 'remove';
						else plan = { do: 'remove', kind: ticket.kind, id: ticket.id };
					}}>{ticket.inBase ? 'Revert to base' : 'Remove from my mod'}</button
				>
			{:else}
				<button class="press" onclick={() => (plan = { do: 'take', kind: ticket.kind, id: ticket.id })}
					>Add to my mod</button
				>
				{#if ticket.outable}<button
						class="press"
						onclick={() => {
							if (ticket.usedBy.length > 0) asking = 'remove';
							else plan = { do: 'remove', kind: ticket.kind, id: ticket.id };
						}}>Remove from the game</button
					>{/if}
			{/if}
			{#each ticket.recipes as recipe (recipe.name)}
				<a
					class="follow self-center text-steam"
					href="/p/{slug}/recipes?recipe={encodeURIComponent(recipe.name)}&fill.{encodeURIComponent(
						recipe.blank
					)}={encodeURIComponent(ticket.id)}">{recipe.title}…</a
				>
			{/each}
		</div>
	</header>

	<div class="min-h-0 flex-1 overflow-auto px-4 pb-8">
		{#each ticket.snags as snag (snag.id)}
			<p class="mt-3 flex gap-2 rounded-lg border border-line bg-enamel px-3 py-2">
				<SnagMark severity={snag.severity} /><span
					><Sentence text={snag.message} />
					<a class="follow" href="/p/{slug}/snags?at={encodeURIComponent(snag.id)}">How to fix it</a></span
				>
			</p>
		{/each}

		{#if ticket.budget}
			{@const { budget } = ticket}
			<details class="mt-3 rounded-lg border border-line px-3 py-1.5" data-testid="budget">
				<summary class="flex cursor-pointer items-center gap-3"
					><span class="font-semibold">{budget.title}</span>
					<span class="font-mono {budget.most !== null && budget.spent > budget.most ? 'text-scald' : ''}"
						>{budget.spent}{budget.most === null ? '' : ` of ${budget.most}`}</span
					>
					{#if budget.most !== null}<meter
							class="min-w-16 flex-1"
							min="0"
							max={budget.most}
							high={budget.most * 0.95}
							value={Math.max(0, Math.min(budget.spent, budget.most))}
							aria-label="{budget.title} spent"
						></meter>{/if}
					{#if budget.base !== null && budget.base !== budget.spent}<span class="text-[12px] text-copper"
							>{Number(Math.abs(budget.spent - budget.base).toFixed(3))}
							{budget.spent > budget.base ? 'more' : 'less'} than base</span
						>{/if}
				</summary>
				<p class="mt-1 flex flex-wrap gap-x-3 text-[12px] text-steam">
					{#each budget.parts as part (part.field)}<span
							>{part.field} <b class="font-mono font-normal text-rim">{part.points}</b></span
						>{/each}
				</p>
			</details>
		{/if}
		{#if ticket.text}
			{@const { text } = ticket}
			<div class="mt-3 space-y-2">
				{#if text.longest || text.oneLine || text.required}<p class="text-[12px] text-steam">
						{text.label}{text.required ? ' · needed' : ''}{text.oneLine ? ' · one line' : ''}{text.longest
							? ` · room for ${text.longest} letters`
							: ''}
					</p>{/if}
				<TextLines
					{text}
					{slug}
					whole
					save={(language, value, expected) => setText(text.key, language, value, expected)}
				/>
			</div>
		{/if}
		<div
			class="mt-3 grid grid-cols-[minmax(88px,1fr)_96px_104px_128px] gap-x-3 text-[12px] text-steam"
			class:hidden={ticket.text && ticket.groups.length === 0}
			aria-hidden="true"
		>
			<span>Field</span><span class="text-right">Base</span><span class="pl-2">Mine</span><span
				>All {ticket.kindPlural.toLowerCase()}</span
			>
		</div>
		{#each ticket.groups as group (group.title)}
			{#if group.title}<h3 class="mt-4 border-b border-line pb-0.5 text-[12px] font-semibold text-steam">
					{group.title}
				</h3>{/if}
			<FieldTree
				{slug}
				kind={ticket.kind}
				id={ticket.id}
				nodes={nodesOf(group.rows, ticket.lists)}
				optional={ticket.optional}
				removable={ticket.removable}
				{set}
				{linkTo}
			/>
		{/each}
		<AddPart {slug} kind={ticket.kind} id={ticket.id} missing={ticket.missing} />

		{#if ticket.assets.length > 0}<AssetList {slug} assets={ticket.assets} />{/if}

		{#if ticket.texts.length > 0}
			<h3 class="mt-6 flex items-baseline gap-3 border-b border-line pb-0.5 font-semibold">
				Words
				<a
					class="follow ml-auto text-[12px] font-normal text-steam"
					href="/p/{slug}/words?where={encodeURIComponent(
						`id is ${ticket.texts.map(({ key }) => key).join(', ')}`
					)}">Edit them side by side</a
				>
			</h3>
			{#each ticket.texts as text (text.key)}
				<div class="mt-2">
					<p class="text-[12px] text-steam">
						{text.label} ·
						<a class="follow" href={linkTo(wordsKind ?? '', text.key)}><code>{text.key}</code></a
						>{text.required ? ' · needed' : ''}{text.oneLine ? ' · one line' : ''}{text.longest
							? ` · room for ${text.longest} letters`
							: ''}
					</p>
					<TextLines
						{text}
						save={(language, value, expected) => setText(text.key, language, value, expected)}
					/>
				</div>
			{/each}
		{/if}

		<h3
			class="mt-6 flex items-baseline gap-3 border-b border-line pb-0.5 font-semibold"
			tabindex="-1"
			bind:this={used}
		>
			Used by {ticket.users + ticket.mentions.count}
			<a
				class="follow ml-auto text-[12px] font-normal text-steam"
				href="/p/{slug}/uses/{encodeURIComponent(ticket.kind)}/{encodeURIComponent(ticket.id)}"
				>Show connections</a
			>
		</h3>
		{#if ticket.usedBy.length === 0}
			<p class="mt-1 text-steam">
				{ticket.mentions.count === 0
					? 'Nothing that could be read refers to this record.'
					: 'No other record refers to this one.'}
			</p>
		{:else}
			<ul class="mt-1 columns-2 gap-4">
				{#each ticket.usedBy as user, at (at)}
					<li class="truncate py-0.5">
						<a class="follow" href={linkTo(user.kind, user.id)}
							>{user.name}<Nick on={{ kind: user.kind, record: user.id }} /></a
						>
						<span class="text-steam">{user.field.toLowerCase()}</span>
					</li>
				{/each}
			</ul>
			{#if ticket.users > ticket.usedBy.length}<p class="mt-1 text-steam">
					The first {ticket.usedBy.length} are listed.
				</p>{/if}
		{/if}

		{#if ticket.mentions.count > 0}
			<h4 class="mt-3 text-[13px] text-steam">In scripts and texts: {ticket.mentions.count}</h4>
			<MentionList {slug} mentions={ticket.mentions} />
		{/if}

		<AlikeList {slug} kind={ticket.kind} id={ticket.id} {linkTo} />

		<h3 class="mt-6 border-b border-line pb-0.5 font-semibold">Source</h3>
		{#each ticket.places as place (place.path)}
			<PlaceInFile
				{slug}
				kind={ticket.kind}
				id={ticket.id}
				{place}
				plan={(intention) => (plan = intention)}
			/>
		{/each}
		{#each ticket.sources as source (source.layer + source.path)}
			<Source {source} />
		{/each}
		{#each ticket.bytes as source (source.layer + source.path)}
			<figure class="mt-2" data-testid="record-bytes">
				<figcaption class="flex flex-wrap gap-x-2 text-[12px] text-steam">
					<span class={source.owner === 'me' ? 'text-copper' : source.owner === 'others' ? 'text-plum' : ''}
						>{source.layer}</span
					><code>{source.path}</code><a
						class="follow"
						href="{fileAddress(slug, source.layerId, source.path)}?at={source.from}"
						>from byte {source.from} on</a
					>
				</figcaption>
				<div class="mt-1 flex flex-wrap gap-1 font-mono text-[12px] leading-4">
					<ByteCells cells={source.cells} />
				</div>
			</figure>
		{/each}
	</div>
</section>

<PlanDialog {slug} {leadsTo} bind:intention={plan} />
{#if asking === 'copy'}<CopyForm {slug} {ticket} done={asked} />
{:else if asking === 'rename'}<RenameForm {slug} {ticket} done={asked} />
{:else if asking === 'remove'}<RemoveForm {ticket} done={asked} />{/if}
