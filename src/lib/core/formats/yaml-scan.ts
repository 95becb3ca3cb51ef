// Reads YAML 1.2 in one pass onto a tape. The grammar is the one of the specification (yaml.org, revision 1.2.2),
// followed by descent: block collections by their columns, flow collections by their brackets.
import type { OpenDocument } from './document';
import { DEEPEST } from './json';
import { contentLineEnd, lineEnd } from './lines';
import { BARE, LIST, MAP, OWN, TEXT, type TapeWriter } from './tape';
import { isEscape } from './yaml-scalars';

/** A value that stands for another one, named by its anchor. */
export const ALIAS = OWN;

/** What the tape does not hold. */
export interface YamlNotes {
	/** Node that an alias stands for. */
	targets: Map<number, number>;
	/** Columns of the text of block scalars whose header says them. */
	indents: Map<number, number>;
	/** Names of anchors by node. */
	anchors: Map<number, string>;
	documents: number;
}

class Fault extends Error {
	constructor(
		readonly at: number,
		message: string
	) {
		super(message);
	}
}

/** What stands before a block node. */
type Mode = 'document' | 'sequence' | 'value' | 'explicit';

interface Props {
	from: number;
	anchor: string | null;
	tag: string | null;
}

interface Key {
	from: number;
	to: number;
}

const isSpace = (code: number) => code === 32 || code === 9;
const isBreak = (code: number) => code === 10 || code === 13;
/** White space, a line end or the end of the text (NaN). */
const isGap = (code: number) => code === 32 || code === 10 || code === 13 || code === 9 || code !== code;
const isFlow = (code: number) => code === 44 || code === 91 || code === 93 || code === 123 || code === 125;

/** Faults after which a file is given up. */
const MOST_FAULTS = 60;

class Scanner {
	at = 0;
	/** Column of `at` when it stands at the start of a line's content. */
	column = 0;
	lineStart = 0;
	/** Whether a tab stands in the indentation of the line. */
	tabbed = false;
	depth = 0;
	faults = 0;
	anchors = new Map<string, number>();
	/** End of what was read last that counts. */
	end = 0;
	readonly tape: TapeWriter;
	readonly text: string;
	readonly length: number;
	readonly notes: YamlNotes = { targets: new Map(), indents: new Map(), anchors: new Map(), documents: 0 };
	private handles = new Set<string>();

	constructor(readonly doc: OpenDocument) {
		this.tape = doc.tape;
		this.text = doc.text;
		this.length = doc.text.length;
	}

	private code(at = this.at): number {
		return this.text.charCodeAt(at);
	}

	private fault(message: string, at = this.at): never {
		throw new Fault(at, message);
	}

	/** Whether `---` or `...` stands at the start of a line at `at`. */
	private marker(at: number): boolean {
		const code = this.code(at);
		return (
			(code === 45 || code === 46) &&
			this.code(at + 1) === code &&
			this.code(at + 2) === code &&
			isGap(this.code(at + 3))
		);
	}

