import { basename, resolve } from 'node:path';
import { myFiles, planFor, stackAfter, type Intention } from '$core/edits';
import { buildLinks } from '$core/links';
import type { Stack } from '$core/stack';
import { counted, numbered } from '$core/wording';
import {
	codeOf,
	ExchangeFault,
	FORM_NAMES,
	giveAs,
	givenOut,
	readReturned,
	takenIn,
	textOfReturned,
	textTable,
	type Form
} from '$core/words';
import { writeAtomic } from '../src/lib/files';
import { read, readNamed, WrongCall } from './arguments';
import { openStack } from './open';
import { wholePack, writePack } from './pack';

const GIVE =
	'kettle words give --game DIR [--layer DIR]… [--mod DIR] --to LANG --as po|xliff|xliff2|csv --out FILE [--all] [--mine] [--guide GUIDE]';
const TAKE =
	'kettle words take FILE --game DIR [--layer DIR]… --mod DIR [--to LANG] [--out DIR] [--guide GUIDE] [--json]';

/** What a game with its texts is opened with, and where something is written. */
export const WHERE = {
	game: { type: 'string' },
	layer: { type: 'string', multiple: true },
	mod: { type: 'string' },
	guide: { type: 'string' },
	out: { type: 'string' }
} as const;

/**
 * The code of a language that was named. @throws WrongCall where the game has none of that name
 * @param any also the main one, which nothing is translated into
 */
export function languageOf(stack: Stack, named: string, any = false): string {
	const known = Object.entries(stack.guide.words?.languages ?? {});
	const code = codeOf(stack, named) ?? known.find(([, title]) => title === named)?.[0];
	const main = stack.guide.words?.main;
	if (code !== undefined && (any || code !== main)) return code;
	const others = known.filter(([other]) => any || other !== main);
	throw new WrongCall(
		`“${named}” is not a language ${any ? 'of this game' : 'that this game is translated into'}. It has ${others.map(([other, title]) => `${title} (${other})`).join(', ') || 'none that is known'}.`
	);
}

/** `kettle words give`: texts to be translated, as a file for whoever does it. */
export async function give(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			...WHERE,
			to: { type: 'string' },
			as: { type: 'string' },
			all: { type: 'boolean' },
			mine: { type: 'boolean' }
		},
		GIVE
	);
	const { game, layer = [], mod, to, out } = values;
	if (game === undefined || to === undefined || out === undefined)
		throw new WrongCall(`Name the game's folder, a language, and a file to write. Usage: ${GIVE}`);
	const form = values.as as Form | undefined;
	if (form === undefined || !FORM_NAMES.includes(form))
		throw new WrongCall(`--as is ${FORM_NAMES.join(', ')}. Usage: ${GIVE}`);
	if (values.mine && mod === undefined)
		throw new WrongCall(`--mine needs --mod DIR: it is the texts of that mod. Usage: ${GIVE}`);
	const { stack } = await openStack(game, layer, mod, values.guide);
	const asked = { to: languageOf(stack, to), open: !values.all, mine: values.mine ?? false };
	const given = givenOut(stack, buildLinks(stack), asked);
	await writeAtomic(out, Buffer.from(inWords(() => giveAs(given, form))));
	process.stdout.write(`${counted(given.units.length, 'text')}: ${out}\n`);
	return 0;
}

/** What does work on files that others wrote, with its faults as those of the call. */
function inWords<T>(work: () => T): T {
	try {
		return work();
	} catch (fault) {
		if (fault instanceof ExchangeFault) throw new WrongCall(`${fault.message} Nothing was written.`);
		throw fault;
	}
}

/** `kettle words take`: what came back, put into my mod; what changed meanwhile is told and left as it is. */
export async function take(args: string[]): Promise<number> {
	const { values, positionals } = read(
		args,
		{ ...WHERE, to: { type: 'string' }, json: { type: 'boolean' } },
		TAKE
	);
	const { game, layer = [], mod, out } = values;
	const [file, ...more] = positionals;
	if (file === undefined || more.length > 0 || game === undefined || mod === undefined)
		throw new WrongCall(`Name the file that came back, the game's folder and your mod. Usage: ${TAKE}`);
	const { stack } = await openStack(game, layer, mod, values.guide);
	const said = values.to === undefined ? undefined : languageOf(stack, values.to);
	const bytes = await readNamed(file);
	const result = inWords(() => {
		const returned = readReturned(textOfReturned(bytes), said);
		const found = takenIn(stack, returned);
		if (said !== undefined && found.to !== said)
			throw new ExchangeFault(`${file} is in “${returned.to}”, not in “${values.to}”.`);
		return found;
	});
	const { to, taken, changed, unknown, faults } = result;
	if (out !== undefined) {
		let after = stack;
		if (taken.length > 0) {
			const intention: Intention = {
				do: 'cells',
				kind: textTable(stack)!.kind,
				cells: taken.map(({ key, now, text }) => ({ id: key, field: to, value: text, expected: now }))
			};
			const name = basename(resolve(mod)).replace(/[^\w-]+/g, '_') || 'mod';
			after = stackAfter(stack, planFor(stack, intention, name));
		}
		await writePack(out, wholePack(myFiles(after)), [game, mod, ...layer]);
	}
	if (values.json) process.stdout.write(`${JSON.stringify(result)}\n`);
	else {
		for (const { key, source, then, now, text } of changed) {
			const main = source.then !== null && source.then !== source.now;
			const reason = main
				? `the main text was ${JSON.stringify(source.then)} and is ${JSON.stringify(source.now)} now`
				: then === null
					? 'it is translated by now'
					: `it was ${JSON.stringify(then)}`;
			process.stdout.write(
				`changed ${key}: ${reason}; there is ${JSON.stringify(now)}, the file has ${JSON.stringify(text)}\n`
			);
		}
		for (const { key, line } of unknown) process.stdout.write(`unknown ${file}:${line} “${key}”\n`);
		for (const { line, message } of faults) process.stdout.write(`fault   ${file}:${line} ${message}\n`);
		process.stdout.write(
			`${counted(taken.length, 'translation')} ${out === undefined ? 'to take in' : 'taken in'}, ${numbered(result.there)} already there, ${numbered(changed.length)} changed meanwhile, ${numbered(unknown.length)} unknown, ${numbered(result.empty + result.unfinished)} not done yet\n`
		);
		if (out === undefined) process.stdout.write('Nothing was written: name a folder with --out.\n');
	}
	return changed.length + unknown.length + faults.length > 0 ? 1 : 0;
}
