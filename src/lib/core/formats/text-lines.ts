import { compilePattern, type Pattern } from '../text';
import {
	EditRefused,
	startDocument,
	type TextDocument,
	type FieldNode,
	type TextFormat,
	type ReadHints
} from './document';
import { linesLayout, type LinesLayout } from './layout';
import { insertLines, lineEnd, moveLines, nextLine, NO_LISTS, removeLines } from './lines';
import { addRecord, type RecordShape } from './records';
import { remarkOf, TEXT } from './tape';

const PLAIN = linesLayout.parse({ shape: 'lines' });
/** Lines longer than this are not matched. */
const LONGEST = 10_000;

const layoutOf = (doc: TextDocument): LinesLayout =>
	doc.hints.layout?.shape === 'lines' ? doc.hints.layout : PLAIN;

const patterns = new WeakMap<TextDocument, Pattern | null>();

function patternOf(doc: TextDocument): Pattern | null {
	let pattern = patterns.get(doc);
	if (pattern === undefined) {
		const source = layoutOf(doc).pattern;
		pattern = source === null ? null : compilePattern(source);
		patterns.set(doc, pattern);
	}
	return pattern;
}

function fieldsOfLine(doc: TextDocument, from: number, to: number): FieldNode[] {
	const { content: text } = doc;
	const line = text.slice(from, to);
	const pattern = patternOf(doc);
	const groups = pattern && line.length <= LONGEST ? pattern.groups(line) : null;
	if (!groups) return [{ path: 'text', value: line, from, to }];
	return [...groups]
		.sort((a, b) => a[1][0] - b[1][0])
		.map(([path, [start, end]]) => ({
			path,
			value: line.slice(start, end),
			from: from + start,
			to: from + end
		}));
}

const shape: RecordShape = {
	trail: false,
	idSpan(doc, node) {
		const field = idField(doc, node);
		return field ? { from: field.from, to: field.to } : null;
	},
	id: (doc, node) => String(idField(doc, node)?.value ?? ''),
	fields(doc, node) {
		const fields = fieldsOfLine(doc, doc.tape.from(node), doc.tape.to(node));
		const remark = remarkOf(doc.tape, doc.tape.from(node), doc.tape.to(node));
		if (remark) fields[0]!.remark = remark;
		return fields;
	}
};

const idField = (doc: TextDocument, node: number) =>
	doc.key === null
		? undefined
		: fieldsOfLine(doc, doc.tape.from(node), doc.tape.to(node)).find((field) => field.path === doc.key);

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('lines', text, hints);
	const { comments } = layoutOf(doc);
	const { tape } = doc;
	const matcher = patternOf(doc);
	const names = matcher?.names ?? [];
	doc.columns = names.length > 0 ? names : ['text'];
	doc.key = hints.key ?? ['id', 'key', 'name'].find((name) => names.includes(name)) ?? null;
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const to = lineEnd(text, at);
		const line = text.slice(at, Math.min(to, at + LONGEST + 1));
		if (line.trim() === '') continue;
		const mark = comments.find((candidate) => candidate !== '' && line.trimStart().startsWith(candidate));
		if (mark !== undefined) {
			tape.remark(at + line.length - line.trimStart().length, to);
			continue;
		}
		if (matcher && !matcher.test(line))
			doc.problem(
				at,
				line.length > LONGEST
					? `This line is longer than ${LONGEST} characters.`
					: 'This line is not as the field guide describes its lines.'
			);
		addRecord(doc, tape.leaf(TEXT, -1, -1, at, to), doc.records.length + 1, shape);
	}
	tape.finish();
	return doc;
}

/** A value that leaves its line one record of the same shape. @throws EditRefused */
function set(doc: TextDocument, record: Parameters<TextFormat['set']>[1], path: string, value: string) {
	const field = record.fields.find((candidate) => candidate.path === path);
	if (!field)
		throw new EditRefused(`The lines of this file have no “${path}”; they have ${doc.columns.join(', ')}.`);
	if (/[\r\n]/.test(value)) throw new EditRefused('A line of this file cannot contain a line break.');
	const [from, to] = [doc.tape.from(record.node), doc.tape.to(record.node)];
	const line = doc.content.slice(from, field.from) + value + doc.content.slice(field.to, to);
	const again = readDocumentLine(doc, line);
	if (again?.find((candidate) => candidate.path === path)?.value !== value)
		throw new EditRefused(`“${value}” cannot be here: the line would no longer match its description.`);
	return [{ from: field.from, to: field.to, insert: value }];
}

/** The fields of a line if it was alone; null where it would be no record. */
function readDocumentLine(doc: TextDocument, line: string): FieldNode[] | null {
	const alone = read(line, doc.hints);
	return alone.records.length === 1 && alone.problems.length === 0 ? alone.records[0]!.fields : null;
}

/** Plain text of which each line is a record, where the guide says so; a pattern of it may name their parts. */
export const textLines: TextFormat = {
	id: 'lines',
	of: 'text',
	endings: [],
	traits: { untyped: true },
	read,
	set,
	unset: (doc, record, path) => set(doc, record, path, ''),
	rename(doc, record, id) {
		if (doc.key === null || !record.idSpan) throw new EditRefused('The lines of this file have no ids.');
		return set(doc, record, doc.key, id);
	},
	renameKey() {
		throw new EditRefused('The parts of a line have no written names; the field guide names them.');
	},
	insert: (doc, source, record) => insertLines(doc, source.content.slice(record.from, record.to), 0),
	remove: removeLines,
	move: moveLines,
	...NO_LISTS,
	blank: () => ''
};
