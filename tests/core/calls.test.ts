// Calls, numbers, texts and pages in scripts, beside Lua's own grammar as luaparse reads it.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { parse } from 'luaparse';
import { describe, expect, test } from 'vitest';
import { planFor, NotPossible, stackAfter } from '$core/edits';
import {
	callsIn,
	inShownOrder,
	literalAs,
	LiteralFault,
	literalsIn,
	pagesIn,
	quotedLike
} from '$core/scripts';
import { markedUp } from '$core/text';
import { fileContent } from '$core/stack';
import { GUIDE, stackOf } from './game';

interface Node {
	type: string;
	range: [number, number];
	raw?: string;
	[name: string]: unknown;
}

/** All nodes of a tree. */
function* nodes(of: unknown): Generator<Node> {
	if (typeof of !== 'object' || of === null) return;
	if (Array.isArray(of)) {
		for (const one of of) yield* nodes(one);
		return;
	}
	if (typeof (of as Node).type === 'string') yield of as Node;
	for (const [name, one] of Object.entries(of)) if (name !== 'range' && name !== 'loc') yield* nodes(one);
}

const treeOf = (code: string) => [
	...nodes(parse(code, { ranges: true, luaVersion: '5.3', encodingMode: 'none', comments: false }))
];

/** Numbers and texts as luaparse finds them. */
const expectedLiterals = (code: string) =>
	treeOf(code)
		.filter(({ type }) => type === 'NumericLiteral' || type === 'StringLiteral')
		.map(({ range }) => range)
		.sort(([a], [b]) => a - b);

/** Calls by brackets of a plain name, as luaparse finds them. */
const expectedCalls = (code: string, name: string) =>
	treeOf(code)
		.filter(
			({ type, base }) =>
				type === 'CallExpression' &&
				(base as Node).type === 'Identifier' &&
				(base as { name?: string }).name === name
		)
		.map(({ range }) => range)
		.sort(([a], [b]) => a - b);

const text = fc.string({ maxLength: 12 }).map((one) => one.replace(/[\r\0]/g, ''));
const value: fc.Arbitrary<string> = fc.oneof(
	fc.nat(999).map(String),
	fc.constantFrom(
		'1.5',
		'0x1F',
		'.5',
		'3e-2',
		'2.',
		'nil',
		'true',
		'count',
		'{ a = 1, "b" }',
		'f("x", 2)',
		'-4',
		'x - 1'
	),
	text.map((one) => quotedLike(one, '"')),
	text.map((one) => quotedLike(one, "'")),
	text.map((one) => (/\]/.test(one) ? '"x"' : quotedLike(`a${one}`, '[[')))
);
const statement: fc.Arbitrary<string> = fc.oneof(
	value.map((one) => `local a1 = ${one}`),
	fc.tuple(value, value).map(([a, b]) => `page(${a}, ${b})`),
	fc.tuple(value, value).map(([a, b]) => `book.page(\n\t${a},\n\t${b} -- page("no", 1)\n)`),
	text.map((one) => `-- page("${one.replace(/\n/g, ' ')}", 3)`),
	fc.constant('--[[ page("no", 4)\n"7" ]]'),
	value.map((one) => `if a1 == ${one} then page(page(1), "in") end`),
	fc.constant('local s = a1 .. 2 .. "x"')
);
const script = fc
	.array(fc.tuple(fc.boolean(), statement), { maxLength: 12 })
	.map((list) =>
		list.map(([inside, one], nth) => (inside ? `function go_${nth}(n)\n\t${one}\nend` : one)).join('\n')
	);

