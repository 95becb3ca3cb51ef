// Rules over one or two axes, drawn as what they cover.
import { bandsOf } from '$core/checks';
import { fieldOf } from '$core/guide';
import { coverage } from '$core/numbers';
import { isEditable, displayName } from '$core/stack';
import type { RangesView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** The n-th set of ranges of a kind. @throws NotThere */
export function rangesOf(model: Model, kind: string, nth: number): RangesView {
	const table = model.stack.tables.get(kind);
	const cover = table?.guide.covers?.[nth];
	if (!table || !cover) throw new NotThere(`The field guide has no ranges for “${kind}”.`);
	const bands = bandsOf(table, cover.axes);
	const axes = cover.axes.map(({ from, to, low, high }, axis) => {
		const all = bands.flatMap(({ ranges }) => ranges[axis]!);
		const about = fieldOf(table.guide, from);
		return {
			from,
			to,
			// “Hour from” and “Hour to” are the two ends of “Hour”.
			title: (about?.title ?? from).replace(/[ ._-]*(from|min|low|start|first)$/i, '') || from,
			unit: about?.unit ?? null,
			whole: about?.type !== 'decimal',
			low: low ?? Math.min(...all),
			high: high ?? Math.max(...all)
		};
	});
	const cells = coverage(
		bands,
		axes.map(({ low, high }): [number, number] => [low, high])
	);
	return {
		kind,
		title: table.guide.plural ?? table.guide.title,
		axes,
		fallback: cover.fallback ?? null,
		bands: bands.map(({ id, row, ranges }) => {
			const record = table.record(row);
			return {
				id,
				name: displayName(model.stack, record),
				ranges,
				mine: record.presences.some(({ layer }) => isEditable(layer))
			};
		}),
		open: cells.filter(({ over }) => over.length === 0).map(({ ranges }) => ranges),
		twice: cells.filter(({ over }) => over.length > 1).map(({ ranges, over }) => ({ ranges, over })),
		others: (table.guide.covers ?? []).length
	};
}
