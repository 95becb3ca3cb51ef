// The drawing of a map on a canvas: ground, grid, links and marks.
import { contours } from 'd3-contour';
import { across, along, stepOf, type Drawn, type Mark, type Sight } from './scene';

type Canvas = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** The colours of the theme, as the page has them now. */
export interface Colours {
	paper: string;
	ink: string;
	line: string;
	faint: string;
	deep: string;
	land: string;
	mine: string;
	fault: string;
}

export function coloursOf(element: Element): Colours {
	const style = getComputedStyle(element);
	const colour = (name: string) => style.getPropertyValue(name).trim();
	return {
		paper: colour('--porcelain'),
		ink: colour('--rim'),
		line: colour('--line'),
		faint: colour('--steam'),
		deep: colour('--verdigris'),
		land: colour('--brass'),
		mine: colour('--copper'),
		fault: colour('--scald')
	};
}

/** Levels between the lowest and the highest number of a ground. */
const LEVELS = 9;

/** Areas of a ground: each holds what is at least at its level; in places of the grid. */
export interface Level {
	value: number;
	polygons: number[][][][];
}

/** The levels of a ground, the lowest first. */
export function levelsOf(ground: readonly (readonly number[])[]): Level[] {
	const columns = ground[0]?.length ?? 0;
	const values = ground.flat();
	const [low, high] = [Math.min(...values), Math.max(...values)];
	if (!(high > low)) return [];
	// One of the levels is the line between land and water.
	const step = (high - low) / LEVELS;
	const first = Math.ceil(low / step) * step;
	const thresholds = Array.from({ length: LEVELS }, (_, nth) => first + nth * step);
	return contours()
		.size([columns, ground.length])
		.thresholds(thresholds)(values)
		.map(({ value, coordinates }) => ({ value, polygons: coordinates }));
}

/** Draws the levels; land is what a depth is below nothing of, or a height above. */
function drawGround(context: Canvas, sight: Sight, { levels, groundSize: size, colours }: Picture): void {
	const { map } = sight;
	const isDepth = map.ground?.says === 'depth';
	const right = (column: number) =>
		across(sight, map.x[0] + ((column - 0.5) / (size[0] - 1)) * (map.x[1] - map.x[0]));
	const down = (row: number) =>
		sight.top + ((row - 0.5) / (size[1] - 1)) * (map.y[1] - map.y[0]) * sight.scale;
	context.save();
	context.beginPath();
	context.rect(
		sight.left,
		sight.top,
		(map.x[1] - map.x[0]) * sight.scale,
		(map.y[1] - map.y[0]) * sight.scale
	);
	context.clip();
	context.globalAlpha = 0.16;
	if (isDepth) {
		context.fillStyle = colours.land;
		context.fill();
	}
	for (const { value, polygons } of levels) {
		const isWater = isDepth ? value >= 0 : value <= 0;
		const path = new Path2D();
		for (const polygon of polygons)
			for (const ring of polygon) {
				ring.forEach(([column, row], nth) => {
					if (nth === 0) path.moveTo(right(column!), down(row!));
					else path.lineTo(right(column!), down(row!));
				});
				path.closePath();
			}
		context.globalAlpha = isWater ? 0.13 : 0.08;
		context.fillStyle = isWater ? colours.deep : colours.land;
		context.fill(path);
		context.globalAlpha = Math.abs(value) < 1e-9 ? 0.7 : 0.28;
		context.strokeStyle = Math.abs(value) < 1e-9 ? colours.land : colours.deep;
		context.lineWidth = Math.abs(value) < 1e-9 ? 1.5 : 0.75;
		context.stroke(path);
	}
	context.restore();
}

/** The picture of the map, paler than what stands on it. */
function drawPicture(context: Canvas, { map, left, top, scale }: Sight, image: ImageBitmap): void {
	context.save();
	context.globalAlpha = 0.7;
	context.drawImage(image, left, top, (map.x[1] - map.x[0]) * scale, (map.y[1] - map.y[0]) * scale);
	context.restore();
}

