import { derived, isChanged, isEditable, type LayerFile, type Stack, type Table } from '../stack';
import { openMarks, type PairMark } from '../text';
import { listed } from '../wording';
import {
	CURLY,
	gameHabits,
	gameTexts,
	languagesOf,
	sameRows,
	STRAIGHT,
	termFaults,
	unevenTags,
	usedRows,
	withoutApostrophes
} from '../words';
import { eachOfMyTexts, insteadOf } from './my-texts';
import { quoted, snagAt, type Rule } from './snag';

/** Texts of the game from which on it says something that none of them is written so. */
const ENOUGH = 20;
/** Texts of the game whose letters tell what its fonts hold. */
const ENOUGH_LETTERS = 200;
/** Spaces, and the letters and signs of ASCII, which every font has. */
const PLAIN = /[\s\x21-\x7e]/;
/** Writings of which fonts have all or nothing, while the texts of a game may have a part only. */
const WHOLE = [
	/\p{Script=Han}/u,
	/\p{Script=Hangul}/u,
	/\p{Script=Hiragana}/u,
	/\p{Script=Katakana}/u,
	/\p{Script=Thai}/u
];
/** Of a hundred texts of the game those that may be the same in two languages before nobody is told of one more. */
const OFTEN = 10;

/** A text with what closes its last mark at its end; null where it is not just that which is missing. */
function closedText(text: string, open: string, close: string): string | null {
	const often = (sign: string) => text.split(sign).length - 1;
	const missing = open === close ? often(open) % 2 === 1 : often(open) === often(close) + 1;
	return missing ? text + close : null;
}

/** Pairs of quotes that are not straight. */
const PAIRS = ['“”', '„“', '”“', '«»', '»«', '‹›', '「」', '『』', '‘’', '‚‘'];

/** A text with the quotes that the game's own texts have most; null where its straight ones are no pairs. */
function curledText(text: string, table: Table, code: string): string | null {
	const often = (sign: string) => text.split(sign).length - 1;
	if (often('"') === 0 || often('"') % 2 === 1) return null;
	const counts = derived(table, `quotes ${code}`, () => {
		const column = table.column(code);
		const found = PAIRS.map(() => 0);
		for (let row = 0; row < table.count; row++) {
			if (!(column[row]! > 0) || isChanged(table, row)) continue;
			const quotes = (table.pool.at(column[row]!).match(/[“”„«»‹›「」『』‘’‚]/gu) ?? []).slice(0, 2).join('');
			const at = PAIRS.indexOf(quotes);
			if (at >= 0) found[at]!++;
		}
		return found;
	});
	const most = Math.max(...counts);
	if (most === 0) return null;
	const [open = '', close = ''] = PAIRS[counts.indexOf(most)]!;
	let nth = 0;
	return text.replaceAll('"', () => (nth++ % 2 === 0 ? open : close));
}

/** Whether a text that is not mine leaves a mark open. */
const leavesOpen = (table: Table, mark: PairMark): boolean =>
	derived(table, `leaves open ${mark.open} ${mark.close}`, () =>
		gameTexts(table).some((text) => openMarks(text, [mark]).length > 0)
	);

/** A tag in a text of mine that opens and does not close, or the other way round, which the game's own never do. */
export const openTag: Rule = {
	id: 'open-tag',
	title: 'Tag without its other half',
	reads: ['records'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const { tags } = gameHabits(table).all;
			const markup = scene.stack.guide.markup ?? [];
			const written = markup.filter((mark) => 'open' in mark);
			const isWritten = (name: string) =>
				written.some(({ open }) => open === `<${name}>` || open === `[${name}]`);
			return function* (mine) {
				const { record, code, title, text, presence } = mine;
				for (const mark of openMarks(text, markup))
					yield snagAt(scene.stack, record, presence, {
						rule: 'open-tag',
						severity: leavesOpen(table, mark) ? 'note' : 'warns',
						field: code,
						message: `In the ${title} text ${quoted(record.id)}, ${quoted(mark.open)} is not closed${mark.open === mark.close ? '' : ` by ${quoted(mark.close)}, or the other way round`}. The game shows the mark as text, or draws what follows wrong (line ${presence.line}).`,
						...insteadOf(mine, closedText(text, mark.open, mark.close))
					});
				for (const name of unevenTags(text)) {
					if (isWritten(name)) continue;
					const use = tags.get(name);
					// A tag that the game itself leaves open needs no other half.
					if (use && use.uneven > 0) continue;
					yield snagAt(scene.stack, record, presence, {
						rule: 'open-tag',
						severity: use && use.texts >= ENOUGH ? 'warns' : 'note',
						field: code,
						message: `In the ${title} text ${quoted(record.id)}, the tag \`${name}\` is not opened and closed equally often. The game may draw what follows wrong, or show the tag as text (line ${presence.line}).`,
						...insteadOf(mine, closedText(text, `<${name}>`, `</${name}>`))
					});
				}
			};
		})
};

