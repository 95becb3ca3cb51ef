// Files that would mislead: archives that never end, pipes and devices, links put in place of folders, names of the
// game's own places, files cut in the cache or beside it, and what the command is told to overwrite.
import { spawn, spawnSync } from 'node:child_process';
import {
	chmodSync,
	existsSync,
	lstatSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	renameSync,
	readFileSync,
	rmSync,
	statSync,
	symlinkSync,
	writeFileSync
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { zipSync } from 'fflate';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { packOf, zipOf } from '$core/pack';
import { safeName, UnsafeName } from '$core/stack';
import { EMPTY_GUIDE } from '$core/guide';
import {
	install,
	openFolder,
	openInside,
	openSource,
	readAll,
	readOrder,
	recover,
	remove,
	SourceFault,
	writeAtomic,
	writeTree
} from '../../src/lib/files';
import { digestsBelow, times } from './helpers';

const root = fileURLToPath(new URL('../..', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'kettle-files-'));
const text = (words: string) => new TextEncoder().encode(words);
let nth = 0;
let here: string;

beforeAll(() => {
	expect(spawnSync(process.execPath, ['scripts/build.mjs'], { cwd: root }).status).toBe(0);
});
afterAll(() => rmSync(work, { recursive: true, force: true }));
beforeEach(() => {
	here = join(work, String(++nth));
	mkdirSync(here);
});

const kettle = (words: string[], more: object = {}) =>
	spawnSync(process.execPath, [join(root, 'build/cli.js'), ...words], {
		encoding: 'utf8',
		cwd: here,
		maxBuffer: 2 ** 28,
		timeout: 60_000,
		env: { ...process.env, KETTLE_HOME: join(here, '.kettle') },
		...more
	});

describe('archives', () => {
	/** Runs a piece of the product in a process of its own and tells its most memory, in MB. */
	async function measured(path: string): Promise<{ said: string; megabytes: number }> {
		const script = join(here, 'open.mjs');
		await build({
			stdin: {
				contents: `import { openSource, readAll } from ${JSON.stringify(join(root, 'src/lib/files/index.ts'))};
let said = 'opened';
try { const source = await openSource(process.argv[2]); await readAll(source); } catch (fault) { said = fault.message; }
console.log(JSON.stringify({ said, megabytes: process.resourceUsage().maxRSS / 1024 }));`,
				resolveDir: root,
				loader: 'ts'
			},
			outfile: script,
			bundle: true,
			platform: 'node',
			format: 'esm',
			alias: { $core: join(root, 'src/lib/core') },
			banner: {
				js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);"
			},
			logLevel: 'silent'
		});
		const done = spawnSync(process.execPath, [script, path], { encoding: 'utf8', timeout: 120_000 });
		expect(done.stderr).toBe('');
		return JSON.parse(done.stdout) as { said: string; megabytes: number };
	}
	const zeros = (megabytes: number) => new Uint8Array(megabytes * 2 ** 20);

	test('one that unpacks to many gigabytes by archives within archives ends in a sentence, in little memory', async () => {
		const inner = zipSync({ 'a.tsv': [zeros(48), { level: 9 }] });
		const middle = zipSync(Object.fromEntries(Array.from({ length: 24 }, (_, at) => [`m${at}.zip`, inner])), {
			level: 9
		});
		const bomb = zipSync(Object.fromEntries(Array.from({ length: 24 }, (_, at) => [`b${at}.zip`, middle])), {
			level: 9
		});
		const path = join(here, 'bomb.zip');
		writeFileSync(path, bomb);
		expect(bomb.length).toBeLessThan(200_000);
		const { said, megabytes } = await measured(path);
		expect(said).toMatch(/at most|can be/);
		expect(megabytes).toBeLessThan(300);
	});
	test('archives as such, more than can be looked into, are counted', async () => {
		const small = zipSync({ 'a.txt': text('x') });
		const path = join(here, 'many.zip');
		writeFileSync(
			path,
			zipSync(Object.fromEntries(Array.from({ length: 1200 }, (_, at) => [`z${at}.zip`, small])))
		);
		await expect(openSource(path)).rejects.toThrow(/1000 archives/);
	});
	test('archives within archives are still looked into', async () => {
		const path = join(here, 'game.zip');
		writeFileSync(
			path,
			zipSync({
				'data/pack.zip': zipSync({ 'carts.tsv': text('id\tload\nhand\t2\n') }),
				'read.me': text('x')
			})
		);
		expect([...(await readAll(await openSource(path))).keys()]).toEqual([
			'data/pack.zip/carts.tsv',
			'read.me'
		]);
	});
});

