import type { Splice } from '../change';
import { Growing } from '../gather';
import { toEol } from '../text';
import { dialectOf, type Dialect } from './dialect';
import {
	EditRefused,
	findField,
	startDocument,
	type TextDocument,
	type FieldNode,
	type TextFormat,
	type OpenDocument,
	type ReadHints,
	type RecordNode
} from './document';
import { insertLines, lineEnd, moveLines, NO_LISTS, removeLines } from './lines';
import { addRecord, type RecordShape } from './records';
import { homeOf } from './parts';
import { MAP, type Tape } from './tape';

/** What reading a file of delimited text found besides its rows. Cells are kept as their ends: four bytes each. */
interface Sheet {
	dialect: Dialect;
	ends: Int32Array;
	/** First cell of each row of the tape, and one number more. */
	firsts: Int32Array;
	key: number;
	/** Where the header's names stand; none where there is no header. */
	header: { from: number; to: number; cells: [number, number][] } | null;
	/** End of the line of types, where there is one. */
	headTo: number;
}

const sheets = new WeakMap<Tape, Sheet>();
const sheetOf = (doc: TextDocument): Sheet => sheets.get(doc.tape)!;

const keyColumns = new WeakMap<TextDocument, number>();

/** The column of the ids: a part of a table may have another than the rest. */
function keyColumn(doc: TextDocument): number {
	let found = keyColumns.get(doc);
	if (found === undefined) keyColumns.set(doc, (found = doc.columns.indexOf(doc.key ?? '')));
	return found;
}

const NEWLINE = 10;
const RETURN = 13;

/** End of the quoted cell that begins at `from`, behind its closing quote; -1 where it is never closed. */
function quotedEnd(text: string, from: number, dialect: Dialect): number {
	const { quote } = dialect;
	if (dialect.escape === 'backslash') {
		for (let at = from + 1; at < text.length; at++) {
			if (text[at] === '\\') at++;
			else if (text[at] === quote) {
				if (text[at + 1] !== quote) return at + 1;
				at++;
			}
		}
		return -1;
	}
	for (let at = from + 1; ;) {
		const end = text.indexOf(quote, at);
		if (end < 0) return -1;
		if (text[end + 1] !== quote) return end + 1;
		at = end + 2;
	}
}

/** The value of a raw cell. */
function meant(raw: string, dialect: Dialect): string {
	const { quote } = dialect;
	const escaped = dialect.escape === 'backslash' && raw.includes('\\');
	if (quote === '' || raw.length < 2 || !raw.startsWith(quote) || !raw.endsWith(quote)) return raw;
	const inner = raw.slice(1, -1);
	const single = inner.includes(quote) ? inner.replaceAll(quote + quote, quote) : inner;
	return escaped ? single.replace(/\\([^])/g, '$1') : single;
}

/** The codes of a text's characters: reading numbers from an array is several times faster than from a string. */
function codesOf(text: string): Uint8Array | Uint16Array {
	const bytes = new Uint8Array(text.length);
	// Only where every character is ASCII does a byte stand for each.
	if (new TextEncoder().encodeInto(text, bytes).read === text.length) return bytes;
	const codes = new Uint16Array(text.length);
	for (let at = 0; at < text.length; at++) codes[at] = text.charCodeAt(at);
	return codes;
}

/** Numbers that one row takes in `Cut.rows`: where it begins and ends, and its first cell. */
const ROW = 3;

interface Cut {
	ends: Growing<Int32Array>;
	rows: Growing<Int32Array>;
}

/** Where a cell ends that begins with a quote but is no quoted one, after its fault is told. */
function looseEnd(doc: OpenDocument, at: number, dialect: Dialect, end: number): number {
	const { quote, separator } = dialect;
	if (doc.format !== 'tsv')
		doc.problem(
			at,
			end < 0
				? 'The quote that opens this cell is never closed.'
				: `This quoted cell goes on after its closing quote; a quote inside must be doubled (${quote}${quote}).`
		);
	while (at < doc.content.length && doc.content[at] !== separator && !/[\r\n]/.test(doc.content[at]!)) at++;
	return at;
}

