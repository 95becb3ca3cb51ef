// Narrowing down: the game is started with some of the parts of my mod, again and again, until the smallest set that
// brings a fault about is found. What was tried is written down beside the backups, so that it can go on after a stop.
import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { bytesOf, type FileContent } from '$core/change';
import { mergedWith, OptionFault, roundsOf, type ModOption } from '$core/options';
import { myFiles, NotPossible, planFor, stackAfter } from '$core/edits';
import { EditRefused } from '$core/formats';
import { changedRows, displayName, isEditable, UnsafeName, type Stack } from '$core/stack';
import { bareLine, digestsIn, filesWith, inRounds, keyOf, type Narrowed } from '$core/narrow';
import { decode } from '$core/text';
import type { NarrowBy, NarrowPart, NarrowTry, NarrowView } from '$core/views';
import {
	inWords,
	othersListed,
	readOrder,
	SourceFault,
	writeAtomic,
	writeListed,
	type Place
} from '../files';
import { breath } from './breath';
import { borrowing, mustNotBeBorrowed } from './borrowed';
import { readBlobs } from './db/blobs';
import { stepsFrom, type LedgerRow } from './db/ledger';
import { readOptions } from './db/options';
import { db } from './db/pool';
import { NotThere } from './faults';
import { gameOf, readLog } from './game';
import { identityFor } from './identity';
import { mineOf, modelOf, type Model } from './model';
import { shelfOf, shelves } from './settings';
import { inTurn } from './turns';
import { contentsFor, packFor, playWith } from './trial';

const FILE = 'narrow.json';

/** What is written down of it. */
interface Kept {
	by: NarrowBy;
	line: string | null;
	parts: NarrowPart[];
	/** Numbers of parts that can be in together, where not all can: one set after the other is searched. */
	rounds?: number[][];
	tries: NarrowTry[];
	state: 'running' | 'stopped' | 'done';
	said: string | null;
	found: Narrowed | null;
}

/** One that runs in this process. */
interface Under {
	stop: AbortController;
	/** The parts that are being tried. */
	now: number[] | null;
	ended: Promise<void>;
}
const running = new Map<string, Under>();

const fileOf = (slug: string) => join(shelfOf(slug), FILE);

async function kept(slug: string): Promise<Kept | null> {
	return readFile(fileOf(slug), 'utf8').then(
		(text) => JSON.parse(text) as Kept,
		() => null
	);
}

async function keep(slug: string, what: Kept): Promise<void> {
	await mkdir(shelfOf(slug), { recursive: true });
	await writeAtomic(fileOf(slug), Buffer.from(`${JSON.stringify(what)}\n`));
}

/** Steps of the ledger that are applied, since the version of the game last changed. */
async function stepsOf(slug: string): Promise<LedgerRow[]> {
	const rows = await stepsFrom(db(), slug, 0);
	const carried = rows.findLastIndex(({ intention }) => intention?.do === 'carry');
	return rows.slice(carried + 1).filter(({ plan }) => plan.changes.length > 0);
}

/** The page. */
export async function narrowPage(model: Model): Promise<NarrowView> {
	const { slug, launcher } = model.project;
	const found = await kept(slug);
	const under = running.get(slug);
	return {
		slug,
		ready: launcher !== null && model.guide.install !== undefined,
		run: found && {
			by: found.by,
			line: found.line,
			parts: found.parts,
			tries: found.tries,
			now: under?.now ?? null,
			state: found.state === 'running' && !under ? 'stopped' : found.state,
			said:
				found.state === 'running' && !under ? 'The server was restarted in the middle of it.' : found.said,
			found: found.found
		},
		counts: await countsOf(model)
	};
}

type Counts = Omit<NarrowView['counts'], 'mods'>;
const counted = new WeakMap<Model, Promise<Counts>>();

