// Add-ons within a game: folders beside each other, each with a record that says what it is and which others it needs.
import { groupedBy } from '../gather';
import { rowAt, type Links, type Strand } from '../links';
import { derived, type Stack, type Table } from '../stack';
import { SURE_ENOUGH } from './snag';

/** Add-ons beside each other, from which on their folders are no accident. */
const ENOUGH = 3;
/** Tables that have records both in add-ons and outside of them. */
const SHARED = 2;

/** What stands in no add-on, or in more than one. */
export const ANYWHERE = -1;

export interface AddOns {
	/** The kind whose records say what an add-on is; an add-on is known by its row there. */
	table: Table;
	/** Its folder, by row; undefined where the record stands elsewhere. */
	folders: readonly (string | undefined)[];
	/** The strands by which a record names an add-on. */
	naming: readonly Strand[];
	/** The row of the only add-on that a record stands in, by its row. */
	homesOf(table: Table): Int32Array;
	/** The add-ons that are there with one, itself included. */
	neededBy(addOn: number): ReadonlySet<number>;
}

/** The folder of each row's only file, where all are of one name in folders beside each other. */
function foldersOf({ rows, files, count }: Table): (string | undefined)[] | null {
	// Each is in a folder of its own.
	if (count < ENOUGH || files.length < count * 0.8) return null;
	const paths = Array.from({ length: count }, (_, row) =>
		files[rows.file[rows.firsts[row]!]!]!.file.path.split('/')
	);
	const shapes = new Map<string, number>();
	const shapeOf = (path: readonly string[]) => [...path.slice(0, -2), '', path.at(-1)!].join('/');
	for (const path of paths)
		if (path.length > 1) shapes.set(shapeOf(path), (shapes.get(shapeOf(path)) ?? 0) + 1);
	const [shape, most] = [...shapes].reduce((best, one) => (one[1] > best[1] ? one : best), ['', 0]);
	if (most < ENOUGH || most < count * 0.8) return null;
	const folders = paths.map((path) =>
		path.length > 1 && shapeOf(path) === shape ? path.slice(0, -1).join('/') : undefined
	);
	return new Set(folders.filter((folder) => folder !== undefined)).size === most ? folders : null;
}

/** The add-on that each row stands in alone, by the folders of its files. */
function readHomes({ files, rows, count }: Table, byFolder: ReadonlyMap<string, number>): Int32Array {
	const depth = [...byFolder.keys()][0]!.split('/').length;
	const homes = files.map(
		({ file }) => byFolder.get(file.path.split('/').slice(0, depth).join('/')) ?? ANYWHERE
	);
	return Int32Array.from({ length: count }, (_, row) => {
		const home = homes[rows.file[rows.firsts[row]!]!]!;
		for (let at = rows.firsts[row]! + 1; at < rows.firsts[row + 1]!; at++)
			if (homes[rows.file[at]!] !== home) return ANYWHERE;
		return home;
	});
}

/** Of each add-on those that are there with it, by the fields in which one names another. */
function readNeeds(own: readonly Strand[], start: number, count: number): ReadonlySet<number>[] {
	const needs = Array.from({ length: count }, (_, row) => new Set([row]));
	for (const strand of own)
		for (const [entry, place] of strand.to.entries())
			if (place >= start && place < start + count) needs[rowAt(strand, entry)]!.add(place - start);
	return needs.map((_, row) => {
		const all = new Set([row]);
		for (const one of all) for (const next of needs[one]!) all.add(next);
		return all;
	});
}

/** The add-ons whose records are of a kind, by the strands in which one of them names another. */
function read(stack: Stack, links: Links, table: Table, own: readonly Strand[]): AddOns | null {
	const folders = foldersOf(table);
	if (!folders) return null;
	const byFolder = new Map(folders.flatMap((folder, row) => (folder === undefined ? [] : [[folder, row]])));
	const homesOf = (other: Table) =>
		derived(other, `add-ons ${[...byFolder].join('\n')}`, () => readHomes(other, byFolder));
	const both = [...stack.tables.values()].filter((other) => {
		if (other === table) return false;
		const homes = homesOf(other);
		return homes.includes(ANYWHERE) && homes.some((home) => home !== ANYWHERE);
	});
	if (both.length < SHARED) return null;
	let needs: ReadonlySet<number>[] | null = null;
	return {
		table,
		folders,
		naming: links.strands.filter((strand) => isSure(strand) && strand.kinds.includes(table.kind)),
		homesOf,
		neededBy: (addOn) => (needs ??= readNeeds(own, links.starts.get(table.kind)!, table.count))[addOn]!
	};
}

const isSure = ({ text, sure }: Strand) => !text && sure >= SURE_ENOUGH;

/** Whether a record names another one of its kind in a field: folders of which none needs another only keep order. */
function namesAnother({ starts }: Links, strand: Strand): boolean {
	const { table, to } = strand;
	if (!isSure(strand) || !strand.kinds.includes(table.kind)) return false;
	const start = starts.get(table.kind)!;
	return to.some(
		(place, entry) => place >= start && place < start + table.count && place - start !== rowAt(strand, entry)
	);
}

/** The add-ons that a game keeps among its files; null where it has none. */
export function addOnsIn(stack: Stack, links: Links): AddOns | null {
	const own = groupedBy(
		links.strands.filter((strand) => namesAnother(links, strand)),
		({ table }) => table
	);
	for (const [table, strands] of own) {
		const found = read(stack, links, table, strands);
		if (found) return found;
	}
	return null;
}
