import { lineAt } from '../text';
import {
	EditRefused,
	startDocument,
	type Habit,
	type TextDocument,
	type OpenDocument,
	type ReadHints,
	type Scalar,
	type TextFormat
} from './document';
import { contentLineEnd } from './lines';
import { BARE, LIST, MAP, TEXT, type TapeWriter } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

/** Containers nested deeper than this are not read: no game's data are, and hostile files must cost nothing. */
export const DEEPEST = 400;

const NUMBER = /^-?(0|[1-9]\d*)(\.\d+)?([eE][-+]?\d+)?$/;
/** What JSON5 takes besides: names without quotes, and numbers in more ways. */
export const BARE_NAME = /^[\p{L}_$][\p{L}\p{N}_$]*$/u;
export const LOOSE_NUMBER =
	/^[-+]?(?:\d+\.?\d*(?:[eE][-+]?\d+)?|\.\d+(?:[eE][-+]?\d+)?|0[xX][\da-fA-F]+|Infinity|NaN)$/;
const isWordEnd = (code: number) =>
	code <= 32 || code === 44 || code === 58 || code === 91 || code === 93 || code === 123 || code === 125;

/** End of the commentary that begins at `at`, or -1; one that never ends goes to the end of the text. */
export function slashComment(text: string, at: number): number {
	if (text.charCodeAt(at) !== 47) return -1;
	if (text.charCodeAt(at + 1) === 47) return contentLineEnd(text, at);
	if (text.charCodeAt(at + 1) !== 42) return -1;
	const end = text.indexOf('*/', at + 2);
	return end < 0 ? text.length : end + 2;
}

/** Checks a string between its quotes; the offset of the first fault or -1. */
function stringFault(text: string, from: number, to: number): number {
	for (let at = from; at < to; at++) {
		const code = text.charCodeAt(at);
		if (code < 32) return at;
		if (code !== 92) continue;
		const next = text[++at]!;
		if (next === 'u') {
			if (!/^[0-9a-fA-F]{4}$/.test(text.slice(at + 1, at + 5)) || at + 5 > to) return at - 1;
			at += 4;
		} else if (!'"\\/bfnrt'.includes(next)) return at - 1;
	}
	return -1;
}

const isSpace = (code: number) => code === 32 || code === 10 || code === 13 || code === 9;

/**
 * One pass without recursion. Faults are told where they are and stepped over, so that all records before and after
 * one are still read.
 */
class Scanner {
	private readonly tape: TapeWriter;
	private readonly text: string;
	/** Containers that are open, the innermost last. */
	private readonly stack: number[] = [];
	private inMap = false;
	private root = -1;
	/** The name that was read last, whose value is still to come. */
	readonly habits = new Map<Habit, number>();
	private keyFrom = -1;
	private keyTo = -1;
	private named = false;
	/** Whether a value or name may be here; after one, a separator must come first. */
	private ready = true;
	/** The separator that was read last, while nothing is after it. */
	private comma = -1;
	/** Brackets that are open below what is read. */
	private tooDeep = 0;
	private odd = false;

	constructor(
		private readonly doc: OpenDocument,
		private readonly strict: boolean,
		/** How it differs from JSON: a value on each line, or names without quotes and what else JSON5 allows. */
		private readonly way: 'json' | 'lines' | 'json5' = 'json'
	) {
		this.tape = doc.tape;
		this.text = doc.content;
		if (way !== 'lines') return;
		this.root = this.tape.open(LIST, -1, -1, 0);
		this.stack.push(this.root);
	}

	/** Reads all of it, or a span; gives the node of the root, -1 for none. */
	scan(from = 0, length = this.text.length): number {
		const { text } = this;
		for (let at = from; at < length;) {
			const code = text.charCodeAt(at);
			if (isSpace(code)) {
				if (this.way === 'lines' && code !== 32 && code !== 9) this.lineEnds(at);
				at++;
			} else if (code === 34 || (code === 39 && this.way === 'json5')) at = this.quoted(at, code);
			else if (code === 123 || code === 91) at = this.opening(at, code);
			else if (code === 125 || code === 93) at = this.closing(at, code);
			else if (code === 44) at = this.separator(at);
			else {
				const behind = code === 47 ? this.comment(at) : -1;
				at = behind >= 0 ? behind : this.word(at, code);
			}
		}
		if (this.way === 'lines') this.lineEnds(length);
		this.closeAll();
		return this.root;
	}

