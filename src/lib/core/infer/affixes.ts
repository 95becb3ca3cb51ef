// Ids within longer texts, and what is around them.
import type { Owners } from './owners';

/** Pieces of a value that are looked at. */
const MOST = 9;

/**
 * Calls `each` with where every part of a text begins and ends that is between marks that are no letter or digit:
 * `art/tug.svg` has `art`, `tug`, `svg`, `art/tug`, `tug.svg`; the whole is left out.
 */
function eachPart(text: string, each: (from: number, to: number) => void): void {
	if (text.length > 200) return;
	const edges: number[] = [];
	const words = /[\p{L}\p{N}]+/gu;
	for (let match = words.exec(text); match; match = words.exec(text)) {
		if (edges.length === MOST * 2) return;
		edges.push(match.index, words.lastIndex);
	}
	for (let first = 0; first < edges.length; first += 2)
		for (let last = first + 1; last < edges.length; last += 2)
			if (edges[first]! > 0 || edges[last]! < text.length) each(edges[first]!, edges[last]!);
}

/** A constant before and behind an id. */
export interface Affix {
	nth: number;
	before: string;
	after: string;
	/** Different values in which it was seen. */
	distinct: number;
}

/** What is around ids in some texts, the most frequent first. */
export const affixesIn = (texts: Iterable<string>, owners: Owners, allowNumbers = false): Affix[] =>
	affixesBy(texts, (part) => {
		const id = owners.pool.find(part);
		return id < 0 || (!allowNumbers && /^\d+$/.test(part)) ? [] : owners.of(id);
	});

/** The same, with what tells which kinds have an id. */
export function affixesBy(texts: Iterable<string>, ownersOf: (part: string) => readonly number[]): Affix[] {
	const found = new Map<string, Affix>();
	for (const text of texts)
		eachPart(text, (from, to) => {
			for (const nth of ownersOf(text.slice(from, to))) {
				const [before, after] = [text.slice(0, from), text.slice(to)];
				const key = `${nth}\n${before}\n${after}`;
				const affix = found.get(key);
				if (affix) affix.distinct++;
				else found.set(key, { nth, before, after, distinct: 1 });
			}
		});
	return [...found.values()].sort((a, b) => b.distinct - a.distinct);
}
