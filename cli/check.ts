import { counted } from '../src/lib/core/wording';
import { checkStack, countSnags, type Snag } from '$core/checks';
import { read, WrongCall } from './arguments';
import { openStack } from './open';

const USAGE = 'kettle check --game DIR [--layer DIR]… [--mod DIR] [--guide GUIDE] [--json]';

const SIGNS = { blocks: 'blocks', warns: 'warns ', note: 'note  ' };

/** What is written of a snag for other programs. */
export const snagRow = ({ rule, severity, layer, file, line, record, field, message, repairable }: Snag) => ({
	rule,
	severity,
	layer,
	file,
	line,
	record,
	field,
	message,
	repairable
});

/** `kettle check`: the snags of a stack. */
export async function check(args: string[]): Promise<number> {
	const started = performance.now();
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
	const snags = checkStack(stack);
	const counts = countSnags(snags);
	if (values.json) {
		const rows = snags.map(snagRow);
		process.stdout.write(
			`${JSON.stringify({ snags: rows, counts, milliseconds: Math.round(performance.now() - started) })}\n`
		);
	} else {
		for (const snag of snags)
			process.stdout.write(`${SIGNS[snag.severity]} ${snag.file}:${snag.line} ${snag.message}\n`);
		process.stdout.write(`${counts.blocks} block, ${counts.warns} warn, ${counted(counts.note, 'note')}\n`);
	}
	return counts.blocks > 0 ? 1 : 0;
}
