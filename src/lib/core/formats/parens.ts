import { EditRefused, startDocument, type OpenDocument, type ReadHints, type TextDocument } from './document';
import { filledItems, isCollection } from './collections';
import { DEEPEST } from './json';
import { contentLineEnd } from './lines';
import { insertAt } from './siblings';
import { itemsOf, LIST, MAP, OWN, TEXT, type Tape } from './tape';
import { addTreeRecords, isHolder, type Syntax } from './tree';
import { rowItems, rowOf } from './tree-edits';
import { treeFormat } from './tree-format';

/** The first word behind a name that has more in it: what it is called. The next numbers are those of further ones. */
const HEAD = OWN;

/** Names of what marks a text as one to be translated: `(_ "Gull")`. */
const MARKS_TEXT = /^(?:_|N_|gettext|translate)$/;

const isSpace = (code: number) => code === 32 || (code >= 9 && code <= 13);
const [QUOTE, HASH, OPEN, CLOSE, DOT, COLON, REMARK, ESCAPE] = [34, 35, 40, 41, 46, 58, 59, 92] as const;
/** Whether a word ends before what is at an offset; the end of the text ends it, too. */
const stopsAt = (text: string, at: number) => {
	const code = text.charCodeAt(at);
	// Most of a word are letters, which stand behind all that ends one.
	if (code > REMARK) return false;
	return (
		isSpace(code) || code === QUOTE || code === OPEN || code === CLOSE || code === REMARK || at >= text.length
	);
};
/** Marks before a list that change nothing in what is data: quotes of three sorts. */
const isQuoteMark = (text: string, at: number) => {
	const code = text.charCodeAt(at);
	if (code !== 39 && code !== 44 && code !== 96) return false;
	return text[at + 1] === '(' || (text[at + 1] === '@' && text[at + 2] === '(');
};

/** End of commentary that begins at an offset; -1 where none does. */
function commentEnd(text: string, at: number): number {
	const code = text.charCodeAt(at);
	if (code === REMARK) return contentLineEnd(text, at);
	if (code !== HASH || !text.startsWith('#|', at)) return -1;
	const end = text.indexOf('|#', at + 2);
	return end < 0 ? text.length : end + 2;
}

/** What follows at a place, space and commentary left out. */
export function behind(text: string, at: number, tell?: (from: number, to: number) => void): number {
	for (;;) {
		while (at < text.length && isSpace(text.charCodeAt(at))) at++;
		if (text.charCodeAt(at) === OPEN) return at;
		if (isQuoteMark(text, at)) at += text[at + 1] === '@' ? 2 : 1;
		else {
			const end = commentEnd(text, at);
			if (end < 0) return at;
			tell?.(at, end);
			at = end;
		}
	}
}

/** End of the word, or of the text in quotes, that begins at an offset; a text that is never closed ends the file. */
function wordEnd(text: string, at: number): number {
	if (text.charCodeAt(at) !== QUOTE) {
		let to = at + 1;
		while (!stopsAt(text, to)) to++;
		return to;
	}
	for (let to = at + 1; to < text.length; to++) {
		const code = text.charCodeAt(to);
		if (code === ESCAPE) to++;
		else if (code === QUOTE) return to + 1;
	}
	return text.length;
}

/** Whether a text in quotes that goes up to the end of the file is closed there. */
function isClosed(text: string, from: number): boolean {
	const last = text.length - 1;
	let escapes = 0;
	while (text[last - 1 - escapes] === '\\') escapes++;
	return last > from && text[last] === '"' && escapes % 2 === 0;
}

