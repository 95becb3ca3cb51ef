import { isEditable } from '../stack';
import type { FieldGuide } from '../guide';
import { faultyValues, isIdle, isSaid } from './fields';
import { limitFault, typeFault } from './values';
import { consequence, quoted, snagAt, type Rule, gravity } from './snag';

const isLimited = ({ min, max, unused }: FieldGuide) => (min !== undefined || max !== undefined) && !unused;

/** A number beyond what the game takes. */
export const hardLimit: Rule = {
	id: 'hard-limit',
	title: 'Beyond a hard limit',
	reads: ['records'],
	local: true,
	*find({ stack }) {
		const find = (field: FieldGuide, text: string) =>
			typeFault(field, text) ? null : limitFault(field, text);
		for (const faulty of faultyValues(stack, 'hard-limit', isLimited, find)) {
			if (!faulty) {
				yield null;
				continue;
			}
			const { record, path, field, value, fault } = faulty;
			if (isIdle(record, field)) continue;
			const clamps = field.beyond === 'clamps';
			// A limit that people wrote blocks, whatever else of the field was only found.
			const bound = fault.clamped === field.max ? 'max' : 'min';
			const found = isSaid(field, bound) ? undefined : field.found;
			const what = clamps
				? `The game reads it as ${quoted(String(fault.clamped))}`
				: consequence(stack, record);
			yield snagAt(stack, record, value.presence, {
				rule: 'hard-limit',
				severity: clamps ? 'warns' : gravity(found),
				field: path,
				message: `${field.title ?? path} ${fault.said}, not ${quoted(value.value)}: ${found ? 'the limit that the file itself states' : 'the limit of the game'}. ${what} (line ${value.presence.line}).`,
				candidates: [String(fault.clamped)],
				repairable: isEditable(value.presence.layer)
			});
		}
	}
};
