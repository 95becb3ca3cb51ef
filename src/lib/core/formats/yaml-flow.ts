import { lineAt } from '../text';
import { BARE, LIST, MAP, TEXT } from './tape';
import { isBreak, isFlow, isGap, isSpace, type Key, type Props } from './yaml-lines';
import { YamlPieces } from './yaml-pieces';

/** Reads lists and maps in brackets. */
export class YamlFlow extends YamlPieces {
	/** Space, line ends and comments inside brackets. */
	protected flowSpace(n: number): void {
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
					behind > this.at ? 'This line is indented with a tab; YAML needs spaces.' : this.unclosed()
				);
		}
	}

	/** What to say where a bracket has not ended before the next thing begins. */
	protected unclosed(): string {
		const open = this.brackets.at(-1) ?? this.at;
		const line = lineAt(this.doc.lines, open);
		return `The “${this.text[open]}” of line ${line} is not closed before this line; inside brackets, lines must be indented more than what holds them.`;
	}

	/** One value inside brackets. Returns whether it was written like JSON (quotes or brackets). */
	protected flow(n: number, key: Key): boolean {
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

	protected isColon(json: boolean): boolean {
		if (this.code() !== 58) return false;
		const next = this.code(this.at + 1);
		return json || isGap(next) || isFlow(next);
	}

	protected flowCollection(n: number, key: Key, props: Props | null): void {
		const { tape } = this;
		const open = this.at;
		const list = this.code() === 91;
		const closing = list ? 93 : 125;
		this.enter();
		this.inFlow++;
		this.brackets.push(open);
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
		this.brackets.pop();
		this.depth--;
	}

	/** Steps over the “? ” that may be before a name; whether it does. */
	protected question(n: number): boolean {
		if (this.code() !== 63 || !isGap(this.code(this.at + 1))) return false;
		this.at++;
		this.flowSpace(n);
		return true;
	}

	/** An item of a list in brackets: a value, or a pair that is a map of its own. */
	protected flowItem(n: number): void {
		const { tape } = this;
		const from = this.at;
		const count = tape.count;
		const named = this.anchored.length;
		const explicit = this.question(n);
		const line = this.lineStart;
		const json = this.isColon(false) ? false : this.flow(n, { from: -1, to: -1 });
		const keyTo = this.at;
		const oneLine = this.lineStart === line;
		let at = this.at;
		while (isSpace(this.code(at))) at++;
		const behind = this.at;
		if (explicit) this.flowSpace(n);
		else this.at = at;
		if (!this.isColon(json)) {
			if (!explicit) {
				this.at = behind;
				// A colon on a later line would make the value a name, which must be on one line.
				const before = this.lineStart;
				this.flowSpace(n);
				if (this.lineStart !== before && this.code() === 58 && (isGap(this.code(this.at + 1)) || json))
					this.fault('A name and its “:” must be on one line here.');
				return;
			}
		} else if (!explicit && !oneLine) this.fault('A name must be on one line here.', from);
		this.takeBack(count, named);
		const map = tape.open(MAP, -1, -1, from);
		this.flowValue(n, { from, to: keyTo }, json);
		tape.close(map, this.end);
	}

	protected flowPair(n: number): void {
		const { tape } = this;
		const from = this.at;
		const count = tape.count;
		const named = this.anchored.length;
		this.question(n);
		const json = this.isColon(false) ? false : this.flow(n, { from: -1, to: -1 });
		const keyTo = this.at;
		this.takeBack(count, named);
		this.flowSpace(n);
		this.flowValue(n, { from, to: keyTo }, json);
	}

	/** The value of a pair in brackets, whose name was read. */
	protected flowValue(n: number, key: Key, json: boolean): void {
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
}
