// Scripts of a project tried without the game: what is given to them, and what comes of it with my mod and without.
import { join } from 'node:path';
import * as z from 'zod';
import type { EventGuide } from '$core/guide';
import { definedIn, type Throw, type Thrown } from '$core/scripts';
import {
	gameFunctions,
	kindOfArgument,
	loadingOf,
	NoRecord,
	saidOfFunction,
	scriptsOf,
	throwOn
} from '$core/links';
import { displayName, isChanged, isEditable, type Stack } from '$core/stack';
import type { TryPage, TryParameter } from '$core/views';
import { thrown, ThrowFault } from '../files';
import { NotThere } from './faults';
import type { Model } from './model';
import { codeFolder } from './settings';
import { inTurn } from './turns';
import { stackBelow } from './views/relations';

/** Milliseconds and throws that one try may take. */
const MOST_TIME = 10_000;
const MOST_THROWS = 5000;

const text = z.string().max(2000);

export const throwSchema = z.object({
	/** The function; null where the scripts are only loaded. */
	name: z
		.string()
		.regex(/^[A-Za-z_]\w*$/)
		.nullable(),
	args: z.array(z.union([z.object({ kind: text, id: text }), z.object({ value: text })])).max(20),
	/** What functions of the game give back, as typed. */
	returns: z.record(z.string().max(200), text),
	seed: z
		.number()
		.int()
		.min(0)
		.max(2 ** 31),
	times: z.number().int().min(1).max(MOST_THROWS)
});

export type ThrowAsked = z.infer<typeof throwSchema>;

/** The first record of the kind that a parameter is; null where it is not known to be a record. */
function kindOf(stack: Stack, event: EventGuide | null, name: string): TryParameter['kind'] {
	const id = kindOfArgument(stack, event, name);
	const table = id === null ? undefined : stack.tables.get(id);
	if (!table) return null;
	const first = table.record(0);
	return { id: id!, title: table.guide.title, first: { id: first.id, name: displayName(stack, first) } };
}

/** @throws NotThere */
export function tryPage({ stack, project }: Model, name: string): TryPage {
	const { scripts, call } = loadingOf(stack);
	const event = saidOfFunction(stack, name);
	const answers = scripts.flatMap(({ path, layer, facts }) =>
		definedIn(facts)
			.filter((one) => one.name === name)
			.map(({ line, parameters }) => ({ layer, path, line, parameters }))
	);
	if (answers.length === 0) throw new NotThere(`No script defines the function ${name}.`);
	return {
		slug: project.slug,
		name,
		answers: answers.map(({ layer: { id, title, owner }, path, line }) => ({
			layer: { id, title, owner },
			path,
			line
		})),
		when: event?.when ?? null,
		returns: event?.returns ?? null,
		parameters: answers.at(-1)!.parameters.map((parameter) => {
			const known = event?.arguments?.find((one) => one.name === parameter);
			const { meaning = null, unit = null, min = null, max = null } = known ?? {};
			return { name: parameter, kind: kindOf(stack, event, parameter), meaning, unit, min, max };
		}),
		game: gameFunctions(scripts, call).map((one) => {
			const { meaning = null, returns = '' } = stack.guide.calls?.[one] ?? {};
			return { name: one, meaning, returns };
		})
	};
}

/** What came of a throw, or why nothing did. */
export type TryResult = { thrown: Thrown } | { fault: string };

/** One after another: each may take a core for itself. */
async function resultOf(what: Throw): Promise<TryResult> {
	try {
		const machine = join(codeFolder(), 'build/thrower.js');
		return { thrown: await inTurn('throws', () => thrown(machine, what, MOST_TIME)) };
	} catch (fault) {
		if (fault instanceof ThrowFault) return { fault: fault.message };
		throw fault;
	}
}

/** @throws NotThere for a record that is not there */
function argued<T>(work: () => T): T {
	try {
		return work();
	} catch (fault) {
		if (fault instanceof NoRecord) throw new NotThere(fault.message);
		throw fault;
	}
}

/** Throws with my mod; and without it, where it changes a script or a record that is given. @throws NotThere */
export async function tryOn(
	model: Model,
	asked: ThrowAsked
): Promise<{ mine: TryResult; below: TryResult | null }> {
	const { stack } = model;
	const mine = argued(() => throwOn(stack, [stack], asked));
	const given = asked.args.some((one) => {
		const table = 'kind' in one ? stack.tables.get(one.kind) : undefined;
		const row = table && 'kind' in one ? table.rowOf(one.id) : -1;
		return table !== undefined && row >= 0 && isChanged(table, row);
	});
	if (!given && !scriptsOf(stack).some(({ layer }) => isEditable(layer)))
		return { mine: await resultOf(mine), below: null };
	const base = stackBelow(model);
	// A record that only my mod has goes along as it is.
	const below = argued(() => throwOn(base, [base, stack], asked));
	const [first, second] = await Promise.all([resultOf(mine), resultOf(below)]);
	return { mine: first, below: second };
}
