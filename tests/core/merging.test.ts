// Merging field by field, lists joined, marks that take out: beside a reader of its own that knows only the rules in words.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { planFor, stackAfter, type Intention } from '$core/edits';
import { parseGuide, type ListJoin } from '$core/guide';
import { clashesOf } from '$core/layers';
import { assembleStack, type LayerBytes } from '$core/model';
import { fileContent, type Stack } from '$core/stack';
import { saidOf } from './game';

type Json = string | null | Json[] | { [name: string]: Json };
type Rec = { [name: string]: Json };

interface Rules {
	merge: 'record' | 'field';
	second?: 'first' | 'last';
	out?: { field: string; is: string };
	joins?: Record<string, Partial<ListJoin>>;
	nulls?: 'value' | 'removes';
}

const guideOf = (rules: Rules) => `
guide: 1
kinds:
  cart:
    title: Cart
    plural: Carts
    files: ['data/*.json']
    key: id
    at: ''
    merge: ${rules.merge}
    ${rules.second ? `second: ${rules.second}` : ''}
    ${rules.out ? `out: ${JSON.stringify(rules.out)}` : ''}
    ${rules.joins ? `joins: ${JSON.stringify(rules.joins)}` : ''}
    ${rules.nulls ? `nulls: ${rules.nulls}` : ''}
    fields: {}
`;

/** A stack of layers, of which each has files with records; the first is the game. */
const stackFrom = (layers: Record<string, Rec[]>[], rules: Rules): Stack =>
	assembleStack(
		layers.map((files, nth): LayerBytes => ({
			id: `l${nth}`,
			title: `l${nth}`,
			owner: nth === 0 ? 'game' : nth === layers.length - 1 ? 'me' : 'others',
			files: new Map(
				Object.entries(files).map(([name, records]) => [
					`data/${name}.json`,
					new TextEncoder().encode(JSON.stringify(records))
				])
			)
		})),
		parseGuide(guideOf(rules))
	);

// ———— The reader: plain, slow, by the words of the guide alone.

const isList = (one: Json | undefined): one is Json[] => Array.isArray(one);
const isBlock = (one: Json | undefined): one is Rec =>
	typeof one === 'object' && one !== null && !Array.isArray(one);
const same = (a: Json, b: Json) => JSON.stringify(a) === JSON.stringify(b);

function joined(
	below: Json[],
	own: Json[],
	{ same: by = 'value', id = 'id', second = 'last', out }: Partial<ListJoin>
) {
	const list = [...below];
	const idOf = (item: Json): Json =>
		by === 'id' && isBlock(item) && item[id] !== undefined ? item[id] : item;
	own.forEach((item, nth) => {
		const name = idOf(item);
		// The mark is before a text, or before an id.
		if (out !== undefined && typeof name === 'string' && name.startsWith(out)) {
			const gone = name.slice(out.length);
			for (let at = list.length - 1; at >= 0; at--) if (same(idOf(list[at]!), gone)) list.splice(at, 1);
			return;
		}
		const at =
			by === 'position' ? (nth < list.length ? nth : -1) : list.findIndex((one) => same(idOf(one), name));
		if (at < 0 || second === 'both') list.push(item);
		else if (second === 'last') list[at] = item;
	});
	return list;
}

function over(below: Rec, own: Rec, rules: Rules, path = ''): Rec {
	const result: Rec = { ...below };
	for (const [name, value] of Object.entries(own)) {
		const at = path + name;
		const under = below[name];
		if (value === null && rules.nulls === 'removes') delete result[name];
		else if (isBlock(value)) result[name] = over(isBlock(under) ? under : {}, value, rules, `${at}.`);
		else if (isList(value) && rules.joins?.[at])
			result[name] = joined(isList(under) ? under : [], value, rules.joins[at]);
		else result[name] = value;
	}
	return result;
}

/** A record without what only removes something. */
const bare = (record: Rec): Rec =>
	Object.fromEntries(
		Object.entries(record).flatMap(([name, value]) =>
			value === null ? [] : [[name, isBlock(value) ? bare(value) : value]]
		)
	);

function plainly(layers: Record<string, Rec[]>[], rules: Rules): Map<string, Rec> {
	const seen = new Map<string, Rec>();
	for (const [nth, files] of layers.entries())
		for (const record of Object.values(files).flat()) {
			const id = record.id as string;
			const known = seen.get(id);
			if (rules.out && record[rules.out.field] === rules.out.is) seen.delete(id);
			else if (known && rules.second === 'first') continue;
			else if (rules.merge === 'record') seen.set(id, record);
			else if (known) seen.set(id, over(known, record, rules));
			else seen.set(id, nth > 0 && rules.nulls === 'removes' ? bare(record) : record);
		}
	return seen;
}