/** Cuts a text into rows and cells in one pass; rows that are blank or commentary are left out. */
function cut(doc: OpenDocument, dialect: Dialect): Cut {
	const { content: text } = doc;
	const length = text.length;
	const codes = codesOf(text);
	const separator = dialect.separator.charCodeAt(0);
	const quote = dialect.quote === '' ? -1 : dialect.quote.charCodeAt(0);
	const comment = dialect.comment === '' ? -1 : dialect.comment.charCodeAt(0);
	const ends = new Growing(new Int32Array(Math.max(64, length >> 3)));
	const rows = new Growing(new Int32Array(Math.max(16, length >> 5)));
	let list = ends.list;
	let used = 0;
	// Once a quote was never closed, each later one would search to the end of the file again.
	let unclosed = false;
	/** The first quote that ends a cell which none began. */
	let stray = -1;
	let at = 0;
	while (at < length) {
		const from = at;
		const first = used;
		let code = codes[at]!;
		if (code === comment && text.startsWith(dialect.comment, at)) {
			const end = lineEnd(text, at);
			doc.tape.remark(at, end);
			at = end;
		} else {
			for (;;) {
				// One cell begins at `at`.
				if (at < length && codes[at] === quote && !unclosed) {
					const end = quotedEnd(text, at, dialect);
					const behind = end < 0 ? -1 : end >= length ? NEWLINE : codes[end]!;
					if (behind === separator || behind === NEWLINE || behind === RETURN) at = end;
					else {
						unclosed = end < 0;
						at = looseEnd(doc, at, dialect, end);
					}
				} else {
					const start = at;
					for (; at < length; at++) {
						code = codes[at]!;
						if (code === separator || code === NEWLINE || code === RETURN) break;
					}
					if (stray < 0 && at > start && codes[at - 1] === quote) stray = at - 1;
				}
				if (used === list.length) {
					ends.at = used;
					ends.push(at);
					list = ends.list;
				} else list[used] = at;
				used++;
				if (at >= length || codes[at] !== separator) break;
				at++;
			}
			if (used > first + 1 || /\S/.test(text.slice(from, at))) {
				rows.push(from);
				rows.push(at);
				rows.push(first);
			} else used = first;
		}
		if (at < length) at += codes[at] === RETURN && codes[at + 1] === NEWLINE ? 2 : 1;
	}
	ends.at = used;
	if (stray >= 0) doc.habits = new Map([['stray quote', stray]]);
	return { ends, rows };
}

function guessKey(columns: string[]): number {
	const lower = columns.map((column) => column.toLowerCase());
	return Math.max(0, ['id', 'key', 'name'].map((name) => lower.indexOf(name)).find((at) => at >= 0) ?? 0);
}

function tellDoubles(doc: OpenDocument, cells: [number, number][]): void {
	const seen = new Set<string>();
	doc.columns.forEach((column, index) => {
		if (seen.has(column)) doc.problem(cells[index]![0], `The column “${column}” is in the header twice.`);
		seen.add(column);
	});
}

/** Cell `index` of the row at a node of the tape. */
function cellAt(doc: TextDocument, sheet: Sheet, node: number, index: number): [number, number] | null {
	const first = sheet.firsts[node]!;
	const cell = first + index;
	if (cell >= sheet.firsts[node + 1]!) return null;
	return [index === 0 ? doc.tape.from(node) : sheet.ends[cell - 1]! + 1, sheet.ends[cell]!];
}

