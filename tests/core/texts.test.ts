// Texts edited as texts: what leads from one to another line by line, whose line ends stay, and how it becomes a plan.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	applyPlan,
	applySplices,
	bytesOf,
	invertPlan,
	splicesBetween,
	joinedTexts,
	withOwnEnds
} from '$core/change';
import { NotPossible, planFor, stackAfter, type Intention } from '$core/edits';
import { decode, digestOf } from '$core/text';
import { fileContent } from '$core/stack';
import { stackOf } from './game';

const line = fc.oneof(
	fc.constantFrom('', 'a', 'b', 'a = 1', '\tb = 2', 'end', 'ä€𝄞', '}'),
	fc.string({ maxLength: 8 }).map((text) => text.replace(/[\r\n]/g, ''))
);
const END = fc.constantFrom('\n', '\r\n', '\r');
/** A text of lines with any ends, the last one with or without. */
const text = fc
	.array(fc.tuple(line, END), { maxLength: 30 })
	.chain((lines) => fc.tuple(fc.constant(lines), fc.boolean()))
	.map(([lines, open]) =>
		lines.map(([words, end], nth) => words + (open && nth === lines.length - 1 ? '' : end)).join('')
	);
const BREAK = /\r\n|\n|\r/;

describe('from one text to another', () => {
	test('the splices applied give the other, whatever the two are', () => {
		fc.assert(
			fc.property(text, text, (before, after) => {
				expect(applySplices(before, splicesBetween(before, after))).toBe(after);
			})
		);
		fc.assert(
			fc.property(fc.string(), fc.string(), (before, after) => {
				expect(applySplices(before, splicesBetween(before, after))).toBe(after);
			})
		);
	});
	test('lines that stayed are not touched: each place that was changed is a splice of its own', () => {
		const many = Array.from({ length: 3000 }, (_, nth) => `line ${nth} has words\n`);
		const other = [...many];
		other[5] = 'line 5 has other words\n';
		other.splice(1000, 1);
		other.splice(2000, 0, 'one more\n');
		const splices = splicesBetween(many.join(''), other.join(''));
		expect(splices.map(({ from, to, insert }) => [to - from, insert])).toEqual([
			[0, 'other '],
			[many[1000]!.length, ''],
			[0, 'one more\n']
		]);
	});
	test('two texts with nothing in common are one splice, soon', () => {
		const [a, b] = [1, 2].map((by) =>
			Array.from({ length: 30_000 }, (_, nth) => `${by * 1_000_000 + nth}\n`).join('')
		);
		const splices = splicesBetween(a!, b!);
		expect(applySplices(a!, splices)).toBe(b);
		expect(splices.length).toBe(1);
	});
});

describe('what was typed over a text', () => {
	test('has the lines that were typed, and each line that stayed has its own end', () => {
		fc.assert(
			fc.property(text, text, (before, typed) => {
				const own = withOwnEnds(before, typed.replace(/\r\n|\r/g, '\n'));
				expect(own.split(BREAK)).toEqual(typed.split(BREAK));
			})
		);
		fc.assert(
			fc.property(text, (before) => {
				expect(withOwnEnds(before, before.replace(/\r\n|\r/g, '\n'))).toBe(before);
			})
		);
		expect(withOwnEnds('a\r\nb\nc', 'a\nx\nb\nc')).toBe('a\r\nx\r\nb\nc');
	});
	test('with one sort of line ends, is exactly the text with that end', () => {
		fc.assert(
			fc.property(text, text, END, (before, typed, end) => {
				const bare = typed.replace(/\r\n|\r/g, '\n');
				expect(withOwnEnds(before.replace(/\r\n|\r|\n/g, end), bare, end)).toBe(bare.replaceAll('\n', end));
			})
		);
	});
});

