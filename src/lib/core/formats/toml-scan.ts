// Reads TOML 1.0 in one pass onto a tape.
import type { OpenDocument } from './document';
import { Fault } from './fault';
import { DEEPEST } from './json';
import { contentLineEnd, lineEnd } from './lines';
import { BARE, LIST, MAP, OWN, TEXT } from './tape';

// A section `[a.b]` is a map inside the section `[a]` that it follows, else among the others of the file.
/** A header and what it begins. */
export interface Section {
	/** What its header adds to the name of the section that it is in. */
	name: string;
	/** Place of the last part of its name in its header, from 0. */
	part: number;
	/** Whether it is one of a list, `[[…]]`. */
	many: boolean;
}

const ESCAPE = /^(?:[btnfre"\\]|u[0-9a-fA-F]{4}|U[0-9a-fA-F]{8}|x[0-9a-fA-F]{2})/;

/** Space, `,`, `]`, `}` or `#`. */
const endsValue = (code: number) => code <= 32 || code === 44 || code === 93 || code === 125 || code === 35;

const isBare = (code: number) =>
	(code >= 97 && code <= 122) ||
	(code >= 65 && code <= 90) ||
	(code >= 48 && code <= 57) ||
	code === 95 ||
	code === 45;

export const NUMBER =
	/^(?:[-+]?(?:0|[1-9](?:_?\d)*)(?:\.\d(?:_?\d)*)?(?:[eE][-+]?\d(?:_?\d)*)?|0x[0-9a-fA-F](?:_?[0-9a-fA-F])*|0o[0-7](?:_?[0-7])*|0b[01](?:_?[01])*|[-+]?(?:inf|nan))$/;
export const DATETIME =
	/^(?:\d{4}-\d\d-\d\d(?:[Tt ]\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:[Zz]|[-+]\d\d:\d\d)?)?|\d\d:\d\d(?::\d\d(?:\.\d+)?)?)$/;

/** A date or time. */
const DATE = OWN;

class Scanner {
	at = 0;
	depth = 0;
	readonly sections = new Map<number, Section>();
	constructor(readonly doc: OpenDocument) {}

	private code(at = this.at): number {
		return this.doc.content.charCodeAt(at);
	}

	private fault(message: string, at = this.at): never {
		throw new Fault(at, message);
	}

	private blanks(): void {
		while (this.code() === 32 || this.code() === 9) this.at++;
	}

	private comment(): void {
		const from = this.at;
		this.at = lineEnd(this.doc.content, from);
		this.doc.tape.remark(from, contentLineEnd(this.doc.content, from));
	}

	private isEnd(): boolean {
		return this.at >= this.doc.content.length || this.code() === 10 || this.code() === 13;
	}

	/** Space, line ends and comments inside brackets. */
	private space(): void {
		while (this.at < this.doc.content.length) {
			const code = this.code();
			if (code === 32 || code === 9 || code === 10 || code === 13) this.at++;
			else if (code === 35) this.comment();
			else return;
		}
	}

	/** One part of a name, quoted or bare; returns its text. */
	private part(): string {
		const from = this.at;
		const code = this.code();
		if (code === 34 || code === 39) {
			this.string();
			return stringText(this.doc.content.slice(from, this.at));
		}
		while (isBare(this.code())) this.at++;
		if (this.at === from)
			this.fault(
				'A name is missing here; names with other characters than letters, digits, _ and - need quotes.'
			);
		return this.doc.content.slice(from, this.at);
	}

	/** A dotted name; returns its parts and is after it, before any space. */
	key(): string[] {
		const parts = [this.part()];
		for (;;) {
			const behind = this.at;
			this.blanks();
			if (this.code() !== 46) {
				this.at = behind;
				return parts;
			}
			this.at++;
			this.blanks();
			parts.push(this.part());
		}
	}

	private string(): void {
		const { content: text } = this.doc;
		const from = this.at;
		const quote = this.code();
		if (this.code(from + 1) === quote && this.code(from + 2) === quote) {
			this.longString(quote);
			return;
		}
		for (let at = from + 1; at < text.length; at++) {
			const code = text.charCodeAt(at);
			if (code === quote) {
				this.at = at + 1;
				return;
			}
			if (code === 10 || code === 13) break;
			if (code === 92 && quote === 34) {
				if (!ESCAPE.test(text.slice(at + 1, at + 10)))
					this.fault('This backslash escape is not valid TOML.', at);
				at++;
			} else if (code < 32 && code !== 9) this.fault('A text cannot contain a control character.', at);
		}
		this.fault('This text is never closed by its quote.', from);
	}

	/** A text between three quotes; up to two more may be before those that close it. */
	private longString(quote: number): void {
		const { content: text } = this.doc;
		const from = this.at;
		const mark = text.slice(from, from + 3);
		for (let at = from + 3; at < text.length; at++) {
			if (quote === 34 && text.charCodeAt(at) === 92) at++;
			else if (text.startsWith(mark, at)) {
				at += 3;
				while (this.code(at) === quote) at++;
				this.at = at;
				return;
			}
		}
		this.fault(`This text is never closed by ${mark}.`, from);
	}

	value(keyFrom: number, keyTo: number): void {
		const { content: text, tape } = this.doc;
		const from = this.at;
		const code = this.code();
		if (code === 34 || code === 39) {
			this.string();
			tape.leaf(TEXT, keyFrom, keyTo, from, this.at);
		} else if (code === 91) this.array(keyFrom, keyTo);
		else if (code === 123) this.inline(keyFrom, keyTo);
		else {
			while (this.at < text.length && !endsValue(this.code())) this.at++;
			if (
				/^\d{4}-\d\d-\d\d$/.test(text.slice(from, this.at)) &&
				/^ \d\d:/.test(text.slice(this.at, this.at + 4))
			) {
				this.at++;
				while (this.at < text.length && !endsValue(this.code())) this.at++;
			}
			const word = text.slice(from, this.at);
			if (word === '') this.fault('A value is missing after this “=”.', from);
			if (DATETIME.test(word)) tape.leaf(DATE, keyFrom, keyTo, from, this.at);
			else if (NUMBER.test(word) || word === 'true' || word === 'false')
				tape.leaf(BARE, keyFrom, keyTo, from, this.at);
			else this.fault('This is not a TOML value; text needs quotes.', from);
		}
	}

	private enter(): void {
		if (++this.depth > DEEPEST)
			this.fault(`The data here are nested more than ${DEEPEST} deep; what is deeper is not read.`);
	}

	private array(keyFrom: number, keyTo: number): void {
		const { tape, content: text } = this.doc;
		const open = this.at++;
		this.enter();
		const node = tape.open(LIST, keyFrom, keyTo, open);
		for (;;) {
			this.space();
			if (this.at >= text.length) this.fault('The “[” here is never closed.', open);
			if (this.code() === 93) break;
			this.value(-1, -1);
			this.space();
			if (this.code() === 44) this.at++;
			else if (this.code() !== 93)
				this.fault(
					this.at >= text.length ? 'The “[” here is never closed.' : 'A comma is missing between two values.',
					this.at >= text.length ? open : this.at
				);
		}
		tape.close(node, ++this.at);
		this.depth--;
	}

	private inline(keyFrom: number, keyTo: number): void {
		const { tape, content: text } = this.doc;
		const open = this.at++;
		this.enter();
		const node = tape.open(MAP, keyFrom, keyTo, open);
		const seen = new Set<string>();
		for (;;) {
			this.space();
			if (this.at >= text.length) this.fault('The “{” here is never closed.', open);
			if (this.code() === 125) break;
			this.pair(seen);
			this.space();
			if (this.code() === 44) this.at++;
			else if (this.code() !== 125)
				this.fault(
					this.at >= text.length ? 'The “{” here is never closed.' : 'A comma is missing between two pairs.',
					this.at >= text.length ? open : this.at
				);
		}
		tape.close(node, ++this.at);
		this.depth--;
	}

	pair(seen: Set<string>): void {
		const from = this.at;
		const name = joined(this.key());
		const to = this.at;
		this.blanks();
		if (this.code() !== 61) this.fault('A “=” is missing after this name.', from);
		if (seen.has(name)) this.doc.problem(from, `“${name}” is given twice here.`);
		seen.add(name);
		this.at++;
		this.blanks();
		this.value(from, to);
	}

	/** The rest of a line behind a value or header. */
	private rest(): void {
		this.blanks();
		if (this.code() === 35) this.comment();
		if (!this.isEnd()) this.fault('There is text after the value on this line.');
	}

	file(): number {
		const { doc } = this;
		const { tape, content: text } = doc;
		const root = tape.open(MAP, -1, -1, 0);
		const open: { parts: string[]; node: number }[] = [];
		let end = 0;
		let seen = new Set<string>();
		const headers = new Set<string>();
		const counts = new Map<string, number>();
		while (this.at < text.length) {
			const from = this.at;
			const count = tape.count;
			try {
				this.blanks();
				if (this.isEnd()) {
					this.at++;
					continue;
				}
				if (this.code() === 35) {
					this.comment();
					continue;
				}
				if (this.code() === 91) {
					const { parts, many, keyFrom, keyTo, start } = this.header();
					const whole = countedPath(parts, many, counts);
					if (headers.has(whole)) doc.problem(start, `The table “${joined(parts)}” is begun twice.`);
					headers.add(whole);
					while (open.length > 0 && !isInside(parts, open.at(-1)!.parts)) tape.close(open.pop()!.node, end);
					const above = open.at(-1)?.parts.length ?? 0;
					const node = tape.open(MAP, keyFrom, keyTo, start);
					this.sections.set(node, { name: joined(parts.slice(above)), part: parts.length - 1, many });
					open.push({ parts, node });
					end = this.at;
					seen = new Set();
				} else {
					this.pair(seen);
					end = this.at;
				}
				this.rest();
			} catch (error) {
				if (!(error instanceof Fault)) throw error;
				this.depth = 0;
				if (tape.count > count && !this.sections.has(count)) tape.cut(count);
				doc.problem(error.at, error.message);
				this.at = Math.max(lineEnd(text, error.at), from + 1);
			}
		}
		while (open.length > 0) tape.close(open.pop()!.node, end);
		tape.close(root, text.length);
		return root;
	}

	/** `[name]` or `[[name]]`. */
	private header() {
		const { content: text } = this.doc;
		const start = this.at;
		const many = this.code(start + 1) === 91;
		const close = many ? ']]' : ']';
		this.at += close.length;
		this.blanks();
		const keyFrom = this.at;
		const parts = this.key();
		const keyTo = this.at;
		this.blanks();
		if (!text.startsWith(close, this.at)) this.fault(`This header is never closed by “${close}”.`, start);
		this.at += close.length;
		return { parts, many, keyFrom, keyTo, start };
	}
}

/** A path with the number of each list's table that it leads through: below a new one, names may begin again. */
function countedPath(parts: string[], many: boolean, counts: Map<string, number>): string {
	let path = '';
	parts.forEach((part, nth) => {
		path += `.${JSON.stringify(part)}`;
		if (many && nth === parts.length - 1) counts.set(path, (counts.get(path) ?? 0) + 1);
		const count = counts.get(path);
		if (count !== undefined) path += `#${count}`;
	});
	return path;
}

const isInside = (parts: string[], outer: string[]) =>
	parts.length > outer.length && outer.every((part, nth) => parts[nth] === part);

function isPlain(part: string): boolean {
	for (let at = 0; at < part.length; at++) if (!isBare(part.charCodeAt(at))) return false;
	return part !== '';
}

const joined = (parts: string[]) =>
	parts.map((part) => (isPlain(part) ? part : JSON.stringify(part))).join('.');

const ESCAPES: Record<string, string> = { b: '\b', t: '\t', n: '\n', f: '\f', r: '\r', e: '\x1b' };

/** The text of a string in any of its four writings. */
export function stringText(raw: string): string {
	const quote = raw[0]!;
	const long = raw.length >= 6 && raw.startsWith(quote.repeat(3));
	let inner = long ? raw.slice(3, -3).replace(/\r\n/g, '\n').replace(/^\n/, '') : raw.slice(1, -1);
	if (quote === "'") return inner;
	if (long) inner = inner.replace(/\\[ \t]*(?:\r\n|\n|\r)\s*/g, '');
	return inner.replace(
		/\\(?:u([0-9a-fA-F]{4})|U([0-9a-fA-F]{8})|x([0-9a-fA-F]{2})|([^]))/g,
		(whole, four, eight, two, char: string) => {
			if (char !== undefined) return ESCAPES[char] ?? char;
			const code = parseInt((four ?? eight ?? two) as string, 16);
			return code <= 0x10ffff ? String.fromCodePoint(code) : whole;
		}
	);
}

/** Reads a text onto its tape; returns the root and the sections by node. */
export function scanToml(doc: OpenDocument): { root: number; sections: Map<number, Section> } {
	const scanner = new Scanner(doc);
	return { root: scanner.file(), sections: scanner.sections };
}
