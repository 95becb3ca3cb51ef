import { codeFault } from './lua-code';
import {
	EditRefused,
	startDocument,
	type OpenDocument,
	type TextDocument,
	type ReadHints,
	type Scalar
} from './document';
import { CODE, commentEnd, ID, match, NUMBER, scanLua, WORDS } from './lua-scan';
import { BARE, itemsOf, MAP, TEXT, type Tape } from './tape';
import { addTreeRecords, isHolder, plainRecords, type Syntax } from './tree';
import { ALIKE, likenessOf } from './collections';
import { treeFormat } from './tree-format';

const ESCAPES: Record<string, string> = { n: '\n', t: '\t', r: '\r', a: '\x07', b: '\b', f: '\f', v: '\v' };

/** The text of a string in quotes or long brackets. */
function stringText(raw: string): string {
	const long = /^\[(=*)\[(?:\r\n|\n|\r)?/.exec(raw);
	if (long) return raw.slice(long[0].length, raw.length - long[1]!.length - 2);
	const inner = raw.slice(1, -1);
	if (!inner.includes('\\')) return inner;
	return inner.replace(
		/\\(?:z\s*|x([0-9a-fA-F]{2})|(\d{1,3})|u\{([0-9a-fA-F]{1,8})\}|(\r\n|[^]))/g,
		(whole, hex?: string, decimal?: string, wide?: string, char?: string) => {
			if (hex !== undefined) return String.fromCharCode(parseInt(hex, 16));
			if (decimal !== undefined) return String.fromCharCode(Number(decimal));
			if (wide !== undefined)
				return parseInt(wide, 16) <= 0x10ffff ? String.fromCodePoint(parseInt(wide, 16)) : whole;
			if (char === undefined) return '';
			return /[\r\n]/.test(char) ? '\n' : (ESCAPES[char] ?? char);
		}
	);
}

function quoted(value: string, quote: string): string {
	const inner = value
		.replaceAll('\\', '\\\\')
		.replaceAll(quote, `\\${quote}`)
		.replaceAll('\n', '\\n')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', '\\t')
		.replace(
			/[\x00-\x1f\x7f](?=(\d?))/g,
			(char, digit: string) =>
				`\\${digit === '' ? char.charCodeAt(0) : String(char.charCodeAt(0)).padStart(3, '0')}`
		);
	return quote + inner + quote;
}

function writeString(value: string, old: string): string {
	const long = /^\[(=*)\[((?:\r\n|\n|\r)?)/.exec(old);
	if (!long) return quoted(value, old[0] === "'" ? "'" : '"');
	const marks = long[1]!;
	// A closing bracket of this level inside, or one that would grow together with the mark, needs quotes.
	if (value.includes(`]${marks}]`) || value.endsWith(']') || /\r/.test(value)) return quoted(value, '"');
	const lead = long[2] || (value.startsWith('\n') ? '\n' : '');
	return `[${marks}[${lead}${value}]${marks}]`;
}

const raw = ({ tape, content: text }: TextDocument, node: number) =>
	text.slice(tape.from(node), tape.to(node));

function bareValue(raw: string): Scalar {
	if (raw === 'true') return true;
	if (raw === 'false') return false;
	if (raw === 'nil') return null;
	const number = /^-/.test(raw) ? -Number(raw.slice(1).trim()) : Number(raw);
	return Number.isNaN(number) || (/^-?\d+$/.test(raw) && !Number.isSafeInteger(number)) ? raw : number;
}

/** Texts that are put together from others: `"low_" .. "wall"`, or from a local that was given one. */
const CHAIN =
	/^(?:"[^"\\\r\n]*"|'[^'\\\r\n]*'|[A-Za-z_]\w*)(?:\s*\.\.\s*(?:"[^"\\\r\n]*"|'[^'\\\r\n]*'|[A-Za-z_]\w*))*$/;

/** A text that is marked to be translated: `_("…")` or `_"…"`, in three parts. The function of that name gives it back. */
const MARKED = /^(_\s*(?:\(\s*)?)("(?:[^"\\\r\n]|\\.)*"|'(?:[^'\\\r\n]|\\.)*')(\s*\))?$/;

/** The parts of such a text; null for other code. */
function markedParts(code: string): [before: string, text: string, behind: string] | null {
	const found = MARKED.exec(code);
	if (!found) return null;
	const [, before, text, behind = ''] = found as unknown as [string, string, string, string?];
	return before.includes('(') === (behind !== '') ? [before, text, behind] : null;
}

const localTexts = new WeakMap<Tape, Map<string, string>>();

function localsOf({ tape, content: text }: TextDocument): Map<string, string> {
	let found = localTexts.get(tape);
	if (!found) {
		localTexts.set(tape, (found = new Map()));
		for (const [, name, value] of text.matchAll(
			/^[ \t]*local\s+([A-Za-z_]\w*)\s*=\s*["']([^"'\\\r\n]*)["'][ \t]*$/gm
		))
			found.set(name!, value!);
	}
	return found;
}

/** What a calculation of plain numbers comes to; null for any other. */
function reckoned(code: string): number | null {
	if (code.length > 80 || !/^[\d\s.+*/()-]+$/.test(code) || !/\d\s*[-+*/]/.test(code)) return null;
	const words = code.match(/\d+(?:\.\d+)?|[-+*/()]/g) ?? [];
	let at = 0;
	const factor = (): number => {
		const word = words[at++];
		if (word === '-') return -factor();
		if (word !== '(') return Number(word);
		const inner = sum();
		return words[at++] === ')' ? inner : NaN;
	};
	const product = (): number => {
		let value = factor();
		while (words[at] === '*' || words[at] === '/')
			value = words[at++] === '*' ? value * factor() : value / factor();
		return value;
	};
	const sum = (): number => {
		let value = product();
		while (words[at] === '+' || words[at] === '-')
			value = words[at++] === '+' ? value + product() : value - product();
		return value;
	};
	const value = sum();
	return at === words.length && Number.isFinite(value) ? value : null;
}

/** A calculation as what it comes to, where that can be detected from the file alone; else as written. A text that is marked is itself. */
function folded(doc: TextDocument, code: string): Scalar {
	const number = reckoned(code);
	if (number !== null) return number;
	const marked = markedParts(code);
	if (marked) return stringText(marked[1]);
	if (code.length > 300 || !CHAIN.test(code)) return code;
	const locals = localsOf(doc);
	let text = '';
	for (const part of code.split(/\s*\.\.\s*/)) {
		const known = /^["']/.test(part) ? part.slice(1, -1) : locals.get(part);
		if (known === undefined) return code;
		text += known;
	}
	return text;
}

const isNumber = (value: string) => {
	const sign = value.startsWith('-') ? 1 : 0;
	return value !== '' && match(NUMBER, value, sign) === value.length;
};

/** A name in brackets, as another one is written. */
const indexed = (name: string, like: string): string =>
	/^\d+$/.test(name) && !/["'.]/.test(like)
		? `[${name}]`
		: `[${quoted(name, like.includes("'") ? "'" : '"')}]`;

/** What is assigned below a table that has a name: `Birds.gull`, `Birds["gull"]`, `Birds[3]`. */
const CHAINED =
	/^([A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*)(\.[A-Za-z_]\w*|\[\s*(?:"[^"\\\r\n]*"|'[^'\\\r\n]*'|\d+)\s*\])$/;

/** The table below which a node is assigned, and its name there; null where it is assigned otherwise. */
function assignedTo(
	{ tape, content: text }: TextDocument,
	node: number
): { base: string; name: string } | null {
	if (tape.keyFrom(node) < 0) return null;
	const found = CHAINED.exec(text.slice(tape.keyFrom(node), tape.keyTo(node)));
	if (!found) return null;
	const key = found[2]!;
	const inner = key.startsWith('.') ? key.slice(1) : key.slice(1, -1).trim();
	return { base: found[1]!, name: /^["']/.test(inner) ? inner.slice(1, -1) : inner };
}

const isName = (name: string) => /^[A-Za-z_]\w*$/.test(name) && !WORDS.has(name);

const syntax: Syntax = {
	name(doc, node) {
		const { tape, content: text } = doc;
		if (tape.keyFrom(node) < 0) {
			return `#${places(doc).get(node) ?? 1}`;
		}
		const key = text.slice(tape.keyFrom(node), tape.keyTo(node));
		if (!key.startsWith('[')) return key.replace(/\s+/g, '').replace(/^return$/, '#return');
		const inner = key.slice(1, -1).trim();
		return /^["']/.test(inner) || inner.startsWith('[') ? stringText(inner) : inner;
	},
	value(doc, node) {
		const kind = doc.tape.kind(node);
		return kind === TEXT || kind === ID
			? stringText(raw(doc, node))
			: kind === BARE
				? bareValue(raw(doc, node))
				: folded(doc, raw(doc, node));
	},
	recordName(doc, node) {
		const assigned = assignedTo(doc, node);
		return assigned ? assigned.name : syntax.name(doc, node);
	},
	writeName(doc, name, like) {
		const assigned = CHAINED.exec(like);
		if (assigned) {
			const [, base, key] = assigned as unknown as [string, string, string];
			return key.startsWith('.') && isName(name) ? `${base}.${name}` : base + indexed(name, key);
		}
		if (like.startsWith('[')) return indexed(name, like);
		return isName(name) ? name : `[${quoted(name, '"')}]`;
	},
	writeValue(doc, node, value) {
		const bare = isNumber(value) || /^(?:true|false|nil)$/.test(value);
		if (node < 0) return bare ? value : quoted(value, '"');
		const old = raw(doc, node);
		if (doc.tape.kind(node) === TEXT || doc.tape.kind(node) === ID) return writeString(value, old);
		if (doc.tape.kind(node) === CODE) {
			const marked = markedParts(old);
			if (marked) return marked[0] + writeString(value, marked[1]) + marked[2];
			if (bare) return value;
			throw new EditRefused(
				'This is code that runs in the game; only a number or switch can replace it. To change it, edit the script.'
			);
		}
		if (bare) return value;
		if (old === 'nil') return quoted(value, '"');
		throw new EditRefused(
			`This must be a ${isNumber(old) ? 'number' : 'switch (true or false)'}, not “${value}”.`
		);
	},
	pair: ' = ',
	inside({ tape, content: text }, node) {
		return node === 0
			? { from: 0, to: text.length, separators: '' }
			: { from: tape.from(node) + 1, to: tape.to(node) - 1, separators: ',;' };
	},
	comment: commentEnd,
	hidden: ({ tape }, node) => tape.kind(node) === ID,
	inRow: ({ tape }, node) => tape.kind(node) !== ID,
	idLeaf: ({ tape }, node) => (hasId(tape, node) ? node + 1 : undefined),
	// A call ends with its bracket.
	endOf: (doc, node) => (isCall(doc, node) ? callEnd(doc, node) : doc.tape.to(node)),
	repeats: true,
	emptyIsList: true,
	word: (doc, node) => (isCall(doc, node) ? syntax.name(doc, node) : (assignedTo(doc, node)?.base ?? '')),
	calls: true,
	top: (doc, root) => onlyTable(doc, root) ?? root,
	records(doc, root) {
		const { tape } = doc;
		const items = itemsOf(tape, root);
		const calls = items.filter((item) => isCall(doc, item));
		if (calls.length > 0 || (isCalled(doc.hints.element) && items.every((item) => tape.kind(item) === CODE)))
			return { holder: root, items: calls, named: false };
		const table = onlyTable(doc, root);
		const tables = items.filter((item) => isHolder(tape, item));
		const assigned = tables.filter((item) => assignedTo(doc, item) !== null);
		const others = tables.filter((item) => !assigned.includes(item));
		// Beside them is what begins as empty, and what is given back in the end.
		const filled = others.filter(
			(item) => itemsOf(tape, item).length > 0 && syntax.name(doc, item) !== '#return'
		);
		if (filled.length === 0 && areRecords(doc, items, assigned))
			return { holder: root, items: assigned, named: true };
		if (table !== null) return plainRecords(tape, table);
		const names = new Set(tables.map((item) => syntax.name(doc, item)));
		if (
			tables.length === items.length &&
			tables.length > 1 &&
			tables.every((item) => tape.kind(item) === MAP)
		) {
			if (names.size === tables.length) return { holder: root, items: tables, named: true };
			if (names.size === 1) return { holder: root, items: tables, named: false };
		}
		return { holder: -1, items: [root], named: false };
	}
};

/** Whether tables that are assigned below others are things of one sort; not where single values are beside them. */
function areRecords(doc: TextDocument, items: readonly number[], assigned: readonly number[]): boolean {
	const { tape, hints } = doc;
	if (hints.element !== undefined) return assigned.length > 0;
	if (assigned.length < 2 || assigned.some((item) => tape.kind(item) !== MAP)) return false;
	const loose = items.some(
		(item) => !isHolder(tape, item) && assignedTo(doc, item) !== null && tape.kind(item) !== CODE
	);
	return !loose && likenessOf(tape, assigned) >= ALIKE;
}

/** Whether a word may be the name of a function. */
const isCalled = (word: string | undefined): boolean =>
	word !== undefined && /^[A-Za-z_][\w.:]*(?:\(\)[\w.:]*)*$/.test(word);

/** Whether a text before a table that a call is given names it. */
const hasId = (tape: Tape, node: number): boolean =>
	node + 1 < tape.after(node) && tape.kind(node + 1) === ID;

/** Where the call ends that a table is given to: behind its bracket, where it has one. */
function callEnd({ tape, content: text }: TextDocument, node: number): number {
	const to = tape.to(node);
	if (!text.slice(tape.keyTo(node), tape.from(node)).trimStart().startsWith('(')) return to;
	let depth = 1;
	for (let at = to; at < text.length; at++) {
		const char = text[at]!;
		const comment = commentEnd(text, at);
		if (comment >= 0) at = comment - 1;
		else if (char === '"' || char === "'") {
			for (at++; at < text.length && text[at] !== char; at++) if (text[at] === '\\') at++;
		} else if (char === '(') depth++;
		else if (char === ')' && --depth === 0) return at + 1;
	}
	return to;
}

/** Whether a table of names is given to a function, whose name then says what it is. */
function isCall({ tape, content: text }: TextDocument, node: number): boolean {
	if (tape.kind(node) !== MAP || tape.keyFrom(node) < 0) return false;
	if (hasId(tape, node)) return true;
	const name = text.slice(tape.keyFrom(node), tape.keyTo(node));
	return (
		!name.startsWith('[') &&
		name !== 'return' &&
		/^\s*\(?\s*$/.test(text.slice(tape.keyTo(node), tape.from(node)))
	);
}

/** The one table that a file gives back or assigns, among functions and other code; null where there are more. */
function onlyTable({ tape }: TextDocument, root: number): number | null {
	const items = itemsOf(tape, root);
	const tables = items.filter((item) => isHolder(tape, item));
	const alone = tables.length === 1 && items.every((item) => item === tables[0] || tape.kind(item) === CODE);
	return alone ? tables[0]! : null;
}

const placesOf = new WeakMap<Tape, Map<number, number>>();

/** The number, from 1, of each item without a name in a table that has names too. */
function places(doc: TextDocument): Map<number, number> {
	const known = placesOf.get(doc.tape);
	if (known) return known;
	const found = new Map<number, number>();
	const { tape } = doc;
	for (let node = 0; node < tape.count; node++) {
		if (tape.kind(node) !== MAP) continue;
		let nth = 0;
		for (const item of itemsOf(tape, node))
			if (tape.keyFrom(item) < 0 && tape.kind(item) !== ID) found.set(item, ++nth);
	}
	placesOf.set(tape, found);
	return found;
}

/** Whether a Lua text holds more than tables: a call, a condition, a loop, a function. What is in comments and texts counts too. */
export const isCode = (text: string): boolean => BLOCKS.test(text) || /[\w\])]\s*\(/.test(text);

const BLOCKS = /\b(?:function|if|for|while|repeat)\b/;

/**
 * Code is faulty where it cannot be loaded, and nowhere else. Of data alone the scanner says more: all that is wrong, and
 * where each thing begins.
 */
function checkCode(doc: OpenDocument): void {
	const { content, problems, records } = doc;
	const script = BLOCKS.test(content) || (records.length === 0 && content.trim() !== '');
	if (!script && problems.length === 0) return;
	const fault = codeFault(content);
	if (fault === undefined) return;
	if (script || fault === null) problems.length = 0;
	if (script && fault !== null) doc.problem(fault.at, fault.message);
}

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('lua', text, hints);
	const root = scanLua(doc);
	doc.tape.finish();
	// A script of nothing but code holds no data.
	const holds = itemsOf(doc.tape, root).some((item) => doc.tape.kind(item) !== CODE);
	// One that shall have calls may have none yet.
	if (holds || isCalled(hints.element)) addTreeRecords(doc, root, syntax);
	else if (text.trim() === '') doc.problem(0, 'The file is empty: there is no data.');
	checkCode(doc);
	return doc;
}

/** Data in Lua: tables that are assigned, returned or given to a function. Code among them is stepped over. */
export const lua = treeFormat('lua', ['lua'], read, syntax, { nested: true });
