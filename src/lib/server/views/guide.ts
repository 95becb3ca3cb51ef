// What is known of a game's data, for the pages of the field guide.
import {
	columnsInWords,
	edgesOf,
	ID,
	originOf,
	ruleInWords,
	selectionInWords,
	statementIn,
	type FieldGuide,
	type InheritsGuide,
	type KindGuide,
	type Origin
} from '$core/guide';
import { understoodOf } from '$core/checks';
import { columnsFor } from '$core/links';
import { columnSpread, valuesTaken } from '$core/numbers';
import type { GuideFieldView, GuideIndexView, GuideKindView, GuideOrder, GuidePartView } from '$core/views';
import { lastGuideStep } from '../db/guides';
import { db } from '../db/pool';
import { NotThere } from '../faults';
import { unitOf } from '$core/stack';
import type { Model } from '../model';

const written = ({ project }: Model) => ({ shared: project.guide, mine: project.ownGuide });

/** How sure what is said of a field is at its least: 1 where people said all of it. */
const sureness = (field: FieldGuide, origin: Origin) =>
	Math.min(field.reference?.found?.sure ?? 1, origin === 'found' ? (field.found?.sure ?? 0) : 1);

function originsOf(model: Model, kind: string, path: string, field: FieldGuide): Origin {
	const at = ['kinds', kind, 'fields', path];
	const main = field.reference ? 'reference' : field.derive ? 'derive' : 'type';
	return (
		originOf(written(model), [...at, main], field[main]) ?? originOf(written(model), at, field) ?? 'found'
	);
}

/** Sureness below which people should look. */
export const UNSURE = 0.9;

/** Kinds that are listed at a time, and references between them that are shown. */
const [MOST_KINDS, MOST_EDGES] = [100, 400];

const ORDERS: Record<
	GuideOrder,
	(a: GuideIndexView['kinds'][number], b: GuideIndexView['kinds'][number]) => number
> = {
	unsure: (a, b) => a.least - b.least || b.unsure - a.unsure,
	name: (a, b) => a.title.localeCompare(b.title),
	records: (a, b) => b.records - a.records
};

/**
 * The kinds, how sure Field guide is, and who refers to whom; the first of those whose name holds some words.
 */
export async function guideIndex(
	model: Model,
	{ order = 'unsure', filter = '' }: { order?: GuideOrder; filter?: string } = {}
): Promise<GuideIndexView> {
	const { guide, tables } = model.stack;
	const all = Object.entries(guide.kinds)
		.filter(([kind]) => (tables.get(kind)?.count ?? 0) > 0)
		.map(([kind, about]) => {
			const fields = Object.entries(about.fields).map(([path, field]) =>
				sureness(field, originsOf(model, kind, path, field))
			);
			return {
				kind,
				title: about.plural ?? about.title,
				records: tables.get(kind)!.count,
				files: tables.get(kind)!.files.length,
				globs: [...about.files.slice(0, 3), selectionInWords(about)].filter(Boolean),
				origin: originOf(written(model), ['kinds', kind], about) ?? 'found',
				fields: fields.length,
				unsure: fields.filter((sure) => sure < UNSURE).length,
				least: fields.length === 0 ? 1 : Math.min(...fields)
			};
		});
	const words = filter.trim().toLowerCase();
	const passing = all.filter(({ kind, title }) => `${kind} ${title}`.toLowerCase().includes(words));
	const kinds = passing.sort(ORDERS[order]).slice(0, MOST_KINDS);
	const there = new Set(kinds.map(({ kind }) => kind));
	const edges = new Map<string, GuideIndexView['edges'][number]>();
	for (const { rule, from, field, to, sure } of edgesOf(guide)) {
		if (rule === 'text' || rule === 'file' || !there.has(from) || !there.has(to)) continue;
		const key = `${from}\n${to}`;
		const edge = edges.get(key) ?? { from, to, fields: [], sure: 0 };
		edges.set(key, edge);
		edge.fields.push(field === ID ? 'the same id' : field);
		edge.sure = Math.max(edge.sure, sure);
	}
	return {
		understood: understoodOf(model.stack, model.links),
		unsure: all.reduce((sum, { unsure }) => sum + unsure, 0),
		all: all.length,
		passing: passing.length,
		kinds,
		edges: [...edges.values()].sort((a, b) => b.sure - a.sure).slice(0, MOST_EDGES),
		scripts: (guide.scripts ?? []).map(({ call, argument, kinds, found }) => ({
			call,
			argument,
			kinds,
			sure: found?.sure ?? 1,
			because: found?.because ?? null
		})),
		patches: guide.patches ?? [],
		last: (await lastGuideStep(db(), model.project.slug))?.title ?? null,
		written: model.project.guide !== null,
		own: model.project.ownGuide !== null
	};
}

/** Values that are shown for a field. */
const MOST_VALUES = 12;

