import { EditRefused, startDocument, type Document, type OpenDocument, type ReadHints } from './document';
import { DEEPEST } from './json';
import { blockLayout, type BlockLayout } from './layout';
import { contentLineEnd, lineEnd } from './lines';
import { itemsOf, LIST, MAP, TEXT } from './tape';
import { addTreeRecords, holderOf, isHolder, treeFormat, type Tongue } from './tree';

/** The punctuation that is meant when the guide says none. */
const PLAIN = blockLayout.parse({ shape: 'block' });

const layoutOf = (doc: Document): BlockLayout =>
	doc.hints.layout?.shape === 'block' ? doc.hints.layout : PLAIN;

const IN_WORD = /[\p{L}\p{N}_]/u;
const isBlank = (code: number) => code === 32 || code === 9;
const isBreak = (code: number) => code === 10 || code === 13;

/** End of commentary that begins at `at`; -1 where none does. */
function commentEnd(text: string, at: number, layout: BlockLayout): number {
	for (const mark of layout.comments)
		if (mark !== '' && text.startsWith(mark, at)) return contentLineEnd(text, at);
	const block = layout.blockComment;
	if (!block || !text.startsWith(block[0], at)) return -1;
	const end = text.indexOf(block[1], at + block[0].length);
	return end < 0 ? text.length : end + block[1].length;
}

class Scanner {
	at = 0;
	readonly text: string;
	/** First characters that end a bare word. */
	private readonly stops: Set<string>;
	constructor(
		readonly doc: OpenDocument,
		readonly layout: BlockLayout
	) {
		this.text = doc.text;
		const { open, close, assign, openAfter, end, listOpen, listClose, listSeparator } = layout;
		this.stops = new Set(
			[open, close, assign, openAfter, end, listOpen, listClose, listSeparator]
				.filter(Boolean)
				.map((mark) => mark[0]!)
		);
	}

	/** Whether a mark stands here; one that is a word must stand by itself. */
	private starts(mark: string): boolean {
		const { text, at } = this;
		if (mark === '' || !text.startsWith(mark, at)) return false;
		if (!IN_WORD.test(mark[0]!)) return true;
		return !IN_WORD.test(text[at - 1] ?? '') && !IN_WORD.test(text[at + mark.length] ?? '');
	}

	private blanks(): void {
		while (isBlank(this.text.charCodeAt(this.at))) this.at++;
	}

	private comment(): boolean {
		const end = commentEnd(this.text, this.at, this.layout);
		if (end < 0) return false;
		this.doc.tape.remark(this.at, end);
		this.at = end;
		return true;
	}

	private space(): void {
		for (;;) {
			const code = this.text.charCodeAt(this.at);
			if (isBlank(code) || isBreak(code)) this.at++;
			else if (this.at >= this.text.length || !this.comment()) return;
		}
	}

	/** End of the quoted text that begins at `at`; -1 where none does or it is never closed. */
	private quoted(): number {
		const quote = this.text[this.at]!;
		if (!this.layout.quotes.includes(quote) || this.layout.quotes === '') return -1;
		const { text } = this;
		for (let at = this.at + 1; at < text.length; at++) {
			if (this.layout.escape === quote && text[at] === quote && text[at + 1] === quote) at++;
			else if (
				this.layout.escape !== '' &&
				this.layout.escape !== quote &&
				this.text.startsWith(this.layout.escape, at)
			)
				at += this.layout.escape.length;
			else if (this.text[at] === quote) return at + 1;
			else if (isBreak(this.text.charCodeAt(at))) break;
		}
		this.doc.problem(this.at, 'This text is never closed by its quote.');
		return -1;
	}

	/** A word up to space, punctuation or commentary; quoted ones whole. */
	private word(): [number, number] {
		const from = this.at;
		const end = this.quoted();
		if (end > 0) this.at = end;
		else {
			if (this.at < this.text.length) this.at++;
			while (this.at < this.text.length) {
				const code = this.text.charCodeAt(this.at);
				if (isBlank(code) || isBreak(code)) break;
				if (this.stops.has(this.text[this.at]!) && this.punctuation()) break;
				if (commentEnd(this.text, this.at, this.layout) >= 0) break;
				this.at++;
			}
		}
		return [from, this.at];
	}