const shape: RecordShape = {
	trail: false,
	idSpan(doc, node) {
		const sheet = sheetOf(doc);
		const cell = cellAt(doc, sheet, node, keyColumn(doc));
		return cell && { from: cell[0], to: cell[1] };
	},
	id(doc, node) {
		const sheet = sheetOf(doc);
		const cell = cellAt(doc, sheet, node, keyColumn(doc));
		return cell ? meant(doc.content.slice(...cell), sheet.dialect) : '';
	},
	fields(doc, node) {
		const sheet = sheetOf(doc);
		const fields: FieldNode[] = [];
		for (let index = 0; index < doc.columns.length; index++) {
			const cell = cellAt(doc, sheet, node, index);
			if (!cell) break;
			const [from, to] = cell;
			fields.push({
				path: doc.columns[index]!,
				value: meant(doc.content.slice(from, to), sheet.dialect),
				from,
				to
			});
		}
		return fields;
	},
	each(doc, node, take) {
		const sheet = sheetOf(doc);
		let from = doc.tape.from(node);
		const first = sheet.firsts[node]!;
		const count = Math.min(doc.columns.length, sheet.firsts[node + 1]! - first);
		for (let index = 0; index < count; index++) {
			const to = sheet.ends[first + index]!;
			take(doc.columns[index]!, meant(doc.content.slice(from, to), sheet.dialect));
			from = to + 1;
		}
	}
};

/** Takes the columns from the first row, which names them or is the first record. False where the ids' column is absent. */
function begin(
	doc: OpenDocument,
	sheet: Sheet,
	from: number,
	to: number,
	first: number,
	width: number
): boolean {
	const { content: text, hints } = doc;
	const { dialect, ends } = sheet;
	const cells = Array.from({ length: width }, (_, index): [number, number] => [
		index === 0 ? from : ends[first + index - 1]! + 1,
		ends[first + index]!
	]);
	doc.columns = dialect.header
		? cells.map((cell) => meant(text.slice(...cell), dialect))
		: cells.map((_, index) => `c${index + 1}`);
	sheet.key = hints.key === undefined ? guessKey(doc.columns) : doc.columns.indexOf(hints.key);
	if (sheet.key < 0) {
		doc.problem(from, `The header has no column “${hints.key}”, which holds the ids.`);
		return false;
	}
	doc.key = doc.columns[sheet.key]!;
	if (dialect.header) {
		tellDoubles(doc, cells);
		sheet.header = { from, to, cells };
		sheet.headTo = to;
	}
	return true;
}

function read(id: 'csv' | 'tsv', text: string, hints: ReadHints): TextDocument {
	const doc = startDocument(id, text, hints);
	const dialect = dialectOf(id, text, hints);
	const { ends, rows } = cut(doc, dialect);
	const count = rows.at / ROW;
	const { tape } = doc;
	const sheet: Sheet = {
		dialect,
		ends: ends.done,
		firsts: new Int32Array(count + 1),
		key: -1,
		header: null,
		headTo: 0
	};
	sheets.set(tape, sheet);
	let typesSeen = !dialect.types;
	for (let row = 0; row < count; row++) {
		const [from, to, first] = [rows.list[row * ROW]!, rows.list[row * ROW + 1]!, rows.list[row * ROW + 2]!];
		const width = (row + 1 < count ? rows.list[(row + 1) * ROW + 2]! : ends.at) - first;
		if (sheet.key < 0) {
			if (!begin(doc, sheet, from, to, first, width)) break;
			if (dialect.header) continue;
		}
		if (!typesSeen) {
			typesSeen = true;
			sheet.headTo = to;
			continue;
		}
		const node = tape.leaf(MAP, -1, -1, from, to);
		sheet.firsts[node] = first;
		sheet.firsts[node + 1] = first + width;
		if (!hints.ragged && width !== doc.columns.length)
			doc.problem(from, `This row has ${width} cells; the header has ${doc.columns.length}.`);
		addRecord(doc, node, node + 1, shape);
	}
	tape.finish();
	if (sheet.key < 0 && doc.problems.length === 0)
		doc.problem(0, 'The file is empty: there is no header line.');
	return doc;
}

/** A cell as written: quoted when it was, or when it has to be. */
function written(doc: TextDocument, value: string, wasQuoted: boolean): string {
	const { separator, quote, escape } = sheetOf(doc).dialect;
	const breaks = value.includes(separator) || /[\r\n]/.test(value);
	const special = breaks || (quote !== '' && value.startsWith(quote));
	if (doc.format === 'tsv' || quote === '') {
		if (special && !wasQuoted)
			throw new EditRefused(
				'A cell in this file cannot contain a tab, a line break, or a quote at the start.'
			);
		if (!wasQuoted) return value;
	}
	if (!wasQuoted && !special) return value;
	const inner =
		escape === 'backslash'
			? value.replaceAll('\\', '\\\\').replaceAll(quote, `\\${quote}`)
			: value.replaceAll(quote, quote + quote);
	return quote + inner + quote;
}

