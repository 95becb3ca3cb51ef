import { guidedValues, typeFault } from './fields';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** A value that is not of its field's type. */
export const wrongType: Rule = {
	id: 'wrong-type',
	title: 'Not a value of this field',
	reads: ['records'],
	*find({ stack }) {
		for (const { record, path, field, value } of guidedValues(stack)) {
			if (field.type === undefined || stack.guide.kinds[record.kind]!.inferred) continue;
			const fault = typeFault(field, value.value);
			if (!fault || (value.value === '' && field.reference)) continue;
			yield snagAt(stack, record, value.presence, {
				rule: 'wrong-type',
				severity: 'blocks',
				field: path,
				message: `${field.title ?? path} ${fault === 'is empty' ? fault : `${quoted(value.value)} ${fault}`}. ${consequence(stack, record)} (line ${value.presence.record.line}).`,
				repairable: value.presence.layer.role === 'mine' && value.overrode.length > 0
			});
		}
	}
};
