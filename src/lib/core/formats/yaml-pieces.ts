import { BARE, OWN, TEXT } from './tape';
import { isBreak, isFlow, isGap, isSpace, YamlLines, type Key, type Props } from './yaml-lines';
import { isEscape } from './yaml-scalars';

/** A value that stands for another one, named by its anchor. */
export const ALIAS = OWN;

/** Reads what holds nothing else: anchors, tags, aliases, and scalars in their five styles. */
export class YamlPieces extends YamlLines {
	protected handles = new Set<string>();
	/** How many brackets are open. */
	protected inFlow = 0;
	/** Where the brackets begin that are open. */
	protected brackets: number[] = [];

	/** `&anchor` and `!tag` at `at`; null where there is none. */
	protected properties(): Props | null {
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
				if (/[{}]/.test(props.tag)) this.fault('This tag is malformed.', start);
			} else break;
			if (!isGap(this.code()) && !(isFlow(this.code()) && this.inFlow > 0))
				this.fault('A space is missing after this anchor or tag.');
			const behind = this.at;
			while (isSpace(this.code())) this.at++;
			if (this.code() !== 38 && this.code() !== 33) {
				if (isBreak(this.code()) || this.code() === 35) this.at = behind;
				break;
			}
		}
		return props.anchor === null && props.tag === null ? null : props;
	}

	protected leaf(kind: number, key: Key, from: number, to: number, props: Props | null): number {
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

	protected anchor(node: number, props: Props | null): void {
		if (props?.anchor == null) return;
		this.anchors.set(props.anchor, node);
		this.anchored.push(props.anchor);
	}

	protected alias(key: Key, props: Props | null): void {
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

	/** Takes nodes back that turned out to be a name; anchors among them stand for no node any more. */
	protected takeBack(count: number, named: number): void {
		this.tape.cut(count);
		for (const name of this.anchored.splice(named)) this.anchors.set(name, -1);
	}

	/** Steps over a quoted text; continued lines must be indented more than `n`. */
	protected quoted(n: number): void {
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
				if (!isEscape(this.text, this.at + 1)) this.fault('This backslash escape is not valid YAML.');
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
	protected plainLine(): boolean {
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

	protected checkPlainStart(): void {
		const code = this.code();
		const next = this.code(this.at + 1);
		if (code === 45 || code === 63 || code === 58) {
			if (isGap(next) || (this.inFlow > 0 && isFlow(next)))
				this.fault(
					code === 45 ? 'An item “-” cannot begin here.' : `“${this.text[this.at]}” cannot be here.`
				);
			return;
		}
		if (code === 64 || code === 96)
			this.fault(`A value cannot begin with “${this.text[this.at]}”; put it in quotes.`);
		if (code === 37 && this.inFlow === 0 && this.at === this.lineStart && this.text.length > 0) {
			this.fault('A value cannot begin with “%”; put it in quotes.');
		}
		if (code === 37) this.fault('A value cannot begin with “%”; put it in quotes.');
		if (code === 124 || code === 62) this.fault('A block text (“|”, “>”) cannot be inside brackets.');
		if (code === 9) this.fault('This line is indented with a tab; YAML needs spaces.');
	}

	/** A plain text with the lines that continue it; they are indented more than `n`. */
	protected plainMore(n: number): number {
		let end = this.at;
		for (;;) {
			// Only a line end may come now; anything else ends the text.
			let at = end;
			while (isSpace(this.code(at))) at++;
			if (!isBreak(this.code(at))) break;
			let start = at;
			let lineStart: number;
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
						'A name must be on one line; perhaps the line above lacks its “:”, or this one is indented too far.',
						start
					);
			}
			end = this.at;
		}
		this.at = end;
		return end;
	}

	/** A text by lines. `n` is the column of what holds it. */
	protected blockScalar(n: number, key: Key, props: Props | null): void {
		const from = this.at++;
		const header = /^(?:([1-9])[-+]?|[-+]([1-9])?)?/.exec(this.text.slice(this.at, this.at + 2))!;
		this.at += header[0].length;
		const said = header[1] ?? header[2];
		const headEnd = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.code() === 35 && this.at > headEnd) this.comment();
		if (this.at < this.length && !isBreak(this.code()))
			this.fault('After “|” or “>” the text begins on the next line.');
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
						this.fault('This line is indented with a tab; YAML needs spaces.', start);
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
						this.fault('This line is indented with a tab; YAML needs spaces.', start);
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
}
