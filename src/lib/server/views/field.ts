// One field of a record, as it is shown: base value, my value, meaning, and place among all others.
import { formatOf, partOf } from '$core/formats';
import { languagesOf } from '$core/words';
import {
	beside,
	claimsOf,
	fieldOf,
	flagsOf,
	isFromPath,
	meaningOf,
	mentionsIn,
	type FieldGuide,
	type ReferenceGuide
} from '$core/guide';
import { listed } from '$core/wording';
import { columnSpread, costInWords, inWords, valuesTaken } from '$core/numbers';
import {
	baseValueOf,
	displayName,
	inheritedValue,
	isEditable,
	valueOf,
	recordNamed,
	type EffectiveRecord,
	type Stack
} from '$core/stack';
import type { FieldRow, Named } from '$core/views';

export const named = (stack: Stack, record: EffectiveRecord): Named => ({
	kind: record.kind,
	id: record.id,
	name: displayName(stack, record)
});

/** The record that a value names, by the rule of its field. */
export function targetOf(
	stack: Stack,
	record: EffectiveRecord,
	path: string,
	reference: ReferenceGuide,
	written: string
): EffectiveRecord | null {
	const decided = reference.by && valueOf(record, beside(path, reference.by.field));
	const [mention] = mentionsIn(reference, written, decided);
	if (!mention) return null;
	for (const kind of mention.kind === undefined ? reference.kinds : [mention.kind]) {
		const table = stack.tables.get(kind);
		const found =
			recordNamed(table, mention.id, reference.key) ??
			(reference.anyCase && reference.key === undefined
				? table?.records.find(({ id }) => id.toLowerCase() === mention.id.toLowerCase())
				: undefined);
		if (found) return found;
	}
	return null;
}

/** Whether a field refers to several records at once. */
export const severalIn = ({ list, weight, names }: ReferenceGuide) => Boolean(list ?? weight ?? names);

/** Shown names of the records that a list names, by their ids. */
function shownIn(
	stack: Stack,
	reference: ReferenceGuide | undefined,
	written: string
): Record<string, string> | null {
	if (!reference || reference.names) return null;
	const named = mentionsIn(reference, written).flatMap(({ id }) => {
		const record = reference.kinds
			.map((kind) => recordNamed(stack.tables.get(kind), id, reference.key))
			.find(Boolean);
		return record ? [[id, displayName(stack, record)] as const] : [];
	});
	return Object.fromEntries(named);
}

function costIn({ guide }: Stack, kind: string, path: string): string | null {
	const about = guide.kinds[kind];
	if (!about?.budget) return null;
	const field = fieldOf(about, path);
	return costInWords(about.budget, path, (code) => (field ? meaningOf(field, code) : null));
}

/** All codes that the guide or some record knows. */
function choicesOf(
	{ table }: EffectiveRecord,
	path: string,
	{ codes = {} }: FieldGuide
): FieldRow['choices'] {
	const taken = new Map(valuesTaken(table, path).map(({ value, count }) => [value, count]));
	return [...new Set([...Object.keys(codes), ...taken.keys()])].map((value) => ({
		value,
		means: codes[value] ?? null,
		count: taken.get(value) ?? 0
	}));
}

function ignoredIn(record: EffectiveRecord, guide: FieldGuide | undefined): string | null {
	if (guide?.unused) return 'Does nothing: the game never reads it.';
	if (!guide?.onlyIf) return null;
	const { field, is } = guide.onlyIf;
	if (is.includes(valueOf(record, field) ?? '')) return null;
	const title = fieldOf(record.table.guide, field)?.title ?? field;
	return `Ignored: it counts only while ${title} is ${listed(is, 'or')}.`;
}

/** What a record inherits in a field from another of its kind. */
function takenOver(stack: Stack, { table, row }: EffectiveRecord, path: string): FieldRow['taken'] {
	const found = inheritedValue(table, row, path);
	return found && { ...found, from: named(stack, table.record(found.from)) };
}

/** How a value is cut into parts; null where it is one. */
function partsIn(guide: FieldGuide | undefined): FieldRow['parts'] {
	const list = guide?.reference?.list ?? guide?.separator;
	if (list === undefined || (guide?.type !== 'weights' && !isList(guide))) return null;
	return guide?.type === 'weights' || guide?.reference?.weight !== undefined
		? { list, weight: guide.reference?.weight ?? guide.weight }
		: { list };
}

