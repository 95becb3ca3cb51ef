<script lang="ts">
	import { group } from 'd3-array';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import { page as shown } from '$app/state';
	import type { Intention } from '$core/edits';
	import type { MapView, MapWay, Ticket } from '$core/views';
	import { assetAddress, withParameters, withTicket } from '$ui/frame/address';
	import { applyIntention } from '$ui/frame/client.svelte';
	import DayLine from '$ui/map/DayLine.svelte';
	import MapCanvas from '$ui/map/MapCanvas.svelte';
	import { MapPainter } from '$ui/map/painter';
	import ThingList from '$ui/map/ThingList.svelte';
	import ThingPanel from '$ui/map/ThingPanel.svelte';
	import {
		arranged,
		asOne,
		fromGround,
		canLead,
		leadTo,
		newLink,
		nextId,
		onlyTo,
		setAll,
		setBoth,
		setPlaces,
		turned,
		withoutLink,
		type Arrangement
	} from '$ui/map/changes';
	import {
		keyOf,
		leadingIn,
		onDay,
		standingIn,
		withKeys,
		within,
		written,
		type Leading,
		type Standing
	} from '$ui/map/scene';
	import { changeGuide } from '$ui/guide/change';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import CopyForm from '$ui/ticket/CopyForm.svelte';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const map = $derived(data.page?.map ?? null);
	const version = $derived(data.project.version);

	/** It is made ready while what stands on the map is on its way. */
	let painter = $state.raw<MapPainter | null>(null);
	onMount(() => {
		const own = (painter = new MapPainter());
		own.failed = () => (undrawn = true);
		return () => own.end();
	});
	let view = $state.raw<MapView | null>(null);
	let fault = $state('');
	/** Whether the browser draws nothing here. */
	let undrawn = $state(false);
	/** Whether the map itself could not be had, and how often it was asked for again. */
	let [refused, attempt] = $state([false, 0]);
	let mode = $state<'look' | 'add' | 'link' | 'measure'>('look');
	/** Whether links are drawn one after the other, from whatever to whatever. */
	let drawing = $state(false);
	let picked = $state.raw<ReadonlySet<string>>(new Set());
	let way = $state.raw<{ from: string; to: string; found: MapWay } | null>(null);
	let plan = $state<Intention | null>(null);
	/** The map's record, while it is asked what its copy is called. */
	let copied = $state.raw<Ticket | null>(null);

	function askAgain() {
		[fault, refused] = ['', false];
		attempt++;
	}

	const base = $derived(
		map ? `/p/${slug}/api/places/${encodeURIComponent(map.kind)}/${encodeURIComponent(map.id)}` : null
	);
	$effect(() => {
		const [address] = [base, version, attempt];
		if (!address || !painter) return;
		const stop = new AbortController();
		fetch(address, { signal: stop.signal })
			.then(async (answer) => {
				const bytes = await answer.arrayBuffer();
				// Another map may have been chosen, or another version have come, meanwhile.
				if (stop.signal.aborted) return;
				const text = new TextDecoder().decode(bytes);
				if (answer.ok) {
					painter?.hold(bytes);
					// The picture comes first, then the list of what there is.
					await painter?.shown();
					if (stop.signal.aborted) return;
				}
				const said = JSON.parse(text) as MapView & { message?: string };
				if (answer.ok) [view, fault, refused] = [said, '', false];
				else [fault, refused] = [said.message ?? 'The map cannot be read.', true];
			})
			.catch((error: Error) => {
				if (error.name !== 'AbortError') [fault, refused] = ['The server cannot be reached.', true];
			});
		return () => stop.abort();
	});
	// What was picked on one map is not on another, nor what stands there.
	$effect(() => {
		if (!base) return;
		[view, fault, refused] = [null, '', false];
		painter?.empty();
		picked = new Set();
		way = null;
		[mode, drawing] = ['look', false];
	});

	const day = $derived.by(() => {
		const said = Number(shown.url.searchParams.get('day') ?? '');
		return map?.days && said > 0 ? said : null;
	});
	const all = $derived(view ? standingIn(view) : []);
	const things = $derived(onDay(all, map?.days ?? null, day));
	const leading = $derived(view ? leadingIn(view, all) : []);
	$effect(() => painter?.show(map?.days ?? null, day));
	const held = $derived(picked.size === 0 ? [] : withKeys(all, picked));

	function choose(next: number | null) {
		void goto(withParameters(shown.url, { day: next === null ? null : String(next) }), {
			replaceState: true,
			keepFocus: true,
			noScroll: true
		});
	}
	function pick(thing: Standing | null, more: boolean) {
		way = null;
		if (!thing) {
			picked = new Set();
			return;
		}
		const key = keyOf(thing);
		if (!more) picked = new Set([key]);
		else if (picked.has(key)) picked = new Set([...picked].filter((one) => one !== key));
		else picked = new Set([...picked, key]);
	}
	async function apply(intention: Intention | null): Promise<boolean> {
		return intention !== null && (await applyIntention(slug, intention));
	}
	const called = (some: readonly Standing[]) =>
		some.length === 1 ? (some[0]!.name ?? some[0]!.id) : `${some.length} things`;

	const move = (x: number, y: number) =>
		void apply(
			setAll(
				`Move ${called(held)}`,
				setPlaces(
					map!,
					held.map((thing) => [thing, thing.x + x, thing.y + y] as const)
				)
			)
		);
	const turning = (values: [Standing, string][]) =>
		void apply(
			setAll(
				`Turn ${called(held)}`,
				new Map(values.map(([thing, value]) => [thing, { [thing.kind.fields.angle!]: value }]))
			)
		);
	const withAngle = () => held.filter(({ kind, angle }) => kind.fields.angle !== null && angle !== null);
	const turn = (by: number) => turning(withAngle().map((thing) => [thing, turned(thing.angle!, by)]));
	const turnTo = (angle: number) => turning(withAngle().map((thing) => [thing, turned(angle, 0)]));
	const arrange = (how: Arrangement) =>
		void apply(setAll(`Arrange ${called(held)}`, setPlaces(map!, arranged(held, how))));
	const toGround = () =>
		void apply(setAll(`Set ${called(held)} on the ground`, fromGround(map!, view!, held)));
	const set = (thing: Standing, values: Record<string, string>) =>
		void apply(setAll(`Change ${called([thing])}`, new Map([[thing, values]])));
	function remove() {
		const steps = [...group(held, ({ kind }) => kind.kind)].map(([kind, some]): Intention => ({
			do: 'clear',
			kind,
			ids: some.map(({ id }) => id)
		}));
		plan = asOne(`Remove ${called(held)}`, steps);
	}

	/** A copy of a thing at another place. */
	function standing(
		thing: Standing,
		x: number,
		y: number,
		taken: Set<string>,
		besides: Record<string, string> = {}
	): Intention {
		const { kind } = thing;
		const newId = kind.keyed ? nextId(thing.id, taken) : undefined;
		if (newId !== undefined) taken.add(newId);
		return {
			do: 'stand',
			kind: kind.kind,
			id: thing.id,
			...(newId === undefined ? {} : { newId }),
			values: {
				...besides,
				[kind.fields.x]: written(within(map!.x, x), kind.decimals),
				[kind.fields.y]: written(within(map!.y, y), kind.decimals)
			}
		};
	}
	const idsOf = (kind: Standing['kind']) =>
		new Set(all.filter((thing) => thing.kind === kind).map(({ id }) => id));

	async function place(x: number, y: number) {
		const [first] = held;
		if (!first) return;
		mode = 'look';
		const taken = new Set(held.flatMap(({ kind }) => [...idsOf(kind)]));
		const steps = [...held]
			.reverse()
			.map((one) => standing(one, x + one.x - first.x, y + one.y - first.y, taken));
		if (!(await apply(asOne(`Add ${held.length} things to ${map!.name}`, steps)))) return;
		picked = new Set(
			steps.flatMap((step) => ('newId' in step && step.newId ? [`${step.kind}/${step.newId}`] : []))
		);
	}
	async function lead(from: Standing, to: Standing, both: boolean) {
		if (!drawing) mode = 'look';
		const made = newLink(view!, leading, from, to.id, both);
		if (made) await apply(made);
		else fault = `${called([from])} has no link yet to copy. Add the first one on its ticket.`;
	}
	function draw() {
		drawing = !(drawing && mode === 'link');
		mode = drawing ? 'link' : 'look';
		if (drawing) picked = new Set();
	}

	/** A point in the middle of a link. */
	async function split(link: Leading) {
		const { from, to } = link;
		if (!to) return;
		const taken = idsOf(from.kind);
		const { values, then } = onlyTo(leading, link, nextId(from.id, taken));
		const step = standing(from, (from.x + to.x) / 2, (from.y + to.y) / 2, taken, values);
		const id = 'newId' in step && step.newId ? step.newId : '';
		// Where records of their own are the links, another one leads on; a copied thing leads on as its model does.
		const on = link.record ? newLink(view!, leading, { ...from, id }, link.toId, link.both) : null;
		const steps = [step, ...then, leadTo(link, id), ...(on ? [on] : [])];
		if (await apply(asOne(`Put a point between ${from.id} and ${link.toId}`, steps)))
			picked = new Set([`${from.kind.kind}/${id}`]);
	}
	const setLink = (link: Leading, what: 'both' | 'one' | 'split' | 'remove') =>
		void (what === 'split'
			? split(link)
			: apply(what === 'remove' ? withoutLink(link) : setBoth(link, what === 'both')));

	async function copyMap() {
		const answer = await fetch(
			`/p/${slug}/api/ticket/${encodeURIComponent(map!.kind)}/${encodeURIComponent(map!.id)}`
		).catch(() => null);
		if (answer?.ok) [copied, fault] = [(await answer.json()) as Ticket, ''];
		else fault = answer ? 'The record of the map cannot be read.' : 'The server cannot be reached.';
	}

	async function showWay(from: string, to: string) {
		const kind = held[0]!.kind.kind;
		const address = `${base}/way?${new URLSearchParams({ of: kind, from, to })}`;
		const answer = await fetch(address).catch(() => null);
		if (answer?.ok) [way, fault] = [{ from, to, found: (await answer.json()) as MapWay }, ''];
		else fault = answer ? 'The way cannot be worked out.' : 'The server cannot be reached.';
	}
	const settle = (accept: boolean) => changeGuide(slug, { do: 'place', name: map!.kind, accept });
	const atMap = (of: { kind: string; id: string }) =>
		`/p/${slug}/places/${encodeURIComponent(of.kind)}/${encodeURIComponent(of.id)}${day === null ? '' : `?day=${day}`}`;
