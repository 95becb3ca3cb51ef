import { recordAt, type Links } from '../links';
import { nameOf, type Stack, type Table } from '../stack';
import {
	cluesOf,
	fits,
	likeness,
	WEIGHTS,
	type Clue,
	type GivenName,
	type Wanted,
	type WantedWord
} from './clues';
import { fold, numberOf, wordsOf } from './fold';
import { answers, INSIDE, textsOfNumber, wordsWith, type Lexicon } from './lexicon';
import { namedHits } from './named';
import { ID, LINE, REMARK, type Occurrences } from './occurrences';

/** What a hit is. */
export type HitGroup = 'record' | 'text' | 'kind' | 'field' | 'meaning' | 'file' | 'folder' | 'line' | 'note';

/** One thing that was found, with what matched and why. */
export interface Hit {
	group: HitGroup;
	layer: string;
	file: string;
	line: number;
	kind: string | null;
	record: string | null;
	name: string | null;
	field: string | null;
	matched: string;
	reason: string;
	/** How many other records name this one. */
	uses: number;
	score: number;
}

/** Where to look, and how. */
export interface SearchOptions {
	kind?: string | undefined;
	/** Id of the layer of which the version that counts is. */
	layer?: string | undefined;
	/** Folder that the file is in, at any depth. */
	folder?: string | undefined;
	/** Code of the language in which it is said. */
	language?: string | undefined;
	format?: string | undefined;
	/** Only one group of hits. */
	group?: HitGroup | undefined;
	exactCase?: boolean | undefined;
	/** Whole words only. */
	whole?: boolean | undefined;
	/** The query is a pattern, see `fits`, for a whole value. */
	pattern?: boolean | undefined;
	most?: number | undefined;
	/** Nicknames and notes that people gave, by what they are on; see `addressOf`. */
	given?: readonly Given[] | undefined;
}

/** A nickname or note on something. */
export interface Given extends GivenName {
	on: { kind?: string; record?: string; field?: string; value?: string; file?: string; folder?: string };
	nickname: boolean;
}

/** What was found. `total` and the counts are of records; other groups are in `hits` alone, up to `most` of each. */
export interface Found {
	hits: Hit[];
	total: number;
	counts: {
		kind: Map<string, number>;
		layer: Map<string, number>;
		folder: Map<string, number>;
		format: Map<string, number>;
	};
}

/** Everything that can be found. Made from the stack; holds no state of its own. */
export interface SearchIndex {
	stack: Stack;
	links: Links;
	/** The texts that were there when it was built, and those that came later. */
	lexicons: Lexicon[];
	covered: Uint8Array;
	occurrences: Occurrences;
	/** Number of the table of each place. */
	tables: Table[];
	tableOf: Uint16Array;
	/** Scores of the search that runs, kept so that they are not made anew for each. */
	room: Room;
	lineRoom: Room;
}

/** Scores by place: of the word in hand, of all words so far, and how many of them matched. */
interface Room {
	now: Float32Array;
	sum: Float32Array;
	count: Uint8Array;
}

export const roomFor = (places: number): Room => ({
	now: new Float32Array(places),
	sum: new Float32Array(places),
	count: new Uint8Array(places)
});

/** One thing that each record has to have: a run of letters, or a number. */
interface Unit {
	part: string | null;
	/** The same run as it was typed. */
	typed: string;
	number: number;
	word: WantedWord;
}

/** Records that are looked at value by value; so few left are so for the words that are left, too. */
const CLOSE = 50;
/** Characters of texts in which few letters are looked for. */
const SHORT = 48;
/** Hits of each group that is not records. */
const OTHERS = 40;
/** What a record gets for a word that names its kind or one of its fields. */
const SOFT = 8;
/** What a record gets for being called exactly what was typed. */
const PHRASE = 20;

