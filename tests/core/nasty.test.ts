// Files by hand as they are found in the wild: what is read of them, where, what is said of their faults, and that one
// edit leaves every other byte alone.
import { describe, expect, test } from 'vitest';
import { applySplices } from '$core/change';
import {
	EditRefused,
	fieldsOf,
	findField,
	findRecord,
	formatFor,
	readDocument,
	type TextDocument,
	type ReadHints,
	type TextFormat
} from '$core/formats';
import { hintsFor, parseGuide } from '$core/guide';
import { COAST, COAST_GUIDE } from '../fixtures/coast';
import { NASTY } from '../fixtures/nasty';

function open(path: string, text: string, hints: ReadHints = {}): { doc: TextDocument; format: TextFormat } {
	return { doc: readDocument(path, text, hints)!, format: formatFor(path, hints) as TextFormat };
}

/** The text after one value is set. */
function set(
	path: string,
	text: string,
	record: string,
	field: string,
	value: string,
	hints: ReadHints = {}
) {
	const { doc, format } = open(path, text, hints);
	return applySplices(text, format.set(doc, findRecord(doc, record)!, field, value));
}

const ids = (doc: TextDocument) => doc.records.map(({ id }) => id);
const values = (doc: TextDocument, record: string) => ({ ...fieldsOf(findRecord(doc, record)!) });

test('delimited text: separator, quotes, comments, types and ragged rows are found by themselves', () => {
	const text =
		"# made by hand\n'id';'name';'cost'\n'int';'string';'float'\n1;'a; b';2,50\n# between\n2;'it''s';'3'\n";
	const { doc } = open('a.csv', text);
	expect(doc.problems).toEqual([]);
	expect(doc.columns).toEqual(['id', 'name', 'cost']);
	expect(values(doc, '1')).toEqual({ id: '1', name: 'a; b', cost: '2,50' });
	expect(values(doc, '2')).toEqual({ id: '2', name: "it's", cost: '3' });
	expect(set('a.csv', text, '2', 'name', "so it's; yes")).toBe(text.replace("'it''s'", "'so it''s; yes'"));

	const escaped = 'id|say\n1|"a \\"b\\" c"\n2|"d\\\\e"\n';
	const backslash = open('a.csv', escaped).doc;
	expect(backslash.problems).toEqual([]);
	expect(values(backslash, '1').say).toBe('a "b" c');
	expect(set('a.csv', escaped, '2', 'say', 'x"y\\z')).toBe(escaped.replace('"d\\\\e"', '"x\\"y\\\\z"'));

	const bare = open('a.csv', '1,2,3\n4,5,6\n').doc;
	expect(bare.columns).toEqual(['c1', 'c2', 'c3']);
	expect(bare.records).toHaveLength(2);
	const ragged = 'id,x,y\na,1\nb,1,2,3\n';
	expect(open('a.csv', ragged).doc.problems.map(({ line }) => line)).toEqual([2, 3]);
	expect(open('a.csv', ragged, { ragged: true }).doc.problems).toEqual([]);
	expect(set('a.csv', ragged, 'a', 'y', '9', { ragged: true })).toBe('id,x,y\na,1,9\nb,1,2,3\n');
});

test('JSON: comments and commas stay, a fault in one record leaves the others', () => {
	const text =
		'{\n\t// the slow one\n\t"a": { "v": 1.2500, /* half */ "w": [1, 2,], },\n\t"b": { "v": 2 },\n}\n';
	const { doc } = open('a.json', text);
	expect(doc.problems).toEqual([]);
	expect(doc.records[0]!.remark).toBe('the slow one');
	expect(set('a.json', text, 'a', 'v', '7')).toBe(text.replace('1.2500', '7'));
	expect(open('a.json', text, { strict: true }).doc.problems.length).toBeGreaterThan(2);

	const broken = open(
		'a.json',
		'[\n{"id": "a", "v": 1}\n{"id": "b", "v": },\n{"id": "c" "v": 3},\n{"id": "d", "v": 4}\n]'
	).doc;
	expect(ids(broken)).toEqual(['a', 'b', 'c', 'd']);
	expect(broken.problems.map(({ line, message }) => `${line}: ${message}`)).toEqual([
		'3: A comma is missing before this.',
		'3: A value is missing here.',
		'4: A comma is missing before this.'
	]);
	const open_ = open('a.json', '[\n{"id": "a"},\n{"id": "b"\n').doc;
	expect(ids(open_)).toEqual(['a']);
	expect(open_.problems[0]!.message).toContain('of line 3 is never closed');
});

