import type { Document, FormatId } from '../formats';
import type { FieldGuide, Guide, KindGuide } from './schema';
import { claimOf } from './claims';

const NUMBER = /^-?\d+(\.\d+)?$/;

function fieldType(values: string[]): FieldGuide['type'] {
	const filled = values.filter((value) => value !== '');
	if (filled.length === 0) return 'text';
	if (filled.every((value) => /^-?\d+$/.test(value))) return 'whole';
	if (filled.every((value) => NUMBER.test(value))) return 'decimal';
	if (filled.every((value) => value === 'true' || value === 'false')) return 'switch';
	return 'text';
}

const titleOf = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase());

function inferKind(path: string, doc: Document, title: string): KindGuide {
	const values = new Map<string, string[]>();
	for (const record of doc.records)
		for (const field of record.fields) {
			const list = values.get(field.path) ?? [];
			list.push(String(field.value ?? ''));
			values.set(field.path, list);
		}
	const fields: Record<string, FieldGuide> = {};
	for (const [name, list] of values) fields[name] = { type: fieldType(list), required: false, unused: false };
	return {
		title,
		files: [path],
		...(doc.key ? { key: doc.key } : {}),
		...(doc.at === undefined ? {} : { at: doc.at }),
		merge: 'file',
		fault: 'refuses',
		limits: {},
		groups: [],
		texts: [],
		fields,
		inferred: true
	};
}

/** Formats in which one record alone may mean less than many do. */
const NESTED: readonly FormatId[] = ['json', 'yaml', 'toml', 'lua'];

/** Where the records of a kind stand, when all its files agree; undefined where they do not. */
function placeOf(docs: Document[]): string | null | undefined {
	const places = new Set(docs.map(({ at }) => at));
	return places.size === 1 ? [...places][0] : undefined;
}

/** Kinds that people described without saying where in a file the records stand: as the files have it. */
function withPlaces(guide: Guide, docs: ReadonlyMap<string, Document>): Record<string, KindGuide> {
	const byKind = new Map<string, Document[]>();
	for (const [path, doc] of docs) {
		const claim = claimOf(guide, path);
		if (claim && guide.kinds[claim.kind]!.at === undefined && NESTED.includes(doc.format))
			byKind.set(claim.kind, [...(byKind.get(claim.kind) ?? []), doc]);
	}
	const kinds = { ...guide.kinds };
	for (const [kind, list] of byKind) {
		const at = placeOf(list);
		if (at !== undefined) kinds[kind] = { ...kinds[kind]!, at };
	}
	return kinds;
}

/**
 * The guide with a kind added for every file that reads as data and that nobody claims: named by the file, types told
 * from the values, whole-file merge (which is right for any game, if not the finest).
 */
export function withInferred(guide: Guide, docs: ReadonlyMap<string, Document>): Guide {
	const kinds = withPlaces(guide, docs);
	for (const [path, doc] of docs) {
		if (claimOf(guide, path) || doc.records.length === 0) continue;
		const file = path.slice(path.lastIndexOf('/') + 1);
		const stem = file.replace(/\.[^.]+$/, '').toLowerCase();
		let name = stem;
		for (let nth = 2; name in kinds; nth++) name = `${stem}-${nth}`;
		kinds[name] = inferKind(path, doc, titleOf(stem));
	}
	return { ...guide, kinds };
}
