// Removing a project: what people made goes only when they say its name; the game's own folders are never touched.
import { NotPossible } from '$core/edits';
import { sweepCache } from './cache';
import { knownBlobs, sweepBlobs } from './db/blobs';
import { deleteProject, digestsOf, readProject } from './db/projects';
import { db, transaction } from './db/pool';
import { linkWith, lookAnew } from './linked';
import { NotThere } from './faults';
import { letGo } from './model';
import { forgetNarrowing } from './narrow';
import { installedNow } from './trial';

/** How often it is tried to take bytes out while others are at work on them, and the milliseconds between. */
const SWEEPS = { most: 20, pause: 700 };

/** Takes out of the cache what the database does not name any more. Nobody waits for it. */
export function emptyCache(): void {
	sweepCache((digests) => knownBlobs(db(), digests)).catch((error: Error) =>
		console.error(`cache: ${error.message}`)
	);
}

/** Takes bytes out that nothing names any more. Nobody waits for it, and what stays does no harm. */
export function sweepLater(digests: readonly string[], nth = 1): void {
	sweepBlobs(digests)
		.then((gone) => {
			// What a linked folder was seen to hold may have been among them.
			if (gone !== null) {
				lookAnew();
				emptyCache();
			} else if (nth < SWEEPS.most) setTimeout(sweepLater, SWEEPS.pause, digests, nth + 1).unref();
		})
		.catch((error: Error) => console.error(`blobs: ${error.message}`));
}

/**
 * Removes a project with its mod, ledger, notes and pocket.
 * @param name its title, as somebody typed it who means it
 * @throws NotThere, NotPossible where the name is another, or the mod still is in the game's folder
 */
export async function removeProject(slug: string, name: string): Promise<void> {
	const project = await readProject(db(), slug);
	if (!project) throw new NotThere(`There is no project “${slug}”.`);
	if (name.trim() !== project.title)
		throw new NotPossible(`Its name is “${project.title}”. Nothing was removed; type the name to remove it.`);
	if ((await installedNow(slug)) !== null)
		throw new NotPossible(
			'Your mod is still installed in the game’s folder. Remove it from the game on the page Trial first; the project was not removed.'
		);
	await linkWith(slug, null);
	await forgetNarrowing(slug);
	const digests = await transaction(async (client) => {
		await readProject(client, slug, true);
		const named = await digestsOf(client, slug);
		await deleteProject(client, slug);
		return named;
	});
	letGo(slug);
	sweepLater(digests);
}
