import { stat } from 'node:fs/promises';
import { checkStack, countSnags } from '$core/checks';
import { identityOf, packOf, zipOf } from '$core/pack';
import { writeAtomic, writeTree } from '../src/lib/files';
import { read, WrongCall } from './arguments';
import { openStack } from './open';

const USAGE = 'kettle pack --game DIR [--layer DIR]… --mod DIR --out DIR-or-ZIP [--guide GUIDE] [--json]';

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
			json: { type: 'boolean' }
		},
		USAGE
	);
	const { game, mod, out } = values;
	if (game === undefined || mod === undefined || out === undefined)
		throw new WrongCall(`Name game, mod and out. Usage: ${USAGE}`);
	const { stack, layers, guide } = await openStack(game, values.layer ?? [], mod, values.guide);
	const below = new Set(
		layers.filter((layer) => layer.role !== 'mine').flatMap((layer) => [...layer.files.keys()])
	);
	const mine = layers.find((layer) => layer.role === 'mine')!;
	const made = packOf(mine.files, below, guide, identityOf(stack, mine.title));
	if (out.toLowerCase().endsWith('.zip')) await writeAtomic(out, zipOf(made));
	else {
		const there = await stat(out).catch(() => null);
		if (there && !there.isDirectory())
			throw new WrongCall(`${out} is a file; --out takes a folder or a name ending in .zip.`);
		await writeTree(out.replace(/\/+$/, ''), made.contents);
	}
	if (values.json)
		process.stdout.write(
			`${JSON.stringify({ files: made.files.map(({ path, why, sha256, bytes }) => ({ path, why, sha256, bytes })) })}\n`
		);
	else
		for (const file of made.files)
			process.stdout.write(`${file.why.padEnd(9)} ${file.path}  ${file.bytes} bytes: ${file.reason}\n`);
	return countSnags(checkStack(stack)).blocks > 0 ? 1 : 0;
}