describe('beside luaparse', () => {
	test('numbers and texts are found where it finds them, and none else', () => {
		fc.assert(
			fc.property(script, (code) => {
				expect(literalsIn(code).map(({ from, to }) => [from, to])).toEqual(expectedLiterals(code));
			}),
			{ numRuns: 400 }
		);
	});
	test('calls are found where it finds them, with their arguments', () => {
		fc.assert(
			fc.property(script, (code) => {
				const found = callsIn(code, 'page');
				expect(found.map(({ from, to }) => [from, to])).toEqual(expectedCalls(code, 'page'));
				for (const call of found)
					for (const one of call.arguments)
						if (one.text !== null)
							expect(literalsIn(code).find(({ from }) => from === one.from)!.value).toBe(one.text);
			}),
			{ numRuns: 400 }
		);
	});
	test('the scripts of the demo likewise', () => {
		const folder = join(import.meta.dirname, '../../demo/base/scripts');
		for (const name of readdirSync(folder)) {
			const code = readFileSync(join(folder, name), 'utf8');
			expect(
				literalsIn(code).map(({ from, to }) => [from, to]),
				name
			).toEqual(expectedLiterals(code));
			for (const call of ['say', 'give', 'seen', 'page', 'load_script'])
				expect(
					callsIn(code, call).map(({ from, to }) => [from, to]),
					name
				).toEqual(expectedCalls(code, call));
		}
	});
	test('what is written is read back, in any quotes', () => {
		fc.assert(
			fc.property(fc.string({ unit: 'binary' }), fc.constantFrom('"', "'", '[[', '[==['), (said, like) => {
				const written = quotedLike(said, like);
				const [only, ...more] = literalsIn(`x = ${written}`);
				// A line break of another machine is one line break in long brackets, as in Lua itself.
				const wanted = written.startsWith('[') ? said.replace(/\r\n?/g, (end) => end) : said;
				expect([only?.value, more.length]).toEqual([wanted, 0]);
			}),
			{ numRuns: 500 }
		);
		expect(literalsIn('x = "\\195\\164\\\\065\\x41\\u{e4}\\z   b"')[0]!.value).toBe('ä\\065Aäb');
		// Two slashes divide in Lua, and begin a comment elsewhere; a text goes on in the next line behind `\\z`.
		const raw = (code: string) => literalsIn(code).map((one) => one.raw);
		expect(raw('local day = hours // 24 - 1\n')).toEqual(['24', '1']);
		expect(raw('let day = 3; // 24 hours\nlet name = "x";\n')).toEqual(['3', '"x"']);
		expect(raw("local said = 'one, \\z\n   it isn''t' .. 2\n".replace("''", "\\'"))).toEqual([
			"'one, \\z\n   it isn\\'t'",
			'2'
		]);
		expect(literalsIn('local said = "one, \\z\n   two"\n')[0]!.value).toBe('one, two');
	});
});

const TIDE = `-- The tide.
function tide(hour)
	return 1.6 * math.sin(hour / 12.4)
end

function on_hour(boat, hour)
	if tide(hour) < -1.2 then say("low") end
end
`;

describe('a number or a text in a function', () => {
	test('has its function and its line around it, and is set alone', () => {
		expect(literalsIn(TIDE).map(({ raw, in: inside, line }) => [raw, inside, line])).toEqual([
			['1.6', 'tide', 3],
			['12.4', 'tide', 3],
			['1.2', 'on_hour', 7],
			['"low"', 'on_hour', 7]
		]);
		const [first] = literalsIn(TIDE);
		expect(first!.around.slice(first!.at, first!.at + 3)).toBe('1.6');
		const stack = stackOf({}, { 'scripts/tide.lua': TIDE });
		const plan = planFor(
			stack,
			{
				do: 'literal',
				path: 'scripts/tide.lua',
				nth: 0,
				value: '2',
				expected: '1.6'
			},
			'm'
		);
		const after = stackAfter(stack, plan);
		const file = fileContent(after.mine!.files.get('scripts/tide.lua')!);
		expect((file as { text: string }).text).toBe(TIDE.replace('1.6', '2'));
		expect(() =>
			planFor(stack, { do: 'literal', path: 'scripts/tide.lua', nth: 0, value: 'two', expected: '1.6' }, 'm')
		).toThrow(NotPossible);
		expect(() =>
			planFor(stack, { do: 'literal', path: 'scripts/tide.lua', nth: 0, value: '2', expected: '1.5' }, 'm')
		).toThrow(/was changed/);
	});
	test('law: a literal that is set reads as what was set, and nothing else changes', () => {
		fc.assert(
			fc.property(script, fc.nat(), fc.string(), (code, which, said) => {
				const all = literalsIn(code);
				if (all.length === 0) return;
				const one = all[which % all.length]!;
				const wanted = one.of === 'number' ? '-7.5' : said.replace(/\r/g, '');
				const insert = literalAs(code, one, wanted);
				const next = code.slice(0, one.from) + insert + code.slice(one.to);
				const read = literalsIn(next);
				expect(read.length).toBe(all.length);
				expect(read[one.nth]!.value).toBe(one.of === 'number' ? '7.5' : wanted);
				expect(read.filter(({ nth }) => nth !== one.nth).map(({ raw }) => raw)).toEqual(
					all.filter(({ nth }) => nth !== one.nth).map(({ raw }) => raw)
				);
				parse(next, { luaVersion: '5.3' });
			}),
			{ numRuns: 300 }
		);
		expect(() => literalAs('x = 1', literalsIn('x = 1')[0]!, '1; os.exit()')).toThrow(LiteralFault);
	});
});

