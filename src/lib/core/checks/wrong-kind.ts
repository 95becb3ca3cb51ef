import { fieldOf } from '../guide';
import { isEditable, displayName } from '../stack';
import { looseLinks } from '../links';
import { candidatesFor } from './candidates';
import { consequence, quoted, SURE_ENOUGH, snagAt, withCandidates, type Rule } from './snag';

/** A field that names a record of a kind that cannot be there. */
export const wrongKind: Rule = {
	id: 'wrong-kind',
	title: 'Wrong kind of reference',
	reads: ['records', 'links'],
	local: true,
	*find({ stack, links }) {
		for (const link of looseLinks(links)) {
			if (!link.misfit || link.text || link.sure < SURE_ENOUGH) continue;
			const wanted = link.kinds.map((kind) => stack.guide.kinds[kind]!.title.toLowerCase()).join(' or ');
			const is = stack.guide.kinds[link.misfit.kind]!.title.toLowerCase();
			const presence = link.from.said(link.field)?.presence ?? link.from.presences.at(-1)!;
			const title = fieldOf(stack.guide.kinds[link.from.kind], link.field)?.title ?? link.field;
			const snag = snagAt(stack, link.from, presence, {
				rule: 'wrong-kind',
				severity: link.sure < 1 ? 'warns' : 'blocks',
				field: link.field,
				message: `${quoted(link.value)} (${displayName(stack, link.misfit)}) is ${is}; ${title} takes ${wanted}. ${consequence(stack, link.from)} (line ${presence.line}).`,
				value: link.value,
				repairable: isEditable(presence.layer) && link.from.said(link.field) !== undefined
			});
			yield withCandidates(snag, () => candidatesFor(stack, link), false);
		}
	}
};
