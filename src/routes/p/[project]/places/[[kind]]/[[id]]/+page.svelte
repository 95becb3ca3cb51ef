<script lang="ts">
	import { group } from 'd3-array';
	import { goto } from '$app/navigation';
	import { page as shown } from '$app/state';
	import type { Intention } from '$core/edits';
	import type { MapView, MapWay } from '$core/views';
	import { withParameters, withTicket } from '$ui/frame/address';
	import { applyIntention } from '$ui/frame/client.svelte';
	import DayLine from '$ui/map/DayLine.svelte';
	import MapCanvas from '$ui/map/MapCanvas.svelte';
	import ThingList from '$ui/map/ThingList.svelte';
	import ThingPanel from '$ui/map/ThingPanel.svelte';
	import {
		arranged,
		asOne,
		fromGround,
		leadsTo,
		nextId,
		setAll,
		setPlaces,
		turned,
		type Arrangement
	} from '$ui/map/changes';
	import { keyOf, onDay, standingIn, within, written, type Standing } from '$ui/map/scene';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const map = $derived(data.page?.map ?? null);
	const version = $derived(data.project.version);

	let view = $state.raw<MapView | null>(null);
	let fault = $state('');
	let mode = $state<'look' | 'add' | 'link' | 'measure'>('look');
	let picked = $state.raw<ReadonlySet<string>>(new Set());
	let way = $state.raw<{ from: string; to: string; found: MapWay } | null>(null);
	let plan = $state<Intention | null>(null);

	const base = $derived(
		map ? `/p/${slug}/api/places/${encodeURIComponent(map.kind)}/${encodeURIComponent(map.id)}` : null
	);
	$effect(() => {
		const [address] = [base, version];
		if (!address) return;
		const stop = new AbortController();
		fetch(address, { signal: stop.signal })
			.then(async (answer) => {
				const said = (await answer.json()) as MapView & { message?: string };
				if (answer.ok) [view, fault] = [said, ''];
				else fault = said.message ?? 'The map cannot be read.';
			})
			.catch((error: Error) => {
				if (error.name !== 'AbortError') fault = 'The server cannot be reached.';
			});
		return () => stop.abort();
	});
	// What was picked on one map is not on another.
	$effect(() => {
		if (!base) return;
		picked = new Set();
		way = null;
		mode = 'look';
	});

	const day = $derived.by(() => {
		const said = Number(shown.url.searchParams.get('day') ?? '');
		return map?.days && said > 0 ? said : null;
	});
	const all = $derived(view ? standingIn(view) : []);
	const things = $derived(onDay(all, map?.days ?? null, day));
	const held = $derived(all.filter((thing) => picked.has(keyOf(thing))));

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
	function standing(thing: Standing, x: number, y: number, taken: Set<string>): Intention {
		const { kind } = thing;
		const newId = kind.keyed ? nextId(thing.id, taken) : undefined;
		if (newId !== undefined) taken.add(newId);
		return {
			do: 'stand',
			kind: kind.kind,
			id: thing.id,
			...(newId === undefined ? {} : { newId }),
			values: {
				[kind.fields.x]: written(within(map!.x, x), kind.decimals),
				[kind.fields.y]: written(within(map!.y, y), kind.decimals)
			}
		};
	}
	const idsOf = (kind: Standing['kind']) =>
		new Set(all.filter((thing) => thing.kind === kind).map(({ id }) => id));

	async function place(x: number, y: number, thing: Standing | null) {
		const [first] = held;
		if (!first) return;
		if (mode === 'link') {
			if (!thing || thing.kind !== first.kind || thing === first) return;
			mode = 'look';
			await apply(
				setAll(
					`Lead ${first.id} to ${thing.id}`,
					new Map([[first, { [first.kind.fields.to!]: leadsTo(first.kind, thing.id) }]])
				)
			);
			return;
		}
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

	/** A point in the middle of the link that leaves the one that is picked. */
	async function split() {
		const [one] = held;
		const other = all.find((thing) => thing.kind === one?.kind && thing.id === one.to);
		if (!one || !other) return;
		const step = standing(one, (one.x + other.x) / 2, (one.y + other.y) / 2, idsOf(one.kind));
		const id = 'newId' in step && step.newId ? step.newId : '';
		const done = await apply(
			asOne(`Put a point between ${one.id} and ${other.id}`, [
				step,
				{
					do: 'set',
					kind: one.kind.kind,
					id: one.id,
					field: one.kind.fields.to!,
					value: leadsTo(one.kind, id)
				}
			])
		);
		if (done) picked = new Set([`${one.kind.kind}/${id}`]);
	}

	async function showWay(from: string, to: string) {
		const kind = held[0]!.kind.kind;
		const address = `${base}/way?${new URLSearchParams({ of: kind, from, to })}`;
		const answer = await fetch(address).catch(() => null);
		if (answer?.ok) [way, fault] = [{ from, to, found: (await answer.json()) as MapWay }, ''];
		else fault = answer ? 'The way cannot be worked out.' : 'The server cannot be reached.';
	}
	const atMap = (of: { kind: string; id: string }) =>
		`/p/${slug}/places/${encodeURIComponent(of.kind)}/${encodeURIComponent(of.id)}${day === null ? '' : `?day=${day}`}`;
</script>

<svelte:head><title>{map ? `${map.name} · ` : ''}Places · Kettle Dial</title></svelte:head>

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
						>{one.name}{one.name === one.id ? '' : ` (${one.id})`}</option
					>{/each}
			</select>
			<a class="follow" href={withTicket(shown.url, map.kind, map.id)}>Ticket of {map.name}</a>
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
			{#if fault}<p class="text-scald" role="alert">{fault}</p>{/if}
		</header>
		<div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_300px] gap-3">
			{#if view}
				<MapCanvas
					{map}
					{view}
					{things}
					{picked}
					way={way?.found.points ?? []}
					{mode}
					{pick}
					{move}
					place={(x, y, thing) => void place(x, y, thing)}
					{turn}
					{remove}
					stop={() => {
						if (mode === 'look') picked = new Set();
						mode = 'look';
						way = null;
					}}
				/>
				<div class="flex min-h-0 flex-col gap-3">
					<ThingPanel
						{map}
						{view}
						{held}
						{way}
						{mode}
						href={({ kind, id }) => withTicket(shown.url, kind.kind, id)}
						{set}
						turn={turnTo}
						{arrange}
						{remove}
						{toGround}
						enter={(next) => (mode = next)}
						showWay={(from, to) => void showWay(from, to)}
						split={() => void split()}
					/>
					<ThingList {things} {picked} pick={(thing, more) => pick(thing, more)} />
				</div>
			{:else}<p class="text-steam" role="status">Drawing the map…</p>{/if}
		</div>
		{#if view && map.days}<div class="pt-2">
				<DayLine days={map.days} counts={view.days} {day} {choose} />
			</div>{/if}
	</div>
{/if}
<PlanDialog {slug} bind:intention={plan} onapplied={() => (picked = new Set())} />
