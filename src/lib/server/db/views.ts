import type { SavedView } from '$core/views';
import type { Queries } from './pool';

/** The views that people saved of a table, by name. */
export async function readViews(q: Queries, slug: string, kind: string): Promise<SavedView[]> {
	const { rows } = await q.query<SavedView>(
		'select name, query from table_views where project = $1 and kind = $2 order by lower(name)',
		[slug, kind]
	);
	return rows;
}

/** Saves a view under a name, over one of the same name; `query` null forgets it. */
export async function putView(
	q: Queries,
	slug: string,
	{ kind, name, query }: { kind: string; name: string; query: string | null }
): Promise<void> {
	if (query === null)
		await q.query('delete from table_views where project = $1 and kind = $2 and name = $3', [
			slug,
			kind,
			name
		]);
	else
		await q.query(
			`insert into table_views (project, kind, name, query) values ($1, $2, $3, $4)
			 on conflict (project, kind, name) do update set query = excluded.query`,
			[slug, kind, name, query]
		);
}
