import { counted, either } from '../wording';
import type { Splice } from '../change';
import {
	EditRefused,
	startDocument,
	type TextDocument,
	type TextFormat,
	type OpenDocument,
	type ReadHints
} from './document';
import { positionalLayout, type PositionalLayout } from './layout';
import { lineEnd, nextLine } from './lines';
import { inStyleOf } from './number-style';
import { itemsOf, LIST, MAP, OWN } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

/** The layout that is meant when the guide says none: one value to a line. */
const PLAIN = positionalLayout.parse({ shape: 'positional' });

const layoutOf = (doc: TextDocument): PositionalLayout =>
	doc.hints.layout?.shape === 'positional' ? doc.hints.layout : PLAIN;

/** Where commentary begins on a line; -1 for nowhere. */
function commentAt(text: string, from: number, to: number, comments: string[]): number {
	let first = -1;
	for (const mark of comments) {
		if (mark === '') continue;
		const at = text.slice(from, to).indexOf(mark);
		if (at >= 0 && (first < 0 || from + at < first)) first = from + at;
	}
	return first;
}

const isBlank = (code: number) => code === 32 || code === 9 || code === 0x3000;

/** Reads the values of one line as leaves; their kinds are their numbers. Returns how many there were. */
function values(doc: OpenDocument, from: number, to: number, separator: string, first: number): number {
	const { content: text, tape } = doc;
	let count = 0;
	let at = from;
	for (;;) {
		while (at < to && isBlank(text.charCodeAt(at)) && text[at] !== separator) at++;
		if (at >= to && (separator === '' || count === 0)) return count;
		const start = at;
		while (at < to && (separator === '' ? !isBlank(text.charCodeAt(at)) : !text.startsWith(separator, at)))
			at++;
		let end = at;
		while (end > start && isBlank(text.charCodeAt(end - 1))) end--;
		tape.leaf(OWN + first + count, -1, -1, start, end);
		count++;
		if (separator === '') continue;
		if (at >= to) return count;
		at += separator.length;
	}
}

function scan(doc: OpenDocument, layout: PositionalLayout): number {
	const { content: text, tape } = doc;
	const root = tape.open(MAP, -1, -1, 0);
	const headNames = layout.head.flat();
	let head = layout.head.length > 0 ? 0 : -1;
	let node = -1;
	let holder = -1;
	let line = 0;
	let offset = 0;
	let last = 0;
	let shortAt = -1;
	let isTitle = layout.titled;
	const openHolder = (at: number) => {
		if (holder < 0) holder = tape.open(LIST, -1, -1, at);
	};
	for (let at = 0; at < text.length; at = nextLine(text, at)) {
		const end = lineEnd(text, at);
		const comment = commentAt(text, at, end, layout.comments);
		let to = comment < 0 ? end : comment;
		while (to > at && isBlank(text.charCodeAt(to - 1))) to--;
		let from = at;
		while (from < to && isBlank(text.charCodeAt(from)) && !layout.separator.includes(text[from]!)) from++;
		if (comment >= 0) tape.remark(comment, end);
		if (from >= to) continue;
		if (isTitle) {
			isTitle = false;
			continue;
		}
		if (head >= 0) {
			if (node < 0) node = tape.open(MAP, -1, -1, from);
			const wanted = layout.head[head]!;
			const count = values(doc, from, to, layout.separator, offset);
			if (count !== wanted.length)
				doc.problem(
					from,
					`The head of this file needs ${wanted.length} values here (${wanted.join(', ')}); there are ${count}.`
				);
			offset += wanted.length;
			last = to;
			if (++head === layout.head.length) {
				tape.close(node, last);
				node = -1;
				head = -1;
				offset = 0;
			}
			continue;
		}
		openHolder(from);
		if (node < 0) {
			node = tape.open(MAP, -1, -1, from);
			shortAt = from;
		}
		const wanted = layout.record[line]!;
		const count = values(doc, from, to, layout.separator, headNames.length + offset);
		if (count !== wanted.length)
			doc.problem(
				from,
				`A record needs ${counted(wanted.length, 'value')} on this line (${wanted.join(', ')}); there ${either(count, 'is', 'are')} ${count}.`
			);
		offset += wanted.length;
		last = to;
		if (++line === layout.record.length) {
			tape.close(node, last);
			node = -1;
			line = 0;
			offset = 0;
		}
	}
	if (node >= 0) {
		tape.close(node, last);
		if (head >= 0) doc.problem(last, 'The file ends inside its head.');
		else {
			doc.problem(shortAt, `The last record has ${line} of ${layout.record.length} lines.`);
			tape.breakOff(node);
		}
	}
	openHolder(text.length);
	tape.close(holder, Math.max(last, tape.from(holder)));
	tape.close(root, text.length);
	return root;
}

