// A kind as a table: one row a record, values as the game will see them.
import { derived, nameOf, type Table } from '$core/stack';
import { unitless, fieldOf } from '$core/guide';
import { arrange } from '$core/numbers';
import type { Severity } from '$core/checks';
import type { TableRow, TableView } from '$core/views';
import { NotThere, type Model } from '../model';

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
			mine: new Set(
				table.files.flatMap(({ layer }, at) => (layer.role === 'mine' ? [...table.rows.rowsOf[at]!] : []))
			).size,
			inferred: table.guide.inferred,
			files: table.guide.files.join(', ')
		}));
}

const isMine = (table: Table, row: number): boolean => {
	const { firsts, file } = table.rows;
	return table.files[file[firsts[row + 1]! - 1]!]!.layer.role === 'mine';
};

function rowsOf(model: Model, table: Table, order: string[]): TableRow[] {
	// Snags come gravest first: the first of a record is its gravest.
	const gravest = new Map<string, Severity>();
	for (const snag of model.snags)
		if (snag.kind === table.kind && snag.record !== null && !gravest.has(snag.record))
			gravest.set(snag.record, snag.severity);
	const columns = order.map((path) => table.column(path));
	const named = table.guide.texts.some((text) => text.name);
	return Array.from({ length: table.count }, (_, row): TableRow => {
		const record = table.record(row);
		const mine = isMine(table, row);
		return {
			id: record.id,
			name: named ? nameOf(model.stack, record) : null,
			mine,
			cells: columns.map((column) => (column[row]! < 0 ? '' : table.pool.at(column[row]!))),
			changed: mine
				? order.flatMap((path, at) => {
						const value = record.values.get(path);
						return value?.presence.layer.role === 'mine' && value.overrode[0]?.value !== value.value
							? [at]
							: [];
					})
				: [],
			snag: gravest.get(record.id) ?? null
		};
	});
}

/** Whole tables of the state at hand, so that a filter that is typed does not make them anew. */
const whole = new WeakMap<Model, Map<string, TableView>>();
const MOST_WHOLE = 3;

function wholeTable(model: Model, kind: string): TableView {
	const known = whole.get(model) ?? new Map<string, TableView>();
	whole.set(model, known);
	const found = known.get(kind);
	if (found) return found;
	const table = model.stack.tables.get(kind);
	if (!table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	const { guide } = table;
	const order = [...new Set([...Object.keys(guide.fields), ...table.columns])].filter(
		(path) => path !== guide.key && table.columns.includes(path)
	);
	const numeric = (path: string) =>
		derived(table, `numeric ${path}`, () => {
			const filled = table.column(path).filter((value) => value > 0);
			return filled.length > 0 && filled.every((value) => unitless(table.pool.at(value)) !== null);
		});
	const rows = rowsOf(model, table, order);
	const view: TableView = {
		kind,
		title: guide.title,
		plural: guide.plural ?? guide.title,
		key: guide.key ?? 'id',
		named: guide.texts.some((text) => text.name),
		columns: order.map((path) => ({
			path,
			title: fieldOf(guide, path)?.title ?? path,
			unit: fieldOf(guide, path)?.unit ?? null,
			numeric: numeric(path),
			reference: fieldOf(guide, path)?.reference !== undefined
		})),
		rows,
		limit: guide.limits.rows ?? null,
		total: rows.length,
		matching: null
	};
	if (known.size >= MOST_WHOLE) known.delete(known.keys().next().value!);
	known.set(kind, view);
	return view;
}

/** Rows up to which a page gets the whole table and arranges it itself; of larger ones it gets the first that pass. */
const MOST_ROWS = 2000;

/** One kind as a table. @throws NotThere */
export function tableOf(
	model: Model,
	kind: string,
	how: { filter: string; sort: string; only: boolean }
): TableView {
	const table = wholeTable(model, kind);
	if (table.total <= MOST_ROWS) return table;
	const rows = arrange(table, how);
	return { ...table, rows: rows.slice(0, MOST_ROWS), matching: rows.length };
}