/** How many parts there are; those of my mod are counted once for a state of the project. */
async function countsOf(model: Model): Promise<NarrowView['counts']> {
	let counts = counted.get(model);
	if (!counts) {
		counts = Promise.all(
			(['steps', 'records', 'files', 'options'] as const).map(
				async (by) => [by, (await partsBy(model, by)).length] as const
			)
		).then((all) => Object.fromEntries(all) as Counts);
		counts.catch(() => counted.delete(model));
		counted.set(model, counts);
	}
	return { ...(await counts), mods: (await othersOf(model)).length };
}

/** The file of my mod that a record is in; undefined where my mod has it no more. */
const ownFileOf = (stack: Stack, kind: string, id: string): string | undefined =>
	stack.tables
		.get(kind)
		?.byId.get(id)
		?.presences.findLast(({ layer }) => isEditable(layer))?.path;

/** Records that my mod changes or adds, but for the one that says who it is. */
const recordsOf = ({ stack }: Model): NarrowPart[] =>
	[...stack.tables.values()].flatMap((table) =>
		[...changedRows(table)].flatMap((row) => {
			const record = table.record(row);
			if (ownFileOf(stack, record.kind, record.id) === stack.guide.identity) return [];
			return [
				{
					id: JSON.stringify([record.kind, record.id]),
					title: `${table.guide.title} ${displayName(stack, record)}`
				}
			];
		})
	);

/** My mod without some of its records: each is as the game has it, or not there. @throws SourceFault */
async function withoutRecords(model: Model, ids: readonly string[]): Promise<Map<string, Uint8Array>> {
	let { stack } = model;
	try {
		for (const part of ids) {
			const [kind, id] = JSON.parse(part) as [string, string];
			// One may have gone with another, as the texts of a record do.
			if (ownFileOf(stack, kind, id) === undefined) continue;
			stack = stackAfter(stack, planFor(stack, { do: 'remove', kind, id }, 'narrowed'));
			await breath();
		}
	} catch (fault) {
		if (!(fault instanceof NotPossible || fault instanceof EditRefused)) throw fault;
		throw new SourceFault(`Some records cannot be left out one by one: ${fault.message}`);
	}
	return new Map([...myFiles(stack)].map(([path, file]) => [path, bytesOf(file)]));
}

/** The other mods that the game's load order lists; none where it has none, or is not set up yet. */
async function othersOf(model: Model): Promise<string[]> {
	if (model.project.launcher === null || model.guide.install === undefined) return [];
	try {
		return (await othersListed(gameOf(model).place))?.names ?? [];
	} catch (fault) {
		// What is wrong with the game's place is told where it is used.
		if (fault instanceof SourceFault || fault instanceof UnsafeName) return [];
		throw fault;
	}
}

/** Steps of the ledger, records, files or options of my mod, or other mods, that can be left out. */
export async function partsBy(model: Model, by: NarrowBy): Promise<NarrowPart[]> {
	if (by === 'steps')
		return (await stepsOf(model.project.slug)).map(({ id, title }) => ({ id: String(id), title }));
	if (by === 'records') return recordsOf(model);
	if (by === 'options')
		return (await readOptions(db(), model.project.slug)).map(({ id, title }) => ({ id, title }));
	if (by === 'mods') return (await othersOf(model)).map((name) => ({ id: name, title: name }));
	return mineOf(model)
		.files.filter(({ path }) => path !== model.guide.identity)
		.map(({ path }) => ({ id: path, title: path }));
}

/** My mod with some of its parts. */
interface Made {
	files: Map<string, Uint8Array>;
	/** Parts that came along because others stand on them. */
	along: number[];
	/** Writes the game's load order, where other mods are left out. */
	listed?: (place: Place) => Promise<void>;
}

/** My mod with some of its options, as if they were no mods of their own. @throws SourceFault */
function withSome(model: Model, options: readonly ModOption[]): Map<string, Uint8Array> {
	try {
		const made = mergedWith(model.stack, options, identityFor(model));
		return new Map([...myFiles(made)].map(([path, file]) => [path, bytesOf(file)]));
	} catch (fault) {
		throw fault instanceof OptionFault ? new SourceFault(fault.message) : fault;
	}
}

