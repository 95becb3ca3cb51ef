import { counted } from '../../wording';
import * as z from 'zod';
import { writeAll } from '../work';
import { name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('write'),
	texts: z.array(z.object({ key: name, language: name, text: value })).min(1)
});

/** Texts in my mod. */
export const write: Drafted<typeof schema> = {
	schema,
	draft(work, { texts }) {
		writeAll(work, texts);
		const keys = new Set(texts.map(({ key }) => key));
		return keys.size === 1 ? `Write text ${[...keys][0]}` : `Write ${counted(keys.size, 'text')}`;
	},
	words: ({ many }) =>
		`Write ${many('texts')
			.map(({ key }) => String(key))
			.join(', ')}`,
	opens: ({ texts }, open) => ({
		texts: texts.map(({ key, language, text }) => ({
			key: open.ids(key),
			language,
			text: open.value(text, `Text, ${open.language(language)}`)
		}))
	})
};
