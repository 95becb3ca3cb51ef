<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { page } from '$app/state';
	import { withParameters, withTicket } from '$ui/address';
	import Band from '$ui/Band.svelte';
	import Help from '$ui/Help.svelte';
	import { step } from '$ui/client.svelte';
	import { catchKey, handleKey, onAction, STAGES } from '$ui/keys';
	import Split from '$ui/Split.svelte';
	import Ticket from '$ui/Ticket.svelte';

	let { data, children } = $props();
	let help = $state(false);
	const slug = $derived(data.project.slug);

	const closed = $derived(withParameters(page.url, { ticket: null }));
	const linkTo = (kind: string, id: string) => withTicket(page.url, kind, id);

	$effect(() => {
		const base = `/p/${slug}`;
		const offs = [
			...[...STAGES.map((stage) => stage.path), 'ledger'].map((path) =>
				onAction(`go:${path}`, () => void goto(`${base}/${path}`))
			),
			onAction('undo', () => void step(slug, 'undo')),
			onAction('redo', () => void step(slug, 'redo')),
			onAction('help', () => (help = true)),
			onAction('back', () => {
				if (page.url.searchParams.has('ticket')) void goto(closed, { keepFocus: true, noScroll: true });
			})
		];
		return () => offs.forEach((off) => off());
	});

	// Another window, or another process, changed the project: show it.
	$effect(() => {
		const events = new EventSource(`/p/${slug}/api/events`);
		events.onmessage = (event) => {
			if (Number(event.data) > data.project.version) void invalidateAll();
		};
		return () => events.close();
	});
</script>

<svelte:window onkeydown={handleKey} onkeydowncapture={catchKey} />

<div class="flex h-dvh flex-col">
	<Band
		{slug}
		title={data.project.title}
		gameVersion={data.project.gameVersion}
		counts={data.counts}
		steps={data.steps}
		onhelp={() => (help = true)}
	/>
	<Split open={data.ticket !== null || data.ticketFault !== null}>
		{@render children()}
		{#snippet side()}
			{#if data.ticket}
				{#key `${data.ticket.kind}/${data.ticket.id}`}
					<Ticket {slug} ticket={data.ticket} wordsKind={data.wordsKind} close={closed} {linkTo} />
				{/key}
			{:else}
				<div class="p-6">
					<p>{data.ticketFault}</p>
					<p class="mt-3"><a class="press" href={closed}>Close</a></p>
				</div>
			{/if}
		{/snippet}
	</Split>
</div>
<Help bind:open={help} />
