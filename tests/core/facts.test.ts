// Facts: what a file says, in numbers. They say the same as the document, and survive being packed.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	createPool,
	factsOf,
	fieldsAt,
	packFacts,
	proseOf,
	remarkAt,
	settleFacts,
	unpackFacts,
	FactsFault,
	valueAt
} from '$core/facts';
import { readDocument } from '$core/formats';
import { readFacts } from '$core/stack';
import { SAMPLES } from './samples';

const letters = { encoding: 'utf-8', bom: false, eol: 'lf', told: 'valid', confidence: 1 } as const;

describe('facts', () => {
	for (const [format, samples] of Object.entries(SAMPLES))
		test(`of ${format} say what the document says, and come back from their bytes as they were`, () => {
			fc.assert(
				fc.property(samples, ({ path, text, hints }) => {
					const doc = readDocument(path, text, hints ?? {})!;
					const local = factsOf(doc, letters, proseOf(text));
					const packed = packFacts(local);
					expect(unpackFacts(packed)).toEqual(local);
					// Also where they are at an odd place of a larger piece.
					const shifted = new Uint8Array(packed.length + 3);
					shifted.set(packed, 3);
					expect(unpackFacts(shifted.subarray(3))).toEqual(local);
					const pool = createPool();
					pool.of('something that was there before');
					const facts = settleFacts(local, pool);
					expect(facts.count).toBe(doc.records.length);
					doc.records.forEach((record, nth) => {
						expect(pool.at(facts.ids[nth]!)).toBe(record.id);
						expect(facts.lines[nth]).toBe(record.line);
						expect(facts.written[nth] === 1).toBe(record.idSpan !== null);
						expect(remarkAt(facts, nth)).toBe(record.remark || undefined);
						const fields = record.fields;
						expect(
							fieldsAt(facts, nth).map(({ path: name, value, remark }) => [name, value, remark])
						).toEqual(
							fields.map((field) => [field.path, String(field.value ?? ''), field.remark || undefined])
						);
						for (const { path: name } of fields)
							expect(valueAt(facts, nth, name)).toBe(
								String(fields.findLast((field) => field.path === name)!.value ?? '')
							);
						expect(valueAt(facts, nth, 'no such field')).toBeUndefined();
					});
				})
			);
		});
	test('of wide records say of each field what the file says, and of a name that comes twice the last', () => {
		const name = fc.stringMatching(/^[a-z]{1,2}$/);
		fc.assert(
			fc.property(fc.array(name, { minLength: 1, maxLength: 60 }), fc.array(name), (names, others) => {
				const text = `{ ${names.map((one, nth) => `"${one}": "value ${nth}"`).join(', ')} }`;
				const facts = settleFacts(factsOf(readDocument('a.json', text, { at: null }), letters), createPool());
				for (const one of [...names, ...others]) {
					const last = names.lastIndexOf(one);
					expect(valueAt(facts, 0, one)).toBe(last < 0 ? undefined : `value ${last}`);
				}
			})
		);
	});
	test('of another version are refused, so that the file is read again', () => {
		const packed = packFacts(factsOf(null, letters));
		packed[0]! ^= 0x40;
		expect(() => unpackFacts(packed)).toThrow(FactsFault);
	});
	test('of texts that are no data are their lines; of bytes that are no text there are none', () => {
		const bytes = (text: string) => new TextEncoder().encode(text);
		const read = readFacts('read-me.txt', bytes('First\r\n\r\n  third line\n'), { hints: {} })!;
		expect([...read.prose]).toEqual([1, read.texts.indexOf('First'), 3, read.texts.indexOf('third line')]);
		expect(readFacts('a.ogg', new Uint8Array([0, 1, 2, 0, 255, 0]), { hints: {} })).toBeNull();
		expect(readFacts('a.svg', bytes('<svg/>'), { hints: {} })).toBeNull();
		const script = readFacts('start.lua', bytes('speed = 4\nfunction go()\n\tsay("on")\nend\n'), {
			hints: {}
		})!;
		expect(script.texts).toContain('say("on")');
	});
});

describe('a pool', () => {
	test('has one list for the same paths, and another for any others', () => {
		const paths = fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 5 });
		fc.assert(
			fc.property(fc.array(paths, { maxLength: 30 }), (lists) => {
				const pool = createPool();
				const shapes = lists.map((list) => pool.shape(Int32Array.from(list)));
				expect(shapes.map((shape) => [...shape])).toEqual(lists);
				for (const [a, left] of lists.entries())
					for (const [b, right] of lists.entries())
						expect(shapes[a] === shapes[b]).toBe(left.join() === right.join());
			})
		);
		// Numbers whose sums are alike are different lists all the same.
		const pool = createPool();
		expect(pool.shape(Int32Array.of(1, 0))).not.toBe(pool.shape(Int32Array.of(0, 31)));
	});

	test('knows each text once, and numbers by their value', () =>
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.string(), fc.double({ noNaN: true }).map(String))), (texts) => {
				const pool = createPool();
				const ids = texts.map((text) => pool.of(text));
				expect(ids.map((id) => pool.at(id))).toEqual(texts);
				expect(new Set(ids).size).toBe(new Set(texts).size);
				texts.forEach((text, at) => {
					expect(pool.find(text)).toBe(ids[at]);
					if (/^-?\d+(\.\d+)?$/.test(text)) expect(pool.number(ids[at]!)).toBe(Number(text));
					if (!/\d/.test(text)) expect(pool.number(ids[at]!)).toBeNaN();
				});
			})
		));
});
