import { counted } from '../wording';
import { fieldOf, isPlain, mentionsIn, valueFor, withMention } from '../guide';
import type { Intention } from '../edits';
import { baseValueOf, displayName, textKeysOf, valueOf, type EffectiveRecord, type Stack } from '../stack';
import type { Snag } from './snag';

/** One way to settle a snag. It is an intention like any other: previewed, applied and taken back the same way. */
export interface Repair {
	label: string;
	intention: Intention;
}

/** An id as words: `grey_plover_2` reads “Grey plover 2”. */
const asWords = (id: string) => id.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase());

/** What is written to name a record by the rule of the field, all else in the value kept. */
function byRule(stack: Stack, record: EffectiveRecord, snag: Snag, id: string): string {
	const reference = fieldOf(stack.guide.kinds[record.kind], snag.field!)?.reference;
	if (!reference || isPlain(reference)) return id;
	const target = reference.plus && reference.kinds.find((kind) => stack.tables.get(kind)?.byId.has(id));
	if (target) return valueFor(reference, id, target) ?? id;
	const value = valueOf(record, snag.field!) ?? '';
	const wrong = mentionsIn(reference, value).find((mention) => mention.id === snag.value);
	return wrong ? withMention(reference, value, wrong, id) : id;
}

function setTo(stack: Stack, snag: Snag, record: EffectiveRecord, value: string, label?: string): Repair {
	const target = (fieldOf(stack.guide.kinds[record.kind], snag.field!)?.reference?.kinds ?? [])
		.map((kind) => stack.tables.get(kind)?.byId.get(value))
		.find((found) => found !== undefined);
	const written = label === undefined ? byRule(stack, record, snag, value) : value;
	const named = target && displayName(stack, target) !== value ? ` (${displayName(stack, target)})` : '';
	return {
		label: label ?? `Set it to ${value}${named}`,
		intention: { do: 'set', kind: record.kind, id: record.id, field: snag.field!, value: written }
	};
}

function textRepair(stack: Stack, snag: Snag, record: EffectiveRecord): Repair[] {
	const words = stack.guide.words;
	const key = textKeysOf(stack, record).find((text) => text.label === snag.field)?.key;
	if (!words || !key) return [];
	const text = stack.tables.get(words.kind)?.byId.get(key);
	const known = Object.keys(words.languages).map((language) => (text && valueOf(text, language)) ?? '');
	const fallback = known.find((value) => value !== '') ?? asWords(record.id);
	const absent = Object.keys(words.languages).filter((_, at) => known[at] === '');
	return [
		{
			label: `Write “${fallback}” for it in ${counted(absent.length, 'language')}`,
			intention: { do: 'write', texts: absent.map((language) => ({ key, language, text: fallback })) }
		}
	];
}

/** The ways to settle a snag, the most obvious first; none where only a person can decide. */
export function repairsFor(stack: Stack, snag: Snag): Repair[] {
	if (!snag.repairable || snag.kind === null || snag.record === null) return [];
	if (snag.rule === 'removes-nothing')
		return [{ label: 'Leave it where it is', intention: { do: 'back', kind: snag.kind, id: snag.record } }];
	const record = stack.tables.get(snag.kind)?.byId.get(snag.record);
	if (!record) return [];
	const { kind, id } = record;
	if (snag.rule === 'same-as-base')
		return [{ label: 'Remove it from my mod', intention: { do: 'remove', kind, id } }];
	if (snag.rule === 'duplicate-id')
		return [
			{ label: `Remove the one on line ${snag.line}`, intention: { do: 'remove', kind, id, line: snag.line } }
		];
	if (snag.rule === 'missing-text') return textRepair(stack, snag, record);
	if (snag.field === null) return [];
	const repairs = snag.candidates.map((value) => setTo(stack, snag, record, value));
	const base = baseValueOf(record, snag.field);
	if (base !== undefined && base !== valueOf(record, snag.field) && !snag.candidates.includes(base))
		repairs.push(setTo(stack, snag, record, base, `Revert to base: ${base || 'nothing'}`));
	const field = fieldOf(stack.guide.kinds[kind], snag.field);
	if (field?.reference && !field.required) repairs.push(setTo(stack, snag, record, '', 'Leave it empty'));
	return repairs;
}
