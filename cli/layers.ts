import { basename } from 'node:path';
import { bytesOf } from '$core/change';
import { checkStack, countSnags } from '$core/checks';
import { planFor, stackAfter } from '$core/edits';
import {
	clashesOf,
	orderOf,
	settledStep,
	settledValues,
	valueByRule,
	type Choice,
	type Clash
} from '$core/layers';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { packOf } from '$core/pack';
import { fileContent, isGame, layerIdentity, type Layer, type Stack } from '$core/stack';
import { counted } from '$core/wording';
import { read, WrongCall } from './arguments';
import { openStack, type Opened } from './open';
import { writePack } from './pack';

const LAYERS = 'kettle layers --game DIR [--layer DIR]… [--mod DIR] [--guide GUIDE] [--json]';
const MERGE =
	'kettle merge --game DIR --layer A --layer B [--layer C]… [--prefer LAYER] --out DIR [--guide GUIDE] [--json]';

/** A layer by the name of its folder, by its own name or its title. @throws WrongCall */
function layerCalled(stack: Stack, said: string): Layer {
	const wanted = basename(said.replace(/\/+$/, ''));
	const found = stack.layers.find((layer) => {
		const { name, title } = layerIdentity(stack, layer);
		return [layer.title, name, title].some((one) => one === said || one === wanted);
	});
	if (!found)
		throw new WrongCall(
			`There is no layer “${said}”; the layers are ${stack.layers.map(({ title }) => title).join(', ')}.`
		);
	return found;
}

/** A clash as data. */
const plain = ({ kind, record, field, base, values, wins, differs }: Clash) => ({
	kind,
	record,
	field,
	base,
	values: values.map(({ layer, value, copied }) => ({
		layer: layer.title,
		value,
		...(copied ? { copied } : {})
	})),
	wins: wins.title,
	differs
});

const shown = (value: string | null) => (value === null ? 'nothing' : `“${value}”`);

/** `kettle layers`: what two or more layers change, what takes nothing out, and an order that works. */
export async function layers(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			mod: { type: 'string' },
			guide: { type: 'string' },
			json: { type: 'boolean' }
		},
		LAYERS
	);
	if (values.game === undefined) throw new WrongCall(`Name the game's folder. Usage: ${LAYERS}`);
	const { stack } = await openStack(values.game, values.layer ?? [], values.mod, values.guide);
	const links = buildLinks(stack);
	const clashes = clashesOf(stack);
	const title = new Map(stack.layers.map((layer) => [layer.id, layer.title]));
	const nothing = checkStack(stack, links)
		.filter(({ rule }) => rule === 'removes-nothing')
		.map(({ layer, file, line, message }) => ({ layer: title.get(layer) ?? layer, file, line, message }));
	const { order, impossible } = orderOf(stack, links);
	const names = order.map((layer) => layer.title);
	if (values.json)
		process.stdout.write(
			`${JSON.stringify({
				clashes: clashes.map(plain),
				nothing,
				order: names,
				impossible: impossible.map((one) => ({
					message: one.message,
					layers: one.layers.map((layer) => layer.title)
				}))
			})}\n`
		);
	else {
		for (const { kind, record, field, values: said, wins } of clashes) {
			const what = kind === null ? record : `${kind} ${record}, ${field}`;
			const values =
				kind === null
					? said.map(({ layer }) => layer.title)
					: said.map(
							({ layer, value, copied }) =>
								`${layer.title} ${shown(value)}${copied ? ' (as the game has it)' : ''}`
						);
			process.stdout.write(`${what}: ${values.join(', ')}; ${wins.title} wins\n`);
		}
		for (const { file, line, message } of nothing) process.stdout.write(`${file}:${line} ${message}\n`);
		for (const { message } of impossible) process.stdout.write(`${message}\n`);
		const now = stack.layers.map((layer) => layer.title);
		process.stdout.write(
			`${counted(clashes.length, 'clash', 'clashes')}; ${names.join() === now.join() ? 'the order works' : `an order that works: ${names.join(', ')}`}\n`
		);
	}
	return impossible.length > 0 ? 1 : 0;
}

/** The choice for a clash: what only one layer truly changes counts by itself, else what is preferred, else the last. */
function choiceFor(clash: Clash, preferred: Layer | null): Choice | null {
	const own = valueByRule(clash);
	if (own !== null) return { by: 'value', value: own };
	const layer = clash.values.find((one) => one.layer === preferred)?.layer;
	return layer ? { by: 'layer', layer: layer.id } : null;
}

/** The stack with an empty mod on top, to be written into. */
const withMod = ({ layers: own, guide }: Opened): Stack =>
	assembleStack([...own, { id: 'merged', title: 'merged', owner: 'me', files: new Map() }], guide);

/** `kettle merge`: a small mod that settles what clashes. */
export async function merge(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			game: { type: 'string' },
			layer: { type: 'string', multiple: true },
			prefer: { type: 'string' },
			out: { type: 'string' },
			guide: { type: 'string' },
			json: { type: 'boolean' }
		},
		MERGE
	);
	const { game, layer: names = [], out } = values;
	if (game === undefined || out === undefined || names.length < 2)
		throw new WrongCall(`Name the game, two or more layers and out. Usage: ${MERGE}`);
	const opened = await openStack(game, names, undefined, values.guide);
	const stack = withMod(opened);
	const preferred = values.prefer === undefined ? null : layerCalled(stack, values.prefer);
	const clashes = clashesOf(stack);
	const chosen = clashes.flatMap((clash): [Clash, Choice][] => {
		const choice = choiceFor(clash, preferred);
		return choice ? [[clash, choice]] : [];
	});
	const settled = settledValues(stack, chosen);
	const mods = stack.layers.filter((layer) => !isGame(layer) && layer !== stack.mine);
	const called = mods.map((layer) => layerIdentity(stack, layer).name ?? layer.title);
	const title = `${mods.map((layer) => layerIdentity(stack, layer).title ?? layer.title).join(' with ')}`;
	const next =
		settled.length === 0
			? stack
			: stackAfter(
					stack,
					planFor(stack, settledStep(settled, `Settle ${counted(settled.length, 'value')}`), 'merged')
				);
	const files = new Map([...next.mine!.files].map(([path, file]) => [path, bytesOf(fileContent(file))]));
	const below = new Set(
		stack.layers.flatMap((layer) => (layer === stack.mine ? [] : [...layer.files.keys()]))
	);
	const pack = packOf(files, below, stack.guide, {
		name: basename(out.replace(/\/+$/, '')).replace(/[^\w-]+/g, '_') || 'merged',
		title,
		version: '0.1.0',
		gameVersion: '',
		description: '',
		requires: called,
		after: called,
		notWith: []
	});
	await writePack(out, pack, [game, ...names]);
	const open = clashes.filter(
		(clash) => clash.kind !== null && valueByRule(clash) === null && !chosen.some(([one]) => one === clash)
	);
	if (values.json)
		process.stdout.write(
			`${JSON.stringify({ settled: settled.map(({ kind, id, field, value }) => ({ kind, record: id, field, value })), open: open.map(plain), files: [...pack.contents.keys()] })}\n`
		);
	else {
		process.stdout.write(
			`${counted(settled.length, 'value')} settled, ${counted(open.length, 'clash', 'clashes')} left to the last layer: ${out}\n`
		);
		for (const { kind, record, field, wins } of open)
			process.stdout.write(`${kind} ${record}, ${field}: ${wins.title} wins\n`);
	}
	return countSnags(checkStack(next)).blocks > 0 ? 1 : 0;
}
