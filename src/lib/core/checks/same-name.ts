import { linksTo } from '../links';
import { changedRows, isInBase, nameOf, textKeysOf, type EffectiveRecord, type Stack } from '../stack';
import { quoted, snagAt, type Rule, type Scene } from './snag';

/** The number of the name of a record in the main language, in the column of texts; -1 where it has none. */
function nameIn(stack: Stack, record: EffectiveRecord): number {
	const { guide, tables } = stack;
	const texts = tables.get(guide.words!.kind);
	const key = textKeysOf(stack, record).find(({ name }) => name)?.key;
	const row = texts && key ? texts.rowOf(key) : -1;
	return row < 0 ? -1 : texts!.column(guide.words!.main)[row]!;
}

/** Another record of the same kind that is shown under a name. */
function namesake({ stack, links }: Scene, record: EffectiveRecord, name: number): string | null {
	const texts = stack.tables.get(stack.guide.words!.kind)!;
	const column = texts.column(stack.guide.words!.main);
	for (let row = 0; row < column.length; row++) {
		if (column[row] !== name) continue;
		const other = linksTo(links, texts.record(row)).find(
			({ text, from }) => text && from.kind === record.kind && from.id !== record.id && isInBase(from)
		);
		if (other) return other.from.id;
	}
	return null;
}

/** A new record that players see under the name of another of its kind: a copy that kept its name. */
export const sameName: Rule = {
	id: 'same-name',
	title: 'Same name twice',
	reads: ['records', 'links'],
	*find(scene) {
		const { stack } = scene;
		if (!stack.guide.words) return;
		for (const table of stack.tables.values()) {
			const told = new Set<number>();
			for (const row of table.guide.texts.some(({ name }) => name) ? changedRows(table) : []) {
				const record = table.record(row);
				if (isInBase(record)) continue;
				const name = nameIn(stack, record);
				// One of those that share a name is enough.
				if (name <= 0 || told.has(name)) continue;
				told.add(name);
				const other = namesake(scene, record, name);
				if (other === null) continue;
				const presence = record.presences.at(-1)!;
				yield snagAt(stack, record, presence, {
					rule: 'same-name',
					severity: 'note',
					message: `${table.guide.title} ${quoted(record.id)} is called “${nameOf(stack, record)}”, as ${quoted(other)} is. Players cannot tell them apart; give it a name of its own (line ${presence.line}).`,
					repairable: false
				});
			}
		}
	}
};
