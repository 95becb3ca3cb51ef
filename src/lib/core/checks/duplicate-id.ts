import { isEditable } from '../stack';
import { claimAt } from '../guide';
import { filesWith } from './paths';
import { quoted, snagAt, type Rule } from './snag';

/** Two records with one id in the same file. */
export const duplicateId: Rule = {
	id: 'duplicate-id',
	title: 'Duplicate id',
	reads: ['files'],
	*find({ stack }) {
		for (const layer of stack.layers) {
			for (const [{ path }, facts] of filesWith(layer, 'doubles')) {
				for (let at = 0; at < facts.doubles.length; at += 2) {
					const [second, first] = [facts.doubles[at]!, facts.doubles[at + 1]!];
					const claim = claimAt(stack.guide, path, facts.parts, second);
					if (!claim || claim.removes) continue;
					const [line, again] = [facts.lines[first]!, facts.lines[second]!];
					const id = facts.pool.at(facts.ids[second]!);
					const record = stack.tables.get(claim.kind)?.byId.get(id);
					const presence = record?.presences.find(
						(candidate) => candidate.layer.id === layer.id && candidate.path === path
					);
					if (!record || !presence) continue;
					yield snagAt(stack, record, presence, {
						rule: 'duplicate-id',
						severity: 'blocks',
						line: again,
						message: `${quoted(path)} has ${quoted(id)} twice, on lines ${line} and ${again}. The game uses the first and refuses the second.`,
						repairable: isEditable(layer)
					});
				}
			}
		}
	}
};
