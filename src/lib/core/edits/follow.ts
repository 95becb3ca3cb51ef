// What follows by itself from changed values: calculated fields, twins that must stay alike, counters.
import { addTo } from '../gather';
import { findField } from '../formats';
import {
	claimOf,
	fieldOf,
	fillPattern,
	namesInBraces,
	patternOf,
	type Found,
	type KindGuide
} from '../guide';
import { displayName, valueOf, type EffectiveRecord, type Stack } from '../stack';
import { writeMany, type CellWrite } from './batch';
import { setField } from './steps';
import { isOwnId, NotPossible, note, wanted, type Work } from './work';

/** Fields of a record that are made from others of it which changed, with what they become. */
function derivedAfter(
	kind: KindGuide,
	record: EffectiveRecord,
	changed: ReadonlyMap<string, string>
): [string, string, Found][] {
	const value = (name: string) => changed.get(name) ?? (name === 'id' ? record.id : valueOf(record, name));
	return Object.entries(kind.fields).flatMap(([field, { derive, found }]): [string, string, Found][] => {
		if (!derive || changed.has(field) || !namesInBraces(derive).some((name) => changed.has(name))) return [];
		const next = fillPattern(derive, value);
		return next === null || valueOf(record, field) === undefined || next === valueOf(record, field)
			? []
			: [[field, next, found]];
	});
}

/** A pair of files that must stay alike, seen from one of them. */
export interface TwinFile {
	kind: string;
	path: string;
	but: readonly string[];
	/** How that was detected, if nobody stated it. */
	found: Found;
}

const twinFiles = new WeakMap<Stack['guide'], Map<string, TwinFile[]>>();

/** The twins of a file. */
export function twinsOfFile({ guide }: Stack, path: string): readonly TwinFile[] {
	let known = twinFiles.get(guide);
	if (!known) {
		twinFiles.set(guide, (known = new Map()));
		for (const { twins } of Object.values(guide.kinds))
			for (const { of, file, but, found } of twins ?? []) {
				if (found && found.sure < 0.8) continue;
				for (const [from, to] of [
					[of, file],
					[file, of]
				] as const) {
					const claim = claimOf(guide, to);
					if (claim) addTo(known, from, { kind: claim.kind, path: to, but, found });
				}
			}
	}
	return known.get(path) ?? [];
}

/** The record of the same id in a twin of a record's file. */
export function twinOf(stack: Stack, record: EffectiveRecord, twin: TwinFile): EffectiveRecord | undefined {
	const other = stack.tables.get(twin.kind)?.byId.get(record.id);
	return other?.presences.some(({ path }) => path === twin.path) ? other : undefined;
}

/** The values that the twins of changed records take over. */
function twinCells(work: Work, cells: readonly CellWrite[], written: readonly string[]): CellWrite[] {
	const { stack } = work;
	const done = new Set(cells.map(({ record, field }) => `${record.kind}/${record.id} ${field}`));
	return cells.flatMap(({ record, field }, at) => {
		const { path } = record.presences.at(-1)!;
		return twinsOfFile(stack, path).flatMap((twin): CellWrite[] => {
			if (twin.but.includes(field) || twin.but.includes(patternOf(field))) return [];
			const other = twinOf(stack, record, twin);
			const value = written[at]!;
			if (!other || valueOf(other, field) === undefined || valueOf(other, field) === value) return [];
			if (done.has(`${other.kind}/${other.id} ${field}`) || !wanted(work, 'twin', twin.found)) return [];
			return [{ record: other, field, value }];
		});
	});
}

/** Writes values and all that follows from them, and notes each for the plan. */
export function setValues(
	work: Work,
	cells: readonly CellWrite[],
	following?: Parameters<typeof note>[5]
): void {
	if (cells.length === 0) return;
	const { draft, stack, say } = work;
	const written = writeMany(draft, cells, say);
	cells.forEach(({ record, field }, at) =>
		note(work, record, field, valueOf(record, field) ?? null, written[at]!, following)
	);
	if (wanted(work, 'derived')) {
		const byRecord = new Map<EffectiveRecord, Map<string, string>>();
		cells.forEach(({ record, field }, at) => {
			const known = byRecord.get(record) ?? new Map<string, string>();
			byRecord.set(record, known.set(field, written[at]!));
		});
		const derived: CellWrite[] = [];
		for (const [record, changed] of byRecord)
			for (const [field, value, found] of derivedAfter(stack.guide.kinds[record.kind]!, record, changed))
				if (wanted(work, 'derived', found)) derived.push({ record, field, value });
		setValues(work, derived, { follows: 'is made from it', by: 'derived' });
	}
	if (wanted(work, 'twin') && following?.by !== 'twin')
		setValues(work, twinCells(work, cells, written), { follows: 'its twin changes too', by: 'twin' });
}

/**
 * Writes values that were asked for by their fields.
 * @throws NotPossible where one is the id of its record: a rename changes that, with all that refers to it
 */
export function setAsked(work: Work, cells: readonly CellWrite[]): void {
	const own = cells.find(({ record, field }) => isOwnId(work.stack, record, field));
	if (own)
		throw new NotPossible(
			`${own.field} is the id of ${displayName(work.stack, own.record)}. Rename the record instead: what refers to it changes with it.`
		);
	setValues(work, cells);
}

/** Fields of a kind that count the records of another, with the one record that holds them. */
function* countersOf(
	stack: Stack,
	kind: string
): Generator<{ record: EffectiveRecord; field: string; found: Found }> {
	for (const table of stack.tables.values())
		for (const [field, { counts, found }] of Object.entries(table.guide.fields)) {
			if (counts !== `kind:${kind}`) continue;
			for (const record of table.records)
				if (valueOf(record, field) !== undefined) yield { record, field, found };
		}
}

/** Counters of all records of a kind follow when records come or go. */
export function recount(work: Work, kind: string, more: number): void {
	if (!wanted(work, 'counter') || more === 0) return;
	const count = work.stack.tables.get(kind)!.count + more;
	setValues(
		work,
		[...countersOf(work.stack, kind)].flatMap(({ record, field, found }) =>
			wanted(work, 'counter', found) ? [{ record, field, value: String(count) }] : []
		),
		{ follows: 'counts the records', by: 'counter' }
	);
}

/** A counter of the items of a list follows after the list was changed in the draft. */
export function recountItems(work: Work, record: EffectiveRecord, path: string, list: string): void {
	if (!wanted(work, 'counter')) return;
	const { draft, stack } = work;
	const place = { path, kind: record.kind, id: record.id };
	const node = draft.record(place);
	if (!node) return;
	const items = new Set<string>();
	for (const field of node.fields)
		if (field.path.startsWith(`${list}[`))
			items.add(field.path.slice(0, field.path.indexOf(']', list.length) + 1));
	for (const [field, { counts, found }] of Object.entries(stack.guide.kinds[record.kind]!.fields)) {
		if (counts !== list) continue;
		const now = findField(node, field);
		if (!now || String(now.value) === String(items.size) || !wanted(work, 'counter', found)) continue;
		const { type } = fieldOf(stack.guide.kinds[record.kind], field) ?? {};
		setField(draft, place, { field, value: String(items.size), about: { type, like: undefined } });
		note(work, record, field, String(now.value), String(items.size), {
			follows: `counts the items of ${list}`,
			by: 'counter'
		});
	}
}
