import { z } from 'zod';
import type { ReadHow } from '$core/infer';
import { answer, bodyOf } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { howSchema, previewReading } from '$lib/server/views/reading';

const bodySchema = z.object({ layer: z.string(), path: z.string(), how: howSchema });

/** What a file would give if it were read in some way. Nothing is changed. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { layer, path, how } = await bodyOf(request, bodySchema);
		return previewReading(await modelOf(params.project), layer, path, how as ReadHow);
	});