/** Whether a word names what is behind it in its list: a number, or a text in quotes, does not. */
const isName = (word: string) => !/^(?:["#]|[-+.]?\d|[-+.]$)/.test(word);
const isKeyword = (word: string) => /^:[^:]/.test(word);

/**
 * Names that have several plain values somewhere: where they have one, it is a list, too. Found in a first pass, in
 * which only brackets and words count.
 */
function namesOfLists(text: string): Set<string> {
	const found = new Set<string>();
	const open: { name: string; words: number; lists: number }[] = [];
	for (let at = behind(text, 0); at < text.length; at = behind(text, at)) {
		const code = text.charCodeAt(at);
		const inner = open.at(-1);
		if (code === OPEN) {
			if (inner) inner.lists++;
			open.push({ name: '', words: -1, lists: 0 });
			at++;
		} else if (code === CLOSE) {
			open.pop();
			if (inner && inner.lists === 0 && inner.words > 1 && inner.name !== '') found.add(inner.name);
			at++;
		} else {
			const from = at;
			at = wordEnd(text, from);
			if (!inner) continue;
			const isKey = code === COLON && isKeyword(text.slice(from, at));
			if (inner.words === -1 && inner.lists === 0 && !isKey) {
				const word = text.slice(from, at);
				if (isName(word)) inner.name = word;
			}
			// A name with a value behind a dot has that one.
			if (code !== DOT || at > from + 1) inner.words++;
			if (isKey) inner.lists++;
		}
	}
	return found;
}

class Scanner {
	private at = 0;
	private readonly text: string;
	private readonly lists: ReadonlySet<string>;
	constructor(readonly doc: OpenDocument) {
		this.text = doc.content;
		this.lists = namesOfLists(doc.content);
	}

	private space(): void {
		this.at = behind(this.text, this.at, (from, to) => this.doc.tape.remark(from, to));
	}

	private word(): [number, number] {
		const from = this.at;
		this.at = wordEnd(this.text, from);
		if (this.text[from] === '"' && this.at === this.text.length && !isClosed(this.text, from))
			this.doc.problem(from, 'This text is never closed by its quote.');
		return [from, this.at];
	}

	/** What stands in the file: lists, and nothing beside them. */
	all(): void {
		for (;;) {
			this.space();
			if (this.at >= this.text.length) return;
			if (this.text[this.at] === '(') this.list(0, null);
			else {
				const isEnd = this.text[this.at] === ')';
				this.doc.problem(
					this.at,
					isEnd ? 'This parenthesis closes nothing.' : 'This stands outside of all parentheses.'
				);
				this.at = isEnd ? this.at + 1 : this.word()[1];
			}
		}
	}

	/** A name with one value, or none, as one value; whether it was that. The place is behind the name. */
	private single(from: number, to: number, name: string): boolean {
		const { text, doc } = this;
		if (this.lists.has(name)) return false;
		this.space();
		let inner = this.at;
		let close = 1;
		if (text[inner] === '.' && stopsAt(text, inner + 1)) inner = behind(text, inner + 1);
		if (text[inner] === ')') {
			doc.tape.leaf(TEXT, from, to, to, to);
			this.at = inner + 1;
			return true;
		}
		if (text[inner] === '(') {
			// A text that is marked as one to be translated is a text.
			const mark = behind(text, inner + 1);
			const end = wordEnd(text, mark);
			if (!MARKS_TEXT.test(text.slice(mark, end))) return false;
			inner = behind(text, end);
			if (text[inner] !== '"') return false;
			close++;
		}
		if (stopsAt(text, inner) && text[inner] !== '"') return false;
		const end = wordEnd(text, inner);
		if (isKeyword(text.slice(inner, end))) return false;
		let at = end;
		for (let nth = 0; nth < close; nth++) {
			at = behind(text, at);
			if (text[at] !== ')') return false;
			at++;
		}
		doc.tape.leaf(TEXT, from, to, inner, end);
		// Commentary in between is told on the way.
		for (this.space(); this.at < at; this.space()) {
			const isBracket = text[this.at] === '(' || text[this.at] === ')';
			this.at = isBracket ? this.at + 1 : wordEnd(text, this.at);
			if (this.at === at) break;
		}
		return true;
	}

	/** @param key the word that names the list, where that stands before it: `:carries (rope hook)` */
	private list(depth: number, key: readonly [number, number] | null): void {
		const { text, doc } = this;
		const { tape } = doc;
		const from = this.at++;
		this.space();
		let own = key;
		if (!key && !stopsAt(text, this.at)) {
			const end = wordEnd(text, this.at);
			const name = text.slice(this.at, end);
			if (isName(name) && !isKeyword(name)) {
				own = [this.at, end];
				this.at = end;
				if (this.single(from, end, name)) return;
				this.at = end;
			}
		}
		const node = tape.open(MAP, own?.[0] ?? -1, own?.[1] ?? -1, from);
		if (depth >= DEEPEST) {
			doc.problem(from, `Lists here are nested more than ${DEEPEST} deep; the rest is not read.`);
			this.at = text.length;
			tape.breakOff(node);
			tape.close(node, this.at);
			return;
		}
		const { heads, others, plain, closed } = this.inside(depth, from);
		if (!closed) tape.breakOff(node);
		const isMap = plain === 0 && (others > 0 ? own !== null || heads === 0 : false);
		tape.mark(node, isMap ? MAP : LIST);
		if (isMap) for (let nth = 0; nth < heads; nth++) tape.mark(node + 1 + nth, HEAD + nth);
		tape.close(node, this.at);
	}

	/** All in a list up to its end: words before anything else, what has a name, and the rest. */
	private inside(depth: number, from: number) {
		const { text, doc } = this;
		const { tape } = doc;
		const found = { heads: 0, others: 0, plain: 0, closed: true };
		for (;;) {
			this.space();
			if (this.at >= text.length) {
				if (doc.problems.length < 90) doc.problem(from, 'The parenthesis that opens here is never closed.');
				return { ...found, closed: false };
			}
			if (text[this.at] === ')') {
				this.at++;
				return found;
			}
			const node = tape.count;
			if (text[this.at] === '(') this.list(depth + 1, null);
			else {
				const word = this.word();
				const written = text.slice(...word);
				if (written === '.') continue;
				if (isKeyword(written)) this.valueOf(word, depth);
				else tape.leaf(TEXT, -1, -1, ...word);
			}
			if (tape.keyFrom(node) >= 0) found.others++;
			else if (found.others === 0 && !isHolder(tape, node)) found.heads++;
			else found.plain++;
		}
	}

	/** What stands behind a word that names it: `:weight 3`. */
	private valueOf(key: [number, number], depth: number): void {
		const { text, doc } = this;
		this.space();
		if (text[this.at] === '(') this.list(depth + 1, key);
		else if (this.at >= text.length || text[this.at] === ')') doc.tape.leaf(TEXT, ...key, key[1], key[1]);
		else doc.tape.leaf(TEXT, ...key, ...this.word());
	}
}

const ESCAPED: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r' };

const bare = (raw: string) =>
	raw.length >= 2 && raw.startsWith('"') && raw.endsWith('"')
		? raw.slice(1, -1).replace(/\\([\s\S])/g, (_, char: string) => ESCAPED[char] ?? char)
		: raw;

function written(value: string, old: string): string {
	const isPlain = /^[^\s()";'`,:]([^\s()";])*$/.test(value) && !value.startsWith('#|') && value !== '.';
	if (isPlain && !old.startsWith('"')) return value;
	const inner = value
		.replaceAll('\\', '\\\\')
		.replaceAll('"', '\\"')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', old.includes('\\t') ? '\\t' : '\t');
	// A text of several lines stays one, and others get none.
	return `"${/\n/.test(old) ? inner : inner.replaceAll('\n', '\\n')}"`;
}

/** Whether a word behind the name says what something is called. */
const headed = ({ tape }: TextDocument, node: number): boolean =>
	tape.kind(node) === MAP && node + 1 < tape.after(node) && tape.kind(node + 1) === HEAD;

const nameOf = (tape: Tape, node: number) =>
	tape.text.slice(tape.keyFrom(node), tape.keyTo(node)).replace(/^(?:\(\s*|:)/, '');

/** The only list of a file is what the file is, where that is no thing with a name; else it is all of them. */
function topOf(doc: TextDocument, root: number): number {
	const { tape, hints } = doc;
	const only = root + 1;
	const isAlone = only < tape.after(root) && tape.after(only) === tape.after(root);
	return isAlone && isHolder(tape, only) && !headed(doc, only) && hints.element === undefined ? only : root;
}

/** Lists in lists that are looked into for records. */
const WRAPPERS = 3;
/** Values that may stand beside the records. */
const BESIDE = 4;

/** The things in a list or file, where what is in it is several of a sort; null where it is one thing. */
function thingsIn(doc: TextDocument, node: number): number[] | null {
	const { tape } = doc;
	const items = itemsOf(tape, node).filter((item) => tape.kind(item) < OWN);
	const maps = items.filter((item) => tape.kind(item) === MAP);
	if (maps.length === 0 || items.length - maps.length > BESIDE || headed(doc, node)) return null;
	if (tape.kind(node) === LIST) return maps.length === items.length ? maps : null;
	const names = new Set(maps.map((item) => nameOf(tape, item)));
	const said = doc.hints.element !== undefined && names.has(doc.hints.element);
	if (said || names.size < maps.length || maps.every((item) => headed(doc, item))) return maps;
	return isCollection(tape, node) ? filledItems(tape, node) : null;
}

const syntax: Syntax = {
	name({ tape }, node) {
		if (tape.keyFrom(node) >= 0) return nameOf(tape, node);
		return tape.kind(node) > HEAD ? `#${tape.kind(node) - HEAD}` : 'id';
	},
	value: ({ tape, content: text }, node) => bare(text.slice(tape.from(node), tape.to(node))),
	writeName(_doc, name, like) {
		if (written(name, '') !== name || !isName(name))
			throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return (/^(?:\(\s*|:)/.exec(like)?.[0] ?? '') + name;
	},
	writeValue({ tape, content: text }, node, value) {
		const old = node < 0 ? '' : text.slice(tape.from(node), tape.to(node));
		const lead = node >= 0 && old === '' && tape.keyFrom(node) >= 0 ? ' ' : '';
		return lead + written(value, old);
	},
	pair: ' ',
	inside({ tape, content: text }, node) {
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		let from = tape.keyFrom(node) > tape.from(node) ? tape.keyTo(node) : tape.from(node) + 1;
		for (let item = node + 1; item < tape.after(node) && tape.kind(item) >= OWN; item++) from = tape.to(item);
		const lead = text[from - 1] === '(' ? '' : ' ';
		return { from, to: tape.to(node) - 1, separators: ' ', lead };
	},
	inRow: ({ tape }, node) => tape.kind(node) < OWN,
	endOf({ tape, content: text }, node) {
		const key = tape.keyFrom(node);
		if (isHolder(tape, node) || key < 0 || text[key] !== '(') return tape.to(node);
		const marked = /\(/.test(
			text.slice(tape.keyTo(node), tape.from(node)).replace(/;.*|#\|[\s\S]*?\|#/g, '')
		);
		let at = tape.to(node);
		for (let nth = marked ? 2 : 1; nth > 0; nth--) at = behind(text, at) + 1;
		return at;
	},
	addMember(doc, node, name, value) {
		const { tape, content: text } = doc;
		const items = rowItems(doc, node, syntax);
		const last = items.findLast((item) => tape.keyFrom(item) >= 0);
		const isWord = last !== undefined && text[tape.keyFrom(last)] === ':';
		const said = syntax.writeName(doc, name, isWord ? ':' : '(') + ' ' + written(value, '');
		return insertAt(rowOf(doc, node, syntax), items.length, isWord ? said : `${said})`);
	},
	comment: commentEnd,
	repeats: true,
	trail: true,
	top: topOf,
	numbered: (doc, node) => headed(doc, node),
	idLeaf: (doc, node) => (headed(doc, node) ? node + 1 : undefined),
	word: (doc, node) => (doc.tape.keyFrom(node) < 0 ? '' : nameOf(doc.tape, node)),
	records(doc, root) {
		const { tape, hints } = doc;
		let node = topOf(doc, root);
		for (let depth = 0; depth < WRAPPERS; depth++) {
			const items = thingsIn(doc, node);
			if (items) {
				const names = new Set(items.map((item) => syntax.name(doc, item)));
				const named = names.size === items.length && items.length > 1 && hints.key === undefined;
				return { holder: node, items, named: named && !items.some((item) => headed(doc, item)) };
			}
			const inner = itemsOf(tape, node).filter((item) => isHolder(tape, item));
			if (inner.length !== 1) break;
			node = inner[0]!;
		}
		const top = topOf(doc, root);
		return top === root
			? { holder: root, items: [], named: false }
			: { holder: -1, items: [top], named: false };
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('parens', text, hints);
	const root = doc.tape.open(MAP, -1, -1, 0);
	new Scanner(doc).all();
	doc.tape.close(root, text.length);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no list.');
	return doc;
}

/** Lists in parentheses, each with a name first: `(unit gull (weight 3) (carries rope hook))`. */
export const parens = treeFormat('parens', [], read, syntax, { untyped: true });
