import * as z from 'zod';
import type { ReadHow } from '$core/infer';
import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { howSchema, previewPasted, previewReading } from '$lib/server/views/reading';

const where = { layer: z.string(), path: z.string() };
const bodySchema = z.union([
	z.object({ ...where, how: howSchema }),
	/** A layout as somebody wrote it: in our form, or a description for Kaitai Struct. */
	z.object({ ...where, pasted: z.string().max(200_000) })
]);

/** What a file would give if it were read in some way. Nothing is changed. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { layer, path, ...said } = await bodyOf(request, bodySchema);
		const model = await modelOf(params.project);
		return 'how' in said
			? previewReading(model, layer, path, said.how as ReadHow)
			: previewPasted(model, layer, path, said.pasted);
	});
