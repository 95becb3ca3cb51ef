import { counted } from '../../wording';
import * as z from 'zod';
import { valueOf } from '../../stack';
import type { CellWrite } from '../batch';
import { setAsked } from '../follow';
import type { TextWrite } from '../texts';
import { find, isText, mustBe, textBefore, writeAll } from '../work';
import { declining, expected, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('cells'),
	kind: name,
	cells: z
		.array(z.object({ id: name, field: name, value, expected }))
		.min(1)
		.max(200_000),
	...declining
});

/** A block of values of one kind: what was pasted into a table. */
export const cells: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, cells: asked }) {
		const { stack } = work;
		const writes: CellWrite[] = [];
		const texts: TextWrite[] = [];
		let count = 0;
		const ids = new Set<string>();
		for (const { id, field, value, expected } of asked) {
			if (isText(stack, kind)) {
				const before = textBefore(stack, id, field);
				mustBe(field, expected, before);
				if (before === value) continue;
				texts.push({ key: id, language: field, text: value });
			} else {
				const record = find(stack, kind, id);
				const before = valueOf(record, field) ?? null;
				mustBe(field, expected, before);
				if ((before ?? '') === value) continue;
				writes.push({ record, field, value });
			}
			count++;
			ids.add(id);
		}
		if (isText(stack, kind)) writeAll(work, texts);
		else setAsked(work, writes);
		const guide = stack.guide.kinds[kind]!;
		const what = ids.size === 1 ? guide.title : (guide.plural ?? guide.title);
		return `Set ${counted(count, 'value')} of ${ids.size} ${what.toLowerCase()}`;
	},
	words: ({ said, count }) => `Write ${counted(count('cells'), 'value')} of ${said('kind')}`
};
