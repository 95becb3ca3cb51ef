import type { Identity, LayerOwner } from '$core/stack';
import type { Launcher } from '../../files';
import type { Queries } from './pool';

/** One thing to try first; `href` is relative to the project. */
export interface Try {
	title: string;
	about: string;
	button: string;
	href: string;
}

export interface ProjectRow {
	slug: string;
	title: string;
	guide: string | null;
	/** One's own statements over the guide. */
	ownGuide: string | null;
	mod: string;
	/** What people said of the mod; null for nothing. */
	identity: Partial<Identity> | null;
	version: number;
	launcher: Launcher | null;
	tries: Try[] | null;
}

export interface LayerRow {
	id: string;
	owner: LayerOwner;
	/** Whether it counts. */
	on: boolean;
	/** The option of its mod that it is; null where it is always there. */
	option: string | null;
	title: string;
	source: string;
	/** What people call this version of it; empty for nothing. */
	version: string;
	/** The layer of the stack of which this is another version; null where it is in the stack itself. */
	besideOf: string | null;
	importedAt: string;
	/** Raised whenever its files or what was chosen about them change. */
	revision: number;
	files: { path: string; sha256: string; size: number; kept: boolean }[];
	/** Encodings that people chose, by path. */
	encodings: Record<string, string>;
}

const project = (row: Record<string, unknown>): ProjectRow => ({
	...(row as unknown as ProjectRow),
	version: Number(row.version)
});

export async function listProjects(q: Queries): Promise<ProjectRow[]> {
	const { rows } = await q.query(
		'select slug, title, guide, own_guide as "ownGuide", mod, identity, version, launcher, tries from projects order by created_at'
	);
	return rows.map(project);
}

/** A project as it is in the list of all. */
export interface ProjectEntry {
	slug: string;
	title: string;
	/** Steps of its ledger that are applied, and when the last came; null before the first. */
	steps: number;
	changedAt: string | null;
}

/** All projects, the one that was changed last first. */
export async function projectEntries(q: Queries): Promise<ProjectEntry[]> {
	const { rows } = await q.query<Omit<ProjectEntry, 'changedAt'> & { changedAt: Date | null }>(
		`select p.slug, p.title, count(l.id)::int as steps, max(l.applied_at) as "changedAt"
		 from projects p left join ledger l on l.project = p.slug and l.state = 'applied'
		 group by p.slug order by max(l.applied_at) desc nulls last, p.created_at`
	);
	return rows.map((row) => ({ ...row, changedAt: row.changedAt?.toISOString() ?? null }));
}

/** The digests of all bytes that the layers of a project hold and that its ledger needs. */
export async function digestsOf(q: Queries, slug: string): Promise<string[]> {
	const { rows } = await q.query<{ sha256: string }>(
		`select f.sha256 from layer_files f join layers l on l.id = f.layer where l.project = $1
		 union select unnest(digests) from ledger where project = $1`,
		[slug]
	);
	return rows.map(({ sha256 }) => sha256);
}

/** Removes a project with all that depends on it, and tells every process that holds it in memory. */
export async function deleteProject(q: Queries, slug: string): Promise<void> {
	await q.query('delete from projects where slug = $1', [slug]);
	await q.query("select pg_notify('kettle', $1)", [slug]);
}

/** One project, or null; `lock` holds it until the transaction ends, so that plans come one after another. */
export async function readProject(q: Queries, slug: string, lock = false): Promise<ProjectRow | null> {
	const { rows } = await q.query(
		`select slug, title, guide, own_guide as "ownGuide", mod, identity, version, launcher, tries from projects where slug = $1 ${lock ? 'for no key update' : ''}`,
		[slug]
	);
	return rows[0] ? project(rows[0]) : null;
}

/** How the game of a project is started on this machine. */
export async function putLauncher(q: Queries, slug: string, launcher: Launcher): Promise<void> {
	await q.query('update projects set launcher = $2 where slug = $1', [slug, JSON.stringify(launcher)]);
}

export async function insertProject(
	q: Queries,
	row: Omit<ProjectRow, 'version' | 'ownGuide'>
): Promise<void> {
	await q.query(
		'insert into projects (slug, title, guide, mod, launcher, tries, identity) values ($1, $2, $3, $4, $5, $6, $7)',
		[
			row.slug,
			row.title,
			row.guide,
			row.mod,
			row.launcher ? JSON.stringify(row.launcher) : null,
			row.tries ? JSON.stringify(row.tries) : null,
			row.identity ? JSON.stringify(row.identity) : null
		]
	);
}

