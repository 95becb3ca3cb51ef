import { counted } from '../wording';
import {
	beside,
	fieldOf,
	isPlain,
	mentionsIn,
	patternOf,
	valueFor,
	withMention,
	type FieldGuide
} from '../guide';
import { loadingOf, nearest } from '../links';
import { limitFault, typeFault } from './values';
import { twinsOf, type Intention } from '../edits';
import {
	baseValueOf,
	displayName,
	partUses,
	textKeysOf,
	valueOf,
	recordNamed,
	type EffectiveRecord,
	type Stack
} from '../stack';
import type { Snag } from './snag';

/** Sorts of repairs. */
export type RepairSort =
	| 'add'
	| 'suggestion'
	| 'nearest'
	| 'swap'
	| 'base'
	| 'empty'
	| 'twin'
	| 'text'
	| 'remove'
	| 'back'
	| 'load';

/** One way to settle a snag. It is an intention like any other: previewed, applied and undone the same way. */
export interface Repair {
	/** What sort of repair it is: those of one sort can be done for several snags at once. */
	sort: RepairSort;
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

function setTo(
	stack: Stack,
	snag: Snag,
	record: EffectiveRecord,
	value: string,
	sort: RepairSort,
	label?: string
): Repair {
	const reference = fieldOf(stack.guide.kinds[record.kind], snag.field!)?.reference;
	const target = reference?.kinds
		.map((kind) => recordNamed(stack.tables.get(kind), value, reference.key))
		.find((found) => found !== undefined);
	const written = label === undefined ? byRule(stack, record, snag, value) : value;
	const named = target && displayName(stack, target) !== value ? ` (${displayName(stack, target)})` : '';
	return {
		sort,
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
			sort: 'text',
			label: `Write “${fallback}” for it in ${counted(absent.length, 'language')}`,
			intention: { do: 'write', texts: absent.map((language) => ({ key, language, text: fallback })) }
		}
	];
}

/** A value brought into the form that its field takes: a plain number, a share, a date, a code; null where none is near. */
function nearestValue(field: FieldGuide, value: string): string | null {
	const number = Number(/[-+]?\d+(?:[.,]\d+)?/.exec(value)?.[0]?.replace(',', '.') ?? NaN);
	const candidates: (string | null)[] = [];
	if (field.type === 'chance' && Number.isFinite(number)) {
		// A share that was typed as one in a hundred.
		const share = (number >= 2 || value.includes('%')) && number <= 100 ? number / 100 : number;
		candidates.push(String(Number(Math.min(1, Math.max(0, share)).toFixed(6))));
	}
	// With slashes nobody knows which of the two is the month.
	const date = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(value.trim());
	if (field.type === 'date' && date)
		candidates.push(`${date[3]}-${date[2]!.padStart(2, '0')}-${date[1]!.padStart(2, '0')}`);
	const on = /^(?:(y|t|on)|(n|f|off))/i.exec(value.trim());
	if (field.type === 'switch' && on) candidates.push(on[1] ? 'true' : 'false');
	if (field.type === 'code' && field.codes)
		candidates.push(nearest(value, Object.keys(field.codes), 1)[0] ?? null);
	if (Number.isFinite(number)) {
		const whole = field.type === 'whole' || field.type === 'flags';
		candidates.push(String(whole ? Math.round(number) : number));
	}
	for (const candidate of candidates) {
		if (candidate === null || candidate === value) continue;
		const near = limitFault(field, candidate)?.clamped;
		const allowed = near === undefined ? candidate : String(near);
		if (typeFault(field, allowed) === null && allowed !== value) return allowed;
	}
	return null;
}

/** What adds a field that is not there: as another record of the kind has it. */
function addRepairs(stack: Stack, record: EffectiveRecord, path: string): Repair[] {
	const { table, kind, id } = record;
	const use = partUses(table).get(patternOf(path));
	const model = use?.rows.map((row) => table.record(row)).find((one) => one.id !== id);
	const from = model && [...model.values.keys()].find((field) => patternOf(field) === patternOf(path));
	if (!model || from === undefined) return [];
	return [
		{
			sort: 'add',
			label: `Add it with ${valueOf(model, from) || 'no value'}, like ${displayName(stack, model)}`,
			intention: { do: 'part', kind, id, path, change: { how: 'add', like: model.id, from } }
		}
	];
}

/** What makes twins alike again: the other inherits what this one says. */
function twinRepairs(stack: Stack, record: EffectiveRecord): Repair[] {
	return twinsOf(stack, record).flatMap(({ record: other, but }) => {
		const differ = [...record.values].filter(
			([field, { value }]) =>
				!but.includes(field) && !but.includes(patternOf(field)) && valueOf(other, field) !== value
		);
		// What one of them lacks cannot be set: it has to be added by hand.
		if (differ.length === 0 || differ.some(([field]) => valueOf(other, field) === undefined)) return [];
		const path = other.presences.at(-1)!.path;
		return [
			{
				sort: 'twin',
				label: `Make ${path} the same`,
				intention: {
					do: 'fill',
					kind: other.kind,
					id: other.id,
					values: differ.map(([field, { value }]) => ({ field, value })),
					from: record.presences.at(-1)!.path
				}
			}
		];
	});
}

