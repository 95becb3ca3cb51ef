// What the game asks scripts for: functions that they define and never call themselves, by name or by a name that is made
// with an id, and who answers in which layer.
import { calledIn, definedIn } from '../scripts';
import type { Layer, Stack } from '../stack';
import { scriptsOf } from './scripts';

/** A function that answers an event. */
export interface EventAnswer {
	layer: Layer;
	path: string;
	line: number;
	name: string;
	/** The record that it is for, where the name of the function is made with an id. */
	id: string | null;
}

/** Something that the game asks scripts for. */
export interface GameEvent {
	/** The name that functions have to have; `{id}` where they have one for each record, or each number. */
	name: string;
	/** The kind of these records; null where there is one name, or numbers. */
	kind: string | null;
	parameters: string[];
	/** In the order in which the layers and scripts are read. */
	answers: EventAnswer[];
}

interface Given extends EventAnswer {
	parameters: string[];
}

/** The ways to read a name as one that is made with an id: what is before the id, the id, its kind. */
function readings({ tables }: Stack, name: string): { stem: string; id: string; kind: string | null }[] {
	const found: { stem: string; id: string; kind: string | null }[] = [];
	for (let at = name.indexOf('_'); at > 0 && at < name.length - 1; at = name.indexOf('_', at + 1)) {
		const [stem, id] = [name.slice(0, at + 1), name.slice(at + 1)];
		if (/^\d+$/.test(id)) found.push({ stem, id, kind: null });
		else for (const [kind, table] of tables) if (table.rowOf(id) >= 0) found.push({ stem, id, kind });
	}
	return found;
}

/** All that the game seems to ask scripts for, by name. Detected: a function that nobody calls may also be forgotten. */
export function eventsOf(stack: Stack): GameEvent[] {
	const called = new Set<string>();
	const given: Given[] = [];
	for (const { layer, path, facts } of scriptsOf(stack)) {
		for (const name of calledIn(facts)) called.add(name);
		for (const { name, line, parameters } of definedIn(facts))
			given.push({ layer, path, line, name, id: null, parameters });
	}
	const asked = given.filter(({ name }) => !called.has(name) && !/[.:]/.test(name));
	const made = new Map<string, number>();
	const read = new Map(asked.map(({ name }) => [name, readings(stack, name)]));
	for (const all of read.values())
		for (const { stem, kind } of all) {
			const key = `${stem}\n${kind}`;
			made.set(key, (made.get(key) ?? 0) + 1);
		}
	const events = new Map<string, GameEvent & { stem: string }>();
	for (const { parameters, ...answer } of asked) {
		const [best] = read
			.get(answer.name)!
			.map((one) => ({ ...one, count: made.get(`${one.stem}\n${one.kind}`)! }))
			.filter(({ count }) => count > 1)
			.sort((a, b) => b.count - a.count || a.id.length - b.id.length);
		const name = best ? `${best.stem}{id}` : answer.name;
		const key = `${name}\n${best?.kind}`;
		let event = events.get(key);
		if (!event)
			events.set(
				key,
				(event = { name, stem: best?.stem ?? '', kind: best?.kind ?? null, parameters, answers: [] })
			);
		event.answers.push({ ...answer, id: best?.id ?? null });
	}
	return [...events.values()]
		.map(({ stem: _, ...event }) => event)
		.sort((a, b) => (a.name < b.name ? -1 : 1));
}
