// A kind as a table: one row a record, values as the game will see them.
import { nameOf } from '$core/stack';
import { unitless } from '$core/guide';
import type { Severity } from '$core/checks';
import type { TableView } from '$core/views';
import { NotThere, type Model } from '../model';

/** The kinds that have records, for the way in. */
export function kindsOf(
	model: Model
): { kind: string; title: string; records: number; mine: number; inferred: boolean; files: string }[] {
	return [...model.stack.tables.values()]
		.filter((table) => table.records.length > 0)
		.map((table) => ({
			kind: table.kind,
			title: table.guide.plural ?? table.guide.title,
			records: table.records.length,
			mine: table.records.filter((record) =>
				record.presences.some((presence) => presence.layer.role === 'mine')
			).length,
			inferred: table.guide.inferred,
			files: table.guide.files.join(', ')
		}));
}

/** One kind as a table. @throws NotThere */
export function tableOf(model: Model, kind: string): TableView {
	const table = model.stack.tables.get(kind);
	if (!table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	const { guide } = table;
	const order = [...new Set([...Object.keys(guide.fields), ...table.columns])].filter(
		(path) => path !== guide.key && table.columns.includes(path)
	);
	// Snags come gravest first: the first of a record is its gravest.
	const gravest = new Map<string, Severity>();
	for (const snag of model.snags)
		if (snag.kind === kind && snag.record !== null && !gravest.has(snag.record))
			gravest.set(snag.record, snag.severity);
	const rows = table.records.map((record) => ({
		id: record.id,
		name: nameOf(model.stack, record),
		mine: record.presences.at(-1)!.layer.role === 'mine',
		cells: order.map((path) => record.values.get(path)?.value ?? ''),
		changed: order.flatMap((path, at) => {
			const value = record.values.get(path);
			return value?.presence.layer.role === 'mine' && value.overrode[0]?.value !== value.value ? [at] : [];
		}),
		snag: gravest.get(record.id) ?? null
	}));
	return {
		kind,
		title: guide.title,
		plural: guide.plural ?? guide.title,
		key: guide.key ?? 'id',
		named: guide.texts.some((text) => text.name),
		columns: order.map((path, at) => ({
			path,
			title: guide.fields[path]?.title ?? path,
			unit: guide.fields[path]?.unit ?? null,
			numeric:
				rows.some((row) => row.cells[at] !== '') &&
				rows.every((row) => row.cells[at] === '' || unitless(row.cells[at]!) !== null),
			reference: guide.fields[path]?.reference !== undefined
		})),
		rows,
		limit: guide.limits.rows ?? null
	};
}
