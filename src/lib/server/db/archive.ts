// All that a project is, as plain rows: read for its file, and written from one.
import * as z from 'zod';
import { PlanFault, readPlan } from '$core/change';
import { optionsSchema } from '$core/options';
import { identitySchema } from '$core/stack';
import { putArrangement, readArrangements } from './arrangements';
import type { Queries } from './pool';

const digest = z.string().regex(/^[0-9a-f]{64}$/);
const path = z.string().min(1).max(1000);
const time = z.iso.datetime({ offset: true });

/** Of what is written; 1 said whose a layer is in other words, and knew only plans of texts. */
const VERSION = 2;

/** Whose a layer was in files of version 1. */
const ROLES: Record<string, string> = { base: 'game', mod: 'others', mine: 'me' };

/** A layer as written today. */
function upgraded(layer: unknown): unknown {
	if (typeof layer !== 'object' || layer === null || !('role' in layer)) return layer;
	const { role, ...rest } = layer;
	return { ...rest, owner: ROLES[String(role)] };
}

function isPlan(text: string): boolean {
	try {
		readPlan(JSON.parse(text));
		return true;
	} catch (fault) {
		if (fault instanceof PlanFault || fault instanceof SyntaxError) return false;
		throw fault;
	}
}

/** What is in the file of a project beside the bytes. */
export const projectFile = z.object({
	format: z.literal('kettle-dial-project'),
	/** Goes up where older programs could not read it. */
	version: z.literal([1, VERSION]),
	at: time,
	project: z.object({
		title: z.string().max(200),
		guide: z.string().nullable(),
		ownGuide: z.string().nullable(),
		mod: z.string().max(200),
		identity: identitySchema.partial().nullable().default(null),
		options: optionsSchema.default([]),
		/** Of the server that wrote it; tells two files of one project apart. */
		version: z.number()
	}),
	/** Whether the bytes of other layers than my mod are in it. */
	whole: z.boolean(),
	layers: z
		.array(
			z.preprocess(
				upgraded,
				z.object({
					owner: z.enum(['game', 'others', 'me']),
					on: z.boolean().default(true),
					option: z.string().nullable().default(null),
					title: z.string(),
					position: z.number(),
					source: z.string(),
					version: z.string(),
					importedAt: time,
					/** Number of the layer in this list that it is another version of. */
					besideOf: z.int().nullable(),
					encodings: z.record(path, z.string()),
					files: z.array(z.object({ path, sha256: digest, size: z.number(), kept: z.boolean() }))
				})
			)
		)
		.max(500),
	ledger: z.array(
		z.object({
			id: z.int(),
			title: z.string(),
			intention: z.string(),
			plan: z.string().refine(isPlan, 'is not a plan that this version knows'),
			digests: z.array(digest),
			encodings: z.record(z.string(), z.string().nullable()),
			state: z.enum(['applied', 'undone', 'dropped']),
			at: time,
			mark: z.string().nullable()
		})
	),
	guideSteps: z.array(
		z.object({
			at: time,
			title: z.string(),
			shared: z.string().nullable(),
			own: z.string().nullable(),
			undone: z.boolean()
		})
	),
	notes: z.array(z.object({ target: z.string(), nickname: z.string(), note: z.string() })),
	pocket: z.array(z.object({ label: z.string(), value: z.string(), about: z.unknown(), at: time })),
	views: z.array(z.object({ kind: z.string(), name: z.string(), query: z.string() })),
	/** Layers by their number in the list of layers. */
	arrangements: z
		.array(z.object({ name: z.string(), layers: z.array(z.object({ layer: z.number(), on: z.boolean() })) }))
		.default([])
});

export type ProjectFile = z.infer<typeof projectFile>;

const iso = (value: unknown) => (value as Date).toISOString();

/** All rows of a project; null where there is none. To be asked in a transaction that sees one state. */
export async function readProjectRows(q: Queries, slug: string, whole: boolean): Promise<ProjectFile | null> {
	const { rows: found } = await q.query(
		'select title, guide, own_guide as "ownGuide", mod, identity, options, version from projects where slug = $1',
		[slug]
	);
	if (!found[0]) return null;
	const all = async (text: string) => (await q.query(text, [slug])).rows;
	const layers = await all(
		'select id, owner, is_on, option, title, position, source, version, imported_at, beside_of from layers where project = $1 order by id'
	);
	const files = await all(
		'select f.layer, f.path, f.sha256, f.size, f.kept from layer_files f join layers l on l.id = f.layer where l.project = $1 order by f.path'
	);
	const encodings = await all(
		'select e.layer, e.path, e.encoding from chosen_encodings e join layers l on l.id = e.layer where l.project = $1'
	);
	const at = new Map(layers.map(({ id }, nth) => [id, nth]));
	return {
		format: 'kettle-dial-project',
		version: VERSION,
		at: new Date().toISOString(),
		project: { ...(found[0] as ProjectFile['project']), version: Number(found[0].version) },
		whole,
		layers: layers.map((layer) => ({
			owner: layer.owner,
			on: layer.is_on,
			option: layer.option,
			title: layer.title,
			position: layer.position,
			source: layer.source,
			version: layer.version,
			importedAt: iso(layer.imported_at),
			besideOf: layer.beside_of === null ? null : at.get(layer.beside_of)!,
			encodings: Object.fromEntries(
				encodings.filter((one) => one.layer === layer.id).map((one) => [one.path, one.encoding])
			),
			files: files
				.filter((file) => file.layer === layer.id)
				.map((file) => ({ path: file.path, sha256: file.sha256, size: Number(file.size), kept: file.kept }))
		})),
		ledger: (
			await all(
				'select id, title, intention, plan, digests, encodings, state, applied_at, mark from ledger where project = $1 order by id'
			)
		).map(({ id, applied_at, ...row }) => ({
			...row,
			id: Number(id),
			at: iso(applied_at)
		})) as ProjectFile['ledger'],
		guideSteps: (
			await all('select at, title, shared, own, undone from guide_steps where project = $1 order by id')
		).map((row) => ({ ...row, at: iso(row.at) })) as ProjectFile['guideSteps'],
		notes: (await all(
			'select target, nickname, note from notes where project = $1 order by target'
		)) as ProjectFile['notes'],
		pocket: (await all('select label, value, about, at from pocket where project = $1 order by id')).map(
			(row) => ({
				...row,
				at: iso(row.at)
			})
		) as ProjectFile['pocket'],
		views: (await all(
			'select kind, name, query from table_views where project = $1 order by kind, name'
		)) as ProjectFile['views'],
		arrangements: (await readArrangements(q, slug)).map(({ name, layers: list }) => ({
			name,
			layers: list.flatMap(({ layer, on }) => {
				const nth = at.get(layer);
				return nth === undefined ? [] : [{ layer: nth, on }];
			})
		}))
	};
}

