// What goes along with a mod that is given away: told from the values themselves, the same for the same mod.
import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { expect, test } from 'vitest';
import { changesBetween } from '$core/carry';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { changeList, readMe, sharedTexts, tablePictures } from '$core/pack';
import { identitySchema } from '$core/stack';
import { runs } from '../runs';

const guide = parseGuide(`guide: 1
identity: mod.json
install: { folder: 'mods/{mod}', order: on.txt, listed: lines }
kinds:
  cart: { title: Cart, plural: Carts, files: [carts.csv], key: id, merge: record, fields: { load: { title: Load }, hull: { title: Hull } } }
spoils:
  - { files: [carts.csv], what: saves }
`);
const bytes = (text: string) => new TextEncoder().encode(text);
const carts = (rows: Record<string, [number, number]>) =>
	bytes(
		`id,load,hull\n${Object.entries(rows)
			.map(([id, values]) => `${id},${values.join(',')}\n`)
			.join('')}`
	);

/** The list of what a mod with some carts changes. */
function listOf(base: Record<string, [number, number]>, mine: Record<string, [number, number]>): string {
	const game = {
		id: 'base',
		title: 'Base',
		owner: 'game' as const,
		files: new Map([['carts.csv', carts(base)]])
	};
	const mod = {
		id: 'mine',
		title: 'Mine',
		owner: 'me' as const,
		files: new Map([
			['carts.csv', carts(mine)],
			['notes.bin', Uint8Array.of(0, 1, 2)]
		])
	};
	return changeList(guide, changesBetween(assembleStack([game], guide), assembleStack([game, mod], guide)));
}

const BASE: Record<string, [number, number]> = { hand: [20, 4], pony: [60, 5], ox: [0, 9] };

test('values with how far they went, new records and files apart', () => {
	expect(listOf(BASE, { hand: [25, 4], pony: [60, 5], ox: [7, 9], mule: [50, 5] })).toBe(
		'## Carts\n\n- hand: Load 20 → 25 (+25 %)\n- ox: Load 0 → 7\n- New: mule\n\n## Files\n\n- `notes.bin`: new\n'
	);
});

test('of many records only how far their values went', () => {
	const many = (by: number): Record<string, [number, number]> =>
		Object.fromEntries(Array.from({ length: 60 }, (_, nth) => [`c${nth}`, [100 + by, 5]]));
	const list = listOf(many(0), many(20));
	expect(list).toContain(
		'- 60 records in all\n- Load: 60 records, +20 % in the middle, from +20 % to +20 %\n'
	);
	expect(list).not.toContain('c17');
});

test('law: every value that differs is told with both of its states, and nothing else', () => {
	const row = fc.tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 50 }));
	fc.assert(
		fc.property(fc.array(fc.tuple(row, row), { minLength: 1, maxLength: 25 }), (rows) => {
			const named = (at: 0 | 1) =>
				Object.fromEntries(rows.map((pair, nth) => [`cart_${nth}`, pair[at] as [number, number]]));
			const list = listOf(named(0), named(1));
			expect(listOf(named(0), named(1))).toBe(list);
			const told = new Set(
				[...list.matchAll(/(?:^- |; )(?:(cart_\d+): )?(Load|Hull) (\d+) → (\d+)/gm)].map(([all]) => all)
			);
			const differing = rows
				.flatMap(([was, is]) => [was[0] !== is[0], was[1] !== is[1]])
				.filter(Boolean).length;
			expect([...list.matchAll(/ → /g)]).toHaveLength(differing);
			expect(told.size).toBeLessThanOrEqual(differing);
			rows.forEach(([was, is], nth) => {
				const line = list.split('\n').find((one) => one.startsWith(`- cart_${nth}:`));
				const expected = [
					...(was[0] === is[0] ? [] : [`Load ${was[0]} → ${is[0]}`]),
					...(was[1] === is[1] ? [] : [`Hull ${was[1]} → ${is[1]}`])
				];
				if (expected.length === 0) expect(line).toBeUndefined();
				for (const words of expected) expect(line).toContain(words);
			});
		}),
		{ numRuns: runs(200) }
	);
});

