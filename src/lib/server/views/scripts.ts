// What the game asks scripts for and who answers, and which script loads which, for the page of scripts.
import { eventsOf, loadingOf, scriptsOf, type EventAnswer, type GameEvent, type Loading } from '$core/links';
import { displayName, type Layer, type Stack } from '$core/stack';
import type { EventView, LoadView, ScriptsPage } from '$core/views';
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

function eventView(stack: Stack, { name, kind, parameters, answers }: GameEvent): EventView {
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
	return {
		slug: project.slug,
		count: loading.scripts.length,
		events: eventsOf(stack).map((event) => eventView(stack, event)),
		call: loading.call,
		order: orderOf(loading),
		unloaded: loading.scripts
			.filter(({ path }) => loading.unloaded.includes(path))
			.map(({ path, layer }) => ({ path, layer: layerView(layer), line: 1 }))
	};
}

/** Whether a game has scripts at all. */
export const hasScripts = (stack: Stack): boolean => scriptsOf(stack).length > 0;
