import type { Queries } from './pool';

export interface Launcher {
	/** Folder in which the game stands. */
	folder: string;
	program: string;
	arguments: string[];
}

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
	mod: string;
	version: number;
	launcher: Launcher | null;
	tries: Try[] | null;
}

export interface LayerRow {
	id: string;
	role: 'base' | 'mod' | 'mine';
	title: string;
	source: string;
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
		'select slug, title, guide, mod, version, launcher, tries from projects order by created_at'
	);
	return rows.map(project);
}

/** One project, or null; `lock` holds it until the transaction ends, so that plans come one after another. */
export async function readProject(q: Queries, slug: string, lock = false): Promise<ProjectRow | null> {
	const { rows } = await q.query(
		`select slug, title, guide, mod, version, launcher, tries from projects where slug = $1 ${lock ? 'for update' : ''}`,
		[slug]
	);
	return rows[0] ? project(rows[0]) : null;
}

export async function insertProject(q: Queries, row: Omit<ProjectRow, 'version'>): Promise<void> {
	await q.query(
		'insert into projects (slug, title, guide, mod, launcher, tries) values ($1, $2, $3, $4, $5, $6)',
		[
			row.slug,
			row.title,
			row.guide,
			row.mod,
			row.launcher ? JSON.stringify(row.launcher) : null,
			row.tries ? JSON.stringify(row.tries) : null
		]
	);
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

export async function readLayers(q: Queries, slug: string): Promise<LayerRow[]> {
	const { rows } = await q.query<{ id: string; role: LayerRow['role']; title: string; source: string }>(
		'select id, role, title, source from layers where project = $1 order by position',
		[slug]
	);
	const files = await q.query<{ layer: string; path: string; sha256: string; size: string; kept: boolean }>(
		'select f.layer, f.path, f.sha256, f.size, f.kept from layer_files f join layers l on l.id = f.layer where l.project = $1 order by f.path',
		[slug]
	);
	const chosen = await q.query<{ layer: string; path: string; encoding: string }>(
		'select c.layer, c.path, c.encoding from chosen_encodings c join layers l on l.id = c.layer where l.project = $1',
		[slug]
	);
	return rows.map((row) => ({
		...row,
		encodings: Object.fromEntries(
			chosen.rows.filter((choice) => choice.layer === row.id).map(({ path, encoding }) => [path, encoding])
		),
		files: files.rows
			.filter((file) => file.layer === row.id)
			.map(({ path, sha256, size, kept }) => ({ path, sha256, size: Number(size), kept }))
	}));
}

export async function insertLayer(
	q: Queries,
	slug: string,
	layer: Omit<LayerRow, 'id' | 'encodings'> & { position: number }
): Promise<void> {
	const { rows } = await q.query<{ id: string }>(
		'insert into layers (project, role, title, position, source) values ($1, $2, $3, $4, $5) returning id',
		[slug, layer.role, layer.title, layer.position, layer.source]
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
}

/** Points a path of a layer at other bytes; null takes the path away. */
export async function putFile(q: Queries, layer: string, path: string, sha256: string | null): Promise<void> {
	if (sha256 === null) {
		await q.query('delete from layer_files where layer = $1 and path = $2', [layer, path]);
		return;
	}
	await q.query(
		`insert into layer_files (layer, path, sha256, size, kept) select $1, $2, sha256, size, true from blobs where sha256 = $3
		 on conflict (layer, path) do update set sha256 = excluded.sha256, size = excluded.size`,
		[layer, path, sha256]
	);
}

/** Chooses the encoding in which a file is read; null leaves it to be told from the bytes. */
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
