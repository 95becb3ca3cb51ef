import { nearest } from '../links';
import { isEditable, isGame, type Removal, type Table, type TableFile } from '../stack';
import { quoted, type Draft, type Rule } from './snag';

/** What is said of a place in a file of a layer. */
function said(table: Table, from: TableFile, nth: number, field: string | null, message: string): Draft {
	const { facts, layer, file } = from;
	const id = facts.pool.at(facts.ids[nth]!);
	return {
		id: ['changes-nothing', layer.id, file.path, id, field ?? '', nth].join('|'),
		rule: 'changes-nothing',
		severity: isEditable(layer) ? 'warns' : 'note',
		layer: layer.id,
		file: file.path,
		line: facts.lines[nth]!,
		kind: table.kind,
		record: id,
		name: id,
		field,
		message,
		candidates: [],
		repairable: false
	};
}

function secondOne(table: Table, { from, nth }: Removal): Draft {
	const id = from.facts.pool.at(from.facts.ids[nth]!);
	const layer = table.byId.get(id)?.presences.at(-1)?.layer.title;
	const where = `${layer ?? 'a layer below'} already has one`;
	return said(
		table,
		from,
		nth,
		null,
		`${table.guide.title} ${quoted(id)} changes nothing: of two records with the same id, the game uses the first, and ${where}.`
	);
}

/** Records and items of joined lists that change nothing, because the first one counts or there is nothing to take out. */
export const changesNothing: Rule = {
	id: 'changes-nothing',
	title: 'Changes nothing',
	reads: ['files', 'records'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			for (const one of table.ignored) if (!isGame(one.from.layer)) yield secondOne(table, one);
			for (const from of table.files) {
				if (!from.composed || isGame(from.layer)) continue;
				const gone = new Set(from.gone);
				for (const { nth, list, item, why, name, below } of from.composed.idle) {
					if (gone.has(nth)) continue;
					const place = `Item ${item + 1} of ${quoted(list)}`;
					const [meant] = why === 'second' ? [] : nearest(name, below);
					const hint = meant === undefined ? '' : ` Did you mean ${quoted(meant)}?`;
					yield said(
						table,
						from,
						nth,
						`${list}[${item}]`,
						why === 'second'
							? `${place}, ${quoted(name)}, changes nothing: the list already has it, and the game uses the first of two.`
							: `${place} is meant to remove ${quoted(name)}, but the list below has no such item. The game removes nothing.${hint}`
					);
				}
			}
		}
	}
};
