// What becomes of the written guides with each sort of change: nothing that was known before is lost by it.
import { describe, expect, test } from 'vitest';
import { composeGuides, statementIn } from '$core/guide';
import { displayName } from '$core/stack';
import { outcomeOf } from '$lib/server/guide-outcomes';
import { json, stackOf } from './unknown';

type Change = Parameters<typeof outcomeOf>[0];

const NOTHING = { shared: null, mine: null };
const days = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat'];
const files = {
	'wares.json': json(
		['Old Lamp', 'Rope', 'Tin Cup', 'Oar', 'Green Sail', 'Bell'].map((label, nth) => ({
			id: nth + 40,
			label,
			price: nth * 2
		}))
	),
	'hours.json': json(
		['north', 'south', 'west'].flatMap((bay) => days.map((day, nth) => ({ bay, day, opens: 6 + (nth % 3) })))
	),
	'calls.json': json(
		days.map((day, nth) => ({
			id: nth % 3 === 1 ? [day, `${day}_again`] : day,
			says: `All of ${day}.`,
			loud: nth
		}))
	)
};
const stack = stackOf(files);

/** The kinds by what is written once a change is made. */
const after = (change: Change, written: { shared: string | null; mine: string | null } = NOTHING) => {
	const { next } = outcomeOf(change, written, stack.guide);
	const changed = stackOf(files, {}, composeGuides(next.shared, next.mine));
	return { ...next, stack: changed, kinds: changed.guide.kinds };
};

describe('what was found of a kind', () => {
	test('is no longer so once it is rejected, and is again once it is said', () => {
		expect(stack.guide.kinds.wares!.name).toMatchObject({ from: 'label' });
		const rejected = after({ do: 'reject', kind: 'wares', part: 'name' });
		expect(rejected.kinds.wares!.name).toBeUndefined();
		expect(statementIn(rejected.mine, ['kinds', 'wares', 'not'])).toEqual(['name']);
		const said = after({ do: 'say', kind: 'wares', statements: { name: { from: 'price' } } }, rejected);
		expect(said.kinds.wares!.name).toEqual({ from: 'price' });
		expect(after({ do: 'reject', kind: 'wares', part: 'name' }, said).kinds.wares!.name).toBeUndefined();
		// One's own statement counts over a shared one, that there is none as well.
		const shared =
			'guide: 1\nkinds:\n  wares: { title: Ware, files: [wares.json], key: id, name: { from: label } }\n';
		const none = after(
			{ do: 'say', kind: 'wares', statements: { name: { from: '' } } },
			{ shared, mine: null }
		);
		expect(none.kinds.wares!.name).toEqual({ from: '' });
		const record = none.stack.tables.get('wares')!.byId.get('41')!;
		expect(displayName(none.stack, record)).toBe('41');
		const accepted = after({ do: 'accept', kind: 'wares', part: 'name' });
		expect(statementIn(accepted.mine, ['kinds', 'wares', 'name'])).toEqual({ from: 'label' });
	});
});

describe('files that are read in another way', () => {
	const read = (kind: string, key: string | undefined): Change => ({
		do: 'read',
		kind,
		title: kind,
		files: [`${kind}.json`],
		...(key === undefined ? {} : { key }),
		at: '',
		written: { format: 'json' }
	});

	test('keep what names their records beside the key, as long as the key is the same', () => {
		expect(stack.guide.kinds.hours).toMatchObject({ keyParts: ['bay', 'day'] });
		expect(after(read('hours', undefined)).kinds.hours).toMatchObject({ keyParts: ['bay', 'day'] });
		expect(after(read('hours', 'opens')).kinds.hours!.keyParts).toBeUndefined();
		expect(stack.guide.kinds.calls).toMatchObject({ key: 'id', severalIds: true });
		expect(after(read('calls', 'id')).kinds.calls).toMatchObject({ key: 'id', severalIds: true });
		expect(after(read('calls', 'says')).kinds.calls!.severalIds).toBeUndefined();
	});
});
