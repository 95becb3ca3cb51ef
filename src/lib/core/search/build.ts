import { inOneGo } from '../gather';
import type { Links } from '../links';
import type { Stack } from '../stack';
import { buildLexicon, type Lexicon } from './lexicon';
import { buildOccurrences } from './occurrences';
import { roomFor, type SearchIndex } from './types';

/** Share of texts that may lie outside the first lexicon before all of it is rebuilt. */
const TAIL = 0.2;

/**
 * Builds the index step by step, so that the caller can do other things in between.
 * @param older the index of an earlier state over the same pool, whose lexicon is taken over
 */
export function* buildIndexSteps(
	stack: Stack,
	links: Links,
	older?: SearchIndex
): Generator<void, SearchIndex> {
	const occurrences = yield* buildOccurrences(stack, links);
	const { firsts } = occurrences;
	const stands = (text: number) => firsts[text + 1]! > firsts[text]!;
	const kept = older?.stack.pool === stack.pool ? older : undefined;
	let lexicons: Lexicon[] = [];
	let covered: Uint8Array = new Uint8Array(0);
	if (kept) {
		covered = kept.covered;
		let open = 0;
		for (let text = 1; text < firsts.length - 1; text++) if (stands(text) && covered[text] !== 1) open++;
		if (open === 0) lexicons = kept.lexicons.slice(0, 1);
		else if (open < stack.pool.size * TAIL)
			lexicons = [
				kept.lexicons[0]!,
				yield* buildLexicon(
					stack.pool,
					(text) => text < firsts.length - 1 && stands(text) && covered[text] !== 1
				)
			];
	}
	if (lexicons.length === 0) {
		lexicons = [yield* buildLexicon(stack.pool, (text) => text < firsts.length - 1 && stands(text))];
		covered = new Uint8Array(firsts.length);
		for (let text = 1; text < firsts.length - 1; text++) if (stands(text)) covered[text] = 1;
	}
	const tables = [...stack.tables.values()];
	const files: SearchIndex['files'] = [];
	const fileOf = new Int32Array(links.places);
	for (const table of tables) {
		const { firsts, file } = table.rows;
		const start = links.starts.get(table.kind)!;
		for (let row = 0; row < table.count; row++)
			fileOf[start + row] = files.length + file[firsts[row + 1]! - 1]!;
		for (const own of table.files) files.push({ table, file: own });
	}
	return {
		stack,
		links,
		lexicons,
		covered,
		occurrences,
		tables,
		files,
		fileOf,
		room: roomFor(links.places),
		lineRoom: roomFor(occurrences.lines.length)
	};
}

/** Builds the index in one go. */
export const buildIndex = (stack: Stack, links: Links): SearchIndex => inOneGo(buildIndexSteps(stack, links));
