import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { removeProject } from '$lib/server/projects';

const askSchema = z.object({ do: z.literal('remove'), name: z.string().max(200) });

/** Removes the project; its name has to be said. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { name } = await bodyOf(request, askSchema);
		await removeProject(params.project, name);
		return {};
	});
