// What a new version of a game changed, as one reads it: by kind, with how far values went, and what of it concerns a mod.
import { ascending, extent, median } from 'd3-array';
import { linksFrom, type Links } from '../links';
import { changedRows, recordKey, type Stack } from '../stack';
import type { GameChanges, RecordChange } from './changes';

/** What a mod has to do with: records that it changes or refers to, and its files. */
export interface Concerns {
	/** By kind and id, as in the old version. */
	records: ReadonlySet<string>;
	files: ReadonlySet<string>;
}

/** The records that my mod changes, adds or takes away, those that these refer to, and the files that it has. */
export function concernsOf(stack: Stack, links: Links): Concerns {
	const records = new Set<string>();
	for (const table of stack.tables.values()) {
		for (const row of changedRows(table)) {
			const record = table.record(row);
			records.add(recordKey(table.kind, record.id));
			for (const { to } of linksFrom(links, record)) if (to) records.add(recordKey(to.kind, to.id));
		}
		for (const { from, nth } of table.removals)
			if (from.layer === stack.mine) records.add(recordKey(table.kind, table.pool.at(from.facts.ids[nth]!)));
	}
	return { records, files: new Set(stack.mine?.files.keys()) };
}

/** What became of the values of one field. */
export interface FieldSummary {
	path: string;
	/** The name that it had, where that was another one. */
	from: string | null;
	/** Records of which it says something else. */
	count: number;
	/** Of numbers: how far the middle one went, as a share of what it was (0.1 is a tenth more). */
	middle: number | null;
	/** The least and the most, in the same way. */
	range: [number, number] | null;
}

/** What became of one kind. */
export interface KindSummary {
	kind: string;
	counts: Record<RecordChange['what'], number>;
	/** Whether the version has the kind as a whole, or lost it. */
	whole: 'new' | 'gone' | null;
	/** Fields that are new, gone or have another name. */
	fields: GameChanges['fields'];
	/** The fields of which values changed, most first. */
	values: FieldSummary[];
	records: RecordChange[];
}

/** A field that is new, gone, or has another name or two of them. */
export interface FieldInShort {
	what: GameChanges['fields'][number]['what'];
	/** What it is called now; of one that was split, both. */
	path: string;
	from: string | null;
	sure: number;
}

export const fieldInShort = (one: GameChanges['fields'][number]): FieldInShort =>
	one.what === 'renamed' || one.what === 'split'
		? { what: one.what, path: [one.to].flat().join(' and '), from: one.from, sure: one.sure }
		: { what: one.what, path: one.path, from: null, sure: 1 };

const ORDER: readonly RecordChange['what'][] = ['gone', 'renamed', 'moved', 'changed', 'new'];

function valuesOf(records: readonly RecordChange[]): FieldSummary[] {
	const found = new Map<string, { from: string | null; count: number; shares: number[] }>();
	for (const { fields } of records)
		for (const { path, old, new: fresh, from } of fields) {
			const own = found.get(path) ?? { from: from ?? null, count: 0, shares: [] };
			found.set(path, own);
			own.count++;
			const [was, is] = [old, fresh].map((text) =>
				text === null || text.trim() === '' ? NaN : Number(text)
			);
			if (was !== 0 && Number.isFinite(was) && Number.isFinite(is))
				own.shares.push((is! - was!) / Math.abs(was!));
		}
	return [...found]
		.map(([path, { from, count, shares }]): FieldSummary => {
			// What is said of numbers is said of all of them.
			const isNumbers = shares.length === count && count > 1;
			return {
				path,
				from,
				count,
				middle: isNumbers ? median(shares)! : null,
				range: isNumbers ? (extent(shares) as [number, number]) : null
			};
		})
		.sort((a, b) => b.count - a.count || ascending(a.path, b.path));
}

/**
 * What a new version changed, by kind; kinds with the most changes first.
 * @param only what concerns a mod; without it all
 */
export function summaryOf(
	changes: GameChanges,
	only?: Concerns
): { kinds: KindSummary[]; files: GameChanges['files'] } {
	const concerned = ({ kind, record, from }: RecordChange) =>
		!only || only.records.has(recordKey(from?.kind ?? kind, from?.record ?? record));
	const byKind = new Map<string, RecordChange[]>();
	for (const one of changes.records)
		if (concerned(one)) {
			const own = byKind.get(one.kind);
			if (own) own.push(one);
			else byKind.set(one.kind, [one]);
		}
	for (const { kind } of [...changes.fields, ...changes.kinds])
		if (!byKind.has(kind) && !only) byKind.set(kind, []);
	const kinds = [...byKind].map(([kind, records]): KindSummary => {
		const of = (what: RecordChange['what']) => records.filter((one) => one.what === what);
		return {
			kind,
			counts: Object.fromEntries(ORDER.map((what) => [what, of(what).length])) as KindSummary['counts'],
			whole: changes.kinds.find((one) => one.kind === kind)?.what ?? null,
			fields: changes.fields.filter((one) => one.kind === kind),
			values: valuesOf(records),
			records: ORDER.flatMap(of)
		};
	});
	return {
		kinds: kinds.sort((a, b) => b.records.length - a.records.length || ascending(a.kind, b.kind)),
		files: changes.files.filter(
			({ path, from }) => !only || only.files.has(path) || only.files.has(from ?? path)
		)
	};
}
