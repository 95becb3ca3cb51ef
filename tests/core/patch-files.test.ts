// Files of layers that are patches of other files: JSON Patch (RFC 6902) and JSON Merge Patch (RFC 7396).
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import fc from 'fast-check';
import { createPatch } from 'rfc6902';
import mergePatch from 'json-merge-patch';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { JsonPatchFault, patchJson } from '$core/formats';
import { myFiles, planFor, stackAfter } from '$core/edits';
import { parseGuide } from '$core/guide';
import { clashesOf } from '$core/layers';
import { assembleStack, type LayerBytes } from '$core/model';
import type { Stack } from '$core/stack';
import { digestOf } from '$core/text';
import { runs } from '../runs';

const require = createRequire(import.meta.url);

interface Case {
	comment?: string;
	doc: unknown;
	patch: unknown;
	expected?: unknown;
	error?: string;
	disabled?: boolean;
}

describe('JSON Patch', () => {
	test.each([
		['spec_tests.json', 2],
		['spec_tests.json', undefined],
		['tests.json', 2],
		['tests.json', undefined]
	])('every case of the public suite in %s, indented by %s', (name, indent) => {
		const cases = JSON.parse(
			readFileSync(require.resolve(`json-patch-test-suite/${name}`), 'utf8')
		) as Case[];
		const wrong: string[] = [];
		let count = 0;
		for (const { doc, patch, expected, error, disabled, comment } of cases) {
			if (disabled) continue;
			count++;
			let result: unknown;
			try {
				result = JSON.parse(
					patchJson(JSON.stringify(doc, null, indent), JSON.stringify(patch), 'json-patch')
				) as unknown;
			} catch (fault) {
				if (!(fault instanceof JsonPatchFault)) throw fault;
				if (error === undefined) wrong.push(`${comment ?? JSON.stringify(patch)}: ${fault.message}`);
				continue;
			}
			if (error !== undefined) wrong.push(`${error}: was taken`);
			else if (expected !== undefined)
				try {
					expect(result).toEqual(expected);
				} catch {
					wrong.push(`${comment ?? JSON.stringify(patch)}: ${JSON.stringify(result)}`);
				}
		}
		expect(wrong).toEqual([]);
		expect(count).toBeGreaterThan(15);
	});

	test('what it does not name stays as it is written: comments, numbers, the last comma', () => {
		const text = '{\n\t// how far\n\t"range": 1.50,\n\t"tags": ["a", "b"], // of old\n}\n';
		const patch = '[{"op": "add", "path": "/tags/1", "value": 2.00}, {"op": "remove", "path": "/tags/0"}]';
		expect(patchJson(text, patch, 'json-patch')).toBe(
			'{\n\t// how far\n\t"range": 1.50,\n\t"tags": [2.00, "b"], // of old\n}\n'
		);
	});

	test('law: a merge patch does what a library of others makes of it', () => {
		const json = fc.letrec((tie) => ({
			value: fc.oneof(
				{ maxDepth: 3 },
				fc.constantFrom(null, true, 1, 'x', ''),
				fc.array(tie('value'), { maxLength: 3 }),
				tie('block')
			),
			block: fc.dictionary(fc.constantFrom('a', 'b', 'c', 'd e'), tie('value'), {
				maxKeys: 4,
				noNullPrototype: true
			})
		}));
		fc.assert(
			fc.property(json.block, json.block, fc.constantFrom(undefined, 2), (doc, patch, indent) => {
				const made = patchJson(JSON.stringify(doc, null, indent), JSON.stringify(patch), 'merge-patch');
				expect(JSON.parse(made)).toEqual(mergePatch.apply(structuredClone(doc), structuredClone(patch)));
			}),
			{ numRuns: 500 }
		);
	});
});

const guideOf = (merge: 'file' | 'record' | 'field') =>
	parseGuide(`
guide: 1
patches:
  - files: '{path}.patch'
    form: json-patch
  - files: 'merge/{path}'
    form: merge-patch
kinds:
  cart:
    title: Cart
    plural: Carts
    files: ['data/*.json']
    key: id
    at: carts
    merge: ${merge}
    fields: {}
`);

