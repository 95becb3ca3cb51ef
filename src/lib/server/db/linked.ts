import type { Queries } from './pool';

/** My mod as a folder on disk. */
export interface Linked {
	folder: string;
	/** Whether every step is written out at once. */
	atOnce: boolean;
}

export async function readLinked(q: Queries, slug: string): Promise<Linked | null> {
	const { rows } = await q.query<{ linked: Linked | null }>('select linked from projects where slug = $1', [
		slug
	]);
	return rows[0]?.linked ?? null;
}

/** Links my mod with a folder, or with none; what was agreed on with another folder was deleted. */
export async function putLinked(q: Queries, slug: string, linked: Linked | null): Promise<void> {
	await q.query(
		`with gone as (delete from linked_files where project = $1 and exists (select 1 from projects where slug = $1 and linked->>'folder' is distinct from $2::jsonb->>'folder'))
		 update projects set linked = $2::jsonb where slug = $1`,
		[slug, linked ? JSON.stringify(linked) : null]
	);
}

/** What my mod and the folder last agreed on for a file. */
export interface Agreed {
	/** Null where neither had it. */
	sha256: string | null;
	/** What was being written there; empty where the file was being taken away; null where nothing was. */
	coming: string | null;
}

/** What my mod and the folder last agreed on, by path. */
export async function readAgreed(q: Queries, slug: string): Promise<Map<string, Agreed>> {
	const { rows } = await q.query<Agreed & { path: string }>(
		'select path, sha256, coming from linked_files where project = $1',
		[slug]
	);
	return new Map(rows.map(({ path, sha256, coming }) => [path, { sha256, coming }]));
}

/** Writes down what is about to be written into the folder; null for a file that is taken away. */
export async function announce(q: Queries, slug: string, path: string, sha256: string | null): Promise<void> {
	await q.query(
		`insert into linked_files (project, path, coming) values ($1, $2, $3)
		 on conflict (project, path) do update set coming = excluded.coming`,
		[slug, path, sha256 ?? '']
	);
}

/** Writes down what both agree on now; null for a file that neither has. */
export async function agreeOn(
	q: Queries,
	slug: string,
	files: ReadonlyMap<string, string | null>
): Promise<void> {
	const gone = [...files].filter(([, sha256]) => sha256 === null).map(([path]) => path);
	const here = [...files].filter(([, sha256]) => sha256 !== null);
	if (gone.length > 0)
		await q.query('delete from linked_files where project = $1 and path = any($2)', [slug, gone]);
	if (here.length > 0)
		await q.query(
			`insert into linked_files (project, path, sha256) select $1, * from unnest($2::text[], $3::text[])
			 on conflict (project, path) do update set sha256 = excluded.sha256, coming = null`,
			[slug, here.map(([path]) => path), here.map(([, sha256]) => sha256)]
		);
}

/** Projects whose mod is linked with a folder. */
export async function linkedProjects(q: Queries): Promise<{ slug: string; linked: Linked }[]> {
	const { rows } = await q.query<{ slug: string; linked: Linked }>(
		'select slug, linked from projects where linked is not null'
	);
	return rows;
}
