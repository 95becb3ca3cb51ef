import { lineAt, toEol } from '../text';
import {
	EditRefused,
	findField,
	startDocument,
	type Document,
	type FieldNode,
	type Format,
	type ReadHints,
	type RecordNode
} from './document';
import { insertLines, lineEnd, removeLines } from './lines';

interface Cell {
	from: number;
	to: number;
	value: string;
	quoted: boolean;
}

interface Row {
	from: number;
	to: number;
	cells: Cell[];
}

/** Reads one quoted cell; null when the quote never ends. Doubled quotes stand for one. */
function quotedCell(text: string, from: number): Cell | null {
	let at = from + 1;
	for (;;) {
		const quote = text.indexOf('"', at);
		if (quote < 0) return null;
		if (text[quote + 1] !== '"')
			return { from, to: quote + 1, value: text.slice(from + 1, quote).replaceAll('""', '"'), quoted: true };
		at = quote + 2;
	}
}

function readRow(
	text: string,
	from: number,
	separator: string,
	fault: (at: number, message: string) => void
): Row {
	const cells: Cell[] = [];
	let at = from;
	for (;;) {
		let cell: Cell | null = null;
		if (text[at] === '"') {
			const quoted = quotedCell(text, at);
			const behind = quoted ? text[quoted.to] : undefined;
			if (quoted && (behind === undefined || behind === separator || behind === '\n' || behind === '\r'))
				cell = quoted;
			else if (separator !== '\t')
				fault(
					at,
					quoted
						? `The cell that starts with a quote here goes on after its closing quote; the quote inside must be doubled ("").`
						: `The quote that opens this cell is never closed.`
				);
		}
		if (!cell) {
			let to = at;
			while (to < text.length && text[to] !== separator && text[to] !== '\n' && text[to] !== '\r') to++;
			cell = { from: at, to, value: text.slice(at, to), quoted: false };
		}
		cells.push(cell);
		at = cell.to;
		if (text[at] !== separator) return { from, to: at, cells };
		at++;
	}
}

function guessKey(columns: string[]): number {
	const named = ['id', 'key', 'name'].map((name) =>
		columns.findIndex((column) => column.toLowerCase() === name)
	);
	return Math.max(0, named.find((at) => at >= 0) ?? 0);
}

function guessSeparator(header: string): string {
	const counts = [',', ';', '\t', '|'].map((mark) => [mark, header.split(mark).length] as const);
	return counts.reduce((best, next) => (next[1] > best[1] ? next : best))[0];
}

const isBlank = (row: Row) => row.cells.length === 1 && row.cells[0]!.value.trim() === '';

function read(id: 'csv' | 'tsv', text: string, hints: ReadHints): Document {
	const doc = startDocument(id, text);
	const separator =
		hints.separator ?? (id === 'tsv' ? '\t' : guessSeparator(text.slice(0, lineEnd(text, 0))));
	let at = 0;
	let key = -1;
	let rows = 0;
	while (at < text.length) {
		const row = readRow(text, at, separator, doc.problem);
		at = row.to;
		if (text[at] === '\r' && text[at + 1] === '\n') at += 2;
		else if (at < text.length) at++;
		if (isBlank(row)) continue;
		if (key < 0) {
			doc.columns = row.cells.map((cell) => cell.value);
			key = hints.key === undefined ? guessKey(doc.columns) : doc.columns.indexOf(hints.key);
			if (key < 0) {
				doc.problem(row.from, `The header has no column “${hints.key}”, which holds the ids.`);
				return doc;
			}
			doc.columns.forEach((column, index) => {
				if (doc.columns.indexOf(column) < index)
					doc.problem(row.cells[index]!.from, `The column “${column}” stands in the header twice.`);
			});
			doc.key = doc.columns[key]!;
			continue;
		}
		rows++;
		const idCell = row.cells[key];
		const written = idCell !== undefined && idCell.value !== '';
		const fields: FieldNode[] = [];
		row.cells.forEach((cell, index) => {
			const path = doc.columns[index];
			if (path !== undefined) fields.push({ path, value: cell.value, from: cell.from, to: cell.to });
		});
		doc.records.push({
			id: written ? idCell.value : `#${rows}`,
			idSpan: written ? { from: idCell.from, to: idCell.to } : null,
			from: row.from,
			to: row.to,
			line: lineAt(doc.lines, row.from),
			fields
		});
		if (row.cells.length !== doc.columns.length)
			doc.problem(row.from, `This row has ${row.cells.length} cells; the header has ${doc.columns.length}.`);
	}
	if (key < 0) doc.problem(0, 'The file is empty: there is no header line.');
	return doc;
}

const separatorOf = (doc: Document): string => {
	if (doc.format === 'tsv') return '\t';
	const [first, second] = doc.columns;
	const at = doc.text.indexOf(first ?? '') + (first ?? '').length;
	const behind = doc.text[at] === '"' ? doc.text[at + 1] : doc.text[at];
	return second === undefined || behind === undefined ? ',' : behind;
};

/** A cell as it is written: quoted when it was, or when it has to be. */
function written(doc: Document, value: string, wasQuoted: boolean): string {
	const separator = separatorOf(doc);
	const special = value.includes(separator) || /[\r\n]/.test(value) || value.startsWith('"');
	if (doc.format === 'tsv' && special)
		throw new EditRefused('A tab, a line end or a quote at the start cannot stand in a cell of this file.');
	return wasQuoted || special ? `"${value.replaceAll('"', '""')}"` : value;
}

function set(doc: Document, record: RecordNode, path: string, value: string) {
	const field = findField(record, path);
	if (field) {
		const quoted =
			doc.text[field.from] === '"' && field.to - field.from >= 2 && doc.text[field.to - 1] === '"';
		return [{ from: field.from, to: field.to, insert: written(doc, value, quoted && doc.format === 'csv') }];
	}
	const column = doc.columns.indexOf(path);
	if (column < 0)
		throw new EditRefused(`The table has no column “${path}”. Its columns: ${doc.columns.join(', ')}.`);
	const missing = separatorOf(doc).repeat(column - record.fields.length + 1);
	return [{ from: record.to, to: record.to, insert: missing + written(doc, value, false) }];
}

function insert(doc: Document, source: Document, record: RecordNode) {
	const lost = record.fields.find((field) => field.value !== '' && !doc.columns.includes(field.path));
	if (lost) throw new EditRefused(`The table has no column “${lost.path}”, which ${record.id} fills.`);
	const cells = doc.columns.map((column) => {
		const field = record.fields.find((candidate) => candidate.path === column);
		const raw = field ? source.text.slice(field.from, field.to) : '';
		return raw.startsWith('"') || !field ? raw : written(doc, String(field.value), false);
	});
	return insertLines(doc, cells.join(separatorOf(doc)), 0);
}

function blank(doc: Document): string {
	const header = doc.columns.length === 0 ? 0 : doc.text.search(/\S/);
	return doc.text.slice(header, lineEnd(doc.text, header)) + toEol(doc.text);
}

function delimited(id: 'csv' | 'tsv', endings: string[]): Format {
	return {
		id,
		endings,
		read: (text, hints) => read(id, text, hints),
		set,
		unset: (doc, record, path) => set(doc, record, path, ''),
		rename: (doc, record, name) => set(doc, record, doc.key ?? '', name),
		insert,
		remove: removeLines,
		blank
	};
}

/** Text in columns, one record a line, names in the first line. */
export const tsv = delimited('tsv', ['tsv', 'tab']);
export const csv = delimited('csv', ['csv']);
