import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import {
	forgetNarrowing,
	goOnNarrowing,
	narrowPage,
	startNarrowing,
	stopNarrowing
} from '$lib/server/narrow';

const schema = z.discriminatedUnion('do', [
	z.object({
		do: z.literal('start'),
		by: z.enum(['steps', 'records', 'files', 'options', 'mods']),
		line: z.string().min(1).max(10_000).nullable().default(null)
	}),
	z.object({ do: z.literal('go on') }),
	z.object({ do: z.literal('stop') }),
	z.object({ do: z.literal('forget') })
]);

/** How far it is. */
export const GET = ({ params }) => answer(async () => narrowPage(await modelOf(params.project)));

/** Starts narrowing down, stops it, goes on with it, or forgets it. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, schema);
		const { project } = await modelOf(params.project);
		if (ask.do === 'start') await startNarrowing(project.slug, ask.by, ask.line);
		else if (ask.do === 'go on') await goOnNarrowing(project.slug);
		else if (ask.do === 'stop') await stopNarrowing(project.slug);
		else await forgetNarrowing(project.slug);
		return narrowPage(await modelOf(params.project));
	});
