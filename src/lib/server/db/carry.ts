// What people chose while they carry their mod over to another version of the game.
import { choiceSchema, type Choice } from '$core/carry';
import type { Queries } from './pool';

/** The choices for a version, by the keys of what they are for. */
export async function readChoices(q: Queries, slug: string, layer: string): Promise<Map<string, Choice>> {
	const { rows } = await q.query<{ key: string; choice: unknown }>(
		'select key, choice from carry_choices where project = $1 and layer = $2 order by key',
		[slug, layer]
	);
	return new Map(rows.map(({ key, choice }) => [key, choiceSchema.parse(choice)]));
}

/** Keeps choices; null takes one back. */
export async function putChoices(
	q: Queries,
	slug: string,
	layer: string,
	choices: ReadonlyMap<string, Choice | null>
): Promise<void> {
	const [kept, gone] = [[...choices].filter(([, one]) => one), [...choices].filter(([, one]) => !one)];
	await q.query('delete from carry_choices where project = $1 and layer = $2 and key = any($3)', [
		slug,
		layer,
		gone.map(([key]) => key)
	]);
	await q.query(
		`insert into carry_choices (project, layer, key, choice)
		 select $1, $2, * from unnest($3::text[], $4::jsonb[])
		 on conflict (project, layer, key) do update set choice = excluded.choice`,
		[slug, layer, kept.map(([key]) => key), kept.map(([, choice]) => JSON.stringify(choice))]
	);
}
