// Files of my mod that are no data of a known kind: by lines, by the places of their changes, or as they are.
import { bytesOf, type FileContent } from '../change';
import { applyPatch, filePatch, PatchFault } from '../patch';
import { fileBelow, fileContent, type LayerFile, type Stack } from '../stack';
import { digestOf, textLike, Unwritable } from '../text';
import { sameBytes } from './changes';
import { itemOf, type CarryItem, type Choice } from './items';
import type { Moves } from './moves';
import { mergeLines, type Prefer } from './three';

/** What came of a file: what it is now (null where it leaves my mod), under which path, and what is said of it. */
export interface FileCarried {
	path: string;
	content: FileContent | null;
	item: CarryItem | null;
}

/** My changes of a file put where they surely belong in another version of it; null where that is not sure. */
function patched(mine: LayerFile, old: LayerFile, theirs: LayerFile): FileContent | null {
	const patch = filePatch(mine.path, fileContent(old), fileContent(mine));
	if (!patch) return null;
	const { applied, files } = applyPatch({ files: [patch] }, () => fileContent(theirs));
	return (applied && files[0]?.after) || null;
}

/** My changes of a text put into the new version's: by lines, else by what stands around them; null where neither is sure. */
function mergedText(mine: LayerFile, old: LayerFile, theirs: LayerFile): FileContent | null {
	if (!mine.text || !old.text || !theirs.text) return null;
	const text = mergeLines(mine.text.text, old.text.text, theirs.text.text);
	try {
		const merged = text === null ? patched(mine, old, theirs) : textLike(text, theirs.text, theirs.text);
		if (merged) bytesOf(merged);
		return merged;
	} catch (fault) {
		// My letters may not be in the encoding of the new version.
		if (fault instanceof PatchFault || fault instanceof Unwritable) return null;
		throw fault;
	}
}

/** What becomes of a file of my mod that is not read as data of a known kind. */
export function carryOther(
	{
		before,
		after,
		moves,
		prefer,
		choices
	}: {
		before: Stack;
		after: Stack;
		moves: Moves;
		prefer?: Prefer | undefined;
		choices?: ReadonlyMap<string, Choice> | undefined;
	},
	path: string,
	mine: LayerFile
): FileCarried {
	const old = fileBelow(before, path);
	const to = moves.file(path);
	const theirs = fileBelow(after, to);
	const key = JSON.stringify([null, path, null]);
	const chosen = choices?.get(key);
	const choice = chosen ?? prefer;
	const item = (about: Pick<CarryItem, 'what' | 'why'> & Partial<CarryItem>): CarryItem =>
		itemOf({ key, kind: null, record: to, name: to, from: to === path ? null : path, ...about });
	/** Both sides have a version of their own: one of them as a whole. */
	const eitherOf = (at: string, why: string): FileCarried =>
		choice === 'theirs'
			? { path: at, content: null, item: item({ what: 'carried', by: 'theirs', asks: 'undecided', why }) }
			: {
					path: at,
					content: keep,
					item: item({
						what: choice === 'mine' ? 'carried' : 'undecided',
						by: choice === 'mine' ? 'mine' : null,
						asks: 'undecided',
						why
					})
				};
	const keep = fileContent(mine);
	if (!old) {
		if (!theirs) return { path, content: keep, item: null };
		if (sameBytes(mine, theirs))
			return {
				path,
				content: null,
				item: item({ what: 'refreshed', why: 'The new version has the same file.' })
			};
		return eitherOf(path, 'Your mod adds this file, and the new version now has one of the same name.');
	}
	if (sameBytes(mine, old))
		return {
			path: to,
			content: null,
			item: item({ what: 'refreshed', why: 'Your mod only had a copy of it.' })
		};
	if (!theirs) {
		if (choice === 'let-go')
			return {
				path,
				content: null,
				item: item({ what: 'carried', by: 'chosen', asks: 'homeless', why: 'You dropped it.' })
			};
		const kept = chosen === 'mine';
		return {
			path,
			content: keep,
			item: item({
				what: kept ? 'carried' : 'homeless',
				by: kept ? 'chosen' : null,
				asks: 'homeless',
				why: 'The new version does not have the file that you changed.'
			})
		};
	}
	if (sameBytes(old, theirs))
		return { path: to, content: keep, item: item({ what: 'carried', why: 'Only you changed it.' }) };
	if (sameBytes(mine, theirs))
		return {
			path: to,
			content: null,
			item: item({ what: 'refreshed', why: 'The new version has the same file.' })
		};
	const merged = mergedText(mine, old, theirs);
	if (merged) {
		const same = digestOf(bytesOf(merged)) === digestOf(theirs.bytes());
		return {
			path: to,
			content: same ? null : merged,
			item: item({
				what: 'carried',
				by: 'both',
				why: 'You and the new version changed different places; both changes are kept.'
			})
		};
	}
	return eitherOf(to, 'You and the new version both changed it, in the same places.');
}
