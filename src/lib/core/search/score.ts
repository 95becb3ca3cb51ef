// The first look at a query: all texts that answer are found, and the records and lines they are in are scored.
import { fieldOf, type KindGuide } from '../guide';
import type { Table } from '../stack';
import { fits, isPhrase, WEIGHTS, type Wanted, type WantedWord } from './clues';
import { fold } from './fold';
import { answers, hasWord, INSIDE, textsOfNumber, wordsWith } from './lexicon';
import { ID, LINE, NAME, REMARK } from './occurrences';
import { longestRun, type Unit } from './query';
import type { Room, SearchIndex, SearchOptions } from './types';

/** What a record gets for a word that names its kind or one of its fields. */
export const SOFT = 8;

/** What a record gets for having exactly what was typed, and for that of several words: more than any of them is worth by itself. */
export const [EXACT, PHRASE] = [20, 100];

/** Characters of texts in which few letters are looked for. */
const SHORT = 48;

/** Is told of a text that answers, and how well. A callback: there are many, and few are more than counted. */
type Take = (text: number, likeness: number) => void;

function textsOfPattern(index: SearchIndex, word: WantedWord, exactCase: boolean, take: Take): void {
	const { pool } = index.stack;
	const test = (text: number) =>
		exactCase ? fits(pool.at(text), word.typed) : fits(fold(pool.at(text)), word.folded);
	const run = longestRun(word.folded);
	if (run === '') {
		const { firsts } = index.occurrences;
		for (let text = 1; text < firsts.length - 1; text++)
			if (firsts[text + 1]! > firsts[text]! && test(text)) take(text, 1);
		return;
	}
	const seen = new Set<number>();
	for (const lexicon of index.lexicons)
		for (const found of wordsWith(lexicon, run))
			for (let at = lexicon.firsts[found]!; at < lexicon.firsts[found + 1]!; at++) {
				const text = lexicon.texts[at]!;
				if (seen.has(text)) continue;
				seen.add(text);
				if (test(text)) take(text, 1);
			}
}

/** Whether a number is in a text by itself, and not as a part of a longer one. */
function holdsNumber(text: string, typed: string): boolean {
	for (let at = text.indexOf(typed); at >= 0; at = text.indexOf(typed, at + 1))
		if (!/[\w.]/.test(text[at - 1] ?? ' ') && !/[\w]/.test(text[at + typed.length] ?? ' ')) return true;
	return false;
}

/** Texts, lines of scripts among them, in which a number of several parts stands, as `0.35` does. */
function textsWithNumber(
	index: SearchIndex,
	lexicon: SearchIndex['lexicons'][number],
	unit: Unit,
	take: Take
): void {
	const { pool } = index.stack;
	const part = unit.word.parts.reduce((longest, next) => (next.length > longest.length ? next : longest), '');
	if (part === '') return;
	for (const [word] of answers(lexicon, part, { whole: true, slipping: false }))
		for (let at = lexicon.firsts[word]!; at < lexicon.firsts[word + 1]!; at++) {
			const text = lexicon.texts[at]!;
			if (Number.isNaN(pool.number(text)) && holdsNumber(pool.at(text), unit.typed)) take(text, 1);
		}
}

/** Every text that answers a unit, with how well. A text may come several times. */
function textsFor(index: SearchIndex, unit: Unit, wanted: Wanted, take: Take): void {
	if (wanted.pattern) {
		textsOfPattern(index, unit.word, wanted.exactCase, take);
		return;
	}
	const { pool } = index.stack;
	const { lengths } = index.occurrences;
	const isNumber = !Number.isNaN(unit.number);
	// One or two letters begin too many words: they count in names and values, not in long texts.
	const longest = unit.part !== null && unit.part.length <= 2 ? SHORT : Infinity;
	// So do three or four inside of words.
	const middling = unit.part !== null && unit.part.length <= 4 ? SHORT : longest;
	// A word that any of the lexicons has was not a slip.
	const slipping = !index.lexicons.some((lexicon) => unit.part !== null && hasWord(lexicon, unit.part));
	for (const lexicon of index.lexicons) {
		if (isNumber) for (const text of textsOfNumber(lexicon, unit.number)) take(text, 1);
		if (isNumber && unit.part === null) textsWithNumber(index, lexicon, unit, take);
		if (unit.part === null) continue;
		for (const [word, likely] of answers(lexicon, unit.part, { whole: wanted.whole, slipping })) {
			const most = likely <= INSIDE ? middling : longest;
			for (let at = lexicon.firsts[word]!; at < lexicon.firsts[word + 1]!; at++) {
				const text = lexicon.texts[at]!;
				if (lengths[text]! > most) continue;
				// A number answers only as a number; digits inside other texts answer as words.
				if (isNumber && !Number.isNaN(pool.number(text))) continue;
				if (wanted.exactCase && !pool.at(text).includes(unit.typed)) continue;
				take(text, likely);
			}
		}
	}
}