/** The node that counts the records, and what it says. */
function countNode(doc: TextDocument): number {
	const { count, head } = layoutOf(doc);
	const at = count === null ? -1 : head.flat().indexOf(count);
	if (at < 0) return -1;
	for (let node = 0; node < doc.tape.count; node++) {
		if (doc.tape.kind(node) === OWN + at) return node;
		if (node === doc.holder) break;
	}
	return -1;
}

const names = new WeakMap<PositionalLayout, string[]>();

/** The names of all values: those of the head, then those of a record. */
function namesOf(doc: TextDocument): string[] {
	const layout = layoutOf(doc);
	const found = names.get(layout) ?? [...layout.head.flat(), ...layout.record.flat()];
	names.set(layout, found);
	return found;
}

const syntax: Syntax = {
	name(doc, node) {
		const kind = doc.tape.kind(node);
		if (kind < OWN) return kind === LIST ? 'records' : 'head';
		return namesOf(doc)[kind - OWN] ?? `value ${kind - OWN + 1}`;
	},
	value: ({ tape, content: text }, node) => text.slice(tape.from(node), tape.to(node)),
	writeName() {
		throw new EditRefused('Values of this file have no written names; the field guide names them.');
	},
	writeValue(doc, _node, value) {
		const { separator, comments } = layoutOf(doc);
		const wrong =
			/[\r\n]/.test(value) ||
			value.trim() !== value ||
			(separator === '' ? /\s/.test(value) || value === '' : value.includes(separator)) ||
			comments.some((mark) => mark !== '' && value.includes(mark));
		if (wrong)
			throw new EditRefused('This value would be read as several values or none; this file has no quotes.');
		return value;
	},
	pair: '',
	inside: ({ tape, content: text }, node) =>
		tape.kind(node) === LIST
			? { from: tape.from(node), to: text.length, separators: '' }
			: { from: tape.from(node), to: tape.to(node), separators: '' },
	addMember(_doc, _node, name) {
		throw new EditRefused(`The lines of this file have no place for “${name}”.`);
	},
	dropNode() {
		throw new EditRefused('A value in this file cannot be left out: the others would move into its place.');
	},
	trail: true,
	records(doc, root) {
		const { tape } = doc;
		const holder = itemsOf(tape, root).find((item) => tape.kind(item) === LIST)!;
		return { holder, items: itemsOf(tape, holder), named: false };
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('positional', text, hints);
	const layout = layoutOf(doc);
	const root = scan(doc, layout);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	doc.key = hints.key ?? (layout.record.flat().includes('id') ? 'id' : null);
	const counter = countNode(doc);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no line.');
	else if (counter >= 0) {
		const said = String(syntax.value(doc, counter));
		const count = itemsOf(doc.tape, doc.holder).length;
		if (Number(said) !== count)
			doc.problem(
				doc.tape.from(counter),
				`The head counts ${said} records; there ${either(count, 'is', 'are')} ${count}.`
			);
	}
	return doc;
}

const base = treeFormat('positional', [], read, syntax, { untyped: true });

/** The count in the head after `change` more records. */
function recounted(doc: TextDocument, change: number): Splice[] {
	const node = countNode(doc);
	if (node < 0) return [];
	const old = String(syntax.value(doc, node));
	if (!/^[+-]?\d+$/.test(old)) return [];
	const insert = inStyleOf(old, String(Number(old) + change)).text;
	return [{ from: doc.tape.from(node), to: doc.tape.to(node), insert }];
}

/** Lines whose values mean something by their position, as the guide names them; a count in the head follows. */
export const positional: TextFormat = {
	...base,
	insert: (doc, source, record) => [...recounted(doc, 1), ...base.insert(doc, source, record)],
	remove: (doc, record) => [...recounted(doc, -1), ...base.remove(doc, record)],
	blank(doc) {
		const { tape } = doc;
		const end = itemsOf(tape, doc.holder).length > 0 ? tape.from(doc.holder) : doc.content.length;
		const head = doc.content.slice(0, doc.records[0]?.from ?? end);
		const [count] = recounted(doc, -itemsOf(tape, doc.holder).length);
		return count ? head.slice(0, count.from) + count.insert + head.slice(count.to) : head;
	}
};
