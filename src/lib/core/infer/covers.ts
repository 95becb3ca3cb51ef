// Records whose ranges tile an axis together: bands of an hour, a depth, a sea state.
import { largest, smallest } from '../gather';
import type { CoverGuide } from '../guide';
import { valueIn, type Facts } from '../facts';
import { finding, said } from './sure';
import type { Group } from './group';

/** Words for the lower and the upper end of a range. */
const ENDS: readonly [string, string][] = [
	['from', 'to'],
	['min', 'max'],
	['low', 'high'],
	['lower', 'upper'],
	['start', 'end'],
	['first', 'last'],
	['begin', 'end'],
	['since', 'until'],
	['after', 'before'],
	['[0]', '[1]']
];

/** Paths that may be the two ends of a range, detected by their names. */
export function endsIn(paths: readonly string[]): { from: string; to: string }[] {
	const there = new Set(paths);
	const found: { from: string; to: string }[] = [];
	for (const path of paths)
		for (const [low, high] of ENDS) {
			if (!path.endsWith(low) && !path.startsWith(`${low}_`)) continue;
			const to = path.endsWith(low)
				? path.slice(0, path.length - low.length) + high
				: high + path.slice(low.length);
			const boundary =
				low.startsWith('[') ||
				path === low ||
				/[_.-]|[a-z](?=[A-Z])/.test(path.at(-low.length - 1) ?? '_') ||
				path.startsWith(`${low}_`);
			if (boundary && there.has(to)) found.push({ from: path, to });
		}
	return found;
}

interface Span {
	from: number;
	to: number;
}

const numberAt = (facts: Facts, nth: number, path: string): number => {
	const value = valueIn(facts, nth, facts.pool.find(path));
	return value < 0 ? NaN : facts.pool.number(value);
};

/** Share of an axis that is covered exactly once by spans whose upper end is not part of them. */
function once(spans: readonly Span[]): { share: number; low: number; high: number; touching: number } {
	const sorted = spans.toSorted((a, b) => a.from - b.from || a.to - b.to);
	const low = sorted[0]!.from;
	const high = largest(sorted.map(({ to }) => to));
	const edges = [...new Set(sorted.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b);
	let covered = 0;
	for (let at = 1; at < edges.length; at++) {
		const [from, to] = [edges[at - 1]!, edges[at]!];
		if (sorted.filter((span) => span.from <= from && span.to >= to).length === 1) covered += to - from;
	}
	let touching = 0;
	for (let at = 1; at < sorted.length; at++) if (sorted[at]!.from === sorted[at - 1]!.to) touching++;
	return { share: high > low ? covered / (high - low) : 0, low, high, touching };
}

/** Share of the area of all rectangles that is covered once. */
function onceInPlane(rows: readonly (readonly [Span, Span])[]): number {
	const cuts = (axis: 0 | 1) =>
		[...new Set(rows.flatMap((row) => [row[axis].from, row[axis].to]))].sort((a, b) => a - b);
	const [xs, ys] = [cuts(0), cuts(1)];
	let [single, all] = [0, 0];
	for (let x = 1; x < xs.length; x++)
		for (let y = 1; y < ys.length; y++) {
			const area = (xs[x]! - xs[x - 1]!) * (ys[y]! - ys[y - 1]!);
			const over = rows.filter(
				([a, b]) => a.from <= xs[x - 1]! && a.to >= xs[x]! && b.from <= ys[y - 1]! && b.to >= ys[y]!
			).length;
			all += area;
			if (over === 1) single += area;
		}
	return all === 0 ? 0 : single / all;
}

/** Records in one set of rules beyond which nobody draws them by hand, and ranges that one of them has. */
const [MOST, MOST_RANGES] = [200, 100];
/** Ranges of which any two are looked at as sides of an area. */
const MOST_SIDES = 20;

/** The ranges that the records of a kind cover together; empty where they do not seem to. */
export function coversOf(group: Group): CoverGuide[] {
	if (group.sketch.count < 3 || group.sketch.count > MOST || group.texts) return [];
	const pool = group.files[0]!.facts.pool;
	const paths = new Set<string>();
	for (const { facts } of group.files)
		for (const shape of facts.shapes) for (const path of shape) paths.add(pool.at(path));
	const ends = endsIn([...paths]).filter(({ from }) => !/\[\d+\]\./.test(from));
	if (ends.length > MOST_RANGES) return [];
	const rows: { id: string; spans: (Span | null)[] }[] = [];
	for (const { facts } of group.files)
		for (let nth = 0; nth < facts.count; nth++)
			rows.push({
				id: pool.at(facts.ids[nth]!),
				spans: ends.map(({ from, to }) => {
					const span = { from: numberAt(facts, nth, from), to: numberAt(facts, nth, to) };
					return span.from < span.to ? span : null;
				})
			});
	const found: CoverGuide[] = [];
	const without = rows.filter(({ spans }) => spans.every((span) => span === null));
	const fallback = without.length === 1 ? { fallback: without[0]!.id } : {};
	const usable = ends.map((_, at) => rows.filter(({ spans }) => spans[at]).length >= 3);
	const sides = usable.filter(Boolean).length;
	for (let a = 0; a < ends.length; a++) {
		if (!usable[a]) continue;
		const spans = rows.flatMap((row) => row.spans[a] ?? []);
		const { share, low, high, touching } = once(spans);
		if (share >= 0.8 && touching >= (spans.length - 1) * 0.6) {
			found.push({
				axes: [{ ...ends[a]!, low, high }],
				...fallback,
				found: finding(
					0.6 + 0.35 * share,
					`${said(spans.length)} ranges cover ${said(Math.round(share * 100))} % of ${low} to ${high} exactly once.`
				)
			});
			continue;
		}
		for (let b = a + 1; b < ends.length && sides <= MOST_SIDES; b++) {
			if (!usable[b]) continue;
			const both = rows.flatMap((row): (readonly [Span, Span])[] => {
				const [x, y] = [row.spans[a], row.spans[b]];
				return x && y ? [[x, y]] : [];
			});
			if (both.length < 3) continue;
			const plane = onceInPlane(both);
			if (plane < 0.7) continue;
			const edge = (at: 0 | 1) => ({
				low: smallest(both.map((row) => row[at].from)),
				high: largest(both.map((row) => row[at].to))
			});
			found.push({
				axes: [
					{ ...ends[a]!, ...edge(0) },
					{ ...ends[b]!, ...edge(1) }
				],
				...fallback,
				found: finding(
					0.5 + 0.4 * plane,
					`${said(both.length)} ranges over two axes cover ${said(Math.round(plane * 100))} % of their field exactly once.`
				)
			});
		}
	}
	return found;
}
