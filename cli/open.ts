import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { assembleStack, type LayerBytes, type Stack } from '$core/stack';
import { guideBeside, openSource, readAll } from '../src/lib/files';
import { WrongCall } from './arguments';

/** The guide that was named, else the one beside the game's folder, else none; null is none whatever is there. */
export async function openGuide(named: string | null | undefined, game?: string): Promise<Guide> {
	if (named === null) return EMPTY_GUIDE;
	if (named !== undefined) {
		const text = await readFile(named, 'utf8').catch(() => {
			throw new WrongCall(`There is no field guide ${named}.`);
		});
		return parseGuide(text);
	}
	const beside = game === undefined ? null : await guideBeside(game);
	return beside === null ? EMPTY_GUIDE : parseGuide(beside);
}

const layer = async (path: string, role: LayerBytes['role'], id: string): Promise<LayerBytes> => ({
	id,
	title: basename(path.replace(/\/+$/, '')),
	role,
	files: await readAll(await openSource(path))
});

export interface Opened {
	stack: Stack;
	layers: LayerBytes[];
	guide: Guide;
}

/** The stack of a game, its layers and my mod, as named in the call. */
export async function openStack(
	game: string,
	others: string[],
	mod: string | undefined,
	guidePath: string | null | undefined
): Promise<Opened> {
	const guide = await openGuide(guidePath, game);
	const layers = [
		await layer(game, 'base', 'base'),
		...(await Promise.all(others.map((path, at) => layer(path, 'mod', `layer-${at + 1}`)))),
		...(mod === undefined ? [] : [await layer(mod, 'mine', 'mine')])
	];
	return { stack: assembleStack(layers, guide), layers, guide };
}