	/** What was opened on a line ends with it. */
	private lineEnds(at: number): void {
		const { doc, tape, stack } = this;
		if (stack.length > 1)
			doc.problem(
				tape.from(stack[1]!),
				'A bracket that opens on this line is not closed on it; each line must be complete by itself.'
			);
		while (stack.length > 1) {
			const node = stack.pop()!;
			tape.close(node, at);
			tape.breakOff(node);
		}
		this.done();
		this.inMap = false;
		this.tooDeep = 0;
		this.ready = true;
	}

	/** A value was read. */
	private done(): void {
		this.ready = false;
		this.named = false;
		this.keyFrom = this.keyTo = -1;
		this.comma = -1;
	}

	/** Whether a value may begin here. */
	private begin(here: number): boolean {
		if (this.stack.length === 0 && this.root >= 0) {
			this.doc.problem(here, 'There is text after the end of the data.');
			return false;
		}
		this.separated(here);
		if (this.inMap && !this.named) {
			this.doc.problem(here, 'A name in double quotes with a colon is missing before this value.');
			return false;
		}
		if (this.root < 0) this.root = this.tape.count;
		return true;
	}

	private separated(here: number): void {
		if (this.ready) return;
		this.doc.problem(here, 'A comma is missing before this.');
		this.ready = true;
	}

	/** The closing quote of the text that begins at a quote; `odd` says whether something in it may be wrong. */
	private textEnd(at: number, quote: number): number {
		const { text } = this;
		const { length } = text;
		let end = at + 1;
		let fault = false;
		for (;;) {
			const inside = text.charCodeAt(end);
			if (inside === quote) break;
			if (inside === 92) {
				fault ||= !'"\\/bfnrtu'.includes(text[end + 1] ?? '\0') || text[end + 1] === 'u';
				end += 2;
			} else if (inside >= 32) end++;
			else if (inside === 10 || inside === 13 || end >= length) break;
			else {
				fault = true;
				end++;
			}
		}
		this.odd = fault;
		return end;
	}

	/** A text in quotes: a name, or a value. */
	private quoted(at: number, quote: number): number {
		const { text, doc, way } = this;
		const end = this.textEnd(at, quote);
		if (end >= text.length || text.charCodeAt(end) !== quote) {
			doc.problem(at, `This text is never closed by a ${quote === 34 ? 'double' : 'single'} quote.`);
			if (this.tooDeep === 0 && !(this.inMap && !this.named)) this.done();
			return Math.min(end, text.length);
		}
		const wrong = this.odd && way !== 'json5' ? stringFault(text, at + 1, end) : -1;
		if (wrong >= 0)
			doc.problem(
				wrong,
				text[wrong] === '\\'
					? 'This backslash escape is not valid JSON.'
					: 'A tab or control character must be written with a backslash inside a text.'
			);
		if (this.tooDeep > 0) return end + 1;
		if (this.inMap && !this.named) return this.name(at, end + 1);
		if (this.begin(at)) this.tape.leaf(TEXT, this.keyFrom, this.keyTo, at, end + 1);
		this.done();
		return end + 1;
	}

	/** A name, up to behind its colon. */
	private name(from: number, to: number): number {
		this.separated(from);
		this.keyFrom = from;
		this.keyTo = to;
		this.named = true;
		this.comma = -1;
		const { text } = this;
		let next = to;
		for (;;) {
			const code = text.charCodeAt(next);
			if (isSpace(code)) next++;
			else if (code === 58) return next + 1;
			else {
				const behind = code === 47 && !this.strict ? slashComment(text, next) : -1;
				if (behind < 0) break;
				this.tape.remark(next, behind);
				next = behind;
			}
		}
		this.doc.problem(to, 'A colon is missing between the name and its value.');
		return to;
	}

	private opening(at: number, code: number): number {
		if (this.tooDeep > 0) {
			this.tooDeep++;
			return at + 1;
		}
		if (this.stack.length >= DEEPEST) {
			this.doc.problem(at, `The data here are nested more than ${DEEPEST} deep; what is deeper is not read.`);
			this.tooDeep = 1;
			return at + 1;
		}
		// What cannot be placed is still stepped into, so that its brackets do not close others.
		if (!this.begin(at)) this.keyFrom = this.keyTo = -1;
		if (this.root < 0) this.root = this.tape.count;
		this.stack.push(this.tape.open(code === 123 ? MAP : LIST, this.keyFrom, this.keyTo, at));
		this.inMap = code === 123;
		this.done();
		this.ready = true;
		return at + 1;
	}

