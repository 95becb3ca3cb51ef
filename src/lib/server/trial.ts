// Installing the pack into the game's folder after a backup, starting the game, and reading its log.
import { identityFor } from './identity';
import { spawn } from 'node:child_process';
import { closeSync, fstatSync, readSync } from 'node:fs';
import { readdir, realpath } from 'node:fs/promises';
import { isAbsolute, join, normalize } from 'node:path';
import { claimAt, fillPattern } from '$core/guide';
import { packOf, type Pack } from '$core/pack';
import { compilePattern, decode } from '$core/text';
import {
	install,
	installedOn,
	openInside,
	recover,
	remove,
	SourceFault,
	type Installed,
	type Place
} from '../files';
import { readBlobs } from './db/blobs';
import type { Launcher } from './db/projects';
import { db } from './db/pool';
import { insertTrial } from './db/trials';
import { NotThere } from './faults';
import { mineOf, type Model } from './model';
import { homeFolder } from './settings';
import { inTurn } from './turns';

const LONGEST = 60_000;

/** The pack of my mod as it is now. */
export async function packFor(model: Model): Promise<Pack> {
	const mine = mineOf(model);
	const blobs = await readBlobs(
		db(),
		mine.files.map((file) => file.sha256)
	);
	const contents = new Map(mine.files.map((file) => [file.path, blobs.get(file.sha256)!]));
	const below = new Set(
		model.layers
			.filter((layer) => layer.on && layer.owner !== 'me')
			.flatMap((layer) => layer.files.map((file) => file.path))
	);
	return packOf(contents, below, model.guide, identityFor(model));
}

interface Game {
	launcher: Launcher;
	/** Where the log is written, below the game's folder. */
	log: string;
	place: Place;
}

const shelves = () => join(homeFolder(), 'backups');
const shelfOf = (slug: string) => join(shelves(), slug);

/**
 * How and where my mod goes into the game.
 * @param elsewhere folder of another version of it, which is started in the same way
 * @throws NotThere, SourceFault, UnsafeName
 */
function gameOf(model: Model, elsewhere?: string): Game {
	const own = model.project.launcher;
	const launcher =
		own && elsewhere !== undefined
			? {
					...own,
					folder: elsewhere,
					arguments: own.arguments.map((word) => (word === own.folder ? elsewhere : word))
				}
			: own;
	const { install: how } = model.guide;
	if (!launcher || !how)
		throw new NotThere('Not set up yet: tell Kettle Dial how to install and start this game.');
	const { name } = identityFor(model);
	const mod = normalize(fillPattern(how.folder, (part) => ({ mod: name })[part]) ?? '');
	const outside = [mod, how.order, how.log].find(
		(path) => isAbsolute(path) || /^(?:\.\.?)?(?:\/|$)/.test(normalize(path))
	);
	if (outside !== undefined)
		throw new SourceFault(
			`The field guide names “${outside}”, which is not a place within the game’s folder. Nothing was installed.`
		);
	return { launcher, log: how.log, place: { folder: launcher.folder, mod, order: how.order, name } };
}

/** The paths of all files that the game itself has. */
const shippedBy = (model: Model): Set<string> =>
	new Set(
		model.layers.filter(({ owner }) => owner === 'game').flatMap(({ files }) => files.map(({ path }) => path))
	);

/** The project that has a mod in the same place of the same game; null where none has. */
async function alsoThere(slug: string, place: Place): Promise<string | null> {
	for (const other of await readdir(shelves()).catch(() => [])) {
		const state = other === slug ? null : await installedOn(shelfOf(other)).catch(() => null);
		if (state?.folder === place.folder && state.mod === place.mod) return other;
	}
	return null;
}

/** Runs a program until it ends; killed when it takes too long or the page goes away. */
function runGame(
	{ program, arguments: words, folder }: Launcher,
	signal?: AbortSignal
): Promise<number | null> {
	return new Promise((done, failed) => {
		const child = spawn(program, words, {
			cwd: folder,
			stdio: 'ignore',
			timeout: LONGEST,
			...(signal ? { signal } : {})
		});
		child.once('error', (error: NodeJS.ErrnoException) => {
			if (error.name === 'AbortError') done(null);
			else if (error.code)
				failed(
					new SourceFault(
						`The game could not be started: ${program} (${error.code}). Your mod is installed; remove it from the game on this page.`
					)
				);
			else failed(error);
		});
		child.once('exit', (status) => done(status));
	});
}

/** Characters of a log that are read, from its start. */
const LONGEST_LOG = 2 * 2 ** 20;
/** Characters of a line that is looked at. */
const LONGEST_LINE = 10_000;

