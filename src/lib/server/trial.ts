// Installing the pack into the game's folder after a backup, starting the game, and reading its log.
import { readdir, realpath } from 'node:fs/promises';
import { foretoldBy } from '$core/checks';
import { packOf, type Pack } from '$core/pack';
import { fileBelow } from '$core/stack';
import type { ProgramView } from '$core/views';
import {
	install,
	installedOn,
	meets,
	mustNotRun,
	recover,
	remove,
	SourceFault,
	startGame,
	type Installed,
	type Place,
	type Removed,
	type Started
} from '../files';
import { readBlobs } from './db/blobs';
import { db } from './db/pool';
import { insertTrial } from './db/trials';
import { NotThere } from './faults';
import { gameOf, type Game } from './game';
import { identityFor } from './identity';
import { madeFor } from './made';
import { mineOf, type Model } from './model';
import { shelfOf, shelves } from './settings';
import { inTurn } from './turns';

/** The files of my mod as they are now. */
export async function contentsFor(model: Model): Promise<Map<string, Uint8Array>> {
	const mine = mineOf(model);
	const blobs = await readBlobs(
		db(),
		mine.files.map((file) => file.sha256)
	);
	return new Map(mine.files.map((file) => [file.path, blobs.get(file.sha256)!]));
}

/** The pack of my mod, and what is to be said of the programs that make some of its files. */
export interface Packed {
	pack: Pack;
	programs: ProgramView[];
}

/**
 * The pack of my mod as it is now.
 * @param other its files, where they are not those that it has now, and texts that go along
 * @throws SourceFault where a program that makes one of its files fails
 */
export async function packFor(
	model: Model,
	other: { files?: ReadonlyMap<string, Uint8Array>; texts?: ReadonlyMap<string, string> } = {}
): Promise<Pack> {
	const { pack, programs } = await packed(model, other);
	const failed = programs.find(({ state }) => state === 'failed');
	if (failed) throw new SourceFault(failed.said!);
	return pack;
}

/** The pack of my mod; what a program could not make is in it as my mod has it. */
export async function packed(
	model: Model,
	other: { files?: ReadonlyMap<string, Uint8Array>; texts?: ReadonlyMap<string, string> } = {}
): Promise<Packed> {
	const contents = other.files ?? (await contentsFor(model));
	const below = new Set(
		model.layers
			.filter((layer) => layer.on && layer.owner !== 'me')
			.flatMap((layer) => layer.files.map((file) => file.path))
	);
	const { files: made, programs } = await madeFor(model, contents, below);
	const pack = packOf(contents, below, model.guide, identityFor(model), {
		texts: other.texts,
		made,
		known: model.stack.guide,
		below: (path) => fileBelow(model.stack, path)?.bytes()
	});
	return { pack, programs };
}

/** The paths of all files that the game itself has. */
const shippedBy = (model: Model): Set<string> =>
	new Set(
		model.layers.filter(({ owner }) => owner === 'game').flatMap(({ files }) => files.map(({ path }) => path))
	);

/** @throws SourceFault where another project has a mod in the same place of the same game, or the game runs */
async function mustBeFree(slug: string, place: Place, pack: Pack): Promise<void> {
	for (const other of await readdir(shelves()).catch(() => [])) {
		const state = other === slug ? null : await installedOn(shelfOf(other)).catch(() => null);
		const met = state && meets(state, place, pack.contents.keys());
		if (met)
			throw new SourceFault(
				`The project “${other}” has a mod in ${met} of this game already. Remove that one from the game on its page Trial, or give this mod another name.`
			);
	}
	await mustNotRun(place.folder);
}

/** Snags that are kept with a trial. */
const MOST_FORETOLD = 500;

/** What a start of the game with my mod left. */
interface Played extends Started {
	/** Where what was there before is kept. */
	backup: string;
	/** Milliseconds that installing took, and how many files of the game's folder it wrote. */
	installed: { install: number; written: number };
}

