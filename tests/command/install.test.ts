// A pack into a game and out again, as a program that others start: tried, narrowed down, with texts for players.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { digestsBelow } from '../attack/helpers';
import { writeBeacons } from '../games/beacons.mjs';
import { loadGame } from '../../standin/load.mjs';
import { madeByTool } from '../../src/lib/files';
import { kettle, root } from './kettle';

const work = mkdtempSync(join(tmpdir(), 'kettle-into-'));
const game = join(work, 'beacons');
const mod = join(work, 'bright');
const args = ['--target', game, '--pack', mod];
const start = ['--', process.execPath, join(root, 'tests/games/beacons.mjs')];
let before: Record<string, string>;

const lamp = (id: string, lamp: string) => JSON.stringify([{ id, lamp, height: 20, keepers: 2 }]);
beforeAll(() => {
	process.env.KETTLE_HOME = join(work, 'home');
	writeBeacons(game);
	writeFileSync(
		`${game}.guide.yaml`,
		`guide: 1
install:
  folder: Addons/{mod}
  order: Addons/enabled.txt
  listed: lines
  log: logs/boot.txt
  line: '^\\[\\d+:\\d+\\] (?<level>\\w+) (?<file>[^ (]+)(?:\\((?<line>\\d+)\\))? - (?<message>.*)$'
  refusals: [BAD]
`
	);
	for (const [path, text] of Object.entries({
		'data/beacons.json': lamp('north_gull', 'candle'),
		'data/lamps.json': '[]',
		'readme.txt': 'Brighter.\n'
	})) {
		mkdirSync(dirname(join(mod, path)), { recursive: true });
		writeFileSync(join(mod, path), text);
	}
	before = digestsBelow(game);
});
afterAll(() => rmSync(work, { recursive: true }));

const now = () => {
	const { ['logs/boot.txt']: _, ...others } = digestsBelow(game);
	return others;
};

test('tried: what the game says, and all as it was afterwards', async () => {
	const bad = await kettle('try', ...args, '--seconds', '4', '--json', ...start);
	expect(bad.said).toBe('');
	const run = JSON.parse(bad.out) as { clean: boolean; lines: { text: string; refusal: boolean }[] };
	expect(run.clean).toBe(false);
	expect(run.lines.filter(({ refusal }) => refusal).map(({ text }) => text)).toEqual([
		expect.stringContaining('no lamp candle')
	]);
	expect(bad.status).toBe(1);
	expect(now()).toEqual(before);
});

test('narrowed down to the file that does it', async () => {
	const found = await kettle(
		'narrow',
		...args,
		'--seconds',
		'1',
		'--line',
		'no lamp candle',
		'--json',
		...start
	);
	expect(JSON.parse(found.out)).toMatchObject({ none: null, causes: [['data/beacons.json']] });
	expect(found.status).toBe(0);
	const none = await kettle('narrow', ...args, '--seconds', '1', '--line', 'no such words', ...start);
	expect(none.out).toContain('It does not occur even with all of them.');
	expect(none.status).toBe(1);
	expect(now()).toEqual(before);
});

test('installed, verified, damaged, verified, removed', async () => {
	expect((await kettle('verify', ...args)).status).toBe(1);
	const done = await kettle('install', ...args);
	expect(done.out).toMatch(
		/new {2}Addons\/bright\/data\/beacons\.json\n[\s\S]*listed {2}Addons\/enabled\.txt/
	);
	expect(done.status).toBe(0);
	expect((await kettle('verify', ...args)).out).toBe('Whole: 4 files.\n');
	writeFileSync(join(game, 'Addons/bright/readme.txt'), 'dull');
	const verified = await kettle('verify', ...args);
	expect(verified.out).toContain('changed  Addons/bright/readme.txt');
	expect(verified.status).toBe(1);
	const removed = await kettle('remove', ...args);
	expect(removed.out).toContain('As it was, byte for byte: 4 files.');
	expect(readFileSync(/kept {2}(.+)\n/.exec(removed.out)![1]!, 'utf8')).toBe('dull');
	expect(removed.status).toBe(0);
	expect(now()).toEqual(before);
	expect((await kettle('remove', ...args)).status).toBe(2);
});

