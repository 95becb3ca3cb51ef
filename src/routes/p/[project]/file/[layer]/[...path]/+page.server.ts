import { error } from '@sveltejs/kit';
import type { Document } from '$core/formats';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { mergeOf } from '$lib/server/views/places';
import { scriptsOf } from '$core/links';
import { isPatchable } from '$lib/server/views/patch';
import { editable } from '$lib/server/views/text';
import { fileBelow, isEditable } from '$core/stack';
import { fileBytes } from '$lib/server/views/bytes';
import { encodingOf, layerIn, patchView } from '$lib/server/views/file';

const MOST_LINES = 400;

/** Where a row begins, in files in which rows are counted as lines are elsewhere. */
const placeOfRow = (doc: Document | null, row: number) => doc?.records[row - 1]?.from ?? 0;

export const load = ({ params, url }) =>
	show(async () => {
		const model = await modelOf(params.project);
		const layer = layerIn(model.stack, params.layer);
		const file = layer?.files.get(params.path);
		if (!layer || !file) error(404, `There is no file ${params.path} in this layer.`);
		const line = Math.max(1, Number(url.searchParams.get('line') ?? 1) || 1);
		const lines = file.text?.text.split(/\r\n|\n|\r/) ?? null;
		const first = Math.max(1, line - MOST_LINES / 2);
		const below = isEditable(layer) ? fileBelow(model.stack, file.path) : undefined;
		return {
			slug: params.project,
			layer: layer.title,
			layerId: layer.id,
			owner: layer.owner,
			path: file.path,
			size: file.size,
			encoding: file.text ? encodingOf(file.text) : null,
			bom: file.text?.bom ?? false,
			format: file.facts?.format ?? null,
			records: file.facts?.count ?? 0,
			eol: file.text?.eol ?? null,
			line: url.searchParams.has('line') ? line : null,
			first,
			total: lines?.length ?? 0,
			lines: lines?.slice(first - 1, first - 1 + MOST_LINES).map((text) => text.slice(0, 2000)) ?? null,
			problems: file.facts?.problems ?? [],
			/** Where it is no text: what its bytes belong to, from the one that is asked for. */
			bytes: file.text
				? null
				: fileBytes(model.stack.guide, file, {
						below,
						at: Number(url.searchParams.get('at')) || placeOfRow(file.doc, line)
					}),
			/** Where a patch makes it: the patch, and the layer whose file it changes. */
			patched: file.patched
				? {
						by: file.patched.by,
						of:
							model.stack.layers.find(({ files }) => files.get(params.path) === file.patched!.over)?.id ??
							null
					}
				: null,
			/** Where it is a patch: the file that it makes, and whether it does. */
			patches: patchView(model.stack.guide, layer, params.path),
			mine: model.stack.mine?.files.has(file.path) ?? false,
			editable: editable(model.stack, file.path),
			script: scriptsOf(model.stack).some((one) => one.path === file.path),
			patchable: isPatchable(model.stack, file.path),
			merge: mergeOf(model.stack, layer, file)
		};
	});
