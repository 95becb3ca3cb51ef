// Columns that name records of several kinds: another field tells which, or nothing does.
import { pairsOf } from './columns';
import { likeness } from './likeness';
import type { Owners } from './owners';
import type { Column } from './sketch';
import { finding, said } from './sure';
import type { Group } from './group';
import {
	FEW,
	ALIKE,
	type FoundReference,
	type Match,
	type Value,
	valuesOf,
	isNear,
	kindOf,
	matches,
	surely,
	because
} from './match';

/** How often each value of a field that tells the kind is there, on average. */
const REPEATS = 3;

/** Another field of the record that decides which kind is meant. */
export function* decided(
	group: Group,
	column: Column,
	owners: Owners,
	enough: number
): Generator<void, FoundReference | null> {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (numeric || values.length < 2) return null;
	const some = values.filter(({ text }) => owners.of(text).length > 0);
	const known = some.reduce((sum, { count }) => sum + count, 0);
	if (known < cells * (enough - 0.05) || some.length < FEW) return null;
	const parent = column.path.slice(0, column.path.lastIndexOf('.') + 1);
	const deciders = [...group.sketch.columns.values()].filter(
		({ path, values: taken, filled }) =>
			path !== column.path &&
			path !== group.key &&
			path.slice(0, path.lastIndexOf('.') + 1) === parent &&
			taken.length >= 2 &&
			taken.length <= 16 &&
			filled >= column.filled * 0.9 &&
			// What is different in nearly every record tells any of them apart.
			filled >= taken.length * REPEATS
	);
	for (const decider of deciders) {
		yield;
		const byValue = new Map<number, { all: number; hits: Map<number, number>; ids: Set<number> }>();
		pairsOf(group, column.path, decider.path, (value, by) => {
			if (value === 0 || by === 0 || none.includes(owners.pool.at(value))) return undefined;
			let tally = byValue.get(by);
			if (!tally) byValue.set(by, (tally = { all: 0, hits: new Map(), ids: new Set() }));
			tally.all++;
			tally.ids.add(value);
			for (const nth of owners.of(value)) tally.hits.set(nth, (tally.hits.get(nth) ?? 0) + 1);
		});
		const kinds: Record<string, string> = {};
		let hits = 0;
		let all = 0;
		const nearness = (nth: number) => Number(isNear(group, owners.list[nth]!.group));
		for (const [by, tally] of byValue) {
			const word = owners.pool.at(by);
			const [first] = [...tally.hits].sort(
				(a, b) =>
					b[1] - a[1] ||
					likeness(word, owners.list[b[0]]!.group.names) - likeness(word, owners.list[a[0]]!.group.names) ||
					nearness(b[0]) - nearness(a[0])
			);
			all += tally.all;
			if (!first || first[1] < tally.all * 0.6) continue;
			hits += first[1];
			kinds[word] = kindOf(owners.list[first[0]]!);
		}
		if (hits < all * 0.85 || new Set(Object.values(kinds)).size < 2) continue;
		const pairs = Object.entries(kinds).map(([word, kind]) => `“${word}” means ${kind}`);
		return {
			kinds: [...new Set(Object.values(kinds))],
			none: none.filter((text) => text !== '-'),
			by: { field: decider.path, kinds },
			found: finding(
				surely({ distinct: some.length, cells: hits, like: ALIKE }, all),
				`${said(hits)} of ${said(all)} values are ids of the kind that ${decider.path} tells: ${pairs.slice(0, 6).join(', ')}.`
			)
		};
	}
	return union(group, column, owners, values, none, cells, enough);
}

/** Kinds that one field may name. */
const MOST_KINDS = 40;

/** Kinds that a column names without anything to tell which: as few as will do. */
function union(
	group: Group,
	column: Column,
	owners: Owners,
	values: readonly Value[],
	none: readonly string[],
	cells: number,
	enough: number
): FoundReference | null {
	let left = values;
	const kinds: Match[] = [];
	while (left.length > 0 && kinds.length < MOST_KINDS) {
		const list = matches(group, column.path, left, owners, owners.of).filter(
			({ ids, distinct }) =>
				distinct >= Math.max(kinds.length < 2 ? 4 : 2, left.length * 0.05) &&
				!ids.group.texts &&
				!ids.numeric &&
				ids.by === undefined
		);
		const match = list.sort(
			(a, b) => b.cells - a.cells || b.like - a.like || Number(b.near) - Number(a.near)
		)[0];
		if (!match) break;
		kinds.push(match);
		left = left.filter(({ text }) => !owners.of(text).includes(match.ids.nth));
	}
	const hits = cells - left.reduce((sum, { count }) => sum + count, 0);
	if (kinds.length < 2 || hits < cells * (enough + 0.05)) return null;
	return {
		kinds: kinds.map(({ ids }) => kindOf(ids)),
		none: none.filter((text) => text !== '-'),
		found: finding(
			surely({ distinct: values.length, cells: hits, like: 0 }, cells),
			because(
				owners,
				`ids of ${kinds.map(({ ids }) => kindOf(ids)).join(' or ')}`,
				hits,
				cells,
				left.map(({ text }) => text)
			)
		)
	};
}
