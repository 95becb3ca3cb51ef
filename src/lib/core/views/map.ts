// The map of a place, as it is drawn: everything that stands on it in columns, and what each kind can do.
import type { DayCount } from '../places';
import type { Named } from './named';

/** A kind of things on a map, with the fields that say where each stands. */
export interface MapKind {
	kind: string;
	title: string;
	plural: string;
	/** Its number among the kinds of the map, which decides on its shape. */
	nth: number;
	letter: string;
	fields: {
		x: string;
		y: string;
		z: string | null;
		angle: string | null;
		radius: string | null;
		to: string | null;
		both: string | null;
	};
	/** Digits behind the point of positions, and of heights. */
	decimals: number;
	heights: number;
	/** Whether records of it have ids of their own, so that a new one needs one. */
	keyed: boolean;
	/** What the field of what it leads to holds for an id: what is before and behind it. */
	reference: { before: string; after: string };
}

/** Everything on a map: the n-th of each column is the same thing. */
export interface MapThings {
	/** Number of its kind. */
	kind: number[];
	id: string[];
	name: (string | null)[];
	x: (number | null)[];
	y: (number | null)[];
	z: (number | null)[];
	angle: (number | null)[];
	radius: (number | null)[];
	amount: (number | null)[];
	from: (number | null)[];
	until: (number | null)[];
	to: (string | null)[];
	both: boolean[];
	mine: boolean[];
	/** Whether nothing leads from it to the goal, though things of its kind lead to each other. */
	cut: boolean[];
	snag: boolean[];
}

export interface MapView {
	version: number;
	kinds: MapKind[];
	things: MapThings;
	/** Rows of numbers, the first at the top. */
	ground: number[][] | null;
	goal: string | null;
	days: DayCount[];
}

/** A way on a map. */
export interface MapWay {
	points: string[];
	length: number;
	narrowest: { from: string; to: string; width: number } | null;
	/** Where there is no way: the shortest link that would make one. */
	mend: { from: string; to: string; length: number } | null;
}

export interface MapPage {
	maps: (Named & { kindTitle: string })[];
	map: Named & {
		x: [number, number];
		y: [number, number];
		upwards: boolean;
		unit: string;
		ground: { says: 'depth' | 'height'; unit: string } | null;
		days: { title: string; first: number; last: number; repeats: boolean } | null;
		hasGoal: boolean;
	};
}
