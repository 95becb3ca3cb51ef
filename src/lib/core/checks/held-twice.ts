import { valueIn, type Pool } from '../facts';
import { baseValueOf, cellsOf, changedRows, derivedBelow, type Table, type TableFile } from '../stack';
import { fieldsIn } from './fields';
import { quoted, snagAt, type Rule } from './snag';

/** Records from which on it says something that no two share a value. */
const ENOUGH = 6;

/** Names of fields of which each value is there once in most games. */
const SINGLE = /(?:^|[._\]])(?:key|bit|slot|button|code|index)$/i;

/**
 * Whether the records below my mod hold different values where chance alone would have made some alike: numbers that
 * fill their range, or many for its width (the birthday problem: of n values out of w all differ by chance with
 * exp(-n² / 2w)), or what is named so that each value should be there once.
 */
const isSingle = (table: Table, path: string): boolean =>
	derivedBelow(table, `held once ${path}`, (files) => areSingle(files, path, table.pool));

function areSingle(files: readonly TableFile[], path: string, pool: Pool): boolean {
	const seen = new Set<number>();
	let records = 0;
	for (const { facts } of files)
		for (let nth = 0; nth < facts.count; nth++) {
			records++;
			const value = valueIn(facts, nth, pool.find(path));
			if (value > 0 && seen.has(value)) return false;
			if (value > 0) seen.add(value);
		}
	if (seen.size < ENOUGH || seen.size < records * 0.9) return false;
	const numbers = [...seen].map((value) => pool.number(value));
	if (!numbers.every(Number.isInteger)) return SINGLE.test(path);
	let [low, high] = [Infinity, -Infinity];
	for (const number of numbers) [low, high] = [Math.min(low, number), Math.max(high, number)];
	const width = high - low + 1;
	return width <= seen.size * 1.5 || seen.size ** 2 > 10 * width;
}

/** A value that two records hold where no two of the game's do: one bit, one key for two things. */
export const heldTwice: Rule = {
	id: 'held-twice',
	title: 'Value used twice',
	reads: ['records'],
	*find({ stack }) {
		if (!stack.mine) return;
		for (const table of stack.tables.values()) {
			const mine = changedRows(table);
			if (mine.length === 0) continue;
			for (const [path, field] of fieldsIn(table)) {
				if (field.reference || field.unused || field.counts !== undefined) continue;
				if (/[[*]/.test(path) || ['flags', 'switch', 'chance'].includes(field.type ?? '')) continue;
				const cell = cellsOf(table, path);
				const filled = mine.filter((row) => cell(row) > 0);
				// What is asked of the game was mostly asked before; of my records each edit makes new ones.
				if (filled.length === 0 || !isSingle(table, path)) continue;
				const changed = filled.filter(
					(row) => baseValueOf(table.record(row), path) !== table.pool.at(cell(row))
				);
				if (changed.length === 0) continue;
				const column = table.column(path);
				const holders = new Map(changed.map((row): [number, number[]] => [column[row]!, []]));
				for (let row = 0; row < table.count; row++) holders.get(column[row]!)?.push(row);
				for (const row of changed) {
					const other = holders.get(column[row]!)!.find((one) => one !== row);
					if (other === undefined) continue;
					const record = table.record(row);
					const { value, presence } = record.said(path)!;
					yield snagAt(stack, record, presence, {
						rule: 'held-twice',
						severity: 'warns',
						field: path,
						message: `${field.title ?? path} ${quoted(value)} is already used by ${quoted(table.record(other).id)} (line ${presence.line}). No two ${(table.guide.plural ?? table.guide.title).toLowerCase()} of the game share one; the game may use only the first.`,
						repairable: false
					});
				}
			}
		}
	}
};
