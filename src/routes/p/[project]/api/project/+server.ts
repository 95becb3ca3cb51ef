import { z } from 'zod';
import { answer } from '$lib/server/answers';
import { removeProject } from '$lib/server/projects';

const askSchema = z.object({ do: z.literal('remove'), name: z.string().max(200) });

/** Removes the project; its name has to be said. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { name } = askSchema.parse(await request.json());
		await removeProject(params.project, name);
		return {};
	});
