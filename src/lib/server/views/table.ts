// A kind as a table: one row a record, values as the game will see them.
import {
	baseValueOf,
	changedRows,
	derived,
	displayName,
	isChanged,
	inheritedValue,
	isEditable,
	recordNamed,
	type Stack,
	type Table
} from '$core/stack';
import { fieldOf, meaningOf, selectionInWords, titleOf, type FieldGuide } from '$core/guide';
import { sortedColumn } from '$core/numbers';
import {
	arrange,
	conditionFault,
	conditionsFrom,
	inConditionWords,
	isNumeric,
	nameColumn,
	type Condition,
	type Named
} from '$core/query';
import { languagesOf } from '$core/words';
import type { Severity } from '$core/checks';
import type { Column, TableRow, TableView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';
import { severalIn, targetOf } from './field';
import { filesBeside } from './places';

/** The kinds that have records, for the way in. */
export function kindsOf(
	model: Model
): { kind: string; title: string; records: number; mine: number; inferred: boolean; files: string }[] {
	return [...model.stack.tables.values()]
		.filter((table) => table.count > 0)
		.map((table) => ({
			kind: table.kind,
			title: table.guide.plural ?? table.guide.title,
			records: table.count,
			mine: changedRows(table).length,
			inferred: table.guide.inferred,
			files: [table.guide.files.join(', '), selectionInWords(table.guide)].filter(Boolean).join(' · ')
		}));
}

/** Snags come gravest first: the first of a record is its gravest. */
const gravest = new WeakMap<Model, Map<string, Map<string, Severity>>>();

function snagsOf(model: Model, kind: string): ReadonlyMap<string, Severity> {
	let known = gravest.get(model);
	if (!known) {
		gravest.set(model, (known = new Map()));
		for (const snag of model.snags) {
			if (snag.kind === null || snag.record === null) continue;
			let own = known.get(snag.kind);
			if (!own) known.set(snag.kind, (own = new Map()));
			if (!own.has(snag.record)) own.set(snag.record, snag.severity);
		}
	}
	return known.get(kind) ?? new Map();
}

/** @throws NotThere */
function tableIn(model: Model, kind: string): Table {
	const table = model.stack.tables.get(kind);
	if (!table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	return table;
}

/** The fields of a kind in the order of the guide, and then of the files; of texts the main language first. */
function orderOf({ guide }: Stack, table: Table): string[] {
	const there = new Set(table.columns);
	const main = guide.words?.kind === table.kind ? [guide.words.main] : [];
	return [...new Set([...main, ...Object.keys(table.guide.fields), ...there])].filter(
		(path) => path !== table.guide.key && there.has(path)
	);
}

const around = (model: Model, kind: string) => ({
	stack: model.stack,
	links: model.links,
	snags: snagsOf(model, kind)
});

/** What is asked of a table. */
export interface TableQuery {
	/** Conditions, each in words; those of the box that is being typed in last. */
	where: readonly string[];
	filter: string;
	/** Paths, downwards with `-` before them. */
	sort: readonly string[];
}

/** Arrangements of the state at hand, so that a page that is scrolled does not make them again. */
const arranged = new WeakMap<Model, Map<string, Int32Array>>();
const MOST_ARRANGED = 12;

/** What the column of a field is headed with. */
const headOf = (stack: Stack, table: Table, path: string): string =>
	languagesOf(stack, table.kind)?.[path] ?? titleOf(table.guide, path);

const namedOf = (stack: Stack, table: Table): Named[] =>
	orderOf(stack, table).map((path) => ({
		path,
		title: languagesOf(stack, table.kind)?.[path] ?? fieldOf(table.guide, path)?.title ?? path
	}));

/** The rows of a kind that pass, in order. @throws NotThere */
export function rowsFor(model: Model, kind: string, { where, filter, sort }: TableQuery): Int32Array {
	const table = tableIn(model, kind);
	const known = arranged.get(model) ?? new Map<string, Int32Array>();
	arranged.set(model, known);
	const name = JSON.stringify([kind, where, filter, sort]);
	const found = known.get(name);
	if (found) return found;
	const columns = namedOf(model.stack, table);
	const conditions = [
		...where.flatMap((typed) => conditionsFrom(typed, columns, true)),
		...conditionsFrom(filter, columns)
	];
	const rows = arrange(around(model, kind), table, conditions, sort);
	if (known.size >= MOST_ARRANGED) known.delete(known.keys().next().value!);
	known.set(name, rows);
	return rows;
}

/** What a record inherits where it says nothing itself, by the numbers of the columns. */
function takenIn(table: Table, row: number, order: readonly string[]): Record<number, string> {
	if (!table.guide.inherits) return {};
	return Object.fromEntries(
		order.flatMap((path, at) => {
			const found = inheritedValue(table, row, path);
			return found ? [[at, found.value]] : [];
		})
	);
}

/** What codes and flags stand for, beside them; null where nothing is said of them, or no flag is set. */
function inWords(field: FieldGuide, value: string): string | null {
	const meaning = field.type === 'flags' && Number(value) === 0 ? null : meaningOf(field, value);
	return meaning === null ? null : `${value}: ${meaning}`;
}

/**
 * What the cells of a row stand for: the names of what they refer to, and what codes mean, by the numbers of the
 * columns; values are looked up once each.
 */
function namesIn(
	{ stack }: Model,
	table: Table,
	order: readonly string[]
): (row: number, cells: readonly string[]) => Record<number, string> {
	const columns = order.flatMap((path, at) => {
		const reference = fieldOf(table.guide, path)?.reference;
		return reference && !severalIn(reference)
			? [{ path, at, reference, known: new Map<string, string | null>() }]
			: [];
	});
	const codes = order.flatMap((path, at) => {
		const field = fieldOf(table.guide, path);
		return field?.codes ? [{ field, at }] : [];
	});
	return (row, cells) => {
		const names: Record<number, string> = {};
		for (const { field, at } of codes) {
			const words = cells[at] === '' ? null : inWords(field, cells[at]!);
			if (words !== null) names[at] = words;
		}
		for (const { path, at, reference, known } of columns) {
			const cell = cells[at]!;
			if (cell === '') continue;
			// What a value refers to may depend on another field.
			let name = reference.by ? undefined : known.get(cell);
			if (name === undefined) {
				const target = targetOf(stack, table.record(row), path, reference, cell);
				const own = target && displayName(stack, target);
				name = target && own !== target.id && own !== cell ? own : null;
				known.set(cell, name);
			}
			if (name !== null) names[at] = name;
		}
		return names;
	};
}

/** Whether rows have a name that players see; texts have that of the record that they belong to. */
const isNamed = ({ guide }: Stack, table: Table): boolean =>
	table.guide.texts.some(({ name }) => name) || guide.words?.kind === table.kind;

/** Some rows as they are shown. */
function shown(model: Model, table: Table, rows: Int32Array): TableRow[] {
	const order = orderOf(model.stack, table);
	const columns = order.map((path) => table.column(path));
	const names = nameColumn(around(model, table.kind), table);
	const named = isNamed(model.stack, table);
	const snags = snagsOf(model, table.kind);
	const shownNames = namesIn(model, table, order);
	return Array.from(rows, (row): TableRow => {
		const cells = columns.map((column) => (column[row]! < 0 ? '' : table.pool.at(column[row]!)));
		const mine = isChanged(table, row);
		const id = table.pool.at(table.rows.ids[row]!);
		const record = mine ? table.record(row) : null;
		return {
			id,
			name: named && (names[row] ?? -1) > 0 ? table.pool.at(names[row]!) : null,
			mine,
			cells,
			shown: shownNames(row, cells),
			changed: record
				? order.flatMap((path, at) => {
						const value = record.values.get(path);
						return value && isEditable(value.presence.layer) && baseValueOf(record, path) !== value.value
							? [at]
							: [];
					})
				: [],
			taken: takenIn(table, row, order),
			snag: snags.get(id) ?? null
		};
	});
}

/** Rows of which the lengths of values are looked at. */
const LOOKED_AT = 4000;

/** How wide the values of a column are, in letters, and how many digits are after the point. */
const extentOf = (table: Table, path: string): { letters: number; places: number } =>
	derived(table, `extent ${path}`, () => {
		const column = table.column(path);
		const step = Math.max(1, Math.floor(column.length / LOOKED_AT));
		let [letters, places] = [0, 0];
		for (let row = 0; row < column.length; row += step) {
			if (column[row]! <= 0) continue;
			const value = table.pool.at(column[row]!);
			letters = Math.max(letters, value.length);
			places = Math.max(places, value.split('.')[1]?.length ?? 0);
		}
		return { letters, places };
	});

/** Letters of the longest id of a kind, among some of them. */
const longestId = (table: Table): number =>
	derived(table, 'letters of ids', () => {
		const { ids } = table.rows;
		const step = Math.max(1, Math.floor(ids.length / LOOKED_AT));
		let letters = 0;
		for (let row = 0; row < ids.length; row += step)
			letters = Math.max(letters, table.pool.at(ids[row]!).length);
		return letters;
	});

/** Letters that the name of a record has room for. */
const NAME_LETTERS = 15;

/** Letters that codes and what they mean have room for: not more than this. */
const CODE_LETTERS = 20;
const lettersOf = (codes: Readonly<Record<string, string>>): number =>
	Math.min(
		CODE_LETTERS,
		Math.max(...Object.entries(codes).map(([code, means]) => code.length + means.length + 2))
	);

/** Places on the small scale in a column's head. */
const PLACES = 64;

/** Where values are between the smallest and the largest, from 0 to 1, ascending; null for what is not a number. */
const ticksOf = (table: Table, path: string): number[] | null =>
	derived(table, `ticks ${path}`, () => {
		const { numbers } = sortedColumn(table, path);
		if (!isNumeric(table, path) || numbers.length < 4) return null;
		const [low, high] = [numbers[0]!, numbers.at(-1)!];
		if (low === high) return null;
		const places = new Set<number>();
		for (const value of numbers) places.add(Math.round(((value - low) / (high - low)) * PLACES));
		return [...places].map((place) => place / PLACES);
	});

function columnView(stack: Stack, table: Table, path: string): Column {
	const about = fieldOf(table.guide, path);
	const numeric = isNumeric(table, path);
	const sorted = numeric ? sortedColumn(table, path).numbers : null;
	return {
		path,
		title: headOf(stack, table, path),
		unit: about?.unit ?? null,
		numeric: numeric && !about?.reference,
		reference: about?.reference !== undefined,
		meaning: about?.meaning ?? null,
		group: about?.group ?? null,
		unused: about?.unused ?? false,
		...extentOf(table, path),
		// Names are longer than ids.
		...(about?.reference && !severalIn(about.reference)
			? { letters: Math.max(NAME_LETTERS, extentOf(table, path).letters) }
			: {}),
		...(about?.codes ? { coded: true, letters: lettersOf(about.codes) } : { coded: false }),
		ticks:
			about?.reference || about?.type === 'flags' || about?.type === 'code' ? null : ticksOf(table, path),
		range: sorted && sorted.length > 0 ? [sorted[0]!, sorted.at(-1)!] : null
	};
}

/** What of an address cannot be followed, in sentences. */
function faultsOf(table: Table, { where, filter, sort }: TableQuery, columns: Named[]): string[] {
	const conditions = [
		...where.flatMap((typed) => conditionsFrom(typed, columns, true)),
		...conditionsFrom(filter, columns)
	];
	const known = new Set([...table.columns, 'name', 'id']);
	const unsorted = sort.map((path) => path.replace(/^-/, '')).filter((path) => !known.has(path));
	return [
		...conditions.flatMap((condition) => conditionFault(condition) ?? []),
		...unsorted.map((path) => `There is no field “${path}” to sort by; rows are in file order.`)
	];
}

/** Rows that are sent at a time. */
export const A_WINDOW = 60;

/** One kind as a table, with the first rows that pass. @throws NotThere */
export function tableOf(model: Model, kind: string, asked: TableQuery): TableView {
	const table = tableIn(model, kind);
	const { guide } = table;
	const rows = rowsFor(model, kind, asked);
	const columns = namedOf(model.stack, table);
	return {
		kind,
		title: guide.title,
		plural: guide.plural ?? guide.title,
		key: guide.key ?? 'id',
		letters: longestId(table),
		named: isNamed(model.stack, table),
		groups: guide.groups,
		columns: orderOf(model.stack, table).map((path) => columnView(model.stack, table, path)),
		rows: shown(model, table, rows.subarray(0, A_WINDOW)),
		limit: guide.limits.rows ?? null,
		files: filesBeside(model.stack, kind),
		taken: table.removals
			.filter(({ from }) => from.layer === model.stack.mine)
			.map(({ from, nth, hits }) => ({ id: table.pool.at(from.facts.ids[nth]!), none: hits === 0 })),
		total: table.count,
		matching: rows.length,
		conditions: asked.where.map((text) => {
			const condition = conditionsFrom(text, columns, true);
			return { text, words: condition.map((one) => shownCondition(model.stack, table, one)).join(', ') };
		}),
		faults: faultsOf(table, asked, columns),
		version: model.project.version
	};
}

/** A condition as it is shown: fields by their titles, ids and codes by the names that people know. */
function shownCondition(stack: Stack, table: Table, condition: Condition): string {
	if (condition.is === 'text') return `“${condition.text}” in any field`;
	if (condition.is === 'names') {
		const record = [...stack.tables.values()].map((one) => recordNamed(one, condition.id)).find(Boolean);
		return inConditionWords({ ...condition, id: record ? displayName(stack, record) : condition.id });
	}
	if (!('field' in condition)) return inConditionWords(condition);
	const about = fieldOf(table.guide, condition.field);
	const named = (value: string): string => {
		const record = about?.reference?.kinds
			.map((kind) => recordNamed(stack.tables.get(kind), value, about.reference!.key))
			.find(Boolean);
		return record ? displayName(stack, record) : (meaningOf(about, value) ?? value);
	};
	const titled = { ...condition, field: headOf(stack, table, condition.field) };
	if (titled.is === 'same' || titled.is === 'unlike')
		return inConditionWords({ ...titled, other: headOf(stack, table, titled.other) });
	return inConditionWords(
		titled.is === 'one' && about?.type !== 'flags' ? { ...titled, values: titled.values.map(named) } : titled
	);
}

/** More rows of the same table, from a place in the order on. @throws NotThere */
export function moreRows(
	model: Model,
	kind: string,
	asked: TableQuery,
	from: number,
	count: number
): TableRow[] {
	const rows = rowsFor(model, kind, asked);
	return shown(model, tableIn(model, kind), rows.subarray(from, from + Math.min(count, 5000)));
}

/** The ids of all rows that pass, in order. @throws NotThere */
export function idsFor(model: Model, kind: string, asked: TableQuery): string[] {
	const table = tableIn(model, kind);
	return Array.from(rowsFor(model, kind, asked), (row) => table.pool.at(table.rows.ids[row]!));
}

/** The place of a record in the order, and its row; -1 where it does not pass. @throws NotThere */
export function placeIn(model: Model, kind: string, asked: TableQuery, id: string): number {
	return rowsFor(model, kind, asked).indexOf(tableIn(model, kind).rowOf(id));
}

/** What an address asks of a table. */
export const queryIn = ({ searchParams }: URL): TableQuery => ({
	where: searchParams.getAll('where'),
	filter: searchParams.get('filter') ?? '',
	sort: (searchParams.get('sort') ?? '').split(',').filter((path) => path !== '')
});