</script>

<svelte:head>
	<title>{map ? `${map.name} · ` : ''}Places · Kettle Dial</title>
	<!-- What stands on the map is on its way before the page can ask for it. -->
	{#if base}<link rel="preload" as="fetch" crossorigin="anonymous" href={base} />{/if}
</svelte:head>

{#if !data.page || !map}
	<div class="px-7 py-5">
		<h1>Places</h1>
		<p class="mt-2 max-w-xl text-steam">
			Nothing is known to stand anywhere in this game. The field guide can say which records do: by their
			position, on which map, and from when to when.
		</p>
		<a class="press mt-3 inline-block" href="/p/{slug}/guide">Open the field guide</a>
	</div>
{:else}
	<div class="flex h-full flex-col px-4 py-3">
		<header class="flex flex-wrap items-center gap-x-4 gap-y-1 pb-2">
			<h1 class="leading-8">Places</h1>
			<select
				class="box"
				aria-label="Map"
				bind:value={
					() => `${map.kind}/${map.id}`,
					(next) => {
						const other = data.page!.maps.find((one) => `${one.kind}/${one.id}` === next);
						if (other) void goto(atMap(other));
					}
				}
			>
				{#each data.page.maps as one (`${one.kind}/${one.id}`)}<option value="{one.kind}/{one.id}"
						>{one.name}{one.name === one.id || one.kind === one.id ? '' : ` (${one.id})`}</option
					>{/each}
			</select>
			{#if map.isRecord}<a class="follow" href={withTicket(shown.url, map.kind, map.id)}
					>Ticket of {map.name}</a
				>
				<button class="press slight" onclick={() => void copyMap()}>Copy {map.name}…</button>{/if}
			{#if view?.kinds.some((kind) => canLead(view!, kind))}<button
					class="press slight"
					aria-pressed={mode === 'link' && drawing}
					onclick={draw}>Draw links</button
				>{/if}
			<button
				class="press slight"
				aria-pressed={mode === 'measure'}
				onclick={() => (mode = mode === 'measure' ? 'look' : 'measure')}>Measure</button
			>
			{#if view}<p class="text-steam">
					{#each view.kinds as kind (kind.kind)}<span class="mr-3 whitespace-nowrap"
							><span class="font-semibold text-ink">{kind.letter}</span> {kind.plural.toLowerCase()}</span
						>{/each}
				</p>{/if}
			{#if undrawn}<p class="text-scald" role="alert">
					The map cannot be drawn. The list beside it has all that is on it.
				</p>{/if}
			{#if fault}<p class="text-scald" role="alert">{fault}</p>{/if}
			{#if refused}<button class="press self-start" onclick={askAgain}>Try again</button>{/if}
		</header>
		{#if map.found}<p class="pb-2 text-[13px] text-saffron" data-testid="found">
				<span title={map.found.because}
					>This map was found in the files; the field guide does not describe it.</span
				>
				<button class="press slight" onclick={() => void settle(true)}>Accept</button>
				<button class="press slight" onclick={() => void settle(false)}>Reject</button>
				<span class="text-[12px] text-steam">{map.found.because}</span>
			</p>{/if}
		{#if drawing && mode === 'link'}<p class="pb-1 text-[13px] text-saffron" role="status">
				Draw from one thing to another; with Shift it leads both ways. Esc ends this.
			</p>{/if}
		<div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_300px] gap-3">
			{#if painter}<MapCanvas
					{map}
					{painter}
					picture={map.picture && assetAddress(slug, map.picture.layer, map.picture.path)}
					{view}
					{things}
					{picked}
					{held}
					way={way?.found.points ?? []}
					{mode}
					{pick}
					{move}
					place={(x, y) => void place(x, y)}
					lead={(from, to, both) => void lead(from, to, both)}
					{turn}
					{remove}
					stop={() => {
						if (mode === 'look') picked = new Set();
						[mode, drawing] = ['look', false];
						way = null;
					}}
				/>
			{/if}
			{#if view}<div class="flex min-h-0 flex-col gap-3">
					<ThingPanel
						{map}
						{view}
						{held}
						links={leading}
						{way}
						{mode}
						href={({ kind, id }) => withTicket(shown.url, kind.kind, id)}
						{set}
						{setLink}
						turn={turnTo}
						{arrange}
						{remove}
						{toGround}
						enter={(next) => ([mode, drawing] = [next, false])}
						showWay={(from, to) => void showWay(from, to)}
					/>
					<ThingList {things} days={map.days} {picked} pick={(thing, more) => pick(thing, more)} />
				</div>
			{:else if !fault}<p class="text-steam" role="status">Drawing the map…</p>{/if}
		</div>
		{#if map.days}<div class="pt-2">
				<DayLine days={map.days} counts={view?.days ?? []} {day} {choose} />
			</div>{/if}
	</div>
{/if}
<PlanDialog {slug} bind:intention={plan} onapplied={() => (picked = new Set())} />
{#if copied}<CopyForm
		{slug}
		ticket={copied}
		done={(made) => {
			copied = null;
			plan = made;
		}}
	/>{/if}
