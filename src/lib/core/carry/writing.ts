// What the writing of my mod's files leans on, and which of them are written together.
import type { FileContent } from '../change';
import { claimsOf, type Claim } from '../guide';
import {
	isEditable,
	ownFiles,
	recordKey,
	withFiles,
	withKinds,
	type Layer,
	type LayerFile,
	type Stack
} from '../stack';
import type { Want } from './deciding';
import type { Moves } from './moves';

/** What the writing of files leans on. */
export interface Writing {
	before: Stack;
	/** The layers of the new version with my mod empty. */
	after: Stack;
	moves: Moves;
	wants: readonly Want[];
}

/** A file of my mod that holds data, and what is to come of its records. */
export interface MyFile {
	path: string;
	file: LayerFile;
	claims: readonly Claim[];
	wants: Want[];
	/** How the kinds in it are merged: the whole file, or less. */
	whole: boolean;
}

/** The stack of the new version with some files as my mod. @param kinds those that are looked into */
export function stackWith(
	after: Stack,
	files: ReadonlyMap<string, FileContent>,
	kinds: Iterable<string> = after.tables.keys()
): Stack {
	const { guide, pool } = after;
	const at = after.layers.findIndex(isEditable);
	const empty: Layer = { ...after.layers[at]!, files: new Map() };
	const mine = withFiles(empty, files, guide, pool, after.layers.slice(0, at));
	return withKinds(after, after.layers.with(at, mine), kinds);
}

/** Files that have to be written together: where the game reads whole files, and a record went from one to another. */
export function filesTogether({ after, moves }: Writing, files: readonly MyFile[]): MyFile[][] {
	const groups = new Map<string, MyFile[]>();
	for (const mine of files) {
		const paths = new Set([mine.path, moves.file(mine.path)]);
		if (mine.whole)
			for (const { kind, id, what } of mine.wants) {
				const record = what === 'copy' ? undefined : after.tables.get(kind)?.byId.get(id);
				if (record) paths.add(record.presences.at(-1)!.path);
			}
		const joined = [...new Set([...paths].flatMap((path) => groups.get(path) ?? []))];
		const group = [...joined, mine];
		for (const path of paths) groups.set(path, group);
		for (const [path, other] of groups)
			if (other.some((one) => joined.includes(one))) groups.set(path, group);
	}
	return [...new Set(groups.values())];
}

/** The files of my mod that hold data of known kinds, with what is wanted of their records. */
export function myDataFiles({ before, after, wants }: Writing): MyFile[] {
	const byRecord = new Map<string, Want>();
	for (const want of wants) byRecord.set(recordKey(want.from.kind, want.from.id), want);
	const found: MyFile[] = [];
	for (const [path, file] of ownFiles(before.mine?.files ?? new Map())) {
		const claims = claimsOf(before.guide, path).filter(({ kind }) => after.tables.has(kind));
		if (claims.length === 0 || !file.facts?.format) continue;
		const own: Want[] = [];
		for (const { kind } of claims) {
			const table = before.tables.get(kind)!;
			const at = table.files.findIndex((one) => one.file === file);
			const rows = at < 0 ? [] : [...table.rows.rowsOf[at]!].filter((row) => row >= 0);
			const ids = new Set(rows.map((row) => table.pool.at(table.rows.ids[row]!)));
			const hidden = table.hidden.filter((one) => one.file.path === path);
			for (const { facts } of hidden) for (const id of facts.ids) ids.add(table.pool.at(id));
			const removals = table.removals.filter(({ from }) => from.file === file);
			for (const { from, nth } of removals) ids.add(table.pool.at(from.facts.ids[nth]!));
			for (const id of ids) {
				const want = byRecord.get(recordKey(kind, id));
				if (want) own.push(want);
			}
		}
		const whole = claims.some(({ kind }) => before.guide.kinds[kind]!.merge === 'file');
		found.push({ path, file, claims, wants: own, whole });
	}
	return found;
}
