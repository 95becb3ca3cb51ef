// Draws a map, away from the page.
import KDBush from 'kdbush';
import type { MapPage, MapView } from '$core/views';
import { drawMap, levelsOf, sizeOf, type Level } from './draw';
import type { Answered, Asked, Painted } from './painter';
import { leadingIn, linksAmong, onDay, standingIn, type Leading, type Standing } from './scene';

/** All that stands on the map, whatever the day. */
interface Scene {
	all: readonly Standing[];
	leading: readonly Leading[];
	levels: Level[];
	groundSize: [number, number];
}

function sceneOf(view: MapView): Scene {
	const all = standingIn(view);
	return {
		all,
		leading: leadingIn(view, all),
		levels: view.ground ? levelsOf(view.ground) : [],
		groundSize: sizeOf(view.ground)
	};
}

/** Where everything is, to be found by its place. */
function indexOf(things: readonly Standing[]): ArrayBuffer {
	const index = new KDBush(things.length);
	for (const { x, y } of things) index.add(x, y);
	return index.finish().data as ArrayBuffer;
}

let scene: Scene = { all: [], leading: [], levels: [], groundSize: [0, 0] };
let day: { days: MapPage['map']['days']; day: number | null } = { days: null, day: null };
let [things, links]: [readonly Standing[], readonly Leading[]] = [[], []];
let picture: ImageBitmap | null = null;
/** The last change of what is there, and the last one after which it was told where everything is. */
let [change, told] = [0, 0];
/** What is written on maps is written in the fonts of the application; where these cannot be had, in others. */
let fonts: Promise<unknown> = Promise.resolve();

async function load([family, url]: [string, string]): Promise<void> {
	const face = await new FontFace(family, `url(${url})`).load();
	(self as unknown as { fonts: FontFaceSet }).fonts.add(face);
}

function choose(nth: number): void {
	change = nth;
	things = onDay(scene.all, day.days, day.day);
	links = things === scene.all ? scene.leading : linksAmong(scene.leading, things);
}

/** Tells where everything is once it was drawn: that is not needed to see it. */
function tellIndex(): void {
	if (told === change) return;
	told = change;
	const index = indexOf(things);
	postMessage({ index, change } satisfies Answered, { transfer: [index] });
}

function draw({ sight, colours, ratio, change }: Extract<Asked, { do: 'draw' }>): void {
	const canvas = new OffscreenCanvas(Math.max(1, sight.width * ratio), Math.max(1, sight.height * ratio));
	const context = canvas.getContext('2d', { willReadFrequently: true })!;
	context.setTransform(ratio, 0, 0, ratio, 0, 0);
	drawMap(context, { ...scene, things, links, picture, sight, colours });
	const bitmap = canvas.transferToImageBitmap();
	postMessage({ bitmap, sight, change } satisfies Painted, { transfer: [bitmap] });
	tellIndex();
}

addEventListener('message', ({ data }: MessageEvent<Asked>) => {
	if (data.do === 'fonts') fonts = Promise.allSettled(data.fonts.map(load));
	else if (data.do === 'hold') {
		scene = sceneOf(JSON.parse(new TextDecoder().decode(data.answer)) as MapView);
		choose(data.change);
	} else if (data.do === 'day') {
		day = data;
		choose(data.change);
	} else if (data.do === 'lay') picture = data.picture;
	else void fonts.then(() => draw(data));
});
