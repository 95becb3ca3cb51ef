import { rowsWhere } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** More records than the game has room for, or an id that is too long. */
export const tooManyRows: Rule = {
	id: 'too-many-rows',
	title: 'Too many records',
	reads: ['records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			const { rows, id: longest } = table.guide.limits;
			if (rows !== undefined && table.count > rows) {
				const record = table.record(rows);
				const plural = (table.guide.plural ?? table.guide.title).toLowerCase();
				yield snagAt(stack, record, record.presences.at(-1)!, {
					rule: 'too-many-rows',
					severity: 'blocks',
					message: `There are ${table.count} ${plural}; the game has room for ${rows}. It refuses the file from ${quoted(record.id)} on.`,
					repairable: false
				});
			}
			if (longest === undefined) continue;
			const long = (row: number) => (table.pool.at(table.rows.ids[row]!).length > longest ? true : null);
			for (const [row] of rowsWhere(table, 'long ids', long)) {
				const record = table.record(row);
				yield snagAt(stack, record, record.presences.at(-1)!, {
					rule: 'too-many-rows',
					severity: 'blocks',
					field: table.guide.key ?? null,
					message: `The id ${quoted(record.id)} has ${record.id.length} characters; the game allows ${longest}.`,
					repairable: false
				});
			}
		}
	}
};