/** The ways to settle a snag, the most obvious first; none where only a person can decide. */
export function repairsFor(stack: Stack, snag: Snag): Repair[] {
	if (snag.rule === 'twins-apart' && snag.kind !== null && snag.record !== null) {
		const record = stack.tables.get(snag.kind)?.byId.get(snag.record);
		return record ? twinRepairs(stack, record) : [];
	}
	if (snag.rule === 'script-loads' && loadingOf(stack).unloaded.includes(snag.file))
		return [
			{
				sort: 'load',
				label: `Load ${snag.file} like its neighbours`,
				intention: { do: 'load', path: snag.file }
			}
		];
	if (!snag.repairable || snag.kind === null || snag.record === null) return [];
	if (snag.rule === 'removes-nothing')
		return [
			{
				sort: 'back',
				label: 'Keep it in the game',
				intention: { do: 'back', kind: snag.kind, id: snag.record }
			}
		];
	const record = stack.tables.get(snag.kind)?.byId.get(snag.record);
	if (!record) return [];
	const { kind, id } = record;
	if (snag.rule === 'same-as-base')
		return [{ sort: 'remove', label: 'Remove it from my mod', intention: { do: 'remove', kind, id } }];
	if (snag.rule === 'duplicate-id')
		return [
			{
				sort: 'remove',
				label: `Remove the one on line ${snag.line}`,
				intention: { do: 'remove', kind, id, line: snag.line }
			}
		];
	if (snag.rule === 'missing-text') return textRepair(stack, snag, record);
	if (snag.field === null) return [];
	if (snag.rule === 'missing-field' || snag.rule === 'missing-part')
		return addRepairs(stack, record, snag.field);
	if (snag.rule === 'plural-forms') {
		const [language, text] = [snag.field, valueOf(record, snag.field) ?? ''];
		return [
			{
				sort: 'text',
				label: `Write “${text}” for ${snag.candidates.length === 1 ? 'it' : 'them'} too`,
				intention: { do: 'write', texts: snag.candidates.map((key) => ({ key, language, text })) }
			}
		];
	}
	const repairs = snag.candidates.map((value) => setTo(stack, snag, record, value, 'suggestion'));
	const field = fieldOf(stack.guide.kinds[kind], snag.field);
	if (repairs.length === 0 && field && !field.reference) {
		const near = nearestValue(field, valueOf(record, snag.field) ?? '');
		if (near !== null) repairs.push(setTo(stack, snag, record, near, 'nearest', `Set it to ${near}`));
	}
	if (snag.rule === 'out-of-order' && field?.notBefore !== undefined) {
		const other = beside(snag.field, field.notBefore);
		const [end, start] = [valueOf(record, snag.field), valueOf(record, other)];
		if (end !== undefined && start !== undefined)
			repairs.push({
				sort: 'swap',
				label: `Swap ${start} and ${end}`,
				intention: {
					do: 'fill',
					kind,
					id,
					values: [
						{ field: other, value: end },
						{ field: snag.field, value: start }
					],
					from: ''
				}
			});
	}
	const base = baseValueOf(record, snag.field);
	if (base !== undefined && base !== valueOf(record, snag.field) && !snag.candidates.includes(base))
		repairs.push(setTo(stack, snag, record, base, 'base', `Revert to base: ${base || 'nothing'}`));
	if (field?.reference && !field.required)
		repairs.push(setTo(stack, snag, record, '', 'empty', 'Leave it empty'));
	return repairs;
}

/** Repairs of one sort for all snags of one rule, as one change. */
export interface RepairForAll {
	rule: string;
	label: string;
	intention: Intention;
}

/** Snags that are repaired at once. */
const MOST_AT_ONCE = 200;

const FOR_ALL: Partial<Record<RepairSort, (count: number) => string>> = {
	add: (count) => `Add all ${count}, each like another record`,
	suggestion: (count) => `Use the first suggestion for all ${count}`,
	nearest: (count) => `Use the nearest value for all ${count}`,
	swap: (count) => `Swap all ${count}`,
	base: (count) => `Revert all ${count} to base`,
	empty: (count) => `Leave all ${count} empty`,
	twin: (count) => `Make all ${count} the same`,
	text: (count) => `Write texts for all ${count}`,
	remove: (count) => `Remove all ${count}`
};

/** What can be done for several snags of one rule at once. @param repaired snags with their repairs */
export function repairsForAll(
	repaired: readonly { rule: string; repairs: readonly Repair[] }[],
	titleOf: (rule: string) => string
): RepairForAll[] {
	const found = new Map<string, { rule: string; sort: RepairSort; steps: Intention[] }>();
	for (const { rule, repairs } of repaired) {
		const seen = new Set<RepairSort>();
		for (const { sort, intention } of repairs) {
			// Of several suggestions the first one counts.
			if (seen.has(sort)) continue;
			seen.add(sort);
			const key = `${rule} ${sort}`;
			const known = found.get(key) ?? { rule, sort, steps: [] };
			found.set(key, known);
			known.steps.push(intention);
		}
	}
	return [...found.values()].flatMap(({ rule, sort, steps }) => {
		const label = FOR_ALL[sort];
		if (!label || steps.length < 2) return [];
		const some = steps.slice(0, MOST_AT_ONCE);
		// More than go at once: these are not all.
		const said =
			steps.length > some.length ? label(some.length).replace('all', 'the first') : label(some.length);
		const title = `${titleOf(rule)}: ${said.toLowerCase()}`;
		return [{ rule, label: said, intention: { do: 'several', title, steps: some } }];
	});
}
