// What the untouched game does is never wrong; what it always does, and a mod does not, is told.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { assembleStack } from '$core/model';

const bytes = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]));
const gameOf = (
	base: Record<string, string>,
	mine: Record<string, string> = {},
	guide: Guide = EMPTY_GUIDE
) =>
	assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: bytes(base) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes(mine) }
		],
		guide
	);
const told = (...game: Parameters<typeof gameOf>) =>
	checkStack(gameOf(...game)).filter(({ severity }) => severity !== 'note');

const GUIDE = parseGuide(`guide: 1
kinds:
  cart:
    title: Cart
    files: [carts.csv]
    key: id
    fields:
      load: { type: whole, min: 0, max: 90 }
      wheel: { type: reference, required: true, reference: { kinds: [wheel] } }
  wheel: { title: Wheel, files: [wheels.csv], key: id }
`);
const WHEELS = 'id,size\noak,2\nelm,3\n';
const row = fc.tuple(fc.constantFrom('20', '95', 'many', ''), fc.constantFrom('oak', 'elm', 'fir', ''));

test('a game that breaks every rule of its guide is told nothing, nor is a mod that repeats it', () => {
	fc.assert(
		fc.property(fc.array(row, { minLength: 1, maxLength: 12 }), (rows) => {
			// Some ids come twice, too.
			const lines = rows.map(([load, wheel], nth) => `c${nth % 9},${load},${wheel}\n`).join('');
			const carts = `id,load,wheel\n${lines}`;
			const base = { 'carts.csv': carts, 'wheels.csv': WHEELS };
			expect(told(base, {}, GUIDE)).toEqual([]);
			expect(told(base, { 'carts.csv': carts }, GUIDE)).toEqual([]);
			// A harmless record more: values that the game itself has.
			expect(told(base, { 'carts.csv': `${carts}new,${rows[0]![0]},${rows[0]![1]}\n` }, GUIDE)).toEqual([]);
			// What only the mod does is told all the same.
			const broken = told(base, { 'carts.csv': `${carts}new,20,yew\n` }, GUIDE);
			expect(broken).toMatchObject([{ rule: 'missing-reference', record: 'new', value: 'yew' }]);
		}),
		{ numRuns: 60 }
	);
});

test('a base file that cannot be read whole is a note, and a block once my mod breaks it', () => {
	const base = { 'a.json': '[{ "id": "x", "n": 1 }, { "id": "y" "m": 1 }]' };
	expect(checkStack(gameOf(base)).map(({ rule, severity }) => [rule, severity])).toEqual([
		['unreadable-file', 'note']
	]);
	const mine = told(base, { 'a.json': '[{ "id": "x", "n": 1 }, { "id": "z" "n": 2 }]' });
	expect(mine[0]).toMatchObject({ rule: 'unreadable-file', severity: 'blocks', layer: 'mine' });
	// What the game has there too is no fault of mine.
	const lines = (n: number) => `[\n{ "id": "x", "n": ${n} },\n{ "id": "y" "m": 1 }\n]`;
	const same = told({ 'a.json': lines(1) }, { 'a.json': lines(2) });
	expect(same.filter(({ layer }) => layer === 'mine')).toEqual([]);
});

test('many faults of a file that others made are said once, each of mine by itself', () => {
	const list = (...ids: string[]) =>
		`[seat]\nn = 1\n${ids.map((id) => `use ${id} now\n`).join('')}[bench]\nn = 2\n`;
	const base = { 'rules.ini': list('oak', 'elm', 'ash') };
	expect(checkStack(gameOf(base))).toMatchObject([
		{
			rule: 'unreadable-file',
			severity: 'note',
			line: 3,
			excerpt: 'use oak now',
			message: expect.stringMatching(/2 more such places\. What cannot be read stays as it is\.$/) as string
		}
	]);
	const mine = told(base, { 'rules.ini': list('oak', 'yew', 'fir') }).filter(({ layer }) => layer === 'mine');
	expect(mine.map(({ rule, severity, line, excerpt }) => [rule, severity, line, excerpt])).toEqual([
		['unreadable-file', 'blocks', 4, 'use yew now'],
		['unreadable-file', 'blocks', 5, 'use fir now']
	]);
});

