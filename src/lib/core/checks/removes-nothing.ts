import { nearest } from '../links';
import { isEditable } from '../stack';
import type { Removal, Table } from '../stack';
import { quoted, type Rule } from './snag';

const idOf = ({ from: { facts }, nth }: Removal) => facts.pool.at(facts.ids[nth]!);

/** What the removal says and what the record that is there says, where they first differ. */
function difference(table: Table, removal: Removal): string {
	const record = table.byId.get(idOf(removal));
	if (!record) return 'there is no record of this id';
	const { doc } = removal.from.file;
	for (const { path, value } of doc?.records[removal.nth]?.fields ?? []) {
		const now = record.value(path);
		if (now !== String(value))
			return `${path} is ${now ? quoted(now) : 'empty'} there and not ${quoted(String(value))}`;
	}
	return 'the record there has more fields';
}

/** A record that is to be taken out of the layers below, of which none says exactly the same. */
export const removesNothing: Rule = {
	id: 'removes-nothing',
	title: 'Removes nothing',
	reads: ['files', 'records'],
	*find({ stack }) {
		for (const table of stack.tables.values())
			for (const removal of table.removals) {
				if (removal.hits > 0) continue;
				const { from, nth } = removal;
				const id = idOf(removal);
				const exact = from.removes === true;
				const [meant] = exact ? [] : nearest(id, [...table.byId.keys()]);
				const what = table.guide.title.toLowerCase();
				yield {
					id: ['removes-nothing', from.layer.id, from.file.path, id, nth].join('|'),
					rule: 'removes-nothing',
					severity: isEditable(from.layer) ? 'warns' : 'note',
					layer: from.layer.id,
					file: from.file.path,
					line: from.facts.lines[nth]!,
					kind: table.kind,
					record: id,
					name: id,
					field: null,
					message: exact
						? `${quoted(from.file.path)} is meant to remove ${what} ${id}, but no layer below has exactly the same record: ${difference(table, removal)}. The game removes nothing.`
						: `${quoted(from.file.path)} is meant to remove ${what} ${id}, but no layer below has one of this id. The game removes nothing.${meant === undefined ? '' : ` Did you mean ${quoted(meant)}?`}`,
					candidates: [],
					repairable: exact && isEditable(from.layer)
				};
			}
	}
};
