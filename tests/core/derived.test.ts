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