const lettersIn = new WeakMap<LayerFile, Set<string>>();

/** The letters of the game's font, by the file that the guide names; null where it names none, or the game has none such. */
function fontOf({ guide, layers }: Stack): { path: string; letters: ReadonlySet<string> } | null {
	const path = guide.words?.letters;
	const file =
		path === undefined ? undefined : layers.findLast(({ files }) => files.has(path))?.files.get(path);
	if (path === undefined || !file?.text) return null;
	let letters = lettersIn.get(file);
	if (!letters) lettersIn.set(file, (letters = new Set(file.text.text)));
	return { path, letters };
}

/** Characters in a text of mine that no text of the game has: its fonts may not have them either. */
export const oddLetter: Rule = {
	id: 'odd-letter',
	title: 'Character that the game may not have',
	reads: ['records', 'files'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const { all, by } = gameHabits(table);
			const font = fontOf(scene.stack);
			if (!font && all.texts < ENOUGH_LETTERS) return () => [];
			const whole = WHOLE.filter((script) => [...all.letters].some((letter) => script.test(letter)));
			const isKnown = (letter: string) =>
				PLAIN.test(letter) ||
				[letter, letter.toLowerCase(), letter.toUpperCase()].some((one) => all.letters.has(one)) ||
				whole.some((script) => script.test(letter));
			return function* ({ record, code, title, text, presence }) {
				const own = by.get(code);
				// Of these the rule on quotes speaks.
				const isQuote = (letter: string) => CURLY.test(letter) && own?.curly === 0 && own.straight >= ENOUGH;
				const isDrawn = font
					? (letter: string) => /\s/.test(letter) || font.letters.has(letter) || all.letters.has(letter)
					: (letter: string) => isKnown(letter) || isQuote(letter);
				const odd = [...new Set(text)].filter((letter) => !isDrawn(letter));
				if (odd.length === 0) return;
				const those = listed(odd.map((letter) => `“${letter}”`));
				yield snagAt(scene.stack, record, presence, {
					rule: 'odd-letter',
					severity: font ? 'warns' : 'note',
					field: code,
					message: font
						? `The ${title} text ${quoted(record.id)} has ${those}, which the game’s font does not have: players see a box. Its letters are in ${quoted(font.path)} (line ${presence.line}).`
						: `The ${title} text ${quoted(record.id)} has ${those}, which no text of the game has. Its font may lack ${odd.length === 1 ? 'it' : 'them'}: look at it in the game (line ${presence.line}).`,
					repairable: false
				});
			};
		})
};

/** Quotes in a text of mine that are not of the sort that the game's own texts have throughout. */
export const oddQuotes: Rule = {
	id: 'odd-quotes',
	title: 'Other quotes than in the game',
	reads: ['records'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const { by } = gameHabits(table);
			return function* (mine) {
				const { record, code, title, text, presence } = mine;
				const game = by.get(code);
				if (!game) return;
				const quotes = withoutApostrophes(text);
				const straight = game.straight === 0 && game.curly >= ENOUGH && STRAIGHT.test(quotes);
				const curly = game.curly === 0 && game.straight >= ENOUGH && CURLY.test(quotes);
				if (!straight && !curly) return;
				yield snagAt(scene.stack, record, presence, {
					rule: 'odd-quotes',
					severity: 'note',
					field: code,
					message: `The ${title} text ${quoted(record.id)} has ${straight ? 'straight quotes, where the game’s have curly ones' : 'curly quotes, where the game’s have straight ones'}. Players see the difference (line ${presence.line}).`,
					...insteadOf(mine, straight ? curledText(text, table, code) : null)
				});
			};
		})
};

