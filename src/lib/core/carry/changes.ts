// What a new version of the game changed against the one before: kinds, fields, records with their values, files.
import { addTo, inOneGo } from '../gather';
import { isFromPath } from '../guide';
import { displayName, isWide, type EffectiveRecord, type LayerFile, type Stack, type Table } from '../stack';
import { digestOf } from '../text';
import { renamedFields, splitFields, type FieldRenamed, type FieldSplit } from './fields';
import { pairedRows } from './paired';
import { renamedRecords, type RecordRenamed } from './records';

/** A field of a record that says something else, or has another name. */
export interface FieldChange {
	path: string;
	/** Null where the version has no such field. */
	old: string | null;
	new: string | null;
	/** The name that it had, where that was another one. */
	from?: string;
}

/** What became of a record. */
export interface RecordChange {
	kind: string;
	/** Its id in the new version; of one that is gone, the old one. */
	record: string;
	name: string;
	what: 'new' | 'gone' | 'changed' | 'renamed' | 'moved';
	/** The id, or the kind and id, or the file, that it had before. */
	from?: { kind: string; record: string; file: string };
	/** The file that it is in; null for one that is gone. */
	file: string | null;
	/** How sure it is that it is the same record, from 0 to 1. */
	sure: number;
	fields: FieldChange[];
}

/** All that a new version changed. */
export interface GameChanges {
	kinds: { kind: string; what: 'new' | 'gone'; records: number }[];
	fields: ({ kind: string } & (
		| ({ what: 'renamed' } & FieldRenamed)
		| ({ what: 'split' } & FieldSplit)
		| { what: 'new' | 'gone'; path: string; records: number }
	))[];
	records: RecordChange[];
	files: { path: string; what: 'new' | 'gone' | 'changed' | 'moved'; from?: string }[];
}

const fileOf = ({ presences }: EffectiveRecord): string => presences.at(-1)!.path;

/** How many records have a field. */
const having = (table: Table, path: string): number =>
	table.column(path).reduce((sum, text) => sum + Number(text >= 0), 0);

/** What two states of a record say differently. */
function fieldsBetween(
	old: EffectiveRecord,
	fresh: EffectiveRecord,
	nameOf: (path: string) => string,
	key: string | undefined,
	splits: readonly FieldSplit[] = []
): FieldChange[] {
	const found: FieldChange[] = [];
	const seen = new Set<string>();
	// A field that now stands in two, and says the same in them, is told once for all records.
	const text = (path: string) => fresh.values.get(path)?.value;
	const split = splits
		.filter(({ from, to: [a, b], between }) => {
			const parts = [text(a), text(b)];
			return !parts.includes(undefined) && old.values.get(from)?.value === parts.join(between);
		})
		.flatMap(({ from, to }) => [from, ...to]);
	for (const path of split) seen.add(path);
	for (const [path, { value }] of old.values) {
		const now = nameOf(path);
		seen.add(now);
		if (path === key || split.includes(path)) continue;
		const after = fresh.values.get(now)?.value ?? null;
		// A field that only has another name is told once for all records.
		if (after !== value)
			found.push({ path: now, old: value, new: after, ...(now === path ? {} : { from: path }) });
	}
	for (const [path, { value }] of fresh.values)
		if (!seen.has(path) && path !== key) found.push({ path, old: null, new: value });
	return found;
}

/** What has another name in a kind: its fields, and its records. */
interface Renamed {
	fields: FieldRenamed[];
	splits: FieldSplit[];
	records: Map<string, RecordRenamed>;
	nameOf: (path: string) => string;
}

/** Each is looked for with what is known of the other: records by fields that kept their names, fields by these, then records again. */
function renamedIn(old: Table, fresh: Table): Renamed {
	const { key, fields: about } = old.guide;
	const derived = Object.entries(about).flatMap(([path, { derive }]) => (derive ? [path] : []));
	const skip = new Set([...(key === undefined ? [] : [key]), ...derived].filter((path) => !isFromPath(path)));
	const first = renamedRecords(old, fresh, (path) => path, skip);
	const fields = renamedFields(old, fresh, new Map(first.map(({ from, to }) => [from, to])));
	const names = new Map(fields.map(({ from, to }) => [from, to]));
	const nameOf = (path: string) => names.get(path) ?? path;
	const records = fields.length === 0 ? first : renamedRecords(old, fresh, nameOf, skip);
	const byOld = new Map(records.map((one) => [one.from, one]));
	const splits = splitFields(old, fresh, new Map(records.map(({ from, to }) => [from, to])), fields);
	return { fields, splits, nameOf, records: byOld };
}

