// Scenarios of the guide: played many times with the game as it is without my mod and with it, or worked out from its data.
import { availableParallelism } from 'node:os';
import { mkdir, readdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import * as z from 'zod';
import { applyPlan, bytesOf } from '$core/change';
import { withoutMine } from '$core/carry';
import { myFiles, NothingToDo, NotPossible, planFor } from '$core/edits';
import { EditRefused } from '$core/formats';
import { titleOf, type ScenarioGuide } from '$core/guide';
import { columnSpread, FormulaFault, rankOf } from '$core/numbers';
import {
	argumentsOf,
	compareSteps,
	meanSteps,
	namesIn,
	pairsOf,
	playIn,
	playsAsCsv,
	shares,
	workedOut,
	type Compared,
	type Estimate,
	type Play
} from '$core/scenario';
import { baseValueOf, changedRows, displayName, type EffectiveRecord, type Stack } from '$core/stack';
import type { NarrowPart, ScenarioCard, ScenarioPart, ScenarioRun, ScenariosPage } from '$core/views';
import { inWords, playGame, SourceFault, writeAtomic, type Launcher } from '../files';
import { inSteps } from './breath';
import { borrowing, mustNotBeBorrowed } from './borrowed';
import { agreedOn, mustBeAgreed } from './consent';
import { NotThere } from './faults';
import { gameOf } from './game';
import { modelOf, type Model } from './model';
import { makerFor, partsBy } from './narrow';
import { shelfOf, shelves } from './settings';
import { inTurn } from './turns';
import { contentsFor, packFor, prepare } from './trial';

const FILE = 'scenario.json';
const PLAYS = 'scenario.csv';

/** Plays of each side at most, parts of my mod that are tried alone, and points of a sweep. */
const MOST_TIMES = 100_000;
const MOST_PARTS = 40;
const MOST_POINTS = 25;
/** Fields that are offered for a sweep. */
const MOST_FIELDS = 60;

const id = z.string().max(1000);
export const playSchema = z.object({
	do: z.literal('play'),
	scenario: id,
	inputs: z.record(z.string(), id).default({}),
	times: z.int().min(1).max(MOST_TIMES).default(2000),
	seed: z.int().min(0).max(2_000_000_000).default(1),
	/** Somebody here agrees to run the command that was shown. */
	agreed: z.boolean().default(false),
	/** Whether each part of my mod is also played alone. */
	parts: z.boolean().default(false),
	sweep: z
		.object({
			input: z.string(),
			field: id,
			from: z.number(),
			to: z.number(),
			points: z.int().min(2).max(MOST_POINTS).default(9)
		})
		.nullable()
		.default(null)
});
type Asked = z.output<typeof playSchema>;

interface Under {
	stop: AbortController;
	run: ScenarioRun;
	ended: Promise<void>;
	/** Milliseconds until the program's first line, and for each further one, as they were last. */
	pace?: { start: number; each: number };
}
const running = new Map<string, Under>();

const fileOf = (slug: string, name: string) => join(shelfOf(slug), name);

async function kept(slug: string): Promise<ScenarioRun | null> {
	return readFile(fileOf(slug, FILE), 'utf8').then(
		(text) => JSON.parse(text) as ScenarioRun,
		() => null
	);
}

async function keep(slug: string, run: ScenarioRun): Promise<void> {
	await mkdir(shelfOf(slug), { recursive: true });
	await writeAtomic(fileOf(slug, FILE), Buffer.from(`${JSON.stringify(run)}\n`));
}

/** The program of a scenario with all that it is given; places that only a play fills are still open. */
function launcherOf(model: Model, scenario: ScenarioGuide): Launcher {
	const { launcher } = gameOf(model);
	const own = scenario.arguments ?? [];
	return scenario.program === undefined
		? { ...launcher, arguments: [...launcher.arguments, ...own] }
		: {
				...launcher,
				program: scenario.program,
				arguments: own.map((word) => word.replaceAll('{game}', launcher.folder))
			};
}

function named(model: Model, name: string): ScenarioGuide {
	const all = model.guide.scenarios ?? {};
	if (!Object.hasOwn(all, name))
		throw new NotThere(`The field guide has no scenario “${name}”. Load the page again.`);
	return all[name]!;
}

/** A record that a play is likely to be about: one of my mod, of those that were there before. */
function likely(stack: Stack, kind: string): EffectiveRecord | undefined {
	const table = stack.tables.get(kind);
	if (!table || table.count === 0) return undefined;
	const mine = [...changedRows(table)].map((row) => table.record(row));
	return (
		mine.find((record) => [...record.values.keys()].some((field) => differs(record, field))) ??
		table.record(0)
	);
}

const differs = (record: EffectiveRecord, field: string): boolean => {
	const base = baseValueOf(record, field);
	return base !== undefined && base !== record.value(field);
};

function cardOf(
	model: Model,
	isAgreed: (command: Launcher) => boolean,
	[name, scenario]: [string, ScenarioGuide]
): ScenarioCard {
	const { stack } = model;
	const isReady = model.project.launcher !== null && model.guide.install !== undefined;
	const launcher = scenario.formula === undefined && isReady ? launcherOf(model, scenario) : null;
	return {
		name,
		title: scenario.title,
		asks: scenario.asks ?? null,
		command: launcher && [launcher.program, ...launcher.arguments],
		confirmed: launcher === null || isAgreed(launcher),
		formula: scenario.formula ?? null,
		kindTitle:
			scenario.kind === undefined ? null : (stack.guide.kinds[scenario.kind]?.title ?? scenario.kind),
		inputs: Object.entries(scenario.inputs).map(([input, { kind, title }]) => {
			const record = likely(stack, kind);
			const about = stack.guide.kinds[kind];
			const fields = (stack.tables.get(kind)?.columns ?? []).filter(
				(path) => path !== about?.key && columnSpread(stack.tables.get(kind)!, path) !== null
			);
			return {
				name: input,
				title: title ?? about?.title ?? input,
				kind,
				record: record ? { id: record.id, name: displayName(stack, record) } : null,
				fields: fields.slice(0, MOST_FIELDS).map((path) => ({ path, title: titleOf(about, path) }))
			};
		})
	};
}

/** The page. */
export async function scenariosPage(model: Model): Promise<ScenariosPage> {
	const { slug, version, launcher } = model.project;
	const isAgreed = await agreedOn(slug);
	const run = running.get(slug)?.run ?? (await kept(slug));
	return {
		slug,
		version,
		ready: launcher !== null && model.guide.install !== undefined,
		kinds: [...model.stack.tables.values()]
			.filter(({ count }) => count > 0)
			.map(({ kind, guide }) => ({ kind, title: guide.title })),
		scenarios: Object.entries(model.guide.scenarios ?? {}).map((one) => cardOf(model, isAgreed, one)),
		run:
			run?.state === 'running' && !running.has(slug)
				? { ...run, state: 'stopped', said: 'The server was restarted in the middle of it.' }
				: run
	};
}

/** How the fields that my mod changed of the records that are put in stand among their like. */
function placesOf({ stack }: Model, scenario: ScenarioGuide, inputs: Asked['inputs']): ScenarioRun['places'] {
	return Object.entries(scenario.inputs).flatMap(([input, { kind }]) => {
		const table = stack.tables.get(kind);
		const record = table?.byId.get(inputs[input] ?? '');
		if (!table || !record) return [];
		return [...record.values.keys()]
			.filter((field) => differs(record, field))
			.map((field) => {
				const [base, mine] = [baseValueOf(record, field)!, record.value(field) ?? ''];
				const spread = columnSpread(table, field);
				const isNumber = [base, mine].every((text) => text.trim() !== '' && Number.isFinite(Number(text)));
				return {
					record: { kind, id: record.id, name: displayName(stack, record) },
					field,
					title: titleOf(table.guide, field),
					base,
					mine,
					ranks:
						spread && isNumber
							? ([rankOf(spread, Number(base)), rankOf(spread, Number(mine))] as [number, number])
							: null
				};
			});
	});
}

const shown = (scenario: ScenarioGuide, found: Compared): ScenarioRun['outcomes'][number] => {
	const about = scenario.outcomes[found.name];
	return {
		...found,
		title: about?.title ?? (found.name === 'value' ? scenario.title : found.name),
		unit: about?.unit ?? '',
		better: about?.better ?? null
	};
};

/** All outcomes of two sides; those that the guide speaks of first. */
async function outcomesOf(
	scenario: ScenarioGuide,
	base: readonly Play[],
	mine: readonly Play[]
): Promise<ScenarioRun['outcomes']> {
	const order = Object.keys(scenario.outcomes);
	const names = namesIn(base, mine)
		.filter((name) => order.length === 0 || order.includes(name))
		.sort((a, b) => order.indexOf(a) - order.indexOf(b));
	const outcomes: ScenarioRun['outcomes'] = [];
	for (const name of names) {
		const found = await inSteps(compareSteps(name, pairsOf(name, base, mine)));
		if (found) outcomes.push(shown(scenario, found));
	}
	return outcomes;
}

/** In how many processes a side is best played: another one is worth it where it saves more time than it takes to start. */
const processesFor = (times: number, { pace }: Under): number =>
	pace && times * pace.each < pace.start ? 1 : availableParallelism();

/** Plays one side, in as many processes as are worth it. @throws SourceFault */
async function playSide(
	launcher: Launcher,
	scenario: ScenarioGuide,
	asked: Asked,
	under: Under
): Promise<Play[]> {
	const { times, seed, inputs } = asked;
	const own = scenario.arguments?.length ?? 0;
	const before = launcher.arguments.slice(0, launcher.arguments.length - own);
	const rest = { ...scenario, arguments: launcher.arguments.slice(launcher.arguments.length - own) };
	const all = await Promise.all(
		shares(times, seed, processesFor(times, under)).map(async (share) => {
			const plays: Play[] = [];
			const began = performance.now();
			let [first, last] = [0, 0];
			const words = [...before, ...argumentsOf(rest, { inputs, ...share })];
			const { status, complaint } = await playGame(
				{ ...launcher, arguments: words },
				(line) => {
					const play = playIn(line);
					if (!play) return;
					plays.push(play);
					under.run.played++;
					last = performance.now();
					if (plays.length === 1) first = last;
				},
				under.stop.signal
			);
			if (plays.length < share.times)
				throw new SourceFault(
					`The program played ${plays.length} of ${share.times} times and ended with status ${status ?? 'none'}${complaint ? `: ${complaint.split('\n')[0]!}` : ''}. A line of JSON with a “seed” and numbers is expected for each time.`
				);
			if (plays.length > 1) under.pace = { start: first - began, each: (last - first) / (plays.length - 1) };
			return plays;
		})
	);
	return all.flat();
}

/** Values over a range, as the field has them: whole numbers stay whole. */
function valuesOver({ from, to, points }: NonNullable<Asked['sweep']>, isWhole: boolean): number[] {
	const all = Array.from({ length: points }, (_, nth) => from + ((to - from) * nth) / (points - 1));
	return [...new Set(all.map((value) => (isWhole ? Math.round(value) : Number(value.toPrecision(6)))))];
}

/** Puts states of my mod into the game one after the other, and plays each. */
async function playOn(model: Model, scenario: ScenarioGuide, asked: Asked, under: Under): Promise<void> {
	const { slug } = model.project;
	const { run } = under;
	const launcher = launcherOf(model, scenario);
	const side = async (said: string, files: ReadonlyMap<string, Uint8Array> | null) => {
		under.stop.signal.throwIfAborted();
		run.said = said;
		await prepare(model, files && (await packFor(model, { files })));
		return playSide(launcher, scenario, asked, under);
	};
	const whole = await contentsFor(model);
	const parts = asked.parts ? await partsAlone(model) : [];
	const sweep = asked.sweep && sweepOf(model, scenario, asked);
	run.all = asked.times * (2 + parts.length + (sweep?.states.length ?? 0));
	const base = await side('The game without your mod', null);
	const mine = await side('With your mod', whole);
	run.outcomes = await outcomesOf(scenario, base, mine);
	if (run.outcomes.length === 0)
		throw new SourceFault('The program printed no number that both sides have in common.');
	await writeAtomic(
		fileOf(slug, PLAYS),
		Buffer.from(
			playsAsCsv([
				{ side: 'base', plays: base },
				{ side: 'mine', plays: mine }
			])
		)
	);
	await keep(slug, run);
	const names = run.outcomes.map(({ name }) => name);
	/** An estimate for each outcome. */
	const estimates = async (of: (name: string) => Promise<Estimate | undefined>) => {
		const found: Record<string, Estimate> = {};
		for (const name of names) {
			const one = await of(name);
			if (one) found[name] = one;
		}
		return found;
	};
	if (asked.parts) run.parts = [];
	// Parts are held against what is there without any of them, which is told first.
	let below = base;
	for (const { files, isBefore, ...part } of parts) {
		const plays = await side(part.title, await files());
		const against = below;
		const differences = await estimates(
			async (name) => (await inSteps(compareSteps(name, pairsOf(name, against, plays))))?.difference
		);
		if (isBefore) below = plays;
		// What does nothing by itself and is no part is not told.
		const isIdle = Object.values(differences).every(({ low, high }) => low === 0 && high === 0);
		if (!isBefore || !isIdle) run.parts = [...run.parts!, { ...part, differences }];
	}
	if (!sweep) return;
	run.sweep = { ...sweep.about, points: [] };
	for (const { value, files } of sweep.states) {
		const plays = await side(`${sweep.about.title} ${value}`, files);
		const means = await estimates(async (name) => {
			const { mine: numbers } = pairsOf(name, base, plays);
			return numbers.length === 0 ? undefined : inSteps(meanSteps(numbers));
		});
		run.sweep = { ...run.sweep, points: [...run.sweep.points, { value, means }] };
	}
}

interface Alone extends Pick<ScenarioPart, 'title' | 'href'> {
	/** Made when it is its turn. */
	files: () => Promise<ReadonlyMap<string, Uint8Array>>;
	/** Whether it is what is there without any of the parts: the others stand on it. */
	isBefore: boolean;
}

/** Each part of my mod alone: its records, or where they are too many, the steps of the ledger on what it was before. */
async function partsAlone(model: Model): Promise<Alone[]> {
	const { slug } = model.project;
	const all = await Promise.all((['records', 'steps', 'files'] as const).map((by) => partsBy(model, by)));
	const [records, steps, files] = all as [NarrowPart[], NarrowPart[], NarrowPart[]];
	const [by, parts] =
		records.length > 0 && records.length <= MOST_PARTS
			? (['records', records] as const)
			: steps.length > 0 && steps.length <= MOST_PARTS
				? (['steps', steps] as const)
				: (['files', files] as const);
	if (parts.length > MOST_PARTS)
		throw new SourceFault(
			`Your mod changes ${records.length} records in ${files.length} files; at most ${MOST_PARTS} parts can be played one at a time.`
		);
	const make = await makerFor(model, { by, parts });
	const before = by === 'files' ? new Map<string, Uint8Array>() : (await make([])).files;
	const hrefOf = ({ id: part }: NarrowPart): string => {
		if (by === 'steps') return `/p/${slug}/ledger#step-${part}`;
		if (by === 'files') return `/p/${slug}/edit/${part}`;
		const [kind, record] = JSON.parse(part) as [string, string];
		return `/p/${slug}/tables/${kind}?ticket=${encodeURIComponent(`${kind}/${record}`)}`;
	};
	return [
		...(before.size === 0
			? []
			: [
					{
						title: by === 'steps' ? 'What your mod was before the first step' : 'All but these records',
						href: by === 'steps' ? `/p/${slug}/ledger` : `/p/${slug}/pack`,
						files: async () => before,
						isBefore: true
					}
				]),
		...parts.map((part, nth) => ({
			title: part.title,
			href: hrefOf(part),
			files: async () => (await make([nth])).files,
			isBefore: false
		}))
	];
}

/** My mod with one value of a record at each of several numbers. @throws SourceFault */
function sweepOf({ stack }: Model, scenario: ScenarioGuide, { sweep, inputs }: Asked) {
	const kind = scenario.inputs[sweep!.input]?.kind ?? '';
	const recordId = inputs[sweep!.input] ?? '';
	const record = stack.tables.get(kind)?.byId.get(recordId);
	if (!record) throw new SourceFault(`There is no record “${recordId}” to try other values of.`);
	const { field } = sweep!;
	const numberIn = (text: string | undefined) =>
		text === undefined || text.trim() === '' || !Number.isFinite(Number(text)) ? null : Number(text);
	const [base, mine] = [numberIn(baseValueOf(record, field)), numberIn(record.value(field))];
	const isWhole = [base, mine].every((number) => number === null || Number.isInteger(number));
	const own = myFiles(stack);
	const states = valuesOver(sweep!, isWhole).map((value) => {
		try {
			const plan = planFor(stack, { do: 'set', kind, id: recordId, field, value: String(value) }, 'sweep');
			const files = new Map(applyPlan(own, plan));
			return { value, files: new Map([...files].map(([path, file]) => [path, bytesOf(file)])) };
		} catch (fault) {
			if (fault instanceof NothingToDo)
				return { value, files: new Map([...own].map(([path, file]) => [path, bytesOf(file)])) };
			if (fault instanceof NotPossible || fault instanceof EditRefused) throw new SourceFault(fault.message);
			throw fault;
		}
	});
	return {
		about: {
			kind,
			id: recordId,
			field,
			title: titleOf(stack.guide.kinds[kind], field),
			base,
			mine
		},
		states
	};
}

/** Works a formula out on both sides. @throws SourceFault */
async function workOut(
	model: Model,
	scenario: ScenarioGuide,
	run: ScenarioRun
): Promise<{ base: Play[]; mine: Play[] }> {
	const { stack } = model;
	try {
		const { pairs, ids, without } = workedOut(withoutMine(stack), stack, scenario.kind!, scenario.formula!);
		const found = await inSteps(compareSteps('value', pairs));
		if (!found)
			throw new SourceFault(
				`The formula gives a number for no record${without[0] ? `: ${without[0].why} (${without[0].id})` : ''}.`
			);
		run.outcomes = [shown(scenario, found)];
		run.without = without;
		run.played = run.all = 2 * ids.length;
		const table = stack.tables.get(scenario.kind!)!;
		run.places = ids.flatMap((recordId, nth) => {
			const [base, mine] = [pairs.base[nth]!, pairs.mine[nth]!];
			if (base === mine) return [];
			const rank = (among: Float64Array, value: number) =>
				among.reduce((sum, one) => sum + (one < value ? 1 : one === value ? 0.5 : 0), 0) / among.length;
			return [
				{
					record: { kind: scenario.kind!, id: recordId, name: displayName(stack, table.byId.get(recordId)!) },
					field: '',
					title: scenario.title,
					base: String(Number(base.toPrecision(6))),
					mine: String(Number(mine.toPrecision(6))),
					ranks: [rank(pairs.base, base), rank(pairs.mine, mine)] as [number, number]
				}
			];
		});
		const side = (numbers: Float64Array): Play[] =>
			ids.map((_, nth) => ({ seed: nth, values: { value: numbers[nth]! } }));
		return { base: side(pairs.base), mine: side(pairs.mine) };
	} catch (fault) {
		if (fault instanceof FormulaFault) throw new SourceFault(fault.message);
		throw fault;
	}
}

/** Starts playing. @throws NotThere, SourceFault */
export const startPlaying = (slug: string, asked: Asked): Promise<void> =>
	inTurn(`scenario ${slug}`, () => startNow(slug, asked));

async function startNow(slug: string, asked: Asked): Promise<void> {
	if (running.has(slug)) throw new SourceFault('A scenario is being played already. Stop it first.');
	const model = await modelOf(slug);
	const scenario = named(model, asked.scenario);
	const inputs: ScenarioRun['inputs'] = {};
	for (const [name, { kind }] of Object.entries(scenario.inputs)) {
		const record = model.stack.tables.get(kind)?.byId.get(asked.inputs[name] ?? '');
		if (!record) throw new SourceFault(`Choose a record for ${scenario.inputs[name]?.title ?? name}.`);
		inputs[name] = { id: record.id, name: displayName(model.stack, record) };
	}
	const isPlayed = scenario.formula === undefined;
	if (isPlayed) {
		await mustBeAgreed(slug, launcherOf(model, scenario), asked.agreed);
		mustNotBeBorrowed(slug);
	}
	const run: ScenarioRun = {
		scenario: asked.scenario,
		inputs,
		times: asked.times,
		seed: asked.seed,
		state: 'running',
		said: null,
		played: 0,
		all: asked.times * 2,
		milliseconds: 0,
		outcomes: [],
		without: [],
		places: isPlayed ? placesOf(model, scenario, asked.inputs) : [],
		parts: null,
		sweep: null,
		version: model.project.version
	};
	await keep(slug, run);
	const under: Under = { stop: new AbortController(), run, ended: Promise.resolve() };
	running.set(slug, under);
	under.ended = goThrough(model, scenario, asked, under);
}

async function goThrough(model: Model, scenario: ScenarioGuide, asked: Asked, under: Under): Promise<void> {
	const { slug } = model.project;
	const { run } = under;
	const began = performance.now();
	const end = (state: ScenarioRun['state'], said: string | null) => {
		Object.assign(run, { state, said, milliseconds: Math.round(performance.now() - began) });
	};
	try {
		if (scenario.formula === undefined)
			await borrowing(model, 'Playing a scenario', () => playOn(model, scenario, asked, under));
		else {
			const { base, mine } = await workOut(model, scenario, run);
			const sides = [
				{ side: 'base', plays: base },
				{ side: 'mine', plays: mine }
			];
			await writeAtomic(fileOf(slug, PLAYS), Buffer.from(playsAsCsv(sides)));
		}
		end('done', null);
	} catch (fault) {
		end('stopped', (fault as Error).name === 'AbortError' ? 'Stopped.' : inWords(fault, 'The game'));
	} finally {
		await keep(slug, run).catch(() => undefined);
		running.delete(slug);
	}
}

/** Stops it; the game's folder is as it was before. What was found so far is kept. */
export async function stopPlaying(slug: string): Promise<void> {
	const under = running.get(slug);
	under?.stop.abort();
	await under?.ended;
}

/** Forgets what was found. */
export async function forgetScenario(slug: string): Promise<void> {
	await stopPlaying(slug);
	for (const name of [FILE, PLAYS]) await rm(fileOf(slug, name), { force: true });
}

/** All plays of the last time, as CSV. @throws NotThere */
export async function playsOf(slug: string): Promise<string> {
	return readFile(fileOf(slug, PLAYS), 'utf8').catch(() => {
		throw new NotThere('Nothing has been played yet.');
	});
}

/** After a restart: what was cut off is shown as stopped. */
export async function settlePlays(): Promise<void> {
	for (const slug of await readdir(shelves()).catch(() => [])) {
		const run = await kept(slug);
		if (run?.state !== 'running') continue;
		await keep(slug, {
			...run,
			state: 'stopped',
			said: 'The server was restarted in the middle of it.'
		}).catch((fault: unknown) => console.error(`${slug}: ${(fault as Error).message}`));
	}
}

/** Stops all, before the server ends. */
export const stopPlays = async (): Promise<void> => {
	await Promise.all([...running.keys()].map(stopPlaying));
};