/** A record as paths and values. */
function flat(value: Json, path = '', into = new Map<string, string>()): Map<string, string> {
	if (isList(value)) value.forEach((one, nth) => flat(one, `${path}[${nth}]`, into));
	else if (isBlock(value))
		for (const [name, one] of Object.entries(value)) flat(one, path ? `${path}.${name}` : name, into);
	else into.set(path, value ?? '');
	return into;
}

const text = fc.constantFrom('1', '2', '3');
const word = fc.constantFrom('cook', 'mate', 'pilot', '-cook', '-mate');
const recordArb = (id: string): fc.Arbitrary<Rec> =>
	fc
		.record(
			{
				load: fc.oneof({ weight: 4, arbitrary: text }, { weight: 1, arbitrary: fc.constant(null) }),
				gone: fc.constantFrom('yes', 'no'),
				tide: fc.record({ low: text, high: text }, { requiredKeys: [], noNullPrototype: true }),
				crew: fc.array(word, { minLength: 1, maxLength: 4 }),
				posts: fc.array(fc.record({ id: word, n: text }, { noNullPrototype: true }), {
					minLength: 1,
					maxLength: 3
				})
			},
			{ requiredKeys: [], noNullPrototype: true }
		)
		.map((rest) => ({ id, ...rest }) as Rec);
const rowsArb = (ids: string[]) =>
	fc
		.tuple(...ids.map((id) => fc.option(recordArb(id), { nil: null })))
		.map((list) => list.filter((one) => one !== null));
// Every id is in one file of a layer: twice in one layer is a fault of its own.
const layerArb = fc.record(
	{ a: rowsArb(['a1', 'a2', 'a3']), b: rowsArb(['b1', 'b2']) },
	{ noNullPrototype: true }
);
const joinArb: fc.Arbitrary<Partial<ListJoin>> = fc.record(
	{
		same: fc.constantFrom('value', 'id', 'position'),
		second: fc.constantFrom('first', 'last', 'both'),
		out: fc.constant('-')
	},
	{ requiredKeys: [], noNullPrototype: true }
);
const rulesArb: fc.Arbitrary<Rules> = fc.record(
	{
		merge: fc.constantFrom('record' as const, 'field' as const, 'field' as const, 'field' as const),
		second: fc.constantFrom('first' as const, 'last' as const, 'last' as const),
		out: fc.constant({ field: 'gone', is: 'yes' }),
		nulls: fc.constantFrom('value' as const, 'removes' as const),
		joins: fc.record({ crew: joinArb, posts: joinArb }, { requiredKeys: [], noNullPrototype: true })
	},
	{ requiredKeys: ['merge'], noNullPrototype: true }
);

describe('merging by every rule', () => {
	test('every effective value and list, beside a plain reader, over up to six layers', () => {
		fc.assert(
			fc.property(rulesArb, fc.array(layerArb, { minLength: 2, maxLength: 6 }), (rules, layers) => {
				const stack = stackFrom(layers, rules);
				const expected = plainly(layers, rules);
				const table = stack.tables.get('cart')!;
				expect([...table.byId.keys()].sort()).toEqual([...expected.keys()].sort());
				for (const [id, record] of expected) {
					const wanted = flat(record);
					const row = table.byId.get(id)!;
					expect(table.byId.get(id)!.said('never')).toBeUndefined();
					expect(Object.fromEntries([...row.values].map(([path, { value }]) => [path, value])), id).toEqual(
						Object.fromEntries(wanted)
					);
					for (const [path, value] of wanted) {
						expect(row.value(path), `${id}.${path}`).toBe(value);
						// One alone is what it is among all, also where these were not made yet.
						expect(saidOf(table.byId.get(id)!.said(path)), `${id}.${path}`).toEqual(
							saidOf(row.values.get(path))
						);
						const column = table.column(path)[row.row]!;
						expect(column < 0 ? null : table.pool.at(column), `${id}.${path}`).toBe(value);
						// Where it was said, it stands.
						const { origin } = row.presences.at(-1)!.cells.find((cell) => cell.path === path)!;
						const said = origin.presence.record.fields.find((field) => field.path === origin.path);
						expect([said !== undefined, String(said?.value ?? '')], `${id}.${path}`).toEqual([true, value]);
						expect(row.values.get(path)!.presence.layer).toBe(origin.presence.layer);
					}
				}
			}),
			{ numRuns: 500 }
		);
	});
});

