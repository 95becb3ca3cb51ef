// What of a record can be added, taken out and moved: its lists, optional parts, and those that others of the kind have.
import { addTo } from '$core/gather';
import { fieldOf, isPattern, patternOf } from '$core/guide';
import {
	displayName,
	isOptional,
	isWide,
	missingParts,
	partUses,
	recordNamed,
	type EffectiveRecord,
	type Stack
} from '$core/stack';
import type { ListView, MissingView, Ticket } from '$core/views';
import { named, rowOf } from './field';

const isNumber = (value: string) => value.trim() !== '' && Number.isFinite(Number(value));

/** The last name in a path, as a title: of `sea.from` it is “from”. */
const lastName = (path: string) => path.slice(path.lastIndexOf('.') + 1);

/** The title of a list or block: the guide's own for it, for its items, or its name. */
function titleOf({ guide }: Stack, { kind }: EffectiveRecord, path: string): string {
	const about = guide.kinds[kind];
	const pattern = patternOf(path);
	return (
		about?.fields[pattern]?.title ??
		about?.fields[`${pattern}[]`]?.title ??
		about?.fields[`${pattern}.*`]?.title ??
		lastName(path)
	);
}

/** The lists that a record has, the outermost first. */
export function listsOf(stack: Stack, record: EffectiveRecord): ListView[] {
	const counts = new Map<string, number>();
	const nested = new Set<string>();
	const values = new Map<string, string[]>();
	for (const [path, { value }] of record.values)
		for (const { index, 0: item, 1: nth } of path.matchAll(/\[(\d+)\]/g)) {
			const list = path.slice(0, index);
			if (list === '') continue;
			counts.set(list, Math.max(counts.get(list) ?? 0, Number(nth) + 1));
			if (index + item.length < path.length) nested.add(list);
			else addTo(values, list, value);
		}
	const lists: ListView[] = [...counts].map(([path, count]) => {
		const next = `${path}[${count}]`;
		const guide = fieldOf(stack.guide.kinds[record.kind], next);
		return {
			path,
			title: titleOf(stack, record, path),
			blank: nested.has(path) ? null : rowOf(stack, record, next, guide),
			named: false,
			names: {},
			numbers: !nested.has(path) && (values.get(path) ?? []).every(isNumber)
		};
	});
	return [...lists, ...namesOf(stack, record)];
}

/** Maps whose names are ids of records: one more is a name more. */
function namesOf(stack: Stack, record: EffectiveRecord): ListView[] {
	return Object.entries(stack.guide.kinds[record.kind]!.fields).flatMap(([pattern, guide]): ListView[] => {
		if (!guide.reference?.names || !pattern.endsWith('.*') || isPattern(pattern.slice(0, -2))) return [];
		const path = pattern.slice(0, -2);
		const ids = [...record.values.keys()]
			.filter((one) => one.startsWith(`${path}.`))
			.map((one) => one.slice(path.length + 1));
		if (ids.length === 0) return [];
		const blank = { ...rowOf(stack, record, `${path}.`, guide), path: pattern, title: 'one more' };
		const kinds = guide.reference.kinds;
		return [
			{
				path,
				title: titleOf(stack, record, path),
				blank: { ...blank, reference: { kinds, target: null, several: false, chain: false } },
				named: true,
				names: Object.fromEntries(
					ids.flatMap((id) => {
						const found = kinds
							.map((kind) => recordNamed(stack.tables.get(kind), id, guide.reference!.key))
							.find(Boolean);
						return found ? [[id, displayName(stack, found)]] : [];
					})
				),
				numbers: false
			}
		];
	});
}

/** Parts that others of the kind have and a record does not. */
export function missingIn(stack: Stack, record: EffectiveRecord, lists: readonly ListView[]): MissingView[] {
	const guide = stack.guide.kinds[record.kind]!;
	return missingParts(record)
		.filter(({ path, shape }) => {
			if (path === guide.key) return false;
			// A field that the guide names has its row already, and can be written there.
			if (shape === 'field' && Object.hasOwn(guide.fields, path)) return false;
			return !lists.some((list) => list.named && path.startsWith(`${list.path}.`));
		})
		.map(({ path, shape, use }) => ({
			path,
			title: titleOf(stack, record, path),
			shape,
			count: use.count,
			models: use.rows.map((row) => named(stack, record.table.record(row)))
		}))
		.sort((a, b) => b.count - a.count);
}

/** Paths of the parts of a record that not all of its kind have. */
export function optionalIn({ table, values }: EffectiveRecord): Ticket['optional'] {
	if (isWide(table)) return [];
	const uses = partUses(table);
	const found = new Set<string>();
	for (const path of values.keys())
		for (let at = 1; at <= path.length; at++) {
			if (at < path.length && path[at] !== '.' && path[at] !== '[') continue;
			const prefix = path.slice(0, at);
			if (!prefix.endsWith(']') && uses.has(patternOf(prefix)) && isOptional(table, prefix))
				found.add(prefix);
		}
	return [...found];
}

/** Whether a field is within a part that a record has not got: there is nothing yet that could take it. */
export function isWithinMissing(record: EffectiveRecord, path: string): boolean {
	if (record.values.has(path) || !path.includes('.')) return false;
	const uses = partUses(record.table);
	const holder = path.slice(0, path.lastIndexOf('.'));
	if (!uses.has(patternOf(holder))) return false;
	return ![...record.values.keys()].some(
		(one) => one.startsWith(`${holder}.`) || one.startsWith(`${holder}[`)
	);
}
