// What a map lies on: a grid of depths or heights, spread evenly over it.
import type { PlaceGuide } from '../guide';

/** Rows of numbers, the first at the top of the map. */
export interface Ground {
	rows: number[][];
	columns: number;
}

/** What the numbers across and along can be, and in which direction they grow. */
export type Extent = Pick<PlaceGuide, 'x' | 'y' | 'upwards'>;

/** A ground from its text: numbers with anything else between them, a line for each row. Null where it is none. */
export function groundFrom(text: string): Ground | null {
	const rows = text
		.split(/\r\n|\n|\r/)
		.map((line) => (line.replace(/#.*/, '').match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number))
		.filter((row) => row.length > 0);
	const columns = rows[0]?.length ?? 0;
	return columns > 0 && rows.every((row) => row.length === columns) ? { rows, columns } : null;
}

/** Where a place is on the map, from 0 at its left or top to 1. */
export function shareAt({ x: across, y: along, upwards }: Extent, x: number, y: number): [number, number] {
	const right = (x - across[0]) / (across[1] - across[0]);
	const down = (y - along[0]) / (along[1] - along[0]);
	return [right, upwards ? 1 - down : down];
}

/** The number at a place, between those of the grid by their distance (bilinear); null outside of the map. */
export function groundAt(ground: Ground, place: Extent, x: number, y: number): number | null {
	const [right, down] = shareAt(place, x, y);
	if (!(right >= 0 && right <= 1 && down >= 0 && down <= 1)) return null;
	const [column, row] = [right * (ground.columns - 1), down * (ground.rows.length - 1)];
	const [left, top] = [Math.floor(column), Math.floor(row)];
	const at = (nth: number, from: number) =>
		ground.rows[Math.min(nth, ground.rows.length - 1)]![Math.min(from, ground.columns - 1)]!;
	const [across, along] = [column - left, row - top];
	const upper = at(top, left) * (1 - across) + at(top, left + 1) * across;
	const lower = at(top + 1, left) * (1 - across) + at(top + 1, left + 1) * across;
	return upper * (1 - along) + lower * along;
}

/** Whether something at a depth or height is inside of the ground. */
export const isInGround = (place: PlaceGuide, ground: number, z: number): boolean =>
	place.ground?.says === 'depth' ? z > ground : z < ground;