const named = new WeakMap<readonly string[], { guide: KindGuide; titles: ReadonlySet<string> }>();

/** What the fields of a kind are called, in small letters. */
function titlesOf({ guide, columns }: Table): ReadonlySet<string> {
	const known = named.get(columns);
	if (known?.guide === guide) return known.titles;
	const titles = new Set(columns.map((path) => fold(fieldOf(guide, path)?.title ?? path)));
	named.set(columns, { guide, titles });
	return titles;
}

/** Kinds that a word names, and kinds with a field that it names, by the number of their table. */
function softly(index: SearchIndex, { folded }: WantedWord): { kinds: Set<number>; fields: Set<number> } {
	const kinds = new Set<number>();
	const fields = new Set<number>();
	index.tables.forEach((table, number) => {
		const { guide, kind } = table;
		if ([kind, guide.title, guide.plural ?? ''].some((title) => fold(title) === folded)) kinds.add(number);
		else if (titlesOf(table).has(folded)) fields.add(number);
	});
	return { kinds, fields };
}

/** Scores all places for one unit; those that matched every unit before have `count` at `nth`. */
export function scoreUnit(
	index: SearchIndex,
	unit: Unit,
	nth: number,
	alone: boolean,
	wanted: Wanted,
	options: SearchOptions
): { places: number[]; lines: number[] } {
	const { stack, links, occurrences, room, lineRoom, tables } = index;
	const { firsts: usersFrom, pairs } = links.users;
	const { firsts, marks, lengths } = occurrences;
	const { now, count } = room;
	const touched = { places: [] as number[], lines: [] as number[] };
	const language = options.language ? Math.max(0, occurrences.languages.indexOf(options.language)) : 0;
	let whole = 0;
	const give = (place: number, value: number) => {
		const score = value + whole;
		if (count[place] !== nth || now[place]! >= score) return;
		if (now[place] === 0) touched.places.push(place);
		now[place] = score;
	};
	const words = stack.guide.words?.kind;
	const textsFrom = (words !== undefined && links.starts.get(words)) || 0;
	const textsTo = textsFrom + (stack.tables.get(words ?? '')?.count ?? 0);
	const length = unit.part?.length ?? unit.word.folded.length;
	textsFor(index, unit, wanted, (text, likely) => {
		const share = Math.min(1, length / lengths[text]!);
		const like = likely * (0.7 + 0.3 * share);
		// What is all of the words and nothing else comes before what has each of them somewhere.
		whole =
			!alone && lengths[text] === wanted.phrase.length && isPhrase(fold(stack.pool.at(text)), wanted)
				? PHRASE
				: 0;
		for (let at = firsts[text]!; at < firsts[text + 1]!; at++) {
			const mark = marks[at]!;
			const what = mark & 7;
			const place = mark >>> 7;
			if (what === LINE) {
				if (lineRoom.count[place] !== nth || lineRoom.now[place]! >= like) continue;
				if (lineRoom.now[place] === 0) touched.lines.push(place);
				lineRoom.now[place] = like;
				continue;
			}
			if (language !== 0 && ((mark >>> 3) & 15) !== language) continue;
			const isText = place >= textsFrom && place < textsTo;
			if (what === ID) {
				give(place, like * (isText ? WEIGHTS.textId : WEIGHTS.id));
				continue;
			}
			if (what === REMARK) {
				give(place, like * WEIGHTS.remark);
				continue;
			}
			let worn = false;
			if (isText)
				for (let user = usersFrom[place]!; user < usersFrom[place + 1]!; user++) {
					const strand = links.strands[pairs[user * 2]!]!;
					// A text follows from the record, or a field has its key.
					if (!strand.text && !(strand.kinds.length === 1 && strand.kinds[0] === words)) continue;
					worn = true;
					give(
						links.starts.get(strand.table.kind)! + pairs[user * 2 + 1]!,
						like * (strand.name ? WEIGHTS.name : WEIGHTS.text)
					);
				}
			if (!worn || options.kind === words) give(place, like * (what === NAME ? WEIGHTS.name : WEIGHTS.value));
		}
	});
	whole = 0;
	for (const { text, on } of options.given ?? []) {
		if (on.kind === undefined || on.record === undefined || on.field !== undefined) continue;
		if (unit.part === null || !fold(text).includes(unit.part)) continue;
		const row = stack.tables.get(on.kind)?.rowOf(on.record) ?? -1;
		if (row >= 0)
			give(links.starts.get(on.kind)! + row, WEIGHTS.name * (fold(text) === wanted.phrase ? 1 : 0.8));
	}
	giveMeanings(index, unit, give);
	if (!alone && unit.part !== null && Number.isNaN(unit.number)) {
		const soft = softly(index, unit.word);
		tables.forEach((table, number) => {
			const score = soft.kinds.has(number) ? SOFT * 1.5 : soft.fields.has(number) ? SOFT : 0;
			if (score === 0) return;
			const start = links.starts.get(table.kind)!;
			for (let row = 0; row < table.count; row++) give(start + row, score);
		});
	}
	return touched;
}

