// Scripts tried without the game: what comes of them, the same with the same seed, no way out, and an end to everything.
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { thrown, ThrowFault } from '../../src/lib/files';
import type { Throw, ThrowValue } from '$core/scripts';
import { useDemo } from './helpers';

const machine = join(import.meta.dirname, '../../build/thrower.js');
const { page: thePage, at, said, faults, server } = useDemo();

/** Tries one script of its own. */
const tried = (text: string, more: Partial<Throw> = {}, most = 20_000) =>
	thrown(
		machine,
		{
			name: 'go',
			args: [],
			sources: new Map([['a.lua', text]]),
			entries: ['a.lua'],
			loader: null,
			loads: new Map(),
			game: new Map<string, ThrowValue>([
				['say', null],
				['give', null]
			]),
			seed: 1,
			times: 1,
			steps: 1_000_000,
			...more
		},
		most
	);

/** Ways by which a script could reach what is not its own. */
const WAYS_OUT = [
	'io',
	'io.open("/etc/passwd")',
	'os',
	'os.getenv("HOME")',
	'os.execute("id")',
	'os.time()',
	'os.clock()',
	'require',
	'require("fs")',
	'package',
	'package.loadlib',
	'dofile',
	'loadfile',
	'debug',
	'debug.getregistry()',
	'debug.sethook()',
	'collectgarbage',
	'js',
	'js.global',
	'window',
	'globalThis',
	'process',
	'fetch',
	'null',
	'string.dump',
	'_G.io',
	'_G.debug',
	'_ENV.os',
	'getmetatable("")',
	'getmetatable("").__index',
	'getmetatable(print)',
	'load("return io")()',
	'load("return os", "x", "t", nil)()',
	'load(function() return "return 1" end)',
	'loadstring("return debug")()',
	'load("\\27Lua")',
	'setmetatable({}, { __index = _G }).io',
	'pcall(require, "fs") and require or nil',
	'coroutine.wrap(function() return os end)()',
	'SOURCES',
	'GAME',
	'LIBRARIES',
	'hook'
];

describe('a script in its machine', () => {
	test('says what it returns, prints, calls and changes', async () => {
		const { first } = await tried(
			'count = 0\nfunction go(boat, hour)\n\tcount = count + 1\n\tprint("at", hour)\n\tgive(boat, "cook", 1)\n\treturn hour * 2, { a = "x" }\nend\n',
			{ args: [{ id: 'tern', speed: 3 }, 12], shown: ['Tern', null] }
		);
		expect(first).toEqual({
			fault: null,
			unloaded: [],
			returned: ['24', '{ a = "x" }'],
			printed: ['at  12'],
			calls: ['give(Tern, "cook", 1)'],
			changed: [{ name: 'count', before: '0', after: '1' }]
		});
	});
	test('an effect at chance 0.05 comes in about one of twenty throws, and the same with the same seed', async () => {
		const text = 'function go()\n\tif math.random() < 0.05 then say("rare") end\nend\n';
		const [one, same, other] = await Promise.all([
			tried(text, { times: 2000, seed: 5 }),
			tried(text, { times: 2000, seed: 5 }),
			tried(text, { times: 2000, seed: 90_001 })
		]);
		expect(one).toEqual(same);
		for (const { shares } of [one, other]) {
			expect(shares.reduce((sum, { count }) => sum + count, 0)).toBe(2000);
			// Three and a half standard deviations of a binomial distribution.
			const rare = shares.find(({ outcome }) => outcome === 'say("rare")')!.count / 2000;
			expect(Math.abs(rare - 0.05)).toBeLessThan(3.5 * Math.sqrt((0.05 * 0.95) / 2000));
		}
	});
	test('each throw begins in a world of its own', async () => {
		const { shares } = await tried('n = 0\nfunction go() n = n + 1; string.x = n; return n, string.x end\n', {
			times: 50
		});
		expect(shares).toEqual([{ outcome: 'returns 1, 1', count: 50 }]);
	});
	test('reaches nothing of the host: forty ways out, each of them shut', async () => {
		expect(WAYS_OUT.length).toBeGreaterThanOrEqual(40);
		const text = `function go()\n${WAYS_OUT.map((way, nth) => `\tlocal fine, value = pcall(function() return ${way} end)\n\tif fine and value ~= nil then say(${nth}) end`).join('\n')}\nend\n`;
		const { first } = await tried(text);
		expect(first.fault).toBe(null);
		expect(first.calls.map((call) => WAYS_OUT[Number(/\d+/.exec(call)![0])])).toEqual([]);
	});
	test('comes to an end: loops, memory, depth, patterns, whatever it catches', async () => {
		const ends: [string, RegExp][] = [
			['while true do end', /steps/],
			['local s = "x" while true do s = s .. s end', /memory/],
			['string.rep("x", 2^31)', /memory|too large/],
			['local t = {} for n = 1, 1e9 do t[n] = { n } end', /memory|steps/],
			['local function f() return 1 + f() end return f()', /overflow|steps/],
			['error("enough")', /enough/],
			['error({})', /table/]
		];
		for (const [body, why] of ends) {
			const outcome = await tried(`function go()\n${body}\nend\n`).then(
				({ first }) => first.fault ?? 'nothing',
				(fault: ThrowFault) => fault.message
			);
			expect(outcome, body).toMatch(why);
		}
		// What catches even the end of its steps, or never comes back to the machine, is ended with its process.
		for (const body of [
			'while true do pcall(function() while true do end end) end',
			'coroutine.wrap(function() while true do end end)()',
			'string.find(string.rep("a", 30000), string.rep("a*", 30) .. "b")'
		]) {
			const outcome = await tried(`function go()\n${body}\nend\n`, {}, 1500).then(
				({ first }) => first.fault ?? 'nothing',
				(fault: ThrowFault) => fault.message
			);
			expect(outcome, body).toMatch(/did not finish within 1.5 s|steps|too complex/);
		}
	});
	test('a script that cannot be loaded says so, and the others are still there', async () => {
		const { first } = await tried('', {
			sources: new Map([
				['main.lua', 'run("one")\nrun("two")\nrun("three")\n'],
				['one.lua', 'x = = 1\n'],
				['two.lua', 'function go() return 2 end\n']
			]),
			entries: ['main.lua'],
			loader: 'run',
			loads: new Map([
				[
					'main.lua',
					new Map([
						['one', 'one.lua'],
						['two', 'two.lua']
					])
				]
			])
		});
		expect(first.returned).toEqual(['2']);
		expect(first.unloaded.map(({ path, fault }) => [path, fault.slice(0, 16)])).toEqual([
			['one.lua', 'one.lua:1: unexp'],
			['main.lua', 'main.lua:3: ther']
		]);
	});
});

