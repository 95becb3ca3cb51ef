// Each option as a layer of its own over the main part of my mod, as a game that knows nothing of options reads it.
import { EditRefused } from '../formats';
import { myFiles, NotPossible, planFor, stackAfter } from '../edits';
import type { FileContent } from '../change';
import { cellSteps } from '../layers';
import { buildStack, type Identity, type Layer, type Stack } from '../stack';
import type { ModOption } from './schema';

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

/**
 * The options of my mod as layers over it.
 * @throws OptionFault where one sets what is not there
 */
export function optionLayers(stack: Stack, options: readonly ModOption[], identity: Identity): OptionLayer[] {
	const main = stack.mine;
	if (!main) return [];
	const { guide, pool } = stack;
	const called = ({ id }: ModOption) => `${identity.name}_${id}`;
	return options.map((option) => {
		const empty: Layer = {
			...main,
			id: `option ${option.id}`,
			title: option.title,
			option: option.id,
			files: new Map()
		};
		// Over the main part, which is only read here.
		const below = stack.layers.map((layer): Layer => (layer === main ? { ...main, owner: 'others' } : layer));
		let made = buildStack([...below, empty], guide, pool);
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
			layer: { ...empty, files: made.mine!.files },
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