test('XML: namespaces, CDATA, entities, instructions and a document type are kept; one value changes', () => {
	const text = [
		'<?xml version="1.0" encoding="UTF-8"?>',
		'<!DOCTYPE all SYSTEM "http://nowhere.invalid/a.dtd" [ <!ENTITY who "<b>me</b>"> ]>',
		'<g:all xmlns:g="urn:g" >',
		'  <!-- a tug, and slow -->',
		'  <g:ship id="tug" speed = \'09\'><about><![CDATA[a < b & c]]></about><?keep this?>',
		'    <engine/> <say>by &who; &amp; you</say></g:ship>',
		'  <g:ship id="ice"/>',
		'</g:all>'
	].join('\r\n');
	const { doc, format } = open('a.xml', text);
	expect(doc.problems).toEqual([]);
	expect(values(doc, 'tug')).toEqual({
		id: 'tug',
		speed: '09',
		about: 'a < b & c',
		engine: '',
		say: 'by &who; & you'
	});
	expect(findRecord(doc, 'tug')!.remark).toBe('a tug, and slow');
	expect(set('a.xml', text, 'tug', 'about', 'x < y')).toBe(text.replace('a < b & c', 'x < y'));
	expect(set('a.xml', text, 'tug', 'engine', 'a&b')).toBe(
		text.replace('<engine/>', '<engine>a&amp;b</engine>')
	);
	expect(set('a.xml', text, 'ice', 'speed', '3')).toBe(text.replace('id="ice"/>', 'id="ice" speed="3"/>'));
	const moved = applySplices(text, format.move(doc, doc.records[0]!, 1));
	expect(ids(open('a.xml', moved).doc)).toEqual(['ice', 'tug']);
	expect(moved.indexOf('a tug')).toBeGreaterThan(moved.indexOf('ice'));

	const faulty = open('a.xml', '<all>\n<a id="1">\n<b>\n</a>\n<a id="2"/>\n</all>').doc;
	expect(ids(faulty)).toEqual(['1', '2']);
	expect(faulty.problems[0]).toMatchObject({
		line: 4,
		message: expect.stringContaining('<b> was opened on line 3 and never closed')
	});
});

test('YAML: anchors, block scalars, flow and many documents; the fault is said and the rest is read', () => {
	const text =
		'# all\nbase: &b\n  speed: 10 # kn\n  say: |\n    two\n    lines\nlike:\n  <<: *b\n  "n": [1, {x: y}]\n  when: !!str 12\n';
	const { doc } = open('a.yaml', text);
	expect(doc.problems).toEqual([]);
	expect(values(doc, 'base')).toEqual({ speed: 10, say: 'two\nlines\n' });
	expect(values(doc, 'like')).toEqual({ '<<': '*b', 'n[0]': 1, 'n[1].x': 'y', when: '12' });
	expect(findField(doc.records[0]!, 'speed')!.remark).toBe('kn');
	expect(set('a.yaml', text, 'base', 'say', 'one\nmore\n')).toBe(
		text.replace('two\n    lines', 'one\n    more')
	);
	expect(set('a.yaml', text, 'like', 'when', '13')).toBe(text.replace('!!str 12', '!!str "13"'));

	const many = open('a.yaml', '---\nid: a\nv: 1\n---\nid: b\nv: 2\n...\n').doc;
	expect(ids(many)).toEqual(['a', 'b']);
	const faulty = open('a.yaml', 'a:\n  v: 1\nb:\n\tv: 2\nc:\n  v: [1, 2\nd:\n  v: 4\n').doc;
	expect(faulty.problems.map(({ line, message }) => `${line}: ${message}`)).toEqual([
		'4: This line is indented with a tab; YAML needs spaces.',
		expect.stringContaining('7: The “[” of line 6 is not closed before this line')
	]);
	expect(ids(faulty)).toContain('a');
	expect(ids(faulty)).toContain('d');
});

