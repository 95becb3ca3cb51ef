// A pack in a game's folder: put there, held against what it should be, tried, and taken out without a trace.
import { realpath, stat } from 'node:fs/promises';
import { basename, join, normalize } from 'node:path';
import { readDocument } from '$core/formats';
import { hintsFor, type Guide, type InstallGuide } from '$core/guide';
import { readLines } from '$core/log';
import { bareLine, bisecting, type Narrowed } from '$core/narrow';
import { identityIn, safeName } from '$core/stack';
import { decode, digestOf } from '$core/text';
import { counted } from '$core/wording';
import {
	install,
	installedOn,
	MOD_LIMITS,
	mustNotRun,
	openSource,
	readAll,
	recover,
	remove,
	startGame,
	verify,
	type Place,
	type Removed
} from '../src/lib/files';
import { homeFolder, read, WrongCall } from './arguments';
import { openGuide } from './open';

const OPTIONS = {
	target: { type: 'string' },
	pack: { type: 'string' },
	guide: { type: 'string' },
	json: { type: 'boolean' }
} as const;
const usageOf = (name: string) => `kettle ${name} --target DIR --pack FILE-or-DIR [--guide GUIDE] [--json]`;

/** A pack and the game that it is for. */
interface Wanted {
	place: Place;
	how: InstallGuide;
	/** The file that says who the mod is; it is always along. */
	identity: string | undefined;
	/** Where what is installed is written down, with the backups. */
	shelf: string;
	contents: Map<string, Uint8Array>;
}

/** Who a pack is: by its own file, else by its name. */
function nameOf(pack: string, contents: ReadonlyMap<string, Uint8Array>, guide: Guide): string {
	const bytes = guide.identity === undefined ? undefined : contents.get(guide.identity);
	const said = bytes
		? identityIn(readDocument(guide.identity!, decode(bytes).text, hintsFor(guide, guide.identity!))).name
		: undefined;
	return safeName(said ?? basename(pack.replace(/\/+$/, '')).replace(/\.(?:zip|tar|tgz)$/i, ''));
}

/** @throws WrongCall, SourceFault, UnsafeName */
async function wantedOf(
	values: { target?: string | undefined; pack?: string | undefined; guide?: string | undefined },
	usage: string
): Promise<Wanted> {
	const { target, pack } = values;
	if (target === undefined || pack === undefined)
		throw new WrongCall(`Name the game’s folder and the pack. Usage: ${usage}`);
	if (!(await stat(target).catch(() => null))?.isDirectory())
		throw new WrongCall(`There is no folder ${target}.`);
	if (!(await stat(pack).catch(() => null))) throw new WrongCall(`There is no file or folder ${pack}.`);
	const guide = await openGuide(values.guide, target);
	const { install: how } = guide;
	if (!how)
		throw new WrongCall(
			`No field guide says where mods go: neither --guide nor ${basename(target.replace(/\/+$/, ''))}.guide.yaml beside the folder has “install”.`
		);
	const source = await openSource(pack, MOD_LIMITS);
	for (const left of source.left) process.stderr.write(`Left out: ${left}.\n`);
	const contents = await readAll(source, true);
	const name = nameOf(pack, contents, guide);
	const fill = (path: string) => normalize(path.replaceAll('{mod}', name)).replace(/\/$/, '');
	const folder = await realpath(target);
	const place: Place = {
		folder,
		mod: fill(how.folder),
		over: how.over,
		twins: how.twins,
		order: how.order ?? null,
		listed: how.listed,
		name
	};
	const shelf = join(
		homeFolder(),
		'backups',
		`command-${digestOf(Buffer.from(`${folder}\n${name}`)).slice(0, 16)}`
	);
	const cutOff = await recover(shelf);
	if (cutOff)
		process.stderr.write(
			`What was under way in ${cutOff.folder} was ${cutOff.finished ? 'finished' : 'rolled back'}.\n`
		);
	return { place, how, identity: guide.identity, shelf, contents };
}

const print = (said: string) => process.stdout.write(`${said}\n`);