	private punctuation(): boolean {
		const { open, close, assign, openAfter, end, listOpen, listClose, listSeparator } = this.layout;
		return [open, close, assign, openAfter, end, listOpen, listClose, listSeparator].some((mark) =>
			this.starts(mark)
		);
	}

	/** A bare value goes to its end mark, commentary or the line end; spaces inside belong to it. */
	private plainValue(): [number, number] {
		const from = this.at;
		const quote = this.quoted();
		if (quote > 0) {
			this.at = quote;
			return [from, quote];
		}
		let end = from;
		const { layout, text } = this;
		while (this.at < text.length) {
			const code = text.charCodeAt(this.at);
			if (isBreak(code) || this.starts(layout.end) || this.starts(layout.close)) break;
			if (
				(this.at === from || isBlank(text.charCodeAt(this.at - 1))) &&
				commentEnd(text, this.at, layout) >= 0
			)
				break;
			this.at++;
			if (!isBlank(code)) end = this.at;
		}
		this.at = end;
		return [from, end];
	}

	private list(keyFrom: number, keyTo: number): void {
		const { tape } = this.doc;
		const { listOpen, listClose, listSeparator } = this.layout;
		const from = this.at;
		const node = tape.open(LIST, keyFrom, keyTo, from);
		this.at += listOpen.length;
		for (;;) {
			this.space();
			if (this.at >= this.text.length) {
				this.doc.problem(from, `The list that “${listOpen}” opens here is never closed.`);
				break;
			}
			if (this.starts(listClose)) {
				this.at += listClose.length;
				break;
			}
			if (this.starts(listSeparator)) {
				this.at += listSeparator.length;
				continue;
			}
			const [start, end] = this.word();
			tape.leaf(TEXT, -1, -1, start, end);
		}
		tape.close(node, this.at);
	}

	/** What stands inside a block, or in the file. */
	body(depth: number): void {
		const { tape } = this.doc;
		const { layout, doc } = this;
		for (;;) {
			this.space();
			if (this.at >= this.text.length || (depth > 0 && this.starts(layout.close))) return;
			if (this.starts(layout.close)) {
				doc.problem(this.at, `This “${layout.close}” closes nothing.`);
				this.at += layout.close.length;
				continue;
			}
			if (this.starts(layout.end)) {
				this.at += layout.end.length;
				continue;
			}
			const from = this.at;
			if (this.punctuation()) {
				doc.problem(from, 'A name is missing here.');
				this.at++;
				continue;
			}
			const name = this.word();
			const words: [number, number][] = [];
			const opened = this.header(words);
			if (!opened && layout.assign === '' && words.length > 0) this.at = words[0]![0];
			if (opened) {
				this.block(from, name, words, depth);
				continue;
			}
			if (layout.assign !== '') {
				if (!this.starts(layout.assign)) {
					doc.problem(from, `Behind this name neither “${layout.assign}” nor “${layout.open}” follows.`);
					this.at = Math.max(lineEnd(this.text, from), this.at);
					continue;
				}
				this.at += layout.assign.length;
				this.blanks();
			}
			if (this.starts(layout.listOpen)) this.list(...name);
			else {
				const [start, end] = this.plainValue();
				tape.leaf(TEXT, name[0], name[1], start, end);
			}
			this.blanks();
			if (layout.end !== '') {
				if (this.starts(layout.end)) this.at += layout.end.length;
				else doc.problem(this.at, `“${layout.end}” is missing behind this value.`);
			}
		}
	}

	/** Words behind a name, up to the mark that assigns or the line end. Whether a block opens behind them. */
	private header(words: [number, number][]): boolean {
		const { layout } = this;
		for (;;) {
			this.blanks();
			if (layout.openAfter === '') {
				if (this.startsOpen()) return true;
			} else if (this.starts(layout.openAfter)) {
				const behind = this.at;
				this.at += layout.openAfter.length;
				if (this.startsOpen()) return true;
				this.at = behind;
				return false;
			}
			const ends =
				this.at >= this.text.length || isBreak(this.text.charCodeAt(this.at)) || this.punctuation();
			if (ends || commentEnd(this.text, this.at, layout) >= 0) return false;
			words.push(this.word());
		}
	}

