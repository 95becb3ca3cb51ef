import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { keepInPocket, labelInPocket, readPocket, takeFromPocket } from '$lib/server/db/pocket';
import { modelOf } from '$lib/server/model';

const newSchema = z.object({
	label: z.string().trim().max(200),
	value: z.string().max(10_000),
	about: z.object({
		kind: z.string().max(500).optional(),
		record: z.string().max(500).optional(),
		field: z.string().max(500).optional()
	})
});
const changeSchema = z.object({ id: z.int(), label: z.string().trim().max(200) });

export const GET = ({ params }) => answer(() => readPocket(db(), params.project));

/** Puts something into the pocket. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { project } = await modelOf(params.project);
		await keepInPocket(db(), project.slug, await bodyOf(request, newSchema));
		return readPocket(db(), project.slug);
	});

/** Labels something in the pocket. */
export const PUT = ({ params, request }) =>
	answer(async () => {
		const { id, label } = await bodyOf(request, changeSchema);
		await labelInPocket(db(), params.project, id, label);
		return readPocket(db(), params.project);
	});

/** Takes something out of the pocket. */
export const DELETE = ({ params, url }) =>
	answer(async () => {
		await takeFromPocket(db(), params.project, z.coerce.number().int().parse(url.searchParams.get('id')));
		return readPocket(db(), params.project);
	});
