import { counted } from '../src/lib/core/wording';
import { buildLinks } from '$core/links';
import { buildIndex, search, type Hit } from '$core/search';
import { lineOfField, type Stack } from '$core/stack';
import { read, WrongCall } from './arguments';
import { openStack } from './open';

const USAGE =
	'kettle find --game DIR WORDS… [--layer DIR]… [--mod DIR] [--guide GUIDE] [--kind KIND] [--json]';

/** Hits that are printed. */
const MOST = 50;

/** The line of the value that matched; that of its record where it was found by something else. */
function lineOfHit({ tables }: Stack, { kind, record, field, file, line }: Hit): number {
	if (kind === null || record === null || field === null) return line;
	const presence = tables.get(kind)?.byId.get(record)?.said(field)?.presence;
	return presence?.path === file ? lineOfField(presence, field) : line;
}

/** `kettle find`: what Find finds. */
export async function find(args: string[]): Promise<number> {
	const started = performance.now();
	const { values, positionals } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			mod: { type: 'string' },
			guide: { type: 'string' },
			kind: { type: 'string' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	if (values.game === undefined) throw new WrongCall(`Name the game's folder. Usage: ${USAGE}`);
	if (positionals.length === 0) throw new WrongCall(`Say what to look for. Usage: ${USAGE}`);
	const { stack } = await openStack(values.game, values.layer ?? [], values.mod, values.guide);
	const index = buildIndex(stack, buildLinks(stack));
	const given = stack.guide.notes.flatMap(({ on, nickname, note }) => [
		...(nickname ? [{ on, text: nickname, what: 'nickname', nickname: true }] : []),
		...(note ? [{ on, text: note, what: 'note', nickname: false }] : [])
	]);
	const { hits: found, total } = search(index, positionals.join(' '), {
		kind: values.kind,
		most: MOST,
		given
	});
	const hits = found.map((hit) => ({ ...hit, line: lineOfHit(stack, hit) }));
	if (values.json) {
		const rows = hits.map(
			({ group, layer, file, line, kind, record, name, field, matched, reason, uses }) => ({
				layer,
				file,
				line,
				kind,
				record,
				field,
				matched,
				reason,
				group,
				name,
				uses
			})
		);
		process.stdout.write(
			`${JSON.stringify({ hits: rows, total, milliseconds: Math.round(performance.now() - started) })}\n`
		);
		return 0;
	}
	for (const hit of hits) {
		const what = hit.record === null ? hit.group : `${hit.kind} ${hit.record}`;
		const where = hit.file === '' ? '' : `${hit.file}${hit.line > 0 ? `:${hit.line}` : ''} `;
		process.stdout.write(`${where}${what} ${hit.name ?? ''} (${hit.reason}: ${hit.matched})\n`);
	}
	process.stdout.write(`${counted(total, 'record')}\n`);
	return 0;
}
