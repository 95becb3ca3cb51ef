import type { Queries } from './pool';

/** A value of my mod that is a copy of what another version said. */
export interface Copied {
	kind: string;
	record: string;
	field: string;
	value: string;
}

export async function readCopied(q: Queries, slug: string): Promise<Copied[]> {
	const { rows } = await q.query<Copied>(
		'select kind, record, field, value from copied_values where project = $1',
		[slug]
	);
	return rows;
}

/** Notes copies; what was noted before stays. */
export async function noteCopied(q: Queries, slug: string, copied: readonly Copied[]): Promise<void> {
	await q.query(
		`insert into copied_values (project, kind, record, field, value)
		 select $1, * from unnest($2::text[], $3::text[], $4::text[], $5::text[])
		 on conflict (project, kind, record, field) do update set value = excluded.value`,
		[slug, ...(['kind', 'record', 'field', 'value'] as const).map((name) => copied.map((one) => one[name]))]
	);
}
