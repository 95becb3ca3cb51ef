// Files that are made from others: what they list is what is there, and every letter that is right stays.
import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { derivedFiles } from '$core/derived';
import { parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { packOf } from '$core/pack';

const bytes = (text: string) => new TextEncoder().encode(text);
const sum = (text: string, by = 'sha256') => createHash(by).update(text).digest('hex');
const filesOf = (files: Record<string, string>) =>
	new Map(Object.entries(files).map(([path, text]) => [path, bytes(text)]));
const guide = (about: string, more = '') => parseGuide(`guide: 1\nderived: [${about}]\n${more}`);
const OVER = `install: { folder: ., over: true }`;

const made = (about: string, mine: Record<string, string>, below: Record<string, string> = {}, more = '') => {
	const [own, theirs] = [filesOf(mine), filesOf(below)];
	const all = derivedFiles(guide(about, more), {
		mine: own,
		below: (path) => theirs.get(path),
		belowPaths: new Set(theirs.keys())
	});
	return Object.fromEntries([...all].map(([path, one]) => [path, new TextDecoder().decode(one)]));
};

describe('a list with digests', () => {
	test('of the mod: lines that are right stay, others are mended, new ones come in their order, gone ones go', () => {
		const list = `; by hand\r\n${sum('1').toUpperCase()}  data/a\r\n${sum('old')}  data/c\r\n${sum('9')}  data/gone\r\n`;
		expect(
			made('{ file: sums, as: digests, from: ["data/**"] }', {
				sums: list,
				'data/a': '1',
				'data/b': '2',
				'data/c': '3',
				read: 'x'
			})
		).toEqual({
			sums: `; by hand\r\n${sum('1').toUpperCase()}  data/a\r\n${sum('2').toUpperCase()}  data/b\r\n${sum('3')}  data/c\r\n`
		});
	});

	test('of the game, where mods replace its files: only what a mod touches changes', () => {
		const list = `${sum('1', 'md5')} *data/a\n${sum('2', 'md5')} *data/b\n`;
		const about = '{ file: sums, as: digests, digest: md5, line: "{digest} *{path}", from: ["data/**"] }';
		const below = { sums: list, 'data/a': '1', 'data/b': '2' };
		expect(made(about, { 'data/b': 'new', 'data/c': '3' }, below, OVER)).toEqual({
			sums: `${sum('1', 'md5')} *data/a\n${sum('new', 'md5')} *data/b\n${sum('3', 'md5')} *data/c\n`
		});
		expect(made(about, { 'words/b': 'new' }, below, OVER)).toEqual({});
		expect(made(about, { 'data/b': '2' }, below, OVER)).toEqual({});
		// Beside the game's own files, a mod without a list has none.
		expect(made(about, { 'data/b': 'new' }, below)).toEqual({});
	});

	test('law: a list that was made lists exactly its sources, and is not changed by being made again', () => {
		const name = fc.stringMatching(/^data\/[a-z]{1,3}$/);
		const about =
			'{ file: sums, as: digests, from: ["data/**"], always: true, line: "{path}|{size}|{digest}" }';
		const files = fc.dictionary(name, fc.string({ maxLength: 8 }), { minKeys: 1, maxKeys: 6 });
		fc.assert(
			fc.property(files, files, (one, other) => {
				const { sums = '' } = made(about, one);
				const again = made(about, { ...other, sums });
				const expected = Object.entries(other)
					.sort(([a], [b]) => (a < b ? -1 : 1))
					.map(([path, text]) => `${path}|${bytes(text).length}|${sum(text)}\n`)
					.join('');
				expect(again).toEqual({ sums: expected });
				expect(made(about, { ...other, ...again })).toEqual(again);
			})
		);
	});
});

test('a list of new files, and a count of all', () => {
	const below = { 'data/a': '1', 'count.txt': 'all = 1 files # by hand\nall = 7 files\n' };
	expect(
		made(
			'{ file: new.txt, as: list, fresh: true, always: true, from: ["data/**"] }',
			{ 'data/a': '2', 'data/b': '3' },
			below
		)
	).toEqual({
		'new.txt': 'data/b\n'
	});
	const about = '{ file: count.txt, as: count, line: "all = {count} files", from: ["data/**"] }';
	expect(made(about, { 'data/b': '3' }, below, OVER)).toEqual({
		'count.txt': 'all = 1 files # by hand\nall = 2 files\n'
	});
});

test('a stale list of mine is told with its line, and the pack has it as it must be', () => {
	const about = guide('{ file: sums, title: The list of sums, as: digests, from: ["data/**"] }');
	const mine = { 'data/a': 'two', sums: `# sums\n${sum('one')}  data/a\n` };
	const stack = assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: filesOf({ 'data/a': 'one' }) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: filesOf(mine) }
		],
		about
	);
	const snags = checkStack(stack, buildLinks(stack)).filter(({ rule }) => rule === 'stale-derived');
	expect(snags).toMatchObject([{ severity: 'note', file: 'sums', line: 2 }]);
	expect(snags[0]!.message).toContain('The list of sums is out of date from line 2 on');
	const identity = {
		name: 'm',
		title: 'M',
		version: '1',
		gameVersion: '',
		description: '',
		requires: [],
		after: [],
		notWith: []
	};
	const pack = packOf(filesOf(mine), new Set(['data/a']), about, identity);
	expect(new TextDecoder().decode(pack.contents.get('sums'))).toBe(`# sums\n${sum('two')}  data/a\n`);
	expect(pack.files.find(({ path }) => path === 'sums')).toMatchObject({
		why: 'derived',
		reason: 'made from the other files of the mod'
	});
});

