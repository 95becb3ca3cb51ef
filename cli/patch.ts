import { mkdir, realpath, stat } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { bytesOf, type FileContent } from '$core/change';
import {
	applyPatch,
	filePatch,
	PatchFault,
	printPatch,
	readPatch,
	type FilePatch,
	type FileResult
} from '$core/patch';
import { decode, looksBinary } from '$core/text';
import { counted } from '$core/wording';
import { MOD_LIMITS, openFolder, pathInside, readAll, writeAllAtomic, writeAtomic } from '../src/lib/files';
import { read, readNamed, WrongCall } from './arguments';

const MAKE = 'kettle patch make OLD NEW [--out P]';
const APPLY = 'kettle patch apply P --on DIR [--out DIR] [--at PATH:PART:LINE]… [--json]';

/** Bytes as a text where they are one. @param like the encoding of another version of the file */
const contentFrom = (bytes: Uint8Array, like?: string): FileContent =>
	looksBinary(bytes) ? bytes : decode(bytes, undefined, like);

/** All files at a path by their paths from it; a single file under its name. @throws WrongCall */
async function filesAt(path: string): Promise<Map<string, Uint8Array>> {
	const info = await stat(path).catch(() => null);
	if (!info) throw new WrongCall(`There is no file or folder ${path}.`);
	if (!info.isDirectory()) return new Map([[basename(path), await readNamed(path)]]);
	const source = await openFolder(path, MOD_LIMITS);
	for (const left of source.left) process.stderr.write(`Left out: ${left}.\n`);
	return readAll(source, true);
}

/** Two versions of a file; texts in one encoding, where the bytes of the one allow that of the other. */
function alike(before: Uint8Array, after: Uint8Array): [FileContent, FileContent] {
	const [old, fresh] = [contentFrom(before), contentFrom(after)];
	if (old instanceof Uint8Array || fresh instanceof Uint8Array || old.encoding === fresh.encoding)
		return [old, fresh];
	const again = decode(before, fresh.encoding);
	if (again.encoding === fresh.encoding) return [again, fresh];
	return [old, decode(after, old.encoding)];
}

/** `kettle patch make`: what leads from one version of a file or folder to another. */
async function make(args: string[]): Promise<number> {
	const { values, positionals } = read(args, { out: { type: 'string' } }, MAKE);
	const [old, fresh, ...more] = positionals;
	if (old === undefined || fresh === undefined || more.length > 0)
		throw new WrongCall(`Name the old version and the new one. Usage: ${MAKE}`);
	const [before, after] = [await filesAt(old), await filesAt(fresh)];
	const single = !(await stat(old)).isDirectory();
	if (single !== !(await stat(fresh)).isDirectory())
		throw new WrongCall(`${old} and ${fresh} must both be files or both be folders. Usage: ${MAKE}`);
	const files: FilePatch[] = [];
	for (const path of [...new Set([...before.keys(), ...(single ? [] : after.keys())])].sort()) {
		const was = before.get(path);
		const is = single ? [...after.values()][0] : after.get(path);
		const [from, to] = was && is ? alike(was, is) : [was && contentFrom(was), is && contentFrom(is)];
		const one = filePatch(path, from, to);
		if (one) files.push(one);
	}
	const text = printPatch({ files });
	if (values.out === undefined) process.stdout.write(text);
	else {
		await writeAtomic(values.out, Buffer.from(text));
		const parts = files.reduce((sum, one) => sum + one.parts.length, 0);
		process.stdout.write(`${counted(files.length, 'file')}, ${counted(parts, 'part')}: ${values.out}\n`);
	}
	return 0;
}

/** What somebody said with `--at`: lines by path and number of the part. @throws WrongCall */
function choicesFrom(said: readonly string[]): Map<string, Map<number, number>> {
	const choices = new Map<string, Map<number, number>>();
	for (const one of said) {
		const [, path, part, line] = /^(.+):(\d+):(\d+)$/.exec(one) ?? [];
		if (path === undefined) throw new WrongCall(`“${one}” is not PATH:PART:LINE. Usage: ${APPLY}`);
		const parts = choices.get(path) ?? new Map<number, number>();
		choices.set(path, parts.set(Number(part), Number(line)));
	}
	return choices;
}

