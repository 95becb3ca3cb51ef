import * as z from 'zod';
import { answer, bodyOf } from '$lib/server/answers';
import { identityFor } from '$lib/server/identity';
import { agreeToProgram } from '$lib/server/made';
import { isShared, zipOf } from '$core/pack';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { textsFor } from '$lib/server/share';
import { packFor } from '$lib/server/trial';

/** The pack as a ZIP; `with=readme`, `with=changes`, `with=pictures` and `with=guide` put more for players into it. */
export const GET = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const { name, version } = identityFor(model);
		const wanted = url.searchParams.getAll('with').filter(isShared);
		const pack = await packFor(model, { texts: await textsFor(model, wanted) });
		return new Response(zipOf(pack) as Uint8Array<ArrayBuffer>, {
			headers: {
				'content-type': 'application/zip',
				'content-disposition': `attachment; filename="${`${name}-${version}`.replace(/[^\w.-]+/g, '_')}.zip"`
			}
		});
	});

const schema = z.object({ do: z.literal('agree'), file: z.string().max(1000) });

/** Somebody agrees to the program of the game's tools that makes a file. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { file } = await bodyOf(request, schema);
		await agreeToProgram(await modelOf(params.project), file);
		return { file };
	});