const CARTS = JSON.stringify({
	carts: [
		{ id: 'barrow', load: '10', crew: ['mate', 'cook'] },
		{ id: 'sledge', load: '20', crew: ['pilot'] },
		{ id: 'wagon', load: '30', crew: ['mate'] }
	]
});

const layer = (id: string, owner: LayerBytes['owner'], files: Record<string, unknown>): LayerBytes => ({
	id,
	title: id,
	owner,
	files: new Map(
		Object.entries(files).map(([path, text]) => [
			path,
			new TextEncoder().encode(typeof text === 'string' ? text : JSON.stringify(text))
		])
	)
});

const stackOf = (merge: 'file' | 'record' | 'field', ...layers: LayerBytes[]): Stack =>
	assembleStack([layer('base', 'game', { 'data/carts.json': CARTS }), ...layers], guideOf(merge));

const seen = (stack: Stack) =>
	Object.fromEntries(
		stack.tables
			.get('cart')!
			.records.map(({ id, values }) => [
				id,
				Object.fromEntries(
					[...values].map(([path, { value, presence }]) => [path, `${value} ${presence.layer.id}`])
				)
			])
	);

const PATCH = [
	{ op: 'test', path: '/carts/1/id', value: 'sledge' },
	{ op: 'replace', path: '/carts/1/load', value: '25' },
	{ op: 'remove', path: '/carts/0/crew/1' },
	{ op: 'add', path: '/carts/-', value: { id: 'raft', load: '5' } },
	{ op: 'remove', path: '/carts/2' }
];

