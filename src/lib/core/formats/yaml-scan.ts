// Reads YAML 1.2 in one pass onto a tape: documents, and block collections by their columns.
import type { OpenDocument } from './document';
import { Fault } from './fault';
import { DEEPEST } from './json';
import { BARE, LIST, MAP, TEXT } from './tape';
import { YamlFlow } from './yaml-flow';
import {
	isBreak,
	isFlow,
	isGap,
	isSpace,
	MOST_FAULTS,
	type Key,
	type Props,
	type YamlNotes
} from './yaml-lines';

/** What is before a block node. */
type Mode = 'document' | 'sequence' | 'value' | 'explicit';

class Scanner extends YamlFlow {
	protected propsEnd = 0;

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

	/**
	 * One block node behind an indicator, or at the start of a line (`fresh`). Afterwards `at` is at the first
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
					this.fault('This line is indented with a tab; YAML needs spaces.', this.lineStart);
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
				if (props) this.fault('Two anchors or tags are before one value.');
				props = this.properties();
				this.propsEnd = this.at;
				continue;
			}
			break;
		}
		this.content(n, mode, key, sameLine, tab, outer, props);
		this.depth--;
	}

	/** An anchor and a tag that are on lines of their own belong to one value. */
	private joined(outer: Props | null, props: Props | null): Props | null {
		if (!outer || !props) return outer ?? props;
		if ((outer.anchor !== null && props.anchor !== null) || (outer.tag !== null && props.tag !== null))
			this.fault('Two anchors or tags are before one value.', props.from);
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
			if (tab) this.fault('This line is indented with a tab; YAML needs spaces.', this.lineStart);
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
		const named = this.anchored.length;
		const keyed = (): boolean => {
			let at = this.at;
			while (isSpace(this.code(at))) at++;
			if (this.code(at) !== 58 || !isGap(this.code(at + 1))) return false;
			if (this.lineStart !== line) this.fault('A name must be on one line.', from);
			if (!mayOpen)
				this.fault(
					'There is a second “name:” on this line; a nested map begins on a new line, indented.',
					from
				);
			noTab();
			this.at = at;
			return true;
		};
		if (code === 91 || code === 123) {
			this.flowCollection(n, key, null);
		} else if (code === 34 || code === 39) {
			this.quoted(n);
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
			this.takeBack(count, named);
			this.mapping(column, key, outer, { from: start, to }, props);
			return;
		}
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

	/** A list whose dashes are in `column`; `flush` where the name above it is there too. */
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
					this.fault('This line is indented with a tab; YAML needs spaces.', this.lineStart);
				this.at++;
				this.block(column, 'sequence', { from: dash, to: dash + 1 });
				if (!this.outside(column))
					this.fault('This line is indented more than the items of the list above it.');
			} catch (error) {
				this.recover(error, count, column, dash);
			}
			if (this.outside(column - 1)) break;
			// The next name of the map that this list is in.
			if (flush && this.column === column && !(this.code() === 45 && isGap(this.code(this.at + 1)))) break;
		}
		tape.close(node, this.end);
		this.depth--;
	}

	private recover(error: unknown, count: number, column: number, begun: number): void {
		if (!(error instanceof Fault)) throw error;
		this.inFlow = 0;
		this.brackets = [];
		this.depth = Math.min(this.depth, DEEPEST - 1);
		this.tape.cut(count);
		this.tell(error);
		if (this.faults > MOST_FAULTS) throw error;
		this.skipTo(column, error.at, begun);
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

	/** One `name: value` of a map whose names are in `column`. */
	private entry(column: number, ready: Key | null, readyProps: Props | null): void {
		const { tape } = this;
		if (ready) {
			this.nameKey(readyProps);
			this.at++;
			this.end = this.at;
			this.block(column, 'value', ready);
			return;
		}
		if (this.tabbed) this.fault('This line is indented with a tab; YAML needs spaces.', this.lineStart);
		const from = this.at;
		const code = this.code();
		const next = this.code(from + 1);
		if (code === 63 && isGap(next)) {
			const count = tape.count;
			const named = this.anchored.length;
			this.at++;
			this.end = this.at;
			this.block(column, 'explicit', { from: -1, to: -1 });
			const to = Math.max(this.end, from + 1);
			this.takeBack(count, named);
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
			this.fault('An item “-” is among the names of a map; it is indented wrongly, or a name is missing.');
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
			const named = this.anchored.length;
			this.flowCollection(column, { from: -1, to: -1 }, null);
			this.takeBack(count, named);
		} else if (this.code() === 58 && isGap(this.code(start + 1))) {
			// An empty name with an anchor or tag.
		} else {
			this.checkPlainStart();
			if (!this.plainLine()) this.fault('A name is missing here.');
		}
		const to = this.at;
		while (isSpace(this.code())) this.at++;
		if (this.code() !== 58 || !isGap(this.code(this.at + 1)))
			this.fault('A “:” is missing after this name; or the line is indented wrongly.', from);
		if (this.lineStart !== line) this.fault('A name must be on one line.', from);
		const key = { from, to };
		this.nameKey(props);
		this.at++;
		this.end = this.at;
		this.block(column, 'value', key);
	}

	/** An anchor on a name: aliases that follow show themselves as written. */
	private nameKey(props: Props | null): void {
		if (props?.anchor != null) this.anchors.set(props.anchor, -1);
	}
}

/** Reads all documents of a text onto its tape: node 0 is a list of them. */
export function scanYaml(doc: OpenDocument): YamlNotes {
	const scanner = new Scanner(doc);
	scanner.stream();
	return scanner.notes;
}
