// The game on this machine: where my mod goes, how it is started, how its end is known, and what its log says.
import { spawn } from 'node:child_process';
import { closeSync, fstatSync, readSync } from 'node:fs';
import { realpath } from 'node:fs/promises';
import { isAbsolute, join, normalize } from 'node:path';
import { claimAt, fillPattern } from '$core/guide';
import { readLines } from '$core/log';
import { decode } from '$core/text';
import type { Layer, Stack } from '$core/stack';
import { openInside, SourceFault, type Place } from '../files';
import type { Launcher } from './db/projects';
import { NotThere } from './faults';
import { identityFor } from './identity';
import type { Model } from './model';

/** Milliseconds that a game has where nothing else is said, and between two looks at its log. */
const LONGEST = 60_000;
const EVERY = 200;

export interface Game {
	launcher: Launcher;
	/** Where the log is written, below the game's folder; null where there is none. */
	log: string | null;
	place: Place;
}

/** A path below the game's folder, as it is written. */
const leavesIt = (path: string): boolean => isAbsolute(path) || /^(?:\.\.?)?(?:\/|$)/.test(normalize(path));

/**
 * How and where my mod goes into the game.
 * @param elsewhere folder of another version of it, which is started in the same way
 * @throws NotThere, SourceFault, UnsafeName
 */
export function gameOf(model: Model, elsewhere?: string): Game {
	const own = model.project.launcher;
	const { install: how } = model.guide;
	if (!own || !how)
		throw new NotThere('Not set up yet: tell Kettle Dial how to install and start this game.');
	const { name } = identityFor(model);
	const fill = (text: string) => text.replaceAll('{mod}', name);
	const folder = elsewhere ?? own.folder;
	const launcher: Launcher = {
		...own,
		folder,
		arguments: own.arguments.map((word) => (word === own.folder ? folder : fill(word)))
	};
	const mod = normalize(fill(how.folder));
	const outside = [mod, how.order, how.log].find((path) => path !== undefined && leavesIt(path));
	if (outside !== undefined)
		throw new SourceFault(
			`The field guide names “${outside}”, which is not a place within the game’s folder. Nothing was installed.`
		);
	return {
		launcher,
		log: how.log ?? null,
		place: { folder, mod, order: how.order ?? null, listed: how.listed, name }
	};
}

/** Characters of a log that are read, from its start. */
const LONGEST_LOG = 2 * 2 ** 20;

/** What tells one state of a log from another; null where there is none. */
function lookAt(folder: string, log: string | null): string | null {
	if (log === null) return null;
	let file: number;
	try {
		file = openInside(folder, log);
	} catch {
		return null;
	}
	const { ino, size, mtimeMs } = fstatSync(file);
	closeSync(file);
	return `${ino} ${size} ${mtimeMs}`;
}

/** The text of a log. @throws SourceFault where there is none */
export function readLogFile(folder: string, log: string): string {
	const file = openInside(folder, log);
	try {
		const bytes = Buffer.alloc(Math.min(fstatSync(file).size, LONGEST_LOG));
		const count = readSync(file, bytes, 0, bytes.length, 0);
		return decode(bytes.subarray(0, count)).text.replaceAll('\0', '\ufffd');
	} finally {
		closeSync(file);
	}
}

/** What a start of the game left. */
export interface Started {
	/** As the program ended; 0 where its log said that it was done, null where it was stopped. */
	status: number | null;
	milliseconds: number;
	log: string;
}

/** A program as it is started: one that is named by a path is looked for in the game's folder. */
const programOf = ({ program, folder }: Launcher): string =>
	program.includes('/') && !isAbsolute(program) ? join(folder, program) : program;