function fieldView(model: Model, kind: string, path: string, field: FieldGuide): GuideFieldView {
	const { tables } = model.stack;
	const table = tables.get(kind)!;
	const [column] = columnsFor(table, path);
	const taken = column === undefined ? [] : valuesTaken(table, column);
	const origin = originsOf(model, kind, path, field);
	const { reference } = field;
	return {
		path,
		title: field.title ?? null,
		type: field.type ?? 'text',
		unit: field.unit ?? null,
		meaning: field.meaning ?? null,
		group: field.group ?? null,
		required: field.required,
		unused: field.unused,
		min: field.min ?? null,
		max: field.max ?? null,
		decimals: field.decimals ?? null,
		derive: field.derive ?? null,
		says: columnsInWords(field),
		codes: field.codes ?? {},
		set: field.set ?? null,
		reference: reference ? { kinds: reference.kinds, rule: ruleInWords(reference) || 'as is' } : null,
		origin,
		sure: sureness(field, origin),
		because: reference?.found?.because ?? field.found?.because ?? null,
		seen: field.seen ?? null,
		mine: Object.keys((statementIn(model.project.ownGuide, ['kinds', kind, 'fields', path]) as object) ?? {}),
		column: column ?? path,
		filled: taken.reduce((sum, { value, count }) => sum + (value === '' ? 0 : count), 0),
		different: taken.length,
		values: taken.slice(0, MOST_VALUES).map(({ value, count }) => ({ value, count })),
		spread: column === undefined ? null : columnSpread(table, column)
	};
}

const inWords = ({ from, pattern, adds, times, appends, drops }: InheritsGuide): string =>
	[
		`values it leaves out come from the record in ${from}`,
		...(pattern ? [`those with a ${pattern} only serve as models for other records`] : []),
		...(adds ? [`numbers in ${adds} are added`] : []),
		...(times ? [`numbers in ${times} are factors`] : []),
		...(appends ? [`items in ${appends} are added to lists`] : []),
		...(drops ? [`items in ${drops} are removed from lists`] : [])
	].join('; ');

const PARTS = {
	texts: ({ texts }: KindGuide) =>
		texts.map(({ label, key, found }) => ({ said: `${label}: ${key}`, found })),
	assets: ({ assets }: KindGuide) => (assets ?? []).map(({ path, found }) => ({ said: path, found })),
	twins: ({ twins }: KindGuide) =>
		(twins ?? []).map(({ of, file, but, found }) => ({
			said: `${file} is like ${of}${but.length > 0 ? `, but for ${but.join(', ')}` : ''}`,
			found
		})),
	covers: ({ covers }: KindGuide) =>
		(covers ?? []).map(({ axes, fallback, found }) => ({
			said: `${axes.map(({ from, to }) => `${from} to ${to}`).join(' × ')}${fallback ? `, else ${fallback}` : ''}`,
			found
		})),
	inherits: ({ inherits }: KindGuide) =>
		inherits ? [{ said: inWords(inherits), found: inherits.found }] : []
} as const;

function partView(model: Model, kind: string, part: keyof typeof PARTS): GuidePartView | null {
	const list = PARTS[part](model.stack.guide.kinds[kind]!);
	if (list.length === 0) return null;
	const origin = originOf(written(model), ['kinds', kind, part], list) ?? 'found';
	return {
		part,
		origin,
		sure: origin === 'found' ? Math.min(...list.map(({ found }) => found?.sure ?? 1)) : 1,
		says: list.map(({ said, found }) => ({ said, because: found?.because ?? null }))
	};
}

/** Where the records of a kind stand in their files, as a sentence; empty where these hold nothing else. */
function placeOf(about: KindGuide): string {
	const selection = selectionInWords(about);
	if (selection === '') return '';
	return `Its records are ${about.where ? 'those whose ' : ''}${selection}.`;
}

/** A text with records of a kind, for the page on which it is read in another way. */
function exampleOf({ stack, project }: Model, kind: string): GuideKindView['example'] {
	const [first] = stack.tables.get(kind)?.files ?? [];
	// What the shared guide says of reading is not changed here.
	return first && statementIn(project.guide, ['kinds', kind]) === undefined
		? { layer: first.layer.id, path: first.file.path }
		: null;
}

/** Everything that is known of a kind. @throws NotThere */
export function guideOfKind(model: Model, kind: string): GuideKindView {
	const about = model.stack.guide.kinds[kind];
	const table = model.stack.tables.get(kind);
	if (!about || !table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	return {
		kind,
		title: about.title,
		plural: about.plural ?? about.title,
		records: table.count,
		files: about.files,
		key: about.key ?? null,
		id: about.id ?? null,
		merge: about.merge,
		adds: about.adds?.because ?? null,
		mergeSaid: !about.inferred,
		rules: {
			second: about.second ?? 'last',
			out: about.out ?? null,
			nulls: about.nulls ?? 'value',
			joins: about.joins ?? {},
			lists: [
				...new Set([
					...table.columns.filter((path) => path.includes('[')).map(unitOf),
					...Object.keys(about.joins ?? {})
				])
			]
		},
		fault: about.fault,
		name: about.name ? { from: about.name.from, because: about.name.found?.because ?? null } : null,
		namedByTexts: about.texts.some(({ name }) => name),
		origin: originOf(written(model), ['kinds', kind], about) ?? 'found',
		keyParts: about.keyParts ?? null,
		severalIds: about.severalIds ?? false,
		place: placeOf(about),
		example: exampleOf(model, kind),
		because: about.found?.because ?? null,
		texts: model.stack.guide.words?.kind === kind,
		fields: Object.entries(about.fields).map(([path, field]) => fieldView(model, kind, path, field)),
		parts: (Object.keys(PARTS) as (keyof typeof PARTS)[]).flatMap(
			(part) => partView(model, kind, part) ?? []
		),
		sets: Object.keys(model.stack.guide.sets ?? {}).sort(),
		kinds: Object.entries(model.stack.guide.kinds)
			.filter(([other]) => (model.stack.tables.get(other)?.count ?? 0) > 0)
			.map(([other, { title }]) => ({ kind: other, title }))
	};
}
