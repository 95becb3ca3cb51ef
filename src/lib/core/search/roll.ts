// Many short texts in one long string: looking for a part in all of them is one search through it.

/** Texts, each behind a line end, with the places where they begin. */
export interface Roll {
	text: string;
	starts: Int32Array;
}

/** A roll of texts without line ends. */
export function rollOf(texts: readonly string[]): Roll {
	const starts = new Int32Array(texts.length);
	let place = 0;
	texts.forEach((text, at) => {
		starts[at] = place + 1;
		place += text.length + 1;
	});
	return { text: texts.length === 0 ? '' : `\n${texts.join('\n')}`, starts };
}

/** The first place of a sorted list at which something could be put in. */
export function lowerBound<T>(list: ArrayLike<T>, wanted: T): number {
	let low = 0;
	let high = list.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (list[middle]! < wanted) low = middle + 1;
		else high = middle;
	}
	return low;
}

/** The numbers of the texts that hold a part, ascending; the part has at least one character and no line end. */
export function* inRoll({ text, starts }: Roll, part: string): Generator<number> {
	for (let at = text.indexOf(part); at >= 0;) {
		// The text that begins last at or before the place.
		const found = lowerBound(starts, at + 1) - 1;
		yield found;
		if (found + 1 >= starts.length) return;
		at = text.indexOf(part, starts[found + 1]! - 1);
	}
}
