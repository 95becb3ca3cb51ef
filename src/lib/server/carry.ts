// My mod carried over to another version of the base: worked out beside the project, kept as choices, done as one step.
import {
	carriedInWords,
	COMPARED,
	carrySteps,
	changeSteps,
	fieldInShort,
	followedSayings,
	gameAlone,
	movesOf,
	onTop,
	type Carried,
	type CarryItem,
	type Choice,
	type GameChanges,
	type Sayings
} from '$core/carry';
import { digestOf } from '$core/text';
import { bytesOf, type FileContent } from '$core/change';
import { fieldOf } from '$core/guide';
import { columnSpread } from '$core/numbers';
import { myFiles, NotPossible } from '$core/edits';
import {
	fileBelow,
	buildStack,
	isEditable,
	isGame,
	ownFiles,
	withFiles,
	type Layer,
	type Stack
} from '$core/stack';
import { packOf } from '$core/pack';
import type { CarryCard, CarryPage, CarryTrial } from '$core/views';
import { stat } from 'node:fs/promises';
import { inSteps } from './breath';
import { putChoices, readChoices } from './db/carry';
import { readSayings } from './db/sayings';
import { db, type Queries } from './db/pool';
import { NotThere } from './faults';
import { identityFor } from './identity';
import { besideRows, besideStack, type Model } from './model';
import { readLog } from './game';
import { tryElsewhere } from './trial';

/** A version that my mod can be carried to, as layers of the whole stack with my mod empty. */
interface Target {
	after: Stack;
	title: string;
	changes: GameChanges;
}

const targets = new WeakMap<Model, Map<string, Promise<Target>>>();

/** The layers of the project with another version of the base, and my mod empty. */
function stackOn({ stack }: Model, base: Layer, guide: Stack['guide']): Stack {
	const layers: Layer[] = [];
	for (const layer of stack.layers) {
		if (isGame(layer)) layers.push(base);
		else if (isEditable(layer)) layers.push({ ...layer, files: new Map() });
		// What patches of other layers make of the base is made of the new one.
		else
			layers.push(
				withFiles({ ...layer, files: ownFiles(layer.files) }, new Map(), guide, stack.pool, layers)
			);
	}
	return buildStack(layers, guide, stack.pool);
}

/** What is done of the work that is under way for a state of a project. */
const shares = new WeakMap<Model, { to: string; share: number }>();

/** The share of carrying over to a version that is done, from 0 to 1. */
export function carryShare(model: Model, to: string): number {
	const known = shares.get(model);
	return known?.to === to ? known.share : 0;
}

async function work(model: Model, to: string): Promise<Target> {
	if (!model.stack.mine) throw new NotPossible('This project has no mod of yours to carry over.');
	const rows = await besideRows(model);
	const base = model.layers.find(({ owner }) => owner === 'game');
	const row = rows.find(({ id, besideOf }) => id === to && besideOf === base?.id);
	const beside = row && (await besideStack(model, to));
	if (to === base?.id) throw new NotThere('This version is already in use.');
	if (!beside) throw new NotThere('There is no such version of the game. Import it under Set up.');
	const after = stackOn(model, beside.stack.layers[0]!, beside.stack.guide);
	return {
		after,
		title: row.version || `the version imported on ${row.importedAt.slice(0, 10)}`,
		changes: await inSteps(changeSteps(gameAlone(model.stack), gameAlone(after)), (share) =>
			shares.set(model, { to, share: share * COMPARED })
		)
	};
}

/** Worked out once for a state of the project. @throws NotThere */
export function targetOf(model: Model, to: string): Promise<Target> {
	const known = targets.get(model) ?? new Map<string, Promise<Target>>();
	targets.set(model, known);
	let found = known.get(to);
	if (!found) {
		found = work(model, to);
		found.catch(() => known.delete(to));
		known.set(to, found);
	}
	return found;
}

/** What was worked out last for a state of a project: a preview and the page ask for the same. */
const last = new WeakMap<Model, { key: string; carried: Promise<Target & Carried> }>();

async function carriedTo(q: Queries, model: Model, to: string): Promise<Target & Carried> {
	// Whether there is such a version comes first: an address may say anything.
	const target = await targetOf(model, to);
	const choices = await readChoices(q, model.project.slug, to);
	const key = JSON.stringify([to, ...choices]);
	const known = last.get(model);
	if (known?.key === key) return known.carried;
	const carried = (async () => {
		const { changes } = target;
		return {
			...target,
			...(await inSteps(carrySteps(model.stack, target.after, { changes, choices }), (share) =>
				shares.set(model, { to, share })
			))
		};
	})();
	last.set(model, { key, carried });
	// What could not be worked out is worked out again when it is asked for.
	carried.catch(() => last.delete(model));
	return carried;
}

/** What is said besides the files, as it is and on the new version. */
export async function carriedSayings(
	q: Queries,
	model: Model,
	to: string
): Promise<{ was: Sayings; becomes: Sayings; words: string[] }> {
	const { changes, after } = await targetOf(model, to);
	const was = await readSayings(q, model.project.slug);
	const { sayings, words } = followedSayings(was, changes, movesOf(changes, after));
	return { was, becomes: sayings, words };
}

/** Items that are shown of each sort. */
const MOST = 300;

/** Where values of a field are among all of its kind; null where it holds no numbers. */
function spreadFor({ guide, tables }: Stack, { kind, field, asks }: CarryItem) {
	const table = kind === null ? undefined : tables.get(kind);
	if (!table || field === null || asks !== 'undecided') return null;
	const about = fieldOf(guide.kinds[table.kind], field);
	if (about?.reference || about?.type === 'flags' || about?.type === 'code') return null;
	return columnSpread(table, field);
}

