import { excerptAt, lineIndex, placeOf, type LineIndex } from '../text';
import type { Content, Splice } from '../change';
import { startOf, startTape, type Tape, type TapeWriter } from './tape';
import type { Layout } from './layout';

/** A format by its short name, as the registry has it. */
export type FormatId = string;

/** A value as the file has it: text, unless the format itself has types. */
export type Scalar = string | number | boolean | null;

/** One value of a record. `[from, to)` is exactly what a change of the value replaces, quotes included. */
export interface FieldNode {
	path: string;
	value: Scalar;
	from: number;
	to: number;
	/** Commentary that stands with the definition. */
	remark?: string;
}

/** What is called with the path of a field, its value and the commentary that stands with it. */
export type TakeField = (path: string, value: Scalar, remark?: string) => void;

/** One thing with an id. `[from, to)` holds it whole, with the commentary above it, without the line end behind it. */
export interface RecordNode {
	/** The written id, or `#1`, `#2`… by position where none is written. */
	readonly id: string;
	/** Where the id is written; null where it is not. */
	readonly idSpan: { from: number; to: number } | null;
	readonly from: number;
	readonly to: number;
	/** Line of the record itself (not of the commentary above it), from 1. */
	readonly line: number;
	/** Made again whenever they are asked for: ask once and keep the list. */
	readonly fields: FieldNode[];
	/** Calls `take` with each of them in their order, without a list: for whoever goes through all records. */
	eachField?(take: TakeField): void;
	readonly remark?: string | undefined;
	/** Its place on the document's tape, or its number in a file of bytes. */
	readonly node: number;
	/** The document that it belongs to, which may be a part of the one that it was asked from. */
	readonly home?: Document;
	/** One of its values, without making all of them; undefined where it has none. */
	valueAt?(path: string): Scalar | undefined;
	/** The same record in a part of its document, as the `nth` there, from 1. */
	within?(part: Document, nth: number): RecordNode;
}

/** Something that keeps (a part of) a file from being read, in plain words, with its place. */
export interface Problem {
	line: number;
	column: number;
	message: string;
	/** The line it is in. */
	excerpt: string;
}

/** What a file may be written with, and readers of its format may not take. */
export type Habit = 'comment' | 'last comma' | 'same name' | 'stray quote' | 'tab';

/** A file read in one format: a text, or bytes. Never written out again: edits are splices on `content`. */
export interface Document<C extends Content = Content> {
	format: FormatId;
	content: C;
	/** Where the lines begin; bytes count as one line. */
	readonly lines: LineIndex;
	records: RecordNode[];
	problems: Problem[];
	/** Column names in order, for tables with a header. */
	columns: string[];
	/** Name of the field that holds the id, where it is a field. */
	key: string | null;
	/** Path of what holds the records, empty for the root; null where the file is one record; undefined where it has none. */
	at?: string | null | undefined;
	/** Whether the records' ids are the names under which they stand. */
	named: boolean;
	/** Whether each record is alone in an item of a list, under its name: `- gull: { … }`. */
	wrapped?: boolean;
	hints: ReadHints;
	/** What it makes use of that other readers of its format may not take, with the first offset of each. */
	habits?: ReadonlyMap<Habit, number>;
	/** Where its records are of several kinds: those of each, one kind behind the other, as in `records`. */
	parts?: readonly DocumentPart[];
}

/** The records of one kind in a file of several. */
export interface DocumentPart {
	/** Its number among the parts that were asked for; what belongs to none of them has the number behind the last. */
	spec: number;
	doc: Document;
}

/** A text that was scanned onto a tape. */
export interface TextDocument extends Document<string> {
	tape: Tape;
	/** The node of all that the file holds; -1 where it holds nothing. */
	root: number;
	/** The node whose items are the records; -1 where the whole file is one. */
	holder: number;
}

/** Where the records of a document may stand: a list or map, by its path, and how many things it holds. */
export interface RecordPlace {
	/** Null: the document is one record. */
	at: string | null;
	records: number;
}

/** What tells records of a kind from others beside them: a field has one of some values, or begins with one. */
export interface Where {
	field: string;
	is: readonly string[];
	begins?: boolean | undefined;
}

/** Which records of a file are of one kind. */
export interface PartHints extends Pick<
	ReadHints,
	'at' | 'leaves' | 'except' | 'element' | 'key' | 'keyParts' | 'spare' | 'id' | 'prefix'