/** One record of base in a format, and how its guide reads it. */
const FORMATS: Record<string, { path: string; text: string; about: string; sparse: boolean }> = {
	json: {
		path: 'data/a.json',
		text: '[\n\t{ "id": "one", "load": 10, "tide": { "low": 1, "high": 4 }, "crew": ["cook", "mate"] },\n\t{ "id": "two", "load": 20 }\n]\n',
		about: "key: id, at: ''",
		sparse: true
	},
	yaml: {
		path: 'data/a.yaml',
		text: '- id: one\n  load: 10\n  tide:\n    low: 1\n    high: 4\n  crew:\n    - cook\n    - mate\n- id: two\n  load: 20\n',
		about: "key: id, at: ''",
		sparse: true
	},
	toml: {
		path: 'data/one.toml',
		text: 'load = 10\ncrew = ["cook", "mate"]\n\n[tide]\nlow = 1\nhigh = 4\n',
		about: 'id: file, at: null',
		sparse: true
	},
	xml: {
		path: 'data/a.xml',
		text: '<carts>\n\t<cart id="one">\n\t\t<load>10</load>\n\t\t<tide low="1" high="4"/>\n\t\t<crew>cook</crew>\n\t\t<crew>mate</crew>\n\t</cart>\n\t<cart id="two"><load>20</load></cart>\n</carts>\n',
		about: 'key: id, element: cart',
		sparse: true
	},
	lua: {
		path: 'data/a.lua',
		text: 'carts = {\n\tone = { load = 10, tide = { low = 1, high = 4 }, crew = { "cook", "mate" } },\n\ttwo = { load = 20 },\n}\n',
		about: 'at: carts',
		sparse: true
	},
	ini: {
		path: 'data/a.ini',
		text: '[one]\nload = 10\nspeed = 3\n\n[two]\nload = 20\n',
		about: '',
		sparse: true
	},
	csv: { path: 'data/a.csv', text: 'id,load,speed\none,10,3\ntwo,20,4\n', about: 'key: id', sparse: false }
};

const stackOfFormat = (format: string, mine: Map<string, Uint8Array> = new Map()): Stack => {
	const { path, text, about } = FORMATS[format]!;
	const files = path.replace(/[^/]*(\.\w+)$/, '*$1');
	return assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: new Map([[path, new TextEncoder().encode(text)]]) },
			{ id: 'mine', title: 'Mine', owner: 'me', files: mine }
		],
		parseGuide(`guide: 1\nkinds:\n  cart: { title: Cart, files: ['${files}'], merge: field, ${about} }\n`)
	);
};

const textIn = (stack: Stack, path: string): string => stack.mine!.files.get(path)?.text?.text ?? '';
const said = (stack: Stack, id = 'one') =>
	Object.fromEntries(
		[...stack.tables.get('cart')!.byId.get(id)!.values].map(([path, { value }]) => [path, value])
	);

