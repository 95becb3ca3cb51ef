// A mod carried over to updates of which every change is known: each value is as it is to be, or put to the modder.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	carryMod,
	carrySteps,
	changesBetween,
	changeSteps,
	onTop,
	type CarryItem,
	type CarryOptions
} from '$core/carry';
import { bytesOf, type FileContent } from '$core/change';
import { planFor, stackAfter } from '$core/edits';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { fileContent, type Stack } from '$core/stack';
import { randomBy } from '../random';
import { runs } from '../runs';
import { filesOf, game, update, WORDS } from './updates';

type Merge = 'record' | 'file' | 'field';

const guideOf = (boat: Merge, crew: 'record' | 'file') =>
	parseGuide(`guide: 1
kinds:
  boat: { title: Boat, files: ['data/boats/*.json'], key: id, at: '', merge: ${boat} }
  crew: { title: Crew, files: ['data/crew/*.csv'], key: id, merge: ${crew}, fields: { boat: { type: reference, reference: { kinds: [boat] } } } }
`);

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));

function stackOf(
	files: Record<string, string>,
	mod: ReadonlyMap<string, Uint8Array>,
	guide: ReturnType<typeof guideOf>
): Stack {
	return assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(files) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: mod }
		],
		guide
	);
}

const modOf = (files: ReadonlyMap<string, FileContent>): Map<string, Uint8Array> =>
	new Map([...files].map(([path, file]) => [path, bytesOf(file)]));

const textsOf = (files: ReadonlyMap<string, FileContent | Uint8Array>): Record<string, string> =>
	Object.fromEntries(
		[...files].map(([path, file]) => [
			path,
			new TextDecoder().decode(file instanceof Uint8Array ? file : bytesOf(file))
		])
	);

const valueIn = (stack: Stack, kind: string, id: string, field: string): string | undefined =>
	stack.tables.get(kind)?.byId.get(id)?.values.get(field)?.value;

/** A mod with some two hundred changes, made through the product's own edits. */
function modFor(stack: Stack, random: () => number) {
	const changed = new Map<string, string>();
	const added: string[] = [];
	let now = stack;
	const kinds = ['boat', 'crew'] as const;
	for (const kind of kinds) {
		const records = stack.tables.get(kind)!.records;
		const cells = records.flatMap((record) =>
			random() < 0.55
				? [...record.values.keys()]
						.filter((field) => field !== 'id' && random() < 0.5)
						.map((field) => {
							const old = record.value(field)!;
							const value = /^\d+$/.test(old)
								? String(Number(old) + 1 + Math.floor(random() * 50))
								: `${WORDS[Math.floor(random() * 16)]!}_mine`;
							changed.set(`${kind} ${record.id} ${field}`, value);
							return { id: record.id, field, value };
						})
				: []
		);
		now = stackAfter(now, planFor(now, { do: 'cells', kind, cells }, 'mine'));
		const model = records[Math.floor(random() * records.length)]!;
		const id = `${kind}_of_mine`;
		now = stackAfter(now, planFor(now, { do: 'copy', kind, id: model.id, newId: id, names: {} }, 'mine'));
		added.push(`${kind} ${id}`);
	}
	return { stack: now, changed, added };
}

const asked = (items: readonly CarryItem[]) =>
	items.filter(({ what }) => what === 'undecided' || what === 'homeless');

