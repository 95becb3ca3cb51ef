// What the records of a kind are made of below their first names: blocks, lists, fields, and who has which.
import { addTo } from '../gather';
import { patternOf } from '../guide';
import { derived } from './derived';
import type { EffectiveRecord } from './record';
import type { Table } from './table';
import { isWide } from './wide';

/** How many records have a part, and the first of them. */
export interface PartUse {
	count: number;
	rows: number[];
}

/** A part that others of the kind have and a record does not. */
export interface MissingPart {
	path: string;
	shape: 'field' | 'block' | 'list';
	use: PartUse;
}

/** Records that can be models. */
const MOST_MODELS = 12;

/** The path itself and all that holds it: of `keeper.posts[2].name` also `keeper.posts[2]`, `keeper.posts` and `keeper`. */
function prefixesOf(path: string): string[] {
	const found: string[] = [];
	for (let at = 1; at < path.length; at++)
		if (path[at] === '.' || path[at] === '[') found.push(path.slice(0, at));
	found.push(path);
	return found;
}

/** Each pattern of parts (`keeper`, `effect[]`, `effect[].add`), with how many records of a kind have it. */
export const partUses = (table: Table): ReadonlyMap<string, PartUse> =>
	derived(table, 'part uses', () => {
		const uses = new Map<string, PartUse>();
		if (isWide(table)) return uses;
		const { rows, files, pool } = table;
		// Most records have one of a few shapes: those are counted, and each is taken apart once.
		const shapes = new Map<readonly number[] | Int32Array, PartUse>();
		for (let row = 0; row < rows.count; row++) {
			const at = rows.firsts[row + 1]! - 1;
			const { facts } = files[rows.file[at]!]!;
			const shape = facts.shapes[facts.shape[rows.nth[at]!]!];
			if (!shape) continue;
			const known = shapes.get(shape);
			if (!known) shapes.set(shape, { count: 1, rows: [row] });
			else {
				known.count++;
				if (known.rows.length < MOST_MODELS) known.rows.push(row);
			}
		}
		for (const [shape, { count, rows: some }] of shapes) {
			const patterns = new Set<string>();
			for (const path of shape)
				for (const prefix of prefixesOf(pool.at(path))) patterns.add(patternOf(prefix));
			for (const pattern of patterns) {
				const use = uses.get(pattern) ?? { count: 0, rows: [] };
				uses.set(pattern, use);
				use.count += count;
				if (use.rows.length < MOST_MODELS) use.rows.push(...some.slice(0, MOST_MODELS - use.rows.length));
			}
		}
		return uses;
	});

/** What holds a part: empty for the record itself. */
const holderOf = (pattern: string): string =>
	pattern.endsWith(']')
		? pattern.slice(0, pattern.lastIndexOf('['))
		: pattern.slice(0, Math.max(0, pattern.lastIndexOf('.')));

/** Parts that others of the kind have where a record has nothing, the outermost of them; none for wide tables. */
export function missingParts(record: EffectiveRecord): MissingPart[] {
	const uses = partUses(record.table);
	const here = new Map<string, string[]>([['', ['']]]);
	const known = new Set<string>();
	for (const path of record.values.keys())
		for (const prefix of prefixesOf(path)) {
			if (known.has(prefix)) continue;
			known.add(prefix);
			const pattern = patternOf(prefix);
			addTo(here, pattern, prefix);
		}
	const missing: MissingPart[] = [];
	for (const [pattern, use] of uses) {
		if (pattern.endsWith(']')) continue;
		const holder = holderOf(pattern);
		for (const within of here.get(holder) ?? []) {
			const path = within + pattern.slice(holder.length);
			if (known.has(path)) continue;
			const shape = uses.has(`${pattern}[]`)
				? 'list'
				: [...uses.keys()].some((other) => other.startsWith(`${pattern}.`))
					? 'block'
					: 'field';
			missing.push({ path, shape, use });
		}
	}
	return missing;
}

/** Whether some records of a kind have no such part beside what holds it. */
export function isOptional(table: Table, path: string): boolean {
	const uses = partUses(table);
	const pattern = patternOf(path);
	const use = uses.get(pattern);
	const holder = holderOf(pattern);
	return use !== undefined && use.count < (holder === '' ? table.count : (uses.get(holder)?.count ?? 0));
}
