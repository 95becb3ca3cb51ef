// A format of bytes goes through reading, plans and their inverse as a format of texts does.
import { expect, test } from 'vitest';
import { applyPlan, applySplices, changeOf, invertPlan } from '$core/change';
import { findField, findRecord, type Document, type Format, type RecordNode } from '$core/formats';
import { factsOf } from '$core/facts';

const SIZE = 3;

/** Records of three bytes: an id, and two numbers. */
const triples: Format<Uint8Array> = (() => {
	const recordAt = (content: Uint8Array, node: number): RecordNode => {
		const from = node * SIZE;
		return {
			id: `t${content[from]}`,
			idSpan: { from, to: from + 1 },
			from,
			to: from + SIZE,
			line: 1,
			node,
			get fields() {
				return ['x', 'y'].map((path, at) => ({
					path,
					value: content[from + 1 + at]!,
					from: from + 1 + at,
					to: from + 2 + at
				}));
			}
		};
	};
	const number = (value: string) => Uint8Array.from([Number(value)]);
	const none = new Uint8Array(0);
	const refuse = () => {
		throw new Error('not needed here');
	};
	return {
		id: 'triples',
		of: 'bytes',
		endings: ['tri'],
		traits: {},
		read(content): Document<Uint8Array> {
			const count = Math.floor(content.length / SIZE);
			return {
				format: 'triples',
				content,
				lines: [0],
				records: Array.from({ length: count }, (_, node) => recordAt(content, node)),
				problems: [],
				columns: ['x', 'y'],
				key: null,
				named: false,
				hints: {}
			};
		},
		set(doc, record, path, value) {
			const { from, to } = findField(record, path)!;
			return [{ from, to, insert: number(value) }];
		},
		unset: refuse,
		rename: (_, { from }, id) => [{ from, to: from + 1, insert: number(id.slice(1)) }],
		renameKey: refuse,
		insert: (doc, source, { from, to }) => [
			{ from: doc.content.length, to: doc.content.length, insert: source.content.subarray(from, to) }
		],
		remove: (_, { from, to }) => [{ from, to, insert: none }],
		move: refuse,
		insertItem: refuse,
		removeItem: refuse,
		moveItem: refuse,
		blank: () => none
	};
})();

test('set, inserted, renamed and removed, each as splices of bytes that can be taken back', () => {
	const before = Uint8Array.from([1, 10, 11, 2, 20, 21]);
	const doc = triples.read(before, {});
	const facts = factsOf(doc, null);
	expect(facts.count).toBe(2);
	expect(new Set(facts.texts)).toEqual(new Set(['', 't1', 'x', '10', 'y', '11', 't2', '20', '21']));
	const one = findRecord(doc, 't2')!;
	const edits = [
		[triples.set(doc, one, 'y', '99'), [1, 10, 11, 2, 20, 99]],
		[triples.rename(doc, one, 't7'), [1, 10, 11, 7, 20, 21]],
		[triples.remove(doc, one), [1, 10, 11]],
		[triples.insert(doc, doc, doc.records[0]!), [1, 10, 11, 2, 20, 21, 1, 10, 11]]
	] as const;
	for (const [splices, expected] of edits) {
		const next = applySplices(before, splices);
		expect([...next]).toEqual(expected);
		const plan = { title: '', values: [], notes: [], changes: [changeOf('a.tri', before, next, splices)] };
		expect(plan.changes[0]!.of).toBe('bytes');
		const files = new Map([['a.tri', before]]);
		const after = applyPlan(files, plan);
		expect(after.get('a.tri')).toEqual(next);
		expect(applyPlan(after, invertPlan(files, plan)).get('a.tri')).toEqual(before);
	}
});