test('an event of the demo is tried a thousand times, with my change beside it', async () => {
	const page = thePage();
	const words = (await (
		await fetch(`${server().address}/p/gannet-sound/api/text/scripts/tide.lua`)
	).json()) as { text: string; from: string };
	const text = words.text.replace(
		'function on_hour(boat, hour)\n',
		'function on_hour(boat, hour)\n\tif boat.id == "cutter_04" and math.random() < 0.05 then give(boat, "cook", 1) end\n'
	);
	await fetch(`${server().address}/p/gannet-sound/api/apply`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server().address },
		body: JSON.stringify({ intention: { do: 'text', path: 'scripts/tide.lua', text, from: words.from } })
	});
	await at('scripts');
	await page
		.getByRole('listitem', { name: 'on_hour', exact: true })
		.getByRole('link', { name: 'Try it' })
		.click();
	const form = page.getByRole('form', { name: 'What it gets' });
	await form.getByLabel('boat: pick a vessel').fill('Kittiwake');
	await page.getByRole('option', { name: /Kittiwake/ }).click();
	await form.getByText('Kittiwake').waitFor();
	await form.getByLabel('hour').fill('3');
	await form.getByRole('button', { name: 'Try it', exact: true }).click();
	await page.getByRole('region', { name: 'With my mod' }).getByText('say("log.tide.high")').waitFor();
	await form.getByRole('button', { name: 'Try it 1,000 times' }).click();
	const shares = page.getByRole('region', { name: /^2 outcomes in 1,000 runs/ });
	await shares.getByText('give(Kittiwake, "cook", 1); say("log.tide.high")').waitFor();
	const rare = shares.getByRole('listitem').filter({ hasText: 'give(' });
	const [without, mine] = (await rare.innerText()).match(/[\d.]+ ?%/g)!.map((share) => parseFloat(share));
	expect(without).toBe(0);
	expect(mine).toBeGreaterThan(2);
	expect(mine).toBeLessThan(9);
	await page.getByRole('button', { name: /^Undo: / }).click();
	await said('Undone: Edit scripts/tide.lua');
});

test('a record that my mod changes is tried as it was and as it is; odd names are plain values', async () => {
	const post = async (body: object) => {
		const answer = await fetch(`${server().address}/p/gannet-sound/api/try`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: server().address },
			body: JSON.stringify({ name: 'on_hour', args: [], returns: {}, seed: 1, times: 1, ...body })
		});
		return (await answer.json()) as { mine: object; below: object | null; message?: string };
	};
	// The demo's mod changes cutter_04 and no script.
	expect((await post({ args: [{ kind: 'vessel', id: 'cutter_04' }, { value: '3' }] })).below).not.toBe(null);
	expect((await post({ args: [{ kind: 'vessel', id: 'cutter_05' }, { value: '3' }] })).below).toBe(null);
	expect((await post({ args: [{ kind: 'vessel', id: 'nowhere' }] })).message).toMatch(
		/No record of the kind “vessel” has the id/
	);
});

test('no page had a fault of its own', () => expect(faults).toEqual([]));
