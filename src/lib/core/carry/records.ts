// Records that have another id in a new version, by how alike what they say is: rare values tell more than common ones.
import { pairedRows } from './paired';
import type { Table } from '../stack';
import { readerOf } from './fields';

/** A record that was given another id. */
export interface RecordRenamed {
	from: string;
	to: string;
	/** From 0 to 1. */
	sure: number;
}

/** How alike two records have to be, and how much more than any other. */
const ALIKE = 0.6;
const MARGIN = 0.1;
/** Records that have a value in common from which on it tells nothing. */
const COMMON = 60;
/** What an id that holds the other one adds. */
const NAMED = 0.25;

/** Whether one id is the other with something before or behind it. */
function holds(a: string, b: string): boolean {
	const [short, long] = a.length < b.length ? [a, b] : [b, a];
	return short.length >= 3 && (long.startsWith(short) || long.endsWith(short));
}

/**
 * Records that only the old version has, with those that only the new one has and that are most like them; each at most
 * once.
 * @param nameOf another name for a field of the old version
 * @param skip paths that tell nothing: the key, and what is made from it
 */
export function renamedRecords(
	old: Table,
	fresh: Table,
	nameOf: (path: string) => string,
	skip: ReadonlySet<string>
): RecordRenamed[] {
	const { gone, added } = pairedRows(old, fresh);
	if (gone.length === 0 || added.length === 0) return [];
	const [was, is] = [readerOf(old), readerOf(fresh)];
	const paths = old.columns.filter((path) => !skip.has(path) && fresh.columns.includes(nameOf(path)));
	/** Of each value of a field, the new records that have it. */
	const having = new Map<string, number[]>();
	for (const path of paths)
		for (const row of added) {
			const value = is(row, nameOf(path));
			if (value === undefined || value === '') continue;
			const key = `${path}\n${value}`;
			const list = having.get(key);
			if (list) list.push(row);
			else having.set(key, [row]);
		}
	const scores: { from: number; to: number; score: number }[] = [];
	for (const from of gone) {
		let all = 0;
		const alike = new Map<number, number>();
		for (const path of paths) {
			const value = was(from, path);
			if (value === undefined || value === '') continue;
			const list = having.get(`${path}\n${value}`) ?? [];
			const weight = 1 / Math.sqrt(Math.max(1, list.length));
			all += list.length === 0 ? 1 : weight;
			if (list.length > COMMON) continue;
			for (const to of list) alike.set(to, (alike.get(to) ?? 0) + weight);
		}
		const id = old.pool.at(old.rows.ids[from]!);
		const own = [...alike]
			.map(([to, sum]) => ({
				from,
				to,
				score: Math.min(1, sum / all + (holds(id, fresh.pool.at(fresh.rows.ids[to]!)) ? NAMED : 0))
			}))
			.sort((a, b) => b.score - a.score);
		const [best, second] = own;
		if (best && best.score >= ALIKE && best.score - (second?.score ?? 0) >= MARGIN) scores.push(best);
	}
	// Of two that would be the same new record, the one that is more like it.
	const taken = new Set<number>();
	return scores
		.sort((a, b) => b.score - a.score || a.from - b.from)
		.flatMap(({ from, to, score }) => {
			if (taken.has(to)) return [];
			taken.add(to);
			return [
				{
					from: old.pool.at(old.rows.ids[from]!),
					to: fresh.pool.at(fresh.rows.ids[to]!),
					sure: Math.round(score * 1000) / 1000
				}
			];
		});
}
