import type { LayerOwner } from '$core/stack';
import type { ImportState } from '$core/views';
import type { Queries } from './pool';

/** One layer of an import. */
export interface WishedLayer {
	owner: LayerOwner;
	title: string;
	/** Path of a folder or an archive; empty for a mod of mine that does not exist yet. */
	source: string;
	/** The layer of which it is another version. */
	standsFor?: string;
	/** Of mine: what the mod is called. */
	called?: string;
}

export interface ImportRow extends ImportState {
	title: string;
	guide: string | null;
	layers: WishedLayer[];
	/** The project it goes into; null for a new one. */
	target: string | null;
}

const row = (raw: Record<string, unknown>): ImportRow => ({
	...(raw as unknown as ImportRow),
	bytes_done: Number(raw.bytes_done),
	bytes_total: Number(raw.bytes_total)
});

export async function insertImport(
	q: Queries,
	wish: Pick<ImportRow, 'id' | 'what' | 'title' | 'guide' | 'layers' | 'target'>
): Promise<void> {
	await q.query(
		"insert into imports (id, what, title, guide, layers, target, state) values ($1, $2, $3, $4, $5, $6, 'waiting')",
		[wish.id, wish.what, wish.title, wish.guide, JSON.stringify(wish.layers), wish.target]
	);
}

export async function readImport(q: Queries, id: string): Promise<ImportRow | null> {
	const { rows } = await q.query('select * from imports where id = $1', [id]);
	return rows[0] ? row(rows[0]) : null;
}

/** Seconds of silence after which somebody else carries an import out. */
const SILENT = 4;

/** Imports that a worker may take: those that wait, and those whose worker fell silent for `$1` seconds. */
const FREE = "(state = 'waiting' or (state = 'working' and touched_at < now() - make_interval(secs => $1)))";

/** Whether there is an import that a worker may take. */
export async function importWaits(q: Queries): Promise<boolean> {
	const { rows } = await q.query<{ is: boolean }>(`select exists (select from imports where ${FREE}) as is`, [
		SILENT
	]);
	return rows[0]!.is;
}

/**
 * Takes the next import from the queue: one that waits, or one whose worker fell silent. Several workers that ask at
 * once get different ones. @returns its id; null where there is none
 */
export async function claimImport(q: Queries, worker: string): Promise<string | null> {
	const { rows } = await q.query<{ id: string }>(
		`update imports set state = 'working', worker = $2, touched_at = now() where id = (
			select id from imports where ${FREE} order by touched_at limit 1 for update skip locked
		) returning id`,
		[SILENT, worker]
	);
	return rows[0]?.id ?? null;
}

/** Lets go of what a worker that has ended was carrying out: another may take it at once. */
export async function releaseImports(q: Queries, worker: string): Promise<void> {
	await q.query(
		"update imports set worker = null, touched_at = 'epoch' where worker = $1 and state = 'working'",
		[worker]
	);
}

/**
 * Writes progress down; false when it is no longer the import of the caller: it was cancelled, or another worker
 * carries it out.
 * @param worker who carries it out; null for anybody, as for who cancels it
 */
export async function touchImport(
	q: Queries,
	id: string,
	now: Partial<Omit<ImportRow, 'id' | 'layers'>>,
	worker: string | null = null
): Promise<boolean> {
	const names = Object.keys(now);
	const { rowCount } = await q.query(
		`update imports set touched_at = now()${names.map((name, at) => `, ${name} = $${at + 3}`).join('')} where id = $1 and state in ('waiting', 'working') and ($2::text is null or worker = $2)`,
		[id, worker, ...Object.values(now)]
	);
	return rowCount === 1;
}

/** A file of an import that was read. */
export interface ReadFile {
	path: string;
	sha256: string;
	size: number;
	kept: boolean;
}

/** The files of a layer of an import that are done, by path. */
export async function doneFiles(q: Queries, id: string, layer: number): Promise<Map<string, ReadFile>> {
	const { rows } = await q.query<ReadFile & { size: string }>(
		'select path, sha256, size, kept from import_files where import = $1 and layer = $2',
		[id, layer]
	);
	return new Map(rows.map((file) => [file.path, { ...file, size: Number(file.size) }]));
}

export async function markDone(q: Queries, id: string, layer: number, files: ReadFile[]): Promise<void> {
	await q.query(
		'insert into import_files (import, layer, path, sha256, size, kept) select $1, $2, * from unnest($3::text[], $4::text[], $5::bigint[], $6::boolean[]) on conflict do nothing',
		[
			id,
			layer,
			files.map((file) => file.path),
			files.map((file) => file.sha256),
			files.map((file) => file.size),
			files.map((file) => file.kept)
		]
	);
}

/** Forgets which files were done, once the import has ended. */
export async function clearDone(q: Queries, id: string): Promise<void> {
	await q.query('delete from import_files where import = $1', [id]);
}
