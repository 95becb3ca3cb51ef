import { Growing, inOneGo } from '../gather';
import type { Document, DocumentPart, FormatId, Habit, Layout, Problem, Scalar, TakeField } from '../formats';
import { lineAt, type Eol } from '../text';
import type { Pool } from './pool';
import { firstOf } from './read';

/** How the letters of a file are read, as it is shown beside it. */
export interface Letters {
	encoding: string;
	bom: boolean;
	eol: Eol;
	told: string;
	confidence: number;
}

/** The records of one kind in a file of several: from `first` up to the next part's. */
export interface FactsPart {
	/** Its number among the parts that were asked for. */
	spec: number;
	first: number;
	key: string | null;
	keyParts?: readonly string[];
	at: string | null | undefined;
	/** What the one record of a file leaves out; see `ReadHints.except`. */
	except?: readonly string[];
	/** The word that its records are under. */
	element?: string;
}

/** What all facts of a file have, whatever its texts are numbers of. */
interface Shape {
	/** Null for texts that are no data: scripts and read-mes, of which only the lines are known. */
	format: FormatId | null;
	/** How it is to be read, where that was detected from what is in it and not from its path. */
	told?: { format: FormatId; layout?: Layout } | undefined;
	/** Null for files of bytes. */
	letters: Letters | null;
	/** Name of the field that holds the ids; null where it is none. */
	key: string | null;
	/** The fields that name its records together; see `ReadHints.keyParts`. */
	keyParts?: readonly string[] | undefined;
	/** Where the records stand; see `Document.at`. */
	at: string | null | undefined;
	columns: string[];
	problems: Problem[];
	/** What it is written with that readers of its format may not take, with the first line of each. */
	habits: [Habit, number][];
	/** Where it holds records of several kinds: each part, in their order. */
	parts?: FactsPart[] | undefined;
	/** Records in the file; the n-th of them is meant by n from 0 below. */
	count: number;
	/** Text of the id of each, whether it is written, and its line from 1. */
	ids: Int32Array;
	written: Uint8Array;
	lines: Int32Array;
	/** Paths of fields as they occur together, and which of these each record has. */
	shapes: Int32Array[];
	shape: Int32Array;
	/** First cell of each record, and one number more; the cells of a record are in the order of its shape. */
	firsts: Int32Array;
	/** Text of each cell, and what it is in a format with types (see `kindOfScalar`). */
	values: Int32Array;
	types: Uint8Array;
	/** Pairs of record and text; triples of record, place in its shape, and text. */
	remarks: Int32Array;
	fieldRemarks: Int32Array;
	/** Records whose id an earlier one of the file has: pairs of both. */
	doubles: Int32Array;
	/** Pairs of line number and text, for scripts and texts that are no data. */
	prose: Int32Array;
}

/** The facts of one file with texts of its own: what a reading gives, wherever it runs. */
export interface LocalFacts extends Shape {
	texts: string[];
}

/** The facts of one file over the texts of a pool. */
export interface Facts extends Shape {
	pool: Pool;
}

/**
 * The same facts as an object of its own, in which some may be changed. All facts are made so, with everything in one
 * order: thousands are gone through, and objects of one shape are read fastest.
 */
export function copyFacts(facts: Omit<Facts, 'pool'>, pool: Pool): Facts {
	return {
		format: facts.format,
		told: facts.told,
		letters: facts.letters,
		key: facts.key,
		keyParts: facts.keyParts,
		at: facts.at,
		columns: facts.columns,
		problems: facts.problems,
		habits: facts.habits,
		parts: facts.parts,
		count: facts.count,
		ids: facts.ids,
		written: facts.written,
		lines: facts.lines,
		shapes: facts.shapes,
		shape: facts.shape,
		firsts: facts.firsts,
		values: facts.values,
		types: facts.types,
		remarks: facts.remarks,
		fieldRemarks: facts.fieldRemarks,
		doubles: facts.doubles,
		prose: facts.prose,
		pool
	};
}

const [NONE, NO_BYTES] = [new Int32Array(), new Uint8Array()];

/** Numbers as a list of four bytes each; most lists are empty, and are one. */
const numbersOf = (list: readonly number[]): Int32Array => (list.length === 0 ? NONE : Int32Array.from(list));

/** What a value is where the format has types: 0 text, 1 number, 2 truth, 3 nothing. */
export const kindOfScalar = (value: Scalar): number =>
	typeof value === 'string' ? 0 : typeof value === 'number' ? 1 : typeof value === 'boolean' ? 2 : 3;

