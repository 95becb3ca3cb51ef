// Narrowing: which records are left by kind, layer, folder and format, and how many each of these would leave.
import type { Found, SearchIndex, SearchOptions } from './types';

/** The folder that a path is in at the first level; empty for the root. */
const topFolder = (path: string) => (path.includes('/') ? path.slice(0, path.indexOf('/')) : '');

const more = (counts: Map<string, number>, key: string, by: number) =>
	counts.set(key, (counts.get(key) ?? 0) + by);

/** Those places that the narrowing leaves, counted. */
export function narrowed(
	{ files, fileOf }: SearchIndex,
	places: number[],
	{ kind, layer, folder, format }: SearchOptions
): { places: number[] } & Omit<Found, 'hits'> {
	const perFile = new Int32Array(files.length);
	for (const place of places) perFile[fileOf[place]!]!++;
	let left = places;
	if (kind || layer || folder || format) {
		files.forEach(({ table, file: { layer: own, file, facts } }, number) => {
			const stays =
				(!kind || table.kind === kind) &&
				(!layer || own.id === layer) &&
				(!folder || file.path.startsWith(`${folder}/`)) &&
				(!format || facts.format === format);
			if (!stays) perFile[number] = 0;
		});
		left = places.filter((place) => perFile[fileOf[place]!]! > 0);
	}
	const counts: Found['counts'] = { kind: new Map(), layer: new Map(), folder: new Map(), format: new Map() };
	for (let number = 0; number < perFile.length; number++) {
		const found = perFile[number]!;
		if (found === 0) continue;
		const {
			table,
			file: { layer, file, facts }
		} = files[number]!;
		more(counts.kind, table.kind, found);
		more(counts.layer, layer.id, found);
		more(counts.folder, topFolder(file.path), found);
		more(counts.format, facts.format!, found);
	}
	return { places: left, total: left.length, counts };
}
