import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applySplices, invertSplices, type Splice } from '$core/change';
import {
	EditRefused,
	fieldsOf,
	findField,
	TEXT_FORMATS,
	readDocument,
	type Document,
	type FieldNode,
	type RecordNode
} from '$core/formats';
import { decode, encode } from '$core/text';
import { runs } from '../runs';
import { SAMPLES, VALUES, type Sample } from './samples';

/** What is where is detected from the whole sample, as a guide tells it of the base: one record alone may mean less. */
const reread = (sample: Sample, text: string) => {
	const { at } = readDocument(sample.path, sample.text, sample.hints)!;
	return readDocument(sample.path, text, { ...(at === undefined ? {} : { at }), ...sample.hints })!;
};
/** Lists of a record with the number of their items. */
function listsOf(record: RecordNode): Map<string, number> {
	const counts = new Map<string, number>();
	for (const { path } of record.fields)
		for (const match of path.matchAll(/\[(\d+)\]/g)) {
			const list = path.slice(0, match.index);
			if (list !== '') counts.set(list, Math.max(counts.get(list) ?? 0, Number(match[1]) + 1));
		}
	return counts;
}

/** Ids that are only positions change when a record before them does. */
const asData = (doc: Document) =>
	doc.records.map((record) => [record.idSpan ? record.id : null, { ...fieldsOf(record) }]);

