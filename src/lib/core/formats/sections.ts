import { toEol } from '../text';
import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import { indexWithin, lineEnd, nextLine } from './lines';
import { DEEPEST } from './json';
import { indentAt, insertAt } from './siblings';
import { itemsOf, LIST, MAP, OWN, TEXT, type Tape } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { rowOf } from './tree-edits';
import { treeFormat } from './tree-format';

/** A cell of a table: its name is in the table's first line. */
const CELL = OWN;

const isBlank = (code: number) => code === 32 || code === 9;
const isBreak = (code: number) => code === 10 || code === 13;
const NAME = /^[^\s=[\]{}"';#][^=\r\n{}"]*$/;
/** A line that begins something: a text that goes on over it was never closed. */
const BEGINNING = /^[ \t]*(?:\[[^\]\r\n]*\][ \t]*$|[A-Za-z_][\w.-]*[ \t]*=)/;
/** What may be around a text: `_("…")`, or before it: `_ "…"`. */
const WRAPPER = /^(?:[A-Za-z_]\w*\([ \t]*|_[ \t]+)(?=["'])/;
/** A tag that closes a section: sections of such a text stand in each other. */
const CLOSING = /^[ \t]*\[\/[^\]\r\n]+\]/m;

class Scanner {
	private readonly text: string;
	private last = 0;
	private at = 0;
	/** The sections that are open, the innermost last; where none stand in each other, one at most. */
	private readonly open: number[] = [];

	constructor(private readonly doc: OpenDocument) {
		this.text = doc.content;
	}

	scan(): number {
		const { text, doc } = this;
		const { tape } = doc;
		const root = tape.open(MAP, -1, -1, 0);
		const nests = CLOSING.test(text);
		while (this.at < text.length) {
			const line = lineEnd(text, this.at);
			let from = this.at;
			while (from < line && text.charCodeAt(from) <= 32) from++;
			const to = trimmed(text, from, line);
			const code = text.charCodeAt(from);
			this.at = nextLine(text, this.at);
			if (from >= to) continue;
			if (code === 59 || code === 35) tape.remark(from, to);
			else if (code === 91 && indexWithin(text, ']', from, to) >= 0) this.tag(from, to, nests);
			else if (code === 91) doc.problem(from, 'This section’s name is never closed by “]”.');
			// A line in braces calls a macro, which is expanded elsewhere.
			else if (nests && code === 123 && text.charCodeAt(to - 1) === 125) this.last = to;
			else {
				// What is before the first section is none of the records.
				if (this.open.length === 0 && (nests || this.nameIn(from, to) === null)) continue;
				if (this.open.length === 0) this.open.push(tape.open(MAP, -1, -1, from));
				this.member(from, to);
			}
		}
		for (const node of this.open.reverse()) {
			if (nests) this.unclosed(node);
			tape.close(node, this.last);
		}
		tape.close(root, text.length);
		return root;
	}

	private unclosed(node: number): void {
		const { doc, text } = this;
		const { tape } = doc;
		const name = text.slice(tape.keyFrom(node), tape.keyTo(node));
		doc.problem(tape.from(node), `This section is never closed by “[/${name}]”.`);
		tape.breakOff(node);
	}

	/** A line with the name of a section in brackets: it begins one, or ends the one that is open. */
	private tag(from: number, to: number, nests: boolean): void {
		const { text, doc, open } = this;
		const { tape } = doc;
		const close = indexWithin(text, ']', from, to);
		if (nests && text[from + 1] === '/') this.closing(from, close);
		else {
			const node = nests ? undefined : open.pop();
			if (node !== undefined) tape.close(node, this.last);
			if (open.length >= DEEPEST)
				doc.problem(from, `Sections here are nested more than ${DEEPEST} deep; the rest is not read.`);
			else open.push(tape.open(MAP, from + 1, close, from));
		}
		this.last = close + 1;
		if (open.length >= DEEPEST) this.at = text.length;
		else if (trimmed(text, close + 1, to) > close + 1) this.trail(close + 1, to);
	}

	/** A closing tag: of the innermost section, or of one around it, of which the inner ones are not closed then. */
	private closing(from: number, close: number): void {
		const { text, doc, open } = this;
		const { tape } = doc;
		const name = text.slice(from + 2, close).trim();
		const nth = open.findLastIndex((node) => nameAt(text, tape, node) === name);
		if (nth < 0) {
			doc.problem(from, `“[/${name}]” closes nothing.`);
			return;
		}
		for (const node of open.splice(nth + 1).reverse()) {
			this.unclosed(node);
			tape.close(node, this.last);
		}
		tape.close(open.pop()!, close + 1);
	}

	/** What is before the first `=` of a line; null where that is no name. */
	private nameIn(from: number, to: number): string | null {
		const mark = indexWithin(this.text, '=', from, to);
		const name = mark < 0 ? '' : this.text.slice(from, trimmed(this.text, from, mark));
		return NAME.test(name) ? name : null;
	}

	/** `name = value`, or a bare word that says something by being there. */
	private member(from: number, to: number): void {
		const { text, doc } = this;
		const name = this.nameIn(from, to);
		if (name === null) {
			if (indexWithin(text, '=', from, to) >= 0)
				doc.problem(from, 'The name before “=” is missing or has marks in it.');
			else if (/^[\w.-]+$/.test(text.slice(from, to))) doc.tape.leaf(TEXT, from, to, to, to);
			else if (/[{}"]/.test(text[from]!))
				doc.problem(from, 'This belongs to no value; a quote or brace above may not be closed.');
			this.last = to;
			return;
		}
		const mark = indexWithin(text, '=', from, to);
		let start = mark + 1;
		while (start < to && isBlank(text.charCodeAt(start))) start++;
		const end =
			text[start] === '{'
				? this.table(from, from + name.length, start)
				: this.values(from, from + name.length, start, to);
		this.last = Math.max(end, start);
		if (this.last > to) this.at = nextLine(text, this.last);
		const line = lineEnd(text, this.last);
		this.trail(this.last, trimmed(text, this.last, line));
	}

	/** Commentary behind a value on its line. */
	private trail(from: number, to: number): void {
		let at = from;
		while (at < to && isBlank(this.text.charCodeAt(at))) at++;
		if (at < to && ';#'.includes(this.text[at]!)) this.doc.tape.remark(at, to);
		else if (at < to && from > 0) this.doc.problem(at, 'There is text after the value.');
	}

	/** End of the text in quotes at an offset, behind its quote; where it is never closed, that of the line. */
	private quoted(at: number): number {
		const { text } = this;
		const quote = text.charCodeAt(at);
		for (let end = at + 1; end < text.length; end++) {
			const code = text.charCodeAt(end);
			if (code === 92 && !isBreak(text.charCodeAt(end + 1))) end++;
			else if (code === quote) return end + 1;
			else if (
				isBreak(code) &&
				BEGINNING.test(text.slice(nextLine(text, end), lineEnd(text, nextLine(text, end))))
			)
				break;
		}
		this.doc.problem(at, 'This text is never closed by a quote.');
		return lineEnd(text, at);
	}

	/** One value at an offset, as `[from, to)` and where it ends with all that belongs to it; null where none is. */
	private value(at: number, to: number): [from: number, to: number, end: number] | null {
		const { text } = this;
		const wrapper = WRAPPER.exec(text.slice(at, at + 80))?.[0] ?? '';
		const from = at + wrapper.length;
		if (text[from] === '"' || text[from] === "'") {
			const close = this.quoted(from);
			let end = close;
			if (wrapper !== '') {
				while (/\s/.test(text[end] ?? '')) end++;
				if (text[end] === ')') end++;
				else end = close;
			}
			return [from, close, end];
		}
		let end = at;
		while (end < to && !',;#'.includes(text[end]!)) end++;
		end = trimmed(text, at, end);
		return end > at ? [at, end, end] : null;
	}

	/** The values of a line: one, or several in quotes with commas between. */
	private values(keyFrom: number, keyTo: number, start: number, to: number): number {
		const { text, doc } = this;
		const { tape } = doc;
		const found: [number, number, number][] = [];
		let end = start;
		for (let at = start; ;) {
			const one = this.value(at, to);
			if (!one) break;
			found.push(one);
			end = one[2];
			let next = end;
			while (next < text.length && isBlank(text.charCodeAt(next))) next++;
			if (text[next] !== ',') break;
			do next++;
			while (next < text.length && text.charCodeAt(next) <= 32);
			at = next;
			to = Math.max(to, trimmed(text, next, lineEnd(text, next)));
		}
		const listed = found.length > 1 && found.every(([from]) => /["']/.test(text[from]!));
		if (listed) {
			const list = tape.open(LIST, keyFrom, keyTo, found[0]![0]);
			for (const [from, behind] of found) tape.leaf(TEXT, -1, -1, from, behind);
			tape.close(list, end);
			return end;
		}
		// Commas in words without quotes are part of them.
		const first = found[0];
		if (!first) tape.leaf(TEXT, keyFrom, keyTo, start, start);
		else if (found.length === 1) tape.leaf(TEXT, keyFrom, keyTo, first[0], first[1]);
		else tape.leaf(TEXT, keyFrom, keyTo, start, end);
		return end;
	}

	/** A table in braces, of which the first line names the columns. */
	private table(keyFrom: number, keyTo: number, open: number): number {
		const { text, doc } = this;
		const { tape } = doc;
		const list = tape.open(LIST, keyFrom, keyTo, open);
		let header: [number, number][] | null = null;
		let at = open + 1;
		for (;;) {
			const line = lineEnd(text, at);
			const cells: [number, number][] = [];
			let closed = -1;
			for (let next = at; next < line;) {
				const code = text.charCodeAt(next);
				if (isBlank(code) || code === 44) next++;
				else if (code === 125) {
					closed = next + 1;
					break;
				} else if (code === 59 || code === 35) {
					tape.remark(next, trimmed(text, next, line));
					break;
				} else {
					let stop = next;
					while (stop < line && !',}'.includes(text[stop]!)) stop++;
					const one = this.value(next, trimmed(text, next, stop));
					if (!one) break;
					cells.push([one[0], one[1]]);
					next = Math.max(one[2], next + 1);
				}
			}
			if (cells.length > 0 && !header) header = cells;
			else if (cells.length > 0) this.row(header!, cells);
			if (closed >= 0) {
				tape.close(list, closed);
				return closed;
			}
			const next = nextLine(text, line);
			if (next >= text.length || BEGINNING.test(text.slice(next, lineEnd(text, next)))) {
				doc.problem(open, 'This table is never closed by “}”.');
				tape.close(list, line);
				return line;
			}
			at = next;
		}
	}

	private row(header: readonly [number, number][], cells: readonly [number, number][]): void {
		const { tape } = this.doc;
		if (cells.length !== header.length)
			this.doc.problem(
				cells[0]![0],
				`This row has ${cells.length} cells; the table’s first line names ${header.length}.`
			);
		const row = tape.open(MAP, -1, -1, cells[0]![0]);
		cells.slice(0, header.length).forEach(([from, to], nth) => tape.leaf(CELL, ...header[nth]!, from, to));
		tape.close(row, cells.at(-1)![1]);
	}
}

/** The name of a section without a mark before it: of one that adds to another of its name. */
const nameAt = (text: string, tape: Tape, node: number): string =>
	text.slice(tape.keyFrom(node), tape.keyTo(node)).trim().replace(/^\+/, '');

/** Brackets and space around the name in a closing tag. */
const SPACE_IN_TAG = 20;

/** Where the closing tag of a section begins; -1 of one that has none. */
function closingFrom({ tape, content: text }: TextDocument, node: number): number {
	if (tape.kind(node) !== MAP || text[tape.to(node) - 1] !== ']') return -1;
	const [name, to] = [nameAt(text, tape, node), tape.to(node)];
	// Not further back than such a tag is long: most sections of other texts have none.
	const near = Math.max(tape.keyTo(node), to - name.length - SPACE_IN_TAG);
	const at = text.slice(near, to).lastIndexOf('[/');
	return at >= 0 && text.slice(near + at + 2, to - 1).trim() === name ? near + at : -1;
}

/** The end of what is in `[from, to)`, without the space at its end. */
function trimmed(text: string, from: number, to: number): number {
	while (to > from && text.charCodeAt(to - 1) <= 32) to--;
	return to;
}

const isQuoted = (raw: string) => raw.length >= 2 && /^(["'])[^]*\1$/.test(raw);

const bare = (raw: string) => (isQuoted(raw) ? raw.slice(1, -1) : raw);

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => bare(text.slice(tape.keyFrom(node), tape.keyTo(node)).trim()),
	value: ({ tape, content: text }, node) =>
		bare(text.slice(tape.from(node), tape.to(node)))
			.replace(/\\(?:\r\n|\n|\r)/g, '')
			.replace(/\\(["'\\])/g, '$1'),
	writeName(_, name) {
		if (!/^[A-Za-z_][\w. -]*$/.test(name) || name !== name.trim())
			throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue({ tape, content: text }, node, value) {
		const old = node < 0 ? '' : text.slice(tape.from(node), tape.to(node));
		if (isQuoted(old)) {
			if (/[\r\n]/.test(value) && !/[\r\n]/.test(old))
				throw new EditRefused('A text in this file must be on one line.');
			return old[0]! + value.replaceAll(old[0]!, `\\${old[0]!}`) + old[0]!;
		}
		if (/[\r\n]/.test(value)) throw new EditRefused('A value in this file cannot contain a line break.');
		const plain = /^[-+]?[\w.]*$/.test(value);
		if (node >= 0 && old === '') {
			// A word that says something by being there has no value to change.
			if (text[tape.keyTo(node)] !== '=' && !/^[ \t]*=/.test(text.slice(tape.keyTo(node), tape.from(node))))
				throw new EditRefused('This has no value.');
			return (text[tape.from(node) - 1] === '=' ? ' ' : '') + (plain ? value : `"${value}"`);
		}
		return plain ? value : `"${value.replaceAll('"', '\\"')}"`;
	},
	renameNode(doc, node, name) {
		const { tape } = doc;
		const section = tape.kind(node) === MAP;
		if (section && (/[\]\r\n]/.test(name) || name !== name.trim() || name === ''))
			throw new EditRefused(`“${name}” cannot be the name of a section.`);
		if (section) {
			const close = closingFrom(doc, node);
			const own = { from: tape.keyFrom(node), to: tape.keyTo(node), insert: name };
			return close < 0
				? null
				: [own, { from: close + 2, to: tape.to(node) - 1, insert: name.replace(/^\+/, '') }];
		}
		if (tape.kind(node) === CELL) throw new EditRefused('The first line of the table names all its columns.');
		return null;
	},
	pair: ' = ',
	inside(doc, node) {
		const { tape, content: text } = doc;
		if (tape.kind(node) === LIST) {
			if (text[tape.from(node)] === '{')
				return { from: tape.from(node) + 1, to: tape.to(node) - 1, separators: '' };
			return { from: tape.from(node), to: tape.to(node), separators: ',' };
		}
		const header = tape.keyFrom(node) < 0 ? tape.from(node) : lineEnd(text, tape.keyTo(node));
		const close = closingFrom(doc, node);
		// The space before a closing tag is none of what is inside.
		const end = close < 0 ? tape.to(node) : text.slice(0, close).trimEnd().length;
		return { from: header, to: Math.max(header, end), separators: '', lead: toEol(text) };
	},
	// A text in brackets: `_("Oak")`.
	endOf: ({ tape, content: text }, node) =>
		tape.to(node) + (/^[ \t]*\)/.exec(text.slice(tape.to(node), tape.to(node) + 100))?.[0].length ?? 0),
	dropNode(doc, node) {
		if (doc.tape.kind(node) === CELL) throw new EditRefused('A cell of a table cannot be left out.');
		return null;
	},
	addMember(doc, node, name, value) {
		const { tape, content: text } = doc;
		if (tape.kind(node + 1) === CELL && tape.after(node) > node + 1)
			throw new EditRefused('The first line of the table names all its columns.');
		const said = `${syntax.writeName(doc, name, '')} = ${syntax.writeValue(doc, -1, value, node)}`;
		const own = itemsOf(tape, node);
		if (closingFrom(doc, node) >= 0) {
			// Values stand before the sections inside.
			const values = own.filter((item) => tape.kind(item) !== MAP);
			const row = rowOf(doc, node, syntax);
			const lead = `${toEol(text)}${indentAt(text, tape.from(node))}\t`;
			if (values.length > 0 || own.length === 0)
				return insertAt({ ...row, lead }, own.indexOf(values.at(-1) ?? -1) + 1, said);
			return insertAt(row, 0, said);
		}
		const at = lineEnd(text, Math.max(tape.to(node), tape.keyTo(node)));
		return [{ from: at, to: at, insert: toEol(text) + said }];
	},
	repeats: true,
	trail: true,
	numbered: (doc, node) => closingFrom(doc, node) >= 0,
	word: (doc, node) => (doc.tape.keyFrom(node) < 0 ? '' : syntax.name(doc, node)),
	records: ({ tape }, root) => ({ holder: root, items: itemsOf(tape, root), named: true })
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('sections', text, hints);
	const root = new Scanner(doc).scan();
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	return doc;
}

/** Sections that may recur, with texts over several lines, lists, and tables in braces. */
export const sections = treeFormat('sections', [], read, syntax, { untyped: true, nested: true });
