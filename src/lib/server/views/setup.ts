// What was found in a project's layers, for the page Set up.
import { claimOf } from '$core/guide';
import { gameVersionOf } from '$core/pack';
import { SURE } from '$core/text';
import type { Model } from '../model';

export interface LayerView {
	title: string;
	role: string;
	source: string;
	files: {
		path: string;
		size: number;
		kind: string | null;
		records: number;
		encoding: string | null;
		/** Whether people should look at the encoding. */
		unsure: boolean;
		eol: string | null;
		problems: number;
		state: string;
	}[];
	bytes: number;
}

/** The layers with their files, and what became of each. */
export function setupOf(model: Model): { layers: LayerView[]; version: string | null; guided: boolean } {
	const layers = model.layers.map((row): LayerView => {
		const loaded = model.stack.layers.find((layer) => layer.id === row.id)!;
		const files = row.files.map(({ path, size, kept }) => {
			const file = loaded.files.get(path);
			const claim = claimOf(model.stack.guide, path);
			const facts = file?.facts ?? null;
			const letters = facts?.letters;
			const isData = facts !== null && facts.format !== null;
			return {
				path,
				size,
				kind:
					claim && isData
						? (model.stack.guide.kinds[claim.kind]!.plural ?? model.stack.guide.kinds[claim.kind]!.title)
						: null,
				records: facts?.count ?? 0,
				encoding: letters
					? `${letters.encoding}${letters.bom ? ' with mark' : ''}${letters.told === 'guess' ? ` (guessed, ${Math.round(letters.confidence * 100)} %)` : ''}`
					: null,
				unsure: letters?.told === 'guess' && letters.confidence < SURE,
				eol: letters?.eol ?? null,
				problems: facts?.problems.length ?? 0,
				state: !kept
					? 'too large to open; known by its digest'
					: isData
						? 'read'
						: size === 0
							? 'empty'
							: 'kept as it is; not read as data'
			};
		});
		return {
			title: row.title,
			role: row.role,
			source: row.source,
			files,
			bytes: files.reduce((sum, file) => sum + file.size, 0)
		};
	});
	return { layers, version: gameVersionOf(model.stack), guided: model.project.guide !== null };
}
