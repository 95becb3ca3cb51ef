// Plans on a project: previewed, applied in one transaction, undone and redone from the ledger.
import {
	applyPlan,
	bytesOf,
	ChangedUnderneath,
	keptPlan,
	leanPlan,
	type FileChange,
	type FileContent,
	type Files,
	type KeptPlan,
	type Plan
} from '$core/change';
import { checkStack, type Snag } from '$core/checks';
import { decode, looksBinary, type Encoding } from '$core/text';
import {
	changedLines,
	type ChangedLines,
	myFiles,
	NotPossible,
	planFor,
	saidByLayer,
	stackAfter,
	stepsOf,
	type Besides,
	type Intention,
	type Reversing,
	type SaidBy
} from '$core/edits';
import { spoiledBy, type Spoiled } from '$core/guide';
import { fileBelow, buildStack, isEditable, withFiles, type Stack } from '$core/stack';
import { buildLinks } from '$core/links';
import { appendPlan, markStep, stepFor, stepsFrom, titleFor, type LedgerRow } from './db/ledger';
import { keepBlob, readBlobs } from './db/blobs';
import { keepBytes } from './cache';
import { bumpProject, chooseEncoding, putFile, revisionOf, type LayerRow } from './db/projects';
import { doBesides, withBesides } from './besides';
import { carriedFiles } from './carry';
import { changing } from './changing';
import { db, type Queries } from './db/pool';
import { failpoint } from '../files';
import { NotThere } from './faults';
import { besideStack, handOn, mineOf, modelOf, type Model } from './model';

let afterStep: (slug: string) => void = () => undefined;

/** Has `then` called after every step that was applied, undone or done again. */
export function onStep(then: (slug: string) => void): void {
	afterStep = then;
}

/** A plan before it is applied, with what it would do to the snags. */
export interface Preview {
	plan: KeptPlan;
	version: number;
	/** The lines that change in texts that are not data. */
	lines: ChangedLines[];
	added: Snag[];
	removed: Snag[];
	/** What it takes from the player. */
	spoiled: Spoiled[];
}

function snagsAfter(model: Model, plan: Plan): Snag[] {
	const stack = stackAfter(model.stack, plan);
	return checkStack(stack, buildLinks(stack, model.links));
}

/** The snags on another version of the game, with my mod as a plan makes it. */
function snagsWith(after: Stack, { stack }: Model, plan: Plan): Snag[] {
	const files = applyPlan(myFiles(stack), plan);
	const layers = after.layers.map((layer, at) =>
		isEditable(layer) ? withFiles(layer, files, after.guide, after.pool, after.layers.slice(0, at)) : layer
	);
	return checkStack(buildStack(layers, after.guide, after.pool, after));
}

/** The files that an intention brings from outside, by path; their bytes are kept already. */
async function broughtBy(
	q: Queries,
	{ stack }: Model,
	{ files }: Extract<Intention, { do: 'bring' | 'option' }>
): Promise<Map<string, FileContent | null>> {
	const wanted = files.flatMap(({ sha256 }) => (sha256 === null ? [] : [sha256]));
	const blobs = await readBlobs(q, wanted);
	return new Map(
		files.map(({ path, sha256 }): [string, FileContent | null] => {
			if (sha256 === null) return [path, null];
			const bytes = blobs.get(sha256);
			if (!bytes)
				throw new NotThere(`What ${path} was changed to is no longer known; check the folder again.`);
			if (looksBinary(bytes)) return [path, bytes];
			// As the file was read so far, where its bytes still allow it.
			return [path, decode(bytes, stack.mine?.files.get(path)?.facts?.letters?.encoding)];
		})
	);
}

/** The file on which somebody began to type, where it is another by now and its bytes are still kept. */
async function begunBy(
	q: Queries,
	{ stack }: Model,
	{ path, from }: Extract<Intention, { do: 'text' }>
): Promise<Map<string, FileContent>> {
	if (from === null) return new Map();
	const bytes = (await readBlobs(q, [from])).get(from);
	const now = stack.mine?.files.get(path) ?? fileBelow(stack, path);
	return new Map(bytes ? [[path, decode(bytes, now?.facts?.letters?.encoding)]] : []);
}

