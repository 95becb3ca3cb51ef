// Records as paragraphs of `Name: value` or `Name=value` lines: empty lines or lines of dashes are between them, or each
// begins with the same name. A line that begins with a space goes on with the value above it, and `#` begins commentary.
import type { Splice } from '../change';
import { toEol } from '../text';
import {
	EditRefused,
	startDocument,
	type OpenDocument,
	type ReadHints,
	type TextDocument,
	type TextFormat
} from './document';
import { lineEnd, nextLine } from './lines';
import { LIST, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const isBlank = (code: number) => code === 32 || code === 9;

/** End of a line without the spaces before it. */
function contentEnd(text: string, from: number): number {
	let end = lineEnd(text, from);
	while (end > from && isBlank(text.charCodeAt(end - 1))) end--;
	return end;
}

/** End of the value that begins in a line: also of the lines that go on with it. */
function valueEnd(text: string, at: number): { end: number; next: number } {
	let end = contentEnd(text, at);
	let next = nextLine(text, at);
	while (next < text.length && isBlank(text.charCodeAt(next)) && contentEnd(text, next) > next) {
		end = contentEnd(text, next);
		next = nextLine(text, next);
	}
	return { end, next };
}

/** A line that parts records, whatever is in it. */
const PARTS = /^(?:-{3,}|={3,}|\*{3,})[ \t]*$/;

const partsHere = (text: string, at: number, end: number): boolean =>
	end === at || ('-=*'.includes(text[at]!) && PARTS.test(text.slice(at, end)));

/** How the lines of a text are written: what is between a name and its value, and the name with which each record begins. */
interface Style {
	mark: ':' | '=';
	/** Null where empty lines, or lines of dashes, part the records. */
	first: string | null;
}

/** Records of so many begin with one name rather than behind empty lines. */
const FEWEST = 3;

const styles = new WeakMap<TextDocument, Style>();

function styleOf(doc: TextDocument): Style {
	let found = styles.get(doc);
	if (!found) styles.set(doc, (found = tellStyle(doc.content)));
	return found;
}

function tellStyle(text: string): Style {
	const lines = text.split(/\r\n|\n|\r/).filter((line) => !line.startsWith('#'));
	const equals = lines.filter((line) => /^[^\s:=][^:=]*=/.test(line)).length;
	const colons = lines.filter((line) => /^[^\s:=][^\s:=]*:/.test(line)).length;
	const mark = equals > colons ? '=' : ':';
	const nameIn = (line: string) => line.slice(0, Math.max(0, line.indexOf(mark))).trimEnd();
	const first = nameIn(lines.find((line) => line.trim() !== '') ?? '');
	const begun = lines.flatMap((line, nth) => (first !== '' && nameIn(line) === first ? [nth] : []));
	const parted = begun.filter(
		(nth) => nth === 0 || lines[nth - 1]!.trim() === '' || PARTS.test(lines[nth - 1]!)
	);
	const values = new Set(begun.map((nth) => lines[nth]));
	const isFirst =
		begun.length >= FEWEST && parted.length * 2 < begun.length && values.size * 2 > begun.length;
	return { mark, first: isFirst ? first : null };
}

function scan(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const { mark, first } = styleOf(doc);
	const root = tape.open(LIST, -1, -1, 0);
	let stanza = -1;
	let last = 0;
	const close = () => {
		if (stanza >= 0) tape.close(stanza, last);
		stanza = -1;
	};
	for (let at = 0; at < text.length;) {
		const end = contentEnd(text, at);
		if (partsHere(text, at, end)) {
			if (first === null) close();
			at = nextLine(text, at);
			continue;
		}
		if (text[at] === '#') {
			tape.remark(at, end);
			at = nextLine(text, at);
			continue;
		}
		const colon = text.indexOf(mark, at);
		let to = colon;
		while (mark === '=' && to > at && isBlank(text.charCodeAt(to - 1))) to--;
		if (to <= at || colon >= end || isBlank(text.charCodeAt(at)) || isBlank(text.charCodeAt(to - 1))) {
			doc.problem(at, `This line is neither “Name${mark} value” nor goes on with the one above.`);
			at = nextLine(text, at);
			continue;
		}
		if (first !== null && text.slice(at, to) === first) close();
		if (stanza < 0) stanza = tape.open(MAP, -1, -1, at);
		let from = colon + 1;
		while (from < end && isBlank(text.charCodeAt(from))) from++;
		const value = valueEnd(text, at);
		// An empty value stands one space behind the colon, where the file has one.
		if (from >= value.end) from = Math.min(colon + 2, lineEnd(text, at));
		last = Math.max(from, value.end);
		tape.leaf(TEXT, at, to, from, last);
		at = value.next;
	}
	close();
	tape.close(root, text.length);
	return root;
}

function checked(value: string): string {
	if (/[\r\n]/.test(value)) throw new EditRefused('A value is written in one line in this file.');
	if (value !== value.trim())
		throw new EditRefused('Spaces at the start or end of a value would be lost in this file.');
	return value;
}

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => text.slice(tape.keyFrom(node), tape.keyTo(node)),
	value: ({ tape, content: text }, node) =>
		text.slice(tape.from(node), tape.to(node)).replace(/[ \t]*(?:\r\n|\n|\r)[ \t]+/g, '\n'),
	writeName(_, name) {
		if (!/^[^\s:=#][^\s:=]*$/.test(name)) throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue({ tape, content: text }, node, value) {
		// Right behind the colon a value would be read as part of nothing else, but it is not how these files look.
		const lead = node >= 0 && value !== '' && text[tape.from(node) - 1] === ':' ? ' ' : '';
		return lead + checked(value);
	},
	pair: ': ',
	inside: ({ tape, content: text }, node) => ({
		from: tape.from(node),
		to: Math.max(tape.from(node), tape.to(node)),
		separators: '',
		lead: toEol(text)
	}),
	repeats: true
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('stanzas', text, hints);
	const root = scan(doc);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	return doc;
}

/** What is between two records, from the end of a line to the beginning of the next record. */
function gapIn(doc: TextDocument, eol: string): string {
	const [one, other] = doc.records.slice(-2);
	if (!one || !other) return styleOf(doc).first === null ? eol + eol : eol;
	const gap = doc.content.slice(lineEnd(doc.content, one.to), other.from);
	const parts = gap.split(/\r\n|\n|\r/);
	const isOnly =
		parts.length > 1 && parts.at(-1) === '' && parts.every((line) => line.trim() === '' || PARTS.test(line));
	return isOnly ? gap : eol + eol;
}

/** The end of the last line before one that says something: what is between them parts records. */
function saidBefore(text: string, at: number): number {
	for (let from = at; from > 0;) {
		const end = from - (text[from - 1] === '\n' && text[from - 2] === '\r' ? 2 : 1);
		let start = end;
		while (start > 0 && !/[\r\n]/.test(text[start - 1]!)) start--;
		if (!partsHere(text, start, contentEnd(text, start))) return end;
		from = start;
	}
	return 0;
}

const base = treeFormat('stanzas', ['stanza', 'stanzas'], read, syntax, { untyped: true });

/** Paragraphs of `Name: value` lines. */
export const stanzas: TextFormat = {
	...base,
	insert(doc, source, record) {
		const body = source.content.slice(record.from, record.to);
		const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : source.content);
		const last = doc.records.at(-1);
		if (last) {
			const at = lineEnd(doc.content, last.to);
			return [{ from: at, to: at, insert: gapIn(doc, eol) + body }];
		}
		const end = doc.content.length;
		const gap = end === 0 ? '' : /[\r\n]$/.test(doc.content) ? eol : eol + eol;
		return [{ from: end, to: end, insert: gap + body + eol }];
	},
	remove({ content: text }, record) {
		const to = lineEnd(text, record.to);
		// With what parts it from the one above, from the end of the line that does not.
		const from = saidBefore(text, record.from);
		if (from > 0) return [{ from, to, insert: '' }];
		let behind = nextLine(text, to);
		while (behind < text.length && partsHere(text, behind, contentEnd(text, behind)))
			behind = nextLine(text, behind);
		return [{ from: 0, to: behind, insert: '' }];
	},
	// Each paragraph goes into the place of another: what is between them stays.
	move(doc, record, to) {
		const order = [...doc.records];
		order.splice(order.indexOf(record), 1);
		order.splice(Math.min(to, order.length), 0, record);
		return doc.records.flatMap(({ from, to: end }, at): Splice[] => {
			const next = order[at]!;
			return next === doc.records[at]
				? []
				: [{ from, to: end, insert: doc.content.slice(next.from, next.to) }];
		});
	}
};