describe('a mod carried over', () => {
	test.each([
		['record', 'record'],
		['file', 'file'],
		['field', 'record']
	] as const)('updates of which every change is known, boats merged by %s, crew by %s', (boat, crew) => {
		const guide = guideOf(boat, crew);
		const count = { right: 0, asked: 0, followed: 0 };
		for (let seed = 1; seed <= runs(17); seed++) {
			const random = randomBy(seed * 31 + boat.length);
			const old = game(random);
			const { next, truth } = update(old, random);
			const spaces = Math.floor(random() * 3);
			const mod = modFor(stackOf(filesOf(old, 2), new Map(), guide), random);
			const after = stackOf(filesOf(next, spaces), new Map(), guide);
			const { items, files } = carryMod(mod.stack, after);
			const result = stackOf(filesOf(next, spaces), modOf(files), guide);
			const put = new Set(asked(items).map(({ kind, record, from }) => `${kind} ${from ?? record}`));
			expect(
				asked(items)
					.filter(({ kind }) => kind === null)
					.map(({ record, why }) => `${record}: ${why}`),
				`${seed}`
			).toEqual([]);
			for (const kind of ['boat', 'crew'] as const)
				for (const was of old[kind]) {
					const id = truth.renamed.get(`${kind} ${was.id}`) ?? was.id;
					const is = next[kind].find((one) => one.id === id);
					for (const [field, value] of Object.entries(was.fields)) {
						const name = truth.fields.get(`${kind} ${field}`) ?? field;
						const mine = mod.changed.get(`${kind} ${was.id} ${field}`);
						const where = `${seed} ${kind} ${was.id} ${field}`;
						if (!is) {
							if (mine !== undefined) expect(put.has(`${kind} ${was.id}`), where).toBe(true);
							continue;
						}
						const theirs = is.fields[name]!;
						const now = valueIn(result, kind, id, name);
						if (mine === undefined) {
							const boatOf = kind === 'crew' && field === 'boat';
							if (now === theirs || boatOf) count.followed++;
							else expect(put.has(`${kind} ${was.id}`), `${where}: ${now} for ${theirs}`).toBe(true);
						} else if (theirs === value || theirs === mine) {
							if (now === mine) count.right++;
							else expect(put.has(`${kind} ${was.id}`), `${where}: ${now} for ${mine}`).toBe(true);
						} else {
							expect(put.has(`${kind} ${was.id}`), where).toBe(true);
							count.asked++;
						}
					}
				}
			for (const one of mod.added) {
				const [kind, id] = one.split(' ') as [string, string];
				expect(result.tables.get(kind)!.byId.has(id), `${seed} ${one}`).toBe(true);
			}
		}
		expect(count.right).toBeGreaterThan(runs(17) * 60);
		expect(count.asked).toBeLessThan(count.right / 4);
	});

	const LIMITS = fc.record({
		seed: fc.nat(10_000),
		boat: fc.constantFrom<Merge>('record', 'file', 'field'),
		crew: fc.constantFrom<'record' | 'file'>('record', 'file')
	});

	test('law: on an unchanged base no byte changes', () => {
		fc.assert(
			fc.property(LIMITS, ({ seed, boat, crew }) => {
				const guide = guideOf(boat, crew);
				const random = randomBy(seed);
				const old = game(random);
				const mod = modFor(stackOf(filesOf(old, 2), new Map(), guide), random);
				const { items, files } = carryMod(mod.stack, stackOf(filesOf(old, 2), new Map(), guide));
				expect(items).toEqual([]);
				expect(textsOf(files)).toEqual(
					textsOf(modOf(new Map([...mod.stack.mine!.files].map(([path, file]) => [path, fileContent(file)]))))
				);
			}),
			{ numRuns: 5 }
		);
	});

	test('how much is done only grows, up to all of it', () => {
		const guide = guideOf('record', 'record');
		const random = randomBy(5);
		const old = game(random);
		const before = modFor(stackOf(filesOf(old, 2), new Map(), guide), random).stack;
		const after = stackOf(filesOf(update(old, random).next, 2), new Map(), guide);
		const told = (steps: Generator<number, unknown>) => [...{ [Symbol.iterator]: () => steps }];
		const changes = told(changeSteps(before, after));
		const carried = told(carrySteps(before, after, { changes: changesBetween(before, after) }));
		for (const shares of [changes, carried]) {
			expect(shares.length).toBeGreaterThan(1);
			expect(shares).toEqual([...shares].sort((a, b) => a - b));
			expect(shares.every((share) => share >= 0 && share <= 1)).toBe(true);
		}
		expect([changes.at(-1), carried.at(-1)]).toEqual([1, 1]);
	});

	test('law: what is only a copy carries to nothing', () => {
		fc.assert(
			fc.property(LIMITS, ({ seed, boat, crew }) => {
				const guide = guideOf(boat, crew);
				const random = randomBy(seed);
				const old = game(random);
				const { next } = update(old, random);
				let stack = stackOf(filesOf(old, 2), new Map(), guide);
				for (const kind of ['boat', 'crew'] as const)
					for (const { id } of old[kind].slice(0, 12)) {
						const record = stack.tables.get(kind)!.byId.get(id)!;
						const cells = [{ id, field: kind === 'boat' ? 'tow' : 'pay', value: 'x' }];
						stack = stackAfter(stack, planFor(stack, { do: 'cells', kind, cells }, 'mine'));
						const back = [{ ...cells[0]!, value: record.value(cells[0]!.field)! }];
						stack = stackAfter(stack, planFor(stack, { do: 'cells', kind, cells: back }, 'mine'));
					}
				const { items, files } = carryMod(stack, stackOf(filesOf(next, 1), new Map(), guide));
				expect([...files.keys()]).toEqual([]);
				expect(items.every(({ what }) => what === 'refreshed')).toBe(true);
			}),
			{ numRuns: 5 }
		);
	});

	test('law: two updates one after the other are as both at once, where nothing is left to decide', () => {
		let compared = 0;
		fc.assert(
			fc.property(LIMITS, ({ seed, boat, crew }) => {
				const guide = guideOf(boat, crew);
				const random = randomBy(seed);
				const old = game(random);
				const first = update(old, random).next;
				const second = update(first, random).next;
				let stack = stackOf(filesOf(old, 2), new Map(), guide);
				for (const kind of ['boat', 'crew'] as const) {
					// What both updates have by the same id, so that something is left to compare.
					const ids = old[kind]
						.map(({ id }) => id)
						.filter((id) => [first, second].every((one) => one[kind].some((other) => other.id === id)));
					const cells = ids
						.slice(0, 6)
						.map((id) => ({ id, field: kind === 'boat' ? 'hull' : 'nerve', value: '777' }));
					if (cells.length > 0)
						stack = stackAfter(stack, planFor(stack, { do: 'cells', kind, cells }, 'mine'));
				}
				const on = (one: typeof old) => stackOf(filesOf(one, 2), new Map(), guide);
				const step = carryMod(stack, on(first));
				const twice = carryMod(stackOf(filesOf(first, 2), modOf(step.files), guide), on(second));
				const once = carryMod(stack, on(second));
				if ([step, twice, once].some(({ items }) => asked(items).length > 0)) return;
				compared++;
				const seen = (files: ReadonlyMap<string, FileContent>) => {
					const result = stackOf(filesOf(second, 2), modOf(files), guide);
					return ['boat', 'crew'].map((kind) =>
						result.tables
							.get(kind)!
							.records.map(({ id, values }) => [
								id,
								[...values].map(([path, { value }]) => [path, value]).sort()
							])
							.sort()
					);
				};
				expect(seen(twice.files)).toEqual(seen(once.files));
			}),
			{ numRuns: 40 }
		);
		expect(compared).toBeGreaterThan(3);
	});

	test('preferring a side leaves nothing to decide, and my change on top of the game’s stays a share of it', () => {
		expect(onTop('100', '150', '120')).toBe('180');
		expect(onTop('7', '9', '8')).toBe('10');
		expect(onTop('1.50', '2.00', '1.80')).toBe('2.40');
		expect(onTop('0', '3', '5')).toBe('8');
		expect(onTop('low', '3', '5')).toBeNull();
		const base = (speed: string, tags: string[]) => ({
			'data/boats/0.json': JSON.stringify([{ id: 'cutter', speed, tags }]),
			'data/crew/0.csv': 'id,pay\nmate,3\n'
		});
		const guide = guideOf('record', 'record');
		const mine = bytes({
			'data/boats/0.json': JSON.stringify([{ id: 'cutter', speed: '24', tags: ['a', 'mine', 'b'] }])
		});
		const before = stackOf(base('20', ['a', 'b']), mine, guide);
		const after = stackOf(base('30', ['a', 'b', 'new']), new Map(), guide);
		const result = (options: CarryOptions) => {
			const { items, files } = carryMod(before, after, options);
			const stack = stackOf(base('30', ['a', 'b', 'new']), modOf(files), guide);
			const { values } = stack.tables.get('boat')!.byId.get('cutter')!;
			return [asked(items).length, ...[...values].slice(1).map(([, { value }]) => value)];
		};
		const list = ['a', 'mine', 'b', 'new'];
		expect(result({})).toEqual([1, '24', ...list]);
		expect(result({ prefer: 'mine' })).toEqual([0, '24', ...list]);
		expect(result({ prefer: 'theirs' })).toEqual([0, '30', ...list]);
		expect(result({ prefer: 'on-top' })).toEqual([0, '36', ...list]);
		const [open] = asked(carryMod(before, after).items);
		expect(result({ choices: new Map([[open!.key, { value: '28' }]]) })).toEqual([0, '28', ...list]);
	});

	test('scripts and other files: by lines, by what stands around a change, and what touches is put to the modder', () => {
		const guide = guideOf('record', 'record');
		const script = (first: string, last: string, head = '') =>
			`${head}local function tide(hour)\n\tlocal low = ${first}\n\treturn hour % low\nend\n\nlocal function crew(size)\n\tlocal most = ${last}\n\treturn math.min(size, most)\nend\n`;
		const base = (files: Record<string, string>) => ({
			'data/boats/0.json': '[{"id": "cutter", "speed": "1"}]',
			'data/crew/0.csv': 'id,pay\nmate,3\n',
			...files
		});
		const before = stackOf(
			base({
				'a.lua': script('6', '9'),
				'b.lua': script('6', '9'),
				'c.lua': script('6', '9'),
				'd.lua': script('6', '9'),
				'e.bin': '\u0000old'
			}),
			bytes({
				'a.lua': script('6', '12'),
				'b.lua': script('7', '9'),
				'c.lua': script('6', '9'),
				'd.lua': script('8', '9'),
				'e.bin': '\u0000mine',
				'f.lua': '-- mine\n'
			}),
			guide
		);
		const head = '-- Read twice an hour.\nlocal calm = 2\n\n';
		const after = stackOf(
			base({
				'a.lua': script('5', '9', head),
				'b.lua': script('8', '9', head),
				'c.lua': script('3', '9'),
				'e.bin': '\u0000new'
			}),
			new Map(),
			guide
		);
		const said = (options: CarryOptions) => {
			const { items, files } = carryMod(before, after, options);
			return [Object.fromEntries(items.map(({ record, what }) => [record, what])), textsOf(files)] as const;
		};
		const [what, files] = said({});
		expect(what).toEqual({
			'a.lua': 'carried',
			'b.lua': 'undecided',
			'c.lua': 'refreshed',
			'd.lua': 'homeless',
			'e.bin': 'undecided'
		});
		expect(files).toEqual({
			'a.lua': script('5', '12', head),
			'b.lua': script('7', '9'),
			'd.lua': script('8', '9'),
			'e.bin': '\u0000mine',
			'f.lua': '-- mine\n'
		});
		const [theirs, kept] = said({ prefer: 'theirs' });
		expect([theirs['b.lua'], theirs['e.bin'], Object.keys(kept)]).toEqual([
			'carried',
			'carried',
			['a.lua', 'd.lua', 'f.lua']
		]);
	});

	test('my record that the game now has too, one that I removed and the game changed, and references that lead nowhere', () => {
		const guide = guideOf('file', 'record');
		const boats = (list: object[]) => ({
			'data/boats/0.json': JSON.stringify(list, null, 1),
			'data/crew/0.csv': 'id,boat\nmate,cutter\ncook,raft\n'
		});
		const [cutter, raft, tug] = ['cutter', 'raft', 'tug'].map((id, nth) => ({
			id,
			speed: String(nth + 1),
			hull: String(nth * 7 + 30)
		}));
		const before = stackOf(
			boats([cutter!, raft!, tug!]),
			bytes({
				'data/boats/0.json': JSON.stringify([cutter, raft, { id: 'sloop', speed: '9', hull: '2' }], null, 1),
				'data/crew/0.csv': 'id,boat\nmate,raft\n'
			}),
			guide
		);
		const next = [cutter!, { ...tug!, hull: '99' }, { id: 'sloop', speed: '4', hull: '4' }];
		const after = stackOf(boats(next), new Map(), guide);
		const { items, files } = carryMod(before, after);
		const told = asked(items).map(({ what, kind, record, field, why }) => [what, kind, record, field, why]);
		expect(told).toEqual([
			[
				'undecided',
				'boat',
				'sloop',
				null,
				'Your mod adds it, and the new version now has one of the same id.'
			],
			['undecided', 'boat', 'tug', null, 'Your mod removes it, and the new version changes it.'],
			['homeless', 'crew', 'mate', 'boat', 'It refers to raft, which the new version does not have.']
		]);
		const result = stackOf(boats(next), modOf(files), guide);
		expect(
			result.tables.get('boat')!.records.map(({ id, values }) => [id, values.get('speed')?.value])
		).toEqual([
			['cutter', '1'],
			['sloop', '9']
		]);
	});

	test('a translation of mine is put to the modder where the new version changed the main text', () => {
		const guide = parseGuide(`guide: 1
words: { kind: text, main: en, languages: { en: English, de: Deutsch } }
kinds:
  text: { title: Text, files: ['words/{language}/*.properties'], merge: record }
`);
		const base = (tug: string, raft: string) => ({
			'words/en/boats.properties': `tug=${tug}\nraft=${raft}\n`,
			'words/de/boats.properties': 'tug=Schlepper\nraft=Floss\n'
		});
		const before = stackOf(
			base('Tug', 'Raft'),
			bytes({ 'words/de/mine.properties': 'tug=Schleppkahn\nraft=Flachboot\n' }),
			guide
		);
		const after = stackOf(base('Old tug', 'Raft'), new Map(), guide);
		const { items, files } = carryMod(before, after);
		expect(items.map(({ what, record, field, why }) => [what, record, field, why])).toEqual([
			['undecided', 'tug', 'de', 'Only you changed it, but the new version changed the main text: Old tug'],
			['carried', 'raft', 'de', 'Only you changed it.']
		]);
		expect(textsOf(files)).toEqual({ 'words/de/mine.properties': 'tug=Schleppkahn\nraft=Flachboot\n' });
		expect(asked(carryMod(before, after, { prefer: 'mine' }).items)).toEqual([]);
		const theirs = carryMod(before, after, { prefer: 'theirs' });
		expect(asked(theirs.items)).toEqual([]);
		expect(textsOf(theirs.files)).toEqual({ 'words/de/mine.properties': 'raft=Flachboot\n' });
	});

	test('a reference follows a record that has another id now; one that was only detected is put to the modder', () => {
		const boats = (id: string) => JSON.stringify([{ id, speed: '31', hull: '207', harbour: 'fathom_7' }]);
		const base = (id: string) => ({
			'data/boats/0.json': boats(id),
			'data/crew/0.csv': 'id,boat,pay\ncook,,2\n'
		});
		const mod = bytes({ 'data/crew/0.csv': 'id,boat,pay\nmate,cutter_4,3\n' });
		const carriedBy = (guide: ReturnType<typeof guideOf>, options: CarryOptions = {}) =>
			carryMod(
				stackOf(base('cutter_4'), mod, guide),
				stackOf(base('old_cutter_4'), new Map(), guide),
				options
			);
		const written = guideOf('record', 'record');
		const { items, files } = carriedBy(written);
		expect(asked(items)).toEqual([]);
		expect(textsOf(files)['data/crew/0.csv']).toContain('mate,old_cutter_4,3');
		const detected = structuredClone(written);
		detected.kinds.crew!.fields.boat!.reference!.found = {
			sure: 0.9,
			because: 'all values are ids of boats'
		};
		const [open, ...others] = asked(carriedBy(detected).items);
		expect([open!.what, open!.why, open!.candidates[0]!.value, others]).toEqual([
			'homeless',
			'It seems to refer to cutter_4, which has another id now.',
			'old_cutter_4',
			[]
		]);
		expect(textsOf(carriedBy(detected).files)['data/crew/0.csv']).toContain('mate,cutter_4,3');
		const place = { place: { kind: 'boat', id: 'old_cutter_4' } };
		const chosen = carriedBy(detected, { choices: new Map([[open!.key, place]]) });
		expect(asked(chosen.items)).toEqual([]);
		expect(textsOf(chosen.files)['data/crew/0.csv']).toContain('mate,old_cutter_4,3');
	});

	test('a field that is gone cannot be kept in a table; a file that is gone can be; letters that the encoding lacks are told', () => {
		const guide = guideOf('record', 'record');
		const latin = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));
		const game = (crew: string, note: Uint8Array | null): Map<string, Uint8Array> =>
			new Map([
				...bytes({ 'data/boats/0.json': '[{"id": "cutter"}]', 'data/crew/0.csv': crew }),
				...(note ? [['notes.txt', note] as const] : [])
			]);
		const stack = (files: Map<string, Uint8Array>, mod: Map<string, Uint8Array> = new Map()) =>
			assembleStack(
				[
					{ id: 'base', title: 'Base', owner: 'game', files },
					{ id: 'mine', title: 'Mine', owner: 'me', files: mod }
				],
				guide
			);
		const old = 'id,pay,rank\nmate,3,a\ncook,4,b\nbosun,5,c\n';
		const mod = bytes({ 'data/crew/0.csv': 'id,pay,rank\nmate,3,z\n', 'notes.txt': 'one\ntwo ★\nthree\n' });
		const before = stack(game(old, latin('one\ntwo\nthree\n')), mod);
		const after = stack(game('id,pay\nmate,9\ncook,4\nbosun,5\n', latin('one\ntwo\nthree\nfour \xe9\n')));
		const first = carryMod(before, after);
		const rank = asked(first.items).find(({ field }) => field === 'rank')!;
		expect([rank.what, rank.mine, rank.result]).toEqual(['homeless', 'z', null]);
		expect(textsOf(first.files)['data/crew/0.csv']).toBeUndefined();
		const kept = carryMod(before, after, { choices: new Map([[rank.key, 'mine']]) });
		expect(asked(kept.items).map(({ field, what }) => [field, what])).toContainEqual(['rank', 'homeless']);
		// The star is in no encoding that the new version's letters are in: my file stays as it is.
		const note = first.items.find(({ record }) => record === 'notes.txt')!;
		expect(note.what).toBe('undecided');
		expect(textsOf(first.files)['notes.txt']).toBe('one\ntwo ★\nthree\n');
		const without = stack(game('id,pay\nmate,9\n', null));
		const gone = carryMod(before, without).items.find(({ record }) => record === 'notes.txt')!;
		expect(gone.what).toBe('homeless');
		const mine = carryMod(before, without, { choices: new Map([[gone.key, 'mine']]) });
		expect(mine.items.find(({ record }) => record === 'notes.txt')!.what).toBe('carried');
	});
});
