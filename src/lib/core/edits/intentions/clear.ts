import { group } from 'd3-array';
import { counted } from '../../wording';
import * as z from 'zod';
import { displayName, isEditable } from '../../stack';
import { recount } from '../follow';
import { take } from '../steps';
import { find, note, NotPossible } from '../work';
import { declining, name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('clear'),
	kind: name,
	ids: z.array(name).min(1).max(10_000),
	...declining
});

/** Records that my mod's version of their files goes without: of files that the game reads whole, also those of the game. */
export const clear: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, ids }) {
		const { stack, draft } = work;
		const about = stack.guide.kinds[kind];
		const records = ids.map((id) => find(stack, kind, id));
		const places = records.map((record) => {
			const isMine = record.presences.some(({ layer }) => isEditable(layer));
			if (!isMine && about!.merge !== 'file')
				throw new NotPossible(
					`The game merges these files record by record: what is in a layer below, such as ${record.id}, is not removed by leaving it out.`
				);
			return { path: take(draft, record, work.say), kind, id: record.id };
		});
		for (const [path, some] of group(places, (place) => place.path)) {
			const format = draft.format(path);
			const order = new Map(draft.doc(path, kind)!.records.map(({ id }, nth) => [id, nth]));
			// The last first: those that go by their number keep it until it is their turn.
			for (const place of some.sort((a, b) => (order.get(b.id) ?? 0) - (order.get(a.id) ?? 0))) {
				const record = draft.record(place);
				if (!record) throw new NotPossible(`${path} has no record ${place.id}.`);
				draft.edit(path, format.remove(draft.doc(path)!, record));
			}
		}
		for (const record of records) note(work, record, 'record', 'there', null);
		recount(work, kind, -records.length);
		return records.length === 1
			? `Remove ${displayName(stack, records[0]!)}`
			: `Remove ${counted(records.length, about!.title.toLowerCase(), (about!.plural ?? about!.title).toLowerCase())}`;
	},
	words: ({ said, count }) => `Remove ${counted(count('ids'), 'record')} of ${said('kind')}`
};