/** `kettle install`: the pack into the game's folder, after a backup. */
export async function installPack(args: string[]): Promise<number> {
	const { values } = read(args, OPTIONS, usageOf('install'));
	const { place, shelf, contents } = await wantedOf(values, usageOf('install'));
	await mustNotRun(place.folder);
	const { files, backup, list } = await install(shelf, place, new Set(), contents);
	if (values.json) print(JSON.stringify({ name: place.name, files, list, backup }));
	else {
		for (const { path, before, after } of files)
			print(`${after === null ? 'set aside' : before === null ? 'new' : 'replaced'}  ${path}`);
		if (list && list.before !== list.after) print(`listed  ${list.path}`);
		print(`${counted(files.length, 'file')}; backup: ${backup}`);
	}
	return 0;
}

/** What came of a removal, for people. */
function tell({ proof, aside, backup }: Removed): boolean {
	const whole = proof.every(({ before, now }) => before === now);
	for (const { path, before, now } of proof) if (before !== now) print(`not as it was  ${path}`);
	for (const path of aside) print(`kept  ${join(backup, 'changed', path)}`);
	print(
		whole
			? `As it was, byte for byte: ${counted(proof.length, 'file')}.`
			: 'Not everything is as it was; the backup has what was there before.'
	);
	return whole;
}

/** `kettle remove`: the pack out of the game's folder, proven by digests. */
export async function removePack(args: string[]): Promise<number> {
	const { values } = read(args, OPTIONS, usageOf('remove'));
	const { place, shelf } = await wantedOf(values, usageOf('remove'));
	await mustNotRun(place.folder);
	const removed = await remove(shelf);
	if (!removed)
		throw new WrongCall(`${place.name} is not installed in ${place.folder}. Nothing was removed.`);
	const whole = removed.proof.every(({ before, now }) => before === now);
	if (values.json)
		print(JSON.stringify({ name: place.name, whole, files: removed.proof, aside: removed.aside }));
	else tell(removed);
	return whole ? 0 : 1;
}

/** `kettle verify`: whether what is installed is what the pack has. */
export async function verifyPack(args: string[]): Promise<number> {
	const { values } = read(args, OPTIONS, usageOf('verify'));
	const { place, shelf, contents } = await wantedOf(values, usageOf('verify'));
	const state = await installedOn(shelf);
	const files = state ? await verify(state) : [];
	const wrong: { path: string; state: string }[] = files.filter((file) => file.state !== 'whole');
	const expected = new Map(state?.files.map(({ path, after }) => [path, after]));
	if (state && state.over !== true)
		for (const [path, bytes] of contents)
			if (expected.get(`${place.mod}/${path}`) !== digestOf(bytes))
				wrong.push({ path: `${place.mod}/${path}`, state: 'of another pack' });
	const whole = state !== null && wrong.length === 0;
	if (values.json)
		print(JSON.stringify({ name: place.name, installed: state !== null, whole, files, wrong }));
	else if (state === null) print(`${place.name} is not installed in ${place.folder}.`);
	else {
		for (const { path, state: what } of wrong) print(`${what}  ${path}`);
		print(
			whole
				? `Whole: ${counted(files.length, 'file')}.`
				: `${counted(wrong.length, 'file')} not as installed.`
		);
	}
	return whole ? 0 : 1;
}

const TRY =
	'kettle try --target DIR --pack FILE-or-DIR [--guide GUIDE] [--keep] [--seconds N] [--json] -- PROGRAM [ARG…]';
const NARROW =
	'kettle narrow --target DIR --pack FILE-or-DIR [--line TEXT] [--guide GUIDE] [--seconds N] [--json] -- PROGRAM [ARG…]';

const PLAYED = { ...OPTIONS, seconds: { type: 'string' } } as const;

/** What a start of the game left: how it ended, and the lines of its log. */
interface Run {
	clean: boolean;
	status: number | null;
	milliseconds: number;
	lines: (ReturnType<typeof readLines>[number] & { refusal: boolean })[];
}

