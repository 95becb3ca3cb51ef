import type { EffectiveRecord } from '../stack';
import { linksFrom, linksTo, placeOf, type Link, type Links } from './links';

/** A record in the neighbourhood of another: `far` steps away, below 0 for those that lead to it, above 0 for those it leads to. */
export interface Neighbour {
	place: number;
	record: EffectiveRecord;
	far: number;
}

/** Who names whom around a record. */
export interface Around {
	nodes: Neighbour[];
	/** Places of the two ends and the field by which the first names the second. */
	edges: { from: number; to: number; field: string }[];
	/** Whether there are more than were asked for. */
	more: boolean;
}

/**
 * The records that lead to a record and those that it leads to, up to `depth` steps each way and `most` records in all,
 * the nearest first. Texts are left out.
 */
export function linksAround(links: Links, record: EffectiveRecord, depth: number, most: number): Around {
	const start: Neighbour = { place: placeOf(links, record), record, far: 0 };
	const nodes = new Map([[start.place, start]]);
	const edges = new Map<string, Around['edges'][number]>();
	let more = false;
	const walk = (way: 1 | -1) => {
		let edge: Neighbour[] = [start];
		for (let far = 1; far <= depth; far++) {
			const next: Neighbour[] = [];
			for (const node of edge) {
				const list: Link[] =
					way < 0
						? linksTo(links, node.record, most * 2)
						: linksFrom(links, node.record).filter(({ to }) => to);
				for (const link of list) {
					if (link.text) continue;
					const other = way < 0 ? link.from : link.to!;
					const place = placeOf(links, other);
					if (!nodes.has(place)) {
						if (nodes.size >= most) {
							more = true;
							continue;
						}
						const found = { place, record: other, far: way * far };
						nodes.set(place, found);
						next.push(found);
					}
					const [from, to] = way < 0 ? [place, node.place] : [node.place, place];
					edges.set(`${from} ${to} ${link.field}`, { from, to, field: link.field });
				}
			}
			edge = next;
		}
	};
	walk(-1);
	walk(1);
	return { nodes: [...nodes.values()], edges: [...edges.values()], more };
}
