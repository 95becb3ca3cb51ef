// Each option as a layer of its own over the main part of my mod, as a game that knows nothing of options reads it.
import { EditRefused } from '../formats';
import { myFiles, NotPossible, planFor, stackAfter } from '../edits';
import type { FileContent } from '../change';
import { cellSteps } from '../layers';
import { buildStack, withFiles, type Identity, type Layer, type Stack } from '../stack';
import type { ModOption } from './schema';
import { contentsOf } from './transfer';

/** What an option is made of. */
export interface OptionLayer {
	option: ModOption;
	layer: Layer;
	files: ReadonlyMap<string, FileContent>;
	/** How its own mod presents itself. */
	identity: Identity;
}

/** An option sets something that cannot be set; says which and why. */
export class OptionFault extends Error {
	constructor(
		readonly option: ModOption,
		message: string
	) {
		super(message);
	}
}

/** The folder-safe name of an option's own mod. */
export const optionName = ({ name }: Pick<Identity, 'name'>, { id }: Pick<ModOption, 'id'>): string =>
	`${name}_${id}`;

/** The stack in which an option is the edited layer, with its own files; the main part is only read there. */
export function optionStack(stack: Stack, option: ModOption): Stack {
	const { layers, guide, pool, mine } = stack;
	const below = layers.map((layer): Layer => (layer === mine ? { ...layer, owner: 'others' } : layer));
	const empty: Layer = {
		...mine!,
		id: `option ${option.id}`,
		title: option.title,
		option: option.id,
		files: new Map()
	};
	return buildStack(
		[...below, withFiles(empty, contentsOf(option.files), guide, pool, below)],
		guide,
		pool,
		stack
	);
}

/**
 * The options of my mod as layers over it.
 * @throws OptionFault where one sets what is not there
 */
export function optionLayers(stack: Stack, options: readonly ModOption[], identity: Identity): OptionLayer[] {
	if (!stack.mine) return [];
	const called = (option: ModOption) => optionName(identity, option);
	return options.map((option) => {
		let made = optionStack(stack, option);
		try {
			for (const step of cellSteps(option.cells)) {
				const changes = step.cells.some(
					({ id, field, value }) => (made.tables.get(step.kind)?.byId.get(id)?.value(field) ?? '') !== value
				);
				if (changes) made = stackAfter(made, planFor(made, step, called(option)));
			}
		} catch (fault) {
			if (fault instanceof NotPossible || fault instanceof EditRefused)
				throw new OptionFault(option, `${option.title}: ${fault.message}`);
			throw fault;
		}
		const files = myFiles(made);
		const beside = options.filter(
			(other) => other !== option && option.oneOf !== null && other.oneOf === option.oneOf
		);
		return {
			option,
			layer: made.mine!,
			files,
			identity: {
				...identity,
				name: called(option),
				title: `${identity.title}: ${option.title}`,
				description: option.about,
				requires: [identity.name],
				after: [identity.name],
				notWith: beside.map(called)
			}
		};
	});
}

/** The stack as a player has it who chose some options: they lie over the main part, in their order. */
export function withOptions(stack: Stack, layers: readonly OptionLayer[], chosen: readonly string[]): Stack {
	const { guide, pool } = stack;
	const over = layers.filter(({ option }) => chosen.includes(option.id)).map(({ layer }) => layer);
	const at = stack.layers.indexOf(stack.mine!) + 1;
	return buildStack([...stack.layers.slice(0, at), ...over, ...stack.layers.slice(at)], guide, pool, stack);
}
