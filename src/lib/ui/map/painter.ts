// Draws maps in a worker: however much stands on one, the page never waits for it.
import mono from '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2?url';
import next from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url';
import KDBush from 'kdbush';
import type { MapView } from '$core/views';
import type { Colours } from './draw';
import type { Leading, Sight, Standing } from './scene';

/** What stands on a map, in arrays that a worker is handed without copying object by object. */
export interface Held {
	kinds: { nth: number; letter: string }[];
	kind: Uint8Array;
	x: Float64Array;
	y: Float64Array;
	/** NaN for none. */
	angle: Float64Array;
	amount: Float64Array;
	/** Bits: mine, without a way, with a snag. */
	look: Uint8Array;
	/** Numbers of the things at both ends of each link, and whether it leads back. */
	from: Uint32Array;
	to: Uint32Array;
	both: Uint8Array;
	ground: MapView['ground'];
	picture: ImageBitmap | null;
}

/** To the worker: fonts, what is to be drawn from now on, or how it is looked at. */
export type Asked =
	| { do: 'fonts'; fonts: [string, string][] }
	| { do: 'hold'; held: Held }
	| { do: 'draw'; sight: Sight; colours: Colours; ratio: number };

/** The picture that came of it. */
export interface Painted {
	bitmap: ImageBitmap;
	sight: Sight;
}

/** From the worker: a picture, or where everything is that it holds now, to be found by its place. */
export type Answered = Painted | { index: ArrayBuffer };

/** The things and links of a map for the worker. */
export function heldOf(
	view: MapView,
	things: readonly Standing[],
	links: readonly Leading[],
	picture: ImageBitmap | null
): Held {
	const count = things.length;
	const held: Held = {
		kinds: view.kinds.map(({ nth, letter }) => ({ nth, letter })),
		kind: new Uint8Array(count),
		x: new Float64Array(count),
		y: new Float64Array(count),
		angle: new Float64Array(count),
		amount: new Float64Array(count),
		look: new Uint8Array(count),
		from: new Uint32Array(links.length),
		to: new Uint32Array(links.length),
		both: new Uint8Array(links.length),
		ground: view.ground,
		picture
	};
	const number = new Map<number, number>();
	things.forEach((thing, at) => {
		number.set(thing.nth, at);
		held.kind[at] = view.kinds.indexOf(thing.kind);
		held.x[at] = thing.x;
		held.y[at] = thing.y;
		held.angle[at] = thing.angle ?? NaN;
		held.amount[at] = thing.amount ?? NaN;
		held.look[at] = (thing.mine ? 1 : 0) + (thing.cut ? 2 : 0) + (thing.snag ? 4 : 0);
	});
	let nth = 0;
	for (const { from, to, both } of links) {
		const [start, end] = [number.get(from.nth), to && number.get(to.nth)];
		if (start === undefined || end === undefined) continue;
		held.from[nth] = start;
		held.to[nth] = end;
		held.both[nth++] = both ? 1 : 0;
	}
	for (const name of ['from', 'to'] as const) held[name] = held[name].slice(0, nth);
	held.both = held.both.slice(0, nth);
	return held;
}

/** One map that is painted: of several looks at it that are asked for meanwhile, only the last one is. */
export class MapPainter {
	#worker = new Worker(new URL('./painter.worker.ts', import.meta.url), { type: 'module' });
	#isBusy = false;
	#wanted: Asked | null = null;
	/** What the worker was handed and has not answered yet. */
	#held = 0;

	/** Hears of each picture. */
	painted: (picture: Painted) => void = () => undefined;
	/** Hears how what is held is found by its place: by the numbers of the things. */
	indexed: (index: KDBush) => void = () => undefined;
	/** Hears that nothing can be drawn. */
	failed: () => void = () => undefined;

	constructor() {
		this.#worker.onerror = () => this.failed();
		this.#worker.onmessage = ({ data }: MessageEvent<Answered>) => {
			if ('index' in data) {
				if (--this.#held === 0) this.indexed(KDBush.from(data.index));
				return;
			}
			this.#isBusy = false;
			this.painted(data);
			if (this.#wanted) this.#send(this.#wanted);
		};
		this.#worker.postMessage({
			do: 'fonts',
			fonts: [
				['Atkinson Hyperlegible Mono Variable', mono],
				['Atkinson Hyperlegible Next Variable', next]
			]
		} satisfies Asked);
	}

	#send(asked: Asked): void {
		this.#wanted = null;
		this.#isBusy = true;
		this.#worker.postMessage(asked);
	}

	/** What is drawn from now on. */
	hold(held: Held): void {
		this.#held++;
		const { kind, x, y, angle, amount, look, from, to, both } = held;
		this.#worker.postMessage(
			{ do: 'hold', held } satisfies Asked,
			[kind, x, y, angle, amount, look, from, to, both].map(({ buffer }) => buffer)
		);
	}

	/** Asks for a picture; what is not begun yet is not drawn any more. */
	draw(sight: Sight, colours: Colours, ratio: number): void {
		const asked: Asked = { do: 'draw', sight, colours, ratio };
		if (this.#isBusy) this.#wanted = asked;
		else this.#send(asked);
	}

	end(): void {
		this.#worker.terminate();
	}
}
