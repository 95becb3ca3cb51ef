import { guideToYaml, ruleOf, type Guide } from '$core/guide';
import { read, WrongCall } from './arguments';
import { openStack } from './open';

const USAGE = 'kettle guide --game DIR [--layer DIR]… [--guide GUIDE] [--bare] [--json]';

/** The guide in the shape that is stable for other programs. */
function asJson(guide: Guide, counts: ReadonlyMap<string, number>) {
	return {
		kinds: Object.entries(guide.kinds).map(
			([
				kind,
				{
					files,
					at,
					except,
					element,
					where,
					name,
					inherits,
					key,
					keyParts,
					severalIds,
					id,
					fields,
					texts,
					assets,
					twins,
					covers,
					found
				}
			]) => ({
				kind,
				files,
				...(at === undefined ? {} : { at }),
				...(except === undefined ? {} : { except }),
				...(element === undefined ? {} : { element }),
				...(where === undefined ? {} : { where }),
				...(name === undefined ? {} : { name }),
				...(inherits === undefined ? {} : { inherits }),
				key: key ?? (id && !keyParts ? `#${id}` : null),
				...(keyParts ? { keyParts } : {}),
				...(severalIds ? { severalIds } : {}),
				records: counts.get(kind) ?? 0,
				...(found ? { confidence: found.sure, because: found.because } : {}),
				fields: Object.entries(fields).map(([path, { reference, found: why, type, unit, ...others }]) => ({
					path,
					type: type ?? 'text',
					...(unit === undefined ? {} : { unit }),
					...(reference
						? {
								reference: {
									...reference,
									found: undefined,
									rule: ruleOf(path, reference),
									confidence: reference.found?.sure ?? 1
								}
							}
						: {}),
					...others,
					...(why ? { confidence: why.sure, because: why.because } : {})
				})),
				texts,
				assets: assets ?? [],
				twins: twins ?? [],
				covers: covers ?? []
			})
		),
		words: guide.words ?? null,
		scripts: guide.scripts ?? []
	};
}

/** `kettle guide`: the field guide as far as it can be inferred, over one that is there. */
export async function guide(args: string[]): Promise<number> {
	const started = performance.now();
	const { values, positionals } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			guide: { type: 'string' },
			bare: { type: 'boolean' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	if (values.game === undefined) throw new WrongCall(`Name the game's folder. Usage: ${USAGE}`);
	if (positionals.length > 0)
		throw new WrongCall(`“${positionals[0]}” is not expected here. Usage: ${USAGE}`);
	if (values.bare && values.guide !== undefined)
		throw new WrongCall(`--bare takes no guide at all. Usage: ${USAGE}`);
	const { stack } = await openStack(
		values.game,
		values.layer ?? [],
		undefined,
		values.bare ? null : values.guide
	);
	if (!values.json) {
		process.stdout.write(guideToYaml(stack.guide, true));
		return 0;
	}
	const counts = new Map([...stack.tables].map(([kind, table]) => [kind, table.count]));
	process.stdout.write(
		`${JSON.stringify({ ...asJson(stack.guide, counts), milliseconds: Math.round(performance.now() - started) })}\n`
	);
	return 0;
}
