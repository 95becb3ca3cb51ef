// In which order layers can be loaded: what they demand of each other, and what their records need.
import { isGame, isOn, layerIdentity, type Layer, type Stack } from '../stack';
import { recordAt, rowAt, type Links } from '../links';

/** Why one layer has to come after another. */
export interface Demand {
	/** The layer that comes first, and the one that comes after it. */
	first: Layer;
	then: Layer;
	because: string;
}

/** An order that works, or why none does. */
export interface LoadOrder {
	/** As near to the present one as the demands allow; the game first. */
	order: Layer[];
	demands: Demand[];
	/** Demands that contradict each other, and mods that are demanded and not there. */
	impossible: { message: string; layers: Layer[] }[];
}

/** What the mods say of each other in their own files. */
function demandsSaid(stack: Stack): { demands: Demand[]; missing: LoadOrder['impossible'] } {
	const demands: Demand[] = [];
	const missing: LoadOrder['impossible'] = [];
	const mods = stack.layers.filter((layer) => !isGame(layer) && isOn(layer));
	const known = new Map<string, Layer>();
	for (const layer of mods)
		for (const name of [layer.title, layerIdentity(stack, layer).title, layerIdentity(stack, layer).name])
			if (name !== undefined) known.set(name, layer);
	for (const layer of mods) {
		const { requires = [], after = [], notWith = [] } = layerIdentity(stack, layer);
		for (const name of requires) {
			const first = known.get(name);
			if (first) demands.push({ first, then: layer, because: `${layer.title} requires ${first.title}` });
			else
				missing.push({
					message: `${layer.title} requires “${name}”, which is not among the layers.`,
					layers: [layer]
				});
		}
		for (const name of notWith) {
			const other = known.get(name);
			if (other)
				missing.push({
					message: `${layer.title} does not work together with ${other.title}. Switch one of them off.`,
					layers: [layer, other]
				});
		}
		for (const name of after) {
			const first = known.get(name);
			if (first)
				demands.push({ first, then: layer, because: `${layer.title} has to be loaded after ${first.title}` });
		}
	}
	return { demands, missing };
}

/** By place of a record: the first layer that has it, by its number; -1 for what the game has. Null where it has all. */
function firstLayers({ stack, starts, places }: Links, order: ReadonlyMap<Layer, number>): Int32Array | null {
	let firsts: Int32Array | null = null;
	for (const [kind, { rows, files, count }] of stack.tables) {
		if (files.every(({ layer }) => isGame(layer))) continue;
		firsts ??= new Int32Array(places).fill(-1);
		const start = starts.get(kind)!;
		for (let row = 0; row < count; row++) {
			// Files are in the order of their layers.
			const { layer } = files[rows.file[rows.firsts[row]!]!]!;
			if (!isGame(layer)) firsts[start + row] = order.get(layer)!;
		}
	}
	return firsts;
}

/** What records need: a record may only refer to what is loaded before it, or with it. */
function demandsOfRecords(links: Links): Demand[] {
	const { stack, strands } = links;
	const order = new Map(stack.layers.map((layer, nth) => [layer, nth]));
	const firsts = firstLayers(links, order);
	if (!firsts) return [];
	const counts = new Map<string, Demand & { count: number }>();
	for (const strand of strands) {
		const { table, text, to, sure } = strand;
		if (text || sure < 0.9) continue;
		for (let entry = 0; entry < to.length; entry++) {
			const needed = to[entry]! < 0 ? -1 : firsts[to[entry]!]!;
			if (needed < 0) continue;
			const last = table.rows.firsts[rowAt(strand, entry) + 1]! - 1;
			const { layer } = table.files[table.rows.file[last]!]!;
			if (isGame(layer) || order.get(layer) === needed) continue;
			const first = stack.layers[needed]!;
			const key = `${first.id}\n${layer.id}`;
			const known = counts.get(key);
			if (known) known.count++;
			else {
				const { id } = recordAt(links, to[entry]!);
				const because = `${layer.title} refers to ${id}, which only ${first.title} has`;
				counts.set(key, { first, then: layer, because, count: 1 });
			}
		}
	}
	return [...counts.values()].map(({ count, because, ...demand }) => ({
		...demand,
		because: count > 1 ? `${because}, and to ${count - 1} more of its records` : because
	}));
}

/** The shortest circle of demands among layers that cannot be ordered. */
function shortestCircle(left: ReadonlySet<Layer>, demands: readonly Demand[]): Demand[] {
	let best: Demand[] | null = null;
	for (const start of left) {
		// Breadth first from a layer back to itself.
		const way = new Map<Layer, Demand>();
		const open: Layer[] = [start];
		let closed: Demand | null = null;
		while (open.length > 0 && !closed) {
			const at = open.shift()!;
			for (const demand of demands) {
				if (demand.first !== at || !left.has(demand.then)) continue;
				if (demand.then === start) {
					closed = demand;
					way.set(start, demand);
					break;
				}
				if (way.has(demand.then)) continue;
				way.set(demand.then, demand);
				open.push(demand.then);
			}
		}
		if (!closed) continue;
		const circle: Demand[] = [];
		let at = start;
		do {
			const demand = way.get(at)!;
			circle.unshift(demand);
			at = demand.first;
		} while (at !== start);
		if (!best || circle.length < best.length) best = circle;
	}
	return best ?? [];
}

/**
 * The order that satisfies all demands and is nearest to the present one (Kahn 1962, always the first layer that can be
 * next). Where demands contradict each other, the smallest circle of them is named, and its last one is left out.
 */
export function orderOf(stack: Stack, links: Links): LoadOrder {
	const { demands: said, missing } = demandsSaid(stack);
	const demands = [...said, ...demandsOfRecords(links)];
	const impossible = [...missing];
	let counting = demands;
	for (;;) {
		const order: Layer[] = [];
		const left = new Set(stack.layers);
		while (left.size > 0) {
			const next = [...left].find(
				(layer) => isGame(layer) || !counting.some(({ first, then }) => then === layer && left.has(first))
			);
			if (!next) break;
			left.delete(next);
			order.push(next);
		}
		if (left.size === 0) return { order, demands, impossible };
		const circle = shortestCircle(left, counting);
		impossible.push({
			message: `No order works: ${circle.map(({ because }) => because).join(', but ')}.`,
			layers: [...new Set(circle.flatMap(({ first, then }) => [first, then]))]
		});
		// What was only needed by records goes before what a mod says of itself.
		const out = circle.find((demand) => !said.includes(demand)) ?? circle.at(-1)!;
		counting = counting.filter((demand) => demand !== out);
	}
}