const isList = (guide: FieldGuide | undefined): boolean =>
	guide?.type === 'list' || (guide?.type === 'reference' && guide.reference?.list !== undefined);

/** Who else points at the value of a field, in formats in which values have addresses. */
function sharedIn(stack: Stack, record: EffectiveRecord, path: string): FieldRow['shared'] {
	const presence = record.presences.at(-1);
	const format = presence && formatOf(presence.doc.format);
	const found = presence && format?.shared?.of(presence.doc, presence.record, path);
	if (!found) return null;
	const claims = claimsOf(stack.guide, presence.path);
	const whole = presence.layer.files.get(presence.path)?.doc;
	const others = found.others.map(({ part, id, path: field }) => {
		const kind = claims.find(({ spec }) => whole && partOf(whole, spec).at === part)?.kind ?? '';
		const other = stack.tables.get(kind)?.byId.get(id);
		return { ...(other ? named(stack, other) : { kind: '', id, name: id }), field };
	});
	return { at: found.at, others, values: found.values };
}

/** A field of a record; it may be one that the record has not got yet. */
export function rowOf(
	stack: Stack,
	record: EffectiveRecord,
	path: string,
	guide: FieldGuide | undefined
): FieldRow {
	const value = record.values.get(path);
	const written = value?.value ?? (isFromPath(path) ? (valueOf(record, path) ?? '') : '');
	const base = baseValueOf(record, path) ?? null;
	const layer = value?.presence.layer;
	const kinds = guide?.reference?.kinds ?? [];
	const target = guide?.reference ? targetOf(stack, record, path, guide.reference, written) : null;
	const scaled = guide?.type !== 'flags' && guide?.type !== 'code' && !guide?.reference;
	const parts = partsIn(guide);
	const among = scaled ? columnSpread(record.table, path) : null;
	return {
		path,
		// Within an item of a list the number is said by the item.
		title: guide?.title ?? languagesOf(stack, record.kind)?.[path] ?? path.replace(/^.*\]\./, ''),
		unit: guide?.unit ?? null,
		type: guide?.type ?? 'text',
		numeric: ['whole', 'decimal', 'flags', 'chance', 'angle', 'duration', 'position'].includes(
			guide?.type ?? (among ? 'decimal' : 'text')
		),
		meaning: guide?.meaning ?? null,
		base,
		below:
			isEditable(layer) && value?.overrode[0]?.layer.owner === 'others'
				? value.overrode[0].layer.title
				: null,
		value: written,
		mine: isEditable(layer),
		changed: isEditable(layer) && base !== written,
		from: layer?.owner === 'others' ? layer.title : null,
		min: guide?.min ?? null,
		max: guide?.max ?? null,
		beyond: guide?.beyond ?? 'refuses',
		decimals: guide?.type === 'decimal' || guide?.type === 'chance' ? (guide.decimals ?? null) : null,
		required: guide?.required ?? false,
		flags: guide?.type === 'flags' ? flagsOf(guide, written) : [],
		shown: shownAs(record, path, guide),
		means: meaningOf(guide, written) ?? (guide ? inWords(guide, written) : null),
		reference: guide?.reference
			? {
					kinds,
					target: target ? named(stack, target) : null,
					several: severalIn(guide.reference),
					chain: kinds.includes(record.kind) && !/[[#*]/.test(path)
				}
			: null,
		parts,
		names: parts ? shownIn(stack, guide?.reference, written) : null,
		choices: guide?.codes && guide.type !== 'flags' ? choicesOf(record, path, guide) : [],
		open: guide?.set !== undefined || guide?.type !== 'code',
		about: { perSecond: guide?.perSecond, decimals: guide?.decimals },
		costs: costIn(stack, record.kind, path),
		taken: value ? null : takenOver(stack, record, path),
		ignored: ignoredIn(record, guide),
		spread: among,
		remark: value?.remark ?? null,
		shared: value ? sharedIn(stack, record, path) : null
	};
}

/** As which item of its list the game shows a value, where that is the last first. */
function shownAs(record: EffectiveRecord, path: string, guide: FieldGuide | undefined): FieldRow['shown'] {
	const item = guide?.reversed ? /^(.*)\[(\d+)\]$/.exec(path) : null;
	if (!item) return null;
	let count = 0;
	while (record.values.has(`${item[1]}[${count}]`)) count++;
	return [count - Number(item[2]), count];
}