describe.each(TEXT_FORMATS.map((format) => [format.id, format] as const))('%s', (id, format) => {
	test('is read without problems, and its fields stand where they say', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, (sample) => {
				const doc = reread(sample, sample.text);
				expect(doc.problems).toEqual([]);
				expect(doc.records.length).toBeGreaterThan(0);
				for (const record of doc.records) {
					expect(record.from).toBeLessThan(record.to);
					for (const field of record.fields) {
						expect(field.from).toBeGreaterThanOrEqual(record.from);
						expect(field.to).toBeLessThanOrEqual(record.to);
					}
				}
			})
		);
	});

	test('reading and writing back is the identity on bytes, with or without mark, in any encoding that is told', () => {
		fc.assert(
			fc.property(
				SAMPLES[id]!,
				fc.constantFrom('utf-8', 'utf-16le', 'utf-16be'),
				fc.boolean(),
				({ text }, encoding, mark) => {
					const bytes = encode({ text, encoding: encoding as 'utf-8', bom: mark || encoding !== 'utf-8' });
					expect(encode(decode(bytes))).toEqual(bytes);
					expect(decode(bytes).text).toBe(text);
				}
			)
		);
	});

	test('setting a field changes only its own bytes, and reads back', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), fc.nat(), VALUES[id]!, (sample, r, f, value) => {
				const doc = reread(sample, sample.text);
				const record = doc.records[r % doc.records.length]!;
				// The context of a message is part of its id.
				const fields = record.fields.filter(({ path }) => path !== doc.key && path !== 'context');
				fc.pre(fields.length > 0);
				const field = fields[f % fields.length]!;
				let splices;
				try {
					splices = format.set(doc, record, field.path, value);
				} catch (error) {
					// Only typed values may be refused here: text where a number or switch stands.
					expect(error).toBeInstanceOf(EditRefused);
					if (/^@?[A-Z]/.test(field.path)) {
						// What a line takes in must look like a path, without what would end it there.
						expect(value).not.toMatch(/^[\w-]+\.\w+$/);
						return;
					}
					if (id === 'ini') {
						// In the brackets of a section there is no way to write what would end them.
						expect(['crew', 'home']).toContain(field.path);
						expect(value).toMatch(/["[\]]/);
						return;
					}
					expect(['json', 'jsonl', 'json5', 'js', 'toml', 'lua', 'po']).toContain(id);
					expect(typeof field.value !== 'string' || id !== 'json').toBe(true);
					return;
				}
				expect(splices).toHaveLength(1);
				expect(splices[0]!.from).toBeGreaterThanOrEqual(field.from);
				expect(splices[0]!.to).toBeLessThanOrEqual(field.to);
				const text = applySplices(sample.text, splices);
				const next = reread(sample, text);
				expect(next.problems).toEqual([]);
				const want = asData(doc);
				const at = doc.records.indexOf(record);
				const written = findField(next.records[at]!, field.path)!.value;
				// Numbers come back as numbers, in whatever way they were typed.
				if (typeof written === 'number') expect(written).toBe(Number(value));
				else expect(String(written ?? 'null')).toBe(value);
				(want[at]![1] as Record<string, unknown>)[field.path] = written;
				expect(asData(next)).toEqual(want);
				expect(applySplices(text, invertSplices(sample.text, splices))).toBe(sample.text);
			})
		);
	});

	test('in any encoding that holds the text, one value leaves every byte before and behind it alone', () => {
		let compared = 0;
		fc.assert(
			fc.property(
				SAMPLES[id]!,
				fc.constantFrom(
					'utf-8',
					'utf-16le',
					'utf-16be',
					'windows-1252',
					'shift_jis',
					'koi8-r',
					'gb18030',
					'euc-jp',
					'big5',
					'cp437'
				),
				fc.nat(),
				(sample, encoding, r) => {
					const plain = (text: string) =>
						/^(utf|gb)/.test(encoding)
							? text
							: text.replace(
									/[äßé€ツ漢]/g,
									encoding === 'windows-1252' || encoding === 'cp437'
										? 'ä'
										: encoding === 'koi8-r'
											? 'ж'
											: '漢'
								);
					const text = plain(sample.text);
					const bytes = encode({ text, encoding, bom: false });
					const file = decode(bytes, encoding);
					expect(encode(file)).toEqual(bytes);
					const doc = readDocument(sample.path, text, sample.hints)!;
					const record = doc.records[r % doc.records.length]!;
					const field = record.fields.find(
						({ path, value: old }) => path !== doc.key && typeof old === 'string'
					);
					if (!field) return;
					let splices;
					try {
						splices = format.set(doc, record, field.path, 'abc');
					} catch (error) {
						expect(error).toBeInstanceOf(EditRefused);
						return;
					}
					const [{ from, to, insert }] = splices as [Splice];
					const part = (piece: string) => [...encode({ text: piece, encoding, bom: false })];
					const after = [...encode({ text: applySplices(text, splices), encoding, bom: false })];
					expect(after).toEqual([...part(text.slice(0, from)), ...part(insert), ...part(text.slice(to))]);
					expect([...bytes].slice(0, part(text.slice(0, from)).length)).toEqual(part(text.slice(0, from)));
					compared++;
				}
			),
			{ numRuns: runs(200) }
		);
		expect(compared).toBeGreaterThan(10);
	});

	test('removing what was inserted is the identity', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), (sample, r) => {
				const doc = reread(sample, sample.text);
				const source = doc.records[r % doc.records.length]!;
				const text = applySplices(sample.text, format.insert(doc, doc, source));
				const next = reread(sample, text);
				expect(next.records).toHaveLength(doc.records.length + 1);
				expect({ ...fieldsOf(next.records.at(-1)!) }).toEqual({ ...fieldsOf(source) });
				expect(next.problems.filter((problem) => !/twice/.test(problem.message))).toEqual([]);
				expect(applySplices(text, format.remove(next, next.records.at(-1)!))).toBe(sample.text);
			})
		);
	});

	test('removing a record leaves all others as they are', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), (sample, r) => {
				const doc = reread(sample, sample.text);
				fc.pre(doc.records.length > 1);
				const at = r % doc.records.length;
				const text = applySplices(sample.text, format.remove(doc, doc.records[at]!));
				const next = reread(sample, text);
				expect(asData(next)).toEqual(asData(doc).filter((_, nth) => nth !== at));
			})
		);
	});

	test('a renamed record is found under its new id, and nothing else changed', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), (sample, r) => {
				const doc = reread(sample, sample.text);
				const record = doc.records[r % doc.records.length]!;
				if (!record.idSpan) {
					expect(() => format.rename(doc, record, 'quite_new')).toThrow(EditRefused);
					return;
				}
				const id = record.id.replace(/[^|\s]*$/, 'quite_new');
				const text = applySplices(sample.text, format.rename(doc, record, id));
				const ids = reread(sample, text).records.map((other) => other.id);
				expect(ids).toEqual(doc.records.map((other) => (other === record ? id : other.id)));
			})
		);
	});

	test('a blank file takes a record and holds just that', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), (sample, r) => {
				const doc = reread(sample, sample.text);
				const source = doc.records[r % doc.records.length]!;
				const blank = reread(sample, format.blank(doc));
				expect(blank.records).toEqual([]);
				const text = applySplices(blank.content, format.insert(blank, doc, source));
				const next = reread(sample, text);
				expect(next.problems).toEqual([]);
				expect(asData(next)).toEqual([[source.idSpan ? source.id : null, { ...fieldsOf(source) }]]);
			})
		);
	});

	test('a record that is moved and moved back leaves the same bytes, and in between only the order differs', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), fc.nat(), (sample, a, b) => {
				const doc = reread(sample, sample.text);
				const movable = doc.records.filter((record) => record.idSpan !== null);
				fc.pre(movable.length > 1);
				const from = doc.records.indexOf(movable[a % movable.length]!);
				const to = doc.records.indexOf(movable[b % movable.length]!);
				const text = applySplices(sample.text, format.move(doc, doc.records[from]!, to));
				const next = reread(sample, text);
				const want = asData(doc);
				want.splice(to, 0, want.splice(from, 1)[0]!);
				expect(asData(next)).toEqual(want);
				expect(applySplices(text, format.move(next, next.records[to]!, from))).toBe(sample.text);
			})
		);
	});

	test('an item put into a list, taken out of it or moved in it: the rest stays, and the way back is the identity', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), fc.nat(), fc.nat(), fc.nat(), (sample, r, l, a, b) => {
				const doc = reread(sample, sample.text);
				const record = doc.records[r % doc.records.length]!;
				const lists = listsOf(record);
				if (lists.size === 0) {
					if (['csv', 'tsv', 'properties', 'lines', 'html', 'positional'].includes(id))
						expect(() => format.removeItem(doc, record, record.fields[0]!.path, 0)).toThrow(EditRefused);
					return;
				}
				const [list, count] = [...lists][l % lists.size]!;
				const from = a % count;
				const to = b % count;
				const at = doc.records.indexOf(record);
				const outside = (fields: FieldNode[]) =>
					fields
						.filter(({ path }) => path !== list && !path.startsWith(`${list}[`))
						.map(({ path, value }) => [path, value]);
				// Plural forms of a message are numbered by the language.
				if (id === 'po' && list === 'text') return;

				const put = applySplices(sample.text, format.insertItem(doc, record, list, from, { copyOf: to }));
				const more = reread(sample, put);
				expect(more.problems).toEqual([]);
				expect(listsOf(more.records[at]!).get(list)).toBe(count + 1);
				expect(outside(more.records[at]!.fields)).toEqual(outside(record.fields));
				expect(applySplices(put, format.removeItem(more, more.records[at]!, list, from))).toBe(sample.text);

				const moved = applySplices(sample.text, format.moveItem(doc, record, list, from, to));
				const other = reread(sample, moved);
				expect(other.problems).toEqual([]);
				expect(outside(other.records[at]!.fields)).toEqual(outside(record.fields));
				expect(applySplices(moved, format.moveItem(other, other.records[at]!, list, to, from))).toBe(
					sample.text
				);

				const less = reread(sample, applySplices(sample.text, format.removeItem(doc, record, list, from)));
				expect(less.problems).toEqual([]);
				expect(outside(less.records[at]!.fields)).toEqual(outside(record.fields));
				expect(listsOf(less.records[at]!).get(list) ?? 0).toBe(count - 1);
			}),
			{ numRuns: 200 }
		);
	});

	test('a block that is taken out and put in again after the model of itself: every value is as before', () => {
		let tried = 0;
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), fc.nat(), (sample, r, b) => {
				const doc = reread(sample, sample.text);
				const at = r % doc.records.length;
				const record = doc.records[at]!;
				const values = (fields: FieldNode[]) => fields.map(({ path, value }) => [path, value]).sort();
				const blocks = [
					...new Set(
						record.fields.flatMap(({ path }) =>
							[...path.matchAll(/[.[]/g)]
								.map(({ index }) => path.slice(0, index))
								.filter((one) => one !== '' && !one.endsWith(']'))
						)
					)
				];
				// Plural forms of a message go by the language.
				if (blocks.length === 0 || !format.parts || id === 'po') return;
				const path = blocks[b % blocks.length]!;
				// Those that share a name have no node that holds them all.
				const shared = format.unset(doc, record, path).length === 0;
				const count = shared ? (listsOf(record).get(path) ?? 0) : 1;
				let less = doc;
				for (let nth = 0; nth < count && less.records[at]; nth++) {
					const now = less.records[at];
					const splices = shared ? format.removeItem(less, now, path, 0) : format.unset(less, now, path);
					less = reread(sample, applySplices(less.content, splices));
				}
				// With its last value the record itself is gone, or stands as another.
				const left = less.records[at];
				const within = (one: string) => one.startsWith(`${path}.`) || one.startsWith(`${path}[`);
				const rest = record.fields.filter((field) => !within(field.path));
				if (left?.id !== record.id || rest.length === 0) return;
				expect(values(left.fields)).toEqual(values(rest));
				tried++;
				let whole = less;
				for (let nth = 0; nth < count; nth++) {
					const to = shared ? `${path}[${nth}]` : path;
					const model = { doc, record, path: to };
					const put = format.parts.insert(whole, whole.records[at]!, to, model);
					whole = reread(sample, applySplices(whole.content, put));
				}
				expect(whole.problems).toEqual([]);
				expect(values(whole.records[at]!.fields)).toEqual(values(record.fields));
			}),
			{ numRuns: 200 }
		);
		if (['json', 'yaml', 'lua', 'toml', 'xml'].includes(id)) expect(tried).toBeGreaterThan(20);
	});

	test('a field that gets another name keeps its value, and gets its name back', () => {
		fc.assert(
			fc.property(SAMPLES[id]!, fc.nat(), fc.nat(), (sample, r, f) => {
				const doc = reread(sample, sample.text);
				const record = doc.records[r % doc.records.length]!;
				// The mark that compares is part of a name.
				const fields = record.fields.filter(
					({ path }) => path !== doc.key && !/[\]#]|\]$|[<>]=?$/.test(path)
				);
				// All values of such files are items of lists.
				if (id === 'tagged') {
					expect(fields).toEqual([]);
					return;
				}
				fc.pre(fields.length > 0);
				const field = fields[f % fields.length]!;
				let splices;
				try {
					splices = format.renameKey(doc, record, field.path, 'quite_new');
				} catch (error) {
					expect(error).toBeInstanceOf(EditRefused);
					// The only value under a name.
					if (id === 'block' && field.path === 'value' && record.fields.length === 1) return;
					// The word by which the game takes in a file.
					if (id === 'ini' && /^@?[A-Z]/.test(field.path)) return;
					expect(['properties', 'po', 'positional', 'lines', 'html', 'groups']).toContain(id);
					return;
				}
				const text = applySplices(sample.text, splices);
				const next = reread(sample, text);
				expect(next.problems).toEqual([]);
				const cut = field.path.lastIndexOf('.') + 1;
				const renamed = field.path.slice(0, cut) + 'quite_new';
				const again = next.records[doc.records.indexOf(record)]!;
				expect(findField(again, renamed)?.value).toEqual(field.value);
				const undone = applySplices(text, format.renameKey(next, again, renamed, field.path.slice(cut)));
				expect(asData(reread(sample, undone))).toEqual(asData(doc));
			})
		);
	});

	test('any text whatever is read without an exception, every problem with a place in it', () => {
		const noise = fc.oneof(
			fc.string(),
			fc.string({ unit: 'binary' }),
			SAMPLES[id]!.chain(({ text }) =>
				fc
					.tuple(fc.nat(text.length), fc.string())
					.map(([at, bit]) => text.slice(0, at) + bit + text.slice(at + 3))
			)
		);
		fc.assert(
			fc.property(noise, (text) => {
				const doc = format.read(text, {});
				for (const problem of doc.problems) {
					expect(problem.line).toBeGreaterThan(0);
					expect(problem.line).toBeLessThanOrEqual(doc.lines.length);
					expect(problem.column).toBeGreaterThan(0);
					expect(problem.message).not.toMatch(/undefined|Error:|\bat .*:\d+:\d+/);
				}
			})
		);
	});
});

