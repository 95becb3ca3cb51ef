import { testingPack } from '$core/pack';
import { buildLinks } from '$core/links';
import { identityOf } from '$core/stack';
import { counted } from '$core/wording';
import { textTable } from '$core/words';
import { read, WrongCall } from './arguments';
import { openStack } from './open';
import { writePack } from './pack';
import { languageOf, WHERE } from './translate';

const USAGE =
	'kettle words testing --game DIR [--layer DIR]… [--mod DIR] --as LANG --out DIR-or-ZIP [--guide GUIDE]';

/** `kettle words testing`: a mod that shows a language for testing in the place of one of the game's. */
export async function testing(args: string[]): Promise<number> {
	const { values } = read(args, { ...WHERE, as: { type: 'string' } }, USAGE);
	const { game, layer = [], mod, as, out } = values;
	if (game === undefined || as === undefined || out === undefined)
		throw new WrongCall(`Name the game’s folder, a language, and where to write. Usage: ${USAGE}`);
	const { stack } = await openStack(game, layer, mod, values.guide);
	if (!textTable(stack)) throw new WrongCall('No texts in languages are known in this game.');
	const code = languageOf(stack, as, true);
	const { pack, texts, name } = testingPack(stack, buildLinks(stack), code, identityOf(stack, 'mod'));
	await writePack(out, pack, [game, ...(mod === undefined ? [] : [mod]), ...layer]);
	process.stdout.write(
		`${name}: ${counted(texts, 'text')} in place of ${stack.guide.words!.languages[code]}\n`
	);
	return 0;
}
