// Finds the data in a Lua file: assignments, returned tables, tables given to functions. Other code is stepped over.
import type { OpenDocument } from './document';
import { Fault } from './fault';
import { DEEPEST } from './json';
import { contentLineEnd, lineEnd } from './lines';
import { BARE, LIST, MAP, OWN, TEXT } from './tape';

/** Anything that is no value by itself: a calculation, a call, a function. Shown as written. */
export const CODE = OWN;
/** The text that names a table which a call is given behind it: `add("gull", { … })`. It stands before the table. */
export const ID = OWN + 1;
/** A name in a table, and what gives it a value. */
const NAMED = /(?:[A-Za-z_]\w*\s*=(?!=)|\[\s*["'])/y;

const NAME = /[A-Za-z_]\w*/y;
export const NUMBER =
	/(?:0[xX][0-9a-fA-F]*(?:\.[0-9a-fA-F]*)?(?:[pP][-+]?\d+)?|\d+(?:\.\d*)?(?:[eE][-+]?\d+)?|\.\d+(?:[eE][-+]?\d+)?)/y;
const BINARY = /(?:\.\.(?!\.)|==|~=|<=|>=|<<|>>|\/\/|[-+*/%^#&|~<>]|and\b|or\b)/y;
/** Words that cannot be names. */
export const WORDS = new Set(
	'and break do else elseif end false for function goto if in local nil not or repeat return then true until while'.split(
		' '
	)
);

/** Where a pattern ends that begins at `at`; -1 where it does not. */
export function match(pattern: RegExp, text: string, at: number): number {
	pattern.lastIndex = at;
	return pattern.test(text) ? pattern.lastIndex : -1;
}

/** End of a long bracket `[[…]]`, `[==[…]==]` that begins at `at`; -1 where none does, NaN where it never ends. */
function longEnd(text: string, at: number): number {
	const open = /\[(=*)\[/y;
	open.lastIndex = at;
	const found = open.exec(text);
	if (!found) return -1;
	const end = text.indexOf(`]${found[1]}]`, open.lastIndex);
	return end < 0 ? NaN : end + found[1]!.length + 2;
}

/** End of the commentary that begins at `at`; -1 where none does. */
export function commentEnd(text: string, at: number): number {
	if (text.charCodeAt(at) !== 45 || text.charCodeAt(at + 1) !== 45) return -1;
	const long = longEnd(text, at + 2);
	return long >= 0 ? long : Number.isNaN(long) ? text.length : contentLineEnd(text, at);
}

class Scanner {
	at = 0;
	depth = 0;
	readonly text: string;
	/** What names the table that comes next. */
	private id: [number, number] | null = null;
	constructor(readonly doc: OpenDocument) {
		this.text = doc.content;
	}

	private code(at = this.at): number {
		return this.text.charCodeAt(at);
	}

	private fault(message: string, at = this.at): never {
		throw new Fault(at, message);
	}

	/** Space and commentary. */
	private space(): void {
		for (;;) {
			const code = this.code();
			if (code === 32 || (code >= 9 && code <= 13)) this.at++;
			else if (code === 45) {
				const end = commentEnd(this.text, this.at);
				if (end < 0) return;
				this.doc.tape.remark(this.at, end);
				this.at = end;
			} else return;
		}
	}

	private string(): void {
		const from = this.at;
		const quote = this.code();
		for (let at = from + 1; at < this.text.length; at++) {
			const code = this.code(at);
			if (code === quote) {
				this.at = at + 1;
				return;
			}
			if (code === 92) {
				if (this.text[at + 1] === 'z') {
					at++;
					while (/\s/.test(this.text[at + 1] ?? '')) at++;
				} else if (this.text[at + 1] === '\r' && this.text[at + 2] === '\n') at += 2;
				else at++;
			} else if (code === 10 || code === 13) break;
		}
		this.fault('This text is never closed by its quote.', from);
	}

	private word(): string {
		const end = match(NAME, this.text, this.at);
		return end < 0 ? '' : this.text.slice(this.at, end);
	}

	private enter(): void {
		if (++this.depth > DEEPEST)
			this.fault(`The data here are nested more than ${DEEPEST} deep; what is deeper is not read.`);
	}

	/** Skips the body of a function or block up to the `end` that closes it; is after `function` or the like. */
	private body(from: number): void {
		let open = 1;
		while (open > 0) {
			this.space();
			if (this.at >= this.text.length) this.fault('This block is never closed by “end”.', from);
			const code = this.code();
			const word = this.word();
			if (word !== '') {
				this.at += word.length;
				if (word === 'function' || word === 'if' || word === 'do' || word === 'repeat') open++;
				else if (word === 'end' || word === 'until') open--;
			} else if (code === 34 || code === 39) this.string();
			else {
				const long = code === 91 ? longEnd(this.text, this.at) : -1;
				if (Number.isNaN(long)) this.fault('This text is never closed by “]]”.');
				const number = long < 0 ? match(NUMBER, this.text, this.at) : -1;
				this.at = long >= 0 ? long : number >= 0 ? number : this.at + 1;
			}
		}
	}

	/** Steps over brackets and what is in them. */
	private brackets(close: string): void {
		const from = this.at++;
		this.enter();
		for (;;) {
			this.space();
			if (this.at >= this.text.length) this.fault(`The “${this.text[from]}” here is never closed.`, from);
			if (this.text[this.at] === close) break;
			const before = this.at;
			if (this.code() === 44 || this.code() === 59 || (this.code() === 61 && this.code(before + 1) !== 61))
				this.at++;
			else this.expression();
			if (this.at === before) this.fault('This cannot stand inside the brackets.');
		}
		this.at++;
		this.depth--;
	}

	/** Steps over one expression that is not read as data. */
	private expression(): void {
		for (;;) {
			this.space();
			while (/[-#~]/.test(this.text[this.at] ?? '') || this.word() === 'not') {
				this.at += this.word() === 'not' ? 3 : 1;
				this.space();
			}
			const from = this.at;
			const code = this.code();
			const word = this.word();
			if (word === 'function') {
				this.at += word.length;
				this.body(from);
			} else if (word !== '') {
				if (WORDS.has(word) && !/^(?:nil|true|false)$/.test(word))
					this.fault(`A value is missing before “${word}”.`);
				this.at += word.length;
			} else if (code === 34 || code === 39) this.string();
			else if (code === 40) this.brackets(')');
			else if (code === 123) this.brackets('}');
			else if (this.text.startsWith('...', from)) this.at += 3;
			else {
				const long = code === 91 ? longEnd(this.text, from) : -1;
				if (Number.isNaN(long)) this.fault('This text is never closed by “]]”.');
				const end = long >= 0 ? long : match(NUMBER, this.text, from);
				if (end < 0 || end === from) this.fault('A value is missing here, or this is not a Lua value.');
				this.at = end;
			}
			this.suffixes();
			const behind = this.at;
			this.space();
			const binary = match(BINARY, this.text, this.at);
			if (binary < 0) {
				this.at = behind;
				return;
			}
			this.at = binary;
		}
	}

	/** `.name`, `[key]`, `:name(…)`, calls. */
	private suffixes(): void {
		for (;;) {
			const behind = this.at;
			this.space();
			const code = this.code();
			if ((code === 46 && this.code(this.at + 1) !== 46) || (code === 58 && this.code(this.at + 1) !== 58)) {
				this.at++;
				this.space();
				const word = this.word();
				if (word === '') this.fault('A name is missing after this mark.');
				this.at += word.length;
			} else if (code === 91 && longEnd(this.text, this.at) === -1) this.brackets(']');
			else if (code === 40) this.brackets(')');
			else if (code === 123) this.brackets('}');
			else if (code === 34 || code === 39) this.string();
			else {
				const long = code === 91 ? longEnd(this.text, this.at) : -1;
				if (long < 0 || Number.isNaN(long)) {
					this.at = behind;
					return;
				}
				this.at = long;
			}
		}
	}

	/** Whether a value ends at `at`: what follows does not go on with it. */
	private ends(): boolean {
		const at = this.at;
		this.space();
		const next = this.text[this.at];
		const goesOn =
			match(BINARY, this.text, this.at) >= 0 ||
			(next !== undefined && /[.[({"':]/.test(next) && !this.text.startsWith('::', this.at));
		this.at = at;
		return !goesOn;
	}

	/** One value: a table, a text, a number, a switch, or code. `loose` where the next line may begin with a bracket. */
	value(keyFrom: number, keyTo: number): void {
		const { tape } = this.doc;
		const from = this.at;
		const code = this.code();
		if (code === 123) {
			const count = tape.count;
			this.table(keyFrom, keyTo);
			if (this.ends()) return;
			tape.cut(count);
			this.at = from;
		} else if (code === 34 || code === 39 || code === 91) {
			if (code === 91) {
				const end = longEnd(this.text, from);
				if (Number.isNaN(end)) this.fault('This text is never closed by “]]”.');
				if (end < 0) this.fault('A value is missing here, or this is not a Lua value.');
				this.at = end;
			} else this.string();
			if (this.ends()) {
				tape.leaf(TEXT, keyFrom, keyTo, from, this.at);
				return;
			}
			this.at = from;
		} else {
			const sign = code === 45 ? 1 : 0;
			const number = match(NUMBER, this.text, from + sign);
			const word = /^(?:true|false|nil)$/.test(this.word()) ? this.word() : '';
			if (number > from + sign || word !== '') {
				this.at = word !== '' ? from + word.length : number;
				if (/\w/.test(this.text[this.at] ?? '')) this.fault('This is not a Lua number.', from);
				if (this.ends()) {
					tape.leaf(BARE, keyFrom, keyTo, from, this.at);
					return;
				}
				this.at = from;
			}
		}
		this.expression();
		tape.leaf(CODE, keyFrom, keyTo, from, this.at);
	}

	private table(keyFrom: number, keyTo: number): void {
		const { tape } = this.doc;
		const open = this.at++;
		this.enter();
		const node = tape.open(LIST, keyFrom, keyTo, open);
		if (this.id) tape.leaf(ID, -1, -1, ...this.id);
		this.id = null;
		let named = false;
		let any = false;
		for (;;) {
			this.space();
			if (this.at >= this.text.length) this.fault('The “{” here is never closed.', open);
			if (this.code() === 125) break;
			any = true;
			const from = this.at;
			if (this.code() === 91 && longEnd(this.text, from) === -1) {
				this.brackets(']');
				const to = this.at;
				this.space();
				if (this.code() !== 61) this.fault('A “=” is missing after this name in brackets.', from);
				this.at++;
				this.space();
				named = true;
				this.value(from, to);
			} else {
				const word = this.word();
				if (word !== '' && !WORDS.has(word)) {
					this.at += word.length;
					const to = this.at;
					this.space();
					if (this.code() === 61 && this.code(this.at + 1) !== 61) {
						this.at++;
						this.space();
						named = true;
						this.value(from, to);
					} else {
						this.at = from;
						this.value(-1, -1);
					}
				} else this.value(-1, -1);
			}
			this.space();
			if (this.code() === 44 || this.code() === 59) this.at++;
			else if (this.code() !== 125)
				this.fault(
					this.at >= this.text.length
						? 'The “{” here is never closed.'
						: 'A comma is missing between two values.',
					this.at >= this.text.length ? open : this.at
				);
		}
		if (named || !any) tape.mark(node, MAP);
		tape.close(node, ++this.at);
		this.depth--;
	}

	/** Skips a statement that holds no data. */
	private statement(): void {
		const from = this.at;
		const word = this.word();
		if (word === 'function' || word === 'if' || word === 'do' || word === 'repeat') {
			this.at += word.length;
			this.body(from);
		} else if (word === 'for' || word === 'while') {
			this.at += word.length;
			for (;;) {
				this.space();
				if (this.at >= this.text.length) this.fault('“do” is missing after this.', from);
				if (this.word() === 'do') break;
				const inner = this.word();
				if (inner === 'in') this.at += 2;
				else if (this.code() === 44 || this.code() === 61) this.at++;
				else this.expression();
			}
			this.at += 2;
			this.body(from);
		} else if (word === 'goto' || word === 'break') this.at += word.length;
		else if (this.text.startsWith('::', from)) {
			const end = this.text.indexOf('::', from + 2);
			this.at = end < 0 ? this.text.length : end + 2;
		} else this.fault('This is not valid Lua.');
	}

	file(): number {
		const { doc, text } = this;
		const { tape } = doc;
		const root = tape.open(MAP, -1, -1, 0);
		if (text.startsWith('#')) this.at = lineEnd(text, 0);
		while (this.at < text.length) {
			this.space();
			if (this.at >= text.length) break;
			const from = this.at;
			const count = tape.count;
			try {
				this.one();
			} catch (error) {
				if (!(error instanceof Fault)) throw error;
				tape.cut(count);
				this.depth = 0;
				doc.problem(error.at, error.message);
				if (doc.problems.length > 60) break;
				this.at = this.nextStatement(Math.max(error.at, from));
			}
		}
		tape.close(root, text.length);
		return root;
	}

	/** Where reading goes on behind a fault: at the next line that begins like a statement, without indentation. */
	private nextStatement(from: number): number {
		const next = /[\r\n](?=[A-Za-z_])/g;
		next.lastIndex = from;
		return next.test(this.text) ? next.lastIndex : this.text.length;
	}

	/** One statement, with the data that it holds. */
	private one(): void {
		const from = this.at;
		if (this.code() === 59) {
			this.at++;
			return;
		}
		let word = this.word();
		if (word === 'return') {
			this.returned(from);
			return;
		}
		if (word === 'local') {
			this.at += word.length;
			this.space();
			word = this.word();
			if (word === 'function') {
				this.statement();
				return;
			}
		}
		if (word === '' ? this.code() !== 40 : WORDS.has(word)) {
			this.statement();
			return;
		}
		this.named(from, word);
	}

	/** What a file or a function returns: its first value is data. */
	private returned(from: number): void {
		const { length } = 'return';
		this.at += length;
		this.space();
		if (this.at >= this.text.length || this.word() === 'end' || this.code() === 59) return;
		this.value(from, this.at === from ? from : from + length);
		this.more();
	}

	/** A statement that begins with a name or with something in brackets: what is assigned to it, or a call of it. */
	private named(from: number, word: string): void {
		const keyFrom = this.at;
		if (word !== '') this.at += word.length;
		else this.brackets(')');
		const called = this.path(keyFrom);
		if (called === 'with a table') return;
		const keyTo = this.at;
		this.space();
		if (this.code() === 44) {
			this.several();
			return;
		}
		if (this.code() !== 61) {
			if (called === 'no' && this.word() === '' && this.at < this.text.length)
				this.fault('A “=” is missing after this name.', keyFrom);
			if (called === 'no' && !this.text.slice(from, keyFrom).startsWith('local'))
				this.fault('This name does nothing by itself; a “=” or a call is missing.', keyFrom);
			this.at = keyTo;
			return;
		}
		this.at++;
		this.space();
		this.value(keyFrom, keyTo);
		this.more();
	}

	/**
	 * What follows a name: further names, keys, calls, an attribute. A table that a call is given is data that is under the
	 * function's name; what follows it is not looked at.
	 */
	private path(keyFrom: number): 'no' | 'yes' | 'with a table' {
		let called: 'no' | 'yes' = 'no';
		for (;;) {
			const behind = this.at;
			this.space();
			const code = this.code();
			if (code === 46 || code === 58) {
				this.at++;
				this.space();
				const name = this.word();
				if (name === '') this.fault('A name is missing after this mark.');
				this.at += name.length;
			} else if (code === 91 && longEnd(this.text, this.at) === -1) this.brackets(']');
			else if (code === 123) {
				this.value(keyFrom, behind);
				return 'with a table';
			} else if (code === 40) {
				called = 'yes';
				if (this.given(keyFrom, behind)) return 'with a table';
			} else if (code === 91) {
				called = 'yes';
				const end = longEnd(this.text, this.at);
				if (Number.isNaN(end)) this.fault('This text is never closed by “]]”.');
				this.at = end;
			} else if (code === 34 || code === 39) {
				called = 'yes';
				this.string();
			} else if (this.text[this.at] === '<') {
				// An attribute of a local name.
				const end = this.text.indexOf('>', this.at);
				this.at = end < 0 ? this.text.length : end + 1;
			} else {
				this.at = behind;
				return called;
			}
		}
	}

	/** What a call is given in brackets; whether that is a table, perhaps behind a text that names it: data then. */
	private given(keyFrom: number, keyTo: number): boolean {
		const open = this.at++;
		this.space();
		this.id = this.namedBefore();
		if (this.code() !== 123) {
			this.id = null;
			this.at = open;
			this.brackets(')');
			return false;
		}
		this.value(keyFrom, keyTo);
		this.space();
		while (this.code() === 44) {
			this.at++;
			this.expression();
			this.space();
		}
		if (this.code() !== 41) this.fault('The “(” here is never closed.', open);
		this.at++;
		return true;
	}

	/** Whether the table that opens here begins with a name. */
	private beginsNamed(): boolean {
		this.at++;
		this.space();
		return match(NAMED, this.text, this.at) >= 0;
	}

	/** A text and a comma before what comes next; null where there is none. */
	private namedBefore(): [number, number] | null {
		const from = this.at;
		if (this.code() !== 34 && this.code() !== 39) return null;
		this.string();
		const to = this.at;
		this.space();
		if (this.code() === 44) {
			this.at++;
			this.space();
			const table = this.at;
			if (this.code() === 123 && this.beginsNamed()) {
				this.at = table;
				return [from, to];
			}
		}
		this.at = from;
		return null;
	}

	/** Several names at once: what they are assigned is stepped over. */
	private several(): void {
		while (this.code() === 44) {
			this.at++;
			this.expression();
			this.space();
		}
		if (this.code() !== 61) return;
		this.at++;
		this.expression();
		this.more();
	}

	/** Further values of a list of values. */
	private more(): void {
		for (;;) {
			const behind = this.at;
			this.space();
			if (this.code() !== 44) {
				this.at = behind;
				return;
			}
			this.at++;
			this.expression();
		}
	}
}

/** Reads the data of a text onto its tape; returns the root, a map of what is assigned and given back. */
export const scanLua = (doc: OpenDocument): number => new Scanner(doc).file();