/** What makes my mod with some of its parts. @throws NotThere where they are others by now */
export async function makerFor(
	model: Model,
	{ by, parts }: Pick<Kept, 'by' | 'parts'>
): Promise<(some: number[]) => Promise<Made>> {
	const whole = await contentsFor(model);
	const gone = (what: string) =>
		new NotThere(`${what} is not there any more: my mod was changed since. Start narrowing down anew.`);
	if (by === 'records') {
		const now = new Set(recordsOf(model).map(({ id }) => id));
		for (const { id, title } of parts) if (!now.has(id)) throw gone(title);
		return async (some) => {
			const chosen = new Set(some);
			const left = parts.filter((_, nth) => !chosen.has(nth)).map(({ id }) => id);
			return { files: await withoutRecords(model, left), along: [] };
		};
	}
	if (by === 'options') {
		const options = new Map((await readOptions(db(), model.project.slug)).map((one) => [one.id, one]));
		for (const { id, title } of parts) if (!options.has(id)) throw gone(title);
		return async (some) => ({
			files: withSome(
				model,
				some.map((nth) => options.get(parts[nth]!.id)!)
			),
			along: []
		});
	}
	if (by === 'mods') {
		const now = await othersListed(gameOf(model).place);
		for (const { id } of parts) if (!now?.names.includes(id)) throw gone(id);
		return async (some) => ({
			files: whole,
			along: [],
			listed: (place) =>
				writeListed(
					place,
					readOrder(place.order!, now!.bytes, place.listed).without(place.name),
					parts.filter((_, nth) => !some.includes(nth)).map(({ id }) => id)
				)
		});
	}
	if (by === 'files') {
		for (const { id } of parts) if (!whole.has(id)) throw gone(id);
		return async (some) => {
			const chosen = new Set(some.map((nth) => parts[nth]!.id));
			const names = new Set(parts.map(({ id }) => id));
			return {
				files: new Map([...whole].filter(([path]) => !names.has(path) || chosen.has(path))),
				along: []
			};
		};
	}
	const rows = (await stepsOf(model.project.slug)).slice(0, parts.length);
	for (const [nth, { id, title }] of parts.entries())
		if (String(rows[nth]?.id) !== id) throw gone(`“${title}”`);
	const blobs = await readBlobs(db(), [...digestsIn(rows.map(({ plan }) => plan))]);
	const contents = new Map<string, FileContent>();
	return async (some) => {
		const { files, steps } = filesWith(
			rows.map(({ plan }) => plan),
			some,
			(digest, change) => {
				const key = `${digest} ${change.of === 'text' ? change.encoding : ''}`;
				const known = contents.get(key);
				if (known) return known;
				const bytes = blobs.get(digest);
				if (!bytes) throw new NotThere(`What ${change.path} was is no longer known.`);
				const content = change.of === 'text' ? decode(bytes, change.encoding) : bytes;
				contents.set(key, content);
				return content;
			}
		);
		const made = new Map(whole);
		for (const [path, file] of files)
			if (file === null) made.delete(path);
			else made.set(path, bytesOf(file));
		return { files: made, along: steps.filter((step) => !some.includes(step)) };
	};
}

/** Tries sets of parts until it is done, writing each down. */
async function narrowOn(model: Model, what: Kept, under: Under) {
	const { slug } = model.project;
	const make = await makerFor(model, what);
	const wanted = what.line === null ? null : bareLine(what.line);
	const known = new Map(what.tries.map((one) => [keyOf(one.parts), one]));
	const search = inRounds(what.rounds ?? [what.parts.map((_, nth) => nth)]);
	let next = search.next();
	while (!next.done) {
		const parts = next.value;
		let tried = known.get(keyOf(parts));
		if (!tried) {
			under.now = parts;
			const { files, along, listed } = await make(parts);
			const { status, milliseconds, log } = await playWith(
				model,
				await packFor(model, { files }),
				under.stop.signal,
				listed
			);
			under.stop.signal.throwIfAborted();
			const lines = readLog(model, log);
			const refused = lines.filter(({ refusal }) => refusal).length;
			const fails =
				wanted === null ? status !== 0 || refused > 0 : lines.some(({ text }) => bareLine(text) === wanted);
			tried = { parts, along, outcome: fails ? 'fails' : 'passes', status, refused, milliseconds };
			what.tries.push(tried);
			await keep(slug, what);
		}
		next = search.next(tried.outcome);
	}
	what.found = next.value;
}

