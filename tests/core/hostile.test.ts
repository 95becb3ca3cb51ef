// Files that mean harm, or that nobody meant: bounded time and memory, a clear message, never an exception.
import { describe, expect, test } from 'vitest';
import {
	EditRefused,
	fieldsOf,
	tellFormats,
	TEXT_FORMATS,
	readDocument,
	type FormatId,
	type ReadHints
} from '$core/formats';
import { decode, encode } from '$core/text';

/** Reads a text and sees that every problem has a place and words. */
function read(path: string, text: string, hints: ReadHints = {}) {
	const doc = readDocument(path, text, hints)!;
	for (const { line, column, message } of doc.problems) {
		expect(line).toBeGreaterThan(0);
		expect(column).toBeGreaterThan(0);
		expect(message).not.toMatch(/undefined|NaN|RangeError|stack/);
	}
	expect(doc.problems.length).toBeLessThanOrEqual(101);
	return doc;
}

const DEEP = 100_000;
const NESTED: [FormatId, string, string][] = [
	['json', 'a.json', '['.repeat(DEEP)],
	['json', 'a.json', '{"a":'.repeat(DEEP)],
	['json', 'a.json', '['.repeat(DEEP) + ']'.repeat(DEEP)],
	['xml', 'a.xml', '<a>'.repeat(DEEP)],
	['html', 'a.html', '<select>'.repeat(5000)],
	['yaml', 'a.yaml', '['.repeat(DEEP)],
	['yaml', 'a.yaml', '- '.repeat(DEEP)],
	['yaml', 'a.yaml', Array.from({ length: 2000 }, (_, nth) => `${' '.repeat(nth)}a:`).join('\n')],
	['toml', 'a.toml', `a = ${'['.repeat(DEEP)}`],
	['lua', 'a.lua', `a = ${'{'.repeat(DEEP)}`],
	['lua', 'a.lua', `a = ${'('.repeat(DEEP)}`],
	['block', 'a.def', 'a {\n'.repeat(DEEP)]
];

test.each(NESTED)('%s: nesting without end is told and stopped (%s)', (format, path, text) => {
	const doc = read(path, text, { format });
	expect(doc.problems.length).toBeGreaterThan(0);
	for (const record of doc.records) expect(record.fields.length).toBeLessThan(10_000);
});

describe.each(TEXT_FORMATS.map(({ id }) => id))('%s', (id) => {
	const path = `a.${id === 'block' ? 'def' : id}`;
	const hints: ReadHints = { format: id };

	test('a single line of a million characters, a million separators, a million quotes', () => {
		for (const part of [
			'x',
			',',
			'"',
			"'",
			'\\',
			'<',
			'&',
			'[',
			'# ',
			'=',
			': ',
			'- ',
			'{',
			'--',
			'a.',
			'"a",',
			'ab\n',
			'[\n',
			'a "\n',
			'a = "\n',
			'a = {\n',
			'N:1\n'
		]) {
			// What is read line by line shows with fewer what grows by the square.
			const size = part.endsWith('\n') ? 60_000 : 300_000;
			const doc = read(path, part.repeat(size / part.length), hints);
			for (const record of doc.records.slice(0, 3)) void record.fields.length;
		}
	});

	test('zeros, lone surrogates and control characters are read without an exception, and are not lost', () => {
		for (const char of ['\0', '\ud800', '\udc00', '\x01', '\u2028', '\ufeff', '\uffff']) {
			for (const text of [
				char,
				`a${char}b`,
				`id${char},x\n1,2\n`,
				`a = "${char}"\n`,
				`{"a": "${char}"}`,
				`<a b="${char}"/>`
			])
				expect(read(path, text, hints).content).toBe(text);
		}
	});
});

test('whatever a text holds, it is soon told that it is no format, or which', () => {
	for (const part of [
		' ',
		'a ',
		'ab\n',
		'[\n',
		'[a]\n',
		'a = "\n',
		'a = {\n',
		'N:1\n',
		'\ta\n',
		'a {',
		'<a>',
		'[',
		'{',
		':',
		'a\tb\n'
	])
		expect(tellFormats(part.repeat(200_000 / part.length)).length).toBeGreaterThanOrEqual(0);
	expect(tellFormats(`a${' '.repeat(200_000)}b`)).toEqual([]);
});

