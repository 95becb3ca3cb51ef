import { snagAt, type Rule } from './snag';

/** A record without the id that its kind is known by. */
export const missingId: Rule = {
	id: 'missing-id',
	title: 'Id is missing',
	reads: ['files'],
	*find({ stack }) {
		for (const table of stack.tables.values()) {
			if (table.guide.key === undefined || table.guide.inferred) continue;
			// Most kinds have every id written.
			if (table.files.every(({ facts }) => !facts.written.includes(0))) continue;
			for (const record of table.records) {
				const presence = record.presences.at(-1)!;
				if (presence.written) continue;
				yield snagAt(stack, record, presence, {
					rule: 'missing-id',
					severity: 'blocks',
					field: table.guide.key,
					message: `This ${table.guide.title.toLowerCase()} (line ${presence.line}) has no ${table.guide.key}. The game would leave it out.`,
					repairable: false
				});
			}
		}
	}
};
