import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { dropBackup } from '$lib/server/views/in-game';

const schema = z.object({ do: z.literal('delete'), id: z.string().max(100) });

/** Deletes a backup that is needed no more. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { project } = await modelOf(params.project);
		const { id } = await bodyOf(request, schema);
		await dropBackup(project.slug, id);
		return {};
	});
