/** Rows of the table of edits, reused: a check may compare a word with every id of a game. */
let rows = [new Int32Array(64), new Int32Array(64), new Int32Array(64)] as const;

/**
 * Edits (insert, drop, replace, swap of neighbours) from one word to another: optimal string alignment distance,
 * a restricted Damerau–Levenshtein distance.
 * @param limit more edits than this need not be counted: what is given then is some larger number
 */
export function distance(a: string, b: string, limit = Infinity): number {
	const width = b.length;
	if (rows[0].length <= width)
		rows = [new Int32Array(width * 2), new Int32Array(width * 2), new Int32Array(width * 2)];
	let [older, old, row] = rows;
	for (let j = 0; j <= width; j++) old[j] = j;
	let least = 0;
	for (let i = 1; i <= a.length; i++) {
		row[0] = i;
		const before = least;
		least = i;
		for (let j = 1; j <= width; j++) {
			const same = a.charCodeAt(i - 1) === b.charCodeAt(j - 1);
			let cost = Math.min(old[j]! + 1, row[j - 1]! + 1, old[j - 1]! + (same ? 0 : 1));
			if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
				cost = Math.min(cost, older[j - 2]! + 1);
			row[j] = cost;
			if (cost < least) least = cost;
		}
		// What follows comes from this row, or swaps letters from the one before.
		if (least > limit && before >= limit) return least;
		[older, old, row] = [old, row, older];
	}
	return old[width]!;
}

/** How often each letter is in a word, folded into 32 places. */
function lettersIn(word: string): Int32Array {
	const counts = new Int32Array(32);
	for (let at = 0; at < word.length; at++) counts[word.charCodeAt(at) & 31]!++;
	return counts;
}

const left = new Int32Array(32);

/** Letters that one word has more of than the other, at least: a lower bound of the edits between them. */
function apart(letters: Int32Array, word: string): number {
	left.set(letters);
	for (let at = 0; at < word.length; at++) left[word.charCodeAt(at) & 31]!--;
	let [more, less] = [0, 0];
	for (const count of left)
		if (count > 0) more += count;
		else less -= count;
	return Math.max(more, less);
}

/** Which of 32 sorts of letters are in a word, a bit for each. */
function sortsIn(word: string): number {
	let sorts = 0;
	for (let at = 0; at < word.length; at++) sorts |= 1 << (word.charCodeAt(at) & 31);
	return sorts;
}

/** How many bits of a number of 32 are set. */
function bits(number: number): number {
	let left = number - ((number >>> 1) & 0x55555555);
	left = (left & 0x33333333) + ((left >>> 2) & 0x33333333);
	return Math.imul((left + (left >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}

interface Prepared {
	folded: string[];
	sorts: Int32Array;
}

const prepared = new WeakMap<readonly string[], Prepared>();

/** What is looked at of ids before they are compared. Made once for the same list. */
function preparedOf(ids: readonly string[]): Prepared {
	let known = prepared.get(ids);
	if (!known) {
		const folded = ids.map((id) => id.toLowerCase());
		prepared.set(ids, (known = { folded, sorts: Int32Array.from(folded, sortsIn) }));
	}
	return known;
}

/** The ids most like a word, nearest first; only those that could be meant (up to half of the letters differ). */
export const nearest = (word: string, ids: Iterable<string>, most = 3): string[] =>
	nearestIn(word, [[...ids]], most);

/** The same of several lists that do not change any more: one that is asked for again takes less time. */
export function nearestIn(word: string, lists: readonly (readonly string[])[], most = 3): string[] {
	const own = word.toLowerCase();
	const [letters, sorts] = [lettersIn(own), sortsIn(own)];
	const found: { id: string; cost: number }[] = [];
	let worst = Infinity;
	for (const ids of lists) {
		const known = preparedOf(ids);
		for (let at = 0; at < ids.length; at++) {
			const id = ids[at]!;
			const room = Math.min(worst, Math.max(word.length, id.length) / 2);
			// No edit brings more than one letter.
			if (Math.abs(word.length - id.length) > room) continue;
			const others = known.sorts[at]!;
			if (bits(sorts & ~others) > room || bits(others & ~sorts) > room) continue;
			const other = known.folded[at]!;
			if (apart(letters, other) > room) continue;
			const cost = distance(own, other, room);
			if (cost > room) continue;
			found.push({ id, cost });
			found.sort((a, b) => a.cost - b.cost || (a.id < b.id ? -1 : 1));
			if (found.length > most) found.pop();
			if (found.length === most) worst = found.at(-1)!.cost;
		}
	}
	return found.map(({ id }) => id);
}
