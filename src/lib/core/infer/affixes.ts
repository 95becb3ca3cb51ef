// Ids within longer texts, and what is around them.
import type { Owners } from './owners';

/** Pieces of a value that are looked at. */
const MOST = 9;

/**
 * Every part of a text between marks that are no letter or digit, with what is before and behind it: `art/tug.svg`
 * gives `art`, `tug`, `svg`, `art/tug`, `tug.svg`; the whole is left out.
 */
export function* partsWithin(text: string): Generator<{ before: string; part: string; after: string }> {
	if (text.length > 200) return;
	const edges: [number, number][] = [];
	for (const match of text.matchAll(/[\p{L}\p{N}]+/gu)) {
		if (edges.length === MOST) return;
		edges.push([match.index, match.index + match[0].length]);
	}
	for (let first = 0; first < edges.length; first++)
		for (let last = first; last < edges.length; last++) {
			const [from, to] = [edges[first]![0], edges[last]![1]];
			if (from === 0 && to === text.length) continue;
			yield { before: text.slice(0, from), part: text.slice(from, to), after: text.slice(to) };
		}
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
		for (const { before, part, after } of partsWithin(text)) {
			for (const nth of ownersOf(part)) {
				const key = `${nth}\n${before}\n${after}`;
				const affix = found.get(key);
				if (affix) affix.distinct++;
				else found.set(key, { nth, before, after, distinct: 1 });
			}
		}
	return [...found.values()].sort((a, b) => b.distinct - a.distinct);
}