/** What came of a file, line by line, for people. */
function saidOf({ path, applied, reason, parts }: FileResult, wanted: FilePatch): string[] {
	const place = wanted.of === 'bytes' ? 'byte' : 'line';
	const at = (line: number) => `${place} ${wanted.of === 'bytes' ? line - 1 : line}`;
	if (reason !== '') return [`${path}: ${reason}`];
	if (applied) return [`${path}: ${counted(parts.length, 'part')} applied`];
	return parts.flatMap((part, nth) => {
		if (part.applied) return [];
		const near = part.candidates
			.map(({ line, likeness }) => `${at(line)} (${Math.round(likeness * 100)} % alike)`)
			.join(', ');
		return [
			`${path}, part ${nth + 1} of ${parts.length}: ${part.reason}${near === '' ? '' : ` Nearest: ${near}.`}`
		];
	});
}

/** `kettle patch apply`: a patch on another version of its files: all of it, or nothing. */
async function apply(args: string[]): Promise<number> {
	const { values, positionals } = read(
		args,
		{
			on: { type: 'string' },
			out: { type: 'string' },
			at: { type: 'string', multiple: true },
			json: { type: 'boolean' }
		},
		APPLY
	);
	const [name, ...more] = positionals;
	if (name === undefined || more.length > 0 || values.on === undefined)
		throw new WrongCall(`Name a patch, and with --on the folder it is for. Usage: ${APPLY}`);
	const patch = readPatch(decode(await readNamed(name)).text);
	const on = await stat(values.on).catch(() => null);
	if (!on) throw new WrongCall(`There is no file or folder ${values.on}.`);
	const root = await realpath(on.isDirectory() ? values.on : dirname(values.on));
	const there = new Map<string, FileContent>();
	for (const { path, of } of patch.files) {
		const full = on.isDirectory() ? await pathInside(root, path) : await realpath(values.on);
		const bytes = (await stat(full).catch(() => null)) ? await readNamed(full) : null;
		if (bytes) there.set(path, of === 'bytes' ? bytes : contentFrom(bytes));
	}
	const result = applyPatch(patch, (path) => there.get(path), choicesFrom(values.at ?? []));
	if (result.applied && values.out !== undefined) {
		await mkdir(values.out, { recursive: true });
		const out = await realpath(values.out);
		const changed: [string, Uint8Array][] = [];
		for (const { path, after } of result.files) {
			if (!after) continue;
			const full = await pathInside(out, path);
			await mkdir(dirname(full), { recursive: true });
			changed.push([full, bytesOf(after)]);
		}
		await writeAllAtomic(changed);
	}
	if (values.json) {
		const files = result.files.map(({ path, applied, already, reason, parts }) => ({
			path,
			applied,
			already,
			reason,
			parts
		}));
		process.stdout.write(`${JSON.stringify({ applied: result.applied, files })}\n`);
	} else {
		for (const [nth, one] of result.files.entries())
			for (const line of saidOf(one, patch.files[nth]!)) process.stdout.write(`${line}\n`);
		for (const { path, after } of result.files)
			if (after === null) process.stdout.write(`${path} cannot be removed by a mod; the patch removes it.\n`);
		if (!result.applied) process.stdout.write('Nothing was written.\n');
		else if (values.out === undefined)
			process.stdout.write('Nothing was written: name a folder with --out.\n');
		else process.stdout.write(`Written to ${join(values.out, '')}\n`);
	}
	return result.applied ? 0 : 1;
}

/** `kettle patch`: patches made and applied. */
export async function patch([what = '', ...args]: string[]): Promise<number> {
	try {
		if (what === 'make') return await make(args);
		if (what === 'apply') return await apply(args);
	} catch (error) {
		if (error instanceof PatchFault) throw new WrongCall(error.message);
		throw error;
	}
	throw new WrongCall(`“${what}” is not one of make and apply. Usage: ${MAKE}, or ${APPLY}`);
}