test('TOML, INI, properties and PO as they are found', () => {
	const toml =
		"title = \"x\"\n[a.b] # said\nn = 0x1F\n\"q r\" = '''\nraw'''\n[[a.list]]\nv = 1\n[[a.list]]\nv = 2\n";
	const whole = open('a.toml', toml).doc;
	expect(whole.problems).toEqual([]);
	expect(values(whole, '#1')).toEqual({
		title: 'x',
		'a.b.n': 31,
		'a.b.q r': 'raw',
		'a.list[0].v': 1,
		'a.list[1].v': 2
	});
	const faulty = open('a.toml', '[a]\nx = \n[b]\ny = 2\n').doc;
	expect(faulty.problems).toMatchObject([{ line: 2, message: 'A value is missing after this “=”.' }]);
	expect(values(faulty, 'b')).toEqual({ y: 2 });

	const ini = 'loose = 1\n[a]\nk=1\nk=2\n; of the colour\ncolour = #ff0000 ; red\nq = "x ; y"\n[a]\nz : 3\n';
	const sections = open('a.ini', ini).doc;
	expect(ids(sections)).toEqual(['#1', 'a', 'a']);
	expect({ ...fieldsOf(sections.records[1]!) }).toEqual({
		'k[0]': '1',
		'k[1]': '2',
		colour: '#ff0000',
		q: 'x ; y'
	});
	expect(findField(sections.records[1]!, 'colour')!.remark).toBe('of the colour\nred');
	expect(set('a.ini', ini, 'a', 'q', 'a ; b')).toBe(ini.replace('x ; y', 'a ; b'));

	const escaped = 'a = \\u00e4\\\n   b\n! said\nb:\\u6f22\n';
	expect(fieldsOf(open('a.properties', escaped).doc.records[0]!).text).toBe('äb');
	expect(set('a.properties', escaped, 'b', 'text', 'ö')).toBe(escaped.replace('\\u6f22', '\\u00f6'));

	const po =
		'#, fuzzy\nmsgctxt "bay"\nmsgid "x"\nmsgid_plural "xs"\nmsgstr[0] "a"\nmsgstr[1] ""\n"b\\n"\n"c"\n\n#~ msgid "old"\n#~ msgstr "gone"\n';
	const messages = open('a.po', po).doc;
	expect(ids(messages)).toEqual(['bay|x', '#~ old']);
	expect(values(messages, 'bay|x')).toEqual({
		'flags[0]': 'fuzzy',
		context: 'bay',
		plural: 'xs',
		'text[0]': 'a',
		'text[1]': 'b\nc'
	});
	expect(set('a.po', po, 'bay|x', 'text[1]', 'd\ne')).toBe(po.replace('"b\\n"\n"c"', '"d\\n"\n"e"'));
	expect(open('a.po', 'msgid "a\nmsgstr "b"\nmsgid "c"\nmsgstr "d"\n').doc.problems[0]).toMatchObject({
		line: 1
	});
});

test('Lua: data among code, with the comments that belong to them', () => {
	const text = [
		'local M = {}',
		'-- how far one sees',
		'M.sight = 12 -- miles',
		'M["fog bank"] = { deep = -1.50, [3] = "x", when = function(t) return t > 3 end }',
		'function M.go(a) if a then return { b = 1 } end end',
		'M.list = { 1, 2, "three", }',
		'return M'
	].join('\n');
	const { doc, format } = open('a.lua', text);
	expect(doc.problems).toEqual([]);
	const record = doc.records[0]!;
	expect(findField(record, 'M.sight')).toMatchObject({ value: 12, remark: 'how far one sees\nmiles' });
	const set_ = (path: string, value: string) => applySplices(text, format.set(doc, record, path, value));
	expect(set_('M.sight', '15')).toBe(text.replace('12 --', '15 --'));
	expect(applySplices(text, format.insertItem(doc, record, 'M.list', 1, { value: '7' }))).toBe(
		text.replace('1, 2,', '1, 7, 2,')
	);
	expect(applySplices(text, format.removeItem(doc, record, 'M.list', 0))).toBe(
		text.replace('{ 1, 2,', '{ 2,')
	);
	const faulty = open('a.lua', 'a = { x = 1 }\nb = { y = = 2 }\nc = { z = 3 }\n').doc;
	expect(faulty.problems[0]).toMatchObject({ line: 2 });
	expect(ids(faulty)).toEqual(['a', 'c']);
});

test('a count in the head follows, and numbers by position keep their place', () => {
	const layout = {
		shape: 'positional' as const,
		titled: false,
		separator: '',
		comments: ['#'],
		head: [['count']],
		record: [['id', 'x', 'y']],
		count: 'count'
	};
	const text = '002 # how many\n7 1.5 2 # buoy\n9 3 4\n';
	const { doc, format } = open('a.lst', text, { layout });
	expect(applySplices(text, format.insert(doc, doc, doc.records[0]!))).toBe(
		'003 # how many\n7 1.5 2 # buoy\n9 3 4\n7 1.5 2 # buoy\n'
	);
	expect(applySplices(text, format.remove(doc, doc.records[1]!))).toBe('001 # how many\n7 1.5 2 # buoy\n');
	expect(open('a.lst', '3\n7 1 2\n', { layout }).doc.problems[0]!.message).toBe(
		'The head counts 3 records; there is 1.'
	);
});