test('problems are said in plain words at their place, and what stands before them is kept', () => {
	const xml = readDocument('a.xml', '<all>\n<piece id="one"/>\n<piece id="two">\n</all>')!;
	expect(xml.problems[0]).toMatchObject({
		line: 4,
		message: expect.stringContaining('<piece> was opened on line 3 and never closed')
	});
	expect(xml.records[0]?.id).toBe('one');
	const tsv = readDocument('a.tsv', 'id\tx\none\t1\ntwo\nthree\t3\n')!;
	expect(tsv.problems).toMatchObject([
		{ line: 3, message: 'This row has 1 cells; the header has 2.', excerpt: 'two' }
	]);
	expect(tsv.records.map((record) => record.id)).toEqual(['one', 'two', 'three']);
	const ini = readDocument('a.ini', '[one]\nx = 1\nno sense\ny = 2\n')!;
	expect(ini.problems[0]).toMatchObject({ line: 3, column: 1 });
	expect(fieldsOf(ini.records[0]!)).toMatchObject({ x: '1', y: '2' });
	const json = readDocument('a.json', '{"a": {"x": 1}, }}')!;
	expect(json.problems.length).toBeGreaterThan(0);
	for (const path of ['a.xml', 'a.json', 'a.tsv', 'a.csv', 'a.ini'])
		expect(readDocument(path, '')!.problems[0]?.message).toMatch(/empty/);
});

