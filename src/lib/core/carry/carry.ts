// My mod on a new version of the game: what only I changed stays, what only the game changed comes by itself, and what
// both changed, or what no longer has a place, is put to the modder.
import { inOneGo } from '../gather';
import { applyPlan, type FileContent } from '../change';
import { myFiles, NotPossible, planFor } from '../edits';
import { EditRefused } from '../formats';
import {
	buildStack,
	gameVersionOf,
	identityOf,
	isEditable,
	isGame,
	ownFiles,
	UnsafeName,
	type Stack
} from '../stack';
import { changeSteps, sameBytes, type GameChanges } from './changes';
import { decide } from './decide';
import { COMPARED, DECIDED } from './deciding';
import { itemOf, type CarryItem, type Choice } from './items';
import { carryOther } from './files';
import { withoutMine } from './mine';
import { movesOf } from './moves';
import type { Prefer } from './three';
import { wrongTogether } from './verify';
import { carryFiles } from './write';
import { filesTogether, myDataFiles, stackWith, type MyFile, type Writing } from './writing';

/** How a mod is carried over. */
export interface CarryOptions {
	/** What counts where the game and my mod both changed a value; without it that is left open. */
	prefer?: Prefer | undefined;
	/** What was chosen for single items, by their keys. */
	choices?: ReadonlyMap<string, Choice> | undefined;
	/** What the new version changed, where that is known already. */
	changes?: GameChanges | undefined;
}

/** A mod on a new version of its game. */
export interface Carried {
	items: CarryItem[];
	/** All files of the mod as they are to be. */
	files: Map<string, FileContent>;
	changes: GameChanges;
}

/** Whether the layers below my mod have the same files in both versions. */
function isUnchanged(before: Stack, after: Stack): boolean {
	const [old, fresh] = [before, after].map(({ layers }) => layers.filter((layer) => !isEditable(layer)));
	return (
		old!.length === fresh!.length &&
		old!.every(({ files }, at) => {
			const others = fresh![at]!.files;
			if (files.size !== others.size) return false;
			for (const [path, file] of files) {
				const other = others.get(path);
				if (!other || !sameBytes(file, other)) return false;
			}
			return true;
		})
	);
}

/** What is said of a file of my mod as a whole. */
const fileItem = (path: string, about: Pick<CarryItem, 'what' | 'why'> & Partial<CarryItem>): CarryItem =>
	itemOf({ key: JSON.stringify([null, path, null]), kind: null, record: path, name: path, ...about });

/** The game without other layers: what these still say tells nothing of what it changed. */
export const gameAlone = ({ layers, guide, pool }: Stack): Stack =>
	buildStack(layers.filter(isGame), guide, pool);

const NONE: GameChanges = { kinds: [], fields: [], records: [], files: [] };

/** The file that says who my mod is, where it names the old version of the game: with the new one. */
function versionFollowed(
	before: Stack,
	after: Stack,
	files: ReadonlyMap<string, FileContent>
): { path: string; content: FileContent; old: string; new: string } | null {
	const path = after.guide.identity;
	const [old, fresh] = [gameVersionOf(before), gameVersionOf(after)];
	if (path === undefined || !files.has(path) || old === null || fresh === null || old === fresh) return null;
	const stack = stackWith(after, files, []);
	const identity = identityOf(stack, 'mod');
	if (identity.gameVersion !== old) return null;
	try {
		const plan = planFor(
			stack,
			{ do: 'identify', identity: { ...identity, gameVersion: fresh } },
			identity.name
		);
		const content = applyPlan(files, plan).get(path);
		return content ? { path, content, old, new: fresh } : null;
	} catch (fault) {
		if (fault instanceof EditRefused || fault instanceof NotPossible || fault instanceof UnsafeName)
			return null;
		throw fault;
	}
}

type Written = Map<readonly MyFile[], Map<string, FileContent> | string>;

