import { recordAt, type Links } from '../links';
import { quoted, snagAt, type Rule } from './snag';

const known = new WeakMap<Int32Array, { to: Int32Array[]; circles: Map<number, number> }>();

/** Places from which a chain leads back to where it was, with the place it leads to; the same as long as no link changes. */
function circlesIn(links: Links, strands: Links['strands']): Map<number, number> {
	const [first] = strands;
	if (!first) return new Map();
	const old = known.get(first.to);
	if (old?.to.length === strands.length && strands.every(({ to }, at) => to === old.to[at]))
		return old.circles;
	const circles = findCircles(links, strands);
	known.set(first.to, { to: strands.map(({ to }) => to), circles });
	return circles;
}

function findCircles(links: Links, strands: Links['strands']): Map<number, number> {
	const next = (place: number): number[] =>
		strands.flatMap(({ table, to, rows }) => {
			const row = place - links.starts.get(table.kind)!;
			return rows === null && row >= 0 && row < table.count && to[row]! >= 0 ? [to[row]!] : [];
		});
	// Depth first; a place that is met again while it is open closes a circle.
	const state = new Map<number, 'open' | 'done'>();
	const circles = new Map<number, number>();
	const visit = (start: number) => {
		const path: { place: number; rest: number[] }[] = [{ place: start, rest: next(start) }];
		state.set(start, 'open');
		while (path.length > 0) {
			const top = path.at(-1)!;
			const to = top.rest.pop();
			if (to === undefined) {
				state.set(top.place, 'done');
				path.pop();
			} else if (state.get(to) === 'open') circles.set(top.place, to);
			else if (!state.has(to)) {
				state.set(to, 'open');
				path.push({ place: to, rest: next(to) });
			}
		}
	};
	for (const { table } of strands) {
		const start = links.starts.get(table.kind)!;
		for (let row = 0; row < table.count; row++) if (!state.has(start + row)) visit(start + row);
	}
	return circles;
}

/** References that should come to an end and lead back to where they began. */
export const endlessChain: Rule = {
	id: 'endless-chain',
	title: 'Endless chain',
	reads: ['records', 'links'],
	*find({ stack, links }) {
		const chains = new Set(
			Object.entries(stack.guide.kinds).flatMap(([kind, { fields }]) =>
				Object.entries(fields).flatMap(([path, { reference }]) =>
					reference?.ends ? [`${kind} ${path}`] : []
				)
			)
		);
		if (chains.size === 0) return;
		const strands = links.strands.filter(({ table, field }) => chains.has(`${table.kind} ${field}`));
		for (const [from, to] of circlesIn(links, strands)) {
			const record = recordAt(links, from);
			const presence = record.presences.at(-1)!;
			yield snagAt(stack, record, presence, {
				rule: 'endless-chain',
				severity: 'warns',
				message: `${quoted(record.id)} leads back to ${quoted(recordAt(links, to).id)} (line ${presence.line}). The game follows it forever.`,
				repairable: false
			});
		}
	}
};
