import { basename } from 'node:path';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { type Stack } from '$core/stack';
import { assembleStack, type LayerBytes } from '$core/model';
import { guideBeside, LIMITS, MOD_LIMITS, openSource, readAll, readGuide } from '../src/lib/files';
import { WrongCall } from './arguments';
import { growFor } from './memory';

/** The guide that was named, else the one beside the game's folder, else none; null is none whatever is there. */
export async function openGuide(named: string | null | undefined, game?: string): Promise<Guide> {
	if (named === null) return EMPTY_GUIDE;
	if (named !== undefined) {
		const text = await readGuide(named);
		if (text === null) throw new WrongCall(`There is no field guide ${named}.`);
		return parseGuide(text);
	}
	const beside = game === undefined ? null : await guideBeside(game);
	return beside === null ? EMPTY_GUIDE : parseGuide(beside);
}

async function layer(path: string, owner: LayerBytes['owner'], id: string): Promise<LayerBytes> {
	const mine = owner === 'me';
	const source = await openSource(path, mine ? MOD_LIMITS : LIMITS);
	for (const left of source.left) process.stderr.write(`Left out: ${left}.\n`);
	const files = await readAll(source, mine);
	growFor([...files.values()].reduce((sum, { length }) => sum + length, 0));
	return {
		id,
		title: basename(path.replace(/\/+$/, '')),
		owner,
		paths: new Set(source.entries.map((entry) => entry.path)),
		files
	};
}

export interface Opened {
	stack: Stack;
	layers: LayerBytes[];
	guide: Guide;
}

/** The stack of a game, its layers and my mod, as named in the call. @param guidePath where the guide is, or one that is open */
export async function openStack(
	game: string,
	others: string[],
	mod: string | undefined,
	guidePath: string | Guide | null | undefined
): Promise<Opened> {
	const guide = typeof guidePath === 'object' && guidePath ? guidePath : await openGuide(guidePath, game);
	const layers = [
		await layer(game, 'game', 'base'),
		...(await Promise.all(others.map((path, at) => layer(path, 'others', `layer-${at + 1}`)))),
		...(mod === undefined ? [] : [await layer(mod, 'me', 'mine')])
	];
	return { stack: assembleStack(layers, guide), layers, guide };
}

/** A version of a game by itself, read by a guide that is open already. */
export const openGame = async (path: string, guide: Guide): Promise<Stack> =>
	assembleStack([await layer(path, 'game', 'base')], guide);
