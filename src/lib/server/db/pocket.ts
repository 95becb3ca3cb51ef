import type { PocketItem } from '$core/views';
import type { Queries } from './pool';

/** What is in the pocket, the newest first. */
export async function readPocket(q: Queries, slug: string): Promise<PocketItem[]> {
	const { rows } = await q.query<PocketItem & { id: string }>(
		'select id, label, value, about from pocket where project = $1 order by id desc limit 200',
		[slug]
	);
	return rows.map((item) => ({ ...item, id: Number(item.id) }));
}

export async function keepInPocket(q: Queries, slug: string, item: Omit<PocketItem, 'id'>): Promise<void> {
	await q.query('insert into pocket (project, label, value, about) values ($1, $2, $3, $4)', [
		slug,
		item.label,
		item.value,
		JSON.stringify(item.about)
	]);
}

export async function labelInPocket(q: Queries, slug: string, id: number, label: string): Promise<void> {
	await q.query('update pocket set label = $3 where project = $1 and id = $2', [slug, id, label]);
}

export async function takeFromPocket(q: Queries, slug: string, id: number): Promise<void> {
	await q.query('delete from pocket where project = $1 and id = $2', [slug, id]);
}
