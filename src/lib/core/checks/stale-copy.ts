import { fieldOf } from '../guide';
import { isEditable, baseValueOf, isInBase, type Stack } from '../stack';
import { quoted, snagAt, type Rule } from './snag';

/** A value of my mod that is what the layers below say too: nobody changed it, it came along with a copy. */
export interface CopiedValue {
	kind: string;
	record: string;
	field: string;
	value: string;
}

/** All values of my mod that are only copies of what the layers below say. */
export function copiedValues({ tables }: Stack): CopiedValue[] {
	const copied: CopiedValue[] = [];
	for (const table of tables.values()) {
		const rows = new Set(
			table.files.flatMap(({ layer }, nth) => (isEditable(layer) ? [...table.rows.rowsOf[nth]!] : []))
		);
		for (const row of rows) {
			if (row < 0) continue;
			const record = table.record(row);
			if (!isInBase(record)) continue;
			for (const [field, { value, presence }] of record.values)
				if (isEditable(presence.layer) && baseValueOf(record, field) === value)
					copied.push({ kind: table.kind, record: record.id, field, value });
		}
	}
	return copied;
}

/** A field that nobody changed, copied from another version of the game, hides what this version says. */
export const staleCopy: Rule = {
	id: 'stale-copy',
	title: 'Copy of an older version',
	reads: ['records'],
	*find({ stack }) {
		for (const { kind, record: id, field, value } of stack.mine?.copied ?? []) {
			const record = stack.tables.get(kind)?.byId.get(id);
			const now = record?.said(field);
			if (!record || !now || !isEditable(now.presence.layer) || now.value !== value) continue;
			const base = baseValueOf(record, field);
			if (base === undefined || base === value) continue;
			yield snagAt(stack, record, now.presence, {
				rule: 'stale-copy',
				severity: 'warns',
				field,
				message: `${fieldOf(stack.guide.kinds[kind], field)?.title ?? field} is ${quoted(value)}, as in the version used before; you never changed it (line ${now.presence.line}). The version in use now has ${quoted(base)}, and your mod hides it.`,
				candidates: [base],
				repairable: true
			});
		}
	}
};
