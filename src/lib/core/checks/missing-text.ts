import { consequence, quoted, SURE_ENOUGH, snagAt, type Rule } from './snag';

/** A text that the game needs for a record and that is absent, altogether or in one language. */
export const missingText: Rule = {
	id: 'missing-text',
	title: 'Text is missing',
	reads: ['records', 'links'],
	*find({ stack, links }) {
		const languages = Object.entries(stack.guide.words?.languages ?? {});
		const texts = stack.tables.get(stack.guide.words?.kind ?? '');
		const columns = languages.map(([code, name]) => ({ name, values: texts?.column(code) }));
		const start = links.starts.get(texts?.kind ?? '') ?? 0;
		for (const { table, field, text, required, values, to, sure } of links.strands) {
			if (!text || !required || sure < SURE_ENOUGH) continue;
			for (let row = 0; row < values.length; row++) {
				if (values[row]! < 0) continue;
				const at = to[row]! - start;
				const absent = columns.filter((column) => to[row]! < 0 || (column.values?.[at] ?? 0) <= 0);
				if (absent.length === 0) continue;
				const record = table.record(row);
				const presence = record.presences.at(-1)!;
				const where =
					absent.length === languages.length
						? 'in any language'
						: `in ${absent.map(({ name }) => name).join(' and ')}`;
				yield snagAt(stack, record, presence, {
					rule: 'missing-text',
					severity: sure < 1 ? 'warns' : 'blocks',
					field,
					message: `There is no text ${quoted(table.pool.at(values[row]!))} ${where}: ${quoted(record.id)} has no ${field.toLowerCase()}. ${consequence(stack, record)} (line ${presence.line}).`,
					repairable: stack.mine !== null
				});
			}
		}
	}
};
