import * as z from 'zod';
import { isEncoding } from '$core/text';
import { answer, bodyOf } from '$lib/server/answers';
import { bumpProject, chooseEncoding } from '$lib/server/db/projects';
import { transaction } from '$lib/server/db/pool';
import { NotThere } from '$lib/server/faults';
import { modelOf } from '$lib/server/model';

const bodySchema = z.object({
	layer: z.string(),
	path: z.string().max(1000),
	/** Null leaves the encoding to be detected from the bytes. */
	encoding: z.string().refine(isEncoding, 'is not a known encoding').nullable()
});

/** Chooses how the bytes of one file are read. No bytes change. */
export const POST = ({ params, request }) =>
	answer(async () => {
		const { layer, path, encoding } = await bodyOf(request, bodySchema);
		await transaction(async (client) => {
			const model = await modelOf(params.project, client, true);
			const row = model.layers.find((candidate) => candidate.id === layer);
			if (!row?.files.some((file) => file.path === path))
				throw new NotThere(`There is no file ${path} in this layer.`);
			await chooseEncoding(client, layer, path, encoding);
			await bumpProject(client, params.project);
		});
		const file = (await modelOf(params.project)).stack.layers
			.find((candidate) => candidate.id === layer)
			?.files.get(path)?.text;
		return { encoding: file?.encoding ?? null, told: file?.told ?? null };
	});