/** Lines at whole steps, with their numbers at the edges. */
function drawGrid(context: Canvas, sight: Sight, colours: Colours): void {
	const { map, scale } = sight;
	const step = stepOf(scale);
	context.save();
	context.strokeStyle = colours.line;
	context.fillStyle = colours.faint;
	context.lineWidth = 1;
	context.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
	const [left, right] = [across(sight, map.x[0]), across(sight, map.x[1])];
	const [top, bottom] = [sight.top, sight.top + (map.y[1] - map.y[0]) * scale];
	for (let x = Math.ceil(map.x[0] / step) * step; x <= map.x[1]; x += step) {
		const at = Math.round(across(sight, x)) + 0.5;
		if (at < 0 || at > sight.width) continue;
		context.beginPath();
		context.moveTo(at, Math.max(0, top));
		context.lineTo(at, Math.min(sight.height, bottom));
		context.stroke();
		context.fillText(String(Math.round(x * 1e6) / 1e6), at + 3, Math.min(sight.height - 4, bottom + 12));
	}
	for (let y = Math.ceil(map.y[0] / step) * step; y <= map.y[1]; y += step) {
		const at = Math.round(along(sight, y)) + 0.5;
		if (at < 0 || at > sight.height) continue;
		context.beginPath();
		context.moveTo(Math.max(0, left), at);
		context.lineTo(Math.min(sight.width, right), at);
		context.stroke();
		context.textAlign = 'right';
		context.fillText(String(Math.round(y * 1e6) / 1e6), Math.max(34, left - 4), at - 3);
		context.textAlign = 'left';
	}
	context.strokeStyle = colours.ink;
	context.strokeRect(left, top, right - left, bottom - top);
	context.restore();
}

/** An outline for each number of a kind, around a point: told apart without colour. */
export function outline(nth: number, x: number, y: number, size: number): Path2D {
	const path = new Path2D();
	const corners = (count: number, turn: number, far = size) => {
		for (let corner = 0; corner < count; corner++) {
			const angle = turn + (corner / count) * Math.PI * 2;
			const [right, down] = [x + Math.cos(angle) * far, y + Math.sin(angle) * far];
			if (corner === 0) path.moveTo(right, down);
			else path.lineTo(right, down);
		}
		path.closePath();
	};
	switch (nth % 6) {
		case 0:
			path.arc(x, y, size, 0, Math.PI * 2);
			break;
		case 1:
			corners(4, 0, size * 1.2);
			break;
		case 2:
			corners(4, Math.PI / 4, size * 1.15);
			break;
		case 3:
			corners(3, -Math.PI / 2, size * 1.25);
			break;
		case 4:
			corners(6, 0, size * 1.1);
			break;
		default:
			corners(3, Math.PI / 2, size * 1.25);
	}
	return path;
}

const MARK = 8;
/** Things from which on marks have no letter and are small, and links in sight from which on they have no heads. */
const MANY = 600;
const SMALL = 3;

/** Pixels from the middle of a mark that belong to it. */
export const markSize = (count: number): number => (count > MANY ? SMALL : MARK);

/** Links in one path: of many more, drawing takes much longer than of several paths. */
const LINKS_AT_ONCE = 50;

/** Whether a part of a link may be in sight: one that has both ends beyond the same edge is not. */
function mayBeSeen(sight: Sight, { from, to }: Drawn): boolean {
	if (!to) return false;
	const beyond = (one: number, other: number, size: number) =>
		Math.max(one, other) < -MARK || Math.min(one, other) > size + MARK;
	return (
		!beyond(across(sight, from.x), across(sight, to.x), sight.width) &&
		!beyond(along(sight, from.y), along(sight, to.y), sight.height)
	);
}

function drawLinks(context: Canvas, sight: Sight, { links, things, colours }: Picture): void {
	context.save();
	context.strokeStyle = colours.ink;
	context.fillStyle = colours.ink;
	context.globalAlpha = 0.6;
	// Lines of one pixel are drawn many times as fast as others.
	context.lineWidth = things.length > MANY ? 1 : 1.25;
	let path = new Path2D();
	let heads = new Path2D();
	const head = (x: number, y: number, angle: number) => {
		heads.moveTo(x, y);
		heads.lineTo(x - Math.cos(angle - 0.4) * 9, y - Math.sin(angle - 0.4) * 9);
		heads.lineTo(x - Math.cos(angle + 0.4) * 9, y - Math.sin(angle + 0.4) * 9);
		heads.closePath();
	};
	const gap = markSize(things.length) + 2;
	const put = () => {
		context.stroke(path);
		context.fill(heads);
		[path, heads] = [new Path2D(), new Path2D()];
	};
	const inSight = links.filter((link) => mayBeSeen(sight, link));
	let drawn = 0;
	for (const { from: thing, to: other, both } of inSight) {
		const [x, y] = [across(sight, thing.x), along(sight, thing.y)];
		const [toX, toY] = [across(sight, other!.x), along(sight, other!.y)];
		path.moveTo(x, y);
		path.lineTo(toX, toY);
		if (inSight.length <= MANY) {
			const angle = Math.atan2(toY - y, toX - x);
			head(toX - Math.cos(angle) * gap, toY - Math.sin(angle) * gap, angle);
			if (both) head(x + Math.cos(angle) * gap, y + Math.sin(angle) * gap, angle + Math.PI);
		}
		if (++drawn % LINKS_AT_ONCE === 0) put();
	}
	put();
	context.restore();
}

