// Optional parts of my mod: kept with the project, filled from my changes, checked in all combinations, packed.
import { bytesOf } from '$core/change';
import { fieldOf } from '$core/guide';
import {
	checkOptions,
	combinationsOf,
	OptionFault,
	optionLayers,
	optionsSchema,
	optionStack,
	optionsText,
	wholeThings,
	type ModOption,
	type Thing
} from '$core/options';
import { packOf } from '$core/pack';
import { baseValueOf, changedRows, displayName, isEditable, valueOf, type Stack } from '$core/stack';
import type { OptionCell, OptionsChecked, OptionsPage, OptionThing } from '$core/views';
import { counted } from '$core/wording';
import { NotPossible } from '$core/edits';
import { inSteps } from './breath';
import { changing } from './changing';
import { readLedger } from './db/ledger';
import { bumpProject } from './db/projects';
import { putOptions, readOptions } from './db/options';
import { db } from './db/pool';
import { identityFor } from './identity';
import type { Model } from './model';
import { packFor } from './trial';

/** Changed values that are listed. */
const MOST = 400;

type Cell = ModOption['cells'][number];

function cellView(
	stack: Stack,
	{ kind, id, field }: Omit<Cell, 'value'>,
	value: string,
	without: string
): OptionCell {
	const record = stack.tables.get(kind)?.byId.get(id);
	const { words } = stack.guide;
	return {
		kind,
		id,
		field,
		name: record ? displayName(stack, record) : id,
		fieldTitle:
			(words?.kind === kind ? words.languages[field] : undefined) ??
			fieldOf(stack.guide.kinds[kind], field)?.title ??
			field,
		value,
		without
	};
}

/** The values that my mod changes, in the order of kinds and files; new records as a whole are not among them. */
export function* changedCells(stack: Stack): Generator<OptionCell> {
	for (const table of stack.tables.values()) {
		if (table.files.some(({ file }) => file.path === stack.guide.identity)) continue;
		for (const row of changedRows(table)) {
			const record = table.record(row);
			if (!record.presences.some(({ layer }) => !isEditable(layer)) && table.hidden.length === 0) continue;
			for (const [field, { value, presence }] of record.values) {
				if (!isEditable(presence.layer) || field === table.guide.key) continue;
				const below = baseValueOf(record, field);
				if (below !== undefined && below !== value)
					yield cellView(stack, { kind: table.kind, id: record.id, field }, value, below);
			}
		}
	}
}

/** What goes as a whole, as people read it. */
function thingView(stack: Stack, thing: Thing): OptionThing {
	if ('path' in thing) return { ...thing, kind: null, id: null, name: thing.path, kindTitle: 'File' };
	const record = stack.tables.get(thing.kind)!.byId.get(thing.id)!;
	const { title } = stack.guide.kinds[thing.kind]!;
	return { ...thing, path: null, name: displayName(stack, record), kindTitle: title };
}

/** Steps of the ledger that are offered to choose changes by. */
const STEPS = 60;

