// Names of sections that begin with the word of what they are: `[bird.gull]`, `[bird.tern]`, `[nest.cliff]`.
import type { TextDocument } from './document';
import { itemsOf, type Tape } from './tape';

const PREFIX = /^([A-Za-z_][\w-]*[.:/ ])(?=[^\s.:/])/;
/** Share of the sections of a file that must have such a name. */
const MOST = 0.5;

const known = new WeakMap<Tape, ReadonlySet<string>>();

/** The beginnings that names of sections of a file have in common, each with the mark behind it. */
function prefixesIn(
	{ tape }: TextDocument,
	root: number,
	nameOf: (node: number) => string
): ReadonlySet<string> {
	let found = known.get(tape);
	if (!found) {
		const counts = new Map<string, number>();
		const names = new Set(itemsOf(tape, root).map(nameOf));
		for (const name of names) {
			const [prefix] = PREFIX.exec(name) ?? [];
			if (prefix !== undefined) counts.set(prefix, (counts.get(prefix) ?? 0) + 1);
		}
		const common = [...counts].filter(([, count]) => count > 1);
		const covered = common.reduce((sum, [, count]) => sum + count, 0);
		found = new Set(covered >= names.size * MOST ? common.map(([prefix]) => prefix) : []);
		known.set(tape, found);
	}
	return found;
}

/**
 * The beginning of a section's name that others have too, with the mark behind it; empty for none. Of a document whose
 * records are said to be under a word, that word with its mark, whatever others there are.
 */
export function prefixOf(doc: TextDocument, node: number, nameOf: (node: number) => string): string {
	const [prefix = ''] = PREFIX.exec(nameOf(node)) ?? [];
	const { element } = doc.hints;
	if (element !== undefined) return prefix.slice(0, -1) === element ? prefix : '';
	return prefix !== '' && prefixesIn(doc, 0, nameOf).has(prefix) ? prefix : '';
}