	/** Whether a block opens here, perhaps on the next line. */
	private startsOpen(): boolean {
		if (this.starts(this.layout.open)) return true;
		const behind = this.at;
		while (isBlank(this.text.charCodeAt(this.at)) || isBreak(this.text.charCodeAt(this.at))) this.at++;
		if (this.starts(this.layout.open)) return true;
		this.at = behind;
		return false;
	}

	private block(from: number, name: [number, number], words: [number, number][], depth: number): void {
		const { tape } = this.doc;
		const { layout, doc } = this;
		const node = tape.open(MAP, name[0], name[1], from);
		for (const [start, end] of words) tape.leaf(TEXT, -1, -1, start, end);
		const open = this.at;
		this.at += layout.open.length;
		if (depth >= DEEPEST) {
			doc.problem(open, `Here blocks are nested more than ${DEEPEST} deep; the rest is not read.`);
			this.at = this.text.length;
			tape.breakOff(node);
			tape.close(node, this.at);
			return;
		}
		this.body(depth + 1);
		if (this.starts(layout.close)) this.at += layout.close.length;
		else {
			if (doc.problems.length < 90 && depth < DEEPEST - 1)
				doc.problem(open, `The block that “${layout.open}” opens here is never closed.`);
			tape.breakOff(node);
		}
		tape.close(node, this.at);
	}
}

const isQuoted = (raw: string, quotes: string) =>
	raw.length >= 2 && quotes.includes(raw[0]!) && raw.endsWith(raw[0]!);

function unquoted(raw: string, { quotes, escape }: BlockLayout): string {
	if (!isQuoted(raw, quotes)) return raw;
	const inner = raw.slice(1, -1);
	if (escape === raw[0]) return inner.replaceAll(escape + escape, escape);
	return escape === ''
		? inner
		: inner
				.split(escape + escape)
				.map((part) => part.replaceAll(escape, ''))
				.join(escape);
}

/** A value as the layout lets it stand: bare where it can, in the old quotes where it had them. @throws EditRefused */
function written(value: string, old: string, layout: BlockLayout, word: boolean): string {
	const { quotes, escape } = layout;
	if (/[\r\n]/.test(value)) throw new EditRefused('A value of this file cannot hold a line end.');
	const marks = [
		layout.open,
		layout.close,
		layout.end,
		...(word
			? [layout.assign, layout.openAfter, layout.listOpen, layout.listClose, layout.listSeparator]
			: [])
	].filter(Boolean);
	const plain =
		value !== '' &&
		value === value.trim() &&
		!(word && /\s/.test(value)) &&
		!marks.some((mark) => value.includes(mark)) &&
		!(layout.listOpen !== '' && value.startsWith(layout.listOpen)) &&
		!(quotes !== '' && quotes.includes(value[0]!)) &&
		![...layout.comments, layout.blockComment?.[0] ?? ''].some((mark) => mark !== '' && value.includes(mark));
	const quote = isQuoted(old, quotes) ? old[0]! : '';
	if (!quote && plain) return value;
	if (quotes === '') {
		if (value === '' && !word) return value;
		throw new EditRefused(`“${value}” cannot stand in this file, which has no quotes.`);
	}
	const mark = quote || quotes[0]!;
	if (escape === '' && value.includes(mark)) {
		const other = [...quotes].find((candidate) => !value.includes(candidate));
		if (!other) throw new EditRefused('This value holds the quote that would close it.');
		return other + value + other;
	}
	if (escape === mark) return mark + value.replaceAll(mark, mark + mark) + mark;
	return (
		mark +
		(escape === '' ? value : value.replaceAll(escape, escape + escape).replaceAll(mark, escape + mark)) +
		mark
	);
}

