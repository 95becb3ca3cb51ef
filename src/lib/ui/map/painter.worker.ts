// Draws a map, away from the page.
import KDBush from 'kdbush';
import { drawMap, levelsOf, sizeOf, type Level } from './draw';
import type { Answered, Asked, Held, Painted } from './painter';
import type { Drawn, Mark } from './scene';

interface Scene {
	things: Mark[];
	links: Drawn[];
	levels: Level[];
	groundSize: [number, number];
	picture: ImageBitmap | null;
}

const numberOr = (value: number): number | null => (Number.isNaN(value) ? null : value);

function sceneOf({ kinds, kind, x, y, angle, amount, look, from, to, both, ground, picture }: Held): Scene {
	const things = Array.from(x, (across, at): Mark => ({
		kind: kinds[kind[at]!]!,
		x: across,
		y: y[at]!,
		angle: numberOr(angle[at]!),
		amount: numberOr(amount[at]!),
		mine: (look[at]! & 1) > 0,
		cut: (look[at]! & 2) > 0,
		snag: (look[at]! & 4) > 0
	}));
	return {
		things,
		links: Array.from(from, (start, at) => ({
			from: things[start]!,
			to: things[to[at]!],
			both: both[at]! > 0
		})),
		levels: ground ? levelsOf(ground) : [],
		groundSize: sizeOf(ground),
		picture
	};
}

/** Where everything is, to be found by its place. */
function indexOf({ x, y }: Held): ArrayBuffer {
	const index = new KDBush(x.length);
	for (let at = 0; at < x.length; at++) index.add(x[at]!, y[at]!);
	return index.finish().data as ArrayBuffer;
}

/** Tells where everything is once it was drawn: that is not needed to see it. */
function tellIndexes(): void {
	for (const held of unindexed) {
		const index = indexOf(held);
		postMessage({ index } satisfies Answered, { transfer: [index] });
	}
	unindexed = [];
}

let scene: Scene | null = null;
let unindexed: Held[] = [];
/** What is written on maps is written in the fonts of the application; where these cannot be had, in others. */
let fonts: Promise<unknown> = Promise.resolve();

async function load([family, url]: [string, string]): Promise<void> {
	const face = await new FontFace(family, `url(${url})`).load();
	(self as unknown as { fonts: FontFaceSet }).fonts.add(face);
}

addEventListener('message', ({ data }: MessageEvent<Asked>) => {
	if (data.do === 'fonts') fonts = Promise.allSettled(data.fonts.map(load));
	else if (data.do === 'hold') {
		[scene, unindexed] = [sceneOf(data.held), [...unindexed, data.held]];
	} else
		void fonts.then(() => {
			const { sight, colours, ratio } = data;
			const canvas = new OffscreenCanvas(Math.max(1, sight.width * ratio), Math.max(1, sight.height * ratio));
			const context = canvas.getContext('2d')!;
			context.setTransform(ratio, 0, 0, ratio, 0, 0);
			if (scene) drawMap(context, { ...scene, sight, colours });
			const bitmap = canvas.transferToImageBitmap();
			postMessage({ bitmap, sight } satisfies Painted, { transfer: [bitmap] });
			tellIndexes();
		});
});
