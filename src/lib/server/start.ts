// How one's own game is started: told part by part, each tried out before anything is saved or run.
import { constants } from 'node:fs';
import { access, readFile, realpath, stat } from 'node:fs/promises';
import { delimiter, isAbsolute, join } from 'node:path';
import * as z from 'zod';
import { installSchema } from '$core/guide';
import { guessedMarks, PARTS, patternFrom, readLines, type Marks } from '$core/log';
import { decode } from '$core/text';
import type { LogRead, Start, StartLook, StartPage } from '$core/views';
import { pathInside, readLogFile, readOrder, SourceFault, type Launcher } from '../files';
import { changing } from './changing';
import { bumpProject, putLauncher } from './db/projects';
import { changeGuide } from './guides';
import { identityFor } from './identity';
import type { Model } from './model';
import { allowedPath } from './settings';

const text = z.string().trim().max(2000);

export const startSchema = z.object({
	folder: text.min(1),
	program: text.min(1),
	arguments: z.array(z.string().max(2000)).max(60).default([]),
	environment: z
		.record(z.string().regex(/^[A-Za-z_]\w*$/, 'is not the name of a variable'), z.string().max(2000))
		.default({}),
	ends: z
		.object({ line: text.min(1).nullable(), seconds: z.number().min(1).max(3600).nullable() })
		.nullable()
		.default(null),
	install: installSchema
});

/** Letters of the names of folders that mods often go to. */
const NOTHING: Start['install'] = { folder: 'mods/{mod}', refusals: [] };

/** The page: what is set, or what may be a beginning. */
export async function startPage(model: Model): Promise<StartPage> {
	const { launcher, slug } = model.project;
	const { install } = model.guide;
	const source = model.layers.find(({ owner }) => owner === 'game')?.source ?? '';
	const isFolder = (await stat(source).catch(() => null))?.isDirectory() === true;
	return {
		slug,
		mod: identityFor(model).name,
		set: launcher !== null && install !== undefined,
		start: {
			folder: launcher?.folder ?? (isFolder ? source : ''),
			program: launcher?.program ?? '',
			arguments: launcher?.arguments ?? [],
			environment: launcher?.environment ?? {},
			ends: launcher?.ends ?? null,
			install: install ?? NOTHING
		}
	};
}

const inWords = (fault: unknown): string => {
	if (fault instanceof SourceFault) return fault.message;
	throw fault;
};

/** Whether a program is there and may be run: by its path, below the game's folder, or where programs are looked for. */
async function programFound(program: string, folder: string): Promise<string | null> {
	const places = isAbsolute(program)
		? [program]
		: program.includes('/')
			? [join(folder, program)]
			: (process.env.PATH ?? '').split(delimiter).map((place) => join(place, program));
	for (const place of places) {
		const runs = await access(place, constants.X_OK).then(
			() => true,
			() => false
		);
		if (runs && (await stat(place)).isFile()) return place;
	}
	return null;
}

const there = async (path: string) => (await stat(path).catch(() => null)) !== null;

/** Lines of the list of mods that are shown. */
const LINES = 6;

async function lookAtOrder(
	folder: string,
	mod: string,
	{ order, listed }: Start['install']
): Promise<StartLook['order']> {
	if (order === undefined)
		return { ok: true, said: 'Nothing is switched on: the game takes every mod that is there.', after: [] };
	try {
		const path = await pathInside(folder, order);
		const bytes = await readFile(path).catch(() => null);
		const list = readOrder(order, bytes, listed);
		const after = decode(list.with(mod))
			.text.split(/\r?\n/)
			.filter((line) => line.trim() !== '' && (typeof listed !== 'object' || line.includes(mod)));
		return {
			ok: true,
			said: list.names.includes(mod)
				? `${order} lists ${mod} already.`
				: bytes
					? `${order} lists ${list.names.length === 0 ? 'no mod' : list.names.join(', ')} now; with yours it ends like this:`
					: `${order} is not there yet; it will be made like this:`,
			after: after.slice(-LINES)
		};
	} catch (fault) {
		return { ok: false, said: inWords(fault), after: [] };
	}
}

/** What comes of a mod whose files stand in place of the game's own. */
async function lookAtTwins(folder: string, twins: string[][], path: string): Promise<StartLook['place']> {
	for (const archive of twins.flat())
		if (!(await stat(join(folder, archive)).catch(() => null))?.isFile())
			return { ok: false, said: `There is no archive ${archive} in the game’s folder.` };
	return {
		ok: true,
		said: `Your mod’s files stand in place of the game’s own in ${path}. Each is backed up first and restored when your mod is removed.`
	};
}

/** The game's folder: one that may be read, or the one that is set already. @throws SourceFault */
const folderFor = ({ project }: Model, path: string): Promise<string> =>
	path === project.launcher?.folder
		? realpath(path).catch(() => {
				throw new SourceFault(`The game’s folder ${path} is not there any more.`);
			})
		: allowedPath(path);

