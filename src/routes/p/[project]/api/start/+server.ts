import * as z from 'zod';
import { patternFault } from '$core/text';
import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { lookAtStart, readStartLog, saveStart, startSchema } from '$lib/server/start';

const said = z.string().max(2000);
const schema = z.discriminatedUnion('do', [
	/** Every part tried out; nothing is changed or run. */
	z.object({ do: z.literal('look'), start: startSchema.extend({ folder: said, program: said }) }),
	z.object({ do: z.literal('save'), start: startSchema }),
	/** The log as it would be read. */
	z.object({
		do: z.literal('read'),
		folder: said,
		log: said.min(1).nullable(),
		pasted: z.string().max(500_000).nullable(),
		line: z.string().max(10_000).nullable(),
		parts: z.partialRecord(z.enum(['level', 'file', 'line', 'record']), said).nullable(),
		pattern: said
			.refine((pattern) => patternFault(pattern) === null, 'is not a pattern that can be used')
			.nullable()
	})
]);

export const POST = ({ params, request }) =>
	answer(async () => {
		const ask = await bodyOf(request, schema);
		const model = await modelOf(params.project);
		if (ask.do === 'look') return lookAtStart(model, ask.start);
		if (ask.do === 'read') return readStartLog(model, ask);
		return { said: await saveStart(model, ask.start) };
	});