/** An intention as the ledger keeps it: what was typed is in the plan already. */
const lean = (intention: Intention): Intention =>
	intention.do === 'text'
		? { ...intention, text: '' }
		: intention.do === 'patch'
			? { ...intention, patch: '' }
			: intention;

/** The plan that carries an intention out on the state at hand. */
async function planOn(q: Queries, model: Model, intention: Intention): Promise<Plan> {
	const besides: Besides = { links: model.links };
	if (intention.do === 'bring' || intention.do === 'option')
		besides.brought = await broughtBy(q, model, intention);
	else if (intention.do === 'carry') besides.brought = (await carriedFiles(q, model, intention.to)).files;
	else if (intention.do === 'text') besides.brought = await begunBy(q, model, intention);
	else if (intention.do === 'reverse') besides.reversing = await reversingOn(q, model, intention.step);
	else besides.said = await saidBy(model, intention);
	return planFor(model.stack, intention, model.project.mod, besides);
}

/** What another layer or version says, where the intention asks for it. */
async function saidBy(model: Model, intention: Intention): Promise<SaidBy> {
	const recipe = intention.do === 'recipe' ? model.stack.guide.recipes?.[intention.recipe] : undefined;
	const steps = recipe && intention.do === 'recipe' ? stepsOf(recipe, intention.fill) : [intention];
	const says = new Map<string, SaidBy>();
	for (const step of steps)
		if (step.do === 'change' && step.how.by === 'layer')
			says.set(step.how.layer, await saysOf(model, step.how.layer));
	return (layer, record, field) => says.get(layer)?.(layer, record, field);
}

/** What a layer of the stack, or a version kept beside it, says of a field. @throws NotThere */
export async function saysOf(model: Model, layer: string): Promise<SaidBy> {
	const own = model.stack.layers.find(({ id }) => id === layer);
	if (own) return saidByLayer(model.stack, own);
	const beside = await besideStack(model, layer);
	if (!beside) throw new NotThere('There is no such layer or version.');
	return (_, { kind, id }, field) => beside.stack.tables.get(kind)?.byId.get(id)?.value(field);
}

/** A step of the ledger with all that is needed to take it back. @throws NotThere */
async function reversingOn(q: Queries, model: Model, id: number): Promise<Reversing> {
	const rows = await stepsFrom(q, model.project.slug, id);
	const [step, ...later] = rows;
	if (step?.id !== id) throw new NotThere('There is no such step, or it is already undone.');
	if (step.intention?.do === 'carry')
		throw new NotPossible(
			'This step also changed the version of the game. Undo the steps after it, then this one.'
		);
	const blobs = await readBlobs(
		q,
		step.plan.changes.flatMap(({ before }) => (before === null ? [] : [before]))
	);
	const files = new Map(
		step.plan.changes.flatMap((change) => {
			const bytes = change.before === null ? undefined : blobs.get(change.before);
			if (!bytes) return [];
			const file = change.of === 'text' ? decode(bytes, change.encoding) : bytes;
			return [[change.movedFrom ?? change.path, file] as const];
		})
	);
	return {
		step: step.plan,
		later: later.map(({ plan }) => plan),
		before: (path) => files.get(path)
	};
}

/** What an intention would do. Nothing is written. */
export async function preview(slug: string, intention: Intention): Promise<Preview> {
	const model = await modelOf(slug);
	const plan = await planOn(db(), model, intention);
	const after =
		intention.do === 'carry'
			? snagsWith((await carriedFiles(db(), model, intention.to)).after, model, plan)
			: snagsAfter(model, plan);
	const before = new Set(model.snags.map((snag) => snag.id));
	const left = new Set(after.map((snag) => snag.id));
	return {
		plan: keptPlan(leanPlan(plan)),
		version: model.project.version,
		lines: changedLines(model.stack, plan),
		added: after.filter((snag) => !before.has(snag.id)),
		removed: model.snags.filter((snag) => !left.has(snag.id)),
		spoiled: spoiledBy(
			model.stack.guide,
			plan.changes.map(({ path }) => path)
		)
	};
}

