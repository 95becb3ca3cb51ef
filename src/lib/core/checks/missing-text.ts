import { valueOf } from '../stack';
import { consequence, quoted, snagAt, type Rule } from './snag';

/** A text that the game needs for a record and that is absent, altogether or in one language. */
export const missingText: Rule = {
	id: 'missing-text',
	title: 'Text is missing',
	reads: ['records', 'links'],
	*find({ stack, links }) {
		const languages = Object.entries(stack.guide.words?.languages ?? {});
		for (const list of links.from.values()) {
			for (const link of list) {
				if (!link.text || !link.required) continue;
				const absent = languages.filter(([code]) => !link.to || (valueOf(link.to, code) ?? '') === '');
				if (absent.length === 0) continue;
				const presence = link.from.presences.at(-1)!;
				const where =
					absent.length === languages.length
						? 'in any language'
						: `in ${absent.map(([, name]) => name).join(' and ')}`;
				yield snagAt(stack, link.from, presence, {
					rule: 'missing-text',
					severity: 'blocks',
					field: link.field,
					message: `There is no text ${quoted(link.value)} ${where}: ${quoted(link.from.id)} has no ${link.field.toLowerCase()}. ${consequence(stack, link.from)} (line ${presence.record.line}).`,
					repairable: stack.mine !== null
				});
			}
		}
	}
};
