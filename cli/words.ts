import { counted, numbered } from '$core/wording';
import { checkStack } from '$core/checks';
import { buildLinks } from '$core/links';
import { coverageOf, textTable, usedRows } from '$core/words';
import { read, WrongCall } from './arguments';
import { snagRow } from './check';
import { openStack } from './open';
import { testing } from './testing';
import { give, take } from './translate';

const USAGE =
	'kettle words --game DIR [--layer DIR]… [--mod DIR] [--guide GUIDE] [--json], kettle words give …, kettle words take FILE …, or kettle words testing …';

const PARTS: Record<string, (args: string[]) => Promise<number>> = { give, take, testing };

/** `kettle words`: how far the texts are there in each language, and what is wrong with them. */
export async function words(args: string[]): Promise<number> {
	const [first = '', ...rest] = args;
	const part = Object.hasOwn(PARTS, first) ? PARTS[first] : undefined;
	if (part) return part(rest);
	const { values } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			mod: { type: 'string' },
			guide: { type: 'string' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	if (values.game === undefined) throw new WrongCall(`Name the game's folder. Usage: ${USAGE}`);
	const { stack } = await openStack(values.game, values.layer ?? [], values.mod, values.guide);
	const links = buildLinks(stack);
	const table = textTable(stack);
	const languages = coverageOf(stack);
	const unused = table ? usedRows(links, table).filter((used) => used === 0).length : 0;
	const texts = table?.count ?? 0;
	const own = new Set(['missing-text', 'long-text', 'unlike-text', 'text-language']);
	const snags = checkStack(stack, links).filter(({ rule, kind }) => own.has(rule) || kind === table?.kind);
	if (values.json) {
		process.stdout.write(`${JSON.stringify({ texts, unused, languages, snags: snags.map(snagRow) })}\n`);
	} else if (!table) process.stdout.write('No texts in languages are known in this game.\n');
	else {
		for (const { title, code, main, there, missing, same, unlike, stale, terms, mine } of languages)
			process.stdout.write(
				`${title} (${code}${main ? ', main' : ''}): ${numbered(there)} there, ${numbered(missing)} missing, ${numbered(same)} as in the main language, ${numbered(unlike)} with other placeholders or tags, ${numbered(stale)} older than the main text, ${numbered(terms)} against the terms, ${numbered(mine)} mine\n`
			);
		for (const { severity, file, line, message } of snags)
			process.stdout.write(`${severity.padEnd(6)} ${file}:${line} ${message}\n`);
		process.stdout.write(
			`${counted(texts, 'text')}, ${numbered(unused)} that nothing is known to use, ${counted(snags.length, 'snag')}\n`
		);
	}
	return snags.some(({ severity }) => severity === 'blocks') ? 1 : 0;
}
