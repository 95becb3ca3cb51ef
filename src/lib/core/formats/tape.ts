// What a scanner found, in numbers only: a hundred megabytes of text must not become a hundred million objects.

/** Numbers that one node takes on a tape. */
const WIDTH = 6;

/** A container whose items have names. */
export const MAP = 1;
/** A container whose items are numbered. */
export const LIST = 2;
/** A value that is text, whatever it looks like. */
export const TEXT = 3;
/** A value written bare: a number, a switch, nothing, or a plain word. */
export const BARE = 4;
/** Kinds from here on belong to the format that writes them. */
export const OWN = 5;

/**
 * Nodes in the order of the file, a container before what it holds. Offsets are UTF-16 code units; a node without a
 * name has `keyFrom` -1.
 */
export interface Tape {
	readonly text: string;
	/** Number of nodes. */
	readonly count: number;
	kind(node: number): number;
	keyFrom(node: number): number;
	keyTo(node: number): number;
	from(node: number): number;
	to(node: number): number;
	/** The node behind this one and all that it holds. */
	after(node: number): number;
	/** Containers that were never closed: they are not whole and must not be edited as such. */
	readonly broken: ReadonlySet<number>;
	/** Commentary, as pairs of offsets in the order of the file. */
	readonly remarks: ArrayLike<number>;
}

/** A tape while it is written. */
export interface TapeWriter extends Tape {
	/** Begins a container and returns its node. */
	open(kind: number, keyFrom: number, keyTo: number, from: number): number;
	close(node: number, to: number): void;
	/** Writes a value and returns its node. */
	leaf(kind: number, keyFrom: number, keyTo: number, from: number, to: number): number;
	/** Says another kind of a node that was begun already. */
	mark(node: number, kind: number): void;
	/** Commentary; in the order of the file. */
	remark(from: number, to: number): void;
	breakOff(node: number): void;
	/** Takes back all nodes from this one on. */
	cut(node: number): void;
	/** Gives memory back that was kept for more. */
	finish(): void;
}

class Writer implements TapeWriter {
	count = 0;
	broken = new Set<number>();
	private nodes: Int32Array;
	private said = new Int32Array(16);
	private saidCount = 0;

	constructor(readonly text: string) {
		this.nodes = new Int32Array(Math.max(64, (text.length >> 6) * WIDTH));
	}
	private shown: Int32Array | null = null;
	get remarks() {
		// Asked for in loops: one view serves as long as nothing is added.
		if (this.shown?.length !== this.saidCount || this.shown.buffer !== this.said.buffer)
			this.shown = this.said.subarray(0, this.saidCount);
		return this.shown;
	}
	kind(node: number) {
		return this.nodes[node * WIDTH]!;
	}
	keyFrom(node: number) {
		return this.nodes[node * WIDTH + 1]!;
	}
	keyTo(node: number) {
		return this.nodes[node * WIDTH + 2]!;
	}
	from(node: number) {
		return this.nodes[node * WIDTH + 3]!;
	}
	to(node: number) {
		return this.nodes[node * WIDTH + 4]!;
	}
	after(node: number) {
		return this.nodes[node * WIDTH + 5]!;
	}
	leaf(kind: number, keyFrom: number, keyTo: number, from: number, to: number) {
		const at = this.count * WIDTH;
		if (at + WIDTH > this.nodes.length) this.widen();
		const nodes = this.nodes;
		nodes[at] = kind;
		nodes[at + 1] = keyFrom;
		nodes[at + 2] = keyTo;
		nodes[at + 3] = from;
		nodes[at + 4] = to;
		nodes[at + 5] = ++this.count;
		return this.count - 1;
	}
	open(kind: number, keyFrom: number, keyTo: number, from: number) {
		return this.leaf(kind, keyFrom, keyTo, from, from);
	}
	close(node: number, to: number) {
		this.nodes[node * WIDTH + 4] = to;
		this.nodes[node * WIDTH + 5] = this.count;
	}
	mark(node: number, kind: number) {
		this.nodes[node * WIDTH] = kind;
	}
	remark(from: number, to: number) {
		// What is read twice is said once.
		if (this.saidCount > 0 && from < this.said[this.saidCount - 1]!) return;
		if (this.saidCount === this.said.length) {
			const wider = new Int32Array(this.said.length * 2);
			wider.set(this.said);
			this.said = wider;
		}
		this.said[this.saidCount++] = from;
		this.said[this.saidCount++] = to;
	}
	breakOff(node: number) {
		this.broken.add(node);
	}
	cut(node: number) {
		this.count = node;
	}
	finish() {
		if (this.nodes.length > this.count * WIDTH * 1.25) this.nodes = this.nodes.slice(0, this.count * WIDTH);
	}
	private widen() {
		const wider = new Int32Array(Math.ceil(this.nodes.length * 1.6) + WIDTH);
		wider.set(this.nodes);
		this.nodes = wider;
	}
}