describe('what is no plain file', () => {
	test('a pipe, a socket or a device inside a game is left out and told; as game, guide or file it is refused', async () => {
		const game = join(here, 'game');
		mkdirSync(game);
		writeFileSync(join(game, 'carts.tsv'), 'id\tload\nhand\t2\n');
		expect(spawnSync('mkfifo', [join(game, 'pipe.tsv')]).status).toBe(0);
		symlinkSync('/dev/zero', join(game, 'zero.tsv'));
		symlinkSync('/etc', join(game, 'etc'));
		const source = await openFolder(game);
		expect(source.entries.map(({ path }) => path)).toEqual(['carts.tsv']);
		expect(source.left).toEqual([
			'etc is a link that leads out of the folder',
			'pipe.tsv is not a plain file',
			'zero.tsv is a link that leads out of the folder'
		]);
		const checked = kettle(['check', '--game', game]);
		expect([checked.status, checked.stderr]).toEqual([0, expect.stringContaining('Left out: pipe.tsv')]);
		const fifo = join(game, 'pipe.tsv');
		for (const words of [
			['check', '--game', fifo],
			['check', '--game', '/dev/zero'],
			['check', '--game', game, '--guide', fifo],
			['records', fifo],
			['records', '/dev/zero'],
			['set', '/dev/null', 'a', 'b', 'c'],
			['set', fifo, 'a', 'b', 'c']
		]) {
			const { status, stderr } = kettle(words);
			expect([words.join(' '), [1, 2].includes(status!), stderr]).toEqual([
				words.join(' '),
				true,
				expect.stringMatching(/plain file|neither a folder/)
			]);
		}
	});
	test('a folder or a file that is swapped for a link between listing and reading is not followed out', async () => {
		const game = join(here, 'game');
		mkdirSync(join(game, 'data'), { recursive: true });
		writeFileSync(join(game, 'data/a.tsv'), 'id\nx\n');
		writeFileSync(join(game, 'b.tsv'), 'id\nx\n');
		const outside = join(here, 'outside');
		mkdirSync(outside);
		writeFileSync(join(outside, 'a.tsv'), 'secret');
		const source = await openFolder(game);
		rmSync(join(game, 'data'), { recursive: true });
		symlinkSync(outside, join(game, 'data'));
		rmSync(join(game, 'b.tsv'));
		symlinkSync(join(outside, 'a.tsv'), join(game, 'b.tsv'));
		for (const entry of source.entries) await expect(source.read(entry)).rejects.toThrow(SourceFault);
		expect(() => openInside(game, 'data/a.tsv')).toThrow(/leads out/);
	});
});

