import type { ImportState } from '$core/views';
import type { Queries } from './pool';

export interface ImportRow extends ImportState {
	title: string;
	source: string;
	guide: string | null;
	mine: string | null;
}

const row = (raw: Record<string, unknown>): ImportRow => ({
	...(raw as unknown as ImportRow),
	bytes_done: Number(raw.bytes_done),
	bytes_total: Number(raw.bytes_total)
});

export async function insertImport(
	q: Queries,
	wish: Pick<ImportRow, 'id' | 'title' | 'source' | 'guide' | 'mine'>
): Promise<void> {
	await q.query(
		"insert into imports (id, title, source, guide, mine, state) values ($1, $2, $3, $4, $5, 'waiting')",
		[wish.id, wish.title, wish.source, wish.guide, wish.mine]
	);
}

export async function readImport(q: Queries, id: string): Promise<ImportRow | null> {
	const { rows } = await q.query('select * from imports where id = $1', [id]);
	return rows[0] ? row(rows[0]) : null;
}

/** Writes progress down; false when the import has ended meanwhile: cancelled, or finished by another server. */
export async function touchImport(
	q: Queries,
	id: string,
	now: Partial<Omit<ImportRow, 'id'>>
): Promise<boolean> {
	const names = Object.keys(now);
	const { rowCount } = await q.query(
		`update imports set touched_at = now()${names.map((name, at) => `, ${name} = $${at + 2}`).join('')} where id = $1 and state in ('waiting', 'working')`,
		[id, ...Object.values(now)]
	);
	return rowCount === 1;
}

/** Imports that a server which is gone left unfinished. */
export async function orphanedImports(q: Queries): Promise<string[]> {
	const { rows } = await q.query<{ id: string }>(
		"update imports set state = 'waiting', touched_at = now() where (state = 'working' and touched_at < now() - interval '4 seconds') or (state = 'waiting' and touched_at < now() - interval '30 seconds') returning id"
	);
	return rows.map(({ id }) => id);
}
