import { matchPath } from './claims';
import type { Guide } from './schema';
import type { SpoilsGuide } from './schema-game';

/** What a change takes from the player, and by which files. */
export interface Spoiled {
	what: SpoilsGuide['what'];
	/** The same in words. */
	says: string;
	because: string | null;
	files: string[];
}

/** What it means for the player, in words. */
const SPOILS: Readonly<Record<SpoilsGuide['what'], string>> = {
	achievements: 'turns achievements off',
	saves: 'breaks saved games',
	multiplayer: 'requires the same mod for all players in network games',
	statistics: 'distorts the makers’ statistics'
};

/** What files, by their paths from the layer's root, take from the player where a mod has them. */
export function spoiledBy({ spoils = [] }: Guide, paths: readonly string[]): Spoiled[] {
	return spoils.flatMap(({ files: globs, what, because }) => {
		const files = paths.filter((path) => globs.some((glob) => matchPath(glob, path)));
		return files.length === 0 ? [] : [{ what, says: SPOILS[what], because: because ?? null, files }];
	});
}
