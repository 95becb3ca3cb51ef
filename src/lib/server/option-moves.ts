// What goes between the main part of my mod and an option: values, records and files, as one step of the ledger.
import { bytesOf, type FileContent } from '$core/change';
import { myFiles, NotPossible, planFor, planToBring, stackAfter } from '$core/edits';
import { settledStep, type Settled } from '$core/layers';
import {
	contentsOf,
	keptOf,
	optionName,
	optionStack,
	settledBy,
	transferred,
	type ModOption,
	type Thing
} from '$core/options';
import { digestOf } from '$core/text';
import { counted } from '$core/wording';
import { keepBlob } from './db/blobs';
import { readOptions } from './db/options';
import { db } from './db/pool';
import { identityFor } from './identity';
import { modelOf, type Model } from './model';
import { changedCells, saveOptions } from './options';
import { apply } from './plans';

type Cell = ModOption['cells'][number];

const GONE = 'There is no such option any more; load the page again.';

const mainPart = (model: Model) => ({ stack: model.stack, mod: identityFor(model).name });
const partOf = (model: Model, option: ModOption) => ({
	stack: optionStack(model.stack, option),
	mod: optionName(identityFor(model), option)
});

/** Things that are taken up once, however often they are named. */
const unlike = <T>(things: readonly T[]): T[] => [
	...new Map(things.map((thing) => [JSON.stringify(thing), thing])).values()
];

/** The cells of an option without some, by their places. */
const without = (cells: readonly Cell[], gone: readonly Omit<Cell, 'value'>[]): Cell[] => {
	const places = new Set(gone.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	return cells.filter(({ kind, id, field }) => !places.has(JSON.stringify([kind, id, field])));
};

/** My mod after things and values of it changed; with the files in which it differs. */
function mainAfter(
	model: Model,
	files: ReadonlyMap<string, FileContent | null>,
	settled: readonly Settled[]
): Map<string, FileContent | null> {
	let stack = model.stack;
	if (files.size > 0) stack = stackAfter(stack, planToBring(stack, files));
	if (settled.length > 0)
		stack = stackAfter(stack, planFor(stack, settledStep(settled, 'Settle'), model.project.mod));
	const [before, after] = [myFiles(model.stack), myFiles(stack)];
	const changed = new Map<string, FileContent | null>();
	for (const path of before.keys()) if (!after.has(path)) changed.set(path, null);
	for (const [path, content] of after) if (before.get(path) !== content) changed.set(path, content);
	return changed;
}

/** Changes between the main part and an option, as one step of the ledger; the option goes back with it. */
async function moved(
	slug: string,
	title: string,
	changed: ReadonlyMap<string, FileContent | null>,
	[was, becomes]: [ModOption, ModOption]
): Promise<string> {
	if (changed.size === 0) {
		// The main part is so already.
		const now = await readOptions(db(), slug);
		await saveOptions(
			slug,
			now.map((one) => (one.id === was.id ? becomes : one)),
			now
		);
		return title;
	}
	const files: { path: string; sha256: string | null }[] = [];
	for (const [path, content] of changed) {
		const bytes = content && bytesOf(content);
		const sha256 = bytes && digestOf(bytes);
		if (bytes && sha256) await keepBlob(db(), sha256, bytes);
		files.push({ path, sha256 });
	}
	const { plan } = await apply(slug, { do: 'option', title, files, was, becomes });
	return plan.title;
}

const countOf = (cells: number, things: readonly Thing[]): string => {
	const files = things.filter((thing) => 'path' in thing).length;
	const counts: [number, string][] = [
		[cells, 'value'],
		[things.length - files, 'record'],
		[files, 'file']
	];
	return counts
		.filter(([count]) => count > 0)
		.map(([count, what]) => counted(count, what))
		.join(', ');
};

/**
 * Moves values, records and files of my mod into an option: the main part is without them from then on, which is a step
 * of the ledger. Gives its title.
 * @throws NotPossible
 */
export async function moveIntoOption(
	slug: string,
	option: string,
	cells: readonly Omit<Cell, 'value'>[],
	things: readonly Thing[]
): Promise<string> {
	const model = await modelOf(slug);
	const into = (await readOptions(db(), slug)).find(({ id }) => id === option);
	if (!into) throw new NotPossible(GONE);
	const wanted = new Set(cells.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	const values = [...changedCells(model.stack)].filter(({ kind, id, field }) =>
		wanted.has(JSON.stringify([kind, id, field]))
	);
	if (values.length < wanted.size)
		throw new NotPossible('Some of these values are not changed by your mod any more; load the page again.');
	const whole = unlike(things);
	const { from, to } = transferred(mainPart(model), partOf(model, into), whole);
	const changed = mainAfter(
		model,
		from,
		values.map(({ kind, id, field, value, without: below }) => ({
			kind,
			id,
			field,
			value: below,
			expected: value
		}))
	);
	const next: ModOption = {
		...into,
		cells: [
			...without(into.cells, values),
			...values.map(({ kind, id, field, value }) => ({ kind, id, field, value }))
		],
		files: whole.length > 0 ? keptOf(to) : into.files
	};
	const title = `Move ${countOf(values.length, whole)} into the option “${into.title}”`;
	return moved(slug, title, changed, [into, next]);
}

/**
 * The other way: values, records and files of an option become part of my mod for every player. Gives the step's title.
 * @throws NotPossible
 */
export async function moveOutOfOption(
	slug: string,
	option: string,
	cells: readonly Omit<Cell, 'value'>[],
	things: readonly Thing[]
): Promise<string> {
	const model = await modelOf(slug);
	const out = (await readOptions(db(), slug)).find(({ id }) => id === option);
	if (!out) throw new NotPossible(GONE);
	const left = without(out.cells, cells);
	const values = out.cells.filter((cell) => !left.includes(cell));
	const whole = unlike(things);
	const { from, to } = transferred(partOf(model, out), mainPart(model), whole);
	const own = contentsOf(out.files);
	for (const [path, content] of from)
		if (content === null) own.delete(path);
		else own.set(path, content);
	const before = myFiles(model.stack);
	const brought = new Map([...to].filter(([path, content]) => before.get(path) !== content));
	const settled = settledBy(model.stack, values);
	const changed = mainAfter(model, brought, settled);
	const next: ModOption = { ...out, cells: left, files: whole.length > 0 ? keptOf(own) : out.files };
	const title = `Move ${countOf(values.length, whole)} of the option “${out.title}” into the main part`;
	return moved(slug, title, changed, [out, next]);
}