describe('pages of text', () => {
	const guides = [{ call: 'page', title: 1, text: 2, reversed: true }];
	const book = `-- Pages.
page("one", "**A** first.")
page('two', 'B "second".')
page("three", [[C third.]])
say("x")
`;
	const stack = stackOf(
		{},
		{ 'scripts/book.lua': book },
		`${GUIDE}pages:\n  - { call: page, title: 1, text: 2, reversed: true }\n`
	);
	const shown = (code: string) =>
		inShownOrder(pagesIn(code, guides), guides).map(({ title, text }) => `${title}: ${text}`);
	const done = (asked: Record<string, unknown>) => {
		const plan = planFor(stack, { do: 'page', path: 'scripts/book.lua', ...asked } as never, 'm');
		return (fileContent(stackAfter(stack, plan).mine!.files.get('scripts/book.lua')!) as { text: string })
			.text;
	};
	test('are read in the order of the game, and written in their own style', () => {
		expect(shown(book)).toEqual(['three: C third.', 'two: B "second".', 'one: **A** first.']);
		expect(done({ nth: 1, how: 'set', text: "It's new" })).toBe(
			book.replace('\'B "second".\'', "'It\\'s new'")
		);
		expect(done({ nth: 2, how: 'set', title: 'drei', text: 'D' })).toBe(
			book.replace('"three", [[C third.]]', '"drei", [[D]]')
		);
	});
	test('are added before and after what players see, moved, and removed', () => {
		const before = done({ nth: 1, how: 'before', title: 'new', text: 'N' });
		expect(shown(before).map((one) => one.split(':')[0])).toEqual(['three', 'new', 'two', 'one']);
		const behind = done({ nth: 0, how: 'behind', title: 'last', text: 'L' });
		expect(shown(behind).map((one) => one.split(':')[0])).toEqual(['three', 'two', 'one', 'last']);
		expect(shown(done({ nth: 2, how: 'later' })).map((one) => one.split(':')[0])).toEqual([
			'two',
			'three',
			'one'
		]);
		expect(done({ nth: 1, how: 'remove' })).toBe(book.replace("page('two', 'B \"second\".')\n", ''));
		expect(() => done({ nth: 2, how: 'earlier' })).toThrow(/already the first/);
		expect(() => done({ nth: 9, how: 'set', text: 'x' })).toThrow(/no page 10/);
		expect(() => done({ nth: 0, how: 'set', text: 'x', expected: 'other' })).toThrow(/was changed/);
	});
	test('are shown without their marks', () => {
		const marks = [
			{ open: '**', close: '**', shows: 'strong' as const },
			{ open: '<i>', close: '</i>', shows: 'emphasis' as const }
		];
		expect(markedUp('a **b <i>c</i>** d ** e', marks)).toEqual([
			{ text: 'a ', shows: [] },
			{ text: 'b ', shows: ['strong'] },
			{ text: 'c', shows: ['strong', 'emphasis'] },
			{ text: ' d ** e', shows: [] }
		]);
	});
});