/** Writes down who the mod is. */
export async function putIdentity(q: Queries, slug: string, identity: Identity): Promise<void> {
	await q.query('update projects set mod = $2, identity = $3 where slug = $1', [
		slug,
		identity.name,
		JSON.stringify(identity)
	]);
}

/** Raises the version and tells every process that holds the project in memory. */
export async function bumpProject(q: Queries, slug: string): Promise<number> {
	const { rows } = await q.query(
		'update projects set version = version + 1 where slug = $1 returning version',
		[slug]
	);
	await q.query("select pg_notify('kettle', $1)", [slug]);
	return Number(rows[0].version);
}

/**
 * The layers of the stack in load order, or with `beside` the other versions of them.
 * @param withFiles false where nobody needs their files
 * @param known layers that were read before: the files of those that did not change are the same objects
 */
export async function readLayers(
	q: Queries,
	slug: string,
	{
		beside = false,
		withFiles = true,
		known = []
	}: { beside?: boolean; withFiles?: boolean; known?: readonly LayerRow[] } = {}
): Promise<LayerRow[]> {
	const { rows: read } = await q.query<
		Omit<LayerRow, 'files' | 'encodings' | 'importedAt' | 'revision'> & { importedAt: Date; revision: string }
	>(
		`select id, owner, is_on as "on", option, title, source, version, beside_of as "besideOf", imported_at as "importedAt", revision from layers where project = $1 and ${beside ? 'beside_of is not null' : 'beside_of is null'} order by position, id`,
		[slug]
	);
	const rows = read.map((row) => ({
		...row,
		importedAt: row.importedAt.toISOString(),
		revision: Number(row.revision)
	}));
	if (!withFiles) return rows.map((row) => ({ ...row, encodings: {}, files: [] }));
	const before = new Map(known.map((row) => [row.id, row]));
	const isKnown = ({ id, revision }: { id: string; revision: number }) =>
		before.get(id)?.revision === revision;
	const ids = rows.filter((row) => !isKnown(row)).map((row) => row.id);
	if (ids.length === 0) return rows.map((row) => ({ ...before.get(row.id)!, ...row }));
	const files = await q.query<{ layer: string; path: string; sha256: string; size: string; kept: boolean }>(
		'select layer, path, sha256, size, kept from layer_files where layer = any($1) order by path',
		[ids]
	);
	const chosen = await q.query<{ layer: string; path: string; encoding: string }>(
		'select layer, path, encoding from chosen_encodings where layer = any($1)',
		[ids]
	);
	return rows.map((row) =>
		isKnown(row)
			? { ...before.get(row.id)!, ...row }
			: {
					...row,
					encodings: Object.fromEntries(
						chosen.rows
							.filter((choice) => choice.layer === row.id)
							.map(({ path, encoding }) => [path, encoding])
					),
					files: files.rows
						.filter((file) => file.layer === row.id)
						.map(({ path, sha256, size, kept }) => ({ path, sha256, size: Number(size), kept }))
				}
	);
}

export async function insertLayer(
	q: Queries,
	slug: string,
	layer: Pick<LayerRow, 'owner' | 'title' | 'source' | 'files' | 'besideOf'> & { position: number }
): Promise<string> {
	const { rows } = await q.query<{ id: string }>(
		'insert into layers (project, owner, title, position, source, beside_of) values ($1, $2, $3, $4, $5, $6) returning id',
		[slug, layer.owner, layer.title, layer.position, layer.source, layer.besideOf]
	);
	const { files } = layer;
	await q.query(
		'insert into layer_files (layer, path, sha256, size, kept) select $1, * from unnest($2::text[], $3::text[], $4::bigint[], $5::boolean[])',
		[
			rows[0]!.id,
			files.map((f) => f.path),
			files.map((f) => f.sha256),
			files.map((f) => f.size),
			files.map((f) => f.kept)
		]
	);
	return rows[0]!.id;
}

/** The place in the load order behind all layers but my mod. */
export async function nextPosition(q: Queries, slug: string): Promise<number> {
	const { rows } = await q.query<{ next: number }>(
		"select coalesce(max(position), 0) + 1 as next from layers where project = $1 and owner <> 'me'",
		[slug]
	);
	return rows[0]!.next;
}

/**
 * Puts a version that is kept beside a layer of the stack in its place; that one, and all other versions, are beside it
 * from then on. False where the project has none of that id beside a layer.
 */
