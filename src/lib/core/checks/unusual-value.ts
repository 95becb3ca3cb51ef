import { columnSpread, rankOf } from '../numbers';
import { baseValueOf } from '../stack';
import { fieldsIn } from './fields';
import { limitFault, typeFault } from './values';
import { quoted, snagAt, type Rule } from './snag';

/** Records from which on what others have says something. */
const ENOUGH = 8;

/** A number of mine that lies far from all others of its kind. */
export const unusualValue: Rule = {
	id: 'unusual-value',
	title: 'Unlike all others',
	reads: ['records'],
	*find({ stack }) {
		if (!stack.mine) return;
		for (const table of stack.tables.values()) {
			const mine = table.files.some(({ layer }) => layer.role === 'mine');
			if (!mine || table.count < ENOUGH) continue;
			const rows = new Set<number>();
			table.files.forEach(({ layer }, nth) => {
				if (layer.role === 'mine') for (const row of table.rows.rowsOf[nth]!) if (row >= 0) rows.add(row);
			});
			for (const [path, field] of fieldsIn(table)) {
				if (field.reference || field.unused || field.type === 'flags' || field.type === 'code') continue;
				const spread = columnSpread(table, path);
				if (!spread || spread.count < ENOUGH || spread.values.length < 4) continue;
				const width = spread.values.at(-2)! - spread.values[1]!;
				for (const row of rows) {
					const record = table.record(row);
					const value = record.values.get(path);
					if (!value || value.presence.layer.role !== 'mine' || value.value === '') continue;
					if (typeFault(field, value.value) || limitFault(field, value.value)) continue;
					const number = Number(value.value);
					const far = number < spread.values[1]! - width || number > spread.values.at(-2)! + width;
					if (!far || baseValueOf(record, path) === value.value) continue;
					const place = Math.round(rankOf(spread, number) * 100);
					yield snagAt(stack, record, value.presence, {
						rule: 'unusual-value',
						severity: 'note',
						field: path,
						message: `${field.title ?? path} ${quoted(value.value)} is far from what all others have: ${spread.values[1]} to ${spread.values.at(-2)} but for one; it lies above ${place} % of them (line ${value.presence.line}).`,
						repairable: false
					});
				}
			}
		}
	}
};