	private closing(at: number, code: number): number {
		const { doc, tape, text, stack } = this;
		if (this.tooDeep > 0) {
			if (--this.tooDeep === 0) this.done();
			return at + 1;
		}
		const kind = code === 125 ? MAP : LIST;
		const top = stack.at(-1);
		if (top === undefined || (this.way === 'lines' && stack.length === 1)) {
			doc.problem(at, `This “${text[at]}” closes nothing.`);
			return at + 1;
		}
		if (this.named) doc.problem(at, 'A value is missing here.');
		else if (this.comma >= 0 && !this.strict) this.uses('last comma', this.comma);
		else if (this.comma >= 0 && this.strict)
			doc.problem(this.comma, 'There is nothing after this comma; the game’s reader does not accept that.');
		if (tape.kind(top) !== kind && !this.breakTo(at, kind, top)) return at + 1;
		tape.close(stack.pop()!, at + 1);
		this.inMap = stack.length > 0 && tape.kind(stack.at(-1)!) === MAP;
		this.done();
		return at + 1;
	}

	/** Breaks containers off down to the one that a bracket closes; false where it closes none. */
	private breakTo(at: number, kind: number, top: number): boolean {
		const { doc, tape, text, stack } = this;
		const wanted = tape.kind(top) === MAP ? '}' : ']';
		doc.problem(
			at,
			`This “${text[at]}” does not close the “${text[tape.from(top)]}” of line ${lineOf(doc, tape.from(top))}; “${wanted}” is missing before it.`
		);
		const match = stack.findLastIndex((node) => tape.kind(node) === kind);
		if (match < 0) return false;
		while (stack.length > match + 1) {
			const node = stack.pop()!;
			tape.close(node, at);
			tape.breakOff(node);
		}
		return true;
	}

	private separator(at: number): number {
		if (this.tooDeep > 0) return at + 1;
		const { doc } = this;
		if (this.named) doc.problem(at, 'A value is missing before this comma.');
		else if (this.ready)
			doc.problem(
				at,
				this.comma >= 0 ? 'There are two commas in a row here.' : 'This comma has nothing before it.'
			);
		if (this.stack.length === 0 && !this.ready) doc.problem(at, 'There is text after the end of the data.');
		this.ready = this.stack.length > 0;
		this.named = false;
		this.keyFrom = this.keyTo = -1;
		this.comma = at;
		return at + 1;
	}

	/** End of a comment; -1 where none begins. */
	private comment(at: number): number {
		const { text, doc } = this;
		const end = slashComment(text, at);
		if (end < 0) return -1;
		if (this.strict) doc.problem(at, 'Strict JSON has no comments.');
		if (text[at + 1] === '*' && text.slice(end - 2, end) !== '*/')
			doc.problem(at, 'This comment is never closed by “*/”.');
		this.tape.remark(at, end);
		this.uses('comment', at);
		return end;
	}

	private uses(habit: Habit, at: number): void {
		if (!this.habits.has(habit)) this.habits.set(habit, at);
	}

