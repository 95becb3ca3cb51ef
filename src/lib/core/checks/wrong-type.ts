import type { FieldGuide, KindGuide } from '../guide';
import { faultyValues, typeFault } from './fields';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** A value that is not of its field's type. */
export const wrongType: Rule = {
	id: 'wrong-type',
	title: 'Not a value of this field',
	reads: ['records'],
	*find({ stack }) {
		const find = (field: FieldGuide, text: string, kind: KindGuide) =>
			field.type === undefined || kind.inferred || (text === '' && field.reference)
				? null
				: typeFault(field, text);
		for (const { record, path, field, value, fault } of faultyValues(stack, 'wrong-type', find)) {
			yield snagAt(stack, record, value.presence, {
				rule: 'wrong-type',
				severity: 'blocks',
				field: path,
				message: `${field.title ?? path} ${fault === 'is empty' ? fault : `${quoted(value.value)} ${fault}`}. ${consequence(stack, record)} (line ${value.presence.line}).`,
				repairable: value.presence.layer.role === 'mine' && value.overrode.length > 0
			});
		}
	}
};
