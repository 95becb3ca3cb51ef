// A network of one-way links between points: what can be reached, the shortest way, and the link that would mend it.
import TinyQueue from 'tinyqueue';

/** A point by its name. */
export interface Point {
	id: string;
	x: number;
	y: number;
}

/** A link from a point to another; one that leads both ways is two. */
export interface Link {
	from: string;
	to: string;
	/** How wide or deep it is; null where nothing says so. */
	width: number | null;
}

export interface Network {
	points: ReadonlyMap<string, Point>;
	/** The links that leave a point, and those that lead to it. */
	out: ReadonlyMap<string, readonly Link[]>;
	into: ReadonlyMap<string, readonly Link[]>;
}

function by(links: readonly Link[], end: 'from' | 'to'): Map<string, Link[]> {
	const found = new Map<string, Link[]>();
	for (const link of links) {
		const list = found.get(link[end]);
		if (list) list.push(link);
		else found.set(link[end], [link]);
	}
	return found;
}

/** A network of points; links from or to what is no point of it are left out. */
export function networkOf(points: Iterable<Point>, links: Iterable<Link>): Network {
	const known = new Map([...points].map((point) => [point.id, point]));
	const whole = [...links].filter(({ from, to }) => known.has(from) && known.has(to));
	return { points: known, out: by(whole, 'from'), into: by(whole, 'to') };
}

/** All points that some can go to, or with `into` all that can come to them; they are among these. */
export function reached(network: Network, from: Iterable<string>, way: 'out' | 'into' = 'out'): Set<string> {
	const seen = new Set([...from].filter((id) => network.points.has(id)));
	const open = [...seen];
	for (let id = open.pop(); id !== undefined; id = open.pop())
		for (const link of network[way].get(id) ?? []) {
			const next = way === 'out' ? link.to : link.from;
			if (seen.has(next)) continue;
			seen.add(next);
			open.push(next);
		}
	return seen;
}

export const distance = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);

/** A way from one point to another. */
export interface Way {
	/** The points on it, the first and the last among them. */
	points: string[];
	/** In the units of the map. */
	length: number;
	/** The narrowest of its links that say how wide they are; null where none does. */
	narrowest: Link | null;
}

function narrowestOf(links: readonly Link[]): Link | null {
	let found: Link | null = null;
	for (const link of links)
		if (link.width !== null && (found === null || link.width < found.width!)) found = link;
	return found;
}

/** The shortest way from one point to another (Dijkstra 1959); null where there is none. */
export function shortestWay(network: Network, from: string, to: string): Way | null {
	const { points, out } = network;
	if (!points.has(from) || !points.has(to)) return null;
	const lengths = new Map([[from, 0]]);
	const came = new Map<string, Link>();
	const done = new Set<string>();
	const queue = new TinyQueue<[number, string]>([[0, from]], ([a], [b]) => a - b);
	for (let next = queue.pop(); next; next = queue.pop()) {
		const [length, id] = next;
		if (done.has(id)) continue;
		done.add(id);
		if (id === to) break;
		for (const link of out.get(id) ?? []) {
			const far = length + distance(points.get(id)!, points.get(link.to)!);
			if (far >= (lengths.get(link.to) ?? Infinity)) continue;
			lengths.set(link.to, far);
			came.set(link.to, link);
			queue.push([far, link.to]);
		}
	}
	if (!done.has(to)) return null;
	const links: Link[] = [];
	for (let id = to; id !== from; id = links[0]!.from) links.unshift(came.get(id)!);
	return {
		points: [from, ...links.map((link) => link.to)],
		length: lengths.get(to)!,
		narrowest: narrowestOf(links)
	};
}

/** The shortest new link that lets a point go to a goal; null where there is nothing to link. */
export function mendingLink(
	network: Network,
	from: string,
	goals: Iterable<string>
): { from: string; to: string; length: number } | null {
	const starts = reached(network, [from]);
	const ends = reached(network, goals, 'into');
	let best: { from: string; to: string; length: number } | null = null;
	for (const start of starts)
		for (const end of ends) {
			const length = distance(network.points.get(start)!, network.points.get(end)!);
			if (start !== end && (best === null || length < best.length)) best = { from: start, to: end, length };
		}
	return best;
}