describe('a mod in the game’s folder', () => {
	const contents = new Map([
		['data/a.tsv', text('id\nmine\n')],
		['mod.json', text('{}')]
	]);
	function makeGame() {
		const game = join(here, 'game');
		mkdirSync(join(game, 'data'), { recursive: true });
		mkdirSync(join(game, 'mods/other'), { recursive: true });
		writeFileSync(join(game, 'data/vessels.tsv'), 'id\nx\n');
		writeFileSync(join(game, 'mods/other/a.txt'), 'theirs');
		writeFileSync(
			join(game, 'load-order.json'),
			'{\r\n  "n": 12345678901234567890, // theirs\r\n  "mods": ["other"]\r\n}'
		);
		return { game, shelf: join(here, 'shelf'), shipped: new Set(['data/vessels.tsv']) };
	}
	const place = (game: string, mod = 'mods/mine', name = 'mine') => ({
		folder: game,
		mod,
		order: 'load-order.json',
		name
	});

	test('the game’s own places and what leads out are refused, and nothing is changed', async () => {
		const { game, shelf, shipped } = makeGame();
		const before = digestsBelow(game);
		for (const mod of [
			'data',
			'data/vessels.tsv',
			'data/vessels.tsv/x',
			'../beside',
			'mods/../../beside',
			'.'
		])
			await expect(install(shelf, place(game, mod), shipped, contents), mod).rejects.toThrow(SourceFault);
		symlinkSync(work, join(game, 'mods/link'));
		await expect(install(shelf, place(game, 'mods/link'), shipped, contents)).rejects.toThrow(/link/);
		await expect(install(shelf, place(game, 'mods/link/x'), shipped, contents)).rejects.toThrow(/leads out/);
		rmSync(join(game, 'mods/link'));
		for (const order of ['{"mods":{}}', '{"mods":[1]}', '[]', '{', '', 'null', '"mods"']) {
			writeFileSync(join(game, 'load-order.json'), order);
			await expect(install(shelf, place(game), shipped, contents), order).rejects.toThrow(/load order/);
			expect(readFileSync(join(game, 'load-order.json'), 'utf8')).toBe(order);
		}
		rmSync(join(game, 'load-order.json'));
		const now = digestsBelow(game);
		delete before['load-order.json'];
		expect(now).toEqual(before);
	});
	test('names that are no names of folders are refused where they are read', () => {
		for (const name of [
			'../data',
			'.',
			'..',
			'a/b',
			'a\\b',
			'',
			' x',
			'x.',
			'con',
			'a\0b',
			'x'.repeat(300),
			'-\n'
		])
			expect(() => safeName(name), name).toThrow(UnsafeName);
		for (const name of ['longline', 'Quiet Harbours 2', 'größe-1.5', '_x']) expect(safeName(name)).toBe(name);
	});
	test('put in, changed, renamed and taken out: the folder is what it was, byte for byte', async () => {
		const { game, shelf, shipped } = makeGame();
		const before = digestsBelow(game);
		await install(shelf, place(game), shipped, contents);
		expect(readFileSync(join(game, 'load-order.json'), 'utf8')).toBe(
			'{\r\n  "n": 12345678901234567890, // theirs\r\n  "mods": ["other", "mine"]\r\n}'
		);
		await install(shelf, place(game), shipped, new Map([['b.txt', text('new')]]));
		expect(readdirSync(join(game, 'mods/mine'))).toEqual(['b.txt']);
		// Under another name the old one goes first.
		await install(shelf, place(game, 'mods/renamed', 'renamed'), shipped, contents);
		expect(existsSync(join(game, 'mods/mine'))).toBe(false);
		await remove(shelf);
		expect(digestsBelow(game)).toEqual(before);
		expect(await remove(shelf)).toBeNull();
	});
	test('what stood under its name before stands there again, and order and folders that were made for it go', async () => {
		const { game, shelf, shipped } = makeGame();
		rmSync(join(game, 'load-order.json'));
		rmSync(join(game, 'mods'), { recursive: true });
		const bare = digestsBelow(game);
		await install(shelf, place(game), shipped, contents);
		await remove(shelf);
		expect(digestsBelow(game)).toEqual(bare);
		expect(existsSync(join(game, 'mods'))).toBe(false);
		mkdirSync(join(game, 'mods/mine'), { recursive: true });
		writeFileSync(join(game, 'mods/mine/old.txt'), 'old');
		const old = digestsBelow(game);
		await install(shelf, place(game), shipped, contents);
		await remove(shelf);
		expect(digestsBelow(game)).toEqual(old);
		// As it was written down until every file was told of by itself, cut off in the middle.
		const backup = join(shelf, 'older');
		mkdirSync(join(backup, 'mod'), { recursive: true });
		renameSync(join(game, 'mods/mine/old.txt'), join(backup, 'mod/old.txt'));
		writeFileSync(join(game, 'mods/mine/a.txt'), 'mine');
		writeFileSync(join(game, 'load-order.json'), '{\n\t"mods": ["mine"]\n}\n');
		writeFileSync(
			join(shelf, 'installed.json'),
			JSON.stringify({
				version: 1,
				state: 'installing',
				...place(game),
				backup,
				hadMod: true,
				hadOrder: false,
				wasListed: false,
				made: []
			})
		);
		mkdirSync(join(game, 'mods/mine.kettle-new'));
		await recover(shelf);
		expect(digestsBelow(game)).toEqual(old);
	});
	test('switched on by a line in a list, or only by being there: nothing else changes, and it is as it was afterwards', async () => {
		const { game, shelf, shipped } = makeGame();
		for (const list of ['# ours\r\nother\r\n', 'other', '', null]) {
			if (list === null) rmSync(join(game, 'on.txt'), { force: true });
			else writeFileSync(join(game, 'on.txt'), list);
			const before = digestsBelow(game);
			await install(shelf, { ...place(game), order: 'on.txt', listed: 'lines' }, shipped, contents);
			const said = readFileSync(join(game, 'on.txt'), 'utf8');
			expect(said.split(/\r?\n/).filter((line) => line === 'mine')).toHaveLength(1);
			expect(said.startsWith(list ?? '')).toBe(true);
			await remove(shelf);
			expect(digestsBelow(game), JSON.stringify(list)).toEqual(before);
			await install(shelf, { ...place(game), order: null }, shipped, contents);
			expect(existsSync(join(game, 'mods/mine'))).toBe(true);
			await remove(shelf);
			expect(digestsBelow(game)).toEqual(before);
		}
	});
	test('law: a list of lines keeps every other letter', () => {
		const name = fc.stringMatching(/^[a-z]{1,6}$/);
		const line = fc.oneof(name, fc.constantFrom('', '# mods', '; old', '  // x', '   '));
		fc.assert(
			fc.property(
				fc.array(line, { maxLength: 7 }),
				fc.constantFrom('\n', '\r\n'),
				fc.boolean(),
				(lines, end, open) => {
					const said = lines.map((one) => one + end).join('') + (open ? 'last' : '');
					const order = readOrder('on.txt', text(said), 'lines');
					const more = readOrder('on.txt', order.with('mine_0'), 'lines');
					expect(more.names).toEqual([...order.names, 'mine_0']);
					expect(new TextDecoder().decode(more.without('mine_0'))).toBe(said);
					expect(new TextDecoder().decode(more.with('mine_0'))).toBe(
						new TextDecoder().decode(order.with('mine_0'))
					);
				}
			),
			{ numRuns: times(200, 5000) }
		);
	});
	test('law: a field of a configuration keeps every other letter, with quotes and without, in JSON too', () => {
		const name = fc.stringMatching(/^[a-z]{1,6}$/);
		const read = (said: string | Uint8Array, field: string, between: string) =>
			readOrder('set', typeof said === 'string' ? text(said) : said, { field, between });
		fc.assert(
			fc.property(
				fc.uniqueArray(name, { maxLength: 4 }),
				fc.constantFrom(',', ';', ' '),
				fc.constantFrom('', ' '),
				fc.boolean(),
				fc.constantFrom('\n', '\r\n'),
				(names, between, gap, quoted, end) => {
					const value = names.join(between + gap);
					const setting = `active =${gap}${quoted ? `"${value}"` : value}${end}`;
					const ini = `; mods${end}active = no${end}[Other]${end}active=none${end}[Mods]${end}${setting}next = 1`;
					const json = `{"a": 1e400, "game": {"mods": [${names.map((one) => `"${one}"`).join(`,${gap}`)}],${gap} "z": "é"}}`;
					for (const [said, field] of [
						[ini, 'Mods/active'],
						[json, 'game.mods']
					] as const) {
						const order = read(said, field, between);
						expect(order.names).toEqual(names);
						const more = read(order.with('mine_0'), field, between);
						expect(more.names).toEqual([...names, 'mine_0']);
						expect(new TextDecoder().decode(more.without('mine_0'))).toBe(said);
						for (const one of names)
							expect(read(order.without(one), field, between).names).toEqual(
								names.filter((other) => other !== one)
							);
					}
				}
			),
			{ numRuns: times(200, 5000) }
		);
		for (const [said, field] of [
			['{"game": {}}', 'game.mods'],
			['{"game": {"mods": [1]}}', 'game.mods'],
			['[Mods]\nother = 1\n', 'Mods/active'],
			['', 'active']
		] as const)
			expect(() => read(said, field, ',')).toThrow(/cannot be changed/);
		expect(() => readOrder('set', null, { field: 'a' })).toThrow(/it is not there/);
	});
	test('a load order keeps everything that is not the name, whatever it looks like', () => {
		const name = fc.stringMatching(/^[a-z]{1,6}$/);
		fc.assert(
			fc.property(
				fc.uniqueArray(name, { maxLength: 5 }),
				name,
				fc.constantFrom('', ' ', '\n\t', '\r\n  '),
				(names, mine, gap) => {
					const said = `{"a":1e400,${gap}"mods":[${gap}${names.map((one) => `"${one}"`).join(`,${gap}`)}${gap}],"z":"é"}`;
					const order = readOrder('order.json', text(said));
					const more = readOrder('order.json', order.with(mine));
					expect(more.names).toEqual(names.includes(mine) ? names : [...names, mine]);
					expect(new TextDecoder().decode(more.with(mine))).toBe(new TextDecoder().decode(order.with(mine)));
					if (!names.includes(mine)) expect(new TextDecoder().decode(more.without(mine))).toBe(said);
					expect(readOrder('order.json', order.without(mine)).names).toEqual(
						names.filter((one) => one !== mine)
					);
				}
			),
			{ numRuns: times(200, 5000) }
		);
	});
});

