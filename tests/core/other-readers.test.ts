// After any edit a reader written independently sees exactly what ours sees, and ours is held to the intended change by the
// laws of formats.test.ts: so the other one sees that change, and no other.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applySplices, type Splice } from '$core/change';
import {
	EditRefused,
	fieldsOf,
	TEXT_FORMATS,
	readDocument,
	type TextDocument,
	type TextFormat,
	type FormatId
} from '$core/formats';
import { READERS } from './readers';
import { SAMPLES, VALUES, type Sample } from './samples';

const OPERATIONS = [
	'set',
	'insert',
	'remove',
	'move',
	'rename',
	'renameKey',
	'insertItem',
	'removeItem',
	'moveItem'
] as const;
type Operation = (typeof OPERATIONS)[number];

/** Lists of a record's fields, by path. */
const listsOf = (paths: string[]) => [
	...new Set(paths.flatMap((path) => /^(.+?)\[\d+\]/.exec(path)?.[1] ?? []))
];

/** Number of items of a list. */
const lengthOf = (paths: string[], list: string) =>
	1 +
	Math.max(
		...paths
			.filter((path) => path.startsWith(`${list}[`))
			.map((path) => parseInt(path.slice(list.length + 1), 10))
	);

function edit(
	format: TextFormat,
	doc: TextDocument,
	operation: Operation,
	pick: number,
	value: string
): Splice[] {
	const record = doc.records[pick % doc.records.length]!;
	const paths = record.fields
		.map(({ path }) => path)
		.filter((path) => path !== doc.key && path !== 'context');
	const path = paths[pick % Math.max(1, paths.length)] ?? '';
	const lists = listsOf(paths).filter((list) => !(doc.format === 'po' && list === 'text'));
	const list = lists[pick % Math.max(1, lists.length)] ?? '';
	if ((path === '' && /set|Key/.test(operation)) || (list === '' && /Item/.test(operation)))
		throw new EditRefused('');
	switch (operation) {
		case 'set':
			return format.set(doc, record, path, value);
		case 'insert': {
			// A second record of the same id would be another reader's fault: it gets an id of its own afterwards.
			if (doc.format === 'po' && !record.idSpan) throw new EditRefused('');
			return format.insert(doc, doc, record);
		}
		case 'remove':
			if (doc.records.length < 2) throw new EditRefused('');
			return format.remove(doc, record);
		case 'move':
			return format.move(doc, record, (pick >> 3) % doc.records.length);
		case 'rename':
			return format.rename(doc, record, record.id.replace(/[^|\s]*$/, 'quite_new'));
		case 'renameKey':
			return format.renameKey(doc, record, path, 'quite_new');
		case 'insertItem':
			return format.insertItem(doc, record, list, pick % 2, pick % 3 === 0 ? { value } : { copyOf: 0 });
		case 'removeItem':
			return format.removeItem(doc, record, list, 0);
		case 'moveItem':
			return format.moveItem(doc, record, list, 0, lengthOf(paths, list) - 1);
	}
}

/** Dates as one text, numbers as one text: readers differ in how they show them, not in what they see. */
function plain(value: string): string {
	const date = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d/.test(value) ? Date.parse(value.replace(' ', 'T')) : NaN;
	return Number.isNaN(date) ? value : new Date(date).toISOString();
}

/** The other reader of messages gives those no longer used after all others. */
const ordered = (seen: Record<string, string>[], id: FormatId) =>
	id === 'po' ? [...seen].sort((a, b) => (`${a.id} ${a.context}` < `${b.id} ${b.context}` ? -1 : 1)) : seen;

function ours(doc: TextDocument, id: FormatId): Record<string, string>[] {
	const seen = doc.records
		.filter((record) => record.node >= 0 && (id !== 'positional' || record.idSpan !== null))
		.map((record) => {
			const fields = Object.entries(fieldsOf(record)).map(
				([path, value]) => [path, plain(String(value))] as const
			);
			return Object.fromEntries(
				id === 'po' ? [['id', record.idSpan ? messageId(record.id) : ''], ...fields] : fields
			);
		});
	return ordered(seen, id);
}

const messageId = (id: string) => id.replace(/^#~ /, '').replace(/^.*\|/, '');

/** What the other reader takes in another way than is meant here, and is therefore left out of the comparison. */
function foreign(id: FormatId, text: string): boolean {
	if (id === 'ini')
		return /[^\s][;#]|[;#]\S|\\|[=:] ?(["']|true|false|null)|[[\]]=/m.test(
			text.replace(/^; .*$/gm, '').replace(/ ; said behind/g, '')
		);
	if (id === 'toml') return /\r/.test(text);
	if (id === 'lua') return /\r/.test(text);
	if (id === 'properties') return /\\(\r|\n)/.test(text);
	if (id === 'xml' || id === 'html') return /\r(?!\n)/.test(text);
	if (id === 'yaml') return /\r(?!\n)/.test(text);
	return false;
}

/** Formats that are detected from what is in them, and edits that each of these goes through. */
const [TOLD, EDITS] = [['stanzas', 'sections', 'tagged', 'indented', 'groups'], 1000];

/** Samples whose names other readers keep in order: those that look like numbers would come first. */
const orderly = (sample: Sample) => !/^\s*\[?["']?\d+["']?\]?\s*[:=]/m.test(sample.text);

describe.each(TEXT_FORMATS.filter(({ id }) => READERS[id]).map((format) => [format.id, format] as const))(
	'%s',
	(id, format) => {
		test('a reader by other hands sees what ours sees, before and after any edit', () => {
			let compared = 0;
			fc.assert(
				fc.property(
					SAMPLES[id]!,
					fc.constantFrom(...OPERATIONS),
					fc.nat(10_000),
					VALUES[id]!,
					(sample, operation, pick, value) => {
						fc.pre(!foreign(id, sample.text) && orderly(sample));
						const doc = readDocument(sample.path, sample.text, sample.hints)!;
						const hints = { ...(doc.at === undefined ? {} : { at: doc.at }), ...sample.hints };
						const see = (text: string) =>
							ordered(
								READERS[id]!(text, sample, doc.at).map((record) =>
									Object.fromEntries(
										Object.entries(record).map(([path, seen]) => [path, plain(String(seen))])
									)
								),
								id
							);
						expect(see(sample.text)).toEqual(ours(doc, id));
						let text: string;
						try {
							text = applySplices(sample.text, edit(format, doc, operation, pick, value));
							if (operation === 'insert') {
								const next = readDocument(sample.path, text, hints)!;
								const added = next.records.at(-1)!;
								if (added.idSpan)
									text = applySplices(
										text,
										format.rename(next, added, added.id.replace(/[^|\s]*$/, 'quite_new'))
									);
							}
						} catch (error) {
							expect(error).toBeInstanceOf(EditRefused);
							return;
						}
						if (foreign(id, text)) return;
						const next = readDocument(sample.path, text, hints)!;
						expect(next.problems).toEqual([]);
						expect(see(text)).toEqual(ours(next, id));
						compared++;
					}
				),
				{ numRuns: Math.max(TOLD.includes(id) ? EDITS : 0, 2 * (fc.readConfigureGlobal().numRuns ?? 100)) }
			);
			expect(compared).toBeGreaterThan(15);
		});
	}
);
