import { targetKey, targetOf, type Note } from '$core/guide';
import type { Queries } from './pool';

/** All nicknames and notes of a project. */
export async function readNotes(q: Queries, slug: string): Promise<Note[]> {
	const { rows } = await q.query<{ target: string; nickname: string; note: string }>(
		'select target, nickname, note from notes where project = $1 order by target',
		[slug]
	);
	return rows.map(({ target, nickname, note }) => ({ on: targetOf(target), nickname, note }));
}

/** Writes a nickname and a note; empty ones take it away. */
export async function putNote(q: Queries, slug: string, { on, nickname, note }: Note): Promise<void> {
	const target = targetKey(on);
	if (nickname === '' && note === '') {
		await q.query('delete from notes where project = $1 and target = $2', [slug, target]);
		return;
	}
	await q.query(
		`insert into notes (project, target, nickname, note) values ($1, $2, $3, $4)
		 on conflict (project, target) do update set nickname = excluded.nickname, note = excluded.note, changed_at = now()`,
		[slug, target, nickname, note]
	);
}
