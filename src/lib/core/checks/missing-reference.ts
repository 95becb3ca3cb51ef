import { isEditable } from '../stack';
import { looseLinks } from '../links';
import { candidatesFor } from './candidates';
import { consequence, quoted, SURE_ENOUGH, snagAt, withCandidates, type Rule } from './snag';

/** A field that names a record which is nowhere in the stack. */
export const missingReference: Rule = {
	id: 'missing-reference',
	title: 'Missing reference',
	reads: ['records', 'links'],
	local: true,
	*find({ stack, links }) {
		for (const link of looseLinks(links)) {
			if (link.misfit || link.text || link.sure < SURE_ENOUGH) continue;
			const tables = link.kinds.map((kind) => stack.tables.get(kind)!);
			const presence = link.from.said(link.field)?.presence ?? link.from.presences.at(-1)!;
			const file = tables[0]!.guide.files.join(', ');
			const what = tables.map((table) => table.guide.title.toLowerCase()).join(' or ');
			const snag = snagAt(stack, link.from, presence, {
				rule: 'missing-reference',
				severity: link.sure < 1 ? 'warns' : 'blocks',
				field: link.field,
				message: `${quoted(file)} has no ${what} ${link.value === '' ? 'with an empty id' : quoted(link.value)}. ${consequence(stack, link.from)} (line ${presence.line}).`,
				value: link.value,
				repairable: isEditable(presence.layer) && link.from.said(link.field) !== undefined
			});
			yield withCandidates(snag, () => candidatesFor(stack, link));
		}
	}
};