> {
	where?: Where | undefined;
}

/** What the field guide knows about how to read a file. */
export interface ReadHints {
	/** Its records are of several kinds. What is said of the whole file is not said of them. */
	parts?: readonly PartHints[];
	/** All its records are of one kind, whatever it looks like. */
	whole?: boolean;
	/** What stands elsewhere in it than the records that are spoken of is detected. */
	others?: boolean;
	/** Column, attribute or property that holds the id. */
	key?: string;
	/** Properties that name a record together, where none does alone; none where nothing names it but its place. */
	keyParts?: readonly string[];
	/** Property that holds the id of records without the other one. */
	spare?: string;
	/** The id of the file's one record, where its name says it. */
	id?: string;
	/** What is before the number of records without an id, where files of one kind would share them. */
	prefix?: string;
	/** Cell separator of delimited text. */
	separator?: string;
	/** Quote of delimited text; empty for none. */
	quote?: string;
	/** How a quote inside quotes is written: doubled, or behind a backslash. */
	escape?: 'doubled' | 'backslash';
	/** Whether the first line of delimited text names the columns. */
	header?: boolean;
	/** Whether a second line says the columns' types. */
	types?: boolean;
	/** Whether rows may have fewer or more cells than the header. */
	ragged?: boolean;
	/** Mark of comment lines in delimited text. */
	comment?: string;
	/** Path of the list or map that holds the records, empty for the root; null where the whole file is one record. */
	at?: string | null;
	/** Whether single values among the maps there are records that are said in a word. */
	leaves?: boolean;
	/** Paths that the one record of a file leaves out: what stands there are records of their own. */
	except?: readonly string[];
	/** The word under which the records stand, when not all in the file are: an element, a section, a call. */
	element?: string;
	/** Whether comments and trailing commas, which many readers take, are faults here. */
	strict?: boolean;
	/** The format, where the ending does not tell it. */
	format?: FormatId;
	/** It is no data, whatever it looks like. */
	none?: boolean;
	/** Punctuation and positions of formats that only the guide knows. */
	layout?: Layout;
}

/** Something below a record that may be copied into another: a value, a block or a list, by its path. */
export interface PartSource<D extends Document<Content> = Document> {
	doc: D;
	record: RecordNode;
	path: string;
}

/** How blocks and lists are edited as a whole, in formats that have them. */
export interface PartEdits<C extends Content = Content, D extends Document<C> = Document<C>> {
	/** Puts a copy of a part of another record under a path that is free, where it stands among its like. @throws EditRefused */
	insert(doc: D, record: RecordNode, path: string, source: PartSource<D>): Splice<C>[];
	/** Moves a part to the place of another one beside it. @throws EditRefused */
	move(doc: D, record: RecordNode, path: string, beside: string): Splice<C>[];
}

/** A value that several records point at. */
export interface Sharing {
	/** The others that do, in the order of the file: the part of the file that each is in, its id, and the field. */
	others: { part: string; id: string; path: string }[];
	/** Where it stands: its first byte. */
	at: number;
	/** Values that can be pointed at instead. */
	values: string[];
}

/** Values that several records point at, in formats that have such. */
export interface SharedValues<C extends Content = Content, D extends Document<C> = Document<C>> {
	/** The fields by which records of a document point at such values. */
	fields(doc: D): string[];
	/** Who else points at the value of a field, and what else could be pointed at; null where it points at nothing. */
	of(doc: D, record: RecordNode, path: string): Sharing | null;
	/** Writes a value for all that point at it. @throws EditRefused */
	set(doc: D, record: RecordNode, path: string, value: string): Splice<C>[];
}

/** A new item of a list: a value, or a copy of another item by its number. */
export type NewItem = { value: string } | { copyOf: number };

/** A value that is to be written. */
export interface ValueWrite {
	record: RecordNode;
	path: string;
	value: string;
}

/** What else is worth knowing of a format. */
export interface Traits {
	/** Every value is text: that it is a number shows only by how it is written. */
	untyped?: true;
	/** Records may be at any depth of nested lists and maps. */
	nested?: true;
	/** What names a record is part of the format: no other field can. */
	fixedIds?: true;
	/** Made to hold texts: a file with one empty text, one with none in a language (BCP 47), and the language that a file says it is in. */
	texts?: { one: string; none: (language: string) => string; says?: (text: string) => string | null };
}

