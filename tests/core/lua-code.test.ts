// Faults in Lua code are those that Lua itself has, at the same line: judged by the real one, compiled to WebAssembly.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { LuaFactory } from 'wasmoon';
import { describe, expect, test } from 'vitest';
import { readDocument } from '$core/formats';

const FOLDER = join(import.meta.dirname, '../../demo/base/scripts');

/** What Lua says of a script before it runs: the line of its fault, or null. */
async function judge(): Promise<(text: string) => number | null> {
	const lua = await new LuaFactory().createEngine();
	await lua.doString('function judge(text) local run, fault = load(text, "=x") return fault or "" end');
	const call = lua.global.get('judge') as (text: string) => string;
	return (text) => {
		const said = call(text);
		// Of a jump that leads nowhere it names the line of the jump last.
		return said === ''
			? null
			: Number(
					(/(?:(?:break|goto|label).*|starting) at line (\d+)/.exec(said) ?? /^x:(\d+):/.exec(said))?.[1] ?? 0
				);
	};
}

const name = fc.constantFrom('boat', 'hour', 'tide', 'x', 'on_hour', 'log');
const expression: fc.Arbitrary<string> = fc.letrec<{ value: string }>((tie) => ({
	value: fc.oneof(
		{ depthSize: 'small', withCrossShrink: true },
		name,
		fc.integer({ min: 0, max: 99 }).map(String),
		fc.constantFrom('"words"', 'nil', 'true', '1.5', '0x1F', '[[long]]', "'a'"),
		fc
			.tuple(tie('value'), fc.constantFrom('+', '*', '..', '<', '==', 'and'), tie('value'))
			.map((all) => all.join(' ')),
		fc.tuple(name, tie('value')).map(([call, value]) => `${call}(${value})`),
		tie('value').map((value) => `{ a = ${value}, 2 }`),
		tie('value').map((value) => `(${value})`),
		tie('value').map((value) => `function(n) return ${value} end`)
	)
})).value;
const block: fc.Arbitrary<string> = fc.letrec<{ lines: string }>((tie) => ({
	lines: fc
		.array(
			fc.oneof(
				{ depthSize: 'small', withCrossShrink: true },
				fc.tuple(name, expression).map(([to, value]) => `local ${to} = ${value}`),
				fc.tuple(name, expression).map(([to, value]) => `${to}.field = ${value}`),
				fc.tuple(name, expression).map(([call, value]) => `${call}(${value})`),
				fc.tuple(expression, tie('lines')).map(([test, inner]) => `if ${test} then\n${inner}\nend`),
				fc.tuple(name, tie('lines')).map(([call, inner]) => `function ${call}(a, b)\n${inner}\nend`),
				tie('lines').map((inner) => `for n = 1, 3 do\n${inner}\nend`),
				tie('lines').map((inner) => `while boat do\n${inner}\nbreak\nend`),
				fc.constantFrom('-- a remark', '--[[ a\nlong one ]]', 'local c <const> = 3')
			),
			{ minLength: 1, maxLength: 5 }
		)
		.map((lines) => lines.join('\n'))
})).lines;

describe('a script', () => {
	test('of the demo is loaded, and nothing is said of it', async () => {
		const lua = await judge();
		for (const file of readdirSync(FOLDER)) {
			const text = readFileSync(join(FOLDER, file), 'utf8');
			expect(lua(text), file).toBe(null);
			expect(readDocument(file, text)!.problems, file).toEqual([]);
		}
	});
	test('whole or with a piece cut out or put in, has a fault where Lua has one, at that line or the one before', async () => {
		const lua = await judge();
		let [whole, broken] = [0, 0];
		fc.assert(
			fc.property(
				block,
				fc.nat(),
				fc.nat(6),
				fc.constantFrom('', '', 'end ', 'then ', ') ', '= ', '"', '}', 'if ', ', '),
				fc.boolean(),
				(text, at, cut, put, asItIs) => {
					const place = at % (text.length + 1);
					const code = `function on_enter(boat)\n${asItIs ? text : text.slice(0, place) + put + text.slice(place + cut)}\nend\n`;
					const line = lua(code);
					const found = readDocument('x.lua', code)!.problems;
					if (line === null) whole++;
					else broken++;
					expect(found.length, JSON.stringify([code, found])).toBe(line === null ? 0 : 1);
					if (line === null) return;
					expect([line, line - 1], JSON.stringify([code, found])).toContain(found[0]!.line);
					expect(found[0]!.message).not.toMatch(/undefined|<eof>|not valid Lua: /);
				}
			),
			{ numRuns: 400 }
		);
		expect(Math.min(whole, broken)).toBeGreaterThan(80);
	});
	test('says in words what is wrong', () => {
		const said = (text: string) =>
			readDocument('x.lua', text)!.problems.map(({ line, message }) => [line, message]);
		expect(said('function f()\n  if a then\nend\n')).toEqual([
			[4, 'An “end” is missing: a function, if, for or while is never closed.']
		]);
		expect(said('function f()\n  x = = 3\nend\n')).toEqual([[2, 'A value is missing before “=”.']]);
		expect(said('if a\n  b()\nend\n')).toEqual([[2, '“then” is missing before “b”.']]);
	});
});
