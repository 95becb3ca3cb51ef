// Files that are alike but for a few values, and so seem to have to stay alike.
import { addTo } from '../gather';
import { counted } from '../wording';
import { fileNameOf } from './paths';
import type { TwinGuide } from '../guide';
import { placeIn } from '../facts';
import { atLeast, finding, said } from './sure';
import type { DataFile } from './group';

interface Compared {
	records: number;
	cells: number;
	alike: number;
	/** Fields that differ, and how often. */
	differ: Map<string, number>;
}

/** Compares two files over the records that both have; null where too many are in one of them only. */
function compare({ facts: a }: DataFile, { facts: b }: DataFile): Compared | null {
	const rows = new Map(Array.from(b.ids, (id, nth) => [id, nth]));
	const both = Array.from(a.ids, (id, nth) => [nth, rows.get(id) ?? -1] as const).filter(
		([, nth]) => nth >= 0
	);
	if (both.length < Math.max(a.count, b.count) * 0.9) return null;
	const found: Compared = { records: both.length, cells: 0, alike: 0, differ: new Map() };
	for (const [left, right] of both) {
		const [mine, theirs] = [a.shapes[a.shape[left]!], b.shapes[b.shape[right]!]];
		if (!mine || !theirs) continue;
		mine.forEach((path, at) => {
			found.cells++;
			const place = placeIn(theirs, path);
			const same =
				place !== undefined && b.values[b.firsts[right]! + place] === a.values[a.firsts[left]! + at];
			if (same) found.alike++;
			else {
				const name = a.pool.at(path);
				found.differ.set(name, (found.differ.get(name) ?? 0) + 1);
			}
		});
	}
	return found;
}

/** Files that follow another, by their path. The one that lies higher up is the one that is followed. */
export function twinsIn(files: readonly DataFile[]): Map<string, TwinGuide> {
	const byName = new Map<string, DataFile[]>();
	for (const file of files) {
		if (file.facts.format === null || file.facts.count === 0) continue;
		addTo(byName, fileNameOf(file.path), file);
	}
	const twins = new Map<string, TwinGuide>();
	const depth = (path: string) => path.split('/').length;
	for (const list of byName.values()) {
		// Many files of one name are one kind in many folders.
		if (list.length < 2 || list.length > 4) continue;
		const [first, ...others] = list.toSorted(
			(a, b) => depth(a.path) - depth(b.path) || (a.path < b.path ? -1 : 1)
		);
		for (const other of others) {
			const found = compare(first!, other);
			if (!found || found.cells < 4 || found.alike < found.cells * 0.7) continue;
			const but = [...found.differ]
				.filter(([, times]) => times >= Math.max(1, found.records * 0.5))
				.map(([path]) => path);
			twins.set(other.path, {
				of: first!.path,
				file: other.path,
				but,
				found: finding(
					atLeast(found.alike, found.cells),
					`${said(found.alike)} of ${said(found.cells)} values of ${counted(found.records, 'record')} are the same.`
				)
			});
		}
	}
	return twins;
}