describe('writing', () => {
	test('keeps a mode, writes what a link leads to, and clears what a killed process left', async () => {
		const file = join(here, 'a.tsv');
		writeFileSync(file, 'old');
		chmodSync(file, 0o600);
		symlinkSync(file, join(here, 'link.tsv'));
		const dead = spawnSync(process.execPath, ['-e', '']).pid;
		writeFileSync(join(here, `.a.tsv.${dead}-1.kettle-tmp`), 'half');
		await writeAtomic(join(here, 'link.tsv'), text('new'));
		expect(readFileSync(file, 'utf8')).toBe('new');
		expect(statSync(file).mode & 0o777).toBe(0o600);
		expect(lstatSync(join(here, 'link.tsv')).isSymbolicLink()).toBe(true);
		expect(readdirSync(here).sort()).toEqual(['a.tsv', 'link.tsv']);
	});
	test('a tree that was cut off between the old and the new one is the old one again', async () => {
		const tree = join(here, 'tree');
		mkdirSync(`${tree}.kettle-old`);
		writeFileSync(join(`${tree}.kettle-old`, 'a'), 'old');
		mkdirSync(`${tree}.kettle-new`);
		await writeTree(tree, new Map([['b', text('new')]]));
		expect(readdirSync(here)).toEqual(['tree']);
		expect(readdirSync(tree)).toEqual(['b']);
	});
	test('a pipe that is closed and a disk that is full end the command without a stack', async () => {
		const many = join(here, 'many.tsv');
		writeFileSync(many, `id\tn\n${Array.from({ length: 60_000 }, (_, at) => `r${at}\t${at}`).join('\n')}\n`);
		const child = spawn(process.execPath, [join(root, 'build/cli.js'), 'records', many], {
			stdio: ['ignore', 'pipe', 'pipe']
		});
		let said = '';
		child.stderr.on('data', (chunk) => (said += chunk));
		child.stdout.once('data', () => child.stdout.destroy());
		expect(await new Promise((done) => child.once('exit', done))).toBe(141);
		expect(said).toBe('');
		const full = spawnSync(
			'sh',
			['-c', `"${process.execPath}" "${join(root, 'build/cli.js')}" records "${many}" > /dev/full`],
			{ encoding: 'utf8' }
		);
		expect(full.status).toBe(2);
		expect(full.stderr).toMatch(/the disk is full/);
		expect(full.stderr).not.toMatch(/ {4}at /);
	});
});

