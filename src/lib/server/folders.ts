// What can be imported: the folders and archives below the allowed roots, and what one of them holds before it is read.
import { readdir, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { FORMATS } from '$core/formats';
import type { FolderList, FolderEntry, SourcePreview } from '$core/views';
import { guideBeside, inWords, LIMITS, openSource, SourceFault } from '../files';
import { allowedPath, roots } from './settings';

/** Entries of a folder that are listed, and of those below it that are looked at to tell what they are. */
const MOST = 500;
const LOOKED = 300;

const DATA = new Set(FORMATS.flatMap(({ endings }) => endings));
const ARCHIVE = /\.(?:zip|tar|tgz|tar\.gz)$/i;
/** Names of folders and files that games have. */
const TELLING =
	/^(?:data|defs?|config|configs|words|lang|langs?|locales?|text|texts|scripts?|assets|resources|mods?|game\.\w+|manifest\.\w+|mod\.\w+)$/i;
const endingOf = (name: string) => name.slice(name.lastIndexOf('.') + 1).toLowerCase();

/** Whether a folder looks as if a game's data were in it: from its names alone. */
async function looksLikeGame(folder: string): Promise<boolean> {
	const entries = await readdir(folder, { withFileTypes: true }).catch(() => []);
	const telling = entries.filter(({ name }) => TELLING.test(name)).length;
	const data = entries
		.slice(0, LOOKED)
		.filter((entry) => entry.isFile() && DATA.has(endingOf(entry.name))).length;
	return telling >= 2 || (telling >= 1 && data >= 1) || data >= 5;
}

/** The allowed roots, or what is in a folder below one of them. @throws SourceFault */
export async function listFolder(path: string | null): Promise<FolderList> {
	if (path === null) {
		const found = await Promise.all(
			roots().map(async (root): Promise<FolderEntry[]> => {
				const real = await allowedPath(root).catch(() => null);
				return real === null
					? []
					: [{ name: root, path: real, kind: 'folder', game: await looksLikeGame(real) }];
			})
		);
		return { path: null, parent: null, entries: found.flat(), more: 0 };
	}
	const asked = await allowedPath(path);
	// Of a file, the folder that it is in.
	const here = (await stat(asked)).isDirectory() ? asked : await allowedPath(dirname(asked));
	const found = await readdir(here, { withFileTypes: true }).catch((fault: unknown) => {
		throw new SourceFault(inWords(fault, here));
	});
	const all = found
		.filter(({ name }) => !name.startsWith('.'))
		.filter((entry) => entry.isDirectory() || (entry.isFile() && ARCHIVE.test(entry.name)))
		.sort(
			(a, b) =>
				Number(b.isDirectory()) - Number(a.isDirectory()) ||
				a.name.localeCompare(b.name, 'en', { numeric: true })
		);
	const entries = await Promise.all(
		all.slice(0, MOST).map(async (entry): Promise<FolderEntry> => {
			const full = join(here, entry.name);
			return entry.isDirectory()
				? { name: entry.name, path: full, kind: 'folder', game: await looksLikeGame(full) }
				: { name: entry.name, path: full, kind: 'archive', game: false };
		})
	);
	// Above the roots there is only the list of them.
	const above = await allowedPath(dirname(here)).catch(() => null);
	return { path: here, parent: above, entries, more: all.length - entries.length };
}

/** Files that are counted before a source is read. */
const MOST_FILES = 200_000;
const SHOWN = 8;

/** What importing a folder or an archive would read, and what it would leave out. @throws SourceFault */
export async function previewSource(path: string): Promise<SourcePreview> {
	const here = await allowedPath(path);
	const info = await stat(here);
	const source = await openSource(here);
	try {
		const sorts = new Map<string, { files: number; bytes: number; data: boolean }>();
		let [files, bytes, large] = [0, 0, 0];
		for (const { path: name, size } of source.entries.slice(0, MOST_FILES)) {
			files++;
			bytes += size;
			if (size > LIMITS.opened) large++;
			const ending = basename(name).includes('.') ? endingOf(name) : '';
			const sort = sorts.get(ending) ?? { files: 0, bytes: 0, data: DATA.has(ending) };
			sorts.set(ending, { ...sort, files: sort.files + 1, bytes: sort.bytes + size });
		}
		const listed = [...sorts].sort(([, a], [, b]) => Number(b.data) - Number(a.data) || b.files - a.files);
		const guide = info.isDirectory() ? await guideBeside(here).catch(() => null) : null;
		return {
			path: here,
			files,
			bytes,
			sorts: listed.slice(0, SHOWN).map(([ending, sort]) => ({ ending, ...sort })),
			otherSorts: Math.max(0, listed.length - SHOWN),
			large,
			largest: LIMITS.opened,
			left: source.left.slice(0, SHOWN),
			guide: guide === null ? null : `${basename(here)}.guide.yaml`
		};
	} finally {
		source.close();
	}
}