/** Tries every part out. Nothing is changed or run. */
export async function lookAtStart(model: Model, start: Start): Promise<StartLook> {
	const { name } = identityFor(model);
	const fill = (path: string) => path.replaceAll('{mod}', name);
	let folder: string;
	try {
		folder = await folderFor(model, start.folder);
		if (!(await stat(folder)).isDirectory()) throw new SourceFault(`${start.folder} is not a folder.`);
	} catch (fault) {
		const none = { ok: false, said: 'The game’s folder has to be there first.' };
		return {
			place: { ok: false, said: inWords(fault) },
			order: { ...none, after: [] },
			program: none,
			log: none
		};
	}
	const { install } = start;
	const over = install.over === true;
	const whole = over && /^\.?\/?$/.test(install.folder);
	const place = await (whole ? Promise.resolve(folder) : pathInside(folder, fill(install.folder))).then(
		async (path) =>
			over
				? await lookAtTwins(folder, install.twins ?? [], path)
				: !install.folder.includes('{mod}')
					? { ok: false, said: 'Write {mod} for the name of the mod’s own folder, as in mods/{mod}.' }
					: {
							ok: true,
							said: `Your mod goes into ${path}${(await there(path)) ? ', which is there; what is in it is kept and restored later' : ''}.`
						},
		(fault: unknown) => ({ ok: false, said: inWords(fault) })
	);
	const found = await programFound(start.program, folder);
	const log = install.log;
	return {
		place,
		order: await lookAtOrder(folder, name, install),
		program: found
			? { ok: true, said: `${[found, ...start.arguments.map(fill)].join(' ')} is started in ${folder}.` }
			: {
					ok: false,
					said: `There is no program ${start.program || 'named yet'} that can be started. Give its path, or its path below the game’s folder.`
				},
		log:
			log === undefined
				? { ok: true, said: 'No log is read; only whether the game ends well is known.' }
				: await pathInside(folder, fill(log)).then(
						async (path) => ({
							ok: true,
							said: (await there(path))
								? `${log} is there.`
								: `${log} is not there yet. Start the game once by hand, so that it can be read.`
						}),
						(fault: unknown) => ({ ok: false, said: inWords(fault) })
					)
	};
}

/** Lines of a log that are shown. */
const MOST = 400;

/** A part of a line as people mark it: by what stands there. Of several places the first one counts. */
function marksOf(line: string, parts: LogRead['guess']): Marks {
	const marks: Marks = {};
	let numberFrom = 0;
	for (const part of PARTS) {
		const said = parts[part];
		if (!said) continue;
		// The number of a line mostly stands behind the file.
		const from = line.indexOf(said, part === 'line' ? numberFrom : 0);
		if (from < 0) continue;
		marks[part] = [from, from + said.length];
		if (part === 'file') numberFrom = from + said.length;
	}
	return marks;
}

/**
 * A log as it would be read with parts of one of its lines marked.
 * @param pasted the log, where it is not read from the game's folder
 * @throws SourceFault where it cannot be read
 */
export async function readStartLog(
	model: Model,
	asked: {
		folder: string;
		log: string | null;
		pasted: string | null;
		line: string | null;
		parts: LogRead['guess'] | null;
		pattern: string | null;
	}
): Promise<LogRead> {
	const { log, pasted, line, parts } = asked;
	const content = pasted ?? (log === null ? '' : readLogFile(await folderFor(model, asked.folder), log));
	const guess = line === null ? {} : guessedMarks(line);
	const marks = line === null ? {} : parts ? marksOf(line, parts) : guess;
	const pattern = line === null ? asked.pattern : patternFrom(line, marks);
	const lines = readLines(content, pattern);
	const levels = new Map<string, number>();
	for (const { level } of lines) if (level !== null) levels.set(level, (levels.get(level) ?? 0) + 1);
	return {
		pattern,
		guess: Object.fromEntries(
			Object.entries(guess).map(([part, place]) => [part, line!.slice(...(place as [number, number]))])
		),
		lines: lines.slice(0, MOST),
		all: lines.length,
		read: lines.filter((one) => one.level !== null || one.file !== null || one.record !== null).length,
		levels: [...levels].map(([level, count]) => ({ level, count })).sort((a, b) => b.count - a.count)
	};
}

/** Keeps how the game is started: what belongs to this machine with the project, the rest in the guide. @throws SourceFault */
export async function saveStart(model: Model, start: Start): Promise<string> {
	const { slug } = model.project;
	const look = await lookAtStart(model, start);
	const wrong = [look.place, look.order, look.program, look.log].find(({ ok }) => !ok);
	if (wrong) throw new SourceFault(wrong.said);
	const { install, ends, environment, ...rest } = start;
	const launcher: Launcher = {
		...rest,
		folder: await folderFor(model, start.folder),
		environment,
		...(ends ? { ends } : {})
	};
	if (JSON.stringify(install) !== JSON.stringify(model.guide.install))
		await changeGuide(slug, { do: 'install', install });
	await changing(slug, async (client) => {
		await putLauncher(client, slug, launcher);
		return bumpProject(client, slug);
	});
	return 'Saved how the game is started';
}