test('wrong calls say how it goes, and change nothing', async () => {
	for (const [call, words] of [
		[['install'], /Name the game’s folder and the pack/],
		[['install', '--target', join(work, 'none'), '--pack', mod], /There is no folder/],
		[['install', '--target', mod, '--pack', mod], /No field guide says where mods go/],
		[['try', ...args], /Name the program/],
		[['try', ...args, '--seconds', 'x', ...start], /takes a number above 0/],
		[['verify', '--target', game, '--pack', join(work, 'none.zip')], /There is no file or folder/]
	] as const) {
		const done = await kettle(...call);
		expect(done.status, call.join(' ')).toBe(2);
		expect(done.said).toMatch(words);
		expect(done.said.trim().split('\n')).toHaveLength(1);
	}
	expect(now()).toEqual(before);
});

test('a pack with texts for those who play it', async () => {
	const out = join(work, 'out');
	const game = ['--game', join(root, 'demo/base'), '--mod', join(root, 'demo/longline')];
	const packed = await kettle('pack', ...game, '--out', out, '--readme', '--changes', '--json');
	const { files } = JSON.parse(packed.out) as { files: { path: string; why: string }[] };
	expect(files).toContainEqual(expect.objectContaining({ path: 'README.md', why: 'derived' }));
	expect(readFileSync(join(out, 'CHANGES.md'), 'utf8')).toContain(
		'Kittiwake (cutter_04): Speed 21 → 24 (+14.3 %)'
	);
	expect(readFileSync(join(out, 'README.md'), 'utf8')).toContain('# Longline 0.3.0');
});