/** An empty tape over a text. */
export const startTape = (text: string): TapeWriter => new Writer(text);

/** The items of a container, in the order of the file. */
export function itemsOf(tape: Tape, node: number): number[] {
	const items: number[] = [];
	const end = tape.after(node);
	for (let item = node + 1; item < end; item = tape.after(item)) items.push(item);
	return items;
}

/** Where a node begins with its name. */
export const startOf = (tape: Tape, node: number): number =>
	tape.keyFrom(node) < 0 ? tape.from(node) : Math.min(tape.keyFrom(node), tape.from(node));

/** The number of the remark that ends last before an offset, times two; -2 for none. */
function remarkBefore(tape: Tape, at: number): number {
	const { remarks } = tape;
	let low = 0;
	let high = remarks.length / 2;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (remarks[middle * 2 + 1]! <= at) low = middle + 1;
		else high = middle;
	}
	return low * 2 - 2;
}

function startsLine(text: string, at: number): boolean {
	while (at > 0 && (text[at - 1] === ' ' || text[at - 1] === '\t')) at--;
	return at === 0 || text[at - 1] === '\n' || text[at - 1] === '\r';
}

/** Where the commentary begins that has the lines right above `at` to itself; `at` where there is none. */
export function leadFrom(tape: Tape, at: number): number {
	const { text, remarks } = tape;
	if (remarks.length === 0 || !startsLine(text, at)) return at;
	let from = at;
	for (let nth = remarkBefore(tape, from); nth >= 0; nth -= 2) {
		const between = text.slice(remarks[nth + 1]!, from);
		if (!/^[ \t]*(\r\n|\n|\r)[ \t]*$/.test(between) || !startsLine(text, remarks[nth]!)) break;
		from = remarks[nth]!;
	}
	return from;
}

/** End of the commentary on the same line behind `to` (a separator may be between); `to` where there is none. */
export function trailTo(tape: Tape, to: number): number {
	const nth = remarkBefore(tape, to) + 2;
	const from = tape.remarks[nth];
	if (from === undefined || from < to) return to;
	const end = tape.remarks[nth + 1]!;
	const { text } = tape;
	if (!/^[ \t]*[,;]?[ \t]*$/.test(text.slice(to, Math.min(from, to + 200)))) return to;
	if (from - to > 200) return to;
	// A remark before the next value on the same line belongs to that one.
	let behind = end;
	while (text[behind] === ' ' || text[behind] === '\t') behind++;
	return behind >= text.length || /[\r\n]/.test(text[behind]!) ? end : to;
}

/** A remark without the marks that make it one. */
export function bareRemark(raw: string): string {
	return raw
		.split(/\r\n|\n|\r/)
		.map((line) =>
			line
				.trim()
				.replace(/^(?:<!--|--\[=*\[|--+|\/\*+|\/\/+|[#;!]+|\*(?!\/))[ \t]?/, '')
				.replace(/(?:\*+\/|-->|\]=*\])$/, '')
				.trimEnd()
		)
		.join('\n')
		.trim();
}

/** What is said of the thing at `[from, to)`: above it and behind it on its line. */
export function remarkOf(tape: Tape, from: number, to: number): string | undefined {
	if (tape.remarks.length === 0) return undefined;
	const lead = leadFrom(tape, from);
	const trail = trailTo(tape, to);
	const said = [
		...(lead < from ? [bareRemark(tape.text.slice(lead, from))] : []),
		...(trail > to ? [bareRemark(tape.text.slice(to, trail).replace(/^[ \t]*[,;]?[ \t]*/, ''))] : [])
	].filter((part) => part !== '');
	return said.length > 0 ? said.join('\n') : undefined;
}
