import { claimOf } from '../guide';
import { quoted, snagAt, type Rule } from './snag';

/** Two records with one id in the same file. */
export const duplicateId: Rule = {
	id: 'duplicate-id',
	title: 'Id used twice',
	reads: ['files'],
	*find({ stack }) {
		for (const layer of stack.layers) {
			for (const { path, doc } of layer.files.values()) {
				const claim = doc && claimOf(stack.guide, path);
				if (!doc || !claim) continue;
				const first = new Map<string, number>();
				for (const node of doc.records) {
					const line = first.get(node.id);
					if (line === undefined) {
						first.set(node.id, node.line);
						continue;
					}
					const record = stack.tables.get(claim.kind)?.byId.get(node.id);
					const presence = record?.presences.find(
						(candidate) => candidate.layer === layer && candidate.path === path
					);
					if (!record || !presence) continue;
					yield snagAt(stack, record, presence, {
						rule: 'duplicate-id',
						severity: 'blocks',
						line: node.line,
						message: `${quoted(path)} has ${quoted(node.id)} twice, on lines ${line} and ${node.line}. The game would take the first and refuse the second.`,
						repairable: layer.role === 'mine'
					});
				}
			}
		}
	}
};
