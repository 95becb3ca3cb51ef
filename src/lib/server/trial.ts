// Installing the pack into the game's folder after a backup, starting the game, and reading its log.
import { spawn } from 'node:child_process';
import { cp, mkdir, readdir, readFile, rm, stat } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import { claimOf, fillPattern, type Guide } from '$core/guide';
import { identityOf, packOf, type Pack } from '$core/pack';
import { SourceFault, writeAtomic, writeTree } from '../files';
import { readBlobs } from './db/blobs';
import type { Launcher } from './db/projects';
import { db } from './db/pool';
import { firstBackup, insertTrial } from './db/trials';
import { mineOf, NotThere, type Model } from './model';
import { homeFolder } from './settings';

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
			.filter((layer) => layer.role !== 'mine')
			.flatMap((layer) => layer.files.map((file) => file.path))
	);
	return packOf(contents, below, model.guide, identityOf(model.stack, model.project.mod));
}

interface Places {
	launcher: Launcher;
	install: NonNullable<Guide['install']>;
	/** Folder of the mod, and the file with the load order, in the game's folder. */
	mod: string;
	order: string;
}

function placesOf(model: Model): Places {
	const { launcher } = model.project;
	const { install } = model.guide;
	if (!launcher || !install)
		throw new NotThere('Nobody has said yet how this game is installed and started.');
	const folder = fillPattern(
		install.folder,
		(name) => ({ mod: identityOf(model.stack, model.project.mod).name })[name]
	);
	const leaves = [folder!, install.order, install.log].find(
		(path) => !resolve(launcher.folder, path).startsWith(launcher.folder + sep)
	);
	if (leaves !== undefined)
		throw new NotThere(
			`The field guide names ${leaves}, which leaves the game’s folder. Nothing was installed.`
		);
	return {
		launcher,
		install,
		mod: join(launcher.folder, folder!),
		order: join(launcher.folder, install.order)
	};
}

const there = (path: string) =>
	stat(path).then(
		() => true,
		() => false
	);

async function backUp(places: Places, slug: string): Promise<string> {
	const backup = join(homeFolder(), 'backups', slug, new Date().toISOString().replace(/[:.]/g, '-'));
	await mkdir(backup, { recursive: true });
	if (await there(places.mod)) await cp(places.mod, join(backup, 'mod'), { recursive: true });
	if (await there(places.order)) await cp(places.order, join(backup, 'order.json'));
	return backup;
}

/** The game's load order; one without mods where the file is not there. @throws SourceFault when it cannot be read */
async function readOrder(path: string): Promise<{ mods: string[] }> {
	const text = await readFile(path, 'utf8').catch(() => '{}');
	try {
		const order = JSON.parse(text) as { mods?: string[] };
		return { ...order, mods: order.mods ?? [] };
	} catch {
		throw new SourceFault(
			`${path} is not JSON, so the load order cannot be changed. Mend or remove it; nothing was installed.`
		);
	}
}

const writeOrder = (path: string, order: { mods: string[] }) =>
	writeAtomic(path, Buffer.from(`${JSON.stringify(order, null, '\t')}\n`));

async function install(places: Places, pack: Pack, name: string): Promise<void> {
	const order = await readOrder(places.order);
	await mkdir(dirname(places.mod), { recursive: true });
	await writeTree(places.mod, pack.contents);
	await writeOrder(places.order, { ...order, mods: [...new Set([...order.mods, name])] });
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
		child.once('error', (error) => (error.name === 'AbortError' ? done(null) : failed(error)));
		child.once('exit', (status) => done(status));
	});
}

/** A trial: backup, install, start, log. Returns its number. @throws NotThere */
export async function runTrial(model: Model, signal?: AbortSignal): Promise<number> {
	const places = placesOf(model);
	const pack = await packFor(model);
	const backup = await backUp(places, model.project.slug);
	await install(places, pack, identityOf(model.stack, model.project.mod).name);
	const logFile = join(places.launcher.folder, places.install.log);
	await rm(logFile, { force: true });
	const started = performance.now();
	const status = await runGame(places.launcher, signal);
	const log = await readFile(logFile, 'utf8').catch(() => '');
	return insertTrial(db(), model.project.slug, {
		status,
		milliseconds: Math.round(performance.now() - started),
		log,
		files: pack.files.map((file) => file.path),
		backup
	});
}

/** Whether my mod stands in the game's folder, where none of its name stood before the first trial. */
export async function isInstalled(model: Model): Promise<boolean> {
	const backup = await firstBackup(db(), model.project.slug);
	if (backup === null || !model.project.launcher || !model.guide.install) return false;
	return (await there(placesOf(model).mod)) && !(await there(join(backup, 'mod')));
}

/** Takes the mod out of the game's folder and its load order, and puts back what stood there before the first trial. */
export async function putBack(model: Model): Promise<void> {
	const places = placesOf(model);
	const backup = await firstBackup(db(), model.project.slug);
	if (backup === null) throw new NotThere('Nothing was installed yet, so there is nothing to put back.');
	const before = join(backup, 'order.json');
	const [order, old] = [await readOrder(places.order), await readOrder(before)];
	await rm(places.mod, { recursive: true, force: true });
	if (await there(join(backup, 'mod'))) await cp(join(backup, 'mod'), places.mod, { recursive: true });
	else if ((await readdir(dirname(places.mod))).length === 0)
		await rm(dirname(places.mod), { recursive: true });
	// Other mods may have come since: only mine goes, unless it was listed before.
	const { name } = identityOf(model.stack, model.project.mod);
	const mods = order.mods.filter((mod) => mod !== name || old.mods.includes(name));
	if (mods.length === 0 && !(await there(before))) await rm(places.order, { force: true });
	else await writeOrder(places.order, { ...order, mods });
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
	const pattern = install && new RegExp(install.line);
	const folder =
		install &&
		fillPattern(install.folder, (name) => ({ mod: identityOf(model.stack, model.project.mod).name })[name]);
	return log
		.split(/\r?\n/)
		.filter((text) => text !== '')
		.map((text): LogLine => {
			const found = pattern?.exec(text)?.groups;
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
			const inMine = folder !== null && found.file!.startsWith(`${folder}/`);
			const path = inMine ? found.file!.slice(folder!.length + 1) : found.file!;
			const layer = model.stack.layers.find((candidate) =>
				inMine ? candidate.role === 'mine' : candidate.role === 'base'
			);
			const line = Number(found.line);
			const file = layer?.files.get(path);
			let record: string | null = null;
			let kind: string | null = null;
			const facts = file?.facts;
			const nth = facts ? facts.lines.indexOf(line) : -1;
			const claim = claimOf(model.stack.guide, path);
			if (facts && claim && nth >= 0 && facts.written[nth] === 1) {
				record = facts.pool.at(facts.ids[nth]!);
				kind = claim.kind;
			}
			return {
				text,
				level: found.level!,
				refusal: install.refusals.includes(found.level!),
				kind,
				record,
				layer: file ? layer!.id : null,
				path: file ? path : null,
				line
			};
		});
}