describe('an index of records', () => {
	const KINDS =
		'kinds:\n  cart: { title: Cart, files: [data/carts.tsv, data/more.tsv], key: id }\n  wheel: { title: Wheel, files: [data/wheels.ini] }\n';
	const about = (more: string) => `{ file: index.txt, as: index, always: true, ${more} }`;
	test('of a mod: a line for each, with what it is to have; what is right stays', () => {
		const mine = {
			'data/carts.tsv': 'id\tload\ndog\t4.50\nmule\t9\n',
			'data/wheels.ini': '[oak]\nwide = 3\n',
			'index.txt': '# by hand\nmule = 9 in data/carts.tsv\ngone = 1 in data/carts.tsv\n'
		};
		const line = 'line: "{id} = {field:load} in {path}"';
		expect(made(about(`of: [cart], ${line}`), mine, {}, KINDS)).toEqual({
			'index.txt': '# by hand\ndog = 4.50 in data/carts.tsv\nmule = 9 in data/carts.tsv\n'
		});
		expect(made(about('line: "{kind}:{id}:{line}"'), { ...mine, 'index.txt': '' }, {}, KINDS)).toEqual({
			'index.txt': 'cart:dog:2\ncart:mule:3\nwheel:oak:1\n'
		});
	});
	test('of the game, where mods replace its files: records go with the file that is replaced', () => {
		const below = {
			'index.txt': 'dog 4\nmule 9\npony 2\n',
			'data/carts.tsv': 'id\tload\ndog\t4\nmule\t9\n',
			'data/more.tsv': 'id\tload\npony\t2\n'
		};
		const mine = { 'data/carts.tsv': 'id\tload\nmule\t12\nox\t30\n' };
		expect(made(about('line: "{id} {field:load}"'), mine, below, `${OVER}\n${KINDS}`)).toEqual({
			'index.txt': 'mule 12\nox 30\npony 2\n'
		});
	});
	test('law: it lists exactly the records, whatever was there before, and is not changed by being made again', () => {
		const carts = fc.dictionary(fc.stringMatching(/^[a-z]{1,4}$/), fc.nat(99), { minKeys: 1, maxKeys: 6 });
		const tsv = (rows: Record<string, number>) =>
			`id\tload\n${Object.entries(rows)
				.map(([id, load]) => `${id}\t${load}\n`)
				.join('')}`;
		const line = about('line: "{id};{field:load}"');
		fc.assert(
			fc.property(carts, carts, (one, other) => {
				const { 'index.txt': first = '' } = made(line, { 'data/carts.tsv': tsv(one) }, {}, KINDS);
				const mine = { 'data/carts.tsv': tsv(other), 'index.txt': first };
				const second = made(line, mine, {}, KINDS);
				const expected = Object.entries(other).map(([id, load]) => `${id};${load}\n`);
				expect(second).toEqual({ 'index.txt': expected.sort().join('') });
				expect(made(line, { ...mine, ...second }, {}, KINDS)).toEqual(second);
			})
		);
	});
});

test('a made file never leads out of the folder that it is in', () => {
	for (const file of ['../outside.txt', 'a/../../b', '/etc/motd', 'C:/x', '\\\\host\\x', '..'])
		expect(() => guide(`{ file: ${JSON.stringify(file)}, as: list, always: true }`)).toThrow(
			/leads out of the folder/
		);
	expect(guide('{ file: a..b/c, as: list }').derived![0]!.file).toBe('a..b/c');
});

