import * as z from 'zod';
import { fieldOf } from '../../guide';
import { displayName, type EffectiveRecord } from '../../stack';
import { twinsOf } from '../belongings';
import { recountItems } from '../follow';
import { take } from '../steps';
import { find, isOwnId, note, NotPossible, wanted, type Following, type Work } from '../work';
import { declining, name, value, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('item'),
	kind: name,
	id: name,
	list: name,
	at: z.int().min(0),
	change: z.discriminatedUnion('how', [
		z.object({ how: z.literal('insert'), value }),
		z.object({ how: z.literal('copy') }),
		z.object({ how: z.literal('remove') }),
		z.object({ how: z.literal('move'), to: z.int().min(0) })
	]),
	...declining
});

type Asked = z.infer<typeof schema>;

/** Whether a change of an item makes another one the first of its list. */
const changesFirst = ({ at, change }: Asked): boolean =>
	change.how === 'move'
		? at !== change.to && Math.min(at, change.to) === 0
		: at === 0 && change.how !== 'copy';

/** Changes the items of a list of one record. */
function changeItems(work: Work, record: EffectiveRecord, asked: Asked, following?: Following): void {
	const { list, at, change } = asked;
	const { draft } = work;
	const { kind, id } = record;
	if (isOwnId(work.stack, record, `${list}[0]`) && changesFirst(asked))
		throw new NotPossible(
			`The first item is the id of ${displayName(work.stack, record)} and stays the first. Add other ids behind it, or rename the record.`
		);
	const path = take(draft, record, work.say, list);
	const node = draft.record({ path, kind, id });
	if (!node) throw new NotPossible(`${path} has no record ${id}.`);
	const doc = draft.doc(path)!;
	const format = draft.format(path);
	const was = node.fields.find((field) => field.path === `${list}[${at}]`);
	const before = was ? String(was.value ?? '') : null;
	const place = `${list}[${at}]`;
	switch (change.how) {
		case 'insert':
			draft.edit(path, format.insertItem(doc, node, list, at, { value: change.value }));
			note(work, record, place, null, change.value, following);
			break;
		case 'copy':
			draft.edit(path, format.insertItem(doc, node, list, at + 1, { copyOf: at }));
			note(work, record, `${list}[${at + 1}]`, null, before ?? `as ${place}`, following);
			break;
		case 'remove':
			draft.edit(path, format.removeItem(doc, node, list, at));
			note(work, record, place, before ?? 'an item', null, following);
			break;
		case 'move':
			draft.edit(path, format.moveItem(doc, node, list, at, change.to));
			note(
				work,
				record,
				list,
				`${before ?? 'the item'} in place ${at + 1}`,
				`in place ${change.to + 1}`,
				following
			);
			break;
	}
	recountItems(work, record, path, list);
}

/** What records say of a list, to see whether two say the same. */
const listOf = (record: EffectiveRecord, list: string): string =>
	JSON.stringify(
		[...record.values]
			.filter(([path]) => path.startsWith(`${list}[`))
			.map(([path, { value }]) => [path, value])
			.sort()
	);

/** An item of a list of a record: put in before number `at`, taken out, or moved. Twins whose list is the same follow. */
export const item: Drafted<typeof schema> = {
	schema,
	draft(work, asked) {
		const { stack } = work;
		const { kind, id, list, at, change } = asked;
		const record = find(stack, kind, id);
		changeItems(work, record, asked);
		for (const { record: other, found } of twinsOf(stack, record)) {
			if (listOf(other, list) !== listOf(record, list) || !wanted(work, 'twin', found)) continue;
			changeItems(work, other, asked, { follows: 'its twin changes too', by: 'twin' });
		}
		const about = stack.guide.kinds[kind];
		const title = about?.fields[list]?.title ?? fieldOf(about, `${list}[${at}]`)?.title ?? list;
		const of = `${title.toLowerCase()} of ${displayName(stack, record)}`;
		switch (change.how) {
			case 'insert':
				return `Add ${change.value} to ${of}`;
			case 'copy':
				return `Add a copy of item ${at + 1} to ${of}`;
			case 'remove':
				return `Remove item ${at + 1} from ${of}`;
			case 'move':
				return `Move item ${at + 1} to place ${change.to + 1} in ${of}`;
		}
	},
	words: ({ said }) => `Change the items of ${said('list')} of ${said('id')}`
};
