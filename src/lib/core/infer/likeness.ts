// How alike two names are: names that people give to fields and files tell what refers to what.

const SPLIT = /[^\p{L}\p{N}]+|(?<=\p{Ll})(?=\p{Lu})/u;

/** The words of names that were asked for, and of how many at most: each field is compared with many kinds. */
const known = new Map<string, readonly string[]>();
const MOST_KNOWN = 10_000;

/** The words of a name: `upgrade_alt`, `upgradeAlt` and `upgrade.alt` are two each; without a plural's `s`. */
export function wordsOf(name: string): readonly string[] {
	let words = known.get(name);
	if (!words) {
		words = name
			.split(SPLIT)
			.map((word) => word.toLowerCase())
			.filter((word) => word !== '' && !/^\d+$/.test(word))
			.map(singular);
		if (known.size >= MOST_KNOWN) known.clear();
		known.set(name, words);
	}
	return words;
}

/** A word as there is one of it: `class` of `classes`, `enemy` of `enemies`. */
function singular(word: string): string {
	if (word.length <= 3) return word;
	if (word.length > 4) {
		if (word.endsWith('ies')) return `${word.slice(0, -3)}y`;
		if (/(?:ss|x|ch|sh)es$/.test(word)) return word.slice(0, -2);
	}
	return word.replace(/(?<=[^s])s$/, '');
}

/** Share of the letters at the beginning that two words have in common. */
function alike(a: string, b: string): number {
	if (a === b) return 1;
	const [short, long] = a.length < b.length ? [a, b] : [b, a];
	if (short.length >= 3 && long.startsWith(short)) return 0.8;
	if (short.length >= 4 && long.endsWith(short)) return 0.7;
	return 0;
}

/** How alike a field's path and the names of a kind are, from 0 to 1. */
export function likeness(path: string, names: readonly string[]): number {
	const mine = wordsOf(path);
	const theirs = names.flatMap(wordsOf);
	let best = 0;
	mine.forEach((word, at) => {
		// The last word of a path says what a field is; those before it where it belongs.
		const weight = at === mine.length - 1 ? 1 : 0.85;
		for (const other of theirs) best = Math.max(best, alike(word, other) * weight);
	});
	return best;
}