/** My files as they are to be. Files of which one would take the place of another are written together. */
function* written(writing: Writing): Generator<number, Written> {
	const results: Written = new Map();
	const open = filesTogether(writing, myDataFiles(writing));
	const all = open.length;
	for (let group = open.pop(); group; group = open.pop()) {
		const result = carryFiles(writing, group);
		yield DECIDED + (1 - DECIDED) * (1 - open.length / Math.max(1, all));
		const paths = typeof result === 'string' ? [] : [...result.keys()];
		const holds = (others: readonly MyFile[], made: Map<string, FileContent> | string | undefined) =>
			paths.some(
				(path) => others.some((one) => one.path === path) || (typeof made === 'object' && made.has(path))
			);
		const done = [...results.keys()].find((others) => holds(others, results.get(others)));
		const waiting = open.findIndex((others) => holds(others, undefined));
		if (done) {
			results.delete(done);
			open.push([...group, ...done]);
		} else if (waiting >= 0) open.push([...group, ...open.splice(waiting, 1)[0]!]);
		else results.set(group, result);
	}
	return results;
}

/**
 * Carries my mod over to a new version of its game. In steps, between which others may go first.
 * @param before the layers of the old version with my mod
 * @param after the layers of the new version; my mod in it is left out of account
 * @yields the share of it that is done, from 0 to 1
 */
export function* carrySteps(
	before: Stack,
	after: Stack,
	options: CarryOptions = {}
): Generator<number, Carried> {
	const own = new Map(myFiles(before));
	if (isUnchanged(before, after)) return { items: [], files: own, changes: NONE };
	const below = withoutMine(before);
	const bare = withoutMine(after);
	const changes = options.changes ?? (yield* changeSteps(gameAlone(before), gameAlone(after)));
	const moves = movesOf(changes, bare);
	const { prefer, choices } = options;
	yield COMPARED;
	const { items, wants } = yield* decide({ before, below, after: bare, changes, moves, prefer, choices });
	const files = new Map<string, FileContent>();
	const writing: Writing = { before, after: bare, moves, wants };
	const read = new Set<string>();
	for (const [group, result] of yield* written(writing)) {
		for (const { path } of group) read.add(path);
		if (typeof result !== 'string') {
			for (const [to, content] of result) files.set(to, content);
			continue;
		}
		for (const { path } of group) {
			files.set(path, own.get(path)!);
			items.push(
				fileItem(path, {
					what: 'undecided',
					asks: null,
					why: `This file was left as it is, because the changes could not be written into it. ${result} Edit it by hand.`
				})
			);
		}
	}
	for (const [path, file] of ownFiles(before.mine?.files ?? new Map())) {
		if (read.has(path)) continue;
		const {
			path: to,
			content,
			item
		} = carryOther({ before, after: bare, moves, prefer, choices }, path, file);
		if (content) files.set(to, content);
		if (item) items.push(item);
	}
	const sorted = new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
	const kept = new Set(
		items.flatMap(({ what, kind, record }) => (what === 'undecided' && kind === null ? [record] : []))
	);
	for (const { want, why } of wrongTogether(writing, sorted)) {
		const { kind, id, from } = want;
		// What stays as it is, because it could not be written, is told already.
		if (from.is?.presences.some(({ path }) => kept.has(path))) continue;
		items.push(
			fileItem(id, {
				key: JSON.stringify([kind, from.id, null]),
				kind,
				what: 'undecided',
				asks: null,
				why: `This could not be written as planned. ${why} Edit it by hand.`
			})
		);
	}
	// Patch files of mine may not fit the new version any more.
	const had = new Set(before.mine?.unapplied?.map(({ path }) => path));
	for (const { path, target, why, same } of stackWith(bare, sorted, []).mine?.unapplied ?? [])
		if (!had.has(path))
			items.push(
				fileItem(path, {
					what: 'homeless',
					asks: null,
					why: same ? `The new version already says all that this patch of ${target} does.` : why
				})
			);
	const version = versionFollowed(before, bare, sorted);
	if (version) {
		sorted.set(version.path, version.content);
		items.push(
			fileItem(version.path, {
				what: 'refreshed',
				field: 'gameVersion',
				old: version.old,
				new: version.new,
				mine: version.old,
				result: version.new,
				why: 'The version of the game that your mod is for.'
			})
		);
	}
	return { items, files: sorted, changes };
}

/** The same, in one go. */
export const carryMod = (before: Stack, after: Stack, options?: CarryOptions): Carried =>
	inOneGo(carrySteps(before, after, options));
