// Arrangements of a project: which layers of others are loaded, and in which order, under a name.
import * as z from 'zod';
import { orderLayers, switchLayer } from './projects';
import type { Queries } from './pool';

const schema = z.array(z.object({ layer: z.string(), on: z.boolean() })).max(500);

/** A named arrangement; its layers in load order. */
export interface Arrangement {
	name: string;
	layers: z.infer<typeof schema>;
}

/** The arrangements of a project by name. */
export async function readArrangements(q: Queries, slug: string): Promise<Arrangement[]> {
	const { rows } = await q.query<{ name: string; layers: unknown }>(
		'select name, layers from arrangements where project = $1 order by lower(name)',
		[slug]
	);
	return rows.map(({ name, layers }) => ({ name, layers: schema.parse(layers) }));
}

/** Keeps what is loaded now under a name, over one of the same name. */
export async function keepArrangement(q: Queries, slug: string, name: string): Promise<void> {
	await q.query(
		`insert into arrangements (project, name, layers)
		 select $1, $2, coalesce(jsonb_agg(jsonb_build_object('layer', id::text, 'on', is_on) order by position), '[]')
		 from layers where project = $1 and owner = 'others' and beside_of is null
		 on conflict (project, name) do update set layers = excluded.layers`,
		[slug, name]
	);
}

/** Writes an arrangement as it was kept elsewhere. */
export async function putArrangement(q: Queries, slug: string, { name, layers }: Arrangement): Promise<void> {
	await q.query('insert into arrangements (project, name, layers) values ($1, $2, $3)', [
		...[slug, name, JSON.stringify(layers)]
	]);
}

export async function dropArrangement(q: Queries, slug: string, name: string): Promise<void> {
	await q.query('delete from arrangements where project = $1 and name = $2', [slug, name]);
}

/** Loads what an arrangement says, in its order; layers that it does not know stay behind it as they are. False where there is none. */
export async function useArrangement(q: Queries, slug: string, name: string): Promise<boolean> {
	const found = (await readArrangements(q, slug)).find((one) => one.name === name);
	if (!found) return false;
	await orderLayers(
		q,
		slug,
		found.layers.map(({ layer }) => layer)
	);
	for (const { layer, on } of found.layers) await switchLayer(q, layer, on);
	return true;
}
