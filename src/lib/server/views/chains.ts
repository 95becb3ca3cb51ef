// Upgrades and other chains of records of one kind.
import { fieldOf, type Guide } from '$core/guide';
import { chainsIn } from '$core/links';
import { isEditable, baseValueOf, displayName } from '$core/stack';
import type { ChainsView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** Fields that name records of their own kind, one each. */
function fieldsWith({ kinds }: Guide): ChainsView['others'] {
	return Object.entries(kinds).flatMap(([kind, { title, fields }]) =>
		Object.entries(fields).flatMap(([field, about]) =>
			about.reference?.kinds.includes(kind) && !/[[#*]/.test(field) && !about.reference.list
				? [{ kind, field, title: `${title}: ${(about.title ?? field).toLowerCase()}` }]
				: []
		)
	);
}

/** @throws NotThere */
export function chainsOf(model: Model, kind: string, field: string): ChainsView {
	const { stack, links } = model;
	const table = stack.tables.get(kind);
	const about = fieldOf(table?.guide, field);
	if (!table || !about?.reference?.kinds.includes(kind))
		throw new NotThere(`“${field}” of “${kind}” does not lead to records of the same kind.`);
	const steps = chainsIn(links, table, field);
	return {
		kind,
		title: table.guide.plural ?? table.guide.title,
		field,
		fieldTitle: about.title ?? field,
		others: fieldsWith(stack.guide),
		steps: steps.map(({ row, to, loose, circle, left, place }) => {
			const record = table.record(row);
			const mine = isEditable(record.presences.at(-1)!.layer);
			return {
				id: record.id,
				name: displayName(stack, record),
				to: to < 0 ? null : table.record(to).id,
				loose,
				circle,
				changed: mine && (baseValueOf(record, field) ?? '') !== (record.value(field) ?? ''),
				left,
				place
			};
		}),
		alone: table.count - steps.length
	};
}
