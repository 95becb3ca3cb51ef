import type { Queries } from './pool';

/** The written guides of a project: the one that is shared, and one's own statements over it. */
export interface WrittenGuides {
	shared: string | null;
	mine: string | null;
}

/** One change of the guides. */
export interface GuideStep {
	id: string;
	at: string;
	title: string;
}

export async function readGuides(q: Queries, slug: string): Promise<WrittenGuides> {
	const { rows } = await q.query<WrittenGuides>(
		'select guide as shared, own_guide as mine from projects where slug = $1',
		[slug]
	);
	return rows[0] ?? { shared: null, mine: null };
}

/** Writes both guides, and keeps what they were. */
export async function putGuides(q: Queries, slug: string, next: WrittenGuides, title: string): Promise<void> {
	await q.query(
		'insert into guide_steps (project, title, shared, own) select slug, $2, guide, own_guide from projects where slug = $1',
		[slug, title]
	);
	await q.query('update projects set guide = $2, own_guide = $3 where slug = $1', [
		slug,
		next.shared,
		next.mine
	]);
}

/** The last change that was not undone; null where there is none. */
export async function lastGuideStep(q: Queries, slug: string): Promise<GuideStep | null> {
	const { rows } = await q.query<{ id: string; at: Date; title: string }>(
		'select id, at, title from guide_steps where project = $1 and not undone order by id desc limit 1',
		[slug]
	);
	return rows[0] ? { ...rows[0], at: rows[0].at.toISOString() } : null;
}

/** Puts the guides back to what they were before a change. */
export async function takeBackGuideStep(q: Queries, slug: string, id: string): Promise<void> {
	await q.query(
		'update projects p set guide = s.shared, own_guide = s.own from guide_steps s where s.id = $2 and s.project = p.slug and p.slug = $1',
		[slug, id]
	);
	await q.query('update guide_steps set undone = true where id = $1', [id]);
}
