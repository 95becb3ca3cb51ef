// Narrowing: which records are left by kind, layer, folder and format, and how many each of these would leave.
import type { Table } from '../stack';
import type { Found, SearchIndex, SearchOptions } from './types';

/** Which files of a table may be in the answer; null for all. */
function allowedFiles(
	table: Table,
	{ kind, layer, folder, format }: SearchOptions
): boolean[] | null | false {
	if (kind && table.kind !== kind) return false;
	if (!layer && !folder && !format) return null;
	return table.files.map(
		({ layer: own, file, facts }) =>
			(!layer || own.id === layer) &&
			(!folder || file.path.startsWith(`${folder}/`)) &&
			(!format || facts.format === format)
	);
}

/** The folder that a path is in at the first level; empty for the root. */
const topFolder = (path: string) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : '');

const more = (counts: Map<string, number>, key: string, by: number) =>
	counts.set(key, (counts.get(key) ?? 0) + by);

/** Those places that the narrowing leaves, counted. */
export function narrowed(
	index: SearchIndex,
	places: number[],
	options: SearchOptions
): { places: number[] } & Omit<Found, 'hits'> {
	const allowed = index.tables.map((table) => allowedFiles(table, options));
	const perFile = index.tables.map((table) => new Int32Array(table.files.length));
	const starts = index.tables.map((table) => index.links.starts.get(table.kind)!);
	const left: number[] = [];
	for (const place of places) {
		const number = index.tableOf[place]!;
		const files = allowed[number]!;
		if (files === false) continue;
		const { rows } = index.tables[number]!;
		const file = rows.file[rows.firsts[place - starts[number]! + 1]! - 1]!;
		if (files !== null && !files[file]) continue;
		perFile[number]![file]!++;
		left.push(place);
	}
	const counts: Found['counts'] = { kind: new Map(), layer: new Map(), folder: new Map(), format: new Map() };
	index.tables.forEach((table, number) =>
		table.files.forEach(({ layer, file, facts }, at) => {
			const found = perFile[number]![at]!;
			if (found === 0) return;
			more(counts.kind, table.kind, found);
			more(counts.layer, layer.id, found);
			more(counts.folder, topFolder(file.path), found);
			more(counts.format, facts.format!, found);
		})
	);
	return { places: left, total: left.length, counts };
}