/** A layer as a plan leaves it. @param files its files after the plan */
function rowAfter(mine: LayerRow, { changes }: Plan, files: Files): Omit<LayerRow, 'revision'> {
	const left = new Map(mine.files.map((file) => [file.path, file]));
	const encodings = { ...mine.encodings };
	for (const change of changes) {
		const { path, movedFrom, after } = change;
		if (movedFrom !== undefined) left.delete(movedFrom);
		const file = files.get(path);
		if (after === null || !file) left.delete(path);
		else left.set(path, { path, sha256: after, size: bytesOf(file).length, kept: true });
		const chosen = chosenBy(change);
		if (chosen !== null) encodings[path] = chosen;
	}
	const sorted = [...left.values()].sort((a, b) => (a.path < b.path ? -1 : 1));
	return { ...mine, files: sorted, encodings };
}

/**
 * Hands on what an applied plan left, so that nobody need fetch it from the database or the disk. The plan is applied
 * whether or not the cache takes it.
 */
function inHand(slug: string, { plan, next, row }: { plan: Plan; next: Files; row: LayerRow }): void {
	handOn(slug, row);
	try {
		for (const { path, after } of plan.changes)
			if (after !== null) keepBytes(after, bytesOf(next.get(path)!), true);
	} catch (fault) {
		console.error(`cache: ${(fault as Error).message}`);
	}
}

/** The encoding that a change chooses for its file; null where it is detected from the bytes. */
const chosenBy = (change: FileChange): Encoding | null =>
	change.of === 'bytes' || change.encoding === 'utf-8' ? null : change.encoding;

/**
 * Carries an intention out: new bytes, changed paths, ledger row and version in one transaction, one after another.
 * @param version when given, the version that the plan on the screen was made for; another one is refused
 */
export async function apply(
	slug: string,
	intention: Intention,
	version?: number
): Promise<{ plan: Plan; version: number }> {
	const done = await changing(slug, async (client) => {
		const model = await modelOf(slug, client, true);
		if (version !== undefined && version !== model.project.version)
			throw new ChangedUnderneath('This project');
		const mine = mineOf(model);
		const plan = await planOn(client, model, intention);
		const next = applyPlan(myFiles(model.stack), plan);
		const present = new Map(mine.files.map(({ path, sha256 }) => [path, sha256]));
		const encodings: LedgerRow['encodings'] = {};
		for (const change of plan.changes) {
			// What is in memory must be what the database has.
			const { movedFrom = change.path } = change;
			if ((present.get(movedFrom) ?? null) !== change.before) throw new ChangedUnderneath(movedFrom);
			if (change.after !== null) await keepBlob(client, change.after, bytesOf(next.get(change.path)!));
			failpoint('after-blob');
			if (movedFrom !== change.path) await putFile(client, mine.id, movedFrom, null);
			await putFile(client, mine.id, change.path, change.after);
			failpoint('after-file');
			// What was written in an encoding is read in it again, whatever the new letters would make one guess.
			const chosen = chosenBy(change);
			if (chosen === null || chosen === mine.encodings[change.path]) continue;
			encodings[change.path] = mine.encodings[change.path] ?? null;
			await chooseEncoding(client, mine.id, change.path, chosen);
		}
		const kept = await withBesides(client, model, intention);
		await appendPlan(client, slug, lean(kept), plan, encodings);
		if (!(await doBesides(client, slug, kept, 'redo')))
			throw new NotPossible(
				'The option was changed elsewhere in the meantime. Load the page again, then repeat your change.'
			);
		failpoint('after-ledger');
		const now = await bumpProject(client, slug);
		const revision = await revisionOf(client, mine.id);
		failpoint('before-commit');
		return { plan, version: now, row: { ...rowAfter(mine, plan, next), revision }, next };
	});
	failpoint('after-commit');
	inHand(slug, done);
	afterStep(slug);
	return { plan: done.plan, version: done.version };
}

/**
 * Takes steps back or does them again, in the order given. The bytes come back as they were, by digest.
 * @throws ChangedUnderneath where a file is not as the ledger says; the transaction is to be given up then
 */