describe('patch files of a layer', () => {
	test.each(['file', 'record', 'field'] as const)(
		'values are known by who said them, where layers replace a %s',
		(merge) => {
			const stack = stackOf(merge, layer('other', 'others', { 'data/carts.json.patch': PATCH }));
			const list = merge === 'field' ? 'other' : 'base';
			expect(seen(stack)).toEqual({
				barrow: { id: 'barrow base', load: '10 base', 'crew[0]': `mate ${list}` },
				sledge: { id: 'sledge base', load: '25 other', 'crew[0]': 'pilot base' },
				raft: { id: 'raft other', load: '5 other' }
			});
			const load = stack.tables.get('cart')!.byId.get('sledge')!.values.get('load')!;
			expect(load.overrode.map(({ layer: below, value }) => `${value} ${below.id}`)).toEqual(['20 base']);
			expect(checkStack(stack).filter(({ rule }) => rule === 'patch-file')).toEqual([]);
		}
	);

	test.each(['file', 'record', 'field'] as const)(
		'law: whatever a library of others writes to lead from one state to another leads there, where layers replace a %s',
		(merge) => {
			const cart = (id: string) =>
				fc
					.record(
						{
							load: fc.constantFrom('1', '2', '3'),
							crew: fc.array(fc.constantFrom('mate', 'cook', 'pilot'), { minLength: 1, maxLength: 3 }),
							tide: fc.record({ low: fc.constantFrom('1', '2') }, { noNullPrototype: true })
						},
						{ requiredKeys: [], noNullPrototype: true }
					)
					.map((rest) => ({ id, ...rest }));
			const state = fc
				.subarray(['barrow', 'sledge', 'wagon', 'raft'], { minLength: 1 })
				.chain((ids) => fc.tuple(...ids.map(cart)))
				.map((carts) => ({ carts }));
			const values = (stack: Stack) =>
				new Map(
					stack.tables
						.get('cart')!
						.records.map(({ id, values: all }) => [
							id,
							new Map([...all].map(([path, { value }]) => [path, value]))
						])
				);
			const alone = (base: unknown) =>
				assembleStack([layer('base', 'game', { 'data/carts.json': base })], guideOf(merge));
			fc.assert(
				fc.property(state, state, state, (one, two, three) => {
					const stack = assembleStack(
						[
							layer('base', 'game', { 'data/carts.json': one }),
							layer('a', 'others', { 'data/carts.json.patch': createPatch(one, two) }),
							layer('b', 'others', { 'data/carts.json.patch': createPatch(two, three) })
						],
						guideOf(merge)
					);
					expect(values(stack)).toEqual(values(alone(three)));
					// Whose a value is: the last one's that changed it, the game's where nobody did.
					const before = values(alone(one));
					for (const { id, values: all } of stack.tables.get('cart')!.records)
						for (const [path, { value, presence }] of all)
							if (presence.layer.id === 'base') expect(before.get(id)?.get(path)).toBe(value);
				}),
				{ numRuns: runs(200) }
			);
		}
	);

	test('patches of several layers apply one after the other, and one that is off does not', () => {
		const layers = [
			layer('one', 'others', {
				'data/carts.json.patch': [{ op: 'replace', path: '/carts/0/load', value: '11' }]
			}),
			layer('two', 'others', { 'merge/data/carts.json': { carts: [{ id: 'only', load: '7' }] } }),
			layer('three', 'others', {
				'data/carts.json.patch': [{ op: 'add', path: '/carts/0/seats', value: '2' }]
			})
		];
		expect(seen(stackOf('file', ...layers))).toEqual({
			only: { id: 'only two', load: '7 two', seats: '2 three' }
		});
		const without = layers.map((one) => (one.id === 'two' ? { ...one, on: false } : one));
		expect(seen(stackOf('file', ...without)).barrow).toEqual({
			id: 'barrow base',
			load: '11 one',
			'crew[0]': 'mate base',
			'crew[1]': 'cook base',
			seats: '2 three'
		});
	});

	test('a patch that cannot be applied changes nothing at all, and a snag says which operation fails and why', () => {
		const stack = stackOf(
			'file',
			layer('other', 'others', {
				'data/carts.json.patch': [
					{ op: 'replace', path: '/carts/0/load', value: '11' },
					{ op: 'replace', path: '/carts/7/load', value: '1' }
				],
				'data/barges.json.patch': []
			})
		);
		expect(seen(stack).barrow!.load).toBe('10 base');
		const snags = checkStack(stack).filter(({ rule }) => rule === 'patch-file');
		expect(snags.map(({ file, message }) => `${file}: ${message}`)).toEqual([
			'data/barges.json.patch: This patch does nothing. No layer below has a file “data/barges.json”. Did you mean “data/carts.json”?',
			'data/carts.json.patch: This patch of data/carts.json does nothing. Operation 2: There is no item “7” at “/carts/7/load”.'
		]);
	});

	test('my mod: its patch counts, follows an edit of it, is packed as it is, and guards the file that it makes', () => {
		const path = 'data/carts.json.patch';
		const mine = layer('mine', 'me', { [path]: [{ op: 'replace', path: '/carts/0/load', value: '11' }] });
		const stack = stackOf('file', mine);
		expect(seen(stack).barrow!.load).toBe('11 mine');
		expect([...myFiles(stack).keys()]).toEqual([path]);
		const text = '[{"op": "replace", "path": "/carts/0/load", "value": "12"}]';
		const after = stackAfter(
			stack,
			planFor(stack, { do: 'text', path, text, from: digestOf(mine.files.get(path)!) }, 'mine')
		);
		expect(seen(after).barrow!.load).toBe('12 mine');
		expect(() =>
			planFor(stack, { do: 'set', kind: 'cart', id: 'barrow', field: 'load', value: '13' }, 'mine')
		).toThrow(/changes data\/carts\.json by the patch data\/carts\.json\.patch/);
	});

	test('two patches that change the same value clash; what a patch left alone does not', () => {
		const change = (value: string) => ({
			'data/carts.json.patch': [{ op: 'replace', path: '/carts/0/load', value }]
		});
		const stack = stackOf('file', layer('one', 'others', change('11')), layer('two', 'others', change('12')));
		const clashes = clashesOf(stack);
		expect(JSON.stringify(clashes)).toContain('barrow');
		expect(JSON.stringify(clashes)).not.toContain('wagon');
	});
});
