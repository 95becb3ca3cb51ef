// Lines of a YAML text and where one is in them: the ground on which its reader is built. The grammar is the one of
// the specification (yaml.org, revision 1.2.2), followed by descent.
import type { OpenDocument } from './document';
import { Fault } from './fault';
import { DEEPEST } from './json';
import { contentLineEnd, lineEnd } from './lines';
import type { TapeWriter } from './tape';

/** What the tape does not hold. */
export interface YamlNotes {
	/** Node that an alias stands for; -1 where it stands for a name. */
	targets: Map<number, number>;
	/** Columns of the text of block scalars whose header says them. */
	indents: Map<number, number>;
}

/** Anchor and tag before a value. */
export interface Props {
	from: number;
	anchor: string | null;
	tag: string | null;
}

/** Where a name, or the mark before an item, is written; -1 for none. */
export interface Key {
	from: number;
	to: number;
}

export const isSpace = (code: number) => code === 32 || code === 9;
export const isBreak = (code: number) => code === 10 || code === 13;
/** White space, a line end or the end of the text (NaN). */
export const isGap = (code: number) =>
	code === 32 || code === 10 || code === 13 || code === 9 || Number.isNaN(code);
/** A bracket or the comma. */
export const isFlow = (code: number) =>
	code === 44 || code === 91 || code === 93 || code === 123 || code === 125;

/** Faults after which a file is given up. */
export const MOST_FAULTS = 60;

export class YamlLines {
	at = 0;
	/** Column of `at` when it is at the start of a line's content. */
	column = 0;
	lineStart = 0;
	/** Whether a tab is in the indentation of the line. */
	tabbed = false;
	depth = 0;
	faults = 0;
	anchors = new Map<string, number>();
	/** Names of anchors in the order of the file. */
	protected anchored: string[] = [];
	/** End of what was read last that counts. */
	end = 0;
	readonly tape: TapeWriter;
	readonly text: string;
	readonly length: number;
	readonly notes: YamlNotes = { targets: new Map(), indents: new Map() };

	constructor(readonly doc: OpenDocument) {
		this.tape = doc.tape;
		this.text = doc.content;
		this.length = doc.content.length;
	}

	protected code(at = this.at): number {
		return this.text.charCodeAt(at);
	}

	protected fault(message: string, at = this.at): never {
		throw new Fault(at, message);
	}

	/** Whether `---` or `...` is at the start of a line at `at`. */
	protected marker(at: number): boolean {
		const code = this.code(at);
		return (
			(code === 45 || code === 46) &&
			this.code(at + 1) === code &&
			this.code(at + 2) === code &&
			isGap(this.code(at + 3))
		);
	}

	/** From the end of something on a line to the next line with content. Nothing else may be on the line. */
	protected endLine(): void {
		const { length } = this;
		const from = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.at < length && !isBreak(this.code())) {
			if (this.code() !== 35) this.fault('This does not belong to what comes before it on the line.');
			if (this.at === from && from > this.lineStart) this.fault('A space is missing before this comment.');
			this.comment();
		}
		this.nextContent();
	}

	protected comment(): void {
		const from = this.at;
		this.at = lineEnd(this.text, from);
		this.tape.remark(from, contentLineEnd(this.text, from));
	}

	/** Steps over a line end, empty lines and comments to the first character of the next line with content. */
	protected nextContent(): void {
		for (;;) {
			if (this.at >= this.length) {
				this.column = -1;
				this.tabbed = false;
				return;
			}
			if (this.code() === 13 && this.code(this.at + 1) === 10) this.at += 2;
			else if (isBreak(this.code())) this.at++;
			this.startLine();
			const code = this.code();
			if (code === 35) this.comment();
			else if (this.at >= this.length) {
				this.column = -1;
				return;
			} else if (!isBreak(code)) return;
		}
	}

	/** Reads the indentation of the line that begins at `at`. */
	protected startLine(): void {
		this.lineStart = this.at;
		while (this.code() === 32) this.at++;
		this.column = this.at - this.lineStart;
		this.tabbed = this.code() === 9;
		if (this.tabbed) {
			while (isSpace(this.code())) this.at++;
		}
	}

	/** Whether content has ended for a block that is in column `n`: end of text, of document, or less indented. */
	protected outside(n: number): boolean {
		if (this.at >= this.length) return true;
		if (this.column === 0 && this.marker(this.at)) return true;
		return this.column <= n;
	}

	protected tell(fault: Fault): void {
		this.faults++;
		this.doc.problem(fault.at, fault.message);
		if (this.faults > MOST_FAULTS) this.at = this.length;
	}

	/**
	 * Goes on behind a fault in something that begins at `begun`: at the next line that is not deeper than `n`. That may
	 * be the line of the fault itself, where what is open should have ended before it.
	 */
	protected skipTo(n: number, fault: number, begun: number): void {
		this.at = Math.min(fault, this.length);
		let start = this.at;
		while (start > 0 && !isBreak(this.code(start - 1))) start--;
		if (start > begun) {
			this.at = start;
			this.startLine();
			const content = this.at < this.length && !isBreak(this.code()) && this.code() !== 35;
			if (content && !this.tabbed && this.column <= n) return;
		}
		for (;;) {
			while (this.at < this.length && !isBreak(this.code())) this.at++;
			this.nextContent();
			if (this.at >= this.length || this.column <= n || (n < 0 && this.column === 0)) return;
		}
	}

	protected enter(): void {
		if (++this.depth > DEEPEST)
			this.fault(`The data here are nested more than ${DEEPEST} deep; what is deeper is not read.`);
	}
}
