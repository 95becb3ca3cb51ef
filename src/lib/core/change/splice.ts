/** What a file holds: a text, counted in UTF-16 code units, or bytes. */
export type Content = string | Uint8Array;

/**
 * Replace `[from, to)` of a text (UTF-16 code units) or of bytes by `insert`.
 * A list of splices is sorted, does not overlap, and speaks of the content before any of them.
 */
export interface Splice<C extends Content = string> {
	from: number;
	to: number;
	insert: C;
}

const partOf = <C extends Content>(content: C, from: number, to?: number): C =>
	(typeof content === 'string' ? content.slice(from, to) : content.subarray(from, to)) as C;

/** Parts behind each other, of the kind that `like` is. */
function joinedParts<C extends Content>(like: C, parts: readonly C[]): C {
	if (typeof like === 'string') return parts.join('') as C;
	const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
	let at = 0;
	for (const part of parts as readonly Uint8Array[]) {
		bytes.set(part, at);
		at += part.length;
	}
	return bytes as Content as C;
}

/**
 * The content after the splices.
 * @throws RangeError when the list is unsorted, overlaps, or leaves the content.
 */
export function applySplices<C extends Content>(content: C, splices: readonly Splice<C>[]): C {
	const parts: C[] = [];
	let at = 0;
	for (const { from, to, insert } of splices) {
		if (from < at || to < from || to > content.length)
			throw new RangeError('splices out of order or outside the text');
		parts.push(partOf(content, at, from), insert);
		at = to;
	}
	parts.push(partOf(content, at));
	return joinedParts(content, parts);
}

/** The splices that take the changed content back. Law: `apply(apply(c, s), invert(c, s)) = c`. */
export function invertSplices<C extends Content>(content: C, splices: readonly Splice<C>[]): Splice<C>[] {
	let shift = 0;
	return splices.map(({ from, to, insert }) => {
		const start = from + shift;
		shift += insert.length - (to - from);
		return { from: start, to: start + insert.length, insert: partOf(content, from, to) };
	});
}

type Step<C> = { keep: number } | { drop: number } | { add: C };

function toSteps<C extends Content>(splices: readonly Splice<C>[]): Step<C>[] {
	const steps: Step<C>[] = [];
	let at = 0;
	for (const { from, to, insert } of splices) {
		if (from > at) steps.push({ keep: from - at });
		if (insert.length > 0) steps.push({ add: insert });
		if (to > from) steps.push({ drop: to - from });
		at = to;
	}
	steps.push({ keep: Infinity });
	return steps;
}

function fromSteps<C extends Content>(steps: readonly Step<C>[], empty: C): Splice<C>[] {
	const splices: Splice<C>[] = [];
	let at = 0;
	let open: { from: number; to: number; parts: C[] } | null = null;
	const close = () => {
		if (open) splices.push({ from: open.from, to: open.to, insert: joinedParts(empty, open.parts) });
		open = null;
	};
	for (const step of steps) {
		if ('keep' in step) {
			if (step.keep === 0) continue;
			close();
			at += step.keep;
		} else {
			open ??= { from: at, to: at, parts: [] };
			if ('add' in step) open.parts.push(step.add);
			else {
				open.to += step.drop;
				at += step.drop;
			}
		}
	}
	close();
	return splices;
}

/** Steps one after the other, of which the first may be taken in parts. */
function reader<C>(steps: readonly Step<C>[]) {
	let at = 0;
	let rest: Step<C> | undefined = steps[0];
	return {
		get now() {
			return rest;
		},
		/** Goes on behind the step, or keeps what is left of it. */
		next(left?: Step<C>) {
			rest = left ?? steps[++at];
		}
	};
}

/**
 * One list that does what `first` and then `second` (which speaks of the content after `first`) do.
 * The usual composition of operations that keep, drop and add, walked side by side: linear in both lists.
 */