/** Whether nothing leads from it to the goal, or to it from the start. */
const isStray = ({ cut, lost }: Mark): boolean => cut || lost;

function drawMark(context: Canvas, sight: Sight, thing: Mark, colours: Colours, size: number): void {
	const [x, y] = [across(sight, thing.x), along(sight, thing.y)];
	const path = outline(thing.kind.nth, x, y, size);
	context.fillStyle = thing.mine ? colours.mine : colours.paper;
	context.strokeStyle = thing.mine ? colours.mine : colours.ink;
	context.lineWidth = 1.25;
	context.fill(path);
	context.stroke(path);
	if (isStray(thing) || thing.snag) {
		context.strokeStyle = colours.fault;
		context.setLineDash(isStray(thing) ? [3, 2] : []);
		context.lineWidth = 2;
		context.stroke(outline(0, x, y, size + 4));
		context.setLineDash([]);
	}
	if (size < MARK) return;
	if (thing.angle !== null) {
		const turn = ((thing.angle - 90) * Math.PI) / 180;
		context.strokeStyle = thing.mine ? colours.mine : colours.ink;
		context.beginPath();
		context.moveTo(x + Math.cos(turn) * size, y + Math.sin(turn) * size);
		context.lineTo(x + Math.cos(turn) * (size + 9), y + Math.sin(turn) * (size + 9));
		context.stroke();
	}
	context.fillStyle = thing.mine ? colours.paper : colours.ink;
	context.fillText(thing.kind.letter, x, y + 0.5);
	if (thing.amount !== null && thing.amount !== 1) {
		context.fillStyle = colours.ink;
		context.fillText(`×${thing.amount}`, x + size + 9, y - size);
	}
}

/** What is drawn. */
export interface Picture {
	sight: Sight;
	levels: readonly Level[];
	/** What is drawn over all of the map, below everything. */
	picture: ImageBitmap | null;
	groundSize: readonly [number, number];
	things: readonly Mark[];
	links: readonly Drawn[];
	colours: Colours;
}

/** Draws a map; of many things their marks are stamped. */
export function drawMap(context: Canvas, picture: Picture): void {
	const { sight, levels, things, colours } = picture;
	// Nothing shines through what is drawn from here on.
	context.fillStyle = colours.paper;
	context.fillRect(0, 0, sight.width, sight.height);
	if (picture.picture) drawPicture(context, sight, picture.picture);
	if (levels.length > 0) drawGround(context, sight, picture);
	drawGrid(context, sight, colours);
	drawLinks(context, sight, picture);
	const size = markSize(things.length);
	const isIn = ({ x, y }: Mark): boolean => {
		const right = across(sight, x);
		const down = along(sight, y);
		return right >= -20 && down >= -20 && right <= sight.width + 20 && down <= sight.height + 20;
	};
	if (size < MARK) {
		stampMarks(context, sight, things.filter(isIn), colours);
		return;
	}
	context.font = '600 10px "Atkinson Hyperlegible Next Variable", sans-serif';
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	for (const thing of things) if (isIn(thing)) drawMark(context, sight, thing, colours, size);
	context.textAlign = 'left';
	context.textBaseline = 'alphabetic';
}

/** Pixels around a small mark that its outline may need, and one around it that says that something is wrong. */
const AROUND = { plain: 6, wrong: 10 };

/** The pixels of a small mark that are not empty: where they are around its middle, and their colours. */
interface Stamp {
	right: Int16Array;
	down: Int16Array;
	colour: Int32Array;
	/** How many of them nothing shines through: they are the first. */
	solid: number;
	/** How far each is from the middle among the pixels of the picture, row by row. */
	away: Int32Array;
	/** How far they are from its middle at most, to either side. */
	around: number;
}

/** The colours of a picture, row by row. */
interface Pixels {
	colours: Int32Array;
	width: number;
	height: number;
}

