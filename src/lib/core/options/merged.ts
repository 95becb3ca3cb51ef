// My mod as one who chose some options has it, where they are no mods of their own but part of the main one.
import type { FileContent } from '../change';
import { EditRefused } from '../formats';
import { myFiles, NotPossible, planFor, planToBring, stackAfter } from '../edits';
import { settledStep, type Settled } from '../layers';
import { valueOf, type Identity, type Stack } from '../stack';
import { OptionFault, optionName, optionStack } from './layers';
import type { ModOption } from './schema';
import { transferred, wholeThings } from './transfer';

/** What an option sets that the main part does not have so. */
export const settledBy = (stack: Stack, cells: ModOption['cells']): Settled[] =>
	cells.flatMap((cell): Settled[] => {
		const record = stack.tables.get(cell.kind)?.byId.get(cell.id);
		const expected = (record && valueOf(record, cell.field)) ?? null;
		return (expected ?? '') === cell.value ? [] : [{ ...cell, expected }];
	});

/**
 * The stack after options became part of the edited layer, in their order.
 * @throws OptionFault where one sets what is not there
 */
export function mergedWith(stack: Stack, options: readonly ModOption[], identity: Identity): Stack {
	let made = stack;
	for (const option of options)
		try {
			const own = optionStack(made, option);
			const { to } = transferred(
				{ stack: own, mod: optionName(identity, option) },
				{ stack: made, mod: identity.name },
				[...wholeThings(own)]
			);
			const before = myFiles(made);
			const brought = new Map<string, FileContent>(
				[...to].filter(([path, content]) => before.get(path) !== content)
			);
			if (brought.size > 0) made = stackAfter(made, planToBring(made, brought));
			const settled = settledBy(made, option.cells);
			if (settled.length > 0)
				made = stackAfter(made, planFor(made, settledStep(settled, option.title), identity.name));
		} catch (fault) {
			if (fault instanceof NotPossible || fault instanceof EditRefused)
				throw new OptionFault(option, `${option.title}: ${fault.message}`);
			throw fault;
		}
	return made;
}
