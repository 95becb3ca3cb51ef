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

/** Records that are looked at; of a sentence, those with its rarest words come first. */
const MOST_LOOKED_AT = 3000;
/** Likeness from which on a sentence helps. */
const ALIKE = 0.6;

/**
 * Sentences like one in the main language that are translated, the most similar first: by the share of words that both
 * have (Dice's coefficient).
 */
export function similarTexts(
	table: Table,
	{ key, source, main, code }: { key: string; source: string; main: string; code: string },
	most = 3
): Translated[] {
	const asked = wordsIn(source);
	if (asked.size === 0) return [];
	const found = new Map<string, Translated>();
	for (const { facts, language } of [...table.files, ...table.hidden]) {
		if (language !== undefined && language !== main) continue;
		const index = indexOf(facts, table.pool, language === undefined ? main : null);
		const byWord = [...asked].map((word) => index.get(word) ?? []).sort((a, b) => a.length - b.length);
		const seen = new Set<number>();
		for (const list of byWord) {
			if (seen.size >= MOST_LOOKED_AT) break;
			for (const nth of list) seen.add(nth);
		}
		for (const nth of seen) {
			const other = table.pool.at(facts.ids[nth]!);
			if (other === key || found.has(other)) continue;
			const record = table.byId.get(other);
			const [said, text] = [record?.value(main) ?? '', record?.value(code) ?? ''];
			if (said === '' || text === '') continue;
			const words = wordsIn(said);
			const both = [...words].filter((word) => asked.has(word)).length;
			const likeness = said === source ? 1 : Math.min(0.99, (2 * both) / (words.size + asked.size));
			if (likeness >= ALIKE) found.set(other, { key: other, source: said, text, likeness });
		}
	}
	// One and the same translation helps once.
	const texts = new Set<string>();
	return [...found.values()]
		.sort((a, b) => b.likeness - a.likeness || (a.key < b.key ? -1 : 1))
		.filter(({ text }) => !texts.has(text) && texts.add(text))
		.slice(0, most);
}
