import { guidedValues, limitFault, typeFault } from './fields';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** A number beyond what the game takes. */
export const hardLimit: Rule = {
	id: 'hard-limit',
	title: 'Beyond a hard limit',
	reads: ['records'],
	*find({ stack }) {
		for (const { record, path, field, value } of guidedValues(stack)) {
			const fault = typeFault(field, value.value) ? null : limitFault(field, value.value);
			if (!fault) continue;
			yield snagAt(stack, record, value.presence, {
				rule: 'hard-limit',
				severity: 'blocks',
				field: path,
				message: `${field.title ?? path} ${quoted(value.value)} ${fault.said}, the limit of the game. ${consequence(stack, record)} (line ${value.presence.record.line}).`,
				candidates: [String(fault.clamped)],
				repairable: value.presence.layer.role === 'mine'
			});
		}
	}
};