describe('a text saved as a plan', () => {
	const HEAD = 'id\tload\twheel\twords\nmule\t40\toak_4\thello\n';
	const base = { 'notes.txt': 'one\ntwo\nthree\nfour\n', 'carts.tsv': HEAD };
	const digest = (stack: ReturnType<typeof stackOf>, path: string) =>
		digestOf((stack.mine!.files.get(path) ?? stack.layers[0]!.files.get(path)!).bytes());
	const files = (stack: ReturnType<typeof stackOf>) =>
		new Map([...stack.mine!.files].map(([path, file]) => [path, fileContent(file)]));
	const save = (path: string, from: string | null, typed: string): Intention => ({
		do: 'text',
		path,
		text: typed,
		from
	});

	test('is that text, and undone it is the one before, byte for byte', () => {
		fc.assert(
			fc.property(text, fc.array(text, { minLength: 1, maxLength: 4 }), (first, edits) => {
				let stack = stackOf({ 'a/notes.txt': first });
				const end = /\r\n|\n|\r/.exec(first)?.[0] ?? '\n';
				for (const edit of edits) {
					const typed = edit.replace(/\r\n|\r/g, '\n');
					const was = fileContent(stack.mine!.files.get('a/notes.txt')!);
					const own = withOwnEnds((was as { text: string }).text, typed);
					if (own === (was as { text: string }).text) continue;
					const plan = planFor(stack, save('a/notes.txt', digest(stack, 'a/notes.txt'), typed), 'm');
					const before = files(stack);
					const after = applyPlan(before, plan);
					expect(decode(bytesOf(after.get('a/notes.txt')!)).text.split(BREAK)).toEqual(typed.split('\n'));
					if (!/\r/.test(first) && end === '\n')
						expect((after.get('a/notes.txt') as { text: string }).text).toBe(typed);
					expect(bytesOf(applyPlan(after, invertPlan(before, plan)).get('a/notes.txt')!)).toEqual(
						bytesOf(before.get('a/notes.txt')!)
					);
					stack = stackAfter(stack, plan);
				}
			}),
			{ numRuns: 60 }
		);
	});
	test('what was changed meanwhile stays; where both changed one line, nothing is written', () => {
		const stack = stackOf(base);
		const from = digest(stack, 'notes.txt');
		const brought = new Map([['notes.txt', fileContent(stack.mine!.files.get('notes.txt')!)]]);
		const theirs = stackAfter(stack, planFor(stack, save('notes.txt', from, 'one\ntwo\nthree\nFOUR\n'), 'm'));
		const joined = planFor(theirs, save('notes.txt', from, 'ONE\ntwo\nthree\nfour\n'), 'm', { brought });
		const text = (applyPlan(files(theirs), joined).get('notes.txt') as { text: string }).text;
		expect(text).toBe('ONE\ntwo\nthree\nFOUR\n');
		expect(() =>
			planFor(theirs, save('notes.txt', from, 'one\ntwo\nthree\nvier\n'), 'm', { brought })
		).toThrow(/Line 4 of notes.txt was changed since you began/);
		expect(() => planFor(theirs, save('notes.txt', from, 'x\n'), 'm')).toThrow(NotPossible);
	});
	test('a new file, one that is there already, a path outside, nothing to save', () => {
		const stack = stackOf(base);
		const plan = planFor(
			stack,
			{
				...save('texts/new.txt', null, 'a\nb\n'),
				like: { encoding: 'utf-16le', bom: true, eol: '\r\n' }
			} as Intention,
			'm'
		);
		const file = applyPlan(files(stack), plan).get('texts/new.txt')!;
		expect([...bytesOf(file)].slice(0, 4)).toEqual([0xff, 0xfe, 0x61, 0]);
		expect((file as { text: string }).text).toBe('a\r\nb\r\n');
		expect(() => planFor(stack, save('notes.txt', null, 'x'), 'm')).toThrow(/already exists in your mod/);
		expect(() => planFor(stack, save('../x.txt', null, 'x'), 'm')).toThrow(/not a path inside a mod/);
		expect(() =>
			planFor(stack, save('notes.txt', digest(stack, 'notes.txt'), base['notes.txt']), 'm')
		).toThrow(/Nothing to save/);
		expect(() => planFor(stack, save('gone.txt', 'a'.repeat(64), 'x'), 'm')).toThrow(/was removed since/);
	});
	test('two texts made from one: joined in any order the same, or the line that both changed', () => {
		let joins = 0;
		fc.assert(
			fc.property(text, text, text, (began, mine, theirs) => {
				const joined = joinedTexts(began, mine, theirs);
				const back = joinedTexts(began, theirs, mine);
				expect(typeof joined).toBe(typeof back);
				if (typeof joined !== 'string') {
					expect(joined.line).toBeGreaterThan(0);
					return;
				}
				joins++;
				expect(back).toBe(joined);
				if (began === mine) expect(joined).toBe(theirs);
				if (began === theirs) expect(joined).toBe(mine);
			}),
			{ numRuns: 400, examples: [['a\nb\nc\n', 'A\nb\nc\n', 'a\nb\nC\n']] }
		);
		expect(joins).toBeGreaterThan(10);
		expect(joinedTexts('a\nb\nc\n', 'A\nb\nc\n', 'a\nb\nC\n')).toBe('A\nb\nC\n');
		expect(joinedTexts('one two\n', 'ONE two\n', 'one TWO\n')).toEqual({ line: 1 });
	});
});
