// Names by scope: another name for a variable changes nothing that a script does, as Lua itself runs it.
import fc from 'fast-check';
import { LuaFactory } from 'wasmoon';
import { describe, expect, test } from 'vitest';
import { NotPossible, planFor, stackAfter } from '$core/edits';
import {
	assignedIn,
	NameFault,
	readNames,
	renamed,
	seenBy,
	usesIn,
	variableAt,
	variablesIn
} from '$core/scripts';
import { applySplices } from '$core/change';
import { fileContent } from '$core/stack';
import { stackOf } from './game';

const name = fc.constantFrom('a', 'b', 'c');
const expression = fc.oneof(
	name,
	fc.nat(9).map(String),
	fc.tuple(name, name).map(([x, y]) => `(${x} or 0) + (${y} or 1)`),
	name.map((x) => `({ ${x} = ${x} or 2 }).${x}`)
);
const { block } = fc.letrec<{ block: string; statement: string }>((tie) => ({
	block: fc.array(tie('statement'), { minLength: 1, maxLength: 4 }).map((list) => list.join('\n')),
	statement: fc.oneof(
		{ maxDepth: 3 },
		fc.tuple(name, expression).map(([x, value]) => `local ${x} = ${value}`),
		fc.tuple(name, expression).map(([x, value]) => `${x} = ${value}`),
		name.map((x) => `out(${x})`),
		fc.tuple(name, tie('block')).map(([x, inner]) => `do local ${x} = 5\n${inner}\nend`),
		fc.tuple(name, tie('block')).map(([x, inner]) => `for ${x} = 1, 2 do\n${inner}\nend`),
		fc
			.tuple(name, name, tie('block'))
			.map(([f, x, inner]) => `local function f_${f}(${x})\n${inner}\nend\nf_${f}(3)`),
		tie('block').map((inner) => `repeat local b = 1\n${inner}\nuntil b or true`)
	)
}));

describe('names in Lua', () => {
	test('law: a script with another name for one of its variables does the same', async () => {
		const lua = await new LuaFactory().createEngine({ injectObjects: false });
		const run = (code: string): unknown => {
			try {
				return lua.doStringSync(
					`local said = {} local env = { out = function(v) said[#said + 1] = tostring(v) end }
					local fine, why = pcall(load([==[${code}]==], "=x", "t", env))
					return table.concat(said, " ") .. (fine and "" or " stops")`
				);
			} catch (error) {
				return String(error);
			}
		};
		let done = 0;
		fc.assert(
			fc.property(block, fc.nat(), fc.constantFrom('fresh', 'a', 'b'), (code, which, to) => {
				const variables = variablesIn(code)!;
				const one = variables.filter((found) => found.name !== 'out' && found.at.length > 0);
				const wanted = one[which % Math.max(1, one.length)];
				if (!wanted || wanted.name === to) return;
				let next: string;
				try {
					next = applySplices(code, renamed(code, wanted, to));
				} catch (error) {
					// A name that means something else there is refused, a fresh one never.
					expect(error).toBeInstanceOf(NameFault);
					expect(to).not.toBe('fresh');
					return;
				}
				done++;
				expect(run(next)).toBe(run(code));
			}),
			{ numRuns: 400 }
		);
		expect(done).toBeGreaterThan(100);
		lua.global.close();
	});
	test('the place of a name tells which variable it is', () => {
		const code = 'local a = 1\ndo local a = 2; out(a) end\nfunction t:go() return self.a end\nout(a)\n';
		const variables = variablesIn(code)!;
		expect(variables.filter(({ name }) => name === 'a').map(({ at }) => at.length)).toEqual([2, 2]);
		expect(variableAt(variables, code.indexOf('out(a) end') + 4)!.at.length).toBe(2);
		expect(variablesIn('x = = 1')).toBe(null);
		for (const bad of ['2x', 'x y', 'end', ''])
			expect(() => renamed(code, variables[0]!, bad)).toThrow(NameFault);
	});
	test('a global one is renamed in every script; what the game may ask for is said', () => {
		const stack = stackOf(
			{},
			{
				'scripts/tide.lua':
					'function tide(hour)\n\treturn hour\nend\nfunction on_hour(hour)\n\tlocal level = tide(hour)\n\tsay(level, "tide")\nend\n',
				'scripts/ebb.lua': 'function ebb(hour)\n\treturn -tide(hour) -- tide\nend\n'
			}
		);
		const asked = (line: number, column: number, expected: string, to: string) =>
			planFor(stack, { do: 'variable', path: 'scripts/tide.lua', line, column, expected, to }, 'm');
		const plan = asked(5, 16, 'tide', 'level_of_sea');
		const after = stackAfter(stack, plan);
		const text = (path: string) => (fileContent(after.mine!.files.get(path)!) as { text: string }).text;
		expect(text('scripts/ebb.lua')).toBe('function ebb(hour)\n\treturn -level_of_sea(hour) -- tide\nend\n');
		expect(text('scripts/tide.lua')).toContain('local level = level_of_sea(hour)\n\tsay(level, "tide")');
		expect(plan.title).toBe('Rename tide to level_of_sea in 2 scripts');
		const event = asked(4, 10, 'on_hour', 'each_hour');
		expect(event.notes.join(' ')).toContain('The game may ask for “on_hour” by this name');
		const local = asked(5, 8, 'level', 'height');
		expect(local.changes.map(({ path }) => path)).toEqual(['scripts/tide.lua']);
		expect(() => asked(5, 8, 'level', 'say')).toThrow(NotPossible);
		expect(() => asked(1, 10, 'tide', 'ebb')).toThrow(/already used in scripts\/ebb.lua/);
		expect(() => asked(5, 8, 'tide', 'x')).toThrow(/There is no name “tide”/);
	});
});

