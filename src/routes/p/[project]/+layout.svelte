<script lang="ts">
	import { untrack } from 'svelte';
	import { counted } from '$core/wording';
	import { goto } from '$app/navigation';
	import { refresh } from '$ui/frame/refresh';
	import { page } from '$app/state';
	import { withParameters, withTicket } from '$ui/frame/address';
	import { asked } from '$ui/frame/asked';
	import Band from '$ui/frame/Band.svelte';
	import MakeNew from '$ui/pickers/MakeNew.svelte';
	import Help from '$ui/frame/Help.svelte';
	import PocketDrawer from '$ui/frame/PocketDrawer.svelte';
	import { keep, pocket } from '$ui/frame/pocket.svelte';
	import { atRest, say, step } from '$ui/frame/client.svelte';
	import { catchKey, handleKey, onAction, runAction, STAGES } from '$ui/frame/keys';
	import SnagMark from '$ui/frame/SnagMark.svelte';
	import Split from '$ui/frame/Split.svelte';
	import RecordAsOf from '$ui/ticket/RecordAsOf.svelte';
	import { recallTries, tries, tryAgain } from '$ui/frame/tries.svelte';
	import Ticket from '$ui/ticket/Ticket.svelte';

	let { data, children } = $props();
	let help = $state(false);
	const slug = $derived(data.project.slug);

	const closed = $derived(withParameters(asked(), { ticket: null, field: null }));
	const linkTo = (kind: string, id: string) => withTicket(page.url, kind, id);

	/** Keeps the value that the focus is on, else the record of the open ticket. */
	function keepHere() {
		const { ticket } = data;
		const value = document.activeElement?.closest<HTMLElement>('[data-value]');
		const field = value?.closest<HTMLElement>('[data-field]')?.dataset.field;
		if (value && ticket)
			void keep(slug, {
				label: `${value.dataset.label ?? field ?? 'value'} of ${ticket.name}`,
				value: value.dataset.value ?? '',
				about: { kind: ticket.kind, record: ticket.id, ...(field ? { field } : {}) }
			});
		else if (ticket)
			void keep(slug, {
				label: ticket.name,
				value: ticket.id,
				about: { kind: ticket.kind, record: ticket.id }
			});
	}

	/** Where the work of a page begins: its list, its table, or the first thing that can be filled in. */
	const FIRST = 'main [role=grid], main [data-move], main form input:not([type=hidden])';

	/** Goes to a page by its key; the focus goes where the eye goes. */
	async function goThere(path: string) {
		await goto(`/p/${slug}/${path}`);
		if (path === 'find') runAction('search');
		else document.querySelector<HTMLElement>(FIRST)?.focus({ preventScroll: true });
	}

	/** Closes the ticket; the focus goes back to the row that it was opened from. */
	async function closeTicket() {
		const ticket = page.url.searchParams.get('ticket') ?? '';
		await goto(closed, { keepFocus: true, noScroll: true });
		const active = document.activeElement;
		if (active && active !== document.body && active.closest('main')) return;
		const [kind, id] = [ticket.slice(0, ticket.indexOf('/')), ticket.slice(ticket.indexOf('/') + 1)];
		const row = [...document.querySelectorAll<HTMLAnchorElement>('main a[data-move]')].find(({ href }) => {
			const asked = new URL(href).searchParams.get('ticket');
			return asked === `${kind}/${id}`;
		});
		(row ?? document.querySelector<HTMLElement>('main [role=grid]'))?.focus({ preventScroll: true });
	}

	$effect(() => {
		const offs = [
			...[...STAGES.map((stage) => stage.path), 'guide', 'ledger'].map((path) =>
				onAction(`go:${path}`, () => void goThere(path))
			),
			onAction('undo', () => void step(slug, 'undo')),
			onAction('redo', () => void step(slug, 'redo')),
			onAction('help', () => (help = true)),
			onAction('try', tryHere),
			onAction('pocket', () => (pocket.open = !pocket.open)),
			onAction('keep', keepHere),
			onAction('back', () => {
				if (pocket.open) pocket.open = false;
				else if (page.url.searchParams.has('ticket')) void closeTicket();
			})
		];
		return () => offs.forEach((off) => off());
	});

	const tryHere = () => void tryAgain(slug, data.ticket);
	$effect(() => recallTries(slug));
	/** The state that was tried last: what is there when the page opens is no change. */
	let triedVersion = untrack(() => data.project.version);
	$effect(() => {
		const { version } = data.project;
		if (version === triedVersion) return;
		triedVersion = version;
		if (!untrack(() => tries.onChange)) return;
		// Of several changes one after the other, the last state is tried.
		const pause = setTimeout(tryHere, 700);
		return () => clearTimeout(pause);
	});

	// Another window, or another process, changed the project: show it.
	$effect(() => {
		const events = new EventSource(`/p/${slug}/api/events`);
		events.onmessage = async (event) => {
			await atRest();
			if (Number(event.data) > data.project.version) await refresh();
		};
		events.addEventListener('outside', () => void refresh());
		events.addEventListener('gone', () => {
			say('This project was removed', { bad: true });
			void goto('/?all');
		});
		return () => events.close();
	});
</script>

<svelte:window onkeydown={handleKey} onkeydowncapture={catchKey} />

<div class="flex h-dvh flex-col">
	<Band
		{slug}
		title={data.project.title}
		gameVersion={data.project.gameVersion}
		mod={data.project.mod}
		words={data.wordsKind !== null}
		scripts={data.scripts}
		places={data.places}
		counts={data.counts}
		vouched={data.vouched}
		steps={data.steps}
		onhelp={() => (help = true)}
	/>
	{#if data.linkFault}
		<p
			class="flex items-center gap-3 border-b border-line bg-wash px-4 py-1.5"
			role="alert"
			data-testid="link-fault"
		>
			<SnagMark severity="warns" />
			<span class="min-w-0 flex-1">{data.linkFault}</span>
			<a class="follow" href="/p/{slug}/setup#linked">Show the linked folder</a>
		</p>
	{/if}
	{#if data.outside > 0}
		<p
			class="flex items-center gap-3 border-b border-line bg-wash px-4 py-1.5"
			role="status"
			data-testid="outside"
		>
			<SnagMark severity="warns" />
			{counted(data.outside, 'file')} of my mod changed outside, in its folder on disk.
			<a class="follow" href="/p/{slug}/setup#linked">Look at it</a>
		</p>
	{/if}
	<div class="flex min-h-0 flex-1 {pocket.open ? 'pr-90' : ''}">
		<Split open={data.ticket !== null || data.asOf !== null || data.ticketFault !== null}>
			{@render children()}
			{#snippet side()}
				{#if data.ticket}
					{#key `${data.ticket.kind}/${data.ticket.id}`}
						<Ticket {slug} ticket={data.ticket} wordsKind={data.wordsKind} close={closed} {linkTo} />
					{/key}
				{:else if data.asOf}
					<RecordAsOf record={data.asOf} close={closed} now={withParameters(asked(), { as: null })} />
				{:else}
					<div class="p-6">
						<p>{data.ticketFault}</p>
						<p class="mt-3"><a class="press" href={closed}>Close</a></p>
					</div>
				{/if}
			{/snippet}
		</Split>
	</div>
</div>
<PocketDrawer {slug} {linkTo} />
<MakeNew {slug} />
<Help bind:open={help} />