describe('what the game always does', () => {
	const stations = Object.fromEntries(
		['a', 'b', 'c', 'd', 'e', 'f'].map((name, nth) => [
			`stations/${name}.toml`,
			`code = ${nth}\n\n[keeper]\nname = "N${nth}"\nsince = 190${nth}-01-02\nuntil = 191${nth}-02-03\n`
		])
	);
	const one = parseGuide(`guide: 1
kinds:
  station: { title: Station, files: ['stations/*.toml'], id: file }
`);
	test('an end date that every block of the game has is missed', () => {
		expect(told(stations, {}, one)).toEqual([]);
		const snags = told(
			stations,
			{
				'stations/b.toml': 'code = 9\n\n[keeper]\nname = "N1"\nsince = 1901-01-02\n'
			},
			one
		);
		expect(snags).toMatchObject([{ rule: 'missing-part', severity: 'warns', field: 'keeper.until' }]);
		expect(snags[0]!.message).toContain('keeper has no until');
	});
	test('where some blocks of the game have no end, none is missed', () => {
		const open = {
			...stations,
			'stations/c.toml': 'code = 9\n\n[keeper]\nname = "N2"\nsince = 1902-01-02\n'
		};
		expect(
			told(open, { 'stations/b.toml': 'code = 9\n\n[keeper]\nname = "N1"\nsince = 1901-01-02\n' }, one)
		).toEqual([]);
	});
	const lamps = (count = 24, more: Record<string, string> = {}) => ({
		...Object.fromEntries(
			Array.from({ length: count }, (_, nth) => [
				`lamps/part_${nth}.yaml`,
				`id: LAMP_${nth}\nlight: ${nth * 3}\nheight: ${nth % 7}\n`
			])
		),
		...more
	});
	const lamp = 'id: LAMP_4\nlight: 12\nheight: 4\n';
	test('an id that another file of the game has is told, unless mine stands in for that file or it is the game’s way', () => {
		const snags = told(lamps(), { 'lamps/mine.yaml': lamp });
		expect(snags).toMatchObject([
			{ rule: 'id-elsewhere', severity: 'warns', record: 'LAMP_4', file: 'lamps/mine.yaml', line: 1 }
		]);
		expect(snags[0]!.message).toContain('`lamps/part_4.yaml`');
		expect(told(lamps(), { 'lamps/part_4.yaml': lamp })).toEqual([]);
		expect(told(lamps(), { 'lamps/mine.yaml': lamp.replace('LAMP_4', 'LAMP_90') })).toEqual([]);
		expect(told(lamps(80, { 'lamps/again.yaml': lamp }), { 'lamps/mine.yaml': lamp })).toEqual([]);
		// Also where one of the two that have it in the game is the one that mine stands in for.
		expect(told(lamps(24, { 'more/again.yaml': lamp }), { 'lamps/part_4.yaml': lamp })).toEqual([]);
		const other = lamp.replace('12', '15');
		expect(told(lamps(80, { 'lamps/again.yaml': lamp }), { 'lamps/again.yaml': other })).toEqual([]);
		// So few say nothing of how the game has it.
		expect(told(lamps(9), { 'lamps/mine.yaml': lamp })).toEqual([]);
		// Several in one file are told once.
		const list = (...numbers: number[]) =>
			JSON.stringify(numbers.map((nth) => ({ id: `LAMP_${nth}`, light: nth * 3, height: nth % 7 })));
		const lists = Object.fromEntries(
			Array.from({ length: 10 }, (_, nth) => [`lamps/${nth}.json`, list(nth * 3, nth * 3 + 1, nth * 3 + 2)])
		);
		const several = told(lists, { 'lamps/mine.json': list(4, 40, 8) });
		expect(several.map(({ rule, record }) => [rule, record])).toEqual([['id-elsewhere', 'LAMP_4']]);
		expect(several[0]!.message).toContain('1 other record in this file');
		// Two files of mine.
		const two = {
			'lamps/new.yaml': lamp.replace('_4', '_90'),
			'lamps/newer.yaml': lamp.replace('_4', '_90')
		};
		expect(told(lamps(), two)).toMatchObject([{ rule: 'id-elsewhere', file: 'lamps/newer.yaml' }]);
	});
	const omens = (extra = '') =>
		`id,bit,chance\n${Array.from({ length: 12 }, (_, bit) => `omen_${bit},${bit},0.${(bit * 7) % 10}`).join('\n')}\n${extra}`;
	test('a bit that another has already is told, a free one is not', () => {
		expect(told({ 'omens.csv': omens() })).toEqual([]);
		expect(told({ 'omens.csv': omens() }, { 'omens.csv': omens('omen_new,12,0.3\n') })).toEqual([]);
		const snags = told({ 'omens.csv': omens() }, { 'omens.csv': omens('omen_new,5,0.3\n') });
		expect(snags).toMatchObject([{ rule: 'held-twice', record: 'omen_new', field: 'bit' }]);
		expect(snags[0]!.message).toContain('`omen_5`');
	});
});
