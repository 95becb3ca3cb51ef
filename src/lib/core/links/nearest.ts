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

/** The ids most like a word, nearest first; only those that could be meant (up to half of the letters differ). */
export function nearest(word: string, ids: Iterable<string>, most = 3): string[] {
	const folded = word.toLowerCase();
	return [...ids]
		.map((id) => ({ id, cost: distance(folded, id.toLowerCase()) }))
		.filter(({ id, cost }) => cost <= Math.max(word.length, id.length) / 2)
		.sort((a, b) => a.cost - b.cost || (a.id < b.id ? -1 : 1))
		.slice(0, most)
		.map(({ id }) => id);
}