/** The facts of a document, or of a text that is no data. `prose` gives line and text of what else can be found in it. */
export function factsOf(
	doc: Document | null,
	letters: Letters | null,
	prose: Iterable<readonly [number, string]> = []
): LocalFacts {
	const ids = new Map<string, number>([['', 0]]);
	const texts = [''];
	const textOf = (text: string) => {
		let id = ids.get(text);
		if (id === undefined) {
			ids.set(text, (id = texts.length));
			texts.push(text);
		}
		return id;
	};
	const records = doc?.records ?? [];
	const count = records.length;
	const parts = doc?.parts && partsOf(doc.parts);
	const begins = new Set(parts?.map(({ first }) => first));
	const facts: LocalFacts = {
		format: doc?.format ?? null,
		letters,
		key: doc?.key ?? null,
		...(doc?.hints.keyParts && !doc.parts ? { keyParts: doc.hints.keyParts } : {}),
		at: doc?.at,
		columns: doc?.columns ?? [],
		problems: doc?.problems ?? [],
		habits: [],
		...(parts ? { parts } : {}),
		count,
		ids: new Int32Array(count),
		written: new Uint8Array(count),
		lines: new Int32Array(count),
		shapes: [],
		shape: new Int32Array(count),
		firsts: new Int32Array(count + 1),
		values: NONE,
		types: NO_BYTES,
		remarks: NONE,
		fieldRemarks: NONE,
		doubles: NONE,
		prose: NONE,
		texts
	};
	const values = new Growing(new Int32Array(64));
	const types = new Growing(new Uint8Array(64));
	const remarks: number[] = [];
	const fieldRemarks: number[] = [];
	const doubles: number[] = [];
	const shapes = new Map<string, number>();
	const seen = new Map<number, number>();
	let paths: number[] = [];
	let last = -1;
	let same = 0;
	// Of the record that is being read: its number, its fields so far, and their paths where they are not those of the
	// record before it.
	let own = 0;
	let fields = 0;
	let others: number[] | null = null;
	const take: TakeField = (path, value, remark) => {
		if (others === null && (fields >= paths.length || texts[paths[fields]!] !== path))
			others = paths.slice(0, fields);
		others?.push(textOf(path));
		values.push(textOf(typeof value === 'string' ? value : String(value ?? '')));
		types.push(kindOfScalar(value));
		if (remark) fieldRemarks.push(own, fields, textOf(remark));
		fields++;
	};
	for (let nth = 0; nth < count; nth++) {
		const record = records[nth]!;
		// Ids are unique among the records of one kind.
		if (begins.has(nth)) seen.clear();
		const id = textOf(record.id);
		facts.ids[nth] = id;
		facts.written[nth] = record.idSpan === null ? 0 : 1;
		facts.lines[nth] = record.line;
		const first = seen.get(id);
		if (first === undefined) seen.set(id, nth);
		else doubles.push(nth, first);
		if (record.remark) remarks.push(nth, textOf(record.remark));
		own = nth;
		fields = 0;
		others = null;
		if (record.eachField) record.eachField(take);
		else for (const { path, value, remark } of record.fields) take(path, value, remark);
		if (last < 0 || others || fields < paths.length) {
			paths = others ?? paths.slice(0, fields);
			const name = paths.join(' ');
			const known = shapes.get(name);
			if (known === undefined) {
				last = facts.shapes.push(Int32Array.from(paths)) - 1;
				shapes.set(name, last);
				if (same === 0 && new Set(paths).size < paths.length) same = record.line;
			} else last = known;
		}
		facts.shape[nth] = last;
		facts.firsts[nth + 1] = values.at;
	}
	const lines: number[] = [];
	for (const [line, text] of prose) lines.push(line, textOf(text));
	facts.values = values.done;
	facts.types = types.done;
	facts.remarks = numbersOf(remarks);
	facts.fieldRemarks = numbersOf(fieldRemarks);
	facts.doubles = numbersOf(doubles);
	facts.prose = numbersOf(lines);
	if (doc) facts.habits = habitsOf(doc, same);
	return facts;
}

/** Formats in which a name that comes again is a mistake, and comments are not written everywhere. */
const NAMED_ONCE: readonly FormatId[] = ['json'];

/** What a file is written with; `same` is the line of a record that has a name twice, 0 for none. */
function habitsOf({ format, content, habits, lines }: Document, same: number): [Habit, number][] {
	const found = [...(habits ?? [])].map(([what, at]): [Habit, number] => [what, lineAt(lines, at)]);
	if (same > 0 && NAMED_ONCE.includes(format)) found.push(['same name', same]);
	if (typeof content !== 'string') return found;
	const tab = /^\t/m.exec(content);
	if (tab) found.push(['tab', lineAt(lines, tab.index)]);
	return found;
}

function partsOf(parts: readonly DocumentPart[]): FactsPart[] {
	let first = 0;
	return parts.map(({ spec, doc }) => {
		const { element, except, keyParts } = doc.hints;
		const part = {
			spec,
			first,
			key: doc.key,
			at: doc.at,
			...(keyParts === undefined ? {} : { keyParts }),
			...(except === undefined ? {} : { except }),
			...(element === undefined ? {} : { element })
		};
		first += doc.records.length;
		return part;
	});
}

