import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { db } from '$lib/server/db/pool';
import { putView, readViews } from '$lib/server/db/views';
import { modelOf } from '$lib/server/model';

const schema = z.object({
	kind: z.string().min(1).max(500),
	name: z.string().trim().min(1).max(100),
	query: z.string().max(5000).nullable()
});

/** Saves or forgets a view of a table, and gives those that there are. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const view = await bodyOf(request, schema);
		await modelOf(params.project);
		await putView(db(), params.project, view);
		return readViews(db(), params.project, view.kind);
	});