function wantedOf(
	query: string,
	{ exactCase = false, whole = false, pattern = false }: SearchOptions
): Wanted {
	const typed = query.trim();
	const parts = (pattern ? [typed] : typed.split(/\s+/)).filter((word) => word !== '');
	return {
		typed,
		phrase: fold(typed),
		words: parts.map((word) => {
			const folded = fold(word);
			return { typed: word, folded, parts: wordsOf(folded), number: numberOf(word) };
		}),
		exactCase,
		whole,
		pattern
	};
}

function unitsOf({ words, pattern }: Wanted): Unit[] {
	if (pattern) return words.map((word) => ({ part: null, typed: word.typed, number: NaN, word }));
	return words.flatMap((word): Unit[] => {
		const [only] = word.parts;
		if (!Number.isNaN(word.number))
			return [{ part: word.parts.length === 1 ? only! : null, typed: word.typed, number: word.number, word }];
		const typed = word.typed.split(/[^\p{L}\p{N}\p{M}]+/u).filter((part) => part !== '');
		return word.parts.map((part, at) => ({
			part,
			typed: typed.length === word.parts.length ? typed[at]! : '',
			number: numberOf(part),
			word
		}));
	});
}

/** The longest run of letters and digits that a pattern asks for. */
const longestRun = (pattern: string): string =>
	pattern
		.split(/[^\p{L}\p{N}]+/u)
		.sort((a, b) => b.length - a.length)
		.at(0) ?? '';

function* textsOfPattern(
	index: SearchIndex,
	word: WantedWord,
	exactCase: boolean
): Generator<[number, number]> {
	const { pool } = index.stack;
	const test = (text: number) =>
		exactCase ? fits(pool.at(text), word.typed) : fits(fold(pool.at(text)), word.folded);
	const run = longestRun(word.folded);
	if (run === '') {
		const { firsts } = index.occurrences;
		for (let text = 1; text < firsts.length - 1; text++)
			if (firsts[text + 1]! > firsts[text]! && test(text)) yield [text, 1];
		return;
	}
	const seen = new Set<number>();
	for (const lexicon of index.lexicons)
		for (const found of wordsWith(lexicon, run))
			for (let at = lexicon.firsts[found]!; at < lexicon.firsts[found + 1]!; at++) {
				const text = lexicon.texts[at]!;
				if (seen.has(text)) continue;
				seen.add(text);
				if (test(text)) yield [text, 1];
			}
}

/** Every text that answers a unit, with how well. A text may come several times. */
function* textsFor(
	index: SearchIndex,
	unit: Unit,
	wanted: Wanted
): Generator<[text: number, likeness: number]> {
	if (wanted.pattern) {
		yield* textsOfPattern(index, unit.word, wanted.exactCase);
		return;
	}
	const { pool } = index.stack;
	// One or two letters begin too many words: they count in names and values, not in long texts.
	const longest = unit.part !== null && unit.part.length <= 2 ? SHORT : Infinity;
	// So do three or four inside of words.
	const middling = unit.part !== null && unit.part.length <= 4 ? SHORT : longest;
	for (const lexicon of index.lexicons) {
		if (!Number.isNaN(unit.number)) for (const text of textsOfNumber(lexicon, unit.number)) yield [text, 1];
		if (unit.part === null) continue;
		for (const [word, likely] of answers(lexicon, unit.part, wanted))
			for (let at = lexicon.firsts[word]!; at < lexicon.firsts[word + 1]!; at++) {
				const text = lexicon.texts[at]!;
				// A number answers only as a number; digits inside other texts answer as words.
				if (!Number.isNaN(unit.number) && !Number.isNaN(pool.number(text))) continue;
				if (pool.at(text).length > (likely <= INSIDE ? middling : longest)) continue;
				if (wanted.exactCase && !pool.at(text).includes(unit.typed)) continue;
				yield [text, likely];
			}
	}
}

/** Kinds that a word names, and kinds with a field that it names, by the number of their table. */
function softly(index: SearchIndex, { folded }: WantedWord): { kinds: Set<number>; fields: Set<number> } {
	const kinds = new Set<number>();
	const fields = new Set<number>();
	index.tables.forEach(({ guide, kind, columns }, number) => {
		if ([kind, guide.title, guide.plural ?? ''].some((title) => fold(title) === folded)) kinds.add(number);
		else if (columns.some((path) => fold(guide.fields[path]?.title ?? path) === folded)) fields.add(number);
	});
	return { kinds, fields };
}

