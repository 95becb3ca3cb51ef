// The optional parts of a project's mod.
import { optionSchema, optionsSchema, type ModOption } from '$core/options';
import type { Queries } from './pool';

/** The options of a project; empty where there is none. `lock` holds them until the transaction ends. */
export async function readOptions(q: Queries, slug: string, lock = false): Promise<ModOption[]> {
	const { rows } = await q.query<{ options: unknown }>(
		`select options from projects where slug = $1 ${lock ? 'for no key update' : ''}`,
		[slug]
	);
	return rows[0] ? optionsSchema.parse(rows[0].options) : [];
}

/** Writes the options of a project down. */
export async function putOptions(q: Queries, slug: string, options: readonly ModOption[]): Promise<void> {
	await q.query('update projects set options = $2 where slug = $1', [slug, JSON.stringify(options)]);
}

/** Puts an option in the place of what it was. False where it is another by now, or gone; nothing is written then. */
export async function changeOption(
	q: Queries,
	slug: string,
	was: unknown,
	becomes: unknown
): Promise<boolean> {
	const [before, after] = [optionSchema.parse(was), optionSchema.parse(becomes)];
	const options = await readOptions(q, slug, true);
	const at = options.findIndex(({ id }) => id === before.id);
	if (JSON.stringify(options[at]) !== JSON.stringify(before)) return false;
	await putOptions(q, slug, optionsSchema.parse(options.with(at, after)));
	return true;
}