/** The digests of the bytes that go into the file of a project. */
export function digestsIn({ layers, ledger, whole }: ProjectFile): string[] {
	const named = new Set(ledger.flatMap(({ digests }) => digests));
	for (const { owner, files } of layers)
		if (whole || owner === 'me') for (const file of files) if (file.kept) named.add(file.sha256);
	return [...named];
}

/** A step that reverses another names it by its number, which is another one here. */
function renumbered(intention: string, numbers: ReadonlyMap<number, number>): string {
	const said = JSON.parse(intention) as { do?: string; step?: number };
	if (said.do !== 'reverse' || said.step === undefined) return intention;
	return JSON.stringify({ ...said, step: numbers.get(said.step) ?? said.step });
}

/** Writes a project from its file, whose bytes are kept already as far as they are to be had. */
export async function writeProjectRows(q: Queries, slug: string, file: ProjectFile): Promise<void> {
	const { project } = file;
	await q.query(
		'insert into projects (slug, title, guide, own_guide, mod, identity, options) values ($1, $2, $3, $4, $5, $6, $7)',
		[
			slug,
			project.title,
			project.guide,
			project.ownGuide,
			project.mod,
			project.identity && JSON.stringify(project.identity),
			JSON.stringify(project.options)
		]
	);
	// Those of the stack first: what is kept beside one of them names it.
	const ids = new Map<number, string>();
	const order = file.layers.map((layer, nth) => ({ layer, nth }));
	order.sort(
		(a, b) => Number(a.layer.besideOf !== null) - Number(b.layer.besideOf !== null) || a.nth - b.nth
	);
	for (const { layer, nth } of order) {
		const { rows } = await q.query<{ id: string }>(
			'insert into layers (project, owner, title, position, source, version, imported_at, beside_of, is_on, option) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id',
			[
				...[slug, layer.owner, layer.title, layer.position, layer.source, layer.version, layer.importedAt],
				layer.besideOf === null ? null : (ids.get(layer.besideOf) ?? null),
				...[layer.on, layer.option]
			]
		);
		const { id } = rows[0]!;
		ids.set(nth, id);
		await q.query(
			`insert into layer_files (layer, path, sha256, size, kept)
			 select $1, f.path, f.sha256, f.size, f.kept and exists (select from blobs b where b.sha256 = f.sha256)
			 from unnest($2::text[], $3::text[], $4::bigint[], $5::boolean[]) as f(path, sha256, size, kept)`,
			[
				id,
				...(['path', 'sha256', 'size', 'kept'] as const).map((name) => layer.files.map((one) => one[name]))
			]
		);
		for (const [path, encoding] of Object.entries(layer.encodings))
			await q.query('insert into chosen_encodings (layer, path, encoding) values ($1, $2, $3)', [
				...[id, path, encoding]
			]);
	}
	const numbers = new Map<number, number>();
	for (const step of file.ledger) {
		const { rows } = await q.query<{ id: string }>(
			'insert into ledger (project, title, intention, plan, digests, encodings, state, applied_at, mark) values ($1, $2, $3, $4, $5, $6, $7, $8, $9) returning id',
			[
				...[slug, step.title, renumbered(step.intention, numbers), step.plan, step.digests],
				...[JSON.stringify(step.encodings), step.state, step.at, step.mark]
			]
		);
		numbers.set(step.id, Number(rows[0]!.id));
	}
	for (const step of file.guideSteps)
		await q.query(
			'insert into guide_steps (project, at, title, shared, own, undone) values ($1, $2, $3, $4, $5, $6)',
			[slug, step.at, step.title, step.shared, step.own, step.undone]
		);
	for (const { target, nickname, note } of file.notes)
		await q.query('insert into notes (project, target, nickname, note) values ($1, $2, $3, $4)', [
			...[slug, target, nickname, note]
		]);
	for (const { label, value, about, at } of file.pocket)
		await q.query('insert into pocket (project, label, value, about, at) values ($1, $2, $3, $4, $5)', [
			...[slug, label, value, JSON.stringify(about), at]
		]);
	for (const { kind, name, query } of file.views)
		await q.query('insert into table_views (project, kind, name, query) values ($1, $2, $3, $4)', [
			...[slug, kind, name, query]
		]);
	for (const { name, layers } of file.arrangements)
		await putArrangement(q, slug, {
			name,
			layers: layers.flatMap(({ layer, on }) => {
				const id = ids.get(layer);
				return id === undefined ? [] : [{ layer: id, on }];
			})
		});
}