const tongue: Tongue = {
	name({ tape, text, hints }, node) {
		if (tape.keyFrom(node) < 0) return 'id';
		const layout = hints.layout?.shape === 'block' ? hints.layout : PLAIN;
		return unquoted(text.slice(tape.keyFrom(node), tape.keyTo(node)), layout);
	},
	value: (doc, node) => unquoted(doc.text.slice(doc.tape.from(node), doc.tape.to(node)), layoutOf(doc)),
	writeName(doc, name) {
		const bare = written(name, '', layoutOf(doc), true);
		if (bare !== name) throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue(doc, node, value, container) {
		const { tape, text } = doc;
		const layout = layoutOf(doc);
		if (node < 0) return written(value, '', layout, container < 0) + (container < 0 ? '' : layout.end);
		const old = text.slice(tape.from(node), tape.to(node));
		const word = tape.keyFrom(node) < 0;
		const gap =
			old === '' &&
			value !== '' &&
			text[tape.from(node) - 1] !== ' ' &&
			/\w/.test(text[tape.from(node) - 1] ?? '')
				? ' '
				: '';
		return gap + written(value, old, layout, word);
	},
	pair: ' ',
	inside(doc, node) {
		const { tape, text } = doc;
		const layout = layoutOf(doc);
		if (tape.kind(node) === LIST)
			return {
				from: tape.from(node) + layout.listOpen.length,
				to: tape.to(node) - layout.listClose.length,
				separators: layout.listSeparator.trim() === '' ? ' ' : layout.listSeparator
			};
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		let at = tape.keyTo(node);
		for (const item of itemsOf(tape, node)) if (tape.keyFrom(item) < 0) at = Math.max(at, tape.to(item));
		const open = text.indexOf(layout.open, at);
		return { from: open + layout.open.length, to: tape.to(node) - layout.close.length, separators: '' };
	},
	inRow: ({ tape }, node) => tape.keyFrom(node) >= 0 || tape.kind(node) !== TEXT || isInList({ tape }, node),
	repeats: true,
	trail: true,
	numbered: (doc, node) => isHolder(doc.tape, node) && doc.tape.kind(node) === MAP && headed(doc, node),
	idLeaf(doc, node) {
		const { tape } = doc;
		const own = node + 1;
		if (own < tape.after(node) && tape.keyFrom(own) < 0 && tape.kind(own) === TEXT) return own;
		if (doc.hints.key === undefined) return -1;
		return (
			itemsOf(tape, node).find((item) => !isHolder(tape, item) && tongue.name(doc, item) === doc.hints.key) ??
			-1
		);
	},
	idText(doc, node) {
		const leaf = tongue.idLeaf!(doc, node);
		if (leaf >= 0) return String(tongue.value(doc, leaf) ?? '');
		return doc.named ? tongue.name(doc, node) : '';
	},
	records(doc, root) {
		const { tape } = doc;
		const holder = holderOf(tape, root);
		const wraps =
			holder === root &&
			itemsOf(tape, root).length === 1 &&
			itemsOf(tape, root + 1).some((item) => headed(doc, item));
		const inner = wraps && !headed(doc, root + 1) ? root + 1 : holder;
		if (inner < 0) return { holder: -1, items: [root], named: false };
		const items = itemsOf(tape, inner).filter((item) => tape.keyFrom(item) >= 0);
		return {
			holder: inner,
			items,
			named: !items.some((item) => headed(doc, item)) && doc.hints.key === undefined
		};
	}
};

/** Whether a word stands between a block's name and its opening: its own id. */
function headed({ tape }: Document, node: number): boolean {
	const first = node + 1;
	return (
		first < tape.after(node) &&
		tape.keyFrom(first) < 0 &&
		tape.kind(first) === TEXT &&
		tape.kind(node) === MAP
	);
}

function isInList({ tape }: Pick<Document, 'tape'>, node: number): boolean {
	for (let parent = node - 1; parent >= 0; parent--)
		if (tape.after(parent) > node) return tape.kind(parent) === LIST;
	return false;
}

function read(text: string, hints: ReadHints): Document {
	const doc = startDocument('block', text, hints);
	const { tape } = doc;
	const root = tape.open(MAP, -1, -1, 0);
	new Scanner(doc, layoutOf(doc)).body(0);
	tape.close(root, text.length);
	tape.finish();
	addTreeRecords(doc, root, tongue);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no block.');
	return doc;
}

const base = treeFormat('block', [], read, tongue);

/** Block text: nested `name … { … }`, with the punctuation that the guide says. */
export const block = {
	...base,
	rename(doc, record, id) {
		const leaf = tongue.idLeaf!(doc, record.node);
		const { tape } = doc;
		if (leaf >= 0)
			return [{ from: tape.from(leaf), to: tape.to(leaf), insert: tongue.writeValue(doc, leaf, id, -1) }];
		if (!doc.named) throw new EditRefused('This record has no written id.');
		return [
			{ from: tape.keyFrom(record.node), to: tape.keyTo(record.node), insert: tongue.writeName(doc, id, '') }
		];
	}
} satisfies typeof base as typeof base;