describe('a copy of records in a form of its own', () => {
	const PACKED = `
kinds:
  gear:
    title: Gear
    files: ['data/*.csv']
    key: id
  packed_gear:
    title: Packed gear
    files: [packed/gear.bin]
    at: gear
    key: id
    written:
      layout:
        shape: packed
        head: [{ name: rows, as: u16, counts: gear }]
        tables:
          - name: gear
            key: id
            grows: true
            fields: [{ name: id, as: text, length: 6 }, { name: weight, as: u16 }, { name: hold, as: u8 }]
`;
	const COPY = '{ file: packed/gear.bin, title: The packed gear, as: copy, from: ["data/*.csv"] }';
	/** The table as bytes, put together by hand. */
	const packed = (rows: readonly (readonly [string, number, number])[]) => {
		const out = Buffer.alloc(2 + rows.length * 9);
		out.writeUInt16LE(rows.length, 0);
		rows.forEach(([id, weight, hold], nth) => {
			out.write(id, 2 + nth * 9, 'latin1');
			out.writeUInt16LE(weight, 8 + nth * 9);
			out.writeUInt8(hold, 10 + nth * 9);
		});
		return new Uint8Array(out);
	};
	const csv = (rows: readonly (readonly [string, number, number])[]) =>
		bytes(`id,weight,hold,remark\n${rows.map((row) => `${row.join(',')},x\n`).join('')}`);
	const copied = (mine: [string, Uint8Array][], below: [string, Uint8Array][]) => {
		const [own, theirs] = [new Map(mine), new Map(below)];
		const said: string[] = [];
		const made = derivedFiles(
			guide(COPY, PACKED),
			{ mine: own, below: (path) => theirs.get(path), belowPaths: new Set(theirs.keys()) },
			(file, why) => said.push(`${file}: ${why}`)
		);
		return { made: made.get('packed/gear.bin'), said };
	};
	const row = fc.tuple(
		fc.stringMatching(/^[a-z]{1,6}$/),
		fc.integer({ min: 0, max: 65_535 }),
		fc.integer({ min: 0, max: 255 })
	);
	const table = fc.uniqueArray(row, { minLength: 1, maxLength: 8, selector: ([id]) => id });

	test('law: it has exactly the records it is made from, whatever was there, and is not changed by being made again', () => {
		fc.assert(
			fc.property(table, table, (before, now) => {
				const shared: [string, number, number][] = [
					[before[0]![0], 7, 7],
					...now.filter(([id]) => id !== before[0]![0])
				];
				const { made, said } = copied(
					[['data/gear.csv', csv(shared)]],
					[
						['data/gear.csv', csv(before)],
						['packed/gear.bin', packed(before)]
					]
				);
				expect(said).toEqual([]);
				const ids = new Set(before.map(([id]) => id));
				const wanted = [
					...before.flatMap(([id]) => shared.filter(([own]) => own === id)),
					...shared.filter(([id]) => !ids.has(id))
				];
				const isSame = JSON.stringify(wanted) === JSON.stringify(before);
				expect(made).toEqual(isSame ? undefined : packed(wanted));
				if (!made) return;
				const again = copied(
					[
						['data/gear.csv', csv(shared)],
						['packed/gear.bin', made]
					],
					[]
				);
				expect(again.made).toEqual(made);
			})
		);
	});

	test('a mod that does not touch what it is made from has none; one that adds a file has all records', () => {
		const rows = [['rope', 4, 1]] as const;
		const below: [string, Uint8Array][] = [
			['data/gear.csv', csv(rows)],
			['packed/gear.bin', packed(rows)]
		];
		expect(copied([['words/a.txt', bytes('x')]], below).made).toBeUndefined();
		expect(copied([['data/more.csv', csv([['hook', 2, 3]])]], below).made).toEqual(
			packed([...rows, ['hook', 2, 3]])
		);
	});

	test('what it cannot hold is told, with the reason, and it stays as it is; a stale one is told, too', () => {
		const rows = [['rope', 4, 1]] as const;
		const old = packed(rows);
		const { made, said } = copied(
			[
				['data/gear.csv', csv([['rope', 70_000, 1]])],
				['packed/gear.bin', old]
			],
			[]
		);
		expect(made).toEqual(old);
		expect(said).toHaveLength(1);
		expect(said[0]).toMatch(/^packed\/gear\.bin: .*65535/);
		const told = (text: Uint8Array) =>
			checkStack(
				assembleStack(
					[
						{
							id: 'base',
							title: 'Base',
							owner: 'game',
							files: new Map([
								['data/gear.csv', csv(rows)],
								['packed/gear.bin', old]
							])
						},
						{
							id: 'mine',
							title: 'Mine',
							owner: 'me',
							files: new Map([
								['data/gear.csv', text],
								['packed/gear.bin', old]
							])
						}
					],
					guide(COPY, PACKED)
				)
			).flatMap(({ rule, severity, message }) => (rule === 'stale-derived' ? [[severity, message]] : []));
		expect(told(csv(rows))).toEqual([]);
		expect(told(csv([['rope', 5, 1]]))).toEqual([
			[
				'note',
				'The packed gear is out of date: it is made from records of other files. The pack will contain the right version.'
			]
		]);
		const [[severity, message]] = told(csv([['rope', 70_000, 1]])) as [[string, string]];
		expect(severity).toBe('warns');
		expect(message).toMatch(
			/^The packed gear is made from records of other files and cannot be brought up to date\. .*65535/
		);
	});
});
