// Reads block text by the punctuation of its layout.
import type { OpenDocument } from './document';
import { DEEPEST } from './json';
import type { BlockLayout } from './layout';
import { contentLineEnd, lineEnd } from './lines';
import { LIST, MAP, TEXT } from './tape';

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
	private readonly marks: readonly string[];
	/** First characters that end a bare word. */
	private readonly stops: Set<string>;
	constructor(
		readonly doc: OpenDocument,
		readonly layout: BlockLayout
	) {
		this.text = doc.content;
		const { open, close, assign, openAfter, end, listOpen, listClose, listSeparator, compares } = layout;
		this.marks = [open, close, assign, openAfter, end, listOpen, listClose, listSeparator, ...compares];
		this.stops = new Set(this.marks.filter(Boolean).map((mark) => mark[0]!));
	}

	/** Whether a mark is here; one that is a word must stand by itself. */
	private starts(mark: string): boolean {
		const { text, at } = this;
		if (mark === '' || !text.startsWith(mark, at)) return false;
		return !IN_WORD.test(mark[0]!) || this.isAlone(at, at + mark.length);
	}

	private isAlone(from: number, to: number): boolean {
		return !IN_WORD.test(this.text[from - 1] ?? '') && !IN_WORD.test(this.text[to] ?? '');
	}

	/** Whether a value is over here because a mark follows; a word in it is none. */
	private endsValue(mark: string): boolean {
		return !IN_WORD.test(mark[0] ?? '') && this.starts(mark);
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
		return this.marks.some((mark) => this.starts(mark));
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
			if (isBreak(code) || this.starts(layout.end) || this.endsValue(layout.close)) break;
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

	/** What follows at a place, blanks, line ends and commentary left out. */
	private behind(at: number): number {
		const { text, layout } = this;
		for (;;) {
			const code = text.charCodeAt(at);
			const end = isBlank(code) || isBreak(code) ? at + 1 : commentEnd(text, at, layout);
			if (at >= text.length || end < 0) return at;
			at = end;
		}
	}

	/** Whether what opens here is a list: where the same mark opens blocks, no mark follows the first word in it. */
	private isList(): boolean {
		const { layout, text } = this;
		const { open, close, assign, compares, quotes } = layout;
		if (layout.listOpen !== open) return false;
		let at = this.behind(this.at + open.length);
		if (text.startsWith(close, at)) return false;
		if (text.startsWith(open, at)) return true;
		const quote = text[at]!;
		const isQuoted = quotes.includes(quote);
		for (at++; at < text.length; at++) {
			if (isQuoted ? text[at] === quote : /\s/.test(text[at]!) || this.stops.has(text[at]!)) break;
		}
		at = this.behind(isQuoted ? at + 1 : at);
		return ![assign, ...compares].some((mark) => text.startsWith(mark, at));
	}

	private list(keyFrom: number, keyTo: number, depth: number): void {
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
			if (this.starts(this.layout.open)) {
				if (depth < DEEPEST && this.isList()) this.list(-1, -1, depth + 1);
				else this.block(this.at, [-1, -1], [], depth, true);
				continue;
			}
			const [start, end] = this.word();
			tape.leaf(TEXT, -1, -1, start, end);
		}
		tape.close(node, this.at);
	}

	/** A value that is compared and not given; the mark that compares belongs to its name. */
	private compared(name: readonly [number, number]): boolean {
		const { layout, doc } = this;
		if (layout.compares.length === 0) return false;
		this.blanks();
		const mark = layout.compares.find((one) => this.starts(one));
		if (mark === undefined) return false;
		this.at += mark.length;
		const to = this.at;
		this.space();
		const [start, end] = this.word();
		doc.tape.leaf(TEXT, name[0], to, start, end);
		return true;
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
			const led = this.starts(layout.openBefore);
			if (led) {
				this.at += layout.openBefore.length;
				this.blanks();
			}
			if (this.punctuation()) {
				doc.problem(from, 'A name is missing here.');
				this.at++;
				continue;
			}
			const name = this.word();
			if (this.compared(name)) continue;
			const words: [number, number][] = [];
			if (led || layout.heads.includes(this.text.slice(...name))) {
				this.toLineEnd(words);
				this.block(from, name, words, depth, false);
				continue;
			}
			const opened = this.header(words);
			if (!opened && layout.assign === '' && words.length > 0) this.at = words[0]![0];
			if (opened) {
				if (this.isList()) this.list(...name, depth);
				else this.block(from, name, words, depth, true);
				continue;
			}
			if (layout.assign !== '') {
				if (!this.starts(layout.assign)) {
					doc.problem(from, `After this name, neither “${layout.assign}” nor “${layout.open}” follows.`);
					this.at = Math.max(lineEnd(this.text, from), this.at);
					continue;
				}
				this.at += layout.assign.length;
				this.blanks();
			}
			if (layout.words) this.space();
			if (this.starts(layout.listOpen)) this.list(...name, depth);
			else {
				const [start, end] = layout.words ? this.word() : this.plainValue();
				tape.leaf(TEXT, name[0], name[1], start, end);
			}
			this.blanks();
			if (layout.end !== '') {
				if (this.starts(layout.end)) this.at += layout.end.length;
				else doc.problem(this.at, `“${layout.end}” is missing after this value.`);
			}
		}
	}

	/** All words up to the line end: of a block that nothing opens but its name. */
	private toLineEnd(words: [number, number][]): void {
		for (;;) {
			this.blanks();
			if (this.at >= this.text.length || isBreak(this.text.charCodeAt(this.at))) return;
			if (commentEnd(this.text, this.at, this.layout) >= 0) return;
			words.push(this.word());
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
				if (layout.words) {
					// A word may say what the numbers in it are: `rgb { 1 2 3 }`.
					this.blanks();
					const isWord = this.at < this.text.length && IN_WORD.test(this.text[this.at]!);
					if (isWord) this.word();
					this.blanks();
					if (isWord && this.starts(layout.open)) return true;
				}
				this.at = behind;
				return false;
			}
			const ends =
				this.at >= this.text.length || isBreak(this.text.charCodeAt(this.at)) || this.punctuation();
			if (ends || commentEnd(this.text, this.at, layout) >= 0) return false;
			words.push(this.word());
		}
	}

	/** Whether a block opens here, perhaps on the next line; never where a mark before its name or that alone does. */
	private startsOpen(): boolean {
		const { open, openBefore, close } = this.layout;
		if (open === openBefore || open === close) return false;
		if (this.starts(this.layout.open)) return true;
		const behind = this.at;
		while (isBlank(this.text.charCodeAt(this.at)) || isBreak(this.text.charCodeAt(this.at))) this.at++;
		if (this.starts(this.layout.open)) return true;
		this.at = behind;
		return false;
	}

	private block(
		from: number,
		name: [number, number],
		words: [number, number][],
		depth: number,
		opened: boolean
	): void {
		const { tape } = this.doc;
		const { layout, doc } = this;
		const node = tape.open(MAP, name[0], name[1], from);
		for (const [start, end] of words) tape.leaf(TEXT, -1, -1, start, end);
		const open = opened ? this.at : from;
		const mark = opened ? layout.open : this.text.slice(...name);
		if (opened) this.at += layout.open.length;
		if (depth >= DEEPEST) {
			doc.problem(open, `Blocks here are nested more than ${DEEPEST} deep; the rest is not read.`);
			this.at = this.text.length;
			tape.breakOff(node);
			tape.close(node, this.at);
			return;
		}
		this.body(depth + 1);
		if (this.starts(layout.close)) this.at += layout.close.length;
		else {
			if (doc.problems.length < 90 && depth < DEEPEST - 1)
				doc.problem(open, `The block that “${mark}” opens here is never closed.`);
			tape.breakOff(node);
		}
		tape.close(node, this.at);
	}
}

/** Reads a text onto its tape; returns the root, a map of blocks and values. */
export function scanBlocks(doc: OpenDocument, layout: BlockLayout): number {
	const root = doc.tape.open(MAP, -1, -1, 0);
	new Scanner(doc, layout).body(0);
	doc.tape.close(root, doc.content.length);
	return root;
}