describe('my mod says only what it changes', () => {
	for (const [format, { path, sparse }] of Object.entries(FORMATS)) {
		const change = (stack: Stack, intention: Intention) =>
			stackAfter(stack, planFor(stack, intention, 'mine'));
		const set = (stack: Stack, field: string, value: string) =>
			change(stack, { do: 'set', kind: 'cart', id: 'one', field, value });
		test(`${format}: a field, then another one, then the first again`, () => {
			const stack = stackOfFormat(format);
			const before = said(stack);
			const other = Object.keys(before).find((one) => /^speed$|\.high$/.test(one))!;
			const one = set(stack, 'load', '12');
			expect(said(one)).toEqual({ ...before, load: '12' });
			const node = one.tables.get('cart')!.byId.get('one')!.presences.at(-1)!;
			const key =
				format === 'json' || format === 'yaml' || format === 'xml' || format === 'csv' ? ['id'] : [];
			const own = () => [...new Set(node.record.fields.map((field) => field.path))].sort();
			if (sparse) expect(own()).toEqual([...key, 'load'].sort());
			const two = set(one, other, '7');
			expect(said(two)).toEqual({ ...before, load: '12', [other]: '7' });
			if (sparse && other === 'tide.high') expect(textIn(two, path)).not.toContain('low');
			expect(said(set(two, 'load', '13'))).toEqual({ ...before, load: '13', [other]: '7' });
			// Read anew from its bytes it is the same.
			const bytes = new Map([[path, new TextEncoder().encode(textIn(two, path))]]);
			expect(said(stackOfFormat(format, bytes))).toEqual(said(two));
		});
		if (!'csv ini'.includes(format))
			test(`${format}: a list is taken as a whole, and changed there`, () => {
				const stack = stackOfFormat(format);
				const before = said(stack);
				const next = change(stack, {
					do: 'item',
					kind: 'cart',
					id: 'one',
					list: 'crew',
					at: 2,
					change: { how: 'insert', value: 'pilot' }
				});
				expect(said(next)).toEqual({ ...before, 'crew[2]': 'pilot' });
				expect(textIn(next, path)).not.toMatch(/load|tide/);
				const less = change(next, {
					do: 'item',
					kind: 'cart',
					id: 'one',
					list: 'crew',
					at: 0,
					change: { how: 'remove' }
				});
				expect([said(less)['crew[0]'], said(less)['crew[1]'], said(less)['crew[2]']]).toEqual([
					'mate',
					'pilot',
					undefined
				]);
			});
	}

	test('many at once, each with its own fields; a copy as new is whole; what is below is no change', () => {
		const stack = stackFrom(
			[
				{
					a: Array.from({ length: 40 }, (_, nth) => ({
						id: `c${nth}`,
						load: '1',
						tide: { low: '1', high: '2' }
					}))
				},
				{ a: [{ id: 'c3', load: '5' }] },
				{}
			],
			{ merge: 'field' }
		);
		const after = stackAfter(
			stack,
			planFor(
				stack,
				{
					do: 'cells',
					kind: 'cart',
					cells: Array.from({ length: 40 }, (_, nth) => ({
						id: `c${nth}`,
						field: nth % 2 === 0 ? 'load' : 'tide.high',
						value: '9'
					}))
				},
				'mine'
			)
		);
		const mine = textIn(after, 'data/a.json');
		expect(mine.match(/"load"/g)).toHaveLength(20);
		expect(mine.match(/"high"/g)).toHaveLength(20);
		expect(mine).not.toContain('"low"');
		expect(said(after, 'c3')).toEqual({ id: 'c3', load: '5', 'tide.low': '1', 'tide.high': '9' });
		const copied = stackAfter(
			after,
			planFor(after, { do: 'copy', kind: 'cart', id: 'c3', newId: 'new', names: {} }, 'mine')
		);
		expect(said(copied, 'new')).toEqual({ id: 'new', load: '5', 'tide.low': '1', 'tide.high': '9' });
		const back = stackAfter(
			after,
			planFor(after, { do: 'set', kind: 'cart', id: 'c4', field: 'load', value: '1' }, 'mine')
		);
		expect(checkStack(back).filter(({ rule }) => rule === 'same-as-base')).toMatchObject([{ record: 'c4' }]);
	});

	test('one step taken back by value leaves nothing that says what is below', () => {
		const stack = stackFrom([{ a: [{ id: 'one', load: '1', tide: { low: '1' } }] }, {}], { merge: 'field' });
		const set = (from: Stack, field: string, value: string) => {
			const plan = planFor(from, { do: 'set', kind: 'cart', id: 'one', field, value }, 'mine');
			return { plan, after: stackAfter(from, plan) };
		};
		const first = set(stack, 'load', '2');
		const second = set(first.after, 'tide.low', '3');
		const reversing = { step: first.plan, later: [second.plan], before: () => undefined };
		const reversed = stackAfter(
			second.after,
			planFor(second.after, { do: 'reverse', step: 1 }, 'mine', { reversing })
		);
		expect(textIn(reversed, 'data/a.json')).not.toContain('load');
		expect(said(reversed)).toEqual({ id: 'one', load: '1', 'tide.low': '3' });
	});
});

test('what is written beside a field stays beside it', () => {
	const text =
		'[\n\t{\n\t\t"id": "one",\n\t\t"high": 9, // at new moon\n\t\t"load": 12 // with ice\n\t}\n]\n';
	const base = '[ { "id": "one", "load": 10, "low": 1 } ]';
	const layer = (id: string, owner: LayerBytes['owner'], content: string): LayerBytes => ({
		id,
		title: id,
		owner,
		files: new Map([['data/a.json', new TextEncoder().encode(content)]])
	});
	const stack = assembleStack(
		[layer('base', 'game', base), layer('mod', 'others', text)],
		parseGuide(guideOf({ merge: 'field' }))
	);
	const { values } = stack.tables.get('cart')!.byId.get('one')!;
	expect([...values].map(([path, { value, remark }]) => [path, value, remark])).toEqual([
		['id', 'one', undefined],
		['load', '12', 'with ice'],
		['low', '1', undefined],
		['high', '9', 'at new moon']
	]);
});

