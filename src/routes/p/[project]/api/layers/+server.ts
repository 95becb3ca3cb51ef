import * as z from 'zod';
import { copiedValues } from '$core/checks';
import { noteCopied } from '$lib/server/db/copied';
import { checkSource, SourceFault } from '$lib/files';
import { titleIn } from '$lib/server/identity';
import { answer, bodyOf } from '$lib/server/answers';
import {
	bumpProject,
	moveLayer,
	nameVersion,
	orderLayers,
	removeLayer,
	standFor,
	switchLayer
} from '$lib/server/db/projects';
import { dropArrangement, keepArrangement, useArrangement } from '$lib/server/db/arrangements';
import { transaction } from '$lib/server/db/pool';
import { startImport } from '$lib/server/imports';
import { NotThere } from '$lib/server/faults';
import { besideRows, modelOf } from '$lib/server/model';
import { sweepLater } from '$lib/server/projects';
import { layersPreview } from '$lib/server/views/clashes';
import { allowedPath } from '$lib/server/settings';

const layer = z.string().regex(/^\d+$/);
const arrangement = z.string().trim().min(1).max(80);
const askSchema = z.discriminatedUnion('do', [
	/** An expansion or somebody's mod, on top of the layers that are there. */
	z.object({
		do: z.literal('add'),
		folder: z.string().trim().min(1),
		title: z.string().trim().max(80).default('')
	}),
	/** Another version of a layer, kept beside it. */
	z.object({ do: z.literal('version'), layer, folder: z.string().trim().default('') }),
	z.object({ do: z.literal('use'), layer }),
	z.object({ do: z.literal('name'), layer, version: z.string().trim().max(80) }),
	z.object({ do: z.literal('move'), layer, by: z.union([z.literal(1), z.literal(-1)]) }),
	/** All layers of others, in the order in which they are to be loaded. */
	z.object({ do: z.literal('order'), layers: z.array(layer).max(500) }),
	z.object({ do: z.literal('switch'), layer, on: z.boolean() }),
	/** What another order, or fewer layers, would change; nothing is written. */
	z.object({ do: z.literal('look'), layers: z.array(layer).max(500) }),
	/** What is loaded now, under a name; gone back to; forgotten. */
	z.object({ do: z.literal('keep'), name: arrangement }),
	z.object({ do: z.literal('arrange'), name: arrangement }),
	z.object({ do: z.literal('forget'), name: arrangement }),
	z.object({ do: z.literal('remove'), layer }),
	z.object({ do: z.literal('verify'), layer })
]);

const titleFrom = (path: string) =>
	path
		.split('/')
		.at(-1)!
		.replace(/\.zip$/i, '');

/** The versions that are kept beside the layers of the stack, the newest last. */
export const GET = ({ params }) =>
	answer(async () => {
		const rows = await besideRows(await modelOf(params.project));
		return rows.map(({ id, title, version, besideOf, importedAt }) => ({
			id,
			title,
			version,
			besideOf,
			importedAt
		}));
	});

/** Changes the stack, or starts the work that does; answers with the id of that work. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, askSchema);
		const model = await modelOf(params.project);
		const { slug, title, guide } = model.project;
		if (ask.do === 'add') {
			const source = await allowedPath(ask.folder);
			await checkSource(source);
			const called = ask.title || (await titleIn(source, model)) || titleFrom(source);
			const added = { owner: 'others' as const, title: called, source };
			return { id: await startImport({ title, guide, target: slug, layers: [added] }, 'layer') };
		}
		if (ask.do === 'look') return layersPreview(model, ask.layers);
		if (ask.do === 'order') {
			await transaction(async (client) => {
				await orderLayers(client, slug, ask.layers);
				await bumpProject(client, slug);
			});
			return {};
		}
		if (ask.do === 'keep' || ask.do === 'arrange' || ask.do === 'forget') {
			await transaction(async (client) => {
				if (ask.do === 'keep') return keepArrangement(client, slug, ask.name);
				if (ask.do === 'forget') return dropArrangement(client, slug, ask.name);
				if (!(await useArrangement(client, slug, ask.name)))
					throw new NotThere(`There is no arrangement “${ask.name}” any more.`);
				await bumpProject(client, slug);
			});
			return {};
		}
		const beside = await besideRows(model);
		const row = [...model.layers, ...beside].find(({ id }) => id === ask.layer);
		if (!row) throw new NotThere('There is no such layer.');
		if (ask.do === 'verify' || ask.do === 'version') {
			const folder = ask.do === 'version' && ask.folder !== '' ? await allowedPath(ask.folder) : row.source;
			if (folder === '') throw new SourceFault('This layer was not imported from a folder or an archive.');
			const asked = { owner: row.owner, title: row.title, source: folder, standsFor: row.besideOf ?? row.id };
			const wish = {
				title,
				guide,
				target: slug,
				layers: [ask.do === 'verify' ? { ...asked, standsFor: row.id } : asked]
			};
			return { id: await startImport(wish, ask.do === 'verify' ? 'verify' : 'layer') };
		}
		const gone = await transaction(async (client) => {
			let digests: string[] = [];
			if (ask.do === 'name') await nameVersion(client, row.id, ask.version);
			if (ask.do === 'use') {
				// What came along with copies will hide the other version's values: told as snags from then on.
				await noteCopied(client, slug, copiedValues(model.stack));
				await standFor(client, slug, row.id);
			}
			if (ask.do === 'switch') {
				if (row.owner !== 'others')
					throw new SourceFault(
						'The base and your mod are always loaded; only other layers can be switched off.'
					);
				await switchLayer(client, row.id, ask.on);
			}
			if (ask.do === 'move') await moveLayer(client, slug, row.id, ask.by);
			if (ask.do === 'remove') {
				if (row.besideOf === null && row.owner !== 'others')
					throw new SourceFault('The base and my mod stay; only other layers and versions can be removed.');
				digests = await removeLayer(client, row.id);
			}
			await bumpProject(client, slug);
			return digests;
		});
		if (gone.length > 0) sweepLater(gone);
		return {};
	});