test('a read-me says what it needs, what it takes, and how it comes and goes', () => {
	const identity = identitySchema.parse({
		name: 'my_carts',
		title: 'My carts',
		version: '1.2',
		gameVersion: '3',
		requires: ['wheels'],
		after: ['roads', 'inns'],
		notWith: ['rails']
	});
	const options = [{ title: 'Red', about: 'All carts are red.', oneOf: null, standard: true }];
	const made = {
		identity,
		guide,
		changes: '## Carts\n\n- hand: Load 1 → 2\n',
		options,
		paths: ['carts.csv']
	};
	const text = readMe(made);
	for (const words of [
		'# My carts 1.2\n\nFor version 3 of the game.\n',
		'- It needs wheels.\n- It has to load after roads and inns.\n- It does not work together with rails.',
		'- **Red**, on unless you leave it out: All carts are red.',
		'- It breaks saved games.',
		'1. Copy the pack into `mods/my_carts` below the game’s folder.\n2. Add a line `my_carts` to `on.txt`.',
		'### Carts\n\n- hand: Load 1 → 2\n'
	])
		expect(text).toContain(words);
	expect(text).not.toMatch(/\n{3}|\{\w+\}/);
	expect(readMe({ ...made, options: [] }, 'Only {title}.')).toBe('Only My carts.\n');
});

test('law: a picture is well-formed whatever the values are, shows each changed value, and is the same for the same', () => {
	const value = fc.oneof(
		fc.string({ unit: 'binary', maxLength: 30 }),
		fc.constantFrom('<b>', '"&', 'Lüttje')
	);
	const field = fc.record({
		path: fc.constantFrom('load', 'hull', 'wheel'),
		old: fc.option(value),
		new: value
	});
	const record = fc.record({
		kind: fc.constantFrom('cart', 'mill'),
		record: fc.string({ minLength: 1, maxLength: 8 }),
		name: value,
		what: fc.constantFrom('new' as const, 'changed' as const, 'gone' as const),
		file: fc.constant('carts.csv'),
		sure: fc.constant(1),
		fields: fc.uniqueArray(field, { selector: ({ path }) => path, maxLength: 3 })
	});
	fc.assert(
		fc.property(fc.array(record, { minLength: 1, maxLength: 30 }), (records) => {
			const changes = { kinds: [], fields: [], files: [], records };
			const pictures = tablePictures(guide, changes);
			expect(tablePictures(guide, structuredClone(changes))).toEqual(pictures);
			expect(pictures).toHaveLength(new Set(records.map(({ kind }) => kind)).size);
			for (const { svg } of pictures) {
				const parser = new SaxesParser();
				let said = '';
				parser.on('text', (text) => (said += text));
				parser.on('error', (fault) => {
					throw fault;
				});
				parser.write(svg).close();
				expect(said).not.toBe('');
			}
			const few = records.filter(({ kind }) => kind === 'cart');
			const all = pictures.find(({ path }) => path === 'pictures/cart.svg')?.svg ?? '';
			// Of few records all are shown, with short values as they are.
			if (few.length > 0 && few.length <= 16)
				for (const { fields } of few)
					for (const { new: now } of fields) if (/^[\w]{1,20}$/.test(now)) expect(all).toContain(`>${now}<`);
		}),
		{ numRuns: runs(300) }
	);
});

test('pictures go along where they are wanted, and the read-me shows them then', () => {
	const identity = identitySchema.parse({ name: 'm', title: 'M', version: '1' });
	const pictures = [{ path: 'pictures/cart.svg', title: 'Carts', svg: '<svg/>' }];
	const made = { identity, guide, changes: '', options: [], paths: [], pictures };
	const withThem = sharedTexts(made, ['readme', 'pictures']);
	expect([...withThem.keys()]).toEqual(['README.md', 'pictures/cart.svg']);
	expect(withThem.get('README.md')).toContain('![Carts](pictures/cart.svg)');
	expect(sharedTexts(made, ['readme']).get('README.md')).not.toContain('pictures');
});
