import { budgetOf } from '../numbers';
import { isEditable, rowsWhere } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** A record of mine that spends more points than its kind has by the cost table of the guide. */
export const overBudget: Rule = {
	id: 'over-budget',
	title: 'Over budget',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			const { budget } = table.guide;
			if (!budget) continue;
			const over = (row: number) => {
				const record = table.record(row);
				if (!isEditable(record.presences.at(-1)!.layer)) return null;
				const spent = budgetOf(budget, (field) => record.value(field));
				return spent.most !== null && spent.spent > spent.most ? spent : null;
			};
			for (const [row, { spent, most, title }] of rowsWhere(table, 'over budget', over)) {
				const record = table.record(row);
				const presence = record.presences.at(-1)!;
				yield snagAt(stack, record, presence, {
					rule: 'over-budget',
					severity: 'note',
					message: `${quoted(record.id)} spends ${spent} ${title.toLowerCase()} of ${most} (line ${presence.line}). The game accepts it, but it is more than its makers planned for.`,
					repairable: false
				});
			}
		}
	}
};
