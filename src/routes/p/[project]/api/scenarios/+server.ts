import * as z from 'zod';
import { answer, bodyOf, show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import {
	forgetScenario,
	playSchema,
	playsOf,
	scenariosPage,
	startPlaying,
	stopPlaying
} from '$lib/server/scenarios';

const schema = z.discriminatedUnion('do', [
	playSchema,
	z.object({ do: z.literal('stop') }),
	z.object({ do: z.literal('forget') })
]);

/** How far it is; `?csv` gives every play. */
export const GET = ({ params, url }) =>
	url.searchParams.has('csv')
		? csvOf(params.project)
		: answer(async () => scenariosPage(await modelOf(params.project)));

async function csvOf(name: string): Promise<Response> {
	const { slug } = (await show(() => modelOf(name))).project;
	return new Response(await show(() => playsOf(slug)), {
		headers: {
			'content-type': 'text/csv; charset=utf-8',
			'content-disposition': `attachment; filename="${slug}-plays.csv"`
		}
	});
}

/** Plays a scenario, stops it, or forgets what was found. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, schema);
		const { project } = await modelOf(params.project);
		if (ask.do === 'play') await startPlaying(project.slug, ask);
		else if (ask.do === 'stop') await stopPlaying(project.slug);
		else await forgetScenario(project.slug);
		return scenariosPage(await modelOf(params.project));
	});
