import { createHash } from 'node:crypto';
import { mkdir, readFile, realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { bytesOf, type FileContent } from '$core/change';
import { checkStack, countSnags } from '$core/checks';
import { changesBetween } from '$core/carry';
import { changeList, packOf, sharedTexts, tablePictures, zipOf, type Pack, type Shared } from '$core/pack';
import { fileBelow, buildStack, identityOf, type Stack } from '$core/stack';
import { digestOf } from '$core/text';
import { programsOf, sourcesDigest } from '$core/derived';
import type { Guide } from '$core/guide';
import {
	madeByTool,
	MOD_LIMITS,
	openFolder,
	SourceFault,
	toolFor,
	writeAtomic,
	writeTree
} from '../src/lib/files';
import { homeFolder, read, WrongCall } from './arguments';
import { openStack } from './open';

const USAGE =
	'kettle pack --game DIR [--layer DIR]… --mod DIR --out DIR-or-ZIP [--guide GUIDE] [--readme] [--changes] [--pictures] [--run-tools] [--json]';

/** A path by its real name, as far as it is there. */
const realOf = async (path: string): Promise<string> =>
	(await realpath(path).catch(() => null)) ??
	join(await realpath(dirname(resolve(path))).catch(() => dirname(resolve(path))), basename(path));

/** @throws WrongCall where the pack would be written into what it is made from, or over it */
async function mustBeApart(out: string, other: string): Promise<void> {
	const [a, b] = [await realOf(out), await realOf(other)];
	if (a === b || a.startsWith(b + sep) || b.startsWith(a + sep))
		throw new WrongCall(
			`--out ${out} and ${other} are one folder, or one is in the other. Nothing was written; choose a folder of its own.`
		);
}

/** Where the digests of the pack that was written to a folder are kept. */
const memoryOf = async (folder: string) =>
	join(
		homeFolder(),
		'packs',
		`${createHash('sha256')
			.update(await realOf(folder))
			.digest('hex')}.json`
	);

/** Writes down what was written to a folder, so that the next pack may replace it. */
async function remember(folder: string, made: Pack): Promise<void> {
	const file = await memoryOf(folder);
	await mkdir(dirname(file), { recursive: true });
	const digests = made.files.map(({ path, sha256 }) => [path, sha256]);
	await writeAtomic(file, Buffer.from(JSON.stringify(digests)));
}

/** @throws WrongCall where a folder holds what no pack put there: it would be lost */
async function mustBePack(folder: string, made: Pack): Promise<void> {
	const there = await stat(folder).catch(() => null);
	if (!there) return;
	if (!there.isDirectory())
		throw new WrongCall(`${folder} is a file; --out takes a folder or a name ending in .zip.`);
	const last = await readFile(await memoryOf(folder), 'utf8').catch(() => '[]');
	const ours = new Set((JSON.parse(last) as [string, string][]).map((entry) => entry.join('\n')));
	for (const { path, sha256 } of made.files) ours.add(`${path}\n${sha256}`);
	const source = await openFolder(folder, MOD_LIMITS);
	const foreign = source.left.map((sentence) => sentence.split(' ')[0]!);
	for (const entry of source.entries)
		if (!ours.has(`${entry.path}\n${(await source.read(entry)).sha256}`)) foreign.push(entry.path);
	if (foreign.length === 0) return;
	throw new WrongCall(
		`${folder} holds ${foreign.length === 1 ? 'a file' : `${foreign.length} files`} that no pack put there, or that changed since: ${foreign.slice(0, 3).join(', ')}${foreign.length > 3 ? ', …' : ''}. Nothing was written; choose an empty folder, or move these away first.`
	);
}

/**
 * Writes a pack to a folder or a ZIP.
 * @param others what it is made from, which must be apart from it
 * @throws WrongCall where something else would be lost
 */
export async function writePack(out: string, made: Pack, others: readonly string[]): Promise<void> {
	for (const other of others) await mustBeApart(out, other);
	if (out.toLowerCase().endsWith('.zip')) return writeAtomic(out, zipOf(made));
	const folder = out.replace(/\/+$/, '');
	await mustBePack(folder, made);
	await writeTree(folder, made.contents);
	await remember(folder, made);
}

/** All files of a mod as a pack, with nothing added or left out. */
export function wholePack(files: Iterable<readonly [path: string, content: FileContent]>): Pack {
	const contents = new Map([...files].map(([path, file]) => [path, bytesOf(file)] as const));
	return {
		files: [...contents].map(([path, bytes]) => ({
			path,
			why: 'new',
			reason: 'part of the mod',
			sha256: digestOf(bytes),
			bytes: bytes.length
		})),
		contents
	};
}

/** What goes along for those who play it. */
function textsOf(stack: Stack, name: string, wanted: readonly Shared[]): Map<string, string> {
	if (wanted.length === 0) return new Map();
	const alone = buildStack(
		stack.layers.filter(({ owner }) => owner !== 'me'),
		stack.guide,
		stack.pool,
		stack
	);
	const changes = changesBetween(alone, stack);
	return sharedTexts(
		{
			identity: identityOf(stack, name),
			guide: stack.guide,
			changes: changeList(stack.guide, changes),
			pictures: tablePictures(stack.guide, changes),
			options: [],
			paths: [...(stack.mine?.files.keys() ?? [])]
		},
		wanted
	);
}

/**
 * What programs of the game's tools make, where they may be run; else says which were not.
 * @throws WrongCall where one fails
 */
async function madeFiles(
	guide: Guide,
	game: string,
	files: ReadonlyMap<string, Uint8Array>,
	below: ReadonlySet<string>,
	run: boolean | undefined
): Promise<Map<string, Uint8Array>> {
	const made = new Map<string, Uint8Array>();
	for (const about of programsOf(guide)) {
		const { file } = about;
		const now = new Map([...files, ...made]);
		if (sourcesDigest(about, now, below) === null) continue;
		const command = toolFor(about, await realOf(game));
		if (run !== true) {
			process.stderr.write(
				`${file} is made by a program, which was not run: ${[command.program, ...command.arguments].join(' ')}. Give --run-tools to run it.\n`
			);
			continue;
		}
		try {
			made.set(file, await madeByTool(command, now, file));
		} catch (fault) {
			throw fault instanceof SourceFault ? new WrongCall(fault.message) : fault;
		}
	}
	return made;
}

/** `kettle pack`: my mod as it is installed, with a list of what is in it and why. */
export async function pack(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			mod: { type: 'string' },
			out: { type: 'string' },
			guide: { type: 'string' },
			readme: { type: 'boolean' },
			changes: { type: 'boolean' },
			pictures: { type: 'boolean' },
			'run-tools': { type: 'boolean' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	const { game, mod, out } = values;
	if (game === undefined || mod === undefined || out === undefined)
		throw new WrongCall(`Name game, mod and out. Usage: ${USAGE}`);
	const { stack, layers, guide } = await openStack(game, values.layer ?? [], mod, values.guide);
	const below = new Set(
		layers
			.filter((layer) => layer.owner !== 'me')
			.flatMap((layer) => [...(layer.paths ?? layer.files.keys())])
	);
	const mine = layers.find((layer) => layer.owner === 'me')!;
	const texts = textsOf(stack, mine.title, [
		...(values.readme ? (['readme'] as const) : []),
		...(values.changes ? (['changes'] as const) : []),
		...(values.pictures ? (['pictures'] as const) : [])
	]);
	const made = packOf(mine.files, below, guide, identityOf(stack, mine.title), {
		texts,
		known: stack.guide,
		made: await madeFiles(guide, game, mine.files, below, values['run-tools']),
		below: (path) => fileBelow(stack, path)?.bytes()
	});
	await writePack(out, made, [game, mod, ...(values.layer ?? [])]);
	if (values.json)
		process.stdout.write(
			`${JSON.stringify({ files: made.files.map(({ path, why, sha256, bytes }) => ({ path, why, sha256, bytes })) })}\n`
		);
	else
		for (const file of made.files)
			process.stdout.write(`${file.why.padEnd(9)} ${file.path}  ${file.bytes} bytes: ${file.reason}\n`);
	return countSnags(checkStack(stack)).blocks > 0 ? 1 : 0;
}
