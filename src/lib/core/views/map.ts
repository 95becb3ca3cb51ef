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
	reference: Around;
	/** What is between the ids of all that it leads to, where one field names them; null where there is one for each. */
	between: string | null;
}

/** What is before and behind an id in a value. */
export interface Around {
	before: string;
	after: string;
}

/** A kind of records that lead from one thing to another. */
export interface MapLinkKind {
	kind: string;
	title: string;
	/** The number of the kind of what they lead between. */
	between: number;
	fields: { from: string; to: string; both: string | null };
	keyed: boolean;
	from: Around;
	to: Around;
	/** A record that a new one can be made like, with its two ends; null where there is none yet. */
	model: { id: string; from: string; to: string } | null;
}

/** Everything on a map: the n-th of each column is the same thing. A column that says nothing of anything is null. */
export interface MapThings {
	/** Number of its kind. */
	kind: number[];
	id: string[];
	name: (string | null)[] | null;
	x: (number | null)[];
	y: (number | null)[];
	z: (number | null)[] | null;
	angle: (number | null)[] | null;
	radius: (number | null)[] | null;
	amount: (number | null)[] | null;
	from: (number | null)[] | null;
	until: (number | null)[] | null;
	/** The numbers of those that are mine. */
	mine: number[];
	/** Of those from which nothing leads to the goal, and to which nothing leads from the start. */
	cut: number[];
	lost: number[];
	snag: number[];
}

/** Everything that leads from one thing to another: the n-th of each column is the same link. */
export interface MapLinks {
	/** The number of the kind of the things, and the ids of both ends. */
	between: number[];
	from: string[];
	to: string[];
	both: boolean[];
	/** The number of the kind of the record that says so among those of links; -1 where it is the thing that it leaves. */
	kind: number[];
	id: string[];
	/** The field that names what it leads to, what is written there, and from where to where in that the id is. */
	field: string[];
	value: string[];
	span: (readonly [number, number])[];
	mine: boolean[];
}

export interface MapView {
	version: number;
	kinds: MapKind[];
	linkKinds: MapLinkKind[];
	things: MapThings;
	links: MapLinks;
	/** Rows of numbers, the first at the top. */
	ground: number[][] | null;
	goal: string | null;
	start: string | null;
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
		/** Whether it is a record, with a ticket. */
		isRecord: boolean;
		/** How sure it is that this is a map, and why, where nobody said so. */
		found: { sure: number; because: string } | null;
		x: [number, number];
		y: [number, number];
		upwards: boolean;
		unit: string;
		ground: { says: 'depth' | 'height'; unit: string } | null;
		/** The picture that is drawn below everything: its layer and path. */
		picture: { layer: string; path: string } | null;
		days: { title: string; first: number; last: number; repeats: boolean } | null;
		hasGoal: boolean;
	};
}