test('a list of digests that a mod brings: out of date the game keeps no honours, the pack has it right', async () => {
	const folder = join(work, 'sound');
	const mine = join(work, 'long');
	cpSync(join(root, 'demo/base'), folder, { recursive: true });
	cpSync(join(root, 'demo/longline'), mine, { recursive: true });
	writeFileSync(join(mine, 'digests.txt'), `${'0'.repeat(64)}  data/vessels.tsv\n`);
	const honours = (pack: string) => {
		rmSync(join(folder, 'mods'), { recursive: true, force: true });
		cpSync(pack, join(folder, 'mods/longline'), { recursive: true });
		writeFileSync(join(folder, 'load-order.json'), '{"mods":["longline"]}');
		return loadGame(folder).log.filter(
			({ message }) => message.includes('not the maker’s') || message.includes("not the maker's")
		);
	};
	expect(honours(mine)).toMatchObject([{ place: 'mods/longline/digests.txt:1' }]);
	const call = ['--game', join(root, 'demo/base'), '--mod', mine];
	expect((await kettle('check', ...call)).out).toContain('The list of digests is out of date from line 1 on');
	const out = join(work, 'listed');
	const packed = JSON.parse((await kettle('pack', ...call, '--out', out, '--json')).out) as {
		files: { path: string; why: string }[];
	};
	expect(packed.files).toContainEqual(expect.objectContaining({ path: 'digests.txt', why: 'derived' }));
	expect(honours(out)).toEqual([]);
	const listed = readFileSync(join(out, 'digests.txt'), 'utf8').trim().split('\n');
	expect(listed.length).toBe(packed.files.filter(({ path }) => /^(data|words)\//.test(path)).length);
});

test('a roster that a mod brings: the game says when it is wrong, a snag says so too, the pack has it right', async () => {
	const folder = join(work, 'rostered');
	const mine = join(work, 'crewed');
	cpSync(join(root, 'demo/base'), folder, { recursive: true });
	cpSync(join(root, 'demo/longline'), mine, { recursive: true });
	writeFileSync(join(mine, 'roster.txt'), 'cutter_04 3\nzeppelin_01 9\n');
	const told = (pack: string) => {
		rmSync(join(folder, 'mods'), { recursive: true, force: true });
		cpSync(pack, join(folder, 'mods/longline'), { recursive: true });
		writeFileSync(join(folder, 'load-order.json'), '{"mods":["longline"]}');
		return loadGame(folder).log.filter(({ message }) => message.includes('roster'));
	};
	expect(told(mine)).toMatchObject([{ level: 'WARN', place: 'mods/longline/roster.txt:1' }]);
	const call = ['--game', join(root, 'demo/base'), '--mod', mine];
	expect((await kettle('check', ...call)).out).toContain('The roster is out of date from line');
	const out = join(work, 'rostered-pack');
	expect((await kettle('pack', ...call, '--out', out)).out).toMatch(/derived +roster\.txt/);
	expect(told(out)).toEqual([]);
	// A line that was right has stayed.
	expect(readFileSync(join(out, 'roster.txt'), 'utf8')).toMatch(/^cutter_04 3\n/m);
});

test('a program that makes a file of the pack is run where one says so, on a copy', async () => {
	const words = ['--game', join(root, 'demo/base'), '--mod', join(root, 'demo/longline'), '--json'];
	const seal = async (...more: string[]) => {
		const done = await kettle('pack', ...words, '--out', join(work, 'sealed'), ...more);
		return { ...done, files: (JSON.parse(done.out) as { files: { path: string; why: string }[] }).files };
	};
	const without = await seal();
	expect(without.said).toMatch(
		/^seal\.txt is made by a program, which was not run: node .*seal\.mjs \{mod\}\./
	);
	expect(without.files.map(({ path }) => path)).not.toContain('seal.txt');
	const before = digestsBelow(join(root, 'demo/longline'));
	const made = await seal('--run-tools');
	expect(made.said).toBe('');
	expect(made.files).toContainEqual(expect.objectContaining({ path: 'seal.txt', why: 'derived' }));
	const data = Object.keys(digestsBelow(join(work, 'sealed/data')));
	expect(readFileSync(join(work, 'sealed/seal.txt'), 'utf8')).toMatch(new RegExp(`^${data.length} \\d+\n$`));
	expect(digestsBelow(join(root, 'demo/longline'))).toEqual(before);
});

test('a program that does not end is stopped, and one that makes nothing is told', async () => {
	const tool = (code: string) => ({
		folder: work,
		program: process.execPath,
		arguments: ['-e', code, '{mod}']
	});
	const files = new Map([['data/a', new TextEncoder().encode('1')]]);
	await expect(madeByTool(tool('setInterval(() => 0, 1e6)'), files, 'made.bin', 1000)).rejects.toThrow(
		'The program that makes made.bin did not end within 1 second and was stopped.'
	);
	await expect(madeByTool(tool('0'), files, 'made.bin')).rejects.toThrow(
		'there is no made.bin in the folder'
	);
	await expect(madeByTool(tool('0'), files, 'data/a')).resolves.toEqual(Buffer.from('1'));
});

test('an index lists records of kinds that were only detected, as the snag does', async () => {
	const folder = join(work, 'unknown');
	const mine = join(work, 'unknown-mod');
	for (const [path, text] of Object.entries({
		'unknown/buoys.json': JSON.stringify(
			['red', 'green', 'white', 'black'].map((id, at) => ({ id, light: at * 7 }))
		),
		'unknown.guide.yaml':
			"guide: 1\nderived:\n  - { file: index.txt, as: index, line: '{id}={field:light}' }\n",
		'unknown-mod/buoys.json': JSON.stringify([{ id: 'red', light: 9 }]),
		'unknown-mod/index.txt': 'red=0\n'
	})) {
		mkdirSync(dirname(join(work, path)), { recursive: true });
		writeFileSync(join(work, path), text);
	}
	const call = ['--game', folder, '--mod', mine];
	expect((await kettle('check', ...call)).out).toContain('`index.txt` is out of date from line 1');
	await kettle('pack', ...call, '--out', join(work, 'unknown-out'));
	expect(readFileSync(join(work, 'unknown-out/index.txt'), 'utf8')).toBe('red=9\n');
});
