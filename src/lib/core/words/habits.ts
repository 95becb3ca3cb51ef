// How the game writes its own texts: what a text of a mod can be held against.
import type { Facts, Pool } from '../facts';
import { derived, isEditable, type Table } from '../stack';
import { tokensOf } from './tokens';

/** How often a tag opens or closes in texts, and in how many of these not both as often. */
interface TagUse {
	texts: number;
	uneven: number;
}

/** What is seen in texts of one language. */
interface Habits {
	texts: number;
	/** Texts with straight quotes, and with curly or angled ones. */
	straight: number;
	curly: number;
	tags: Map<string, TagUse>;
	/** Every character beyond ASCII. */
	letters: Set<string>;
}

const none = (): Habits => ({ texts: 0, straight: 0, curly: 0, tags: new Map(), letters: new Set() });

export const STRAIGHT = /["']/;
export const CURLY = /[“”„‟‘’‚‛«»‹›「」『』]/;
/** A straight sign between letters is an apostrophe more often than a quote. */
const APOSTROPHE = /(?<=\p{L})['’](?=\p{L})/gu;
export const withoutApostrophes = (text: string): string => text.replace(APOSTROPHE, '');

/** Tags that open and close in a text not equally often, by name; those of both sides. */
export function unevenTags(text: string): string[] {
	const tokens = tokensOf(text);
	if (!tokens) return [];
	const { opening, closing } = tokens;
	const often = (list: readonly string[], name: string) => list.filter((one) => one === name).length;
	return [...new Set([...opening, ...closing])].filter(
		(name) => often(opening, name) !== often(closing, name)
	);
}

const ASCII = '\x7f';
const BEYOND = /[^\x20-\x7f]/;

function hear(habits: Habits, text: string): void {
	habits.texts++;
	if (BEYOND.test(text)) for (const letter of text) if (letter > ASCII) habits.letters.add(letter);
	if (STRAIGHT.test(text) || CURLY.test(text)) {
		const quotes = withoutApostrophes(text);
		if (STRAIGHT.test(quotes)) habits.straight++;
		if (CURLY.test(quotes)) habits.curly++;
	}
	const tokens = tokensOf(text);
	if (!tokens) return;
	const uneven = new Set(unevenTags(text));
	for (const name of new Set([...tokens.opening, ...tokens.closing])) {
		const use = habits.tags.get(name) ?? { texts: 0, uneven: 0 };
		use.texts++;
		if (uneven.has(name)) use.uneven++;
		habits.tags.set(name, use);
	}
}

function join(into: Habits, one: Habits): void {
	into.texts += one.texts;
	into.straight += one.straight;
	into.curly += one.curly;
	for (const letter of one.letters) into.letters.add(letter);
	for (const [name, { texts, uneven }] of one.tags) {
		const use = into.tags.get(name) ?? { texts: 0, uneven: 0 };
		into.tags.set(name, { texts: use.texts + texts, uneven: use.uneven + uneven });
	}
}

const byFile = new WeakMap<Facts, Map<string, Habits>>();

/** What is in a file, by language; gone through once. @param language that of the file, where its name says it */
function habitsIn(facts: Facts, pool: Pool, language: string | undefined): Map<string, Habits> {
	const known = byFile.get(facts);
	if (known) return known;
	const found = new Map<string, Habits>();
	const { shapes, shape, firsts, values, count } = facts;
	for (let nth = 0; nth < count; nth++) {
		const paths = shapes[shape[nth]!] ?? [];
		for (let at = 0; at < paths.length; at++) {
			const code = language ?? pool.at(paths[at]!);
			let habits = found.get(code);
			if (!habits) found.set(code, (habits = none()));
			hear(habits, pool.at(values[firsts[nth]! + at]!));
		}
	}
	byFile.set(facts, found);
	return found;
}

/** How the texts of all layers but mine are written: in all languages together, and in each by its code. */
export const gameHabits = (table: Table): { all: Habits; by: ReadonlyMap<string, Habits> } =>
	derived(table, 'game habits', () => {
		const all = none();
		const by = new Map<string, Habits>();
		// What a file of mine stands in for is the game's too.
		for (const { facts, language, layer } of [...table.files, ...table.hidden]) {
			if (isEditable(layer)) continue;
			for (const [code, habits] of habitsIn(facts, table.pool, language)) {
				join(all, habits);
				if (!by.has(code)) by.set(code, none());
				join(by.get(code)!, habits);
			}
		}
		return { all, by };
	});

/** All texts that are not mine, in every language; each as often as it is there. */
export function gameTexts(table: Table): string[] {
	return [...table.files, ...table.hidden].flatMap(({ facts, layer }) =>
		isEditable(layer) ? [] : Array.from(facts.values, (text) => table.pool.at(text))
	);
}
