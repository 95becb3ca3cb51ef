// The game as it is up to one of its layers: to look at, never to edit.
import { buildLinks, type Links } from '$core/links';
import { buildStack, displayName, isOn, nameOf, textKeysOf, valueOf, type Stack } from '$core/stack';
import { titleOf } from '$core/guide';
import type { AsOf, RecordAsOf } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

const known = new WeakMap<Model, Map<string, Model>>();

const at = (stack: Stack, layer: string): number => {
	const found = stack.layers.findIndex(({ id }) => id === layer);
	if (found < 0)
		throw new NotThere(
			'There is no such layer in this project, or it is off. See Set up for those that there are.'
		);
	return found;
};

/**
 * A project with the layers after one left out: a model like any other, without snags.
 * @param layer id of a layer; null for the project as it is
 * @throws NotThere
 */
export function modelAsOf(model: Model, layer: string | null): Model {
	if (layer === null) return model;
	const own = known.get(model) ?? new Map<string, Model>();
	known.set(model, own);
	let found = own.get(layer);
	if (!found) {
		const { layers, guide, pool } = model.stack;
		const stack = buildStack(layers.slice(0, at(model.stack, layer) + 1), guide, pool, model.stack);
		let links: Links | null = null;
		found = {
			...model,
			stack,
			snags: [],
			get links() {
				return (links ??= buildLinks(stack));
			}
		};
		own.set(layer, found);
	}
	return found;
}

/** The layer that an address asks for; null for none. */
export const layerIn = ({ searchParams }: URL): string | null => searchParams.get('as') || null;

/** The layers that a project can be looked at as of, with the one that is asked for. @throws NotThere */
export function asOfView({ stack }: Model, layer: string | null): AsOf {
	const layers = stack.layers.filter(isOn).map(({ id, title }) => ({ id, title }));
	return { layers, at: layer === null ? null : layers[at(stack, layer)]! };
}

/** A record as it is up to a layer, each value beside what the game uses in the end. @throws NotThere */
export function recordAsOf(model: Model, layer: string, kind: string, id: string): RecordAsOf {
	const { stack } = modelAsOf(model, layer);
	const title = model.stack.layers[at(model.stack, layer)]!.title;
	const about = stack.guide.kinds[kind];
	const record = stack.tables.get(kind)?.byId.get(id);
	const now = model.stack.tables.get(kind)?.byId.get(id);
	if (!about || !record)
		throw new NotThere(
			now
				? `${displayName(model.stack, now)} is not in the game as of ${title}: it comes with ${now.presences.at(-1)!.layer.title}.`
				: `No record of the kind “${about?.title ?? kind}” has the id “${id}” as of ${title}.`
		);
	const words = stack.guide.words;
	const main = words?.main ?? '';
	const texts = textKeysOf(stack, record).flatMap(({ label, key }) => {
		const text = key === null ? undefined : stack.tables.get(words?.kind ?? '')?.byId.get(key);
		const value = text?.values.get(main);
		if (!text || !value) return [];
		const after = model.stack.tables.get(text.kind)?.byId.get(text.id);
		return [
			{
				title: label,
				value: value.value,
				layer: value.presence.layer.title,
				now: (after && valueOf(after, main)) ?? null
			}
		];
	});
	const fields = [...record.values]
		.filter(([path]) => path !== about.key)
		.map(([path, { value, presence }]) => ({
			title: titleOf(about, path),
			value,
			layer: presence.layer.title,
			now: (now && valueOf(now, path)) ?? null
		}));
	return {
		kind,
		id,
		name: nameOf(stack, record),
		kindTitle: about.title,
		asOf: title,
		values: [...texts, ...fields]
	};
}