function stampOf(thing: Mark, sight: Sight, colours: Colours, ratio: number, across: number): Stamp {
	const around = isStray(thing) || thing.snag ? AROUND.wrong : AROUND.plain;
	const canvas = new OffscreenCanvas(2 * around * ratio, 2 * around * ratio);
	const inside = canvas.getContext('2d', { willReadFrequently: true })!;
	inside.setTransform(ratio, 0, 0, ratio, 0, 0);
	const middle = { ...sight, left: around, top: around, scale: 0 };
	drawMark(inside, middle, { ...thing, angle: null, x: 0, y: 0 }, colours, SMALL);
	const { width, height } = canvas;
	const pixels = new Int32Array(inside.getImageData(0, 0, width, height).data.buffer);
	const isSolid = (at: number) => pixels[at]! >>> 24 === 255;
	const solid = [...pixels.keys()].filter(isSolid);
	const filled = [...solid, ...[...pixels.keys()].filter((at) => pixels[at]! >>> 24 > 0 && !isSolid(at))];
	const right = Int16Array.from(filled, (at) => (at % width) - (width >> 1));
	const down = Int16Array.from(filled, (at) => Math.floor(at / width) - (height >> 1));
	return {
		right,
		down,
		colour: Int32Array.from(filled, (at) => pixels[at]!),
		solid: solid.length,
		away: Int32Array.from(filled, (_, nth) => down[nth]! * across + right[nth]!),
		around: Math.ceil(around * ratio) + 1
	};
}

/**
 * One pixel over another that nothing shines through (Porter and Duff's “over”, 1984), in whole numbers, two colours at
 * once; alpha is in the highest byte.
 */
function over(above: number, below: number): number {
	const alpha = (above >>> 24) + (above >>> 31);
	const rest = 256 - alpha;
	const outer = ((above & 0xff00ff) * alpha + (below & 0xff00ff) * rest) >>> 8;
	const inner = ((above & 0xff00) * alpha + (below & 0xff00) * rest) >>> 8;
	return (outer & 0xff00ff) | (inner & 0xff00) | (255 << 24);
}

/** Lays a stamp over a picture, around a pixel from which all of it is inside. */
function stampInside(pixels: Int32Array, { colour, away, solid }: Stamp, middle: number): void {
	for (let nth = 0; nth < solid; nth++) pixels[middle + away[nth]!] = colour[nth]!;
	for (let nth = solid; nth < colour.length; nth++) {
		const at = middle + away[nth]!;
		pixels[at] = over(colour[nth]!, pixels[at]!);
	}
}

/** Lays a stamp over a picture, around a pixel. What would be outside of it is left out. */
function stamp({ colours, width, height }: Pixels, mark: Stamp, x: number, y: number): void {
	const { right, down, colour, solid, around } = mark;
	if (x >= around && y >= around && x < width - around && y < height - around)
		return stampInside(colours, mark, y * width + x);
	for (let nth = 0; nth < colour.length; nth++) {
		const column = x + right[nth]!;
		const row = y + down[nth]!;
		if (column < 0 || row < 0 || column >= width || row >= height) continue;
		const at = row * width + column;
		colours[at] = nth < solid ? colour[nth]! : over(colour[nth]!, colours[at]!);
	}
}

/**
 * Small marks: each sort of mark is drawn once, and its pixels are laid over the picture from then on, which is faster
 * than having the canvas copy each.
 */
function stampMarks(context: Canvas, sight: Sight, things: readonly Mark[], colours: Colours): void {
	const { canvas } = context;
	const ratio = context.getTransform().a;
	const { width, height } = canvas;
	const picture = context.getImageData(0, 0, width, height);
	const pixels: Pixels = { colours: new Int32Array(picture.data.buffer), width, height };
	const stamps: (Stamp | undefined)[] = [];
	for (const thing of things) {
		const { mine, snag, kind } = thing;
		const sort = kind.nth * 8 + (mine ? 1 : 0) + (isStray(thing) ? 2 : 0) + (snag ? 4 : 0);
		const mark = (stamps[sort] ??= stampOf(thing, sight, colours, ratio, width));
		const x = Math.round(across(sight, thing.x) * ratio);
		const y = Math.round(along(sight, thing.y) * ratio);
		stamp(pixels, mark, x, y);
	}
	context.putImageData(picture, 0, 0);
}

/** The size of a ground: columns and rows. */
export const sizeOf = (ground: readonly (readonly number[])[] | null): [number, number] => [
	ground?.[0]?.length ?? 0,
	ground?.length ?? 0
];