/** Records by what their codes mean. */
function giveMeanings(
	index: SearchIndex,
	{ part }: Unit,
	give: (place: number, score: number) => void
): void {
	if (part === null || part.length < 3) return;
	for (const table of index.tables)
		for (const [path, { codes, type }] of Object.entries(table.guide.fields)) {
			if (!codes || type === 'flags') continue;
			for (const [code, meaning] of Object.entries(codes)) {
				if (!fold(meaning).includes(part)) continue;
				const value = index.stack.pool.find(code);
				const start = index.links.starts.get(table.kind)!;
				const column = table.column(path);
				for (let row = 0; row < column.length; row++)
					if (column[row] === value) give(start + row, WEIGHTS.meaning * 0.8);
			}
		}
}

/** Takes what the last search left out of a room. Until the next one has said what it used, that is not known. */
export function clear(room: Room): void {
	const { now, sum, count, used } = room;
	room.used = null;
	if (used === null || used.length > now.length / 16) for (const list of [now, sum, count]) list.fill(0);
	else for (const place of used) now[place] = sum[place] = count[place] = 0;
}

/** Adds the scores of a unit to those of the units before; returns the places that have them all. */
export function settle({ now, sum, count }: Room, touched: number[], nth: number): number[] {
	for (const place of touched) {
		sum[place]! += now[place]!;
		now[place] = 0;
		count[place] = nth + 1;
	}
	return touched;
}

/** The best of many by score, best first: a cut by score classes, then a sort of the few that are left. */
export function bestOf(places: number[], sum: Float32Array, most: number): number[] {
	if (places.length <= most) return places.sort((a, b) => sum[b]! - sum[a]! || a - b);
	const classes = new Int32Array(1024);
	let top = 0;
	for (const place of places) top = Math.max(top, sum[place]!);
	const classOf = (place: number) => Math.min(1023, Math.floor((sum[place]! / top) * 1023));
	for (const place of places) classes[classOf(place)]!++;
	let cut = 1023;
	for (let taken = 0; cut > 0; cut--) {
		taken += classes[cut]!;
		if (taken >= most) break;
	}
	const chosen: number[] = [];
	for (const place of places) if (classOf(place) >= cut) chosen.push(place);
	return chosen.sort((a, b) => sum[b]! - sum[a]! || a - b).slice(0, most);
}