/** Backs up, installs, starts the game and reads its log. @throws SourceFault */
async function play(
	game: Game,
	shelf: string,
	shipped: ReadonlySet<string>,
	pack: Pack,
	signal?: AbortSignal
): Promise<Played> {
	const began = performance.now();
	const { backup, written } = await install(shelf, game.place, shipped, pack.contents);
	const installed = { install: Math.round(performance.now() - began), written };
	return { ...(await startGame(game.launcher, game.log, signal)), backup, installed };
}

/**
 * The game with some pack in it, which stays there; nothing is kept of it as a trial.
 * @param listed writes the game's load order as it is to be, while my mod is not in it
 * @throws NotThere, SourceFault
 */
export async function playWith(
	model: Model,
	pack: Pack,
	signal?: AbortSignal,
	listed?: (place: Place) => Promise<void>
): Promise<Started> {
	const game = gameOf(model);
	const { slug } = model.project;
	return inTurn(`game ${game.place.folder}`, async () => {
		await mustBeFree(slug, game.place, pack);
		if (listed) {
			await remove(shelfOf(slug));
			await listed(game.place);
		}
		return play(game, shelfOf(slug), shippedBy(model), pack, signal);
	});
}

/** Puts a pack into the game without starting it. @throws NotThere, SourceFault */
export async function putInto(model: Model, pack: Pack): Promise<void> {
	const { place } = gameOf(model);
	await inTurn(`game ${place.folder}`, () =>
		install(shelfOf(model.project.slug), place, shippedBy(model), pack.contents)
	);
}

/** Puts a pack into the game before it is played, or takes my mod out. @throws NotThere, SourceFault */
export async function prepare(model: Model, pack: Pack | null): Promise<void> {
	const { place } = gameOf(model);
	const { slug } = model.project;
	await inTurn(`game ${place.folder}`, async () => {
		await mustNotRun(place.folder);
		if (pack === null) {
			if (await installedNow(slug)) await remove(shelfOf(slug));
			return;
		}
		await mustBeFree(slug, place, pack);
		await install(shelfOf(slug), place, shippedBy(model), pack.contents);
	});
}

/** What came of a trial: its number, how the game ended, what it wrote, and how long each step took. */
export interface Tried extends Started {
	trial: number;
	took: { pack: number; install: number; written: number };
}

/** A trial: backup, install, start, log. @throws NotThere, SourceFault */
export async function runTrial(model: Model, signal?: AbortSignal): Promise<Tried> {
	const game = gameOf(model);
	const { place } = game;
	const { slug } = model.project;
	return inTurn(`game ${place.folder}`, async () => {
		const began = performance.now();
		const pack = await packFor(model);
		const packed = Math.round(performance.now() - began);
		await mustBeFree(slug, place, pack);
		const { backup, installed, ...played } = await play(game, shelfOf(slug), shippedBy(model), pack, signal);
		const took = { pack: packed, ...installed };
		const trial = await insertTrial(db(), slug, {
			...played,
			took,
			files: pack.files.map((file) => file.path),
			backup,
			foretold: foretoldBy(model.snags, MOST_FORETOLD)
		});
		return { trial, ...played, took };
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
): Promise<Started> {
	const game = gameOf(model, folder);
	const shelf = shelfOf(`${model.project.slug} carried`);
	return inTurn(`game ${folder}`, async () => {
		await mustBeFree(`${model.project.slug} carried`, game.place, pack);
		try {
			const { backup: _, installed: __, ...played } = await play(game, shelf, shipped, pack, signal);
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
export async function putBack(slug: string): Promise<Removed> {
	const state = await installedNow(slug);
	const removed =
		state &&
		(await inTurn(`game ${state.folder}`, async () => {
			await mustNotRun(state.folder);
			return remove(shelfOf(slug));
		}));
	if (!removed) throw new NotThere('Your mod is not installed in the game’s folder, so nothing was removed.');
	return removed;
}

/** Finishes or goes back on what was cut off when the server was last killed. */
export async function settleGames(): Promise<void> {
	for (const slug of await readdir(shelves()).catch(() => [])) {
		try {
			const state = await recover(shelfOf(slug));
			if (state)
				console.error(
					`${slug}: what was under way in ${state.folder} was ${state.finished ? 'finished' : 'rolled back'}.`
				);
		} catch (fault) {
			console.error(`${slug}: ${(fault as Error).message}`);
		}
	}
}