test('new members, records and items look like their neighbours', () => {
	const json = '{\n    "a": {\n        "v": 1\n    }\n}';
	const opened = open('a.json', json);
	const record = opened.doc.records[0]!;
	expect(applySplices(json, opened.format.set(opened.doc, record, 'w', '2'))).toBe(
		'{\n    "a": {\n        "v": 1,\n        "w": 2\n    }\n}'
	);
	const yaml = 'a:\n   v: 1\n   list:\n   - x\nb:\n   v: 2\n';
	const y = open('a.yaml', yaml);
	expect(applySplices(yaml, y.format.set(y.doc, y.doc.records[0]!, 'w', 'new'))).toBe(
		'a:\n   v: 1\n   list:\n   - x\n   w: new\nb:\n   v: 2\n'
	);
	expect(
		applySplices(yaml, y.format.insertItem(y.doc, y.doc.records[0]!, 'list', 1, { value: 'y: z' }))
	).toBe(yaml.replace('- x', '- x\n   - "y: z"'));
	expect(applySplices(yaml, y.format.removeItem(y.doc, y.doc.records[0]!, 'list', 0))).toBe(
		yaml.replace('\n   - x', ' []')
	);
	const xml = '<r>\n <a id="1">\n  <v>1</v>\n </a>\n</r>';
	const x = open('a.xml', xml);
	expect(applySplices(xml, x.format.set(x.doc, x.doc.records[0]!, 'w', '2'))).toBe(
		'<r>\n <a id="1">\n  <v>1</v>\n  <w>2</w>\n </a>\n</r>'
	);
	const toml = '[a]\nv= 1\n\n[a.sub]\nx = 1\n';
	const t = open('a.toml', toml);
	expect(applySplices(toml, t.format.set(t.doc, t.doc.records[0]!, 'w', '2'))).toBe(
		'[a]\nv= 1\nw= 2\n\n[a.sub]\nx = 1\n'
	);
	const lua = 'return {\n  a = { v = 1 },\n}\n';
	const l = open('a.lua', lua);
	expect(applySplices(lua, l.format.set(l.doc, l.doc.records[0]!, 'w', 'x'))).toBe(
		'return {\n  a = { v = 1, w = "x" },\n}\n'
	);
});

/** Ids that are only positions change when a record before them does. */
const asData = (doc: TextDocument) =>
	doc.records.map((record) => [record.idSpan ? record.id : null, { ...fieldsOf(record) }]);

const guide = parseGuide(COAST_GUIDE);

describe.each<[string, string, ReadHints?]>([
	...NASTY,
	...COAST.map(({ path, text }): [string, string, ReadHints] => [path, text, hintsFor(guide, path)])
])('%s by hand (%#)', (path, text, hints = {}) => {
	const first = readDocument(path, text, hints)!;
	const told = { ...(first.at === undefined ? {} : { at: first.at }), ...hints };
	const reread = (now: string) => readDocument(path, now, told)!;
	const format = formatFor(path, hints) as TextFormat;

	test('is read whole', () => {
		expect(first.problems).toEqual([]);
		expect(first.records.length).toBeGreaterThan(0);
		expect(asData(reread(text))).toEqual(asData(first));
	});

	test('each value of each record can be set, and nothing else moves', () => {
		let done = 0;
		first.records.forEach((record, nth) => {
			const { fields } = record;
			fields.forEach((field, at) => {
				if (field.path === first.key || fields.filter(({ path: other }) => other === field.path).length > 1)
					return;
				for (const value of ['7', 'abc']) {
					let splices;
					try {
						splices = format.set(first, record, field.path, value);
					} catch (error) {
						expect(error).toBeInstanceOf(EditRefused);
						continue;
					}
					expect(splices).toHaveLength(1);
					expect(splices[0]!.from).toBeGreaterThanOrEqual(field.from);
					expect(splices[0]!.to).toBeLessThanOrEqual(field.to);
					const now = reread(applySplices(text, splices));
					expect(now.problems).toEqual([]);
					expect(String(now.records[nth]!.fields[at]!.value)).toBe(value);
					const others = asData(now);
					(others[nth]![1] as Record<string, unknown>)[field.path] = field.value;
					if (first.format !== 'po' || field.path !== 'context') expect(others).toEqual(asData(first));
					done++;
				}
			});
		});
		expect(done).toBeGreaterThan(0);
	});

	test('what was put in or moved goes back without a trace', () => {
		for (const record of first.records) {
			let put;
			try {
				put = applySplices(text, format.insert(first, first, record));
			} catch (error) {
				expect(error).toBeInstanceOf(EditRefused);
				continue;
			}
			const more = reread(put);
			expect(more.records).toHaveLength(first.records.length + 1);
			expect({ ...fieldsOf(more.records.at(-1)!) }).toEqual({ ...fieldsOf(record) });
			expect(applySplices(put, format.remove(more, more.records.at(-1)!))).toBe(text);
			for (let to = 0; to < first.records.length; to++) {
				const from = first.records.indexOf(record);
				let moved;
				try {
					moved = applySplices(text, format.move(first, record, to));
				} catch (error) {
					expect(error).toBeInstanceOf(EditRefused);
					continue;
				}
				const other = reread(moved);
				const want = asData(first);
				want.splice(to, 0, want.splice(from, 1)[0]!);
				expect(asData(other)).toEqual(want);
				expect(applySplices(moved, format.move(other, other.records[to]!, from))).toBe(text);
			}
		}
	});
});