/** Starts the game, waits for its end and reads its log. @throws SourceFault where it cannot be started */
export async function startGame({ launcher, log }: Game, signal?: AbortSignal): Promise<Started> {
	const folder = await realpath(launcher.folder);
	const { ends } = launcher;
	const before = lookAt(folder, log);
	// A log that is as it was before is of another start.
	const logNow = () => {
		const after = lookAt(folder, log);
		return log !== null && after !== null && after !== before ? readLogFile(folder, log) : '';
	};
	const started = performance.now();
	const status = await new Promise<number | null>((done, failed) => {
		const child = spawn(programOf(launcher), launcher.arguments, {
			cwd: folder,
			stdio: 'ignore',
			env: { ...process.env, ...launcher.environment },
			timeout: ends?.seconds ? ends.seconds * 1000 : LONGEST,
			killSignal: 'SIGKILL',
			...(signal ? { signal } : {})
		});
		let said = false;
		const look = setInterval(() => {
			if (!ends?.line || said || !logNow().includes(ends.line)) return;
			said = true;
			child.kill('SIGKILL');
		}, EVERY);
		child.once('error', (error: NodeJS.ErrnoException) => {
			clearInterval(look);
			if (error.name === 'AbortError') done(null);
			else if (error.code)
				failed(new SourceFault(`The game could not be started: ${launcher.program} (${error.code}).`));
			else failed(error);
		});
		child.once('exit', (code) => {
			clearInterval(look);
			done(said ? 0 : code);
		});
	});
	return { status, milliseconds: Math.round(performance.now() - started), log: logNow() };
}

/** One line of the game's log, with the record it speaks of where the guide can read it. */
export interface LogLine {
	text: string;
	level: string | null;
	refusal: boolean;
	kind: string | null;
	record: string | null;
	layer: string | null;
	path: string | null;
	line: number | null;
}

/** The file of a layer that a log names: by its path below the game's or the mod's folder, or by the end of a path. */
function fileNamed(
	layers: readonly Layer[],
	folder: string | null,
	named: string
): { layer: Layer; path: string } | null {
	const inMine = folder !== null && named.startsWith(`${folder}/`);
	const path = inMine ? named.slice(folder.length + 1) : named;
	const likely = inMine
		? layers.filter(({ owner }) => owner === 'me')
		: [...layers].reverse().sort((a, b) => Number(b.owner === 'game') - Number(a.owner === 'game'));
	for (const layer of likely) if (layer.files.has(path)) return { layer, path };
	// The whole path on this machine, or no more than a name: what only one file is called by.
	const ends = (one: string) => one.endsWith(`/${named}`) || named.endsWith(`/${one}`);
	for (const layer of [...layers].reverse()) {
		const found = [...layer.files.keys()].filter(ends);
		if (found.length === 1) return { layer, path: found[0]! };
	}
	return null;
}

/** The log's lines, each led back to the file and record of a stack that it names. */
export function readLog(model: Model, log: string, stack: Stack = model.stack): LogLine[] {
	const { install } = model.guide;
	const folder = install ? fillPattern(install.folder, () => identityFor(model).name) : null;
	return readLines(log, install?.line ?? null).map(({ text, level, file, line, record: named }): LogLine => {
		const found = file === null ? null : fileNamed(stack.layers, folder, file);
		const facts = found?.layer.files.get(found.path)?.facts;
		const nth = facts && line !== null ? facts.lines.indexOf(line) : -1;
		const claim = found && claimAt(stack.guide, found.path, facts?.parts, nth);
		let [kind, record]: [string | null, string | null] = [null, null];
		if (facts && claim && nth >= 0 && facts.written[nth] === 1)
			[kind, record] = [claim.kind, facts.pool.at(facts.ids[nth]!)];
		else if (named !== null) {
			const tables = [...stack.tables.values()].filter(({ byId }) => byId.has(named));
			const own =
				tables.find((table) => table.kind === claim?.kind) ?? (tables.length === 1 ? tables[0] : undefined);
			if (own) [kind, record] = [own.kind, named];
		}
		return {
			text,
			level,
			refusal: level !== null && install?.refusals.includes(level) === true,
			kind,
			record,
			layer: found?.layer.id ?? null,
			path: found?.path ?? null,
			line: found ? line : null
		};
	});
}
