// What the game asks scripts for and who answers, and which script loads which, for the page of scripts.
import {
	eventsOf,
	loadingOf,
	recordArgument,
	scriptsOf,
	type EventAnswer,
	type GameEvent,
	type Loading
} from '$core/links';
import { displayName, recordNamed, type Layer, type Stack, type Table } from '$core/stack';
import type { ClassField, EventView, LoadView, ScriptsPage } from '$core/views';
import type { Model } from '../model';

const MOST_ANSWERS = 40;
const MOST_OPEN = 200;
const MOST_LOADS = 500;

const layerView = ({ id, title, owner }: Layer) => ({ id, title, owner });

const placeView = ({ layer, path, line, id, name }: EventAnswer) => ({
	layer: layerView(layer),
	path,
	line,
	id,
	name
});

/** What the guide says of an argument, in a few words; empty where it says nothing. */
function aboutArgument({ said }: GameEvent, name: string): string {
	const known = said?.arguments?.find((one) => one.name === name);
	if (!known) return '';
	const { meaning, unit, min, max } = known;
	const range = min !== undefined && max !== undefined ? `${min} to ${max}${unit ? ` ${unit}` : ''}` : '';
	return [meaning?.replace(/\.$/, ''), range].filter(Boolean).join(', ');
}

/** Values of a field up to which it tells classes of records apart. */
const MOST_CLASSES = 12;

/** The fields of a kind that have few values, each in several records. */
function classesOf(stack: Stack, table: Table): ClassField[] {
	return table.columns.flatMap((field): ClassField[] => {
		if (/[[\]#*]/.test(field)) return [];
		const known = table.guide.fields[field];
		const values = new Set<number>();
		for (const value of table.column(field)) {
			if (value >= 0) values.add(value);
			if (values.size > MOST_CLASSES) return [];
		}
		const texts = [...values].map((value) => table.pool.at(value)).filter((text) => text !== '');
		if (texts.length < 2 || texts.length * 2 > table.count) return [];
		const target = known?.reference ? stack.tables.get(known.reference.kinds[0]!) : undefined;
		const shown = (value: string) => {
			const record = recordNamed(target, value);
			return record ? displayName(stack, record) : (known?.codes?.[value] ?? value);
		};
		return [
			{
				field,
				title: known?.title ?? field,
				values: texts
					.sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
					.map((value) => ({ value, shown: shown(value) }))
			}
		];
	});
}

function eventView(stack: Stack, event: GameEvent): EventView {
	const { name, kind, parameters, answers, said } = event;
	const record = recordArgument(stack, event);
	const table = kind === null ? undefined : stack.tables.get(kind);
	const answered = new Set(answers.map(({ id }) => id));
	return {
		name,
		kind: table
			? {
					id: kind!,
					title: table.guide.title,
					plural: table.guide.plural ?? table.guide.title,
					records: table.count
				}
			: null,
		numbered: kind === null && name.endsWith('{id}'),
		parameters,
		when: said?.when ?? null,
		returns: said?.returns ?? null,
		about: parameters.map((one) => aboutArgument(event, one)),
		record: record && { argument: record.name, kind: record.kind },
		answers: answers.slice(0, MOST_ANSWERS).map(placeView),
		more: Math.max(0, answers.length - MOST_ANSWERS),
		open: table
			? [...table.byId.keys()]
					.filter((id) => !answered.has(id))
					.slice(0, MOST_OPEN)
					.map((id) => ({ id, name: displayName(stack, table.byId.get(id)!) }))
			: []
	};
}

/** The scripts in the order in which they are loaded, each below the one that loads it. */
function orderOf({ entries, loads, scripts }: Loading): LoadView[] {
	const layers = new Map(scripts.map(({ path, layer }) => [path, layerView(layer)]));
	const order: LoadView[] = [];
	const way: string[] = [];
	const add = (path: string, line: number): void => {
		if (order.length >= MOST_LOADS) return;
		const state = !layers.has(path) ? 'gone' : way.includes(path) ? 'circle' : 'loaded';
		order.push({ path, layer: layers.get(path) ?? null, depth: way.length, line, state });
		if (state !== 'loaded') return;
		way.push(path);
		for (const load of loads.get(path) ?? []) add(load.path ?? load.text, load.line);
		way.pop();
	};
	for (const entry of entries) add(entry, 1);
	return order;
}

/** The page of scripts. */
export function scriptsPage({ stack, project }: Model): ScriptsPage {
	const loading = loadingOf(stack);
	const events = eventsOf(stack).map((event) => eventView(stack, event));
	const kinds = [...new Set(events.flatMap(({ record }) => record?.kind ?? []))];
	return {
		slug: project.slug,
		pages: (stack.guide.pages?.length ?? 0) > 0,
		kinds: Object.fromEntries(
			kinds.map((kind) => {
				const table = stack.tables.get(kind)!;
				const { title, plural } = table.guide;
				return [kind, { title, plural: plural ?? title, classes: classesOf(stack, table) }];
			})
		),
		count: loading.scripts.length,
		events,
		call: loading.call,
		order: orderOf(loading),
		unloaded: loading.scripts
			.filter(({ path }) => loading.unloaded.includes(path))
			.map(({ path, layer }) => ({ path, layer: layerView(layer), line: 1 }))
	};
}

/** Whether a game has scripts at all. */
export const hasScripts = (stack: Stack): boolean => scriptsOf(stack).length > 0;
