// What a new version of a game changed: beside updates of which every change is known.
import { describe, expect, test } from 'vitest';
import { carryMod, changesBetween } from '$core/carry';
import { planFor, stackAfter } from '$core/edits';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import type { Stack } from '$core/stack';
import { randomBy } from '../random';
import { filesOf, game, update } from './updates';

const GUIDE = parseGuide(`guide: 1
kinds:
  boat: { title: Boat, files: ['data/boats/*.json'], key: id, at: '' }
  crew: { title: Crew, files: ['data/crew/*.csv'], key: id }
`);

const stackOf = (files: Record<string, string>): Stack =>
	assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))
			},
			{ id: 'mine', title: 'Mine', owner: 'me', files: new Map() }
		],
		GUIDE
	);

const ratio = (right: number, all: number) => (all === 0 ? 1 : right / all);

describe('what a new version changed', () => {
	test('fifty updates of which every change is known: renamed records and fields, gone, new, moved, changed values', () => {
		const found = { recordsRight: 0, records: 0, truthRecords: 0, fieldsRight: 0, fields: 0, truthFields: 0 };
		for (let seed = 1; seed <= 50; seed++) {
			const random = randomBy(seed);
			const old = game(random);
			const { next, truth } = update(old, random);
			const changes = changesBetween(stackOf(filesOf(old, 2)), stackOf(filesOf(next, 1)));
			for (const one of changes.fields) {
				if (one.what !== 'renamed') continue;
				found.fields++;
				if (truth.fields.get(`${one.kind} ${one.from}`) === one.to) found.fieldsRight++;
			}
			found.truthFields += truth.fields.size;
			const renamed = changes.records.filter(({ what }) => what === 'renamed');
			found.records += renamed.length;
			found.recordsRight += renamed.filter(
				({ kind, record, from }) => truth.renamed.get(`${kind} ${from!.record}`) === record
			).length;
			found.truthRecords += truth.renamed.size;
			// What kept its id is told exactly: values, files, and that it is gone.
			const told = new Map(
				changes.records.map((one) => [`${one.kind} ${one.from?.record ?? one.record}`, one])
			);
			for (const kind of ['boat', 'crew'] as const)
				for (const was of old[kind]) {
					const is = next[kind].find(({ id }) => id === was.id);
					if (!is) continue;
					const one = told.get(`${kind} ${was.id}`);
					const expected = Object.entries(was.fields).filter(
						([field, value]) => is.fields[truth.fields.get(`${kind} ${field}`) ?? field] !== value
					);
					const known = changes.fields.every((field) => field.kind !== kind || field.what === 'renamed');
					if (known)
						expect((one?.fields ?? []).map(({ old: value }) => value).sort(), `${seed} ${was.id}`).toEqual(
							expected.map(([, value]) => value).sort()
						);
					expect(one?.what === 'moved').toBe(is.file !== was.file);
				}
			for (const gone of truth.gone) expect(['gone', 'renamed']).toContain(told.get(gone)?.what);
		}
		expect(ratio(found.recordsRight, found.records)).toBeGreaterThanOrEqual(0.95);
		expect(ratio(found.recordsRight, found.truthRecords)).toBeGreaterThanOrEqual(0.9);
		expect(ratio(found.fieldsRight, found.fields)).toBeGreaterThanOrEqual(0.95);
		expect(ratio(found.fieldsRight, found.truthFields)).toBeGreaterThanOrEqual(0.9);
	});

	test('law: a version has changed nothing against itself, however it is written', () => {
		for (let seed = 1; seed <= 5; seed++) {
			const old = game(randomBy(seed));
			const { files, ...rest } = changesBetween(stackOf(filesOf(old, 2)), stackOf(filesOf(old, 0)));
			expect(rest).toEqual({ kinds: [], fields: [], records: [] });
			expect(files.every(({ what, path }) => what === 'changed' && path.endsWith('.json'))).toBe(true);
		}
	});

	test('a field that now stands in two is found with what stood between, and a change of mine to it is put to the modder', () => {
		let asked = 0;
		for (let seed = 1; seed <= 20; seed++) {
			const random = randomBy(seed);
			const old = game(random);
			const between = [' ', '-', 'x', ''][seed % 4]!;
			for (const { fields } of old.boat) {
				fields.size = `${10 + Math.floor(random() * 90)}${between}${100 + Math.floor(random() * 900)}`;
			}
			const { next } = update(old, random);
			for (const { fields } of next.boat) {
				const whole = fields.size ?? '10x100';
				delete fields.size;
				[fields.beam, fields.length] = [whole.slice(0, 2), whole.slice(-3)];
			}
			const [before, after] = [stackOf(filesOf(old, 2)), stackOf(filesOf(next, 2))];
			const changes = changesBetween(before, after);
			const splits = changes.fields.filter(({ what }) => what === 'split');
			const renamed = changes.fields.some((one) => one.what === 'renamed' && one.from === 'size');
			if (renamed) continue;
			expect(splits, `${seed}`).toMatchObject([
				{ kind: 'boat', from: 'size', to: ['beam', 'length'], between }
			]);
			// It is told once, and not again of each record that says the same in two.
			const told = changes.records.filter(
				({ what, fields }) => what !== 'renamed' && fields.some(({ path }) => path === 'beam')
			);
			expect(told.length).toBeLessThan(old.boat.length / 4);

			const [boat] = old.boat.filter(({ id }) => next.boat.some((one) => one.id === id));
			// Where all have other ids, that is another thing to be put to somebody.
			if (!boat) continue;
			asked++;
			const mine = stackAfter(
				before,
				planFor(
					before,
					{ do: 'set', kind: 'boat', id: boat.id, field: 'size', value: `99${between}999` },
					'mine'
				)
			);
			const open = carryMod(mine, after).items.filter(
				({ field, what }) => field === 'size' && what !== 'refreshed'
			);
			expect(open).toMatchObject([{ what: 'homeless', mine: `99${between}999` }]);
			expect(open[0]!.candidates.slice(0, 2).map(({ value }) => value)).toEqual(['beam', 'length']);
			expect(open[0]!.candidates[1]!.because).toMatch(/second part/);
		}
		expect(asked).toBeGreaterThanOrEqual(10);
	});

	test('fifty updates without a split: none is found', () => {
		for (let seed = 1; seed <= 50; seed++) {
			const random = randomBy(seed);
			const old = game(random);
			const { next } = update(old, random);
			const { fields } = changesBetween(stackOf(filesOf(old, 2)), stackOf(filesOf(next, 1)));
			expect(fields.filter(({ what }) => what === 'split')).toEqual([]);
		}
	});

	test('files: new, gone, changed, and the same bytes under another path', () => {
		const { files } = changesBetween(
			stackOf({ 'art/a.svg': '<a/>', 'art/a2.svg': '<a/>', 'art/b.svg': '<b/>', 'read-me.txt': 'one' }),
			stackOf({ 'art/c.svg': '<a/>', 'read-me.txt': 'two', 'art/d.svg': '<d/>' })
		);
		expect(files).toEqual([
			{ path: 'art/a2.svg', what: 'gone' },
			{ path: 'art/b.svg', what: 'gone' },
			{ path: 'art/c.svg', what: 'moved', from: 'art/a.svg' },
			{ path: 'art/d.svg', what: 'new' },
			{ path: 'read-me.txt', what: 'changed' }
		]);
	});
});
