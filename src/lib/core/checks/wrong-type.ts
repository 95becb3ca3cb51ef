import { isEditable } from '../stack';
import type { FieldGuide } from '../guide';
import { faultyValues, isIdle, isSaid } from './fields';
import { typeFault } from './values';
import { consequence, quoted, snagAt, type Rule, gravity } from './snag';

/** Sorts of values that are detected from the files well enough to hold others to them. */
const TELLING = ['whole', 'decimal', 'switch', 'date'];

/** Whether a type was only found, and not surely. */
const isUnsure = ({ type, found }: FieldGuide) =>
	found !== undefined && (found.sure < 0.9 || !TELLING.includes(type ?? ''));

const isTyped = (field: FieldGuide) => field.type !== undefined && !isUnsure(field);

/** Whether people said that a field must have a value of which all else was only found. */
const mustBe = (field: FieldGuide) =>
	field.required && field.found !== undefined && isSaid(field, 'required');

/** A value that is not of its field's type. */
export const wrongType: Rule = {
	id: 'wrong-type',
	title: 'Wrong type of value',
	reads: ['records'],
	local: true,
	*find({ stack }) {
		const find = (field: FieldGuide, text: string) =>
			text === '' && mustBe(field)
				? 'is empty'
				: !isTyped(field) || (text === '' && (field.reference || field.found))
					? null
					: typeFault(field, text);
		const mayBe = (field: FieldGuide) => !field.unused && (mustBe(field) || isTyped(field));
		for (const faulty of faultyValues(stack, 'wrong-type', mayBe, find)) {
			if (!faulty) {
				yield null;
				continue;
			}
			const { record, path, field, value, fault } = faulty;
			if (isIdle(record, field)) continue;
			yield snagAt(stack, record, value.presence, {
				rule: 'wrong-type',
				severity: gravity(fault === 'is empty' && isSaid(field, 'required') ? undefined : field.found),
				field: path,
				message: `${field.title ?? path} ${fault === 'is empty' ? fault : `${fault}, not ${quoted(value.value)}`}. ${consequence(stack, record)} (line ${value.presence.line}).`,
				repairable: isEditable(value.presence.layer)
			});
		}
	}
};
