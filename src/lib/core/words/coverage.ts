// How far a game is said in each of its languages, in numbers.
import { inOneGo } from '../gather';
import {
	baseValueOf,
	changedRows,
	derived,
	isChanged,
	isEditable,
	numberRows,
	type Stack,
	type Table
} from '../stack';
import type { Pool } from '../facts';
import { againstTermRows } from './terms';
import { differencesOf, tokensOf, type Difference } from './tokens';

/** How far the texts are there in one language. */
export interface Coverage {
	/** The code, which is the field of a text, and what it is called. */
	code: string;
	title: string;
	/** Whether it is the one that names are shown in, by which the others are measured. */
	main: boolean;
	/** Texts that are there, and those that are not. */
	there: number;
	missing: number;
	/** Texts that have letters and are written as in the main language. */
	same: number;
	/** Texts with other placeholders, tags or spaces around them than in the main language. */
	unlike: number;
	/** Texts of which my mod changed the one in the main language, and not this one. */
	stale: number;
	/** Texts that do not follow the terms of the project. */
	terms: number;
	/** Texts that my mod writes. */
	mine: number;
}

/** The languages of a kind that holds texts, by the fields that they are in; null of any other kind. */
export const languagesOf = ({ guide }: Stack, kind: string): Readonly<Record<string, string>> | null =>
	guide.words?.kind === kind ? guide.words.languages : null;

/** The table of all texts; null where a game has none that are known as such. */
export const textTable = ({ guide, tables }: Stack): Table | null =>
	(guide.words && tables.get(guide.words.kind)) ?? null;

/** What each text of a pool holds besides its words, as a number: 0 where nobody looked yet, 1 for nothing. */
interface Signs {
	of: Int32Array;
	names: Map<string, number>;
}

const looked = new WeakMap<Pool, Signs>();

/** The same number for texts that differ in nothing but their words; each text is looked at once. */
function signOf(pool: Pool, text: number): number {
	let signs = looked.get(pool);
	if (!signs || signs.of.length <= text) {
		const of = new Int32Array(Math.max(pool.size, text + 1));
		if (signs) of.set(signs.of);
		looked.set(pool, (signs = { of, names: signs?.names ?? new Map<string, number>() }));
	}
	const known = signs.of[text]!;
	if (known > 0) return known;
	const tokens = tokensOf(pool.at(text));
	if (!tokens) return (signs.of[text] = 1);
	const { placeholders, opening, closing, before, after } = tokens;
	const name = JSON.stringify([placeholders.sort(), opening.sort(), closing.sort(), before, after]);
	if (!signs.names.has(name)) signs.names.set(name, signs.names.size + 2);
	return (signs.of[text] = signs.names.get(name)!);
}

/** In which ways a text is not like the same text in another field; none where one of both is empty. */
export function unlikeIn(table: Table, row: number, field: string, other: string): Difference[] {
	const { pool } = table;
	const [a, b] = [table.column(field)[row]!, table.column(other)[row]!];
	if (!(a > 0 && b > 0) || signOf(pool, a) === signOf(pool, b)) return [];
	return differencesOf(pool.at(a), pool.at(b));
}

const SORTS: readonly Difference['sort'][] = ['placeholders', 'tags', 'spaces'];

/** For each row the sorts in which its text in a field is not like that in another, one bit for each; -1 for none. */
export const unlikeRows = (table: Table, field: string, other: string): Int32Array =>
	numberRows(table, `unlike ${field} ${other}`, (row) => {
		const bits = unlikeIn(table, row, field, other).reduce(
			(all, { sort }) => all | (1 << SORTS.indexOf(sort)),
			0
		);
		return bits || -1;
	});

/** Rows with letters in a field that are written the same in another, each with 1; -1 for all others. */
export const sameRows = (table: Table, field: string, other: string): Int32Array =>
	numberRows(table, `same ${field} ${other}`, (row) => {
		const [a, b] = [table.column(field)[row]!, table.column(other)[row]!];
		return a > 0 && a === b && /\p{L}/u.test(table.pool.at(a)) ? 1 : -1;
	});

