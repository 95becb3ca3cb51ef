// Readers of logs, made from one line in which the parts are marked.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { guessedMarks, patternFrom, readLines, type Marks } from '$core/log';

const marksOf = (line: string, parts: Record<string, string>): Marks =>
	Object.fromEntries(
		Object.entries(parts).map(([part, said]) => [
			part,
			[line.indexOf(said), line.indexOf(said) + said.length]
		])
	);

test.each([
	[
		'[00:01:22] ERROR data/units.json:12 unit "spear": no such weapon',
		{ level: 'ERROR', file: 'data/units.json', line: '12' },
		'[00:04:01] Warning data/more/items.json:7 item "x": odd'
	],
	[
		'12:03 W  Addons\\long\\a.xml(33,4) - the record keeper_4 is left out',
		{ level: 'W', file: 'Addons\\long\\a.xml', line: '33', record: 'keeper_4' },
		'12:59 E  Addons\\b.xml(1,20) - the record mast_2 is gone'
	],
	[
		'could not load "my file.txt", line 8 (fatal)',
		{ file: 'my file.txt', line: '8', level: 'fatal' },
		'could not load "other one.txt", line 90 (note)'
	],
	[
		'{"level":"error","record":"lamp_1"}',
		{ level: 'error', record: 'lamp_1' },
		'{"level":"info","record":"lamp_22"}'
	]
])('%s', (line, parts, other) => {
	const pattern = patternFrom(line, marksOf(line, parts))!;
	expect(pattern).not.toBeNull();
	const [own, second, third] = readLines(`${line}\r\n${other}\nnothing of the kind\n`, pattern);
	const said = { ...parts } as Record<string, string>;
	expect([own!.level, own!.file, own!.line, own!.record]).toEqual([
		said.level ?? null,
		said.file?.replaceAll('\\', '/') ?? null,
		said.line === undefined ? null : Number(said.line),
		said.record ?? null
	]);
	for (const part of Object.keys(parts)) expect(second![part as 'level'], part).not.toBeNull();
	expect([third!.level, third!.file, third!.line, third!.record]).toEqual([null, null, null, null]);
});

test('a beginning is guessed: how grave, which file, which line', () => {
	const said = (line: string) =>
		Object.fromEntries(
			Object.entries(guessedMarks(line)).map(([part, place]) => [part, line.slice(...place)])
		);
	expect(said('[12:01] ERROR data/units.json:12 no such weapon')).toEqual({
		level: 'ERROR',
		file: 'data/units.json',
		line: '12'
	});
	expect(said('[E] Addons\\long\\a.xml(33): left out')).toEqual({
		level: 'E',
		file: 'Addons\\long\\a.xml',
		line: '33'
	});
	expect(said('Warning: in "a.lua", line 4')).toEqual({ level: 'Warning', file: 'a.lua', line: '4' });
	expect(said('all lamps are lit')).toEqual({});
});

describe('laws', () => {
	const piece = fc
		.string({ minLength: 1, maxLength: 12, unit: 'grapheme-ascii' })
		.filter((text) => !/[\r\n]/.test(text));
	test('a reader reads the line that it was made from, as it was marked; marks that overlap make none', () => {
		let made = 0;
		fc.assert(
			fc.property(
				fc.tuple(
					piece,
					fc.stringMatching(/^[A-Za-z]{1,8}$/),
					piece,
					fc.stringMatching(/^[\w./-]{1,12}$/),
					piece
				),
				(parts) => {
					const [start, level, between, file] = parts;
					const line = parts.join('');
					const from = start.length + level.length + between.length;
					const marks: Marks = {
						level: [start.length, start.length + level.length],
						file: [from, from + file.length]
					};
					const pattern = patternFrom(line, marks);
					if (pattern === null) return;
					made++;
					const [read] = readLines(line, pattern);
					expect([read!.level, read!.file]).toEqual([level, file]);
				}
			),
			{ numRuns: 400 }
		);
		expect(made).toBeGreaterThan(100);
		expect(patternFrom('ERROR a.txt', { level: [0, 5], file: [3, 8] })).toBeNull();
		expect(patternFrom('ERROR a.txt', {})).toBeNull();
		expect(patternFrom('ERROR a.txt', { level: [0, 50] })).toBeNull();
	});
});
