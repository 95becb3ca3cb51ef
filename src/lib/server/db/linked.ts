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

/** Links my mod with a folder, or with none; what was agreed on with another folder is forgotten. */
export async function putLinked(q: Queries, slug: string, linked: Linked | null): Promise<void> {
	await q.query(
		`with gone as (delete from linked_files where project = $1 and exists (select 1 from projects where slug = $1 and linked->>'folder' is distinct from $2::jsonb->>'folder'))
		 update projects set linked = $2::jsonb where slug = $1`,
		[slug, linked ? JSON.stringify(linked) : null]
	);
}

/** The digest of each file that my mod and the folder last agreed on, by path. */
export async function readAgreed(q: Queries, slug: string): Promise<Map<string, string>> {
	const { rows } = await q.query<{ path: string; sha256: string }>(
		'select path, sha256 from linked_files where project = $1',
		[slug]
	);
	return new Map(rows.map(({ path, sha256 }) => [path, sha256]));
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
			 on conflict (project, path) do update set sha256 = excluded.sha256`,
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