	/** A bare word or number, or what is none. */
	private word(at: number, code: number): number {
		const { text, doc } = this;
		const { length } = text;
		let end = at + 1;
		while (end < length && !isWordEnd(text.charCodeAt(end)) && text.charCodeAt(end) !== 34) end++;
		// A word may be followed by commentary at once.
		const remark = this.way === 'json5' ? text.slice(at, end).search(/\/[/*]/) : -1;
		if (remark > 0) end = at + remark;
		if (this.tooDeep > 0) return end;
		if (code === 58) {
			doc.problem(at, 'This colon has no name before it.');
			return at + 1;
		}
		const word = text.slice(at, end);
		if (this.way === 'json5' && this.inMap && !this.named && BARE_NAME.test(word)) return this.name(at, end);
		const good =
			(this.way === 'json5' && LOOSE_NUMBER.test(word)) ||
			(code === 45 || (code >= 48 && code <= 57)
				? NUMBER.test(word)
				: word === 'true' || word === 'false' || word === 'null');
		if (!good)
			doc.problem(
				at,
				/^[-+.\d]/.test(word)
					? 'This is not a JSON number.'
					: 'This is not a JSON value; text needs double quotes.'
			);
		if (this.begin(at) && good) this.tape.leaf(BARE, this.keyFrom, this.keyTo, at, end);
		if (this.inMap && !this.named && !good) {
			// Perhaps a name without quotes: its colon is not a second fault.
			while (end < length && text.charCodeAt(end) === 32) end++;
			if (text.charCodeAt(end) === 58) {
				this.named = true;
				return end + 1;
			}
		}
		this.done();
		return end;
	}

	/** Closes what was never closed, at the end of the file. */
	private closeAll(): void {
		const { doc, tape, text, stack } = this;
		const node = stack.pop();
		if (node === undefined) return;
		if (this.way === 'lines') {
			tape.close(node, text.length);
			return;
		}
		const from = tape.from(node);
		doc.problem(
			from,
			`The “${text[from]}” of line ${lineOf(doc, from)} is never closed${stack.length === 0 ? '' : ' (nor is the block around it)'}.`
		);
		for (const open of [node, ...stack]) {
			tape.close(open, text.length);
			tape.breakOff(open);
		}
	}
}

const lineOf = (doc: TextDocument, at: number) => lineAt(doc.lines, at);

function unquoted(raw: string): string {
	if (!raw.includes('\\')) return raw.slice(1, -1);
	try {
		return JSON.parse(raw) as string;
	} catch {
		return raw.slice(1, -1);
	}
}

/** A bare word as a value; a whole number that would lose digits stays text. */
export function bareValue(raw: string): Scalar {
	if (raw === 'true') return true;
	if (raw === 'false') return false;
	if (raw === 'null') return null;
	const number = Number(raw);
	return Number.isSafeInteger(number) || !/^-?\d+$/.test(raw) ? number : raw;
}

const isBare = (value: string) => NUMBER.test(value) || /^(true|false|null)$/.test(value);

/** How JSON is written in its smallest parts. */
export const syntax: Syntax = {
	name: ({ tape, content: text }, node) => unquoted(text.slice(tape.keyFrom(node), tape.keyTo(node))),
	value({ tape, content: text }, node) {
		const raw = text.slice(tape.from(node), tape.to(node));
		return tape.kind(node) === TEXT ? unquoted(raw) : bareValue(raw);
	},
	writeName: (_doc, name) => JSON.stringify(name),
	writeValue(doc, node, value) {
		if (node < 0) return isBare(value) ? value : JSON.stringify(value);
		if (doc.tape.kind(node) === TEXT) return JSON.stringify(value);
		if (isBare(value)) return value;
		const old = doc.content.slice(doc.tape.from(node), doc.tape.to(node));
		if (old === 'null') return JSON.stringify(value);
		throw new EditRefused(
			`This must be a ${/^[-\d]/.test(old) ? 'number' : 'switch (true or false)'}, not “${value}”.`
		);
	},
	pair: ': ',
	wraps: true,
	inside: ({ tape }, node) => ({ from: tape.from(node) + 1, to: tape.to(node) - 1, separators: ',' }),
	comment: slashComment
};

type Way = 'json' | 'lines' | 'json5';

/** What is read of a text; `[from, to)`. */
type Part = (text: string) => [from: number, to: number];

function read(
	id: string,
	way: Way,
	own: Syntax,
	part: Part | undefined,
	...[text, hints]: [text: string, hints: ReadHints]
): TextDocument {
	const doc = startDocument(id, text, hints);
	if (text.trim() === '' && way !== 'lines') {
		doc.problem(0, 'The file is empty: there is no data.');
		return doc;
	}
	const scanner = new Scanner(doc, hints.strict ?? false, way);
	const root = scanner.scan(...(part?.(text) ?? []));
	if (scanner.habits.size > 0) doc.habits = scanner.habits;
	doc.tape.finish();
	if (root < 0) {
		if (doc.problems.length === 0) doc.problem(0, 'There is no data in this file, only comments.');
		return doc;
	}
	addTreeRecords(doc, root, own);
	return doc;
}

/**
 * A reader of a format that is JSON, or differs from it in a way.
 * @param part what of a text is read, where it is not the whole
 */
export const reader =
	(id: string, way: Way, own: Syntax, part?: Part): TextFormat['read'] =>
	(text, hints) =>
		read(id, way, own, part, text, hints);

/** JSON, with comments and trailing commas where they are there: a map or a list of objects, else one record. */
export const json = treeFormat('json', ['json', 'jsonc'], reader('json', 'json', syntax), syntax, {
	nested: true
});

const linesSyntax: Syntax = {
	...syntax,
	inside: (doc, node) =>
		node === doc.root ? { from: 0, to: doc.content.length, separators: '' } : syntax.inside(doc, node)
};

/** JSON Lines: a value on each line. */
export const jsonLines = treeFormat(
	'jsonl',
	['jsonl', 'ndjson'],
	reader('jsonl', 'lines', linesSyntax),
	linesSyntax,
	{
		nested: true
	}
);