const views = new WeakMap<Facts, Facts[]>();

/** Groups of `step` numbers, sorted by the first, which counts records: those of `[from, to)`, counted from 0. */
function within(list: Int32Array, step: number, from: number, to: number): Int32Array {
	if (list.length === 0) return NONE;
	const [first, last] = [firstOf(list, step, from), firstOf(list, step, to)];
	if (first === last) return NONE;
	const found = list.slice(first, last);
	for (let at = 0; at < found.length; at += step) found[at]! -= from;
	return found;
}

/** Lists of zeros, by their length: most parts hold few records, all of one shape. Nobody changes the facts of a part. */
const zeros: Int32Array[] = [];
const FEW = 256;

/** The shapes that some records have, and which each of them has. */
function shapesOf({ shapes, shape }: Facts, from: number, to: number): Pick<Facts, 'shapes' | 'shape'> {
	let end = from + 1;
	while (end < to && shape[end] === shape[from]) end++;
	if (end === to && end - from <= FEW) {
		const count = to - from;
		return { shapes: [shapes[shape[from]!] ?? NONE], shape: (zeros[count] ??= new Int32Array(count)) };
	}
	const used = new Map<number, number>();
	const own = shape.slice(from, to);
	own.forEach((nth, at) => {
		if (!used.has(nth)) used.set(nth, used.size);
		own[at] = used.get(nth)!;
	});
	return { shapes: [...used.keys()].map((nth) => shapes[nth] ?? new Int32Array()), shape: own };
}

/** The facts of each part of a file, in their order; those of the file where it has none. Made once for the same facts. */
export function partFacts(facts: Facts): readonly Facts[] {
	const { parts } = facts;
	if (!parts) return [facts];
	let known = views.get(facts);
	if (known) return known;
	known = parts.map(({ first: from, key, keyParts, at }, nth) => {
		const to = parts[nth + 1]?.first ?? facts.count;
		const doubles = within(facts.doubles, 2, from, to);
		for (let place = 1; place < doubles.length; place += 2) doubles[place]! -= from;
		const { shapes, shape } = shapesOf(facts, from, to);
		const part = copyFacts(facts, facts.pool);
		part.parts = undefined;
		part.key = key;
		part.keyParts = keyParts ?? facts.keyParts;
		part.at = at;
		part.count = to - from;
		part.ids = facts.ids.subarray(from, to);
		part.written = facts.written.subarray(from, to);
		part.lines = facts.lines.subarray(from, to);
		part.shapes = shapes;
		part.shape = shape;
		part.firsts = facts.firsts.subarray(from, to + 1);
		part.remarks = within(facts.remarks, 2, from, to);
		part.fieldRemarks = within(facts.fieldRemarks, 3, from, to);
		part.doubles = doubles;
		return part;
	});
	views.set(facts, known);
	return known;
}

/** Texts and values that are settled in one step. */
const SETTLED_AT_ONCE = 8000;

/**
 * Gives the numbers of some texts in a pool. Most are parts of the text of their file, and a part holds on to the whole
 * of it: those that are new to the pool become parts of one text that has nothing else.
 */
function settleTexts(texts: readonly string[], from: number, end: number, to: Int32Array, pool: Pool): void {
	const fresh: number[] = [];
	for (let at = from; at < end; at++) {
		to[at] = pool.find(texts[at]!);
		if (to[at]! < 0) fresh.push(at);
	}
	const all = fresh.map((at) => texts[at]!).join('');
	let begin = 0;
	for (const at of fresh) {
		const { length } = texts[at]!;
		to[at] = pool.of(all.slice(begin, (begin += length)));
	}
}

/** The facts over a pool, in steps, between which others may go first. The arrays of `local` are taken over and changed. */
export function* settleSteps(local: LocalFacts, pool: Pool): Generator<void, Facts> {
	const { texts } = local;
	const facts = copyFacts(local, pool);
	const to = new Int32Array(texts.length);
	for (let from = 0; from < texts.length; from += SETTLED_AT_ONCE) {
		if (from > 0) yield;
		settleTexts(texts, from, Math.min(texts.length, from + SETTLED_AT_ONCE), to, pool);
	}
	const all = (list: Int32Array, step = 1, from = 0) => {
		for (let at = from; at < list.length; at += step) list[at] = to[list[at]!]!;
	};
	all(facts.ids);
	facts.shapes.forEach((paths) => all(paths));
	facts.shapes = facts.shapes.map((paths) => pool.shape(paths));
	if (facts.values.length > SETTLED_AT_ONCE) yield;
	all(facts.values);
	if (facts.values.length > SETTLED_AT_ONCE) yield;
	all(facts.remarks, 2, 1);
	all(facts.fieldRemarks, 3, 2);
	all(facts.prose, 2, 1);
	return facts;
}

/** The same, in one go. */
export const settleFacts = (local: LocalFacts, pool: Pool): Facts => inOneGo(settleSteps(local, pool));
