/**
 * Replace `[from, to)` of a text (UTF-16 code units) by `insert`.
 * A list of splices is sorted, does not overlap, and speaks of the text before any of them.
 */
export interface Splice {
	from: number;
	to: number;
	insert: string;
}

/**
 * The text after the splices.
 * @throws RangeError when the list is unsorted, overlaps, or leaves the text.
 */
export function applySplices(text: string, splices: readonly Splice[]): string {
	let out = '';
	let at = 0;
	for (const { from, to, insert } of splices) {
		if (from < at || to < from || to > text.length)
			throw new RangeError('splices out of order or outside the text');
		out += text.slice(at, from) + insert;
		at = to;
	}
	return out + text.slice(at);
}

/** The splices that take the changed text back. Law: `apply(apply(t, s), invert(t, s)) = t`. */
export function invertSplices(text: string, splices: readonly Splice[]): Splice[] {
	let shift = 0;
	return splices.map(({ from, to, insert }) => {
		const start = from + shift;
		shift += insert.length - (to - from);
		return { from: start, to: start + insert.length, insert: text.slice(from, to) };
	});
}

type Step = { keep: number } | { drop: number } | { add: string };

function toSteps(splices: readonly Splice[]): Step[] {
	const steps: Step[] = [];
	let at = 0;
	for (const { from, to, insert } of splices) {
		if (from > at) steps.push({ keep: from - at });
		if (insert) steps.push({ add: insert });
		if (to > from) steps.push({ drop: to - from });
		at = to;
	}
	steps.push({ keep: Infinity });
	return steps;
}

function fromSteps(steps: readonly Step[]): Splice[] {
	const splices: Splice[] = [];
	let at = 0;
	let open: Splice | null = null;
	for (const step of steps) {
		if ('keep' in step) {
			if (step.keep === 0) continue;
			if (open) splices.push(open);
			open = null;
			at += step.keep;
		} else {
			open ??= { from: at, to: at, insert: '' };
			if ('add' in step) open.insert += step.add;
			else {
				open.to += step.drop;
				at += step.drop;
			}
		}
	}
	if (open) splices.push(open);
	return splices;
}

/**
 * One list that does what `first` and then `second` (which speaks of the text after `first`) do.
 * The usual composition of operations that keep, drop and add, walked side by side.
 */
export function composeSplices(first: readonly Splice[], second: readonly Splice[]): Splice[] {
	const left = toSteps(first);
	const right = toSteps(second);
	const out: Step[] = [];
	let l = left.shift();
	let r = right.shift();
	while (l || r) {
		if (l && 'drop' in l) {
			out.push(l);
			l = left.shift();
		} else if (r && 'add' in r) {
			out.push(r);
			r = right.shift();
		} else if (!l || !r) {
			break;
		} else {
			const length: number = Math.min(
				'add' in l ? l.add.length : l.keep,
				'drop' in r ? r.drop : (r as { keep: number }).keep
			);
			if (length === Infinity) break;
			if ('add' in l) {
				if ('keep' in r) out.push({ add: l.add.slice(0, length) });
				l = l.add.length > length ? { add: l.add.slice(length) } : left.shift();
			} else {
				out.push('keep' in r ? { keep: length } : { drop: length });
				l = l.keep > length ? { keep: l.keep - length } : left.shift();
			}
			if ('drop' in r) r = r.drop > length ? { drop: r.drop - length } : right.shift();
			else if ('keep' in r) r = r.keep > length ? { keep: r.keep - length } : right.shift();
		}
	}
	return fromSteps(out);
}

/**
 * `splices` as they read after `over` was applied to the same text, or null when both touch the same place:
 * then somebody has to choose.
 */
export function mapSplices(splices: readonly Splice[], over: readonly Splice[]): Splice[] | null {
	const mapped: Splice[] = [];
	for (const splice of splices) {
		let shift = 0;
		for (const other of over) {
			if (other.to <= splice.from && !(other.from === splice.from && other.to === splice.to)) {
				shift += other.insert.length - (other.to - other.from);
			} else if (other.from >= splice.to && !(other.from === splice.from && other.to === splice.to)) {
				break;
			} else {
				return null;
			}
		}
		mapped.push({ from: splice.from + shift, to: splice.to + shift, insert: splice.insert });
	}
	return mapped;
}
