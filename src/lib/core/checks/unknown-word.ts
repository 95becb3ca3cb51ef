import { nearest } from '../links';
import { valueIn } from '../facts';
import { smallest } from '../gather';
import type { FieldGuide } from '../guide';
import { baseValueOf, derivedBelow, isEditable, isWide, type Table } from '../stack';
import { fieldsIn, myRows } from './fields';
import { consequence, quoted, snagAt, withCandidates, type Rule } from './snag';
import { counted } from '../wording';

/** Values of the game from which on its words are all that there are, and how often the rarest of them comes then. */
const ENOUGH = { values: 60, rarest: 5 };

/** Columns of one field: a field of nested lists has several. */
function columnsByField(table: Table): Map<FieldGuide, string[]> {
	const found = new Map<FieldGuide, string[]>();
	for (const [path, field] of fieldsIn(table)) {
		if (field.type !== 'code' || field.codes || !field.found || field.unused || field.reference) continue;
		const known = found.get(field);
		if (known) known.push(path);
		else found.set(field, [path]);
	}
	return found;
}

/** How often each word stands in some columns below my mod; null where there may well be others. */
const wordsOf = (table: Table, columns: readonly string[]): ReadonlyMap<number, number> | null =>
	derivedBelow(table, `words of ${columns.join('\n')}`, (files) => {
		const words = new Map<number, number>();
		let all = 0;
		for (const { facts } of files)
			for (const path of columns) {
				const number = facts.pool.find(path);
				for (let nth = 0; nth < facts.count; nth++) {
					const value = valueIn(facts, nth, number);
					// Nothing is no word.
					if (value <= 0) continue;
					words.set(value, (words.get(value) ?? 0) + 1);
					all++;
				}
			}
		return all >= ENOUGH.values && smallest(words.values()) >= ENOUGH.rarest ? words : null;
	});

/**
 * A word of mine that a field never takes in the game, where it takes a few words again and again. How likely there is
 * one more is told by how many came but once (Good, 1953): none may be rare.
 */
export const unknownWord: Rule = {
	id: 'unknown-word',
	title: 'Unknown word',
	reads: ['records'],
	*find({ stack }) {
		if (!stack.mine) return;
		for (const table of stack.tables.values()) {
			yield null;
			const rows = myRows(table);
			if (rows.size === 0 || isWide(table)) continue;
			for (const [field, columns] of columnsByField(table)) {
				const words = wordsOf(table, columns);
				if (!words) continue;
				for (const path of columns) {
					const column = table.column(path);
					for (const row of rows) {
						const value = column[row]!;
						if (value <= 0 || words.has(value)) continue;
						const record = table.record(row);
						const own = record.said(path);
						if (!own || !isEditable(own.presence.layer) || baseValueOf(record, path) === own.value) continue;
						const all = [...words].toSorted(([, a], [, b]) => b - a);
						const told = all.map(([word, count]) => `${table.pool.at(word)} (${count})`).join(', ');
						yield withCandidates(
							snagAt(stack, record, own.presence, {
								rule: 'unknown-word',
								severity: 'warns',
								field: path,
								message: `${field.title ?? path} is never ${quoted(own.value)} in the game, where it is one of ${counted(all.length, 'word')}: ${told}. ${consequence(stack, record)} (line ${own.presence.line}).`,
								repairable: true
							}),
							() =>
								nearest(
									own.value,
									all.map(([word]) => table.pool.at(word))
								)
						);
					}
				}
			}
		}
	}
};
