// Optional parts of my mod: kept with the project, filled from my changes, checked in all combinations, packed.
import { bytesOf } from '$core/change';
import { fieldOf } from '$core/guide';
import {
	checkOptions,
	combinationsOf,
	OptionFault,
	optionLayers,
	optionsSchema,
	optionsText,
	type ModOption
} from '$core/options';
import { settledStep } from '$core/layers';
import { packOf } from '$core/pack';
import { baseValueOf, changedRows, displayName, isEditable, valueOf, type Stack } from '$core/stack';
import type { OptionCell, OptionsChecked, OptionsPage } from '$core/views';
import { counted } from '$core/wording';
import { NotPossible } from '$core/edits';
import { inSteps } from './breath';
import { changing } from './changing';
import { bumpProject } from './db/projects';
import { putOptions, readOptions } from './db/options';
import { db } from './db/pool';
import { identityFor } from './identity';
import { modelOf, type Model } from './model';
import { apply } from './plans';
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
function* changedCells(stack: Stack): Generator<OptionCell> {
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

/** The page of the optional parts. */
export async function optionsPage(model: Model): Promise<OptionsPage> {
	const { stack, project } = model;
	const options = await readOptions(db(), project.slug);
	const changed = [...changedCells(stack)];
	return {
		slug: project.slug,
		mod: identityFor(model).name,
		options: options.map(({ cells, ...option }) => ({
			...option,
			cells: cells.map((cell) => {
				const record = stack.tables.get(cell.kind)?.byId.get(cell.id);
				return cellView(stack, cell, cell.value, (record && valueOf(record, cell.field)) ?? '');
			})
		})),
		combinations: options.length === 0 ? 0 : combinationsOf(options).length,
		changed: changed.slice(0, MOST),
		more: Math.max(0, changed.length - MOST)
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

/**
 * Moves values of my mod into an option: they are as below in the main part from then on, which is a step of the ledger.
 * Gives its title.
 * @throws NotPossible
 */
export async function moveIntoOption(
	slug: string,
	option: string,
	cells: readonly Omit<Cell, 'value'>[]
): Promise<string> {
	const model = await modelOf(slug);
	const options = await readOptions(db(), slug);
	const into = options.find(({ id }) => id === option);
	if (!into) throw new NotPossible('There is no such option any more; load the page again.');
	const wanted = new Set(cells.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	const moved = [...changedCells(model.stack)].filter(({ kind, id, field }) =>
		wanted.has(JSON.stringify([kind, id, field]))
	);
	if (moved.length < wanted.size)
		throw new NotPossible('Some of these values are not changed by your mod any more; load the page again.');
	const kept = into.cells.filter(({ kind, id, field }) => !wanted.has(JSON.stringify([kind, id, field])));
	const next: ModOption = {
		...into,
		cells: [...kept, ...moved.map(({ kind, id, field, value }) => ({ kind, id, field, value }))]
	};
	const after = options.map((one) => (one === into ? next : one));
	await saveOptions(slug, after, options);
	try {
		const { plan } = await apply(
			slug,
			settledStep(
				moved.map(({ kind, id, field, value, without }) => ({
					kind,
					id,
					field,
					value: without,
					expected: value
				})),
				`Move ${counted(moved.length, 'value')} into the option “${into.title}”`
			)
		);
		return plan.title;
	} catch (fault) {
		// What cannot be taken out of the main part is not moved.
		await saveOptions(slug, options, after);
		throw fault;
	}
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