export async function standFor(q: Queries, slug: string, id: string): Promise<boolean> {
	const { rows } = await q.query<{ old: string }>(
		'select beside_of as old from layers where project = $1 and id = $2 and beside_of is not null',
		[slug, id]
	);
	if (!rows[0]) return false;
	const { old } = rows[0];
	await q.query('update layers set beside_of = $1 where id = $2 or beside_of = $2', [id, old]);
	await q.query(
		'update layers set beside_of = null, position = (select position from layers where id = $2) where id = $1',
		[id, old]
	);
	return true;
}

/** Swaps a layer of the stack with its neighbour in the load order; the base stays first and my mod last. */
export async function moveLayer(q: Queries, slug: string, id: string, by: 1 | -1): Promise<void> {
	const { rows } = await q.query<{ id: string; position: number }>(
		"select id, position from layers where project = $1 and beside_of is null and owner = 'others' order by position",
		[slug]
	);
	const at = rows.findIndex((row) => row.id === id);
	const [own, other] = [rows[at], rows[at + by]];
	if (!own || !other) return;
	await q.query('update layers set position = -1 where id = $1', [own.id]);
	await q.query('update layers set position = $2 where id = $1', [other.id, own.position]);
	await q.query('update layers set position = $2 where id = $1', [own.id, other.position]);
}

/** Puts the layers of others into an order; those that are not named stay behind them. */
export async function orderLayers(q: Queries, slug: string, ids: readonly string[]): Promise<void> {
	const { rows } = await q.query<{ id: string; position: number }>(
		"select id, position from layers where project = $1 and beside_of is null and owner = 'others' order by position",
		[slug]
	);
	const rank = (id: string) => (ids.includes(id) ? ids.indexOf(id) : ids.length);
	const order = rows.toSorted((a, b) => rank(a.id) - rank(b.id));
	const places = rows.map(({ position }) => position);
	for (const [nth, { id }] of order.entries())
		await q.query('update layers set position = $2 where id = $1', [id, -1 - nth]);
	for (const [nth, { id }] of order.entries())
		await q.query('update layers set position = $2 where id = $1', [id, places[nth]]);
}

/** Switches a layer on or off. */
export async function switchLayer(q: Queries, id: string, on: boolean): Promise<void> {
	await q.query('update layers set is_on = $2 where id = $1', [id, on]);
}

/** Takes a layer out, with the versions beside it. Returns the digests of its files. */
export async function removeLayer(q: Queries, id: string): Promise<string[]> {
	const { rows } = await q.query<{ sha256: string }>(
		'select distinct sha256 from layer_files join layers l on l.id = layer where l.id = $1 or l.beside_of = $1',
		[id]
	);
	await q.query('delete from layers where id = $1 or beside_of = $1', [id]);
	return rows.map(({ sha256 }) => sha256);
}

/** Names a version of a layer. */
export async function nameVersion(q: Queries, id: string, version: string): Promise<void> {
	await q.query('update layers set version = $2 where id = $1', [id, version]);
}

/** How often the files of a layer, or what was chosen about them, were changed. */
export async function revisionOf(q: Queries, layer: string): Promise<number> {
	const { rows } = await q.query<{ revision: string }>('select revision from layers where id = $1', [layer]);
	return Number(rows[0]!.revision);
}

/** Points a path of a layer at other bytes; null takes the path away. */
export async function putFile(q: Queries, layer: string, path: string, sha256: string | null): Promise<void> {
	if (sha256 === null) {
		await q.query('delete from layer_files where layer = $1 and path = $2', [layer, path]);
		return;
	}
	const { rowCount } = await q.query(
		`insert into layer_files (layer, path, sha256, size, kept) select $1, $2, sha256, size, true from blobs where sha256 = $3
		 on conflict (layer, path) do update set sha256 = excluded.sha256, size = excluded.size, kept = true`,
		[layer, path, sha256]
	);
	if (rowCount !== 1) throw new Error(`the bytes of ${path} are not kept under ${sha256}`);
}

/** Chooses the encoding in which a file is read; null leaves it to be detected from the bytes. */
export async function chooseEncoding(
	q: Queries,
	layer: string,
	path: string,
	encoding: string | null
): Promise<void> {
	if (encoding === null) {
		await q.query('delete from chosen_encodings where layer = $1 and path = $2', [layer, path]);
		return;
	}
	await q.query(
		`insert into chosen_encodings (layer, path, encoding) values ($1, $2, $3)
		 on conflict (layer, path) do update set encoding = excluded.encoding`,
		[layer, path, encoding]
	);
}