/** What tells one state of a log from another; null where there is none. */
function lookAt(folder: string, log: string): string | null {
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

function readLogFile(folder: string, log: string): string {
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
interface Played {
	status: number | null;
	milliseconds: number;
	log: string;
	/** Where what was there before is kept. */
	backup: string;
}

/** Backs up, installs, starts the game and reads its log. @throws SourceFault */
async function play(
	{ launcher, log: logPath, place }: Game,
	shelf: string,
	shipped: ReadonlySet<string>,
	pack: Pack,
	signal?: AbortSignal
): Promise<Played> {
	const { backup } = await install(shelf, place, shipped, pack.contents);
	const folder = await realpath(place.folder);
	const before = lookAt(folder, logPath);
	const started = performance.now();
	const status = await runGame(launcher, signal);
	// A log that is as it was before is of another start.
	const after = lookAt(folder, logPath);
	const log = after !== null && after !== before ? readLogFile(folder, logPath) : '';
	return { status, milliseconds: Math.round(performance.now() - started), log, backup };
}

/** A trial: backup, install, start, log. Returns its number. @throws NotThere, SourceFault */
export async function runTrial(model: Model, signal?: AbortSignal): Promise<number> {
	const game = gameOf(model);
	const { place } = game;
	const { slug } = model.project;
	return inTurn(`game ${place.folder}`, async () => {
		const pack = await packFor(model);
		const other = await alsoThere(slug, place);
		if (other !== null)
			throw new SourceFault(
				`The project “${other}” has a mod in ${place.mod} of this game already. Remove that one from the game on its page Trial, or give this mod another name.`
			);
		const { backup, ...played } = await play(game, shelfOf(slug), shippedBy(model), pack, signal);
		return insertTrial(db(), slug, { ...played, files: pack.files.map((file) => file.path), backup });
	});
}

/**
 * A pack tried in the folder of another version of the game, and taken out of it again.
 * @throws NotThere, SourceFault
 */
export async function tryElsewhere(
	model: Model,
	folder: string,
	shipped: ReadonlySet<string>,
	pack: Pack,
	signal?: AbortSignal
): Promise<Omit<Played, 'backup'>> {
	const game = gameOf(model, folder);
	const shelf = shelfOf(`${model.project.slug} carried`);
	return inTurn(`game ${folder}`, async () => {
		const other = await alsoThere(`${model.project.slug} carried`, game.place);
		if (other !== null)
			throw new SourceFault(
				`The project “${other}” has a mod in ${game.place.mod} of this version already. Remove that one from the game on its page Trial first.`
			);
		try {
			const { backup: _, ...played } = await play(game, shelf, shipped, pack, signal);
			return played;
		} finally {
			await remove(shelf);
		}
	});
}

/** What of a project is in the game's folder; null for nothing. */
export async function installedNow(slug: string): Promise<Installed | null> {
	const state = await installedOn(shelfOf(slug));
	// A game that is gone took the mod with it.
	return state && (await realpath(state.folder).catch(() => null)) !== null ? state : null;
}

/** Takes the mod out of the game's folder and its load order, and puts back what was there before the first trial. */
export async function putBack(slug: string): Promise<Installed> {
	const state = await installedNow(slug);
	const removed = state && (await inTurn(`game ${state.folder}`, () => remove(shelfOf(slug))));
	if (!removed) throw new NotThere('Your mod is not installed in the game’s folder, so nothing was removed.');
	return removed;
}

/** Finishes or goes back on what was cut off when the server was last killed. */
export async function settleGames(): Promise<void> {
	for (const slug of await readdir(shelves()).catch(() => [])) {
		try {
			const state = await recover(shelfOf(slug));
			if (state) console.error(`${slug}: an interrupted installation into ${state.folder} was undone.`);
		} catch (fault) {
			console.error(`${slug}: ${(fault as Error).message}`);
		}
	}
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

/** The log's lines, each led back to the file and record of the stack that it names. */
export function readLog(model: Model, log: string): LogLine[] {
	const { install } = model.guide;
	const pattern = install && compilePattern(install.line);
	const folder = install && fillPattern(install.folder, (name) => ({ mod: identityFor(model).name })[name]);
	return log
		.split(/\r?\n/)
		.filter((text) => text !== '')
		.map((text): LogLine => {
			const groups = text.length > LONGEST_LINE ? null : pattern?.groups(text);
			const said = (name: string) => text.slice(...(groups?.get(name) ?? [0, 0]));
			const found = groups && { level: said('level'), file: said('file'), line: said('line') };
			if (!install || !found)
				return {
					text,
					level: null,
					refusal: false,
					kind: null,
					record: null,
					layer: null,
					path: null,
					line: null
				};
			const inMine = folder !== null && found.file.startsWith(`${folder}/`);
			const path = inMine ? found.file.slice(folder!.length + 1) : found.file;
			const layer = model.stack.layers.find((candidate) =>
				inMine ? candidate.owner === 'me' : candidate.owner === 'game'
			);
			const line = Number(found.line);
			const file = layer?.files.get(path);
			let record: string | null = null;
			let kind: string | null = null;
			const facts = file?.facts;
			const nth = facts ? facts.lines.indexOf(line) : -1;
			const claim = claimAt(model.stack.guide, path, facts?.parts, nth);
			if (facts && claim && nth >= 0 && facts.written[nth] === 1) {
				record = facts.pool.at(facts.ids[nth]!);
				kind = claim.kind;
			}
			return {
				text,
				level: found.level,
				refusal: install.refusals.includes(found.level),
				kind,
				record,
				layer: file ? layer!.id : null,
				path: file ? path : null,
				line
			};
		});
}