const isQuoted = (raw: string, quote: string) =>
	quote !== '' && raw.length >= 2 && raw.startsWith(quote) && raw.endsWith(quote);

function set(doc: TextDocument, record: RecordNode, path: string, value: string): Splice[] {
	const sheet = sheetOf(doc);
	const field = findField(record, path);
	if (field) {
		const quoted = isQuoted(doc.content.slice(field.from, field.to), sheet.dialect.quote);
		// A first cell that begins like a comment would take its row out of the table.
		const hides =
			field.from === record.from && sheet.dialect.comment !== '' && value.startsWith(sheet.dialect.comment);
		if (hides && doc.format === 'tsv')
			throw new EditRefused(`A row that begins with ${sheet.dialect.comment} is a comment in this file.`);
		return [{ from: field.from, to: field.to, insert: written(doc, value, quoted || hides) }];
	}
	const column = doc.columns.indexOf(path);
	if (column < 0)
		throw new EditRefused(`The table has no column “${path}”. Its columns: ${doc.columns.join(', ')}.`);
	const missing = sheet.dialect.separator.repeat(column - record.fields.length + 1);
	return [{ from: record.to, to: record.to, insert: missing + written(doc, value, false) }];
}

function insert(doc: TextDocument, source: TextDocument, record: RecordNode): Splice[] {
	const fields = new Map(record.fields.map((field) => [field.path, field]));
	const columns = new Set(doc.columns);
	for (const field of fields.values())
		if (field.value !== '' && !columns.has(field.path))
			throw new EditRefused(`The table has no column “${field.path}”, which ${record.id} fills.`);
	const sheet = sheetOf(doc);
	const theirs = sheetOf(source).dialect;
	const mine = sheet.dialect;
	const alike =
		mine.separator === theirs.separator && mine.quote === theirs.quote && mine.escape === theirs.escape;
	const cells = doc.columns.map((column) => {
		const field = fields.get(column);
		if (!field) return '';
		const raw = source.content.slice(field.from, field.to);
		return alike ? raw : written(doc, String(field.value), false);
	});
	// Rows with fewer cells than the header stay so.
	if (alike && source.columns.length === doc.columns.length)
		cells.length = Math.min(cells.length, fields.size);
	return insertLines(doc, cells.join(mine.separator), 0, true);
}

function renameKey(doc: TextDocument, _record: RecordNode, path: string, name: string): Splice[] {
	const { header, dialect } = sheetOf(doc);
	const cell = header?.cells[doc.columns.indexOf(path)];
	if (!cell) throw new EditRefused(`This table has no column “${path}”.`);
	if (doc.columns.includes(name)) throw new EditRefused(`There is a column “${name}” already.`);
	const quoted = isQuoted(doc.content.slice(...cell), dialect.quote);
	return [{ from: cell[0], to: cell[1], insert: written(doc, name, quoted) }];
}

function blank(doc: TextDocument): string {
	const sheet = sheetOf(doc);
	if (!sheet.header) return '';
	return doc.content.slice(sheet.header.from, sheet.headTo) + toEol(doc.content);
}

function delimited(id: 'csv' | 'tsv', endings: string[]): TextFormat {
	return {
		id,
		of: 'text',
		endings,
		traits: { untyped: true },
		read: (text, hints) => read(id, text, hints),
		set,
		unset: (doc, record, path) => set(doc, record, path, ''),
		rename: (doc, record, name) => set(doc, record, homeOf(doc, record).key ?? '', name),
		renameKey,
		insert,
		remove: removeLines,
		move: moveLines,
		...NO_LISTS,
		blank
	};
}

/** Text in columns, one record a line, names in the first line where there are any. */
export const tsv = delimited('tsv', ['tsv', 'tab']);
export const csv = delimited('csv', ['csv']);