/**
 * Tells rows of which every value is the same in both versions, by the numbers of their texts; false where that takes more
 * than that.
 * @param nameOf the name in the new version of a field of the old one
 */
function sameRows(
	old: Table,
	fresh: Table,
	nameOf: (path: string) => string
): (row: number, there: number) => boolean {
	if (isWide(old) || isWide(fresh)) return () => false;
	const pairs = old.columns.map((path) => [old.column(path), fresh.column(nameOf(path))] as const);
	const named = new Set(old.columns.map(nameOf));
	const more = fresh.columns.filter((path) => !named.has(path)).map((path) => fresh.column(path));
	const one = old.pool === fresh.pool;
	const numbers = new Int32Array(one ? 0 : old.pool.size).fill(-2);
	const numberOf = (text: number): number => {
		if (one) return text;
		if (numbers[text] === -2) numbers[text] = fresh.pool.find(old.pool.at(text));
		return numbers[text]!;
	};
	return (row, there) =>
		pairs.every(([was, is]) => (was[row]! < 0 ? is[there]! < 0 : is[there] === numberOf(was[row]!))) &&
		more.every((column) => column[there]! < 0);
}

/** The file that the version of a row that counts is in. */
const pathOf = ({ rows, files }: Table, row: number): string =>
	files[rows.file[rows.firsts[row + 1]! - 1]!]!.file.path;

/** Rows and files that are looked at in one step. */
const ROWS = 500;
const FILES = 50;

/** Records of one kind that both versions have, by the same or another id, and those that only one has; null where others may go first. */
function* recordsOf(
	kind: string,
	before: Stack,
	after: Stack,
	{ records: renamed, nameOf, splits }: Renamed
): Generator<RecordChange | null> {
	const [old, fresh] = [before.tables.get(kind)!, after.tables.get(kind)!];
	const { key } = old.guide;
	const taken = new Set([...renamed.values()].map(({ to }) => to));
	const isSame = sameRows(old, fresh, nameOf);
	const paired = pairedRows(old, fresh);
	for (let row = 0; row < old.count; row++) {
		if (row % ROWS === 0) yield null;
		const id = old.pool.at(old.rows.ids[row]!);
		const other = renamed.get(id);
		const there = other ? fresh.rowOf(other.to) : paired.there[row]!;
		if (!other && there >= 0 && isSame(row, there) && pathOf(old, row) === pathOf(fresh, there)) continue;
		const was = old.record(row);
		const is = there < 0 ? undefined : fresh.record(there);
		if (!is) {
			yield {
				kind,
				record: id,
				name: displayName(before, was),
				what: 'gone',
				file: null,
				sure: 1,
				fields: []
			};
			continue;
		}
		const fields = fieldsBetween(was, is, nameOf, key, splits);
		const [from, file] = [fileOf(was), fileOf(is)];
		const what = other ? 'renamed' : from !== file ? 'moved' : fields.length > 0 ? 'changed' : null;
		if (what === null) continue;
		yield {
			kind,
			record: is.id,
			name: displayName(after, is),
			what,
			...(what === 'changed' ? {} : { from: { kind, record: id, file: from } }),
			file,
			sure: other?.sure ?? 1,
			fields
		};
	}
	for (const row of paired.added) {
		const is = fresh.record(row);
		if (taken.has(is.id)) continue;
		yield {
			kind,
			record: is.id,
			name: displayName(after, is),
			what: 'new',
			file: fileOf(is),
			sure: 1,
			fields: []
		};
	}
}

/** How much of what a record says another one says too, from 0 to 1. */
function likeness(a: EffectiveRecord, b: EffectiveRecord): number {
	let same = 0;
	for (const [path, { value }] of a.values) if (b.values.get(path)?.value === value) same++;
	return same / Math.max(1, a.values.size, b.values.size);
}

