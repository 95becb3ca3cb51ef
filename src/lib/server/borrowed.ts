// The game's folder borrowed for a while, by work that starts the game again and again with other states of my mod: only one
// such work at a time, and afterwards, also after a kill, the folder is as it was before.
import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { inWords, othersListed, remove, SourceFault, writeAtomic, writeListed, type Place } from '../files';
import { gameOf } from './game';
import { modelOf, type Model } from './model';
import { shelfOf, shelves } from './settings';
import { installedNow, packFor, putBack, putInto } from './trial';

const FILE = 'borrowed.json';

/** What the game's folder was like before it was borrowed. */
interface Before {
	wasInstalled: boolean;
	/** Its load order, in base64, where the other mods that it lists are left out meanwhile; and where it is. */
	listed?: { bytes: string; place: Place };
}

/** What has the game of a project now, as it is called at the start of a sentence. */
const borrowers = new Map<string, string>();

const fileOf = (slug: string) => join(shelfOf(slug), FILE);

/** @throws SourceFault while the game is started again and again, and nobody else may use its folder */
export function mustNotBeBorrowed(slug: string): void {
	const by = borrowers.get(slug);
	if (by !== undefined)
		throw new SourceFault(`${by} is under way. Stop it on its page first, or wait until it is done.`);
}

/** The load order as it was before. */
async function listAsBefore({ listed }: Before): Promise<void> {
	if (listed) await writeListed(listed.place, Buffer.from(listed.bytes, 'base64'));
}

/** The game's folder as it was before. */
async function asBefore(model: Model, before: Before): Promise<void> {
	if (before.wasInstalled) await putInto(model, await packFor(model));
	else if (await installedNow(model.project.slug)) await putBack(model.project.slug);
	await listAsBefore(before);
}

/**
 * Does some work that installs states of my mod and starts the game with them.
 * @param by what it is called at the start of a sentence
 * @param others whether it leaves other mods out of the game's load order
 * @throws SourceFault where it is borrowed already; what the work throws
 */
export async function borrowing<T>(
	model: Model,
	by: string,
	work: () => Promise<T>,
	others = false
): Promise<T> {
	const { slug } = model.project;
	mustNotBeBorrowed(slug);
	borrowers.set(slug, by);
	try {
		const before: Before = { wasInstalled: (await installedNow(slug)) !== null };
		const { place } = gameOf(model);
		const listed = others ? await othersListed(place) : null;
		if (listed) before.listed = { bytes: Buffer.from(listed.bytes).toString('base64'), place };
		await mkdir(shelfOf(slug), { recursive: true });
		await writeAtomic(fileOf(slug), Buffer.from(`${JSON.stringify(before)}\n`));
		const done = await work().then(
			(value) => ({ value }),
			(fault: unknown) => ({ fault })
		);
		try {
			await asBefore(model, before);
			await rm(fileOf(slug), { force: true });
		} catch (worse) {
			const first = 'fault' in done ? `${inWords(done.fault, 'The game')} ` : '';
			throw new SourceFault(`${first}${inWords(worse, 'The game')}`);
		}
		if ('fault' in done) throw done.fault;
		return done.value;
	} finally {
		borrowers.delete(slug);
	}
}

/** After a restart: work that was cut off leaves no part of my mod in the game that was not there before. */
export async function settleBorrowed(): Promise<void> {
	for (const slug of await readdir(shelves()).catch(() => [])) {
		const kept = await readFile(fileOf(slug), 'utf8').then(
			(text) => JSON.parse(text) as Before,
			() => null
		);
		if (kept === null) continue;
		const fail = (fault: unknown) => console.error(`${slug}: ${(fault as Error).message}`);
		const done = () => rm(fileOf(slug), { force: true });
		// The whole mod again, as soon as it is known; the start of the server does not wait for it.
		if (kept.wasInstalled)
			void modelOf(slug)
				.then((model) => asBefore(model, kept))
				.then(done)
				.catch(fail);
		else
			await remove(shelfOf(slug))
				.then(() => listAsBefore(kept))
				.then(done)
				.catch(fail);
	}
}
