// Removing a project: what people made goes only when they say its name; the game's own folders are never touched.
import { NotPossible } from '$core/edits';
import { sweepBlobs } from './db/blobs';
import { deleteProject, digestsOf, readProject } from './db/projects';
import { db, transaction } from './db/pool';
import { firstBackup } from './db/trials';
import { linkWith, lookAnew } from './linked';
import { letGo, modelOf, NotThere } from './model';
import { isInstalled } from './trial';

/** How often it is tried to take bytes out while others are at work on them, and the milliseconds between. */
const SWEEPS = { most: 20, pause: 700 };

/** Takes bytes out that nothing names any more. Nobody waits for it, and what stays does no harm. */
export function sweepLater(digests: readonly string[], nth = 1): void {
	sweepBlobs(digests)
		.then((gone) => {
			// What a linked folder was seen to hold may have been among them.
			if (gone !== null) lookAnew();
			else if (nth < SWEEPS.most) setTimeout(sweepLater, SWEEPS.pause, digests, nth + 1).unref();
		})
		.catch((error: Error) => console.error(`blobs: ${error.message}`));
}

/**
 * Removes a project with its mod, ledger, notes and pocket.
 * @param name its title, as somebody typed it who means it
 * @throws NotThere, NotPossible where the name is another, or the mod still stands in the game's folder
 */
export async function removeProject(slug: string, name: string): Promise<void> {
	const project = await readProject(db(), slug);
	if (!project) throw new NotThere(`There is no project “${slug}”.`);
	if (name.trim() !== project.title)
		throw new NotPossible(`Its name is “${project.title}”. Nothing was removed; type the name to remove it.`);
	// Only for a project that was tried is the game looked at, and all of it opened for that.
	if ((await firstBackup(db(), slug)) !== null && (await isInstalled(await modelOf(slug))))
		throw new NotPossible(
			'My mod still stands in the game’s folder. Take it out again on the page Trial first; nothing was removed.'
		);
	await linkWith(slug, null);
	const digests = await transaction(async (client) => {
		await readProject(client, slug, true);
		const named = await digestsOf(client, slug);
		await deleteProject(client, slug);
		return named;
	});
	letGo(slug);
	sweepLater(digests);
}
