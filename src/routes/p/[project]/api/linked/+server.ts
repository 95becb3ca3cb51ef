import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { leaveOutside, linkWith, outsidePlan, writeOut } from '$lib/server/linked';
import { modelOf } from '$lib/server/model';
import { allowedFolder } from '$lib/server/settings';

const askSchema = z.discriminatedUnion('do', [
	z.object({
		do: z.literal('link'),
		folder: z.string().trim().min(1).max(4096),
		atOnce: z.boolean().default(false)
	}),
	z.object({ do: z.literal('unlink') }),
	z.object({ do: z.literal('write') }),
	z.object({ do: z.literal('leave') })
]);

/** What other programs changed in the linked folder, as a plan; null for nothing. */
export const GET = ({ params }) => answer(() => outsidePlan(params.project));

/** Links my mod with a folder, writes it out, or leaves what was changed there. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, askSchema);
		const { slug } = (await modelOf(params.project)).project;
		if (ask.do === 'link')
			await linkWith(slug, { folder: await allowedFolder(ask.folder), atOnce: ask.atOnce });
		if (ask.do === 'unlink') await linkWith(slug, null);
		const files =
			ask.do === 'write' ? await writeOut(slug) : ask.do === 'leave' ? await leaveOutside(slug) : 0;
		return { files };
	});
