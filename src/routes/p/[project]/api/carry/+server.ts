import { z } from 'zod';
import { choiceSchema } from '$core/carry';
import { answer, bodyOf, show } from '$lib/server/answers';
import { carryList, carryPage, chooseFor } from '$lib/server/carry';
import { modelOf } from '$lib/server/model';

const schema = z.object({
	to: z.string().regex(/^\d+$/),
	/** What is chosen for items, by their keys; null takes a choice back. */
	choices: z.array(z.object({ key: z.string().max(2000), choice: choiceSchema.nullable() })).max(10_000)
});

/** Keeps choices, and answers with what becomes of my mod then. Nothing of it is changed. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { to, choices } = await bodyOf(request, schema);
		const model = await modelOf(params.project);
		await chooseFor(model, to, new Map(choices.map(({ key, choice }) => [key, choice])));
		return carryPage(model, to);
	});

/** What is carried, decided and dropped, as Markdown. */
export const GET = ({ params, url }) =>
	show(async () => {
		const text = await carryList(await modelOf(params.project), url.searchParams.get('to') ?? '');
		return new Response(text, {
			headers: {
				'content-type': 'text/markdown; charset=utf-8',
				'content-disposition': `attachment; filename="${params.project}-carried.md"`
			}
		});
	});