/**
 * Rows of which my mod changes the text in one language while another is still as it was before, each with 1; -1 for all
 * others. Where my mod writes both, nothing tells which it wrote first.
 * @param field the language that may lag behind
 */
export const staleRows = (table: Table, field: string, main: string): Int32Array =>
	derived(table, `stale ${field} ${main}`, () => {
		const found = new Int32Array(table.count).fill(-1);
		if (field === main) return found;
		for (const row of changedRows(table)) {
			const record = table.record(row);
			const [own, said] = [record.values.get(main), record.values.get(field)];
			if (!own || !said || !isEditable(own.presence.layer)) continue;
			const before = baseValueOf(record, main);
			if (before !== undefined && before !== own.value && said.value === baseValueOf(record, field))
				found[row] = 1;
		}
		return found;
	});

const count = (column: Int32Array, passes: (value: number) => boolean): number => {
	let found = 0;
	for (const value of column) if (passes(value)) found++;
	return found;
};

/** Pools of which every text was looked at. */
const lookedThrough = new WeakSet<Pool>();

/** Texts that are looked at between two breaths. */
const AT_ONCE = 500;

/** How far the texts of a game are there in each language, the main one first; in steps, between which others may go first. */
export function* coverageSteps(stack: Stack): Generator<void, Coverage[]> {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	if (!words || !table) return [];
	const codes = Object.keys(words.languages);
	// Once each text was looked at, those that are new since are few.
	if (!lookedThrough.has(table.pool)) {
		for (const code of codes) {
			const column = table.column(code);
			for (let row = 0; row < column.length; row++) {
				if (column[row]! > 0) signOf(table.pool, column[row]!);
				if (row % AT_ONCE === 0) yield;
			}
		}
		lookedThrough.add(table.pool);
	}
	const mine = changedRows(table).map((row) => table.record(row));
	const found: Coverage[] = [];
	for (const code of codes.sort((a, b) => Number(b === words.main) - Number(a === words.main))) {
		const main = code === words.main;
		const is = (value: number) => value > 0;
		const there = count(table.column(code), is);
		found.push({
			code,
			title: words.languages[code]!,
			main,
			there,
			missing: table.count - there,
			same: main ? 0 : count(sameRows(table, code, words.main), is),
			unlike: main ? 0 : count(unlikeRows(table, code, words.main), is),
			stale: main ? 0 : count(staleRows(table, code, words.main), is),
			terms: words.terms ? count(againstTermRows(table, code, words.main, words.terms), is) : 0,
			mine: mine.filter((record) => {
				const own = record.values.get(code);
				return own !== undefined && baseValueOf(record, code) !== own.value;
			}).length
		});
		yield;
	}
	return found;
}

/** The same, in one go. */
export const coverageOf = (stack: Stack): Coverage[] => inOneGo(coverageSteps(stack));

/**
 * How often the game's own texts in a language have what makes them unlike the main language, by sort, and how many are
 * there in both. What is mine does not count.
 */
export const gameUnlike = (
	table: Table,
	code: string,
	main: string
): { texts: number; by: Record<Difference['sort'], number> } =>
	derived(table, `game unlike ${code} ${main}`, () => {
		const found = { texts: 0, by: { placeholders: 0, tags: 0, spaces: 0 } };
		const [a, b, unlike] = [table.column(code), table.column(main), unlikeRows(table, code, main)];
		for (let row = 0; row < table.count; row++) {
			if (!(a[row]! > 0 && b[row]! > 0) || isChanged(table, row)) continue;
			found.texts++;
			if (unlike[row]! > 0) SORTS.forEach((sort, nth) => (found.by[sort] += (unlike[row]! >> nth) & 1));
		}
		return found;
	});
