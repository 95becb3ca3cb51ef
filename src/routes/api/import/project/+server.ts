import { rm } from 'node:fs/promises';
import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { importProject, keptPath } from '$lib/server/archive';
import { toDisk } from '$lib/server/upload';

const keptSchema = z.object({ slug: z.string().max(200), name: z.string().max(200) });

/** A project from its file: one that is sent as the body, or one that this server keeps. It becomes a new project. */
export const POST = ({ request }) =>
	answer(async () => {
		if (request.headers.get('content-type') !== 'application/zip') {
			const { slug, name } = await bodyOf(request, keptSchema);
			return importProject(await keptPath(slug, name));
		}
		const file = await toDisk(request);
		try {
			return await importProject(file);
		} finally {
			await rm(file, { force: true });
		}
	});
