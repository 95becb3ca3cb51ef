import { consequence, quoted, SURE_ENOUGH, snagAt, type Rule } from './snag';

interface Columns {
	name: string;
	values: Int32Array | undefined;
}

const known = new WeakMap<Int32Array, { columns: readonly Columns[]; rows: number[] }>();

/** Rows whose text is not there in every language; gone through again only where links or texts changed. */
function rowsWithout(keys: Int32Array, to: Int32Array, start: number, columns: readonly Columns[]): number[] {
	const old = known.get(to);
	if (
		old?.columns.length === columns.length &&
		columns.every(({ values }, at) => values === old.columns[at]!.values)
	)
		return old.rows;
	const rows: number[] = [];
	for (let row = 0; row < keys.length; row++) {
		if (keys[row]! < 0) continue;
		let whole = to[row]! >= 0;
		for (let nth = 0; whole && nth < columns.length; nth++)
			whole = (columns[nth]!.values?.[to[row]! - start] ?? 0) > 0;
		if (!whole) rows.push(row);
	}
	known.set(to, { columns, rows });
	return rows;
}

/** A text that the game needs for a record and that is absent, altogether or in one language. */
export const missingText: Rule = {
	id: 'missing-text',
	title: 'Missing text',
	reads: ['records', 'links'],
	local: true,
	*find({ stack, links }) {
		const languages = Object.entries(stack.guide.words?.languages ?? {});
		const texts = stack.tables.get(stack.guide.words?.kind ?? '');
		const columns = languages.map(([code, name]) => ({ name, values: texts?.column(code) }));
		const start = links.starts.get(texts?.kind ?? '') ?? 0;
		for (const { table, field, text, name, required, values, to, sure } of links.strands) {
			if (!text || !required || sure < SURE_ENOUGH) continue;
			for (const row of rowsWithout(values, to, start, columns)) {
				const at = to[row]! - start;
				const absent = columns.filter((column) => to[row]! < 0 || (column.values?.[at] ?? 0) <= 0);
				if (absent.length === 0) continue;
				const record = table.record(row);
				const presence = record.presences.at(-1)!;
				const nowhere = absent.length === languages.length;
				const where = nowhere ? 'in any language' : `in ${absent.map(({ name }) => name).join(' and ')}`;
				yield snagAt(stack, record, presence, {
					rule: 'missing-text',
					// What a record is called by is seen by everybody; of other texts it is not known what becomes of their lack.
					severity: sure === 1 ? 'blocks' : name ? 'warns' : 'note',
					field,
					...(nowhere ? { sort: 'nowhere' } : {}),
					message: `There is no text ${quoted(table.pool.at(values[row]!))} ${where}: ${quoted(record.id)} has no ${field.toLowerCase()}. ${consequence(stack, record)} (line ${presence.line}).`,
					repairable: stack.mine !== null
				});
			}
		}
	}
};