/** The rows where a language says the same as the main one, if its texts are hardly ever the same; null where they often are. */
function sameWhereRare(table: Table, code: string, main: string): Int32Array | null {
	const [sources, own, same] = [table.column(main), table.column(code), sameRows(table, code, main)];
	let [both, alike] = [0, 0];
	for (let row = 0; row < own.length; row++) {
		if (own[row]! > 0 && sources[row]! > 0) both++;
		if (same[row]! > 0) alike++;
	}
	return code === main || both < ENOUGH || alike * 100 > both * OFTEN ? null : same;
}

/** A translation of mine that says the same as the main language, where hardly any other does. */
export const sameText: Rule = {
	id: 'same-text',
	title: 'Text not translated',
	reads: ['records'],
	find: (scene) =>
		eachOfMyTexts(scene, (table, main) => {
			const languages = languagesOf(scene.stack, table.kind) ?? {};
			const known = new Map<string, Int32Array | null>();
			return function* ({ record, row, code, title, presence }) {
				if (!known.has(code)) known.set(code, sameWhereRare(table, code, main));
				if (known.get(code)?.[row] !== 1) return;
				yield snagAt(scene.stack, record, presence, {
					rule: 'same-text',
					severity: 'note',
					field: code,
					message: `The ${title} text ${quoted(record.id)} is the same as in ${languages[main]} (line ${presence.line}).`,
					repairable: false
				});
			};
		})
};

/** A translation of mine that does not follow the terms of the project. */
export const againstTerm: Rule = {
	id: 'against-term',
	title: 'Term translated otherwise',
	reads: ['records'],
	find: (scene) =>
		eachOfMyTexts(scene, (table, main) => {
			const terms = scene.stack.guide.words?.terms ?? [];
			return function* ({ record, code, title, text, presence }) {
				if (code === main || terms.length === 0) return;
				for (const { source, wanted } of termFaults(record.value(main) ?? '', text, terms, main, code))
					yield snagAt(scene.stack, record, presence, {
						rule: 'against-term',
						severity: 'note',
						field: code,
						value: wanted,
						message: `“${source}” is “${wanted}” in ${title} by the terms of the project, and the text ${quoted(record.id)} does not say so (line ${presence.line}).`,
						repairable: false
					});
			};
		})
};

/** The keys of all texts that another layer than mine has, by what they are without capital letters. */
const otherKeys = (table: Table): Map<string, string> =>
	new Map(
		Array.from(table.rows.ids, (id, row): [string, string, number] => {
			const key = table.pool.at(id);
			return [key.toLowerCase(), key, row];
		})
			.filter(([, , row]) => table.record(row).presences.some(({ layer }) => !isEditable(layer)))
			.map(([lower, key]) => [lower, key])
	);

/** A text of mine that nothing uses, under a key that differs from one of the game only in capital letters. */
export const textCase: Rule = {
	id: 'text-case',
	title: 'Key that differs only in case',
	reads: ['records', 'links'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			let known: Map<string, string> | null = null;
			let used: Uint8Array | null = null;
			const told = new Set<number>();
			return function* ({ record, row, presence }) {
				if (told.has(row) || record.presences.some(({ layer }) => !isEditable(layer))) return;
				told.add(row);
				const other = (known ??= otherKeys(table)).get(record.id.toLowerCase());
				if (other === undefined || other === record.id) return;
				if ((used ??= usedRows(scene.links, table))[row] === 1) return;
				yield snagAt(scene.stack, record, presence, {
					rule: 'text-case',
					severity: 'note',
					field: null,
					message: `The key ${quoted(record.id)} differs from ${quoted(other)} of the game only in capital letters, and nothing is known to use it. Where the game tells them apart, it is never shown (line ${presence.line}).`,
					repairable: false
				});
			};
		})
};