/** What is gone from one kind and new, with the same id and much alike, in another, has moved there. */
function acrossKinds(records: readonly RecordChange[], before: Stack, after: Stack): RecordChange[] {
	const gone = new Map<string, RecordChange[]>();
	for (const one of records) if (one.what === 'gone') addTo(gone, one.record, one);
	const pairs = records.flatMap((to) =>
		to.what !== 'new'
			? []
			: (gone.get(to.record) ?? []).flatMap((from) => {
					const was = before.tables.get(from.kind)!.byId.get(from.record)!;
					const is = after.tables.get(to.kind)!.byId.get(to.record)!;
					const sure = likeness(was, is);
					return sure < 0.5 ? [] : [{ from, to, was, is, sure }];
				})
	);
	const left = new Set(records);
	const moved: RecordChange[] = [];
	for (const { from, to, was, is, sure } of pairs.sort((a, b) => b.sure - a.sure)) {
		if (!left.has(from) || !left.has(to)) continue;
		left.delete(from);
		left.delete(to);
		moved.push({
			...to,
			what: 'moved',
			from: { kind: from.kind, record: from.record, file: fileOf(was) },
			sure: Math.round(sure * 1000) / 1000,
			fields: fieldsBetween(was, is, (path) => path, before.tables.get(from.kind)!.guide.key)
		});
	}
	return [...left, ...moved];
}

/** Whether two files hold the same bytes. */
export function sameBytes(a: LayerFile, b: LayerFile): boolean {
	if (a === b) return true;
	if (a.size !== b.size) return false;
	const [own, other] = [a.bytes(), b.bytes()];
	for (let at = 0; at < own.length; at++) if (own[at] !== other[at]) return false;
	return true;
}

function* filesBetween(before: Stack, after: Stack): Generator<number, GameChanges['files']> {
	const filesOf = ({ layers }: Stack) => new Map(layers.flatMap(({ files }) => [...files]));
	const [old, fresh] = [filesOf(before), filesOf(after)];
	// Only what has another path is looked for by its digest.
	const gone = new Map<string, string[]>();
	for (const [path, file] of old) {
		if (fresh.has(path)) continue;
		const digest = digestOf(file.bytes());
		addTo(gone, digest, path);
	}
	const found: GameChanges['files'] = [];
	let nth = 0;
	for (const [path, file] of fresh) {
		if (++nth % FILES === 0) yield 1;
		const was = old.get(path);
		if (was) {
			if (!sameBytes(was, file)) found.push({ path, what: 'changed' });
			continue;
		}
		const from = gone.size === 0 ? undefined : gone.get(digestOf(file.bytes()))?.shift();
		found.push(from === undefined ? { path, what: 'new' } : { path, what: 'moved', from });
	}
	for (const path of [...gone.values()].flat()) found.push({ path, what: 'gone' });
	return found.sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : 0));
}

/**
 * What changed from one version of a game to the next. Both are read by the same guide; what is there under another
 * name is found by what it says, with how sure that is. In steps, between which others may go first.
 * @yields the share of it that is done, from 0 to 1
 */
export function* changeSteps(before: Stack, after: Stack): Generator<number, GameChanges> {
	const kinds: GameChanges['kinds'] = [];
	const fields: GameChanges['fields'] = [];
	const records: RecordChange[] = [];
	const all = [...before.tables.values()].reduce((sum, { count }) => sum + count, 0);
	let done = 0;
	for (const kind of new Set([...before.tables.keys(), ...after.tables.keys()])) {
		const [old, fresh] = [before.tables.get(kind), after.tables.get(kind)];
		const [had, has] = [old?.count ?? 0, fresh?.count ?? 0];
		if (had === 0 && has === 0) continue;
		if (had === 0 || has === 0) {
			kinds.push({ kind, what: had === 0 ? 'new' : 'gone', records: had + has });
			if (!old || !fresh) continue;
		}
		const renamed = renamedIn(old!, fresh!);
		const renames = renamed.fields;
		const { splits } = renamed;
		const from = new Set([...renames, ...splits].map((one) => one.from));
		const to = new Set([...renames.map((one) => one.to), ...splits.flatMap((one) => one.to)]);
		fields.push(...renames.map((one) => ({ kind, what: 'renamed' as const, ...one })));
		fields.push(...splits.map((one) => ({ kind, what: 'split' as const, ...one })));
		if (had > 0 && has > 0) {
			for (const path of old!.columns)
				if (!fresh!.columns.includes(path) && !from.has(path))
					fields.push({ kind, what: 'gone', path, records: having(old!, path) });
			for (const path of fresh!.columns)
				if (!old!.columns.includes(path) && !to.has(path))
					fields.push({ kind, what: 'new', path, records: having(fresh!, path) });
		}
		for (const one of recordsOf(kind, before, after, renamed)) {
			if (one) records.push(one);
			else yield Math.min(1, (done += ROWS) / Math.max(ROWS, all));
		}
	}
	const files = yield* filesBetween(before, after);
	return { kinds, fields, records: acrossKinds(records, before, after), files };
}

/** The same, in one go. */
export const changesBetween = (before: Stack, after: Stack): GameChanges =>
	inOneGo(changeSteps(before, after));
