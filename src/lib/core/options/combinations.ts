// Which combinations of options are looked at: all of them where they are few, else so many that every pair is in one.
import { addTo } from '../gather';
import type { ModOption } from './schema';

/** The ids of the options that are chosen together, in their order. */
export type Combination = readonly string[];

/** Up to so many combinations, all are looked at. */
const FEW = 32;

/** What a player chooses: for each group and each option by itself, what there is to choose from; null for none. */
export function groupsOf(options: readonly ModOption[]): (string | null)[][] {
	const groups = new Map<string, (string | null)[]>();
	const free: (string | null)[][] = [];
	for (const { id, oneOf } of options)
		if (oneOf === null) free.push([null, id]);
		else addTo(groups, oneOf, id);
	return [...groups.values(), ...free];
}

function* product(groups: readonly (string | null)[][]): Generator<(string | null)[]> {
	if (groups.length === 0) {
		yield [];
		return;
	}
	const [first, ...rest] = groups;
	for (const choice of first!) for (const others of product(rest)) yield [choice, ...others];
}

const pairKey = (a: number, x: number, b: number, y: number) =>
	a < b ? `${a}.${x} ${b}.${y}` : `${b}.${y} ${a}.${x}`;

/**
 * Rows of levels in which every pair of levels of two factors occurs: a covering array of strength 2, built one row at a
 * time with the level that covers most (D. M. Cohen et al., “The AETG System”, 1997, without its random candidates).
 * @param sizes how many levels each factor has
 */
export function pairRows(sizes: readonly number[]): number[][] {
	const open = new Set<string>();
	for (let a = 0; a < sizes.length; a++)
		for (let b = a + 1; b < sizes.length; b++)
			for (let x = 0; x < sizes[a]!; x++) for (let y = 0; y < sizes[b]!; y++) open.add(pairKey(a, x, b, y));
	const rows: number[][] = [];
	while (open.size > 0) {
		const [first] = open;
		const row: (number | undefined)[] = sizes.map(() => undefined);
		for (const place of first!.split(' ')) {
			const [factor, level] = place.split('.').map(Number);
			row[factor!] = level;
		}
		for (let factor = 0; factor < sizes.length; factor++) {
			if (row[factor] !== undefined) continue;
			let [best, most] = [0, -1];
			for (let level = 0; level < sizes[factor]!; level++) {
				let count = 0;
				for (let other = 0; other < sizes.length; other++)
					if (row[other] !== undefined && open.has(pairKey(factor, level, other, row[other]!))) count++;
				if (count > most) [best, most] = [level, count];
			}
			row[factor] = best;
		}
		const whole = row as number[];
		for (let a = 0; a < sizes.length; a++)
			for (let b = a + 1; b < sizes.length; b++) open.delete(pairKey(a, whole[a]!, b, whole[b]!));
		rows.push(whole);
	}
	return rows;
}

/**
 * Combinations of options in which every option and every pair that can be chosen together occurs, nothing chosen where
 * that can be; all that there are where they are few.
 */
export function combinationsOf(options: readonly ModOption[]): Combination[] {
	const groups = groupsOf(options);
	const count = groups.reduce((all, { length }) => all * length, 1);
	const order = new Map(options.map(({ id }, nth) => [id, nth]));
	const chosen = (row: readonly (string | null)[]): Combination =>
		row.filter((id) => id !== null).sort((a, b) => order.get(a)! - order.get(b)!);
	if (count <= FEW) return [...product(groups)].map(chosen);
	const rows = pairRows(groups.map(({ length }) => length)).map((row) =>
		row.map((level, factor) => groups[factor]![level]!)
	);
	const standard = groups.map((levels) => (levels[0] === null ? null : levels[0]!));
	return [standard, ...rows].map(chosen);
}

/**
 * Sets of options that can be chosen together, so few that each option is in one: all that are on or off by themselves,
 * with the first of each group, then with the second, and so on.
 * @returns numbers of the options, in their order
 */
export function roundsOf(options: readonly ModOption[]): number[][] {
	const groups = new Map<string, number[]>();
	for (const [nth, { oneOf }] of options.entries()) if (oneOf !== null) addTo(groups, oneOf, nth);
	const rounds = Math.max(1, ...[...groups.values()].map(({ length }) => length));
	return Array.from({ length: rounds }, (_, round) =>
		options.flatMap(({ oneOf }, nth) => (oneOf === null || groups.get(oneOf)![round] === nth ? [nth] : []))
	);
}