/** What can be moved, by the steps of the ledger that changed it, the newest first. */
async function stepsTouching(
	slug: string,
	changed: readonly OptionCell[],
	things: readonly OptionThing[]
): Promise<OptionsPage['steps']> {
	const places = new Set(changed.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	const records = new Set(
		things.flatMap(({ kind, id }) => (kind === null ? [] : [JSON.stringify([kind, id])]))
	);
	const paths = new Set(things.flatMap(({ path }) => path ?? []));
	const rows = (await readLedger(db(), slug, STEPS)).filter(({ state }) => state === 'applied');
	return rows.flatMap(({ id, title, plan }) => {
		const keys = new Set<string>();
		for (const { kind, id: record, field } of plan.values)
			for (const [known, key] of [
				[places, JSON.stringify([kind, record, field])],
				[records, JSON.stringify([kind, record])]
			] as const)
				if (known.has(key)) keys.add(key);
		for (const { path } of plan.changes) if (paths.has(path)) keys.add(JSON.stringify([path]));
		return keys.size > 0 ? [{ id, title, keys: [...keys] }] : [];
	});
}

/** The page of the optional parts. */
export async function optionsPage(model: Model): Promise<OptionsPage> {
	const { stack, project } = model;
	const options = await readOptions(db(), project.slug);
	const changed = [...changedCells(stack)].slice(0, MOST + 1);
	const things = [...wholeThings(stack)].slice(0, MOST).map((thing) => thingView(stack, thing));
	return {
		slug: project.slug,
		mod: identityFor(model).name,
		options: options.map((option) => {
			const own = option.files.length > 0 ? optionStack(stack, option) : stack;
			return {
				...option,
				cells: option.cells.map((cell) => {
					const record = own.tables.get(cell.kind)?.byId.get(cell.id);
					return cellView(own, cell, cell.value, (record && valueOf(record, cell.field)) ?? '');
				}),
				things: own === stack ? [] : [...wholeThings(own)].map((thing) => thingView(own, thing))
			};
		}),
		combinations: options.length === 0 ? 0 : combinationsOf(options).length,
		changed: changed.slice(0, MOST),
		more: changed.length > MOST,
		things,
		steps: await stepsTouching(project.slug, changed, things)
	};
}

const ELSEWHERE =
	'The options were changed elsewhere in the meantime. Load the page again, then repeat your change.';

/**
 * Writes the options down. Gives the title of what was done.
 * @param was what they were where the change was made; undefined to write them in any case
 * @throws NotPossible where they are others by now
 */
export async function saveOptions(slug: string, asked: unknown, was?: unknown): Promise<string> {
	const [next, before] = [optionsSchema.safeParse(asked), optionsSchema.safeParse(was ?? [])];
	if (!next.success) throw new NotPossible(next.error.issues[0]!.message);
	await changing(slug, async (client) => {
		const now = await readOptions(client, slug, true);
		if (was !== undefined && JSON.stringify(now) !== JSON.stringify(before.data))
			throw new NotPossible(ELSEWHERE);
		await putOptions(client, slug, next.data);
		return bumpProject(client, slug);
	});
	return `Saved: ${counted(next.data.length, 'option')}`;
}

const layersOf = async (model: Model) => {
	const options = await readOptions(db(), model.project.slug);
	try {
		return { options, layers: optionLayers(model.stack, options, identityFor(model)) };
	} catch (fault) {
		throw fault instanceof OptionFault ? new NotPossible(fault.message) : fault;
	}
};

/** Looks at every combination. @throws NotPossible where an option sets what is not there */
export async function checkedOptions(model: Model): Promise<OptionsChecked> {
	const { options, layers } = await layersOf(model);
	const titles = new Map(options.map(({ id, title }) => [id, title]));
	const { combinations, findings } = await inSteps(checkOptions(model.stack, layers));
	return {
		combinations: combinations.length,
		findings: findings.map(({ needs, always, seen, message, severity, snag }) => ({
			needs: needs.map((id) => titles.get(id)!),
			seen: always ? null : seen.map((id) => titles.get(id)!),
			message,
			severity,
			kind: snag?.kind ?? null,
			record: snag?.record ?? null
		}))
	};
}

/** My mod and a mod for each of its options, each in a folder of its own. @throws NotPossible */
export async function optionPacks(model: Model): Promise<Map<string, Uint8Array>> {
	const { options, layers } = await layersOf(model);
	const main = await packFor(model);
	const identity = identityFor(model);
	const { name } = identity;
	const below = new Set(main.contents.keys());
	const all = new Map<string, Uint8Array>([
		['options.txt', new TextEncoder().encode(optionsText(identity, options))]
	]);
	for (const [path, bytes] of main.contents) all.set(`${name}/${path}`, bytes);
	for (const { files, identity: its } of layers) {
		const own = new Map([...files].map(([path, file]) => [path, bytesOf(file)]));
		for (const [path, bytes] of packOf(own, below, model.guide, its).contents)
			all.set(`${its.name}/${path}`, bytes);
	}
	return all;
}