export function composeSplices<C extends Content>(
	first: readonly Splice<C>[],
	second: readonly Splice<C>[]
): Splice<C>[] {
	const like = first[0] ?? second[0];
	if (!like) return [];
	const left = reader(toSteps(first));
	const right = reader(toSteps(second));
	const out: Step<C>[] = [];
	for (;;) {
		const [l, r] = [left.now, right.now];
		if (l && 'drop' in l) {
			out.push(l);
			left.next();
			continue;
		}
		if (r && 'add' in r) {
			out.push(r);
			right.next();
			continue;
		}
		if (!l || !r) break;
		const wide = 'add' in l ? l.add.length : l.keep;
		const other = 'drop' in r ? r.drop : r.keep;
		const length = Math.min(wide, other);
		if (length === Infinity) break;
		if ('add' in l) {
			if ('keep' in r) out.push({ add: partOf(l.add, 0, length) });
			left.next(wide > length ? { add: partOf(l.add, length) } : undefined);
		} else {
			out.push('keep' in r ? { keep: length } : { drop: length });
			left.next(wide > length ? { keep: wide - length } : undefined);
		}
		const rest = other - length;
		right.next(rest <= 0 ? undefined : 'drop' in r ? { drop: rest } : { keep: rest });
	}
	return fromSteps(out, partOf(like.insert, 0, 0));
}

/** Which of two sides a place keeps to where something is put in exactly there: before it, or behind it. */
export type Side = 'before' | 'behind';

/**
 * Where a place of the content is after the splices. What was replaced around it leaves it at the end of the
 * replacement that it keeps to. `splices` as in a list: sorted, without overlaps. O(log n) for one place.
 */
export function mapPlace(at: number, splices: readonly Splice<Content>[], side: Side = 'before'): number {
	return placeMapper(splices)(at, side);
}

/** `mapPlace` for many places of one list. */
export function placeMapper(splices: readonly Splice<Content>[]): (at: number, side?: Side) => number {
	const shifts = new Array<number>(splices.length + 1);
	shifts[0] = 0;
	splices.forEach(({ from, to, insert }, nth) => {
		shifts[nth + 1] = shifts[nth]! + insert.length - (to - from);
	});
	return (at, side = 'before') => {
		// The first splice that does not lie wholly before the place.
		let low = 0;
		let high = splices.length;
		while (low < high) {
			const middle = (low + high) >> 1;
			const { from, to } = splices[middle]!;
			if (to < at || (to === at && from < at)) low = middle + 1;
			else high = middle;
		}
		let shift = shifts[low]!;
		// Something put in exactly here, and then what is replaced from here on.
		for (let nth = low; nth < splices.length && splices[nth]!.from <= at; nth++) {
			const { from, to, insert } = splices[nth]!;
			if (from < at) return from + shifts[nth]! + (side === 'behind' ? insert.length : 0);
			if (from === to && side === 'behind') shift = shifts[nth + 1]!;
			else break;
		}
		return at + shift;
	};
}

/** Whether two splices of one content touch: they change the same part, or the very same place. */
const touch = (a: Splice<Content>, b: Splice<Content>): boolean =>
	(a.from === b.from && a.to === b.to) || (a.from < b.to && b.from < a.to);

/**
 * `splices` as they read after `over` was applied to the same content, or null when both touch the same place:
 * then somebody has to choose. Linear in both lists.
 */
export function mapSplices<C extends Content>(
	splices: readonly Splice<C>[],
	over: readonly Splice<Content>[]
): Splice<C>[] | null {
	const mapped: Splice<C>[] = [];
	let shift = 0;
	let at = 0;
	for (const splice of splices) {
		for (; at < over.length; at++) {
			const other = over[at]!;
			if (touch(splice, other)) return null;
			if (other.to > splice.from) break;
			shift += other.insert.length - (other.to - other.from);
		}
		for (let nth = at; nth < over.length && over[nth]!.from < splice.to; nth++)
			if (touch(splice, over[nth]!)) return null;
		mapped.push({ from: splice.from + shift, to: splice.to + shift, insert: splice.insert });
	}
	return mapped;
}

/**
 * Two lists that were made for one content, as one; null where they touch. Law: it does what the first does and then
 * the second mapped over it, and the other way round.
 */
export function joinSplices<C extends Content>(
	a: readonly Splice<C>[],
	b: readonly Splice<C>[]
): Splice<C>[] | null {
	if (mapSplices(a, b) === null) return null;
	return [...a, ...b].sort((one, other) => one.from - other.from || one.to - other.to);
}

/** Lists that were each made for one content, as one; null where two of them touch. */
export function together<C extends Content>(lists: readonly (readonly Splice<C>[])[]): Splice<C>[] | null {
	const all = lists.flat().sort((a, b) => a.from - b.from || a.to - b.to);
	for (let at = 1; at < all.length; at++) if (all[at]!.from < all[at - 1]!.to) return null;
	return all;
}
