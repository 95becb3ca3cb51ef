<script lang="ts">
	import { select } from 'd3-selection';
	import { zoom, zoomIdentity, type D3ZoomEvent, type ZoomBehavior } from 'd3-zoom';
	import type KDBush from 'kdbush';
	import { onMount } from 'svelte';
	import type { MapPage, MapView } from '$core/views';
	import { across, along, keyOf, placeAt, within, written, type Sight, type Standing } from './scene';
	import { coloursOf, markSize, type Colours } from './draw';
	import type { MapPainter, Painted } from './painter';

	/** A map: looked at, zoomed, and what is picked moved by drag or with the arrow keys. */
	let {
		map,
		painter,
		picture,
		view,
		things,
		picked,
		held,
		way,
		mode,
		pick,
		move,
		place,
		lead,
		turn,
		remove,
		stop
	}: {
		map: MapPage['map'];
		painter: MapPainter;
		/** The address of the picture of the map; null where it has none. */
		picture: string | null;
		/** What stands on it; null until that is known. */
		view: MapView | null;
		/** What is there on the day. */
		things: readonly Standing[];
		/** Keys of what is picked. */
		picked: ReadonlySet<string>;
		held: readonly Standing[];
		/** Ids on the way that is shown. */
		way: readonly string[];
		mode: 'look' | 'add' | 'link' | 'measure';
		pick: (thing: Standing | null, more: boolean) => void;
		/** Moves what is picked by so much; `done` once it is let go. */
		move: (x: number, y: number) => void;
		place: (x: number, y: number) => void;
		/** Leads one thing to another of its kind. */
		lead: (from: Standing, to: Standing, both: boolean) => void;
		turn: (degrees: number) => void;
		remove: () => void;
		stop: () => void;
	} = $props();

	let canvas = $state<HTMLCanvasElement>();
	let frame = $state<HTMLDivElement>();
	let width = $state(0);
	let height = $state(0);
	let transform = $state.raw(zoomIdentity);
	let colours = $state.raw<Colours | null>(null);
	let pointer = $state.raw<[number, number] | null>(null);
	let over = $state.raw<Standing | null>(null);
	/** How far what is picked was moved and is not written yet, in units of the map. */
	let offset = $state.raw<[number, number]>([0, 0]);
	/** Where something is dragged from, or measured. */
	let from = $state.raw<[number, number] | null>(null);
	let dragging = $state(false);
	/** What a link is drawn from, until the pointer is let go. */
	let leading = $state.raw<Standing | null>(null);
	/** A click is the end of a drag, and picks nothing. */
	let isDragged = false;
	const EDGE = 44;

	const fit = $derived(
		Math.max(
			1e-6,
			Math.min((width - EDGE - 12) / (map.x[1] - map.x[0]), (height - 34) / (map.y[1] - map.y[0]))
		)
	);
	const sight = $derived<Sight>({
		width,
		height,
		scale: fit * transform.k,
		left: transform.applyX(EDGE + Math.max(0, (width - EDGE - 12 - fit * (map.x[1] - map.x[0])) / 2)),
		top: transform.applyY(14),
		map
	});
	/** What finds things by their place; null until it is there for those of now. */
	let index = $state.raw<KDBush | null>(null);
	const size = $derived(markSize(things.length));
	const kindHeld = $derived(held[0]?.kind);
	const byId = $derived(new Map(things.map((thing) => [thing.id, thing])));
	const wayPoints = $derived(
		way.flatMap((id) => {
			const thing = byId.get(id);
			return thing ? [`${across(sight, thing.x)},${along(sight, thing.y)}`] : [];
		})
	);
	const decimals = $derived(kindHeld?.decimals ?? view?.kinds[0]?.decimals ?? 0);
	const here = $derived(pointer && placeAt(sight, ...pointer));
	/** The place under the pointer as the game writes it. */
	const coordinates = $derived(here ? `${written(here[0], decimals)}, ${written(here[1], decimals)}` : '');
	const isOnMap = $derived(
		here !== null && here[0] >= map.x[0] && here[0] <= map.x[1] && here[1] >= map.y[0] && here[1] <= map.y[1]
	);

	$effect(() => {
		painter.lay(null);
		if (picture === null) return;
		const coming = new Image();
		let isOver = false;
		coming.onload = () =>
			void createImageBitmap(coming).then((bitmap) => {
				if (!isOver) painter.lay(bitmap);
			});
		coming.src = picture;
		return () => {
			isOver = true;
			coming.onload = null;
		};
	});

	/** The last whole picture: it is shown, moved and scaled, until the next one is drawn. */
	let still: Painted | null = null;
	let isDrawn = $state(false);

	function showStill(to: Sight) {
		const context = canvas?.getContext('2d');
		if (!still || !context) return;
		const by = to.scale / still.sight.scale;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		context.clearRect(0, 0, to.width, to.height);
		context.drawImage(
			still.bitmap,
			to.left - still.sight.left * by,
			to.top - still.sight.top * by,
			still.sight.width * by,
			still.sight.height * by
		);
	}
	// Until it is known what stands on another map, nothing of the one before is shown.
	$effect(() => {
		if (view) return;
		still?.bitmap.close();
		still = null;
		isDrawn = false;
		canvas?.getContext('2d')?.reset();
	});
	onMount(() => {
		painter.painted = (painted) => {
			still?.bitmap.close();
			still = painted;
			showStill(sight);
			isDrawn = true;
		};
		painter.indexed = (next) => (index = next);
	});
	$effect(() => {
		if (!canvas || !colours || width === 0) return;
		showStill(sight);
		painter.look($state.snapshot(sight) as Sight, $state.snapshot(colours), devicePixelRatio);
	});

	let behavior: ZoomBehavior<HTMLDivElement, unknown>;
	onMount(() => {
		colours = coloursOf(frame!);
		const themes = new MutationObserver(() => (colours = coloursOf(frame!)));
		themes.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
		behavior = zoom<HTMLDivElement, unknown>()
			.scaleExtent([0.5, 200])
			.filter(
				(event: MouseEvent) => event.type === 'wheel' || (mode === 'look' && !event.button && !nearest(event))
			)
			.on('zoom', (event: D3ZoomEvent<HTMLDivElement, unknown>) => {
				transform = event.transform;
			});
		select(frame!).call(behavior).on('dblclick.zoom', null);
		return () => themes.disconnect();
	});
	const zoomBy = (factor: number) => behavior.scaleBy(select(frame!), factor);
	const zoomBack = () => behavior.transform(select(frame!), zoomIdentity);

	const pixelsOf = (event: MouseEvent): [number, number] => {
		const box = frame!.getBoundingClientRect();
		return [event.clientX - box.left, event.clientY - box.top];
	};
	function nearest(event: MouseEvent): Standing | null {
		const [x, y] = placeAt(sight, ...pixelsOf(event));
		let found: Standing | null = null;
		let least = Infinity;
		const near = index?.within(x, y, (size + 5) / sight.scale).map((nth) => things[nth]!);
		// Until it is known what finds them by their place, all are looked at.
		for (const thing of near ?? things) {
			const far = Math.hypot(thing.x - x, thing.y - y);
			if (far < least && far * sight.scale <= size + 5) [found, least] = [thing, far];
		}
		return found;
	}

	function down(event: PointerEvent) {
		if (event.button !== 0 || (event.target as Element).closest('button')) return;
		frame!.focus();
		const spot = placeAt(sight, ...pixelsOf(event));
		const thing = nearest(event);
		if (mode === 'measure') {
			from = spot;
			return;
		}
		if (mode === 'link') leading = thing;
		if (mode !== 'look') return;
		if (!thing) return;
		event.preventDefault();
		event.stopPropagation();
		if (event.shiftKey || !picked.has(keyOf(thing))) pick(thing, event.shiftKey);
		from = spot;
		dragging = true;
		frame!.setPointerCapture(event.pointerId);
	}
	function moved(event: PointerEvent) {
		pointer = pixelsOf(event);
		if (dragging && from) {
			const [x, y] = placeAt(sight, ...pointer);
			offset = [x - from[0], y - from[1]];
		} else over = nearest(event);
	}
	function up(event: PointerEvent) {
		const far = Math.hypot(...offset) * sight.scale;
		if (dragging) {
			dragging = false;
			frame!.releasePointerCapture(event.pointerId);
			from = null;
			isDragged = far >= 3;
			if (isDragged) move(...offset);
			offset = [0, 0];
			return;
		}
		if (mode === 'add') {
			const [x, y] = placeAt(sight, ...pixelsOf(event));
			place(within(map.x, x), within(map.y, y));
		}
		if (mode === 'link') {
			const to = nearest(event);
			// Drawn from one to another, or clicked for the one that is picked.
			const start = leading && leading !== to ? leading : held[0];
			if (start && to && start !== to && start.kind === to.kind) lead(start, to, event.shiftKey);
			leading = null;
		}
	}
	function click(event: MouseEvent) {
		const isEnd = isDragged;
		isDragged = false;
		const isButton = (event.target as Element).closest('button') !== null;
		if (mode === 'look' && !isEnd && !isButton && !nearest(event)) pick(null, false);
	}

	/** Writes what the arrow keys came to once they rest. */
	let rest: ReturnType<typeof setTimeout> | undefined;
	function key(event: KeyboardEvent) {
		const step = 10 ** -decimals * (event.shiftKey ? 10 * 10 ** decimals : event.altKey ? 1 : 10 ** decimals);
		const ways: Record<string, [number, number]> = {
			ArrowLeft: [-step, 0],
			ArrowRight: [step, 0],
			ArrowUp: [0, map.upwards ? step : -step],
			ArrowDown: [0, map.upwards ? -step : step]
		};
		const by = ways[event.key];
		if (by && held.length > 0) {
			event.preventDefault();
			offset = [offset[0] + by[0], offset[1] + by[1]];
			clearTimeout(rest);
			rest = setTimeout(() => {
				const whole = offset;
				offset = [0, 0];
				move(...whole);
			}, 450);
		} else if (by) {
			event.preventDefault();
			behavior.translateBy(
				select(frame!),
				(-by[0] / step) * (40 / transform.k),
				(((map.upwards ? 1 : -1) * by[1]) / step) * (40 / transform.k)
			);
		} else if (event.key === '+' || event.key === '=') zoomBy(1.5);
		else if (event.key === '-') zoomBy(1 / 1.5);
		else if (event.key === ',' && held.length > 0) turn(event.shiftKey ? -45 : -5);
		else if (event.key === '.' && held.length > 0) turn(event.shiftKey ? 45 : 5);
		else if (event.key === 'Delete' && held.length > 0) remove();
		else if (event.key === 'Escape') {
			event.stopPropagation();
			[from, leading] = [null, null];
			stop();
		} else if (event.key.toLowerCase() === 'c' && (event.ctrlKey || event.metaKey)) {
			event.preventDefault();
			event.stopPropagation();
			const [one] = held;
			void navigator.clipboard.writeText(
				one ? `${written(one.x, one.kind.decimals)}, ${written(one.y, one.kind.decimals)}` : coordinates
			);
		}
	}
	const nameOf = (thing: Standing) => thing.name ?? thing.id;
	const measured = $derived(
		mode === 'measure' && from && here ? Math.hypot(here[0] - from[0], here[1] - from[1]) : null
	);
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions (a map that is worked with) -->
<div
	bind:this={frame}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 w-full touch-none overflow-hidden rounded-lg border border-line bg-porcelain {mode ===
	'look'
		? ''
		: 'cursor-crosshair'}"
	role="application"
	aria-label="Map of {map.name}. Arrows move what is picked, or the map; comma and full stop turn it; plus and minus zoom."
	tabindex="0"
	data-testid="map"
	data-drawn={isDrawn || undefined}
	onpointerdowncapture={down}
	onpointermove={moved}
	onpointerup={up}
	onpointerleave={() => (pointer = null)}
	onclick={click}
	onkeydown={key}