async function run(model: Model, what: Kept, under: Under): Promise<void> {
	const { slug } = model.project;
	const end = async (state: Kept['state'], said: string | null) => {
		under.now = null;
		Object.assign(what, { state, said });
		await keep(slug, what);
	};
	try {
		await borrowing(model, 'Narrowing down', () => narrowOn(model, what, under), what.by === 'mods');
		await end('done', null);
	} catch (fault) {
		const stopped = (fault as Error).name === 'AbortError';
		await end('stopped', stopped ? null : inWords(fault, 'The game')).catch(() => undefined);
	} finally {
		running.delete(slug);
	}
}

function begin(model: Model, what: Kept): void {
	const under: Under = { stop: new AbortController(), now: null, ended: Promise.resolve() };
	running.set(model.project.slug, under);
	under.ended = run(model, what, under);
}

/** Starts narrowing down. @param line the line of the log that is looked for; null: it does not load cleanly @throws SourceFault */
export const startNarrowing = (slug: string, by: NarrowBy, line: string | null): Promise<void> =>
	inTurn(`narrow ${slug}`, () => startNow(slug, by, line));

async function startNow(slug: string, by: NarrowBy, line: string | null): Promise<void> {
	const model = await modelOf(slug);
	if (running.has(slug)) throw new SourceFault('Narrowing down is under way already. Stop it first.');
	const parts = await partsBy(model, by);
	if (parts.length === 0)
		throw new SourceFault(
			by === 'steps'
				? 'The ledger has no step that changes a file. Narrow down by files instead.'
				: by === 'records'
					? 'Your mod changes no record. Narrow down by files instead.'
					: by === 'options'
						? 'Your mod has no options.'
						: by === 'mods'
							? 'The game’s load order lists no other mod.'
							: 'Your mod has no files yet: there is nothing to narrow down.'
		);
	const what: Kept = {
		by,
		line,
		parts,
		tries: [],
		state: 'running',
		said: null,
		found: null
	};
	if (by === 'options') what.rounds = roundsOf(await readOptions(db(), slug));
	mustNotBeBorrowed(slug);
	await keep(slug, what);
	begin(model, what);
}

/** Goes on with what was stopped: what was tried is not tried again. @throws NotThere, SourceFault */
export const goOnNarrowing = (slug: string): Promise<void> => inTurn(`narrow ${slug}`, () => goOnNow(slug));

async function goOnNow(slug: string): Promise<void> {
	const model = await modelOf(slug);
	if (running.has(slug)) return;
	const what = await kept(slug);
	if (!what || what.state === 'done')
		throw new NotThere('There is nothing to go on with. Start narrowing down anew.');
	mustNotBeBorrowed(slug);
	Object.assign(what, { state: 'running', said: null });
	await keep(slug, what);
	begin(model, what);
}

/** Stops it; the game's folder is as it was before. What was tried so far is kept. */
export async function stopNarrowing(slug: string): Promise<void> {
	const under = running.get(slug);
	under?.stop.abort();
	await under?.ended;
}

/** Forgets what was found. */
export async function forgetNarrowing(slug: string): Promise<void> {
	await stopNarrowing(slug);
	await rm(fileOf((await modelOf(slug)).project.slug), { force: true });
}

/** After a restart: a search that was cut off can go on. */
export async function settleNarrowings(): Promise<void> {
	for (const slug of await readdir(shelves()).catch(() => [])) {
		const what = await kept(slug);
		if (what?.state !== 'running') continue;
		await keep(slug, {
			...what,
			state: 'stopped',
			said: 'The server was restarted in the middle of it.'
		}).catch((fault: unknown) => console.error(`${slug}: ${(fault as Error).message}`));
	}
}

/** Stops all of them, before the server ends. */
export const stopNarrowings = async (): Promise<void> => {
	await Promise.all([...running.keys()].map(stopNarrowing));
};
