import { excerptAt, lineIndex, placeOf, type LineIndex } from '../text';
import type { Splice } from '../change';

export type FormatId = 'tsv' | 'csv' | 'ini' | 'xml' | 'properties' | 'json';

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

/** One thing with an id. `[from, to)` holds it whole, with the commentary above it, without the line end behind it. */
export interface RecordNode {
	/** The written id, or `#1`, `#2`… by position where none is written. */
	id: string;
	/** Where the id is written; null where it is not. */
	idSpan: { from: number; to: number } | null;
	from: number;
	to: number;
	/** Line of the record itself (not of the commentary above it), from 1. */
	line: number;
	fields: FieldNode[];
	remark?: string;
}

/** Something that keeps (a part of) a file from being read, in plain words, with its place. */
export interface Problem {
	line: number;
	column: number;
	message: string;
	/** The line it stands in. */
	excerpt: string;
}

/** A text read in one format. Never written out again: edits are splices on `text`. */
export interface Document {
	format: FormatId;
	text: string;
	lines: LineIndex;
	records: RecordNode[];
	problems: Problem[];
	/** Column names in order, for tables with a header. */
	columns: string[];
	/** Name of the field that holds the id, where it is a field. */
	key: string | null;
}

/** What the field guide knows about how to read a file. */
export interface ReadHints {
	/** Column, attribute or property that holds the id. */
	key?: string;
	/** Cell separator of delimited text. */
	separator?: string;
	/** Name of the elements that are records, when not all children of the root are. */
	element?: string;
}

/** How one format is read and edited. Every edit is a list of splices on `doc.text`. */
export interface Format {
	id: FormatId;
	/** File endings, without the dot, lower case. */
	endings: string[];
	/** Reads any text: what cannot be read is a problem, never an exception. */
	read(text: string, hints: ReadHints): Document;
	/** Sets a field; one that is absent is written where the format puts new fields. @throws EditRefused */
	set(doc: Document, record: RecordNode, path: string, value: string): Splice[];
	/** Takes a field out, or empties it where the format needs it to be there. @throws EditRefused */
	unset(doc: Document, record: RecordNode, path: string): Splice[];
	/** Writes another id in the record itself. @throws EditRefused */
	rename(doc: Document, record: RecordNode, id: string): Splice[];
	/** Puts a copy of `record` of `source` behind the last record of `doc`. @throws EditRefused */
	insert(doc: Document, source: Document, record: RecordNode): Splice[];
	/** Takes the record out, with the commentary that belongs to it. */
	remove(doc: Document, record: RecordNode): Splice[];
	/** A new file like `doc` (header, root, declarations) that holds no record yet. */
	blank(doc: Document): string;
}

/** An edit that the format cannot express; says why, and what would do. */
export class EditRefused extends Error {}

/** Collects records and problems over one text. */
export function startDocument(
	format: FormatId,
	text: string
): Document & { problem(at: number, message: string): void } {
	const lines = lineIndex(text);
	const problems: Problem[] = [];
	return {
		format,
		text,
		lines,
		records: [],
		problems,
		columns: [],
		key: null,
		problem(at, message) {
			const place = placeOf(lines, Math.min(at, text.length));
			problems.push({ ...place, message, excerpt: excerptAt(text, lines, place.line) });
		}
	};
}

/** The record with an id; `line` chooses among several that share it. */
export function findRecord(doc: Document, id: string, line?: number): RecordNode | undefined {
	return doc.records.find((record) => record.id === id && (line === undefined || record.line === line));
}

/**
 * The field at a path. An item of a nested list may also be named by its id: `effect[tow].add` finds
 * `effect[1].add` where `effect[1].id` is `tow`.
 */
export function findField(record: RecordNode, path: string): FieldNode | undefined {
	const exact = record.fields.find((field) => field.path === path);
	if (exact || !/\[[^\]]*\D[^\]]*\]/.test(path)) return exact;
	let concrete = path;
	for (
		let match = /\[([^\]]*[^\]\d][^\]]*)\]/.exec(concrete);
		match;
		match = /\[([^\]]*[^\]\d][^\]]*)\]/.exec(concrete)
	) {
		const list = concrete.slice(0, match.index);
		const owner = record.fields.find(
			(field) =>
				field.path.startsWith(`${list}[`) &&
				/^\[\d+\]\.id$/.test(field.path.slice(list.length)) &&
				String(field.value) === match![1]
		);
		if (!owner) return undefined;
		concrete = owner.path.slice(0, -'.id'.length) + concrete.slice(match.index + match[0].length);
	}
	return record.fields.find((field) => field.path === concrete);
}

/** Fields as a plain map from path to value; safe for keys such as `__proto__`. */
export function fieldsOf(record: RecordNode): Record<string, Scalar> {
	const fields: Record<string, Scalar> = Object.create(null);
	for (const field of record.fields) fields[field.path] = field.value;
	return fields;
}