async function applyLedgerSteps(
	client: Queries,
	slug: string,
	mine: LayerRow,
	rows: readonly LedgerRow[],
	direction: 'undo' | 'redo'
): Promise<void> {
	const present = new Map(mine.files.map((file): [string, string | null] => [file.path, file.sha256]));
	for (const row of rows) {
		const { changes } = row.plan;
		// The other way round also in their order: a path that one left may be the one that another came to.
		for (const change of direction === 'undo' ? [...changes].reverse() : changes) {
			const { path, movedFrom = path } = change;
			const [from, to, left, reached] =
				direction === 'undo'
					? [change.after, change.before, path, movedFrom]
					: [change.before, change.after, movedFrom, path];
			if ((present.get(left) ?? null) !== from) throw new ChangedUnderneath(left);
			if (left !== reached && present.get(reached)) throw new ChangedUnderneath(reached);
			if (to !== null && (await readBlobs(client, [to])).size === 0) throw new ChangedUnderneath(path);
			for (const [place, digest] of left === reached
				? [[reached, to] as const]
				: [[left, null] as const, [reached, to] as const]) {
				await putFile(client, mine.id, place, digest);
				present.set(place, digest);
			}
			const before = row.encodings[change.path];
			if (before !== undefined) {
				const chosen = direction === 'undo' ? before : chosenBy(change);
				await chooseEncoding(client, mine.id, change.path, chosen);
			}
		}
		if (row.intention) await doBesides(client, slug, row.intention, direction);
		await markStep(client, row.id, direction === 'undo' ? 'undone' : 'applied');
	}
}

/** A record that a step calls something else. */
interface Called {
	kind: string;
	before: string;
	after: string;
}

/** The record that is called something else after a step was undone or done again; null where none is. */
function calledBy({ intention }: LedgerRow, direction: 'undo' | 'redo'): Called | null {
	const isRename = intention?.do === 'rename';
	if (!isRename && !(intention?.do === 'set' && intention.field === '#id')) return null;
	const { kind, id } = intention;
	const other = isRename ? intention.newId : intention.value;
	return direction === 'undo' ? { kind, before: other, after: id } : { kind, before: id, after: other };
}

/** What was undone or done again; all null when there was nothing to. */
interface Stepped {
	title: string | null;
	version: number | null;
	called: Called | null;
}

/** Takes the last step back or does it again. */
export async function step(slug: string, direction: 'undo' | 'redo'): Promise<Stepped> {
	const done = await changing(slug, async (client) => {
		const model = await modelOf(slug, client, true);
		const row = await stepFor(client, slug, direction);
		if (!row) return null;
		await applyLedgerSteps(client, slug, mineOf(model), [row], direction);
		return { row, version: await bumpProject(client, slug) };
	});
	if (!done) return { title: null, version: null, called: null };
	afterStep(slug);
	return { title: done.row.title, version: done.version, called: calledBy(done.row, direction) };
}

/**
 * Takes steps back until one is the last that is applied: all of them or none. Gives how many were undone.
 * @param last the step that was the last for the caller: one that came since is not undone unseen
 * @throws NotThere, NotPossible
 */
export async function backTo(slug: string, id: number, last: number): Promise<number> {
	const count = await changing(slug, async (client) => {
		const model = await modelOf(slug, client, true);
		const [here, ...later] = await stepsFrom(client, slug, id);
		if (here?.id !== id) throw new NotThere('There is no such step, or it is already undone.');
		if ((later.at(-1) ?? here).id !== last)
			throw new NotPossible(
				'Another window changed something in the meantime. Nothing was undone; check the ledger.'
			);
		if (later.length === 0) return 0;
		await applyLedgerSteps(client, slug, mineOf(model), later.reverse(), 'undo');
		await bumpProject(client, slug);
		return later.length;
	});
	if (count > 0) afterStep(slug);
	return count;
}

/** What undo and redo would do next, for their labels. */
export async function nextSteps(slug: string): Promise<{ undo: string | null; redo: string | null }> {
	const [undo, redo] = await Promise.all([titleFor(db(), slug, 'undo'), titleFor(db(), slug, 'redo')]);
	return { undo, redo };
}
