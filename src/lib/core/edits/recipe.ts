// Recipes: steps that were done once, with blanks, done again as one plan on whatever the blanks are filled with.
import { counted, either } from '../wording';
import { joined, type Plan } from '../change';
import { fieldOf, type BlankGuide, type Recipe } from '../guide';
import type { Stack } from '../stack';
import { plansInOrder } from './in-order';
import {
	intentionOf,
	intentionSchema,
	type Besides,
	type Drafted,
	type Intention,
	type Opener
} from './intentions';
import { NotPossible } from './work';

/** Parts of a step that are words of its own, not of the game. */
const WORDS = new Set(['do', 'kind', 'field', 'list', 'how', 'by', 'without', 'language']);

/** Every text in plain data, changed; names of maps stay, and the parts of a step in `but`. */
function eachText(
	value: unknown,
	change: (text: string) => string,
	but: ReadonlySet<string> = new Set()
): unknown {
	if (typeof value === 'string') return change(value);
	if (Array.isArray(value)) return value.map((one) => eachText(one, change, but));
	if (typeof value !== 'object' || value === null) return value;
	return Object.fromEntries(
		Object.entries(value).map(([name, inside]) => [
			name,
			but.has(name) && typeof inside !== 'object' ? inside : eachText(inside, change, but)
		])
	);
}

/** A recipe with some of its blanks filled; those filled are blanks no more. */
export function withFilled(recipe: Recipe, fill: Readonly<Record<string, string>>): Recipe {
	const known = (name: string) => Object.hasOwn(recipe.blanks, name) && Object.hasOwn(fill, name);
	const put = (text: string) =>
		text.replace(/\{([^{}]+)\}/g, (all, name) => (known(name) ? fill[name]! : all));
	return {
		...recipe,
		blanks: Object.fromEntries(Object.entries(recipe.blanks).filter(([name]) => !known(name))),
		steps: recipe.steps.map((step) => eachText(step, put) as Recipe['steps'][number])
	};
}

/**
 * The steps of a recipe, as what somebody wants.
 * @throws NotPossible where a blank is left open or a step is none that is known
 */
export function stepsOf(recipe: Recipe, fill: Readonly<Record<string, string>>): Intention[] {
	for (const [name, { title, kind, new: fresh }] of Object.entries(recipe.blanks)) {
		const said = fill[name];
		if (said === undefined || ((fresh || kind !== undefined) && said.trim() === ''))
			throw new NotPossible(`“${title}” is not filled in yet.`);
	}
	return withFilled(recipe, fill).steps.map((step, at) => {
		const read = intentionSchema.safeParse(step);
		if (!read.success) {
			const [issue] = read.error.issues;
			throw new NotPossible(
				`Step ${at + 1} of the recipe “${recipe.title}” is not known (${issue!.path.join('.') || 'do'}: ${issue!.message}). Fix it in the field guide.`
			);
		}
		if ('bound' in intentionOf(read.data.do)!)
			throw new NotPossible(`Step ${at + 1} of the recipe “${recipe.title}” cannot be repeated.`);
		return read.data;
	});
}

/**
 * The plan that replays a recipe: each step on what the steps before it leave. Steps with nothing to do are left out, and
 * said.
 * @throws NotPossible naming the step that cannot be done
 */
export function replay(
	{ stack, mod, besides }: { stack: Stack; mod: string; besides: Besides },
	{ recipe: name, fill }: { recipe: string; fill: Readonly<Record<string, string>> }
): Plan {
	const recipes = stack.guide.recipes ?? {};
	const recipe = Object.hasOwn(recipes, name) ? recipes[name]! : undefined;
	if (!recipe) throw new NotPossible(`The field guide has no recipe “${name}”.`);
	const steps = stepsOf(recipe, fill);
	const { plans, idle } = plansInOrder({ stack, mod, besides }, steps, (nth) => `Step ${nth} of the recipe`);
	const said = Object.entries(recipe.blanks)
		.filter(([, { kind }]) => kind !== undefined)
		.map(([blank]) => fill[blank])
		.join(', ');
	const whole = joined(`${recipe.title}${said === '' ? '' : `: ${said}`}`, plans);
	whole.notes.unshift(
		`${counted(plans.length, 'step')} of the recipe “${recipe.title}” as one plan.`,
		...(idle.length > 0
			? [`Nothing left to do in ${either(idle.length, 'step', 'steps')} ${idle.join(', ')}.`]
			: [])
	);
	return whole;
}

