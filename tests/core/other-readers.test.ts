// After an edit another reader of the format sees exactly the change that was meant, and no other.
import fc from 'fast-check';
import papaparse from 'papaparse';
import { describe, expect, test } from 'vitest';
import { applySplices } from '$core/change';
import { findField, FORMATS, readDocument, type FormatId } from '$core/formats';
import { readElements, readSections, readTexts } from '../../standin/readers.mjs';
import { SAMPLES, VALUES } from './samples';

type Plain = Record<string, string>;

/** Records as another reader sees them: by position, field to value. */
const READERS: Partial<Record<FormatId, (text: string) => Plain[]>> = {
	csv: (text) => papaparse.parse<Plain>(text, { header: true, delimiter: ',', skipEmptyLines: true }).data,
	tsv: (text) =>
		papaparse.parse<Plain>(text, { header: true, delimiter: '\t', quoteChar: '\u0000', skipEmptyLines: true })
			.data,
	// The other reader knows only the one mark.
	ini: (text) => readSections(text.replace(/^([a-z0-9_]+): ?/gm, '$1 = ')).map((section) => section.fields),
	properties: (text) => readTexts(text).map(({ text: value }) => ({ text: value })),
	xml: (text) =>
		readElements(text.replace(/<about>[^<]*<\/about>/g, '')).children.map((element) => element.attributes),
	json: (text) => {
		const data = JSON.parse(text);
		const list = Array.isArray(data) ? data : Array.isArray(data.all) ? data.all : Object.values(data);
		return (list as Record<string, unknown>[]).map((item) =>
			Object.fromEntries(Object.entries(item).map(([key, value]) => [key, JSON.stringify(value)]))
		);
	}
};

/** Values whose writing both readers agree on. */
const simple = fc.stringMatching(/^[a-z0-9äß漢]([a-z0-9äß漢 .-]*[a-z0-9äß漢])?$/);

describe.each(Object.entries(READERS) as [FormatId, (text: string) => Plain[]][])('%s', (id, other) => {
	const format = FORMATS.find((candidate) => candidate.id === id)!;
	test('a value that is set is the only one that differs', () => {
		fc.assert(
			fc.property(
				SAMPLES[id],
				fc.nat(),
				fc.nat(),
				id === 'csv' || id === 'tsv' ? VALUES[id] : simple,
				(sample, r, f, value) => {
					// Old readers of lines take no continued lines.
					fc.pre(!/\\\r?\n|\\\r/.test(sample.text));
					const doc = readDocument(sample.path, sample.text)!;
					const at = r % doc.records.length;
					const record = doc.records[at]!;
					const fields = record.fields.filter(
						(field) =>
							field.path !== doc.key &&
							!/[[.]/.test(field.path) &&
							field.path !== 'about' &&
							(id !== 'json' || typeof field.value === 'string')
					);
					fc.pre(fields.length > 0);
					const field = fields[f % fields.length]!;
					const before = other(sample.text);
					const text = applySplices(sample.text, format.set(doc, record, field.path, value));
					const after = other(text);
					expect(after[at]![field.path]).toBe(id === 'json' ? JSON.stringify(value) : value);
					before[at]![field.path] = after[at]![field.path]!;
					expect(after).toEqual(before);
				}
			),
			{ numRuns: 200 }
		);
	});

	test('both see the same values to begin with', () => {
		fc.assert(
			fc.property(SAMPLES[id], (sample) => {
				fc.pre(!/\\/.test(sample.text));
				const doc = readDocument(sample.path, sample.text)!;
				other(sample.text).forEach((seen, at) => {
					for (const [path, value] of Object.entries(seen)) {
						const field = findField(doc.records[at]!, path);
						if (field) expect(id === 'json' ? JSON.stringify(field.value) : field.value).toBe(value);
					}
				});
			})
		);
	});
});