/** What starts the game of a call. @throws WrongCall */
function starterOf(
	{ place, how }: Wanted,
	positionals: readonly string[],
	said: string | undefined,
	usage: string
): () => Promise<Run> {
	const [program, ...words] = positionals;
	if (program === undefined) throw new WrongCall(`Name the program to be started behind --. Usage: ${usage}`);
	const seconds = said === undefined ? null : Number(said);
	if (seconds !== null && !(seconds > 0))
		throw new WrongCall(`--seconds takes a number above 0. Usage: ${usage}`);
	return async () => {
		const { status, milliseconds, log } = await startGame(
			{
				folder: place.folder,
				program,
				arguments: words.map((word) => word.replaceAll('{mod}', place.name)),
				...(seconds === null ? {} : { ends: { line: null, seconds } })
			},
			how.log ?? null
		);
		const lines = readLines(log, how.line ?? null).map((line) => ({
			...line,
			refusal: line.level !== null && how.refusals.includes(line.level)
		}));
		return { clean: status === 0 && !lines.some(({ refusal }) => refusal), status, milliseconds, lines };
	};
}

/** Does some work, after which what was not in the game before is out of it again. @returns whether all is as it was */
async function thenOut(shelf: string, keep: boolean, work: () => Promise<void>): Promise<boolean> {
	let whole: boolean;
	try {
		await work();
	} finally {
		const removed = keep ? null : await remove(shelf);
		whole = removed === null || removed.proof.every(({ before, now }) => before === now);
		if (!whole)
			process.stderr.write(
				`Not everything in the game’s folder is as it was; the backup is ${removed!.backup}.\n`
			);
	}
	return whole;
}

/** `kettle try`: installs the pack, starts the game, reads its log, and takes the pack out again. */
export async function tryPack(args: string[]): Promise<number> {
	const { values, positionals } = read(args, { ...PLAYED, keep: { type: 'boolean' } }, TRY);
	const wanted = await wantedOf(values, TRY);
	const { place, shelf, contents } = wanted;
	const start = starterOf(wanted, positionals, values.seconds, TRY);
	await mustNotRun(place.folder);
	// What was installed already stays.
	const keep = values.keep === true || (await installedOn(shelf)) !== null;
	let clean = false;
	const whole = await thenOut(shelf, keep, async () => {
		await install(shelf, place, new Set(), contents);
		const run = await start();
		clean = run.clean;
		if (values.json) print(JSON.stringify(run));
		else {
			for (const { text, refusal } of run.lines) print(`${refusal ? '! ' : '  '}${text}`);
			print(
				clean ? 'Loaded cleanly.' : `Did not load cleanly (status ${run.status ?? 'none: it was ended'}).`
			);
		}
	});
	return clean && whole ? 0 : 1;
}

/** `kettle narrow`: which files of a pack bring a fault about, found by starting the game with some of them. */
export async function narrowPack(args: string[]): Promise<number> {
	const { values, positionals } = read(args, { ...PLAYED, line: { type: 'string' } }, NARROW);
	const wanted = await wantedOf(values, NARROW);
	const { place, shelf, contents, identity } = wanted;
	const start = starterOf(wanted, positionals, values.seconds, NARROW);
	await mustNotRun(place.folder);
	const was = await installedOn(shelf);
	const sought = values.line === undefined ? null : bareLine(values.line);
	const paths = [...contents.keys()].filter((path) => path !== identity);
	const fails = ({ clean, lines }: Run) =>
		sought === null ? !clean : lines.some(({ text }) => bareLine(text).includes(sought));
	const search = bisecting(paths.length);
	let next = search.next();
	let starts = 0;
	const whole = await thenOut(shelf, was !== null, async () => {
		while (!next.done) {
			const parts = new Set(next.value.map((nth) => paths[nth]));
			const some = new Map([...contents].filter(([path]) => path === identity || parts.has(path)));
			await install(shelf, place, new Set(), some);
			const failed = fails(await start());
			starts++;
			if (!values.json) print(`${failed ? 'occurs' : 'does not occur'}  with ${counted(parts.size, 'file')}`);
			next = search.next(failed ? 'fails' : 'passes');
		}
		if (was) await install(shelf, place, new Set(), contents);
	});
	const found = next.value as Narrowed;
	const causes = found.causes.map((cause) => cause.map((nth) => paths[nth]!));
	if (values.json) print(JSON.stringify({ none: found.none, causes, starts }));
	else if (found.none !== null)
		print(
			found.none === 'without any'
				? 'It occurs even without any of them.'
				: 'It does not occur even with all of them.'
		);
	else for (const cause of causes) print(`${cause.length === 1 ? 'alone' : 'together'}  ${cause.join('  ')}`);
	return causes.length > 0 && whole ? 0 : 1;
}