/** A step in words, with the names that are in it. */
export function stepInWords(step: Recipe['steps'][number]): string {
	const many = (part: string) => (Array.isArray(step[part]) ? (step[part] as unknown[]) : []);
	return (
		intentionOf(String(step.do))?.words({
			data: step,
			said: (part) => String(step[part] ?? '…'),
			many: (part) => many(part) as Record<string, unknown>[],
			count: (part) => many(part).length
		}) ?? String(step.do)
	);
}

/** A recipe as it was recorded, and what its blanks were. */
export interface Recorded {
	recipe: Recipe;
	was: Record<string, string>;
}

/** A name for a blank that is not taken, in small letters without spaces. */
function nameFor(wish: string, taken: ReadonlySet<string>): string {
	const plain =
		wish
			.toLowerCase()
			.replace(/[^\p{L}\p{N}]+/gu, '-')
			.replace(/^-|-$/g, '') || 'blank';
	let name = plain;
	for (let nth = 2; taken.has(name); nth++) name = `${plain}-${nth}`;
	return name;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/**
 * A recipe from steps just made: each record that they start from, each new id and each value becomes a blank, and ids
 * stand for their blank wherever they occur as a word. Filling the blanks with what they were gives the same steps.
 * @throws NotPossible where a step is bound to its moment
 */
export function recipeFrom(stack: Stack, title: string, steps: readonly Intention[]): Recorded {
	const blanks: Record<string, BlankGuide> = {};
	const was: Record<string, string> = {};
	// What is in braces already is somebody else's.
	const taken = new Set([...JSON.stringify(steps).matchAll(/\{([^{}]+)\}/g)].map(([, name]) => name!));
	const byId = new Map<string, string>();
	const blankFor = (wish: string, value: string, blank: BlankGuide): string => {
		const name = nameFor(wish, taken);
		taken.add(name);
		blanks[name] = { ...blank, example: value };
		was[name] = value;
		return name;
	};
	const kindTitle = (kind: string) => stack.guide.kinds[kind]?.title ?? kind;
	const record = (kind: string, id: string, fresh: boolean) => {
		if (byId.has(id)) return;
		const titled = kindTitle(kind);
		byId.set(
			id,
			blankFor(fresh ? `new-${titled}` : titled, id, {
				title: fresh ? `Id of the new ${titled.toLowerCase()}` : titled,
				kind,
				...(fresh ? { new: true } : {})
			})
		);
	};
	for (const step of steps) {
		const kind = intentionOf(step.do)!;
		if ('bound' in kind)
			throw new NotPossible(`A step that ${kind.bound} cannot be part of a recipe; choose the others.`);
		if (!('kind' in step)) continue;
		if ('id' in step) record(step.kind, step.id, false);
		if ('newId' in step && step.newId !== undefined) record(step.kind, step.newId, true);
	}
	// Longer ids first, so that none stands in for a part of another.
	const ids = [...byId.keys()].sort((a, b) => b.length - a.length);
	const pattern =
		ids.length > 0
			? new RegExp(`(?<![\\p{L}\\p{N}_-])(?:${ids.map(escaped).join('|')})(?![\\p{L}\\p{N}_-])`, 'gu')
			: null;
	const idsOpen = (text: string) => (pattern ? text.replace(pattern, (id) => `{${byId.get(id)!}}`) : text);
	/** A value that was typed: a blank of its own, unless it names one of the records. */
	const valueOpen = (text: string, title: string): string => {
		const named = idsOpen(text);
		return named === text && text !== '' ? `{${blankFor(title, text, { title })}}` : named;
	};
	const open: Opener = {
		value: valueOpen,
		ids: idsOpen,
		fieldTitle: (kind, field) => fieldOf(stack.guide.kinds[kind], field)?.title ?? field,
		language: (code) => stack.guide.words?.languages[code] ?? code
	};
	const opened = steps.map((step) => {
		const lasting = Object.entries(step).filter(([name]) => name !== 'expected' && name !== 'reason');
		const out = eachText(Object.fromEntries(lasting), idsOpen, WORDS) as Record<string, unknown>;
		const kind = intentionOf(step.do) as Drafted<Drafted<never>['schema']>;
		return { ...out, ...kind.opens?.(step as never, open) };
	});
	return { recipe: { title, blanks, steps: opened }, was };
}
