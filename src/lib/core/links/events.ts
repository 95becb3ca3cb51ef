// What the game asks scripts for: functions that they define and never call themselves, by name or by a name that is made
// with an id, and who answers in which layer.
import type { EventGuide } from '../guide';
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
	/** What the guide says of it; null where it was only detected. */
	said: EventGuide | null;
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

const saidOf = ({ guide }: Stack, name: string): EventGuide | null =>
	guide.events && Object.hasOwn(guide.events, name) ? guide.events[name]! : null;

/** What the guide says that the game asks for, and no script answers. */
function unanswered({ guide }: Stack, found: Iterable<GameEvent>): GameEvent[] {
	const names = new Set([...found].map(({ name }) => name));
	return Object.entries(guide.events ?? {})
		.filter(([name]) => !names.has(name))
		.map(([name, said]) => ({
			name,
			kind: said.kind ?? null,
			parameters: (said.arguments ?? []).map((one) => one.name),
			said,
			answers: []
		}));
}

/**
 * The kind of the records that a function gets as an argument: by what the guide says of the event or of comparisons in
 * scripts, or by its name. Null where nothing says so.
 */
export function kindOfArgument(
	{ guide, tables }: Stack,
	said: EventGuide | null,
	name: string
): string | null {
	const told = said?.arguments?.find((one) => one.name === name)?.kinds?.[0];
	const rule = guide.scripts?.find(({ call, argument }) => argument === 0 && call.split('.')[0] === name);
	const kind = told ?? rule?.kinds[0] ?? (tables.has(name) ? name : null);
	return kind !== null && (tables.get(kind)?.count ?? 0) > 0 ? kind : null;
}

/** The event that a function answers, as the guide names it: by its name, or one with `{id}` for the end of it. */
export function saidOfFunction(stack: Stack, name: string): EventGuide | null {
	const own = saidOf(stack, name);
	if (own) return own;
	for (const [said, event] of Object.entries(stack.guide.events ?? {})) {
		const stem = said.replace(/\{id\}$/, '');
		if (stem === said || !name.startsWith(stem)) continue;
		const id = name.slice(stem.length);
		if (event.kind === undefined ? /^\d+$/.test(id) : stack.tables.get(event.kind)?.byId.has(id))
			return event;
	}
	return null;
}

/** All that the game asks scripts for, by name, as the guide says or as it seems. Detected: a function that nobody calls may also be forgotten. */
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
				(event = {
					name,
					stem: best?.stem ?? '',
					kind: best?.kind ?? null,
					parameters,
					said: saidOf(stack, name),
					answers: []
				})
			);
		event.answers.push({ ...answer, id: best?.id ?? null });
	}
	return [
		...[...events.values()].map(({ stem: _, ...event }) => event),
		...unanswered(stack, events.values())
	].sort((a, b) => (a.name < b.name ? -1 : 1));
}
