/**
 * Edits (insert, drop, replace, swap of neighbours) from one word to another: optimal string alignment distance,
 * a restricted Damerau–Levenshtein distance.
 */
export function distance(a: string, b: string): number {
	let older: number[] = [];
	let old = Array.from({ length: b.length + 1 }, (_, at) => at);
	for (let i = 1; i <= a.length; i++) {
		const row = [i];
		for (let j = 1; j <= b.length; j++) {
			let cost = Math.min(old[j]! + 1, row[j - 1]! + 1, old[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
			if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
				cost = Math.min(cost, older[j - 2]! + 1);
			row.push(cost);
		}
		older = old;
		old = row;
	}
	return old[b.length]!;
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

/** The ids most like a word, nearest first; only those that could be meant (up to half of the letters differ). */
export function nearest(word: string, ids: Iterable<string>, most = 3): string[] {
	const folded = word.toLowerCase();
	const letters = lettersIn(folded);
	const close: { id: string; cost: number }[] = [];
	for (const id of ids) {
		const room = Math.max(word.length, id.length) / 2;
		const other = id.toLowerCase();
		// No edit brings more than one letter.
		if (Math.abs(word.length - id.length) > room || apart(letters, other) > room) continue;
		const cost = distance(folded, other);
		if (cost <= room) close.push({ id, cost });
	}
	return close
		.sort((a, b) => a.cost - b.cost || (a.id < b.id ? -1 : 1))
		.slice(0, most)
		.map(({ id }) => id);
}
