import { isChanged, isEditable } from '../stack';
import { snagAt, type Rule } from './snag';

/** A record of my mod that says exactly what the layers below say. */
export const sameAsBase: Rule = {
	id: 'same-as-base',
	title: 'Same as base',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.guide.merge === 'file') continue;
			for (const row of new Set(
				table.files.flatMap(({ layer }, at) => (isEditable(layer) ? [...table.rows.rowsOf[at]!] : []))
			)) {
				// One that stands in no other file has nothing below it.
				if (row < 0 || table.rows.firsts[row + 1]! - table.rows.firsts[row]! < 2) continue;
				if (isChanged(table, row)) continue;
				const record = table.record(row);
				const mine = record.presences.at(-1)!;
				const below = record.presences.at(-2);
				if (!isEditable(mine.layer) || !below) continue;
				const values = new Map(below.fields.map((field) => [field.path, field]));
				const same =
					mine.fields.length === values.size &&
					mine.fields.every((field) => {
						const other = values.get(field.path);
						return other?.value === field.value && other.type === field.type;
					});
				if (!same) continue;
				yield snagAt(stack, record, mine, {
					rule: 'same-as-base',
					severity: 'note',
					message: `My mod has ${table.guide.title.toLowerCase()} ${record.id} exactly as ${below.layer.title} has it. It does nothing now, and hides what a later version may change.`,
					repairable: true
				});
			}
		}
	}
};
