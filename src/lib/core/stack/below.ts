// What is below my mod, also where a file of mine stands in for it: it stays the same while only mine changes.
import type { Facts } from '../facts';
import type { KindGuide } from '../guide';
import { isEditable } from './layer';
import type { Table, TableFile } from './table';

/** What was worked out from some files. */
interface Kept {
	facts: ReadonlySet<Facts>;
	made: Map<string, unknown>;
}

/** Of a kind only the latest is kept; an edit makes another table of it. */
const byGuide = new WeakMap<KindGuide, Kept>();
const byTable = new WeakMap<Table, Kept>();

/** The files of a kind below my mod, by their paths: which of them mine stand in for makes no difference. */
const filesBelow = ({ files, hidden }: Table): TableFile[] =>
	[...files, ...hidden]
		.filter(({ layer }) => !isEditable(layer))
		.sort((a, b) => (a.file.path < b.file.path ? -1 : a.file.path > b.file.path ? 1 : 0));

function keptFor(table: Table): Kept {
	const known = byTable.get(table);
	if (known) return known;
	let kept = byGuide.get(table.guide);
	const facts = new Set<Facts>();
	let isSame = kept !== undefined;
	for (const files of [table.files, table.hidden])
		for (const file of files) {
			if (isEditable(file.layer)) continue;
			facts.add(file.facts);
			isSame &&= kept!.facts.has(file.facts);
		}
	if (!kept || !isSame || kept.facts.size !== facts.size)
		byGuide.set(table.guide, (kept = { facts, made: new Map() }));
	byTable.set(table, kept);
	return kept;
}

/**
 * Something worked out once from the facts of a kind's files below my mod, and kept until one of these changes.
 * @param make must go by nothing else, and not by the order of layers
 */
export function derivedBelow<T>(table: Table, name: string, make: (files: readonly TableFile[]) => T): T {
	const { made } = keptFor(table);
	if (!made.has(name)) made.set(name, make(filesBelow(table)));
	return made.get(name) as T;
}
