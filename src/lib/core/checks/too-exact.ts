import { isEditable } from '../stack';
import type { FieldGuide } from '../guide';
import { faultyValues, isSaid } from './fields';
import { quoted, snagAt, type Rule } from './snag';
import { typeFault } from './values';

const isRounded = ({ decimals, unused }: FieldGuide) => decimals !== undefined && !unused;

/** A number with more decimals than the game keeps; what it would take instead. */
function roundedOf(field: FieldGuide, value: string): string | null {
	if (field.decimals === undefined || value === '' || typeFault(field, value)) return null;
	const places = /^[-+]?\d*\.(\d+)$/.exec(value)?.[1]?.replace(/0+$/, '').length ?? 0;
	return places > field.decimals ? Number(value).toFixed(field.decimals) : null;
}

/** A number that is written more exactly than the game reads it. */
export const tooExact: Rule = {
	id: 'too-exact',
	title: 'More decimals than the game keeps',
	reads: ['records'],
	local: true,
	*find({ stack }) {
		for (const faulty of faultyValues(stack, 'too-exact', isRounded, roundedOf)) {
			if (!faulty) {
				yield null;
				continue;
			}
			const { record, path, field, value, fault } = faulty;
			yield snagAt(stack, record, value.presence, {
				rule: 'too-exact',
				severity: isSaid(field) ? 'warns' : 'note',
				field: path,
				message: `${field.title ?? path} ${quoted(value.value)} has more than ${field.decimals} decimals. The game reads it as ${fault} (line ${value.presence.line}).`,
				candidates: [fault],
				repairable: isEditable(value.presence.layer)
			});
		}
	}
};
