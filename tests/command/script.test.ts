// Scripts by the command: their faults, and what an event does without the game.
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { kettle, program } from './kettle';

const BASE = join(import.meta.dirname, '../../demo/base');

/** A folder with some files. */
function folderOf(files: Record<string, string>): string {
	const folder = mkdtempSync(join(tmpdir(), 'kettle-scripts-'));
	for (const [path, text] of Object.entries(files)) {
		mkdirSync(join(folder, path, '..'), { recursive: true });
		writeFileSync(join(folder, path), text);
	}
	return folder;
}

describe('kettle script check', () => {
	test('the demo has none; a fault has its file, line and column', async () => {
		const none = await kettle('script', 'check', BASE, '--json');
		expect([none.status, JSON.parse(none.out)]).toEqual([0, { faults: [] }]);
		const folder = folderOf({
			'a/one.lua': 'x = 1\ny = = 2\n',
			'two.lua': 'function go()\n',
			'three.txt': 'x = = 1'
		});
		const some = await kettle('script', 'check', folder, '--json');
		expect(some.status).toBe(1);
		expect(JSON.parse(some.out)).toEqual({
			faults: [
				{
					file: join(folder, 'a/one.lua'),
					line: 2,
					column: 5,
					message: 'A value is missing here, or this is not a Lua value.'
				},
				{
					file: join(folder, 'two.lua'),
					line: 2,
					column: 1,
					message: 'An “end” is missing: a function, if, for or while is never closed.'
				}
			]
		});
		const plain = await kettle('script', 'check', join(folder, 'a/one.lua'));
		expect(plain.out).toBe(
			`${join(folder, 'a/one.lua')}:2:5 A value is missing here, or this is not a Lua value.\n1 script, 1 fault\n`
		);
	});
});

describe('kettle script try', () => {
	test('what an event returns, prints and calls, a record given by kind and id', () => {
		const mod = folderOf({
			'scripts/tide.lua':
				'function on_hour(boat, hour)\n\tprint(boat.id, hour)\n\tif math.random() < 0.05 then give(boat, "cook", 1) end\n\treturn boat.speed > 5\nend\n',
			'mod.json': '{ "name": "m", "title": "M", "version": "1", "gameVersion": "1.4" }\n'
		});
		const call = ['script', 'try', '--game', BASE, '--mod', mod, 'on_hour', 'vessel:cutter_04', '3'];
		const one = program(...call, '--times', '2000', '--seed', '7', '--json');
		const said = JSON.parse(one.out) as {
			times: number;
			returns: object[];
			prints: string[];
			calls: { name: string; arguments: string; times: number }[];
			fault: null;
		};
		expect([one.status, said.times, said.returns, said.prints, said.fault]).toEqual([
			0,
			2000,
			[{ value: 'true', share: 1 }],
			['cutter_04  3'],
			null
		]);
		const [gave] = said.calls;
		expect([gave!.name, gave!.arguments]).toEqual(['give', 'Kittiwake, "cook", 1']);
		expect(Math.abs(gave!.times / 2000 - 0.05)).toBeLessThan(3.5 * Math.sqrt((0.05 * 0.95) / 2000));
		expect(program(...call, '--times', '2000', '--seed', '7', '--json').out).toBe(one.out);
	});
	test('what stops it is told with its place; what is not there, and a wrong call, too', async () => {
		const mod = folderOf({ 'scripts/tide.lua': 'function on_hour(boat, hour)\n\treturn boat.id.x.y\nend\n' });
		const broken = program('script', 'try', BASE, 'on_hour', '3', '--mod', mod, '--json');
		expect([broken.status, JSON.parse(broken.out).fault]).toEqual([
			1,
			{ file: 'scripts/tide.lua', line: 2, message: expect.stringContaining('attempt to index') }
		]);
		const nobody = program('script', 'try', BASE, 'on_nothing', '--json');
		expect([nobody.status, JSON.parse(nobody.out).fault.message]).toEqual([
			1,
			'no script defines on_nothing'
		]);
		for (const words of [
			['script'],
			['script', 'run'],
			['script', 'try', BASE],
			['script', 'try', BASE, 'on_hour', '--times', 'many'],
			['script', 'try', BASE, 'on_hour', 'vessel:no_such'],
			['script', 'check'],
			['script', 'check', join(BASE, 'nowhere')]
		]) {
			const { status, out, said } = await kettle(...words);
			expect([status, out, said.trim().split('\n').length], words.join(' ')).toEqual([2, '', 1]);
		}
	});
});