test('a step taken back in a table leaves the row whole: an empty cell would say something', () => {
	const stack = stackOfFormat('csv');
	const set = (from: Stack, field: string, value: string) => {
		const plan = planFor(from, { do: 'set', kind: 'cart', id: 'one', field, value }, 'mine');
		return { plan, after: stackAfter(from, plan) };
	};
	const first = set(stack, 'load', '12');
	const second = set(first.after, 'speed', '4');
	// Later steps at the same place: only the value can be taken back.
	const third = set(second.after, 'speed', '5');
	const fourth = set(third.after, 'speed', '4');
	const reversing = {
		step: second.plan,
		later: [third.plan, fourth.plan],
		before: (path: string) => fileContent(first.after.mine!.files.get(path)!)
	};
	const after = stackAfter(
		fourth.after,
		planFor(fourth.after, { do: 'reverse', step: 2 }, 'mine', { reversing })
	);
	expect(said(after)).toEqual({ id: 'one', load: '12', speed: '3' });
});

describe('what changes nothing says so', () => {
	const snags = (layers: Record<string, Rec[]>[], rules: Rules) =>
		checkStack(stackFrom(layers, rules)).filter(({ rule }) =>
			['changes-nothing', 'removes-nothing'].includes(rule)
		);
	test('a second record where the first counts, and it cannot be changed from my mod', () => {
		const rules: Rules = { merge: 'record', second: 'first' };
		const layers = [{ a: [{ id: 'one', load: '1' }] }, { a: [{ id: 'one', load: '2' }] }, {}];
		expect(snags(layers, rules)).toMatchObject([
			{
				rule: 'changes-nothing',
				layer: 'l1',
				record: 'one',
				message: /uses the first, and l0 already has one/
			}
		]);
		expect(() =>
			planFor(
				stackFrom(layers, rules),
				{ do: 'set', kind: 'cart', id: 'one', field: 'load', value: '3' },
				'mine'
			)
		).toThrow(/uses the first\. Cart one is in a layer below/);
	});
	test('a mark on a record or an item that takes out nothing names the nearest', () => {
		const rules: Rules = {
			merge: 'field',
			out: { field: 'gone', is: 'yes' },
			joins: { crew: { same: 'value', second: 'first', out: '-' } }
		};
		const found = snags(
			[
				{ a: [{ id: 'lantern', crew: ['cook', 'mate'] }] },
				{
					a: [
						{ id: 'lantem', gone: 'yes' },
						{ id: 'lantern', crew: ['-mat', 'cook', 'pilot'] }
					]
				},
				{}
			],
			rules
		);
		expect(found.map(({ message }) => message)).toEqual([
			'`data/a.json` is meant to remove cart lantem, but no layer below has one of this id. The game removes nothing. Did you mean `lantern`?',
			'Item 1 of `crew` is meant to remove `mat`, but the list below has no such item. The game removes nothing. Did you mean `mate`?',
			'Item 2 of `crew`, `cook`, changes nothing: the list already has it, and the game uses the first of two.'
		]);
	});
	test('a joined list is not changed as a whole, and what layers add to it is no clash', () => {
		const rules: Rules = { merge: 'field', joins: { crew: {} } };
		const stack = stackFrom(
			[
				{ a: [{ id: 'one', crew: ['cook'], load: '1' }] },
				{ a: [{ id: 'one', crew: ['mate'], load: '2' }] },
				{ a: [{ id: 'one', crew: ['pilot'] }] },
				{}
			],
			rules
		);
		expect(said(stack)).toMatchObject({
			'crew[0]': 'cook',
			'crew[1]': 'mate',
			'crew[2]': 'pilot',
			load: '2'
		});
		expect(clashesOf(stack)).toEqual([]);
		const copied = stackAfter(
			stack,
			planFor(stack, { do: 'copy', kind: 'cart', id: 'one', newId: 'new', names: {} }, 'mine')
		);
		expect(said(copied, 'new')).toEqual({
			id: 'new',
			'crew[0]': 'cook',
			'crew[1]': 'mate',
			'crew[2]': 'pilot',
			load: '2'
		});
		expect(() =>
			planFor(stack, { do: 'set', kind: 'cart', id: 'one', field: 'crew[1]', value: 'x' }, 'mine')
		).toThrow(/joins “crew” of one from all layers/);
	});
});