describe('the pack', () => {
	function makeMod() {
		for (const folder of ['game', 'mod']) mkdirSync(join(here, folder));
		writeFileSync(join(here, 'game/carts.tsv'), 'id\tload\nhand\t2\n');
		writeFileSync(join(here, 'mod/carts.tsv'), 'id\tload\nhand\t3\n');
	}
	const pack = (out: string) => kettle(['pack', '--game', 'game', '--mod', 'mod', '--out', out]);

	test('goes into no folder that holds something else, nor into the game or the mod', () => {
		makeMod();
		mkdirSync(join(here, 'photos'));
		writeFileSync(join(here, 'photos/a.jpg'), 'mine');
		for (const out of ['photos', 'game', 'mod', 'mod/out', '.', 'game/../game']) {
			const { status, stderr } = pack(out);
			expect([out, status, stderr]).toEqual([out, 2, expect.stringMatching(/Nothing was written/)]);
		}
		expect(readFileSync(join(here, 'photos/a.jpg'), 'utf8')).toBe('mine');
		expect(readdirSync(join(here, 'mod'))).toEqual(['carts.tsv']);
		// Its own pack it may replace, unless somebody changed that.
		expect(pack('out').status).toBe(0);
		writeFileSync(join(here, 'mod/more.tsv'), 'id\nx\n');
		expect(pack('out').status).toBe(0);
		rmSync(join(here, 'mod/more.tsv'));
		expect(pack('out').status).toBe(0);
		expect(readdirSync(join(here, 'out'))).toEqual(['carts.tsv']);
		writeFileSync(join(here, 'out/carts.tsv'), 'changed by hand');
		expect(pack('out').status).toBe(2);
		expect(readFileSync(join(here, 'out/carts.tsv'), 'utf8')).toBe('changed by hand');
	});
	test('holds files of any size and name', () => {
		makeMod();
		const large = Buffer.alloc(70 * 2 ** 20, 7);
		writeFileSync(join(here, 'mod/large.bin'), large);
		for (const name of ['__proto__', 'constructor', 'a b#?%.txt', 'größe.txt'])
			writeFileSync(join(here, 'mod', name), name);
		expect(pack('out').status).toBe(0);
		expect(pack('out.zip').status).toBe(0);
		expect(digestsBelow(join(here, 'out'))).toEqual(digestsBelow(join(here, 'mod')));
		const names = spawnSync(
			'python3',
			[
				'-c',
				'import sys,zipfile;z=zipfile.ZipFile(sys.argv[1]);print(z.testzip());print("|".join(sorted(z.namelist())))',
				join(here, 'out.zip')
			],
			{ encoding: 'utf8' }
		);
		expect(names.stdout.trim().split('\n')).toEqual([
			'None',
			readdirSync(join(here, 'mod')).sort().join('|')
		]);
	});
	test('equal packs are equal bytes, `__proto__` or not', () => {
		const made = () =>
			packOf(
				new Map([
					['__proto__', text('x')],
					['a', text('y')]
				]),
				new Set(),
				EMPTY_GUIDE,
				{
					name: 'a',
					title: 'A',
					version: '1',
					gameVersion: '',
					description: '',
					requires: [],
					after: [],
					notWith: []
				}
			);
		expect(made().files.map(({ path }) => path)).toEqual(['__proto__', 'a']);
		expect(Buffer.compare(zipOf(made()), zipOf(made()))).toBe(0);
	});
});
