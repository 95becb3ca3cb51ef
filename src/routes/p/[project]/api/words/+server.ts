import { answer, bodyOf, show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { giveFile, takeSchema, takeView } from '$lib/server/views/translate';

/** What becomes of a file that a translator sent back; nothing is written. */
export const POST = ({ params, request }) =>
	answer(async () => takeView(await modelOf(params.project), await bodyOf(request, takeSchema)));

/** Texts to be translated, as a file. */
export const GET = ({ params, url }) =>
	show(async () => {
		const { name, type, text } = giveFile(await modelOf(params.project), url);
		return new Response(text, {
			headers: {
				'content-type': `${type}; charset=utf-8`,
				'content-disposition': `attachment; filename="${name}"`
			}
		});
	});
