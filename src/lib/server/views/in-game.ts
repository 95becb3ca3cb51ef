// What of my mod is in the game's folder: file by file, with the backups and the proof of the last removal.
import { readdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { NotPossible } from '$core/edits';
import type { BackupView, InGamePage } from '$core/views';
import { filesBelow, installedOn, REMOVED, verify, type Installed, type Removed } from '../../files';
import { NotThere } from '../faults';
import type { Model } from '../model';
import { shelfOf, shelves } from '../settings';
import { installedNow } from '../trial';

/** Folders of backups are named by their time. */
const BACKUP = /^\d{4}-\d\d-\d\dT[\d-]+Z$/;

async function backupOf(slug: string, id: string, now: Installed | null): Promise<BackupView> {
	const place = join(shelfOf(slug), id);
	const paths = await filesBelow(join(place, 'files'));
	const aside = await filesBelow(join(place, 'changed'));
	let bytes = 0;
	for (const path of await filesBelow(place)) bytes += (await stat(join(place, path))).size;
	const removed = await readFile(join(place, REMOVED), 'utf8').then(
		(text) => JSON.parse(text) as Removed,
		() => null
	);
	const [date, time = ''] = id.split('T');
	return {
		id,
		at: `${date}T${time.replace(/^(\d\d)-(\d\d)-(\d\d)-/, '$1:$2:$3.')}`,
		folder: removed?.folder ?? (now?.backup === place ? now.folder : ''),
		files: paths.length,
		bytes,
		inUse: now?.backup === place,
		proof: removed?.proof ?? null,
		aside,
		place
	};
}

/** The page: what is there now, what is kept, and what others have in games. */
export async function inGamePage(model: Model): Promise<InGamePage> {
	const { slug } = model.project;
	const now = await installedNow(slug);
	const backups: BackupView[] = [];
	for (const id of await readdir(shelfOf(slug)).catch(() => []))
		if (BACKUP.test(id)) backups.push(await backupOf(slug, id, now));
	const others: InGamePage['others'] = [];
	for (const name of await readdir(shelves()).catch(() => [])) {
		const state = name === slug ? null : await installedOn(shelfOf(name)).catch(() => null);
		if (state)
			others.push({
				name: state.name,
				project: name.startsWith('command-') ? null : name,
				folder: state.folder,
				files: state.files.length
			});
	}
	const states = new Map((now ? await verify(now) : []).map((file) => [file.path, file.state]));
	const touched = now ? [...now.files, ...(now.list ? [now.list] : [])] : [];
	return {
		slug,
		ready: model.project.launcher !== null && model.guide.install !== undefined,
		installed: now && {
			folder: now.folder,
			mod: now.mod,
			over: now.over === true,
			at: now.at,
			backup: now.backup
		},
		files: touched.map(({ path, before, after }) => ({
			path,
			before,
			after,
			state: states.get(path) ?? 'whole'
		})),
		backups: backups.sort((a, b) => (a.id < b.id ? 1 : -1)),
		others
	};
}

/** Deletes a backup that no mod in the game needs any more. @throws NotThere, NotPossible */
export async function dropBackup(slug: string, id: string): Promise<void> {
	const place = join(shelfOf(slug), id);
	if (!BACKUP.test(id) || !(await stat(place).catch(() => null)))
		throw new NotThere(`There is no backup “${id}”.`);
	const now = await installedOn(shelfOf(slug));
	if (now?.backup === place)
		throw new NotPossible(
			'Your mod is in the game: this backup has what was there before it. Remove the mod from the game first.'
		);
	await rm(place, { recursive: true });
}
