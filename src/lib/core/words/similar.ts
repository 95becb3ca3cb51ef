// How the same or a similar sentence was translated before, in the game and in my mod.
import type { Facts, Pool } from '../facts';
import type { Table } from '../stack';

/** A sentence that was translated. */
export interface Translated {
	key: string;
	source: string;
	text: string;
	/** How much of it is the same, from 0 to 1. */
	likeness: number;
}

const WORD = /\p{Script=Han}|\p{Script=Hiragana}+|\p{Script=Katakana}+|[\p{L}\p{N}]+/gu;
const wordsIn = (text: string): Set<string> => new Set(text.toLowerCase().match(WORD) ?? []);

/** The records of a file by the words of their texts in a language. */
type Index = ReadonlyMap<string, readonly number[]>;

const known = new WeakMap<Facts, Map<string, Index>>();

/** The texts of a file in a language, by the number of the record; -1 for none. */
function* textsOf(facts: Facts, pool: Pool, field: string | null): Generator<[nth: number, text: number]> {
	const { shapes, shape, firsts, values, count } = facts;
	for (let nth = 0; nth < count; nth++) {
		const paths = shapes[shape[nth]!] ?? [];
		for (let at = 0; at < paths.length; at++)
			if (field === null || pool.at(paths[at]!) === field) {
				yield [nth, values[firsts[nth]! + at]!];
				break;
			}
	}
}

/** @param field that of the language, where languages are fields of one record */
function indexOf(facts: Facts, pool: Pool, field: string | null): Index {
	const name = field ?? '';
	let all = known.get(facts);
	if (!all) known.set(facts, (all = new Map()));
	const old = all.get(name);
	if (old) return old;
	const found = new Map<string, number[]>();
	for (const [nth, text] of textsOf(facts, pool, field))
		for (const word of wordsIn(pool.at(text))) {
			const list = found.get(word);
			if (list) list.push(nth);
			else found.set(word, [nth]);
		}
	all.set(name, found);
	return found;
}

/** Records of a file that are looked at; of a sentence, those with its rarest words come first. */
const MOST_LOOKED_AT = 400;
/** Likeness from which on a sentence helps. */
const ALIKE = 0.6;

/** Texts with a sentence like one in the main language, by the share of words that both have (Dice's coefficient). */
function alikeRows(table: Table, source: string, main: string): { row: number; likeness: number }[] {
	const asked = wordsIn(source);
	const { pool, rows } = table;
	const sources = table.column(main);
	const found: { row: number; likeness: number }[] = [];
	if (asked.size === 0) return found;
	// The same sentence is one text of the pool.
	const same = pool.find(source);
	for (let row = 0; row < sources.length; row++) if (sources[row] === same) found.push({ row, likeness: 1 });
	for (const [at, { facts, language }] of table.files.entries()) {
		if (language !== undefined && language !== main) continue;
		const index = indexOf(facts, pool, language === undefined ? main : null);
		const byWord = [...asked].map((word) => index.get(word) ?? []).sort((a, b) => a.length - b.length);
		const seen = new Set<number>();
		for (const list of byWord)
			for (const nth of list)
				if (seen.size < MOST_LOOKED_AT || seen.has(nth)) seen.add(nth);
				else break;
		for (const nth of seen) {
			const row = rows.rowsOf[at]![nth]!;
			if (row < 0 || !(sources[row]! > 0) || sources[row] === same) continue;
			const words = wordsIn(pool.at(sources[row]!));
			const both = [...words].filter((word) => asked.has(word)).length;
			const likeness = Math.min(0.99, (2 * both) / (words.size + asked.size));
			if (likeness >= ALIKE) found.push({ row, likeness });
		}
	}
	return found.sort((a, b) => b.likeness - a.likeness || a.row - b.row);
}

/**
 * Sentences like one in the main language that are translated, for each language, the most similar first. One and the
 * same translation is there once.
 */
export function similarTexts(
	table: Table,
	{ key, source, main, codes }: { key: string; source: string; main: string; codes: readonly string[] },
	most = 3
): Record<string, Translated[]> {
	const { pool, rows } = table;
	const alike = alikeRows(table, source, main);
	return Object.fromEntries(
		codes.map((code): [string, Translated[]] => {
			const texts = table.column(code);
			const found = new Map<string, Translated>();
			for (const { row, likeness } of alike) {
				const [other, text] = [pool.at(rows.ids[row]!), texts[row]! > 0 ? pool.at(texts[row]!) : ''];
				if (other !== key && text !== '' && !found.has(text))
					found.set(text, { key: other, source: pool.at(table.column(main)[row]!), text, likeness });
				if (found.size === most) break;
			}
			return [code, [...found.values()]];
		})
	);
}
