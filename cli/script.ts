import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { counted } from '../src/lib/core/wording';
import { readDocument } from '$core/formats';
import { NoRecord, throwOn } from '$core/links';
import { decode } from '$core/text';
import { thrown, ThrowFault } from '../src/lib/files';
import { read, WrongCall } from './arguments';
import { openStack } from './open';

const CHECK = 'kettle script check DIR… [--json]';
const TRY =
	'kettle script try --game DIR EVENT [ARGS] [--layer DIR]… [--mod DIR] [--guide GUIDE] [--times N] [--seed N] [--json]';

/** Milliseconds that a try may take. */
const MOST_TIME = 60_000;

const machine = fileURLToPath(new URL('thrower.js', import.meta.url));

/** The Lua files at a path: itself, or all below it, in the order of their names. */
async function scriptsAt(path: string): Promise<string[]> {
	const info = await stat(path).catch(() => null);
	if (!info) throw new WrongCall(`There is no file or folder ${path}.`);
	if (!info.isDirectory()) return [path];
	const entries = await readdir(path, { recursive: true, withFileTypes: true });
	return entries
		.filter((entry) => entry.isFile() && /\.lua$/i.test(entry.name))
		.map((entry) => join(entry.parentPath, entry.name))
		.sort();
}

/** `kettle script check`: the faults of scripts, by file. */
async function check(args: string[]): Promise<number> {
	const { values, positionals } = read(args, { json: { type: 'boolean' } }, CHECK);
	if (positionals.length === 0) throw new WrongCall(`Name a folder or a script. Usage: ${CHECK}`);
	const files = (await Promise.all(positionals.map(scriptsAt))).flat();
	const faults: { file: string; line: number; column: number; message: string }[] = [];
	for (const file of files) {
		const doc = readDocument('script.lua', decode(await readFile(file)).text);
		for (const { line, column, message } of doc?.problems ?? []) faults.push({ file, line, column, message });
	}
	if (values.json) process.stdout.write(`${JSON.stringify({ faults })}\n`);
	else {
		for (const { file, line, column, message } of faults)
			process.stdout.write(`${file}:${line}:${column} ${message}\n`);
		process.stdout.write(`${counted(files.length, 'script')}, ${counted(faults.length, 'fault')}\n`);
	}
	return faults.length > 0 ? 1 : 0;
}

/** A whole number of an option. @throws WrongCall */
function wholeOf(text: string | undefined, name: string, otherwise: number, most: number): number {
	if (text === undefined) return otherwise;
	const number = Number(text);
	if (!Number.isInteger(number) || number < 0 || number > most)
		throw new WrongCall(`--${name} must be a whole number from 0 to ${most}. Usage: ${TRY}`);
	return number;
}

/** Where the machine says that something happened: `scripts/tide.lua:3: …`. */
function faultOf(said: string): { file: string | null; line: number | null; message: string } {
	const [, file = null, line = null, message = said] = /^(.+?):(\d+): (.*)$/s.exec(said) ?? [];
	return { file, line: line === null ? null : Number(line), message };
}

/** `kettle script try`: what an event does without the game. */
async function attempt(args: string[]): Promise<number> {
	const { values, positionals } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			mod: { type: 'string' },
			guide: { type: 'string' },
			times: { type: 'string' },
			seed: { type: 'string' },
			json: { type: 'boolean' }
		},
		TRY
	);
	const words = values.game === undefined ? positionals : [values.game, ...positionals];
	const [game, name, ...given] = words;
	if (game === undefined || name === undefined)
		throw new WrongCall(`Name the game's folder and an event. Usage: ${TRY}`);
	const times = Math.max(1, wholeOf(values.times, 'times', 1, 100_000));
	const seed = wholeOf(values.seed, 'seed', 1, 2 ** 31);
	const { stack } = await openStack(game, values.layer ?? [], values.mod, values.guide);
	/** `KIND:ID` is a record where there is such a kind. */
	const argument = (text: string) => {
		const [kind = '', id] = text.split(/:(.*)/s);
		return id !== undefined && stack.tables.has(kind) ? { kind, id } : { value: text };
	};
	try {
		const asked = throwOn(stack, [stack], { name, args: given.map(argument), returns: {}, seed, times });
		const done = await thrown(machine, asked, MOST_TIME);
		const fault = done.stopped === null ? null : faultOf(done.stopped);
		if (values.json) {
			const calls = done.calls.map(({ call, count }) => {
				const [, called = call, inside = ''] = /^(\w+)\((.*)\)$/s.exec(call) ?? [];
				return { name: called, arguments: inside, times: count };
			});
			const returns = done.returns.map(({ value, count }) => ({ value, share: count / times }));
			process.stdout.write(
				`${JSON.stringify({ times, returns, prints: done.first.printed, calls, fault, unloaded: done.first.unloaded })}\n`
			);
		} else {
			for (const { path, fault: why } of done.first.unloaded)
				process.stderr.write(`${path} could not be loaded: ${why}\n`);
			for (const line of done.first.printed) process.stdout.write(`prints ${line}\n`);
			for (const { outcome, count } of done.shares)
				process.stdout.write(`${((count / times) * 100).toFixed(1)} % ${outcome}\n`);
		}
		return fault === null ? 0 : 1;
	} catch (error) {
		if (error instanceof NoRecord) throw new WrongCall(error.message);
		if (!(error instanceof ThrowFault)) throw error;
		if (values.json)
			process.stdout.write(
				`${JSON.stringify({ times, returns: [], prints: [], calls: [], fault: { file: null, line: null, message: error.message }, unloaded: [] })}\n`
			);
		else process.stderr.write(`${error.message}\n`);
		return 1;
	}
}

/** `kettle script`: faults of scripts, and scripts tried without the game. */
export async function script([what = '', ...args]: string[]): Promise<number> {
	if (what === 'check') return check(args);
	if (what === 'try') return attempt(args);
	throw new WrongCall(`“${what}” is not one of check and try. Usage: ${CHECK}, or ${TRY}`);
}
