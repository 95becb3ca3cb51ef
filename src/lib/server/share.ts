// What goes along with my mod when it is given away: a read-me and a list of what it changes, from the values themselves.
import { changeSteps, type GameChanges } from '$core/carry';
import { changeList, SHARED, sharedTexts, tablePictures, TEMPLATE, type Shared } from '$core/pack';
import { buildStack } from '$core/stack';
import type { SharePage } from '$core/views';
import { inSteps } from './breath';
import { readOptions } from './db/options';
import { db } from './db/pool';
import { guideFile } from './guides';
import { identityFor } from './identity';
import { mineOf, type Model } from './model';

const lists = new WeakMap<Model, Promise<GameChanges>>();

/** What my mod changes; worked out once for a state of the project. */
function changesFor(model: Model): Promise<GameChanges> {
	let found = lists.get(model);
	if (!found) {
		const { stack } = model;
		const before = buildStack(
			stack.layers.filter(({ owner }) => owner !== 'me'),
			stack.guide,
			stack.pool,
			stack
		);
		found = inSteps(changeSteps(before, stack));
		found.catch(() => lists.delete(model));
		lists.set(model, found);
	}
	return found;
}

/** The texts that are asked for, by their paths. */
export async function textsFor(model: Model, wanted: readonly Shared[]): Promise<Map<string, string>> {
	if (wanted.length === 0) return new Map();
	const { guide } = model.stack;
	const changes = await changesFor(model);
	return sharedTexts(
		{
			identity: identityFor(model),
			guide,
			changes: changeList(guide, changes),
			pictures: tablePictures(guide, changes),
			options: await readOptions(db(), model.project.slug),
			paths: mineOf(model).files.map(({ path }) => path),
			...(wanted.includes('guide') ? { guideText: await guideFile(model) } : {})
		},
		wanted
	);
}

/** A version with its last number one higher; null where it has none. */
export function nextVersion(version: string): string | null {
	const [, before, last, behind] = /^(.*?)(\d+)(\D*)$/.exec(version) ?? [];
	return last === undefined ? null : `${before}${Number(last) + 1}${behind}`;
}

/** The page: both texts as they would be. */
export async function sharePage(model: Model): Promise<SharePage> {
	const texts = await textsFor(model, ['readme', 'changes']);
	const { files } = mineOf(model);
	const identity = identityFor(model);
	return {
		slug: model.project.slug,
		identity,
		next: nextVersion(identity.version),
		files: files.length,
		readMe: texts.get(SHARED.readme)!,
		changes: texts.get(SHARED.changes)!,
		pictures: tablePictures(model.stack.guide, await changesFor(model)),
		template: model.guide.share?.readme ?? TEMPLATE,
		isOwnTemplate: model.guide.share !== undefined,
		own: Object.values(SHARED).filter((path) => files.some((file) => file.path === path))
	};
}
