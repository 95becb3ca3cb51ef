import type { TextGuide } from '../guide';
import { gravity, quoted, snagAt, type Rule } from './snag';
import { roomFault } from './values';

/** A text that has more letters or lines than the game has room for. */
export const longText: Rule = {
	id: 'long-text',
	title: 'Text too long',
	reads: ['records', 'links'],
	local: true,
	*find({ stack, links }) {
		const texts = stack.tables.get(stack.guide.words?.kind ?? '');
		if (!texts) return;
		const start = links.starts.get(texts.kind) ?? 0;
		for (const { table, field, text, to } of links.strands) {
			const about: TextGuide | undefined = text
				? table.guide.texts.find(({ label }) => label === field)
				: undefined;
			if (about?.longest === undefined && !about?.oneLine) continue;
			const told = new Set<number>();
			for (const language of Object.keys(stack.guide.words!.languages)) {
				const column = texts.column(language);
				for (const place of to) {
					const value = place < 0 ? -1 : column[place - start]!;
					if (value <= 0) continue;
					const fault = roomFault(about, texts.pool.at(value));
					if (fault === null || told.has(place)) continue;
					told.add(place);
					const record = texts.record(place - start);
					const { presence } = record.said(language)!;
					yield snagAt(stack, record, presence, {
						rule: 'long-text',
						severity: gravity(about.found),
						field: language,
						message: `${about.label} ${quoted(record.id)} ${fault}. The game leaves the text out (line ${presence.line}).`,
						repairable: false
					});
				}
			}
		}
	}
};