/**
 * How one format is read and edited. Every edit is a list of splices on `doc.content`. Whoever works with any format
 * speaks of `Format`; what it is given comes from the same format, and so is of its kind.
 */
export interface Format<C extends Content = Content, D extends Document<C> = Document<C>> {
	id: FormatId;
	/** Whether files are read as texts or as bytes. */
	of: 'text' | 'bytes';
	/** File endings, without the dot, lower case. */
	endings: string[];
	traits: Traits;
	/** Reads any content: what cannot be read is a problem, never an exception. */
	read(content: C, hints: ReadHints): D;
	/** The same content read by other hints on where its records stand, without reading all of it again. */
	again?(doc: D, hints: ReadHints): D;
	/**
	 * The parts that a document shows by itself; fewer than two where it has none.
	 * @param said places in it at which records stand, as somebody said
	 */
	partsIn?(doc: D, said?: readonly string[]): PartHints[];
	/** All places at which its records may stand, the outermost first; none where that is not open. */
	placesIn?(doc: D): RecordPlace[];
	/** Sets a field; one that is absent is written where the format puts new fields. @throws EditRefused */
	set(doc: D, record: RecordNode, path: string, value: string): Splice<C>[];
	/**
	 * Sets many values, each for its own record. Only formats in which what one edit changes hangs on the others have it;
	 * those of the others are made one by one, and spliced together. @throws EditRefused
	 */
	setMany?(doc: D, writes: readonly ValueWrite[]): Splice<C>[];
	/** Takes a field out, or empties it where the format needs it to be there. @throws EditRefused */
	unset(doc: D, record: RecordNode, path: string): Splice<C>[];
	/** Writes another id in the record itself. @throws EditRefused */
	rename(doc: D, record: RecordNode, id: string): Splice<C>[];
	/** Writes another name for a field (the last part of its path), where the record itself names it. @throws EditRefused */
	renameKey(doc: D, record: RecordNode, path: string, name: string): Splice<C>[];
	/** Puts a copy of `record` of `source` behind the last record of `doc`. @throws EditRefused */
	insert(doc: D, source: D, record: RecordNode): Splice<C>[];
	/** Takes the record out, with the commentary that belongs to it. @throws EditRefused */
	remove(doc: D, record: RecordNode): Splice<C>[];
	/** Moves the record to another place (from 0) among the records. @throws EditRefused */
	move(doc: D, record: RecordNode, to: number): Splice<C>[];
	/** Puts an item into a list of the record, before the one with number `at`. @throws EditRefused */
	insertItem(doc: D, record: RecordNode, list: string, at: number, item: NewItem): Splice<C>[];
	/** Takes an item out of a list of the record. @throws EditRefused */
	removeItem(doc: D, record: RecordNode, list: string, at: number): Splice<C>[];
	/** Moves an item of a list of the record. @throws EditRefused */
	moveItem(doc: D, record: RecordNode, list: string, at: number, to: number): Splice<C>[];
	/** Edits of blocks and lists as a whole; formats of single values have none. */
	parts?: PartEdits<C, D>;
	/** Values that several records point at. Whoever sets one by `set` changes it for its own record only. */
	shared?: SharedValues<C, D>;
	/** A new file like `doc` (header, root, declarations) that holds no record yet. */
	blank(doc: D): C;
}

/** A format of texts. */
export type TextFormat = Format<string, TextDocument>;

/** An edit that the format cannot express; says why, and what would do. */
export class EditRefused extends Error {}

/** Problems of one file that are told; a file with more is not the one that was meant. */
export const MOST_PROBLEMS = 100;

/** A document while it is read. */
export interface OpenDocument extends TextDocument {
	tape: TapeWriter;
	/** Notes what is wrong at an offset. */
	problem(at: number, message: string): void;
}

/** Collects records and problems over one text. */
export function startDocument(format: FormatId, text: string, hints: ReadHints = {}): OpenDocument {
	let lines: LineIndex | null = null;
	const problems: Problem[] = [];
	let untold = 0;
	return {
		format,
		content: text,
		get lines() {
			return (lines ??= lineIndex(text));
		},
		records: [],
		problems,
		columns: [],
		key: null,
		tape: startTape(text),
		root: -1,
		holder: -1,
		named: false,
		hints,
		problem(at, message) {
			if (problems.length > MOST_PROBLEMS) {
				untold++;
				problems[MOST_PROBLEMS]!.message =
					`${untold} more of these follow; the file may be of another format than its name says.`;
				return;
			}
			if (problems.length === MOST_PROBLEMS) untold = 1;
			const place = placeOf(this.lines, Math.min(at, text.length));
			problems.push({
				...place,
				message: untold
					? 'More of these follow; the file may be of another format than its name says.'
					: message,
				excerpt: excerptAt(text, this.lines, place.line)
			});
		}
	};
}

