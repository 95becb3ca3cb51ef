import * as z from 'zod';
import { FILE, FOLDER, fieldOf, ID, inFile, inFolder } from '../../guide';
import { displayName, valueOf } from '../../stack';
import { setValues } from '../follow';
import { find, isOwnId, isText, mustBe, textBefore, write } from '../work';
import { declining, expected, name, value, type Drafted } from './intention';
import { put } from './put';
import { rename } from './rename';

const schema = z.object({
	do: z.literal('set'),
	kind: name,
	id: name,
	field: name,
	value,
	expected,
	/** For all records that point at the value, where several do. */
	everywhere: z.boolean().optional(),
	...declining
});

/** One value of one record or text. */
export const set: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, id, field, value, expected, everywhere }, besides) {
		const { stack } = work;
		if (isText(stack, kind)) {
			const before = textBefore(stack, id, field);
			mustBe(field, expected, before);
			write(work, id, field, value);
			return `Set text ${id} (${stack.guide.words!.languages[field] ?? field})`;
		}
		const record = find(stack, kind, id);
		const before = valueOf(record, field) ?? null;
		mustBe(field, expected, before);
		// Where a record lies and what names it are changed by moving and renaming it.
		if (field === ID || isOwnId(stack, record, field))
			return rename.draft(work, { do: 'rename', kind, id, newId: value }, besides);
		if (field === FOLDER) {
			const { path } = record.presences.at(-1)!;
			const into = inFolder(stack.guide.kinds[kind]!.files, path, value);
			return put.draft(work, { do: 'put', kind, ids: [id], from: path, into }, besides);
		}
		if (field === FILE) {
			const { path } = record.presences.at(-1)!;
			return put.draft(work, { do: 'put', kind, ids: [id], from: path, into: inFile(path, value) }, besides);
		}
		setValues(work, [{ record, field, value, everywhere }]);
		const after = work.values[0]?.after ?? value;
		const title = (fieldOf(stack.guide.kinds[kind], field)?.title ?? field).toLowerCase();
		return `Set ${title} of ${displayName(stack, record)}: ${before || 'nothing'} to ${after || 'nothing'}`;
	},
	words: ({ said }) => `Set ${said('field')} of ${said('id')} to ${said('value') || 'nothing'}`,
	opens: ({ kind, field, value }, open) => ({ value: open.value(value, open.fieldTitle(kind, field)) })
};