/** Scores all places for one unit; those that matched every unit before have `count` at `nth`. */
function scoreUnit(
	index: SearchIndex,
	unit: Unit,
	nth: number,
	alone: boolean,
	wanted: Wanted,
	options: SearchOptions
): { places: number[]; lines: number[] } {
	const { stack, links, occurrences, room, lineRoom, tables, tableOf } = index;
	const { firsts, marks } = occurrences;
	const { now, count } = room;
	const touched = { places: [] as number[], lines: [] as number[] };
	const language = options.language ? Math.max(0, occurrences.languages.indexOf(options.language)) : 0;
	const give = (place: number, score: number) => {
		if (count[place] !== nth || now[place]! >= score) return;
		if (now[place] === 0) touched.places.push(place);
		now[place] = score;
	};
	const words = stack.guide.words?.kind;
	const wordsTable = tables.findIndex((table) => table.kind === words);
	const length = unit.part?.length ?? unit.word.folded.length;
	for (const [text, likely] of textsFor(index, unit, wanted)) {
		const share = Math.min(1, length / stack.pool.at(text).length);
		const like = likely * (0.7 + 0.3 * share);
		for (let at = firsts[text]!; at < firsts[text + 1]!; at++) {
			const mark = marks[at]!;
			const what = mark & 3;
			const place = mark >>> 6;
			if (what === LINE) {
				if (lineRoom.count[place] !== nth || lineRoom.now[place]! >= like) continue;
				if (lineRoom.now[place] === 0) touched.lines.push(place);
				lineRoom.now[place] = like;
				continue;
			}
			if (language !== 0 && ((mark >>> 2) & 15) !== language) continue;
			const isText = tableOf[place] === wordsTable;
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
				for (let user = links.firsts[place]!; user < links.firsts[place + 1]!; user++) {
					const strand = links.strands[links.users[user * 2]!]!;
					if (!strand.text) continue;
					worn = true;
					give(
						links.starts.get(strand.table.kind)! + links.users[user * 2 + 1]!,
						like * (strand.name ? WEIGHTS.name : WEIGHTS.text)
					);
				}
			if (!worn || options.kind === words) give(place, like * WEIGHTS.value);
		}
	}
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

function settle({ now, sum, count }: Room, touched: number[], nth: number): number[] {
	for (const place of touched) {
		sum[place]! += now[place]!;
		now[place] = 0;
		count[place] = nth + 1;
	}
	return touched;
}

/** The best of many by score, best first: a cut by score classes, then a sort of the few that are left. */
function bestOf(places: number[], sum: Float32Array, most: number): number[] {
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

/** Which files of a table may be in the answer; null for all. */
function allowedFiles(
	table: Table,
	{ kind, layer, folder, format }: SearchOptions
): boolean[] | null | false {
	if (kind && table.kind !== kind) return false;
	if (!layer && !folder && !format) return null;
	return table.files.map(
		({ layer: own, file, facts }) =>
			(!layer || own.id === layer) &&
			(!folder || file.path.startsWith(`${folder}/`)) &&
			(!format || facts.format === format)
	);
}

/** The folder that a path is in at the first level; empty for the root. */
const topFolder = (path: string) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : '');

const more = (counts: Map<string, number>, key: string, by: number) =>
	counts.set(key, (counts.get(key) ?? 0) + by);

/** Those places that the narrowing leaves, counted. */
function narrowed(
	index: SearchIndex,
	places: number[],
	options: SearchOptions
): { places: number[] } & Omit<Found, 'hits'> {
	const allowed = index.tables.map((table) => allowedFiles(table, options));
	const perFile = index.tables.map((table) => new Int32Array(table.files.length));
	const starts = index.tables.map((table) => index.links.starts.get(table.kind)!);
	const left: number[] = [];
	for (const place of places) {
		const number = index.tableOf[place]!;
		const files = allowed[number]!;
		if (files === false) continue;
		const { rows } = index.tables[number]!;
		const file = rows.file[rows.firsts[place - starts[number]! + 1]! - 1]!;
		if (files !== null && !files[file]) continue;
		perFile[number]![file]!++;
		left.push(place);
	}
	const counts: Found['counts'] = { kind: new Map(), layer: new Map(), folder: new Map(), format: new Map() };
	index.tables.forEach((table, number) =>
		table.files.forEach(({ layer, file, facts }, at) => {
			const found = perFile[number]![at]!;
			if (found === 0) return;
			more(counts.kind, table.kind, found);
			more(counts.layer, layer.id, found);
			more(counts.folder, topFolder(file.path), found);
			more(counts.format, facts.format!, found);
		})
	);
	return { places: left, total: left.length, counts };
}

/** A record looked at closely: the clue that answers best and the score; null where a word has no answer in it. */
function closely(
	clues: Clue[],
	wanted: Wanted,
	language: string | undefined,
	soft: (word: WantedWord) => string | null
): { clue: Clue; score: number; named: string | null } | null {
	let score = 0;
	let best: { clue: Clue; value: number } | null = null;
	const answered: { field: string | null; value: number }[] = [];
	const named = new Set<string>();
	for (const word of wanted.words) {
		if (word.parts.length === 0 && !wanted.pattern) continue;
		let top = 0;
		for (const clue of clues) {
			if (language && clue.language !== language) continue;
			const value =
				likeness(clue, word, wanted) *
				clue.weight *
				(0.9 + 0.1 * Math.min(1, word.folded.length / clue.folded.length));
			if (value <= 0) continue;
			if (!best || value > best.value) best = { clue, value };
			if (clue.field !== null) answered.push({ field: clue.field, value });
			top = Math.max(top, value);
		}
		const field = soft(word);
		if (field !== null) {
			named.add(field);
			top = Math.max(top, SOFT);
		}
		if (top === 0) return null;
		score += top / wanted.words.length;
	}
	if (!best) return null;
	named.delete('');
	const asked = answered.find((answer) => answer.field !== null && named.has(answer.field));
	if (asked) score += 40;
	return { clue: best.clue, score, named: asked?.field ?? [...named][0] ?? null };
}

function recordHits(index: SearchIndex, places: number[], wanted: Wanted, options: SearchOptions): Hit[] {
	const { stack, links, room } = index;
	const words = stack.guide.words?.kind;
	const hits: Hit[] = [];
	const given = new Map<string, GivenName[]>();
	for (const entry of options.given ?? [])
		if (entry.on.record !== undefined && entry.on.field === undefined) {
			const key = `${entry.on.kind}/${entry.on.record}`;
			given.set(key, [...(given.get(key) ?? []), entry]);
		}
	for (const place of bestOf(places, room.sum, CLOSE)) {
		const record = recordAt(links, place);
		const { table } = record;
		const soft = (word: WantedWord) => {
			if (wanted.words.length < 2 || wanted.pattern) return null;
			if (
				[table.kind, table.guide.title, table.guide.plural ?? ''].some((title) => fold(title) === word.folded)
			)
				return '';
			return (
				table.columns.find((path) => fold(table.guide.fields[path]?.title ?? path) === word.folded) ?? null
			);
		};
		const clues = cluesOf(stack, record, given.get(`${record.kind}/${record.id}`));
		const found = closely(clues, wanted, options.language, soft);
		if (!found) continue;
		let { clue, score } = found;
		const exact = clues
			.filter((candidate) => candidate.folded === wanted.phrase)
			.sort((a, b) => b.weight - a.weight)[0];
		if (exact && (wanted.words.length > 1 || exact.weight >= clue.weight)) {
			clue = exact;
			score = Math.max(score, exact.weight) + PHRASE;
		}
		const winner = record.presences.at(-1)!;
		const presence = (clue.field && record.values.get(clue.field)?.presence) || winner;
		hits.push({
			group: record.kind === words ? 'text' : 'record',
			layer: presence.layer.id,
			file: presence.path,
			line: presence.line,
			kind: record.kind,
			record: record.id,
			name: nameOf(stack, record),
			// The field that was asked for by its name, where there is one, rather than the one that happened to match.
			field: found.named ?? clue.field,
			matched: clue.text,
			reason: clue.what,
			uses: links.uses[place]!,
			score: score + Math.min(links.uses[place]!, 20) / 100
		});
	}
	return hits.sort((a, b) => b.score - a.score || (a.record! < b.record! ? -1 : 1));
}

function lineHits(
	{ occurrences, lineRoom, stack }: SearchIndex,
	lines: number[],
	{ phrase, words }: Wanted,
	{ layer, folder }: SearchOptions
): Hit[] {
	const hits: Hit[] = [];
	for (const at of bestOf(lines, lineRoom.sum, OTHERS * 4)) {
		const line = occurrences.lines[at]!;
		if ((layer && line.layer !== layer) || (folder && !line.file.path.startsWith(`${folder}/`))) continue;
		const text = stack.pool.at(line.text);
		const folded = fold(text);
		if (words.length > 1 && !words.every((word) => word.parts.every((part) => folded.includes(part))))
			continue;
		hits.push({
			group: 'line',
			layer: line.layer,
			file: line.file.path,
			line: line.number,
			kind: null,
			record: null,
			name: null,
			field: null,
			matched: text,
			reason:
				line.file.facts?.format === 'lua' || /\.(lua|js|py|cs|sh|bat)$/i.test(line.file.path)
					? 'script'
					: 'text',
			uses: 0,
			score: lineRoom.sum[at]! * 10 + (folded.includes(phrase) ? 5 : 0)
		});
	}
	return hits.sort((a, b) => b.score - a.score).slice(0, OTHERS);
}

/**
 * Finds what answers all words, in any order: records by id, by the names and texts they wear in any language, by
 * values (numbers as numbers), remarks and meanings; lines of scripts and read-mes; kinds, fields, files, notes.
 * Best first: what is called so, then what begins so, then parts, then slips of the finger. First all texts are scored
 * by the lexicon, then the best records are looked at value by value.
 */
export function search(index: SearchIndex, query: string, options: SearchOptions = {}): Found {
	const wanted = wantedOf(query.slice(0, 400), options);
	const units = unitsOf(wanted).slice(0, 12);
	const { room, lineRoom } = index;
	for (const { now, sum, count } of [room, lineRoom]) {
		now.fill(0);
		sum.fill(0);
		count.fill(0);
	}
	// Long words first: they leave the fewest.
	units.sort((a, b) => (b.part?.length ?? 99) - (a.part?.length ?? 99));
	let places: number[] = [];
	let lines: number[] = [];
	let open = false;
	units.forEach((unit, nth) => {
		open ||= nth > 0 && places.length + lines.length <= CLOSE && !wanted.pattern;
		if (open) return;
		const touched = scoreUnit(index, unit, nth, units.length === 1, wanted, options);
		places = settle(room, touched.places, nth);
		lines = settle(lineRoom, touched.lines, nth);
	});
	let { places: left, ...counted } = narrowed(index, places, options);
	const only = (group: HitGroup) => !options.group || options.group === group;
	const records = recordHits(index, left, wanted, options);
	if (open && records.length < left.length) {
		// Only now is known which of the few have the other words, too.
		left = records.map(
			(hit) => index.links.starts.get(hit.kind!)! + index.stack.tables.get(hit.kind!)!.rowOf(hit.record!)
		);
		counted = narrowed(index, left, options);
	}
	const anywhere = !options.kind && !options.format && !options.language && units.length > 0;
	const others = [
		...(wanted.phrase === '' || options.kind || options.language ? [] : namedHits(index, wanted, options)),
		...(anywhere && only('line') ? lineHits(index, lines, wanted, options) : [])
	];
	const hits = [
		...records.filter((hit) => only(hit.group)).slice(0, options.most ?? 200),
		...others.filter((hit) => only(hit.group))
	];
	return { hits, ...counted };
}
