// What is found of the fields of a kind: their types, what they name, what they are made of.
import type { Pool } from '../facts';
import { FOLDER, folderIn, ID, SAID, spokenPath, type FieldGuide } from '../guide';
import { countedBy } from './counters';
import { derivedFrom } from './derived';
import type { Group, Scope } from './group';
import type { FoundReference } from './match';
import { namesInPaths } from './names-in-paths';
import type { Owners } from './owners';
import { pairOf, referenceIn } from './references';
import { remarksOf, saidOf } from './remarks';
import type { Column } from './sketch';
import { finding } from './sure';
import { typeOf } from './types';

interface ToldField {
	epoch: object;
	/** The last run in which it held. */
	run: number;
	group: Group['sketch'];
	field: FieldGuide;
}

const told = new WeakMap<Column, ToldField>();

/** The same as `fieldFrom`, told once for the same columns and ids. */
function* fieldOnce(
	group: Group,
	column: Column,
	owners: Owners,
	groups: readonly Group[],
	asked: Scope
): Generator<void, FieldGuide> {
	const old = told.get(column);
	const { epoch, run } = owners;
	const holds = old?.epoch === epoch && old.group === group.sketch;
	if (holds && (old.run === run || (old.run === run - 1 && !owners.isTouched(column)))) {
		old.run = run;
		return { ...old.field };
	}
	const field = yield* fieldFrom(group, column, owners, groups, asked);
	told.set(column, { epoch, run, group: group.sketch, field });
	return { ...field };
}

/** Columns that differ in a number only: `gift_1`, `gift_2`… */
const numbered = (path: string): string | null => (/[^\d]\d+$/.test(path) ? path.replace(/\d+$/, '#') : null);

interface Family {
	epoch: object;
	run: number;
	columns: Column[];
	/** What they name; undefined where that was not asked yet. */
	named?: FoundReference | null;
}

const families = new WeakMap<Group['sketch'], Map<string, Family>>();

/** The columns of a group that differ in a number only, by what they have in common. */
function familiesOf({ sketch }: Group, { epoch, run }: Owners): Map<string, Family> {
	const known = families.get(sketch);
	const first = known?.values().next().value;
	if (known && first?.epoch === epoch && first.run === run) return known;
	const found = new Map<string, Family>();
	for (const column of sketch.columns.values()) {
		const name = numbered(column.path);
		if (name === null) continue;
		const family = found.get(name);
		if (family) family.columns.push(column);
		else found.set(name, { epoch, run, columns: [column] });
	}
	families.set(sketch, found);
	return found;
}

/** What a column names that is one of several alike, told once from all of them; null where they name nothing, or it does not. */
function* inFamily(group: Group, column: Column, owners: Owners): Generator<void, FoundReference | null> {
	const name = numbered(column.path);
	const family = name === null ? undefined : familiesOf(group, owners).get(name);
	if (!family || family.columns.length < 3) return null;
	if (family.named === undefined)
		family.named = yield* referenceIn(group, together(family.columns, group), owners);
	return family.named && { ...family.named };
}

/** Several columns as one. */
function together(columns: readonly Column[], group: Group): Column {
	const counts = new Map<number, number>();
	for (const { values, counts: own } of columns)
		values.forEach((value, at) => counts.set(value, (counts.get(value) ?? 0) + own[at]!));
	const sum = (what: (one: Column) => number) => columns.reduce((all, one) => all + what(one), 0);
	return {
		path: columns[0]!.path,
		values: Int32Array.from(counts.keys()),
		counts: Int32Array.from(counts.values()),
		records: group.sketch.count,
		cells: sum(({ cells }) => cells),
		filled: sum(({ filled }) => filled),
		types: [0, 1, 2, 3].map((type) => sum(({ types }) => types[type]!)) as Column['types']
	};
}

/** What the guide says of one field, from all that was found. */
function* fieldFrom(
	group: Group,
	column: Column,
	owners: Owners,
	groups: readonly Group[],
	asked: Scope
): Generator<void, FieldGuide> {
	const { pool } = owners;
	const told = typeOf(column, group.sketch.count, pool, asked.paths);
	const field: FieldGuide = { ...told, required: told.required ?? false, unused: false };
	const derived = derivedFrom(group, column, owners);
	// What is made from the id may be that of a record of another kind, which it refers to then.
	const same = derived ? yield* referenceIn(group, column, owners) : null;
	const other = same && isPlain(same) ? same : null;
	if (derived && !other) {
		field.derive = derived.pattern;
		field.found = derived.found;
		if (field.type !== 'file') field.type = startsTexts(column, owners) ? 'textKey' : 'text';
		return field;
	}
	const reference =
		other ?? (yield* inFamily(group, column, owners)) ?? (yield* referenceIn(group, column, owners));
	if (reference) {
		if (derived && derived.pattern !== '{id}') field.derive = derived.pattern;
		const texts = owners.list.find(({ group: other }) => other.kind === reference.kinds[0])?.group.texts;
		field.type = texts ? 'textKey' : reference.weight ? 'weights' : 'reference';
		field.reference = reference;
		field.found = reference.found;
		delete field.usual;
		delete field.decimals;
		return field;
	}
	if (field.type === 'text' && startsTexts(column, owners)) {
		field.type = 'textKey';
		field.found = finding(0.85, 'Its values are the start of text keys.');
		return field;
	}
	const counted = field.type === 'whole' ? countedBy(group, column, groups) : null;
	if (counted) {
		field.counts = counted.counts;
		field.found = counted.found;
	}
	return field;
}