/** Documents with fewer records are looked through one by one. */
const FEW = 500;
/** Places of an id in the text that are tried before all records are. */
const MOST_PLACES = 2000;

/** Whether a document was scanned onto a tape. */
export const isText = (doc: Document): doc is TextDocument => typeof doc.content === 'string';

/** The record that begins last at or before an offset. */
function recordAt({ records, tape }: TextDocument, offset: number): RecordNode | undefined {
	let low = 0;
	let high = records.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (startOf(tape, records[middle]!.node) <= offset) low = middle + 1;
		else high = middle;
	}
	return records[low - 1];
}

/** The part of a document that was asked for as the `spec`-th; the document itself where it has no parts. */
export const partOf = (doc: Document, spec: number): Document =>
	doc.parts ? (doc.parts.find((part) => part.spec === spec)?.doc ?? emptyPart(doc)) : doc;

function emptyPart(doc: Document): Document {
	const part = Object.create(doc) as Document;
	return Object.assign(part, { records: [], parts: undefined });
}

/** The record with an id; `line` chooses among several that share it. */
export function findRecord(doc: Document, id: string, line?: number): RecordNode | undefined {
	if (doc.parts) {
		for (const { doc: part } of doc.parts) {
			const found = findRecord(part, id, line);
			if (found) return found;
		}
		return undefined;
	}
	const fits = (record: RecordNode | undefined) =>
		record !== undefined && record.id === id && (line === undefined || record.line === line);
	const { records } = doc;
	if (isText(doc) && records.length >= FEW && id !== '') {
		// An id is in the text of its record: a search there is much faster than reading every record's id.
		const byPlace = /#\d+$/.test(id) ? records[Number(id.slice(id.lastIndexOf('#') + 1)) - 1] : undefined;
		if (fits(byPlace)) return byPlace;
		const text = doc.content;
		let places = 0;
		for (
			let at = text.indexOf(id);
			at >= 0 && places < MOST_PLACES;
			at = text.indexOf(id, at + 1), places++
		) {
			const record = recordAt(doc, at);
			if (fits(record)) return record;
		}
	}
	return records.find(fits);
}

const NAMED_ITEM = /\[([^\]]*[^\]\d][^\]]*)\]/;

/** A path in which items of nested lists are numbered: `effect[tow].add` is `effect[1].add` where `effect[1].id` is `tow`. */
export function concretePath(fields: readonly FieldNode[], path: string): string | undefined {
	let concrete = path;
	for (let match = NAMED_ITEM.exec(concrete); match; match = NAMED_ITEM.exec(concrete)) {
		const list = concrete.slice(0, match.index);
		const owner = fields.find(
			(field) =>
				field.path.startsWith(`${list}[`) &&
				/^\[\d+\]\.id$/.test(field.path.slice(list.length)) &&
				String(field.value) === match![1]
		);
		if (!owner) return undefined;
		concrete = owner.path.slice(0, -'.id'.length) + concrete.slice(match.index + match[0].length);
	}
	return concrete;
}

/**
 * The field at a path; where a name is given twice, the later one, which counts. An item of a nested list may also be
 * named by its id: `effect[tow].add` finds `effect[1].add` where `effect[1].id` is `tow`.
 */
export function findField(record: RecordNode, path: string): FieldNode | undefined {
	const { fields } = record;
	const exact = fields.findLast((field) => field.path === path);
	if (exact || !NAMED_ITEM.test(path)) return exact;
	const concrete = concretePath(fields, path);
	return concrete === undefined ? undefined : fields.findLast((field) => field.path === concrete);
}

/** Fields as a plain map from path to value; safe for keys such as `__proto__`. */
export function fieldsOf(record: RecordNode): Record<string, Scalar> {
	const fields: Record<string, Scalar> = Object.create(null);
	for (const field of record.fields) fields[field.path] = field.value;
	return fields;
}