	/** From the end of something on a line to the next line with content. Nothing else may stand on the line. */
	private endLine(): void {
		const { text, length } = this;
		const from = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.at < length && !isBreak(this.code())) {
			if (this.code() !== 35)
				this.fault('Something stands here that does not belong to what is before it on the line.');
			if (this.at === from && from > this.lineStart) this.fault('A space is missing before this comment.');
			this.comment();
		}
		void text;
		this.nextContent();
	}

	private comment(): void {
		const from = this.at;
		this.at = lineEnd(this.text, from);
		this.tape.remark(from, contentLineEnd(this.text, from));
	}

	/** Steps over a line end, empty lines and comments to the first character of the next line with content. */
	private nextContent(): void {
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
	private startLine(): void {
		this.lineStart = this.at;
		while (this.code() === 32) this.at++;
		this.column = this.at - this.lineStart;
		this.tabbed = this.code() === 9;
		if (this.tabbed) {
			while (isSpace(this.code())) this.at++;
		}
	}

	/** Whether content has ended for a block that stands in column `n`: end of text, of document, or less indented. */
	private outside(n: number): boolean {
		if (this.at >= this.length) return true;
		if (this.column === 0 && this.marker(this.at)) return true;
		return this.column <= n;
	}

	stream(): void {
		const { tape, text } = this;
		const root = tape.open(LIST, -1, -1, 0);
		let ended = true;
		this.startLine();
		if (isBreak(this.code()) || this.code() === 35) {
			if (this.code() === 35) this.comment();
			this.nextContent();
		}
		while (this.at < this.length) {
			try {
				let directives = false;
				this.handles = new Set();
				let version = false;
				while (this.column === 0 && this.code() === 37 && ended) {
					const from = this.at;
					while (this.at < this.length && !isBreak(this.code())) this.at++;
					const line = text
						.slice(from, this.at)
						.replace(/\s#.*$/, '')
						.trimEnd();
					if (/^%YAML\b/.test(line)) {
						if (version) this.fault('There are two %YAML lines for one document.', from);
						if (!/^%YAML[ \t]+\d+\.\d+$/.test(line))
							this.fault('A %YAML line says a version such as 1.2 and nothing else.', from);
						version = true;
					}
					const handle = /^%TAG\s+(\S+)\s+\S/.exec(line);
					if (handle) this.handles.add(handle[1]!);
					directives = true;
					this.nextContent();
				}
				if (this.column === 0 && this.text.startsWith('...', this.at) && this.marker(this.at)) {
					if (directives) this.fault('A document must follow the lines that begin with %.');
					this.at += 3;
					ended = true;
					this.endLine();
					continue;
				}
				if (this.at >= this.length) {
					if (directives) this.fault('A document must follow the lines that begin with %.');
					break;
				}
				const explicit = this.column === 0 && this.code() === 45 && this.marker(this.at);
				if (directives && !explicit)
					this.fault('“---” is missing between the lines that begin with % and the document.');
				if (!explicit && !ended)
					this.fault(
						'This does not belong to the document above: it is indented otherwise, or “:” is missing.'
					);
				this.anchors = new Map();
				const key = explicit ? { from: this.at, to: this.at + 3 } : { from: -1, to: -1 };
				if (explicit) this.at += 3;
				ended = false;
				this.notes.documents++;
				this.block(-1, explicit ? 'document' : 'sequence', key, !explicit);
			} catch (error) {
				if (!(error instanceof Fault)) throw error;
				this.tell(error);
				this.skipTo(-1, error.at, error.at);
				ended = this.column === 0 && this.marker(this.at);
				if (!ended && this.at < this.length) {
					// What follows is read as a document of its own: its records are not lost.
					ended = true;
				}
			}
			if (this.faults > MOST_FAULTS) break;
		}
		tape.close(root, this.length);
	}

	private tell(fault: Fault): void {
		this.faults++;
		this.doc.problem(fault.at, fault.message);
		if (this.faults > MOST_FAULTS) this.at = this.length;
	}

	/**
	 * Goes on behind a fault in something that begins at `begun`: at the next line that is not deeper than `n`. That may
	 * be the line of the fault itself, where what is open should have ended before it.
	 */
	private skipTo(n: number, fault: number, begun: number): void {
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

	/** `&anchor` and `!tag` at `at`; null where there is none. */
	private properties(): Props | null {
		const from = this.at;
		const props: Props = { from, anchor: null, tag: null };
		for (;;) {
			const code = this.code();
			if (code === 38) {
				if (props.anchor !== null) this.fault('A value can have one anchor only.');
				const start = ++this.at;
				while (!isGap(this.code()) && !isFlow(this.code())) this.at++;
				if (this.at === start) this.fault('An anchor “&” needs a name.');
				props.anchor = this.text.slice(start, this.at);
			} else if (code === 33) {
				if (props.tag !== null) this.fault('A value can have one tag only.');
				const start = this.at++;
				if (this.code() === 60) {
					while (this.at < this.length && this.code() !== 62 && !isGap(this.code())) this.at++;
					if (this.code() !== 62) this.fault('This tag is never closed by “>”.', start);
					this.at++;
				} else while (!isGap(this.code()) && !isFlow(this.code())) this.at++;
				props.tag = this.text.slice(start, this.at);
				const handle = /^![\w-]+!/.exec(props.tag)?.[0];
				if (handle && handle !== '!!' && !this.handles.has(handle))
					this.fault(`The tag handle “${handle}” is declared nowhere.`, start);
				if (/[{}]/.test(props.tag)) this.fault('This tag is not well written.', start);
			} else break;
			if (!isGap(this.code()) && !(isFlow(this.code()) && this.inFlow > 0))
				this.fault('A space is missing behind this anchor or tag.');
			const behind = this.at;
			while (isSpace(this.code())) this.at++;
			if (this.code() !== 38 && this.code() !== 33) {
				if (isBreak(this.code()) || this.code() === 35) this.at = behind;
				break;
			}
		}
		return props.anchor === null && props.tag === null ? null : props;
	}

	private inFlow = 0;

	private leaf(kind: number, key: Key, from: number, to: number, props: Props | null): number {
		let told = kind;
		if (props?.tag && kind !== ALIAS) {
			if (props.tag === '!!str' || props.tag === '!') told = TEXT;
			else if (/^!!(?:int|float|bool|null)$/.test(props.tag)) told = BARE;
			else told = TEXT;
		}
		const node = this.tape.leaf(told, key.from, key.to, from, to);
		this.anchor(node, props);
		this.end = to;
		return node;
	}

	private anchor(node: number, props: Props | null): void {
		if (props?.anchor == null) return;
		this.anchors.set(props.anchor, node);
		this.notes.anchors.set(node, props.anchor);
	}

	private alias(key: Key, props: Props | null): void {
		const from = this.at++;
		while (!isGap(this.code()) && !isFlow(this.code())) this.at++;
		if (props) this.fault('An alias “*” cannot have an anchor or tag of its own.', from);
		const name = this.text.slice(from + 1, this.at);
		if (name === '') this.fault('An alias “*” needs the name of an anchor.', from);
		const target = this.anchors.get(name);
		if (target === undefined) this.fault(`There is no anchor “&${name}” above for this alias.`, from);
		const node = this.leaf(ALIAS, key, from, this.at, null);
		this.notes.targets.set(node, target);
	}

	/** Steps over a quoted text; continued lines must be indented more than `n`. */
	private quoted(n: number): void {
		const quote = this.code();
		const from = this.at++;
		for (;;) {
			const code = this.code();
			if (this.at >= this.length) this.fault('The quote that opens this text is never closed.', from);
			if (code === quote) {
				if (quote === 39 && this.code(this.at + 1) === 39) {
					this.at += 2;
					continue;
				}
				this.at++;
				return;
			}
			if (code === 92 && quote === 34) {
				if (!isEscape(this.text, this.at + 1))
					this.fault('After the backslash stands something that YAML does not know.');
				this.at++;
				if (!isBreak(this.code())) {
					this.at++;
					continue;
				}
			}
			if (isBreak(this.code())) {
				this.at += this.code() === 13 && this.code(this.at + 1) === 10 ? 2 : 1;
				this.lineStart = this.at;
				if (this.marker(this.at))
					this.fault('The quote that opens this text is never closed before the document ends.', from);
				while (this.code() === 32) this.at++;
				const column = this.at - this.lineStart;
				let behind = this.at;
				while (isSpace(this.code(behind))) behind++;
				if (column <= n && !isBreak(this.code(behind)) && behind < this.length)
					this.fault(
						'A text in quotes that goes on must be indented more than what holds it; perhaps a quote is missing above.'
					);
				this.at = behind;
				continue;
			}
			this.at++;
		}
	}

	/** Steps over a plain text on one line; ends behind its last character that is no space. */
	private plainLine(): boolean {
		const from = this.at;
		const flow = this.inFlow > 0;
		let end = from;
		const { text } = this;
		let at = from;
		for (;;) {
			const code = text.charCodeAt(at);
			if (code === 58) {
				const next = text.charCodeAt(at + 1);
				if (isGap(next) || (flow && isFlow(next))) break;
			} else if (code === 35) {
				if (at > from && isSpace(text.charCodeAt(at - 1))) break;
			} else if (code !== code || code === 10 || code === 13) break;
			else if (flow && isFlow(code)) break;
			at++;
			if (code !== 32 && code !== 9) end = at;
		}
		this.at = end;
		return end > from;
	}

	private checkPlainStart(): void {
		const code = this.code();
		const next = this.code(this.at + 1);
		if (code === 45 || code === 63 || code === 58) {
			if (isGap(next) || (this.inFlow > 0 && isFlow(next)))
				this.fault(
					code === 45 ? 'An item “-” cannot begin here.' : `“${this.text[this.at]}” cannot stand here.`
				);
			return;
		}
		if (code === 64 || code === 96)
			this.fault(`A value cannot begin with “${this.text[this.at]}”; put it in quotes.`);
		if (code === 37 && this.inFlow === 0 && this.at === this.lineStart && this.text.length > 0) {
			this.fault('A value cannot begin with “%”; put it in quotes.');
		}
		if (code === 37) this.fault('A value cannot begin with “%”; put it in quotes.');
		if (code === 124 || code === 62) this.fault('A text by lines (“|”, “>”) cannot stand inside brackets.');
		if (code === 9) this.fault('This line is indented with a tab; YAML wants spaces.');
	}

	/** A plain text with the lines that continue it; they are indented more than `n`. */
	private plainMore(n: number): number {
		let end = this.at;
		for (;;) {
			// Only a line end may come now; anything else ends the text.
			let at = end;
			while (isSpace(this.code(at))) at++;
			if (!isBreak(this.code(at))) break;
			let start = at;
			let lineStart = at;
			for (;;) {
				start += this.code(start) === 13 && this.code(start + 1) === 10 ? 2 : 1;
				lineStart = start;
				while (this.code(start) === 32) start++;
				const spaces = start - lineStart;
				while (isSpace(this.code(start))) start++;
				if (start >= this.length) return end;
				if (isBreak(this.code(start))) continue;
				if (spaces <= n || (spaces === 0 && this.marker(lineStart))) return end;
				break;
			}
			if (this.code(start) === 35) return end;
			if (this.inFlow > 0 && isFlow(this.code(start))) return end;
			if (this.code(start) === 58 && isGap(this.code(start + 1)) && this.inFlow > 0) return end;
			this.at = start;
			if (!this.plainLine()) {
				this.at = end;
				return end;
			}
			this.lineStart = lineStart;
			if (this.inFlow === 0) {
				let behind = this.at;
				while (isSpace(this.code(behind))) behind++;
				if (this.code(behind) === 58 && isGap(this.code(behind + 1)))
					this.fault(
						'A name must stand on one line; perhaps the line above lacks its “:”, or this one is indented too far.',
						start
					);
			}
			end = this.at;
		}
		this.at = end;
		return end;
	}

	/** A text by lines. `n` is the column of what holds it. */
	private blockScalar(n: number, key: Key, props: Props | null): void {
		const from = this.at++;
		const header = /^(?:([1-9])[-+]?|[-+]([1-9])?)?/.exec(this.text.slice(this.at, this.at + 2))!;
		this.at += header[0].length;
		const said = header[1] ?? header[2];
		const headEnd = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.code() === 35 && this.at > headEnd) this.comment();
		if (this.at < this.length && !isBreak(this.code()))
			this.fault('Behind “|” or “>” the text begins on the next line.');
		const keep = /\+/.test(header[0]);
		const least = Math.max(n, -1) + 1;
		let indent = said === undefined ? -1 : Math.max(n, 0) + Number(said);
		let end = this.at;
		let widest = 0;
		let at = this.at;
		let lastLine = at;
		while (at < this.length) {
			let start = at + (this.code(at) === 13 && this.code(at + 1) === 10 ? 2 : 1);
			const lineStart = start;
			if (lineStart >= this.length) {
				if (keep && lineStart > lastLine) lastLine = at;
				break;
			}
			while (this.code(start) === 32 && (indent < 0 || start - lineStart < indent)) start++;
			const column = start - lineStart;
			let stop = start;
			while (stop < this.length && !isBreak(this.code(stop))) stop++;
			const blank = stop === start;
			if (!blank) {
				if (indent < 0) {
					if (column < least && this.code(start) === 9 && this.text.slice(start, stop).trim() === '')
						this.fault('This line is indented with a tab; YAML wants spaces.', start);
					if (column < least || (column === 0 && this.marker(lineStart))) break;
					if (widest > column)
						this.fault('An empty line above has more spaces than the first line of this text.', lineStart);
					if (this.code(start) === 9 && column < least) break;
					indent = column;
				}
				if (column < indent || (column === 0 && this.marker(lineStart))) {
					if (
						column === start - lineStart &&
						this.code(start) === 9 &&
						column >= least &&
						/\S/.test(this.text.slice(start, stop))
					)
						this.fault('This line is indented with a tab; YAML wants spaces.', start);
					if (this.text.slice(start, stop).trim() !== '' || indent >= 0) {
						if (this.text.slice(start, stop).trim() === '' && this.code(start) !== 9) {
							at = stop;
							continue;
						}
						break;
					}
				}
				end = stop;
				lastLine = stop;
			} else {
				widest = Math.max(widest, column);
				lastLine = stop;
			}
			at = stop;
		}
		const to = keep ? Math.max(end, lastLine) : end;
		const node = this.leaf(TEXT, key, from, to, props);
		if (said !== undefined) this.notes.indents.set(node, indent);
		this.at = Math.max(to, end);
		if (this.at < this.length) this.nextContent();
		else this.column = -1;
	}

	/** Space, line ends and comments inside brackets. */
	private flowSpace(n: number): void {
		for (;;) {
			const from = this.at;
			while (isSpace(this.code())) this.at++;
			const code = this.code();
			if (code === 35) {
				if (this.at === from && this.at > this.lineStart)
					this.fault('A space is missing before this comment.');
				this.comment();
				continue;
			}
			if (!isBreak(code) || this.at >= this.length) return;
			this.at += code === 13 && this.code(this.at + 1) === 10 ? 2 : 1;
			this.lineStart = this.at;
			if (this.marker(this.at)) this.fault('A bracket is never closed before the document ends.');
			while (this.code() === 32) this.at++;
			const column = this.at - this.lineStart;
			let behind = this.at;
			while (isSpace(this.code(behind))) behind++;
			if (column <= n && behind < this.length && !isBreak(this.code(behind)) && this.code(behind) !== 35)
				this.fault(
					behind > this.at
						? 'This line is indented with a tab; YAML wants spaces.'
						: 'Inside brackets, a line must be indented more than what holds them.'
				);
		}
	}

	private enter(): void {
		if (++this.depth > DEEPEST)
			this.fault(`Here the data are nested more than ${DEEPEST} deep; what is deeper is not read.`);
	}

	/** One value inside brackets. Returns whether it was written like JSON (quotes or brackets). */
	private flow(n: number, key: Key): boolean {
		let props = this.properties();
		if (props) {
			this.flowSpace(n);
			if (this.code() === 38 || this.code() === 33) {
				const more = this.properties()!;
				props = { from: props.from, anchor: props.anchor ?? more.anchor, tag: props.tag ?? more.tag };
				this.flowSpace(n);
			}
		}
		const code = this.code();
		const from = this.at;
		if (code === 91 || code === 123) {
			this.flowCollection(n, key, props);
			return true;
		}
		if (code === 34 || code === 39) {
			this.quoted(n);
			this.leaf(TEXT, key, from, this.at, props);
			return true;
		}
		if (code === 42) {
			this.alias(key, props);
			return false;
		}
		if (
			isFlow(code) ||
			(code === 58 && (isGap(this.code(from + 1)) || isFlow(this.code(from + 1)))) ||
			this.at >= this.length
		) {
			// Nothing: an empty value.
			this.leaf(BARE, key, from, from, props);
			return false;
		}
		this.checkPlainStart();
		if (!this.plainLine()) this.fault('A value cannot begin like this.');
		this.plainMore(n);
		this.leaf(BARE, key, from, this.at, props);
		return false;
	}

	private isColon(json: boolean): boolean {
		if (this.code() !== 58) return false;
		const next = this.code(this.at + 1);
		return json || isGap(next) || isFlow(next);
	}

	private flowCollection(n: number, key: Key, props: Props | null): void {
		const { tape } = this;
		const open = this.at;
		const list = this.code() === 91;
		const closing = list ? 93 : 125;
		this.enter();
		this.inFlow++;
		const node = tape.open(list ? LIST : MAP, key.from, key.to, open);
		this.anchor(node, props);
		this.at++;
		for (;;) {
			this.flowSpace(n);
			const code = this.code();
			if (this.at >= this.length) this.fault(`The “${this.text[open]}” here is never closed.`, open);
			if (code === closing) break;
			if (code === 93 || code === 125)
				this.fault(`This “${this.text[this.at]}” does not close the “${this.text[open]}” that is open.`);
			if (code === 44) this.fault('This comma has nothing before it.');
			if (list) this.flowItem(n);
			else this.flowPair(n);
			this.flowSpace(n);
			if (this.code() === 44) {
				this.at++;
				if (this.code() === 35) this.fault('A space is missing before this comment.');
				continue;
			}
			if (this.code() !== closing && this.at < this.length && this.code() !== 93 && this.code() !== 125)
				this.fault('A comma is missing between two values inside the brackets.');
		}
		this.at++;
		tape.close(node, this.at);
		this.end = this.at;
		this.inFlow--;
		this.depth--;
	}

	/** An item of a list in brackets: a value, or a pair that is a map of its own. */
	private flowItem(n: number): void {
		const { tape } = this;
		const from = this.at;
		const count = tape.count;
		const explicit = this.code() === 63 && isGap(this.code(from + 1));
		if (explicit) {
			this.at++;
			this.flowSpace(n);
		}
		const line = this.lineStart;
		const json = this.isColon(false) ? false : this.flow(n, { from: -1, to: -1 });
		const keyTo = this.at;
		const oneLine = this.lineStart === line && this.code(this.at) === this.code(this.at);
		let at = this.at;
		while (isSpace(this.code(at))) at++;
		const behind = this.at;
		if (explicit) this.flowSpace(n);
		else this.at = at;
		if (!this.isColon(json)) {
			if (!explicit) {
				this.at = behind;
				// A colon on a later line would make the value a name, which must stand on one line.
				const before = this.lineStart;
				this.flowSpace(n);
				if (this.lineStart !== before && this.code() === 58 && (isGap(this.code(this.at + 1)) || json))
					this.fault('A name and its “:” must stand on one line here.');
				return;
			}
		} else if (!explicit && !oneLine) this.fault('A name must stand on one line here.', from);
		const keyCount = tape.count;
		const anchored = [...this.notes.anchors].filter(([node]) => node >= count && node < keyCount);
		tape.cut(count);
		for (const [node, name] of anchored) {
			this.notes.anchors.delete(node);
			this.anchors.set(name, count + 1);
		}
		const map = tape.open(MAP, -1, -1, from);
		this.flowValue(n, { from, to: keyTo }, json);
		tape.close(map, this.end);
	}

	private flowPair(n: number): void {
		const { tape } = this;
		const from = this.at;
		const count = tape.count;
		const explicit = this.code() === 63 && isGap(this.code(from + 1));
		if (explicit) {
			this.at++;
			this.flowSpace(n);
		}
		const json = this.isColon(false) ? false : this.flow(n, { from: -1, to: -1 });
		const keyTo = this.at;
		const names = [...this.notes.anchors].filter(([node]) => node >= count);
		tape.cut(count);
		for (const [node, name] of names) {
			this.notes.anchors.delete(node);
			this.anchors.set(name, count);
		}
		this.flowSpace(n);
		this.flowValue(n, { from, to: keyTo }, json);
	}

	/** The value of a pair in brackets, whose name was read. */
	private flowValue(n: number, key: Key, json: boolean): void {
		if (!this.isColon(json)) {
			this.leaf(BARE, key, key.to, key.to, null);
			return;
		}
		const colon = ++this.at;
		this.flowSpace(n);
		const code = this.code();
		if (code === 44 || code === 93 || code === 125) {
			this.leaf(BARE, key, colon, colon, null);
			return;
		}
		this.flow(n, key);
	}

	/**
	 * One block node behind an indicator, or at the start of a line (`fresh`). Afterwards `at` stands at the first
	 * character of the next line with content.
	 */
	private block(n: number, mode: Mode, key: Key, fresh = false): void {
		this.enter();
		const indicatorEnd = this.at;
		let sameLine = !fresh;
		let tab = fresh && this.tabbed;
		let outer: Props | null = null;
		let props: Props | null = null;
		const empty = (): void => {
			const own = this.joined(outer, props);
			const end = own ? this.propsEnd : indicatorEnd;
			this.leaf(BARE, key, end, end, own);
		};
		for (;;) {
			const from = this.at;
			while (isSpace(this.code())) {
				if (this.code() === 9) tab = true;
				this.at++;
			}
			const code = this.code();
			const commented = code === 35 && (this.at > from || this.at === this.lineStart || !sameLine);
			if (this.at >= this.length || isBreak(code) || commented) {
				if (commented) this.comment();
				this.nextContent();
				sameLine = false;
				tab = this.tabbed;
				if (props) {
					outer = this.joined(outer, props);
					props = null;
				}
				if (this.tabbed && this.at < this.length && this.column <= n)
					this.fault('This line is indented with a tab; YAML wants spaces.', this.lineStart);
				const dash = this.code() === 45 && isGap(this.code(this.at + 1));
				if (
					this.outside(n) &&
					!(
						(mode === 'value' || mode === 'explicit') &&
						dash &&
						this.column === n &&
						this.at < this.length &&
						!this.marker(this.at)
					)
				) {
					empty();
					this.depth--;
					return;
				}
				continue;
			}
			if (code === 38 || code === 33) {
				if (props) this.fault('Two anchors or tags stand before one value.');
				props = this.properties();
				this.propsEnd = this.at;
				continue;
			}
			break;
		}
		this.content(n, mode, key, sameLine, tab, outer, props);
		this.depth--;
	}

	private propsEnd = 0;

	/** An anchor and a tag that stand on lines of their own belong to one value. */
	private joined(outer: Props | null, props: Props | null): Props | null {
		if (!outer || !props) return outer ?? props;
		if ((outer.anchor !== null && props.anchor !== null) || (outer.tag !== null && props.tag !== null))
			this.fault('Two anchors or tags stand before one value.', props.from);
		return { from: outer.from, anchor: outer.anchor ?? props.anchor, tag: outer.tag ?? props.tag };
	}

	private content(
		n: number,
		mode: Mode,
		key: Key,
		sameLine: boolean,
		tab: boolean,
		outer: Props | null,
		props: Props | null
	): void {
		const code = this.code();
		const next = this.code(this.at + 1);
		const start = props?.from ?? this.at;
		const column = start - this.lineStart;
		// A collection may begin on this line: not behind `name:` or `---`.
		const mayOpen = !sameLine || mode === 'sequence' || mode === 'explicit';
		const own = () => this.joined(outer, props);
		const noTab = () => {
			if (tab) this.fault('This line is indented with a tab; YAML wants spaces.', this.lineStart);
		};
		if (code === 45 && isGap(next)) {
			if (!mayOpen || (props && sameLine) || props)
				this.fault('A list cannot begin on this line; put its first “-” on a line of its own.');
			noTab();
			this.sequence(column, key, outer, column === n);
			return;
		}
		if ((code === 63 || code === 58) && isGap(next)) {
			if (!mayOpen) this.fault('A map cannot begin on this line; put its first name on a line of its own.');
			noTab();
			this.mapping(column, key, outer, null, props);
			return;
		}
		if (code === 124 || code === 62) {
			this.blockScalar(n, key, own());
			return;
		}
		const from = this.at;
		const line = this.lineStart;
		const count = this.tape.count;
		let json = false;
		const keyed = (): boolean => {
			let at = this.at;
			while (isSpace(this.code(at))) at++;
			if (this.code(at) !== 58 || !isGap(this.code(at + 1))) return false;
			if (this.lineStart !== line) this.fault('A name must stand on one line.', from);
			if (!mayOpen)
				this.fault(
					'A second “name:” stands on this line; a nested map begins on a new line, indented.',
					from
				);
			noTab();
			this.at = at;
			return true;
		};
		if (code === 91 || code === 123) {
			this.flowCollection(n, key, null);
			json = true;
			if (keyed0(this)) {
				const names = [...this.notes.anchors].filter(([node]) => node >= count).map(([node]) => node);
				for (const node of names) this.notes.anchors.delete(node);
			}
		} else if (code === 34 || code === 39) {
			this.quoted(n);
			json = true;
		} else if (code === 42) {
			this.at++;
			while (!isGap(this.code()) && !isFlow(this.code())) this.at++;
		} else {
			this.checkPlainStart();
			if (!this.plainLine()) this.fault('A value cannot begin like this.');
		}
		const to = this.at;
		if (keyed()) {
			if (code === 42 && !this.anchors.has(this.text.slice(from + 1, to)))
				this.fault(`There is no anchor “&${this.text.slice(from + 1, to)}” above for this alias.`, from);
			if (code === 42 && props) this.fault('An alias “*” cannot have an anchor or tag of its own.', from);
			this.tape.cut(count);
			this.mapping(column, key, outer, { from: start, to }, props);
			return;
		}
		void json;
		if (code === 91 || code === 123) this.anchor(count, own());
		else if (code === 42) {
			this.at = from;
			this.alias(key, own());
		} else if (code === 34 || code === 39) this.leaf(TEXT, key, from, this.at, own());
		else {
			this.plainMore(n);
			this.leaf(BARE, key, from, this.at, own());
		}
		this.endLine();
	}

	/** A list whose dashes stand in `column`; `flush` where the name above it stands there too. */
	private sequence(column: number, key: Key, props: Props | null, flush: boolean): void {
		const { tape } = this;
		this.enter();
		const node = tape.open(LIST, key.from, key.to, this.at);
		this.anchor(node, props);
		for (;;) {
			const dash = this.at;
			const count = tape.count;
			try {
				if (!(this.code() === 45 && isGap(this.code(dash + 1))))
					this.fault('An item of this list must begin with “- ”; or this line is indented wrongly.');
				if (this.tabbed && dash === this.lineStart + this.column)
					this.fault('This line is indented with a tab; YAML wants spaces.', this.lineStart);
				this.at++;
				this.block(column, 'sequence', { from: dash, to: dash + 1 });
				if (!this.outside(column))
					this.fault('This line is indented more than the items of the list above it.');
			} catch (error) {
				this.recover(error, count, column, dash);
			}
			if (this.outside(column - 1)) break;
			// The next name of the map that this list stands in.
			if (flush && this.column === column && !(this.code() === 45 && isGap(this.code(this.at + 1)))) break;
		}
		tape.close(node, this.end);
		this.depth--;
	}

	private recover(error: unknown, count: number, column: number, begun: number): void {
		if (!(error instanceof Fault)) throw error;
		this.inFlow = 0;
		this.depth = this.depthAt(count);
		this.tape.cut(count);
		this.tell(error);
		if (this.faults > MOST_FAULTS) throw error;
		this.skipTo(column, error.at, begun);
	}

	/** Depth of what is still open. */
	private depthAt(count: number): number {
		void count;
		return Math.min(this.depth, DEEPEST - 1);
	}

	private mapping(
		column: number,
		key: Key,
		props: Props | null,
		first: Key | null,
		firstProps: Props | null
	): void {
		const { tape } = this;
		this.enter();
		const node = tape.open(MAP, key.from, key.to, first?.from ?? this.at);
		this.anchor(node, props);
		const depth = this.depth;
		let ready = first;
		let readyProps = firstProps;
		for (;;) {
			const count = tape.count;
			const begun = this.at;
			try {
				this.entry(column, ready, readyProps);
				if (!this.outside(column))
					this.fault('This line is indented more than the names of the map above it.');
			} catch (error) {
				this.recover(error, count, column, begun);
				this.depth = depth;
			}
			ready = null;
			readyProps = null;
			if (this.outside(column - 1) || this.column < column) break;
		}
		tape.close(node, this.end);
		this.depth = depth - 1;
	}

	/** One `name: value` of a map whose names stand in `column`. */
	private entry(column: number, ready: Key | null, readyProps: Props | null): void {
		const { tape } = this;
		if (ready) {
			this.nameKey(ready, readyProps);
			this.at++;
			this.end = this.at;
			this.block(column, 'value', ready);
			return;
		}
		if (this.tabbed) this.fault('This line is indented with a tab; YAML wants spaces.', this.lineStart);
		const from = this.at;
		const code = this.code();
		const next = this.code(from + 1);
		if (code === 63 && isGap(next)) {
			const count = tape.count;
			this.at++;
			this.end = this.at;
			this.block(column, 'explicit', { from: -1, to: -1 });
			const to = Math.max(this.end, from + 1);
			tape.cut(count);
			const key = { from, to };
			if (
				this.column === column &&
				this.code() === 58 &&
				isGap(this.code(this.at + 1)) &&
				this.at < this.length
			) {
				this.at++;
				this.end = this.at;
				this.block(column, 'explicit', key);
			} else this.leaf(BARE, key, to, to, null);
			return;
		}
		if (code === 58 && isGap(next)) {
			this.at++;
			this.end = this.at;
			this.block(column, 'value', { from, to: from });
			return;
		}
		if (code === 45 && isGap(next))
			this.fault(
				'An item “-” stands among the names of a map; it is indented wrongly, or a name is missing.'
			);
		const props = this.properties();
		const start = this.at;
		const line = this.lineStart;
		if (this.code() === 34 || this.code() === 39) this.quoted(column);
		else if (this.code() === 42) {
			this.at++;
			while (!isGap(this.code()) && !isFlow(this.code())) this.at++;
			if (!this.anchors.has(this.text.slice(start + 1, this.at)))
				this.fault(
					`There is no anchor “&${this.text.slice(start + 1, this.at)}” above for this alias.`,
					start
				);
			if (props) this.fault('An alias “*” cannot have an anchor or tag of its own.', start);
		} else if (this.code() === 91 || this.code() === 123) {
			const count = tape.count;
			this.flowCollection(column, { from: -1, to: -1 }, null);
			tape.cut(count);
		} else if (this.code() === 58 && isGap(this.code(start + 1))) {
			// An empty name with an anchor or tag.
		} else {
			this.checkPlainStart();
			if (!this.plainLine()) this.fault('A name is missing here.');
		}
		const to = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.code() !== 58 || !isGap(this.code(this.at + 1)))
			this.fault('A “:” is missing behind this name; or the line is indented wrongly.', from);
		if (this.lineStart !== line) this.fault('A name must stand on one line.', from);
		const key = { from, to };
		this.nameKey({ from: start, to }, props);
		this.at++;
		this.end = this.at;
		this.block(column, 'value', key);
	}

	/** An anchor on a name stands for the name's text; it is kept for aliases that follow. */
	private nameKey(_key: Key, props: Props | null): void {
		if (props?.anchor != null) this.anchors.set(props.anchor, -1 - _key.from);
	}
}

/** Whether the flow collection just read is a name: its colon follows on the line. */
function keyed0(scanner: Scanner): boolean {
	let at = scanner.at;
	while (isSpace(scanner.text.charCodeAt(at))) at++;
	return scanner.text.charCodeAt(at) === 58 && isGap(scanner.text.charCodeAt(at + 1));
}

/** Reads all documents of a text onto its tape: node 0 is a list of them. */
export function scanYaml(doc: OpenDocument): YamlNotes {
	const scanner = new Scanner(doc);
	scanner.stream();
	return scanner.notes;
}