/** Whether values are the beginnings of keys of texts. */
function startsTexts(column: Column, owners: Owners): boolean {
	const texts = owners.list.find(({ group }) => group.texts);
	if (!texts || column.values.length < 3) return false;
	const starts = stems(texts.ids, owners.pool);
	let hits = 0;
	let all = 0;
	for (const value of column.values) {
		if (starts.has(owners.pool.at(value))) hits++;
		// Most columns do not, which shows soon.
		if (++all === 100 && hits < 50) return false;
	}
	return hits >= column.values.length * 0.9;
}

const known = new WeakMap<Int32Array, Set<string>>();

/** All beginnings of keys that end before a mark. */
function stems(ids: Int32Array, pool: Pool): Set<string> {
	let found = known.get(ids);
	if (!found) {
		known.set(ids, (found = new Set()));
		for (const id of ids) {
			const key = pool.at(id);
			for (const mark of key.matchAll(/[._/:-]/g)) found.add(key.slice(0, mark.index));
		}
	}
	return found;
}

/** The names of folders that files of a kind are in, where they differ, as a reference. */
function* folderReference(group: Group, owners: Owners): Generator<void, FoundReference | null> {
	if (!group.globs.some((glob) => glob.includes('/*/')) || (group.id === 'folder' && !group.keyParts))
		return null;
	const counts = new Map<number, number>();
	for (const { path, facts } of group.files) {
		const text = owners.pool.find(folderIn(group.globs, path) ?? '');
		if (text > 0) counts.set(text, (counts.get(text) ?? 0) + facts.count);
		else return null;
	}
	const column: Column = {
		path: FOLDER,
		values: Int32Array.from(counts.keys()),
		counts: Int32Array.from(counts.values()),
		records: group.sketch.count,
		cells: group.sketch.count,
		filled: group.sketch.count,
		types: [group.sketch.count, 0, 0, 0]
	};
	return yield* referenceIn(group, column, owners);
}

/** The largest or smallest of the numbers in a column; undefined where it holds others than numbers. */
function endOf({ values }: Column, end: 'most' | 'least', pool: Pool): number | undefined {
	const numbers = [...values].filter((value) => value > 0).map((value) => pool.number(value));
	if (numbers.length === 0 || numbers.some(Number.isNaN)) return undefined;
	return numbers.reduce((one, other) => (end === 'most' ? Math.max(one, other) : Math.min(one, other)));
}

/** Whether values are the ids of one kind as they are. */
const isPlain = ({ found: _, kinds, none: __, ...rules }: FoundReference): boolean =>
	kinds.length === 1 && Object.keys(rules).length === 0;

/** Everything found about the fields of a kind that people have not spoken of. */
export function* fieldsOf(
	group: Group,
	owners: Owners,
	groups: readonly Group[],
	asked: Scope
): Generator<void, Record<string, FieldGuide>> {
	const fields: Record<string, FieldGuide> = {};
	if (group.texts) return fields;
	const remarks = remarksOf(group);
	const maps = yield* namesInPaths(group, owners);
	const open = [...maps.keys()].map((path) => path.slice(0, path.indexOf('*')));
	const isInside = (path: string, map: string, dots: boolean) =>
		path.startsWith(map) && !(dots ? /\[/ : /[.[]/).test(path.slice(map.length));
	const covered = (path: string) =>
		Object.hasOwn(fields, path) || open.some((map) => isInside(path, map, maps.has(`${map}**`)));
	for (const [path, reference] of maps) {
		if (group.said && Object.hasOwn(group.said.fields, path)) continue;
		const map = path.slice(0, path.indexOf('*'));
		const inside = [...group.sketch.columns.values()].filter(
			(column) =>
				column.path.startsWith(map) && (path.endsWith('**') || !column.path.slice(map.length).includes('.'))
		);
		const numeric = inside.every(({ values }) =>
			values.every((value) => !Number.isNaN(owners.pool.number(value)))
		);
		const told = numeric
			? typeOf(together(inside, group), group.sketch.count, owners.pool, asked.paths)
			: { type: 'reference' as const };
		fields[path] = { ...told, required: false, unused: false, reference, found: reference.found };
	}
	for (const column of group.sketch.columns.values()) {
		if (column.path === group.key || covered(column.path)) continue;
		const spoken = group.said && spokenPath(group.said, column.path);
		const said = spoken ? group.said!.fields[spoken]! : null;
		if (said?.type !== undefined || (spoken && spoken !== column.path)) continue;
		yield;
		const field = yield* fieldOnce(group, column, owners, groups, asked);
		const heard = saidOf(column.path, remarks);
		if (heard) {
			const { found, bound, ...said } = heard;
			Object.assign(field, said);
			const end = bound && endOf(column, bound, owners.pool);
			if (end !== undefined) field[bound === 'most' ? 'max' : 'min'] = end;
			if (said.codes && field.type === 'whole') field.type = 'code';
			void found;
		}
		fields[column.path] = said ? withSaid(field, said) : field;
	}
	const unsaid = (path: string) => !group.said || !spokenPath(group.said, path);
	const pair = group.twinOf || !unsaid(ID) ? null : pairOf(group, owners);
	if (pair)
		fields[ID] = { type: 'reference', required: true, unused: false, reference: pair, found: pair.found };
	const folder = unsaid(FOLDER) ? yield* folderReference(group, owners) : null;
	if (folder)
		fields[FOLDER] = {
			type: 'reference',
			required: true,
			unused: false,
			reference: folder,
			found: folder.found
		};
	return fields;
}

/** What was found of a field under what people said of it. */
function withSaid(field: FieldGuide, said: FieldGuide): FieldGuide {
	const kept = { ...field };
	for (const name of said.not ?? []) delete kept[name];
	const { required, unused, ...others } = said;
	const own = SAID.filter((name) => said[name] !== undefined && said[name] !== false);
	if (kept.found && own.length > 0) kept.found = { ...kept.found, said: own };
	return { ...kept, ...others, required: required || field.required, unused };
}
