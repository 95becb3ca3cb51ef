import * as z from 'zod';
import { zipOf } from '$core/pack';
import { answer, bodyOf, show } from '$lib/server/answers';
import { identityFor } from '$lib/server/identity';
import { modelOf } from '$lib/server/model';
import { moveIntoOption, moveOutOfOption } from '$lib/server/option-moves';
import { checkedOptions, optionPacks, saveOptions } from '$lib/server/options';

const text = z.string().max(200);
const schema = z.discriminatedUnion('do', [
	/** `was` is what they were on the page. */
	z.object({ do: z.literal('save'), options: z.unknown(), was: z.unknown().optional() }),
	/** Values, records and files of my mod into an option, or back. */
	z.object({
		do: z.literal('move'),
		way: z.enum(['into', 'out']).default('into'),
		option: text,
		cells: z
			.array(z.object({ kind: text, id: text, field: text }))
			.max(5000)
			.default([]),
		things: z
			.array(z.union([z.object({ kind: text, id: text }), z.object({ path: z.string().max(500) })]))
			.max(5000)
			.default([])
	}),
	/** Every combination is looked at. */
	z.object({ do: z.literal('check') })
]);

export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, schema);
		const { project } = params;
		if (ask.do === 'save') return { said: await saveOptions(project, ask.options, ask.was) };
		if (ask.do === 'move') {
			const move = ask.way === 'into' ? moveIntoOption : moveOutOfOption;
			return { said: await move(project, ask.option, ask.cells, ask.things) };
		}
		return checkedOptions(await modelOf(project));
	});

/** My mod and its options as a ZIP, each in a folder of its own. */
export const GET = ({ params }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const { name, version } = identityFor(model);
		const contents = await optionPacks(model);
		return new Response(zipOf({ files: [], contents }) as Uint8Array<ArrayBuffer>, {
			headers: {
				'content-type': 'application/zip',
				'content-disposition': `attachment; filename="${`${name}-${version}-with-options`.replace(/[^\w.-]+/g, '_')}.zip"`
			}
		});
	});