test('names that mean something to the language are names like any other', () => {
	const names = ['__proto__', 'constructor', 'toString', 'hasOwnProperty'];
	const texts: [string, string][] = [
		['a.json', `{${names.map((name) => `"${name}": {"of": 1, "${name}": "x"}`).join(',')}}`],
		['a.yaml', names.map((name) => `${name}:\n  of: 1\n  ${name}: x\n`).join('')],
		['a.toml', names.map((name) => `[${name}]\n${name} = "x"\n`).join('')],
		['a.ini', names.map((name) => `[${name}]\n${name} = x\n`).join('')],
		['a.lua', `return { ${names.map((name) => `${name} = { of = 1, ${name} = "x" }`).join(', ')} }`],
		['a.csv', `id,${names.join(',')}\n${names.map((name) => `${name},x,x,x,x\n`).join('')}`],
		['a.xml', `<all>${names.map((name) => `<p id="${name}" ${name}="x"/>`).join('')}</all>`]
	];
	for (const [path, text] of texts) {
		const doc = read(path, text);
		expect(doc.problems).toEqual([]);
		expect(doc.records.map(({ id }) => id)).toEqual(names);
		for (const record of doc.records) {
			const name = path.endsWith('csv') ? '__proto__' : record.id;
			expect(fieldsOf(record)[name]).toBe('x');
		}
	}
	expect(({} as Record<string, unknown>).x).toBeUndefined();
});

test('bombs of entities and aliases are shown as they are written, never blown up', () => {
	const entities = Array.from(
		{ length: 30 },
		(_, nth) => `<!ENTITY e${nth + 1} "&e${nth};&e${nth};&e${nth};">`
	).join('');
	const xml = read('a.xml', `<!DOCTYPE a [<!ENTITY e0 "ha">${entities}]><a><b id="1"><c>&e30;</c></b></a>`);
	expect(xml.problems).toEqual([]);
	expect(fieldsOf(xml.records[0]!).c).toBe('&e30;');
	const aliases = Array.from(
		{ length: 40 },
		(_, nth) => `a${nth + 1}: &a${nth + 1} [*a${nth}, *a${nth}, *a${nth}]`
	).join('\n');
	const yaml = read('a.yaml', `a0: &a0 lol\n${aliases}\n`);
	expect(yaml.problems).toEqual([]);
	expect(Object.keys(fieldsOf(yaml.records[0]!)).length).toBeLessThan(200);
	const self = read('a.yaml', 'a: &a\n  b: *a\n');
	expect(self.records).toHaveLength(1);
});

test('a row of a million columns, and a header of as many', () => {
	const header = Array.from({ length: 1_000_000 }, (_, nth) => `c${nth}`).join(',');
	const doc = read('a.csv', `${header}\n${'1,'.repeat(999_999)}1\n`);
	expect(doc.problems).toEqual([]);
	expect(doc.records[0]!.fields).toHaveLength(1_000_000);
	expect(read('a.csv', `id,x\n${','.repeat(1_000_000)}\n`).problems).toHaveLength(1);
});

test('a character that cannot be written is refused with its place, whatever the encoding', () => {
	for (const [encoding, char] of [
		['windows-1252', '漢'],
		['shift_jis', 'ä'],
		['utf-8', '\ud800'],
		['koi8-r', 'é']
	] as const)
		expect(() => encode({ text: `one\r\ntwo ${char}`, encoding, bom: false })).toThrow(
			/\(line 2, column 5\)/
		);
	const file = decode(new Uint8Array([0x83, 0x4a, 0x0a]), 'shift_jis');
	expect(file).toMatchObject({ text: 'カ\n', told: 'chosen' });
});

test('a dotted name of a hundred thousand parts is read at once, and a name that a section cannot have is refused', () => {
	const doc = read('a.toml', `${'a.'.repeat(100_000)}b = 1\n`);
	expect(doc.records[0]!.fields[0]!.path.length).toBe(200_001);
	const sections = read('a.toml', '[one]\nx = 1\n[two]\nx = 2\n');
	const toml = TEXT_FORMATS.find(({ id }) => id === 'toml')!;
	expect(() => toml.rename(sections, sections.records[0]!, 'v1.2')).toThrow(EditRefused);
});