describe('where a name is used', () => {
	const code = `range = 2 -- range of the tide
local low = 1
function tide(hour)
	local range = 3
	return range * low
end
function ebb(hour)
	say("range", range, log.range)
	return low + (range
		- range)
end
`;

	test('what a line gives a value', () => {
		expect(assignedIn('range = 2')).toEqual({ name: 'range', at: 0 });
		expect(assignedIn('\tlocal low = 1')).toEqual({ name: 'low', at: 7 });
		for (const line of ['range == 2', 'boat.speed = 2', 'say("a = 2")', 'if range = 2'])
			expect(assignedIn(line), line).toBe(null);
	});

	test('by the scopes of Lua: another variable of the name is another one', () => {
		const script = readNames(code);
		expect(usesIn(script, 'range', 0)).toEqual([1, 8, 9, 10]);
		expect(usesIn(script, 'range', code.indexOf('range = 3'))).toEqual([4, 5]);
		expect(usesIn(script, 'low', code.indexOf('low = 1'))).toEqual([2, 5, 9]);
		// Seen from another script: the global one only.
		expect(usesIn(script, 'range', null)).toEqual([1, 8, 9, 10]);
		expect(usesIn(script, 'low', null)).toEqual([]);
	});

	test('a key of a table is no variable, however it looks', () => {
		const table = 'range = 2\nboat = {\n\trange = 3,\n\tlow = range\n}\nlocal low = 1\n';
		const script = readNames(table);
		expect(seenBy(script, 0)).toBe('all');
		expect(seenBy(script, table.indexOf('range = 3'))).toBe(null);
		expect(seenBy(script, table.indexOf('low = 1'))).toBe('part');
		expect(usesIn(script, 'range', 0)).toEqual([1, 4]);
	});

	test('by the word where the script is no Lua or has a fault', () => {
		const script = readNames(`${code}end)\n`);
		expect(script.variables).toBe(null);
		expect(usesIn(script, 'range', 0)).toEqual([1, 4, 5, 8, 9, 10]);
	});
});
