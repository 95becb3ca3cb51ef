import { snagAt, type Rule } from './snag';

/** A record of my mod that says exactly what the layers below say. */
export const sameAsBase: Rule = {
	id: 'same-as-base',
	title: 'Says nothing new',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.guide.merge !== 'record') continue;
			for (const record of table.records) {
				const mine = record.presences.at(-1)!;
				const below = record.presences.at(-2);
				if (mine.layer.role !== 'mine' || !below) continue;
				const values = new Map(below.record.fields.map((field) => [field.path, field.value]));
				const same =
					mine.record.fields.length === values.size &&
					mine.record.fields.every((field) => values.get(field.path) === field.value);
				if (!same) continue;
				yield snagAt(stack, record, mine, {
					rule: 'same-as-base',
					severity: 'note',
					message: `My mod has ${table.guide.title.toLowerCase()} ${record.id} exactly as ${below.layer.title} has it. It does nothing now, and would hide a later version's change.`,
					repairable: true
				});
			}
		}
	}
};
