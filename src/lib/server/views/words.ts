// All texts of a game, and how far they are there in each language.
import { coverageSteps, textTable, usedRows, usersOf } from '$core/words';
import type { WordsView } from '$core/views';
import { inSteps } from '../breath';
import type { Model } from '../model';

/** How far the texts of a game are there; null where none are known as such. */
export async function wordsOf({ stack, links, snags }: Model): Promise<WordsView | null> {
	const table = textTable(stack);
	if (!table) return null;
	const faulty = new Set(
		snags.flatMap(({ kind, record }) => (kind === table.kind && record ? [record] : []))
	);
	return {
		kind: table.kind,
		texts: table.count,
		languages: await inSteps(coverageSteps(stack)),
		users: usersOf(links, table).map(({ plural, count }) => ({ plural, count })),
		unused: usedRows(links, table).filter((used) => used === 0).length,
		snags: faulty.size
	};
}