/** What the interface needs of an item. */
function cardOf(stack: Stack, item: CarryItem, choice: Choice | undefined): CarryCard {
	const { kind, field, old, new: fresh, mine } = item;
	const { guide } = stack;
	const about = kind === null ? undefined : guide.kinds[kind];
	return {
		...item,
		kindTitle: about?.title ?? kind,
		fieldTitle: field === null ? null : (fieldOf(about, field)?.title ?? field),
		choice: choice ?? null,
		candidates: item.candidates.map((one) => ({
			...one,
			kindTitle: one.kind === null ? null : (guide.kinds[one.kind]?.title ?? one.kind)
		})),
		spread: spreadFor(stack, item),
		unit: (field === null ? null : fieldOf(about, field)?.unit) ?? null,
		top: old !== null && fresh !== null && mine !== null ? onTop(old, fresh, mine) : null
	};
}

/** The page on which a mod is carried over. @throws NotThere */
export async function carryPage(model: Model, to: string): Promise<CarryPage> {
	const { project, stack } = model;
	const { items, title, changes, after } = await carriedTo(db(), model, to);
	const choices = await readChoices(db(), project.slug, to);
	const count = (what: CarryItem['what']) => items.filter((item) => item.what === what).length;
	const order = ['undecided', 'homeless', 'carried', 'refreshed'] as const;
	const told = (what: string) => changes.records.filter((one) => one.what === what).length;
	return {
		slug: project.slug,
		to,
		from: model.layers.find(({ owner }) => owner === 'game')!.id,
		title,
		counts: Object.fromEntries(order.map((what) => [what, count(what)])) as CarryPage['counts'],
		chosen: choices.size,
		items: order.flatMap((what) =>
			items
				.filter((item) => (choices.has(item.key) && item.asks ? item.asks : item.what) === what)
				.slice(0, MOST)
				.map((item) =>
					cardOf(
						item.kind !== null && after.guide.kinds[item.kind] ? after : stack,
						item,
						choices.get(item.key)
					)
				)
		),
		most: MOST,
		besides: (await carriedSayings(db(), model, to)).words,
		game: {
			new: told('new'),
			gone: told('gone'),
			changed: told('changed'),
			renamed: told('renamed'),
			moved: told('moved'),
			fields: changes.fields.map((one) => ({
				kind: after.guide.kinds[one.kind]?.title ?? stack.guide.kinds[one.kind]?.title ?? one.kind,
				...fieldInShort(one)
			})),
			files: changes.files.length
		}
	};
}

/** Keeps what was chosen for items of a version. @throws NotThere */
export async function chooseFor(
	model: Model,
	to: string,
	choices: ReadonlyMap<string, Choice | null>
): Promise<void> {
	// Nothing is kept for a version that is not there.
	await targetOf(model, to);
	if (choices.size > 0) await putChoices(db(), model.project.slug, to, choices);
}

/** Lines of a log that are shown. */
const LINES = 200;

/** My mod as it is to be, tried in the folder of the new version before anything is written. @throws NotThere, SourceFault */
export async function tryCarried(model: Model, to: string, signal?: AbortSignal): Promise<CarryTrial> {
	const { files, after } = await carriedTo(db(), model, to);
	const row = (await besideRows(model)).find(({ id }) => id === to)!;
	if (!(await stat(row.source).catch(() => null))?.isDirectory())
		throw new NotThere(
			`The new version was imported from ${row.source}, which is not a folder on this machine, so it cannot be started. Apply the step and use the page Trial; one Undo reverts it.`
		);
	const contents = new Map([...files].map(([path, content]) => [path, bytesOf(content)]));
	const below = after.layers.filter((layer) => !isEditable(layer));
	const paths = new Set(below.flatMap((layer) => [...layer.files.keys()]));
	const pack = packOf(contents, paths, after.guide, identityFor(model), {
		below: (path) => fileBelow(after, path)?.bytes()
	});
	const shipped = new Set(row.files.map(({ path }) => path));
	const { status, log } = await tryElsewhere(model, row.source, shipped, pack, signal);
	const lines = readLog(model, log, after);
	return {
		status,
		refusals: lines.filter(({ refusal }) => refusal).length,
		lines: lines.slice(0, LINES).map(({ text, refusal }) => ({ text, refusal })),
		more: Math.max(0, lines.length - LINES)
	};
}

/** What was carried, decided and dropped, as Markdown. */
export async function carryList(model: Model, to: string): Promise<string> {
	const { after, items, title } = await carriedTo(db(), model, to);
	return carriedInWords(after, `${model.project.title}: carried over to ${title}`, items);
}

/** The files of my mod as they are to be on another version; null for one that leaves it. And the game with them. */
export async function carriedFiles(
	q: Queries,
	model: Model,
	to: string
): Promise<{ files: Map<string, FileContent | null>; after: Stack }> {
	const { files, after } = await carriedTo(q, model, to);
	const now = myFiles(model.stack);
	const changed = new Map<string, FileContent | null>();
	for (const path of now.keys()) if (!files.has(path)) changed.set(path, null);
	for (const [path, content] of files) {
		const before = now.get(path);
		if (!before || digestOf(bytesOf(before)) !== digestOf(bytesOf(content))) changed.set(path, content);
	}
	return { files: changed, after };
}