test('a missing cell is written behind its row, and a missing value in its neighbours’ style', () => {
	const tsv = readDocument('a.tsv', 'id\tx\ty\none\n')!;
	const [format] = TEXT_FORMATS;
	expect(applySplices(tsv.content, format!.set(tsv, tsv.records[0]!, 'y', '5'))).toBe('id\tx\ty\none\t\t5\n');
	const ini = readDocument('a.ini', '[one]\nx: 1\n[two]\nx: 2\n')!;
	const iniFormat = TEXT_FORMATS.find((candidate) => candidate.id === 'ini')!;
	expect(applySplices(ini.content, iniFormat.set(ini, ini.records[0]!, 'y', '5'))).toBe(
		'[one]\nx: 1\ny: 5\n[two]\nx: 2\n'
	);
	expect(() => iniFormat.set(ini, ini.records[0]!, 'x', 'a ; b')).toThrow(EditRefused);
	expect(() => format!.set(tsv, tsv.records[0]!, 'z', '1')).toThrow(/has no column/);
});

test('items of a list with ids can be named by them', () => {
	const doc = readDocument('a.json', '{"a": {"list": [{"id": "x", "n": 1}, {"id": "y", "n": 2}]}}')!;
	expect(findField(doc.records[0]!, 'list[y].n')?.value).toBe(2);
	expect(findField(doc.records[0]!, 'list[z].n')).toBeUndefined();
});