>
	<canvas
		bind:this={canvas}
		class="absolute inset-0 h-full w-full"
		width={width * (typeof devicePixelRatio === 'number' ? devicePixelRatio : 1)}
		height={height * (typeof devicePixelRatio === 'number' ? devicePixelRatio : 1)}
	></canvas>
	<svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
		{#if wayPoints.length > 1}<polyline
				points={wayPoints.join(' ')}
				fill="none"
				stroke="var(--brass)"
				stroke-width="5"
				stroke-opacity="0.75"
				stroke-linejoin="round"
			/>{/if}
		{#each held as thing (thing.nth)}
			{@const x = across(sight, thing.x + offset[0])}
			{@const y = along(sight, thing.y + offset[1])}
			{#if thing.radius !== null}<circle
					cx={x}
					cy={y}
					r={thing.radius * sight.scale}
					fill="var(--brass)"
					fill-opacity="0.1"
					stroke="var(--brass)"
				/>{/if}
			{#if offset[0] !== 0 || offset[1] !== 0}<line
					x1={across(sight, thing.x)}
					y1={along(sight, thing.y)}
					x2={x}
					y2={y}
					stroke="var(--brass)"
					stroke-dasharray="4 3"
				/><circle cx={x} cy={y} r={size} fill="var(--copper)" />{/if}
			<circle cx={x} cy={y} r={size + 6} fill="none" stroke="var(--brass)" stroke-width="2.5" />
		{/each}
		{#if mode === 'link' && pointer && (leading ?? held[0])}
			{@const start = leading ?? held[0]!}
			<line
				x1={across(sight, start.x)}
				y1={along(sight, start.y)}
				x2={pointer[0]}
				y2={pointer[1]}
				stroke="var(--copper)"
				stroke-width="2"
				stroke-dasharray={leading ? undefined : '4 3'}
			/>
		{/if}
		{#if measured !== null && from && pointer}
			<line
				x1={across(sight, from[0])}
				y1={along(sight, from[1])}
				x2={pointer[0]}
				y2={pointer[1]}
				stroke="var(--rim)"
				stroke-width="1.5"
			/>
			<text x={pointer[0] + 10} y={pointer[1] - 8} fill="var(--rim)" font-size="12"
				>{written(measured, decimals || 1)} {map.unit}</text
			>
		{/if}
	</svg>
	{#if over && pointer && !dragging}
		<div
			class="pointer-events-none absolute z-10 rounded-md border border-line bg-porcelain px-2 py-0.5 text-[12px] shadow"
			style="left: {Math.min(pointer[0] + 14, width - 160)}px; top: {pointer[1] + 12}px"
		>
			<span class="font-semibold">{nameOf(over)}</span>
			<span class="text-steam">{over.kind.title}</span>
		</div>
	{/if}
	<p
		class="pointer-events-none absolute right-2 bottom-1 rounded bg-porcelain/80 px-1 font-mono text-[12px] text-steam"
		data-testid="coordinates"
	>
		{dragging && from ? `${written(Math.hypot(...offset), decimals || 1)} ${map.unit} · ` : ''}{isOnMap
			? `${coordinates} ${map.unit}`
			: ''}
	</p>
	<div class="absolute top-2 right-2 flex gap-1">
		<button class="press slight bg-porcelain" aria-label="Zoom in" onclick={() => zoomBy(1.5)}>+</button>
		<button class="press slight bg-porcelain" aria-label="Zoom out" onclick={() => zoomBy(1 / 1.5)}>−</button>
		<button class="press slight bg-porcelain" onclick={zoomBack}>Whole map</button>
	</div>
</div>
