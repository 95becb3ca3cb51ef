import { json } from '@sveltejs/kit';
import * as z from 'zod';
import { choiceSchema } from '$core/carry';
import { answer, bodyOf, show } from '$lib/server/answers';
import { carryList, carryPage, carryShare, chooseFor } from '$lib/server/carry';
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

/** What is carried, decided and dropped, as Markdown; with `share`, how much of the work is done. */
export const GET = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const to = url.searchParams.get('to') ?? '';
		if (url.searchParams.has('share')) return json({ share: carryShare(model, to) });
		const text = await carryList(model, to);
		return new Response(text, {
			headers: {
				'content-type': 'text/markdown; charset=utf-8',
				'content-disposition': `attachment; filename="${params.project}-carried.md"`
			}
		});
	});
