// What is detected from files alone, what people say over it, and how both are kept and shared.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseDocument } from 'yaml';
import { createPool, type Pool } from '$core/facts';
import {
	composeGuides,
	EMPTY_GUIDE,
	fieldOf,
	GuideFault,
	guideJsonSchema,
	guideToYaml,
	meaningOf,
	mentionsIn,
	mergeGuides,
	parseGuide,
	placeDocs,
	readDocs,
	spokenPath,
	statementIn,
	valueFor,
	withMention,
	withStatement,
	type Guide,
	type ReferenceGuide,
	titleOf
} from '$core/guide';
import { FORMATS } from '$core/formats';
import { infer, readRemark, recalled } from '$core/infer';
import { spokenIn } from '$core/scripts';
import { buildLinks, columnsFor, linksFrom, linksTo, looseLinks } from '$core/links';
import { checkStack, typeFault } from '$core/checks';
import { assembleStack, guideWith, loadLayer } from '$core/model';
import { makeGuided } from '../../bench/guided';
import { judge, namer, precision, recall, truthsOf } from '../../bench/judge-guide';
import { GUIDE } from './game';
import './sample-parts';

const bytes = (files: Iterable<readonly [string, string]>) =>
	new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
const stackOf = (files: Record<string, string>, guide: Guide = EMPTY_GUIDE, owner: 'game' | 'me' = 'game') =>
	assembleStack([{ id: owner, title: owner, owner, files: bytes(Object.entries(files)) }], guide);

describe('what hangs together is told from files alone', () => {
	test('in a record of thousands of fields and lists, each number finds the list that it counts', () => {
		const crate = (nth: number) => ({
			id: `crate_${nth}`,
			...Object.fromEntries(
				Array.from({ length: 3000 }, (_, at) => [
					`part_${at}`,
					{
						things: Array.from({ length: 1 + ((nth * 7 + at) % 5) }, (_, item) => `thing ${item}`),
						count: 1 + ((nth * 7 + at) % 5)
					}
				])
			)
		});
		const { guide, tables } = stackOf({
			'crates.json': JSON.stringify(Array.from({ length: 6 }, (_, nth) => crate(nth)))
		});
		const [[kind, { fields }]] = Object.entries(guide.kinds) as [[string, Guide['kinds'][string]]];
		for (const at of [0, 1499, 2999]) expect(fields[`part_${at}.count`]?.counts).toBe(`part_${at}.things`);
		const table = tables.get(kind)!;
		for (const spoken of ['part_7.count', 'part_7.things[]', 'part_8.things[0]', 'part_9.nothing', '#id'])
			expect(columnsFor(table, spoken), spoken).toEqual(
				spoken.startsWith('#') || table.columns.includes(spoken)
					? [spoken]
					: table.columns.filter((path) => spokenPath(table.guide, path) === spoken)
			);
	});
	test.each(Array.from({ length: 10 }, (_, nth) => nth + 1))('in made-up game %i, each rule', (seed) => {
		const { files, truths } = makeGuided(seed);
		const { guide } = stackOf(Object.fromEntries(files.map(({ path, text }) => [path, text])));
		const known = [...truths.flatMap(({ from, to }) => [from, to]), ...files.map(({ path }) => path)];
		for (const [rule, score] of judge([...truthsOf(guide, namer(guide, known))], truths)) {
			expect(precision(score), `${rule}: ${score.wrong.join('; ')}`).toBeGreaterThanOrEqual(0.9);
			expect(recall(score), `${rule}: ${score.missed.join('; ')}`).toBeGreaterThanOrEqual(0.9);
		}
	});
	test('what was found and kept is the same when it is read back, and found again as the same objects', () => {
		const { files } = makeGuided(3);
		const pool = createPool();
		const layer = loadLayer(
			{ id: 'base', title: 'Base', owner: 'game' },
			bytes(files.map(({ path, text }) => [path, text] as const)),
			{ guide: EMPTY_GUIDE, pool }
		);
		const written = { ...EMPTY_GUIDE };
		const found = guideWith(written, layer);
		const other = { ...EMPTY_GUIDE };
		const kept = recalled(other, JSON.parse(JSON.stringify(found)) as Guide);
		expect(Object.keys(kept.kinds).length).toBeGreaterThan(3);
		expect(kept).toEqual(found);
		const again = guideWith(other, layer);
		for (const [name, kind] of Object.entries(kept.kinds)) expect(again.kinds[name]).toBe(kind);
	});
	test('small numbers that coincide with ids are no reference, unless the name says so', () => {
		const rows = Array.from({ length: 40 }, (_, nth) => nth + 1);
		const ports = `id,depth\n${rows.map((row) => `${row},${row * 3}`).join('\n')}\n`;
		const boats = `id,rank,port,crew\n${rows.map((row) => `b${row},${((row * 7) % 40) + 1},${((row * 3) % 40) + 1},${(row % 9) + 1}`).join('\n')}\n`;
		const { guide } = stackOf({ 'ports.csv': ports, 'boats.csv': boats });
		expect(fieldOf(guide.kinds.boats, 'port')?.reference?.kinds).toEqual(['ports']);
		expect(fieldOf(guide.kinds.boats, 'rank')?.reference).toBeUndefined();
		expect(fieldOf(guide.kinds.boats, 'crew')?.reference).toBeUndefined();
	});
	test('types, counters, ranges, twins and what remarks tell', () => {
		const bands = [0, 4, 9, 15, 24];
		const twin = (speed: number) =>
			JSON.stringify([
				{ id: 'calm', pace: 3, sight: 9, ticks: speed },
				{ id: 'storm', pace: 9, sight: 2, ticks: speed + 1 }
			]);
		const { guide } = stackOf({
			'air.csv': `id,from,to,tint,chance,since,course\n${bands
				.slice(1)
				.map(
					(to, nth) =>
						`w${nth},${bands[nth]},${to},#0${nth}ff20,0.${nth}5,19${nth}1-0${nth + 1}-11,${nth * 90}`
				)
				.join('\n')}\n`,
			'crates.json': JSON.stringify(
				[2, 3, 1].map((count, nth) => ({
					id: `c${nth}`,
					count,
					items: Array.from({ length: count }, (_, at) => ({ n: at }))
				}))
			),
			'client/modes.json': twin(4),
			'server/modes.json': twin(5),
			'rules.ini': '[main]\nberths = 4 ; at most 12\ndrag = 3 ; does nothing\n'
		});
		const air = guide.kinds.air!;
		expect(Object.fromEntries(Object.entries(air.fields).map(([path, { type }]) => [path, type]))).toEqual({
			from: 'whole',
			to: 'whole',
			tint: 'colour',
			chance: 'chance',
			since: 'date',
			course: 'angle'
		});
		expect(air.covers).toMatchObject([{ axes: [{ from: 'from', to: 'to', low: 0, high: 24 }] }]);
		expect(guide.kinds.crates!.fields.count!.counts).toBe('items');
		expect(Object.values(guide.kinds).flatMap(({ twins }) => twins ?? [])).toMatchObject([
			{ of: 'client/modes.json', file: 'server/modes.json', but: ['ticks'] }
		]);
		expect(guide.kinds.rules!.fields.berths).toMatchObject({ max: 12 });
		expect(guide.kinds.rules!.fields.drag).toMatchObject({ unused: true });
	});
	test('what was kept of an older state does not show in a new one', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 40 }),
				fc.array(fc.tuple(fc.nat(200), fc.nat(2000), fc.constantFrom('1', 'x', '\n', ',')), { maxLength: 3 }),
				(seed, edits) => {
					const texts = new Map(makeGuided(seed).files.map(({ path, text }) => [path, text]));
					const layerOf = (pool: Pool) =>
						loadLayer({ id: 'base', title: 'Base', owner: 'game' }, bytes(texts), {
							guide: EMPTY_GUIDE,
							pool
						});
					const filesOf = (layer: ReturnType<typeof layerOf>) =>
						[...layer.files.values()].flatMap(({ path, facts }) => (facts ? [{ path, facts }] : []));
					const pool = createPool();
					const before = filesOf(layerOf(pool));
					const asked = { paths: new Set(texts.keys()) };
					infer(EMPTY_GUIDE, before, asked);
					const changed = new Set<string>();
					for (const [file, place, insert] of edits) {
						const path = [...texts.keys()][file % texts.size]!;
						const text = texts.get(path)!;
						const at = place % (text.length + 1);
						texts.set(path, text.slice(0, at) + insert + text.slice(at));
						changed.add(path);
					}
					const again = new Map(filesOf(layerOf(pool)).map((file) => [file.path, file]));
					const files = before.map((file) => (changed.has(file.path) ? again.get(file.path)! : file));
					const fresh = infer(EMPTY_GUIDE, filesOf(layerOf(createPool())), asked);
					expect(infer(EMPTY_GUIDE, files, asked)).toEqual(fresh);
				}
			),
			{ numRuns: 8 }
		);
	});
	test('texts in a line of a script, and not those that are put together', () => {
		expect([
			...spokenIn('if sees(boat, "tern") and boat.id == \'b1\' then raise("a" .. x, 2) end')
		]).toMatchObject([
			{ call: 'sees', argument: 2, text: 'tern' },
			{ call: 'boat.id', argument: 0, text: 'b1' }
		]);
	});
	test('a remark tells limits, unit, codes and what does nothing', () => {
		expect(readRemark('at the shaft, in kW')).toMatchObject({ unit: 'kW' });
		expect(readRemark('1 to 5, the higher the later')).toMatchObject({ min: 1, max: 5 });
		expect(readRemark('0 = calm, 1 = rough, 3 = turns back early')).toMatchObject({
			codes: { '0': 'calm', '1': 'rough', '3': 'turns back early' }
		});
		expect(readRemark('never read by the game')).toMatchObject({ unused: true });
		expect(readRemark('')).toEqual({});
	});
});

describe('references by rules', () => {
	const id = fc.stringMatching(/^[a-z][a-z0-9_]{0,8}$/);
	const rule = fc.constantFrom<Partial<ReferenceGuide>>(
		{},
		{ before: 'art/', after: '.svg' },
		{ list: ';' },
		{ list: ',', weight: ':' },
		{ list: '|', before: 'x-' }
	);
	test('what is written names what was meant, and a change of one id leaves the others', () => {
		fc.assert(
			fc.property(
				rule,
				fc.array(id, { minLength: 1, maxLength: 4 }),
				fc.nat(3),
				id,
				(some, ids, nth, other) => {
					const reference: ReferenceGuide = { kinds: ['a'], none: [], ...some };
					const list = reference.list ? ids : ids.slice(0, 1);
					const value = list
						.map(
							(one, at) =>
								valueFor(reference, one, 'a')! + (reference.weight ? `${reference.weight}${at + 1}` : '')
						)
						.join(reference.list ?? '');
					const mentions = mentionsIn(reference, value);
					expect(mentions.map((mention) => mention.id)).toEqual(list);
					const at = nth % list.length;
					const changed = withMention(reference, value, mentions[at]!, other);
					expect(mentionsIn(reference, changed).map((mention) => mention.id)).toEqual(list.with(at, other));
					expect(withMention(reference, changed, mentionsIn(reference, changed)[at]!, list[at]!)).toBe(value);
				}
			)
		);
	});
	test('numbers with an offset', () => {
		const reference: ReferenceGuide = { kinds: ['a', 'b'], none: [], plus: { a: 200, b: 600 } };
		expect(mentionsIn(reference, '0212')).toMatchObject([{ id: '12', kind: 'a' }]);
		expect(mentionsIn(reference, '605')).toMatchObject([{ id: '5', kind: 'b' }]);
		expect(withMention(reference, '605', mentionsIn(reference, '605')[0]!, '7')).toBe('607');
		expect(valueFor(reference, '9', 'a')).toBe('209');
		expect(mentionsIn(reference, '12')).toMatchObject([{ id: '12' }]);
	});
	test('are followed both ways, and those that lead nowhere are snags, repaired by the rule', () => {
		const guide = parseGuide(`guide: 1
kinds:
  cart:
    title: Cart
    files: [carts.csv]
    key: id
    merge: record
    fields:
      load: { reference: { kinds: [crate], list: ';', weight: ':' } }
      sign: { reference: { kinds: [crate], anyCase: true } }
      prize: { reference: { kinds: [crate, cart], by: { field: what, kinds: { box: crate, cart: cart } } } }
  crate: { title: Crate, files: [crates.ini], merge: record }
`);
		const files = {
			'carts.csv':
				'id,load,sign,what,prize\nhand,oak:2;elm:1,OAK,box,oak\npony,elm:4;fir:1,Elm,cart,hand\nox,,,cart,oak\n',
			'crates.ini': '[oak]\nsize = 2\n\n[elm]\nsize = 3\n'
		};
		const stack = stackOf(files, guide);
		const links = buildLinks(stack);
		const named = (table: string, row: string) =>
			linksFrom(links, stack.tables.get(table)!.byId.get(row)!).map(
				({ field, to }) => `${field} ${to?.id ?? '?'}`
			);
		expect(named('cart', 'hand')).toEqual(['load oak', 'load elm', 'sign oak', 'prize oak']);
		expect(named('cart', 'pony')).toEqual(['load elm', 'load ?', 'sign elm', 'prize hand']);
		expect(linksTo(links, stack.tables.get('crate')!.byId.get('oak')!)).toHaveLength(3);
		expect([...looseLinks(links)].map(({ from, value }) => `${from.id} ${value}`)).toEqual([
			'pony fir',
			'ox oak'
		]);
		// What the game itself ships is right by definition; the same in a mod is not.
		expect(checkStack(stack)).toEqual([]);
		const mod = stackOf(files, guide, 'me');
		expect(checkStack(mod).filter(({ severity }) => severity === 'blocks')).toMatchObject([
			{ rule: 'missing-reference', record: 'pony', value: 'fir' },
			{ rule: 'wrong-kind', record: 'ox', value: 'oak' }
		]);
	});
});

describe('the guide in layers', () => {
	const shared = `guide: 1 # of the club
kinds:
  # two wheels
  cart:
    title: Cart
    files: [carts.csv]
    fields:
      load: { type: whole, unit: kg, max: 90 } # by hand
`;
	test('one’s own statement counts, the others stay, and taking it back gives the text as it was', () => {
		const path = ['kinds', 'cart', 'fields', 'load', 'max'];
		const mine = withStatement(null, path, 120);
		const both = composeGuides(shared, mine);
		expect(both.kinds.cart!.fields.load).toMatchObject({ type: 'whole', unit: 'kg', max: 120 });
		expect(withStatement(mine, path, undefined)).toBe('guide: 1\n');
		const edited = withStatement(shared, path, 120);
		expect(edited).toContain('# two wheels');
		expect(edited).toContain('# by hand');
		expect(withStatement(edited, path, 90)).toBe(withStatement(shared, path, 90));
		expect(() => composeGuides(shared, withStatement(null, path, 'much'))).toThrow(GuideFault);
	});
	const word = fc.constantFrom('a', 'b', 'c');
	const statements = fc.array(
		fc.tuple(word, word, fc.constantFrom('title', 'unit', 'meaning'), fc.constantFrom('x', 'y', 'z')),
		{ maxLength: 6 }
	);
	const written = (list: [string, string, string, string][]) =>
		list.reduce(
			(yaml, [kind, field, name, value]) =>
				withStatement(yaml, ['kinds', kind, 'fields', field, name], value),
			list.reduce(
				(yaml, [kind]) => withStatement(yaml, ['kinds', kind], { title: kind, files: [`${kind}.csv`] }),
				'guide: 1 # kept\n'
			)
		);
	test('merging says everything that either says; of what both say differently the preferred', () => {
		fc.assert(
			fc.property(statements, statements, (one, two) => {
				const [here, there] = [written(one), written(two)];
				const { yaml, clashes } = mergeGuides(here, there, 'here');
				expect(yaml).toContain('# kept');
				const merged = parseGuide(yaml);
				expect(merged).toEqual(composeGuides(there, here));
				expect(parseGuide(mergeGuides(here, there, 'there').yaml)).toEqual(composeGuides(here, there));
				expect(parseGuide(mergeGuides(yaml, there, 'here').yaml)).toEqual(merged);
				for (const { path } of clashes) expect(statementIn(here, path)).not.toEqual(statementIn(there, path));
				expect(mergeGuides(here, here, 'here')).toEqual({
					yaml: parseDocument(here).toString({ lineWidth: 0 }),
					clashes: []
				});
			}),
			{ numRuns: 40 }
		);
	});
	test('what was found can be written out, and read again as a guide', () => {
		const { files } = makeGuided(3);
		const { guide } = stackOf(Object.fromEntries(files.map(({ path, text }) => [path, text])));
		const strip = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
		const again = parseGuide(guideToYaml(guide, true));
		expect(strip(again)).toEqual(
			strip({
				...guide,
				kinds: Object.fromEntries(
					Object.entries(guide.kinds).map(([kind, about]) => [kind, { ...about, inferred: true }])
				)
			})
		);
	});
	test('docs come in from CSV or Markdown, and what they speak of is found by name, title or file', () => {
		const guide = parseGuide(GUIDE);
		const csv =
			'table,field,text\ncart,load,What it carries\ncarts.tsv,Wheel,"By name, of oak"\nship,sail,x\ncart,mast,y\n';
		const markdown =
			'# Notes\n\n| Kind | Field | Meaning |\n|---|:--|---|\n| Carts | `load` | What it carries |\n| carts.tsv | wheel | By name, of oak |\n| ship | sail | x |\n| cart | mast | y |\n';
		for (const text of [csv, markdown]) {
			const { placed, lost } = placeDocs(guide, readDocs(text));
			expect(placed).toMatchObject([
				{ kind: 'cart', field: 'load', text: 'What it carries' },
				{ kind: 'cart', field: 'wheel', text: 'By name, of oak' }
			]);
			expect(lost.map(({ why }) => why)).toEqual(['there is no kind “ship”', 'Cart has no field “mast”']);
		}
		expect(() => readDocs('nothing here')).toThrow(GuideFault);
	});
	test('the published schema names every format, and what a kind may say', () => {
		const text = JSON.stringify(guideJsonSchema());
		for (const { id } of FORMATS) expect(text).toContain(`"${id}"`);
		expect(guideJsonSchema()).toMatchObject({ title: 'Field guide', type: 'object' });
		for (const word of ['kinds', 'reference', 'recipes', 'merge']) expect(text).toContain(`"${word}"`);
	});
});

test('a place of a list is called by the list’s title and its number, and by a title of its own where it has one', () => {
	const { kinds } = parseGuide(`guide: 1
kinds:
  tint:
    title: Tint
    files: [tints.json]
    fields: { 'falloff[]': { title: Falloff }, 'falloff[0]': { title: Nearest }, 'bands[].stops[]': { title: Stop }, hue: { title: Hue } }
`);
	const titles = ['hue', 'falloff[0]', 'falloff[2]', 'bands[1].stops[0]', 'grain', 'grain[1]'];
	expect(titles.map((path) => titleOf(kinds.tint, path))).toEqual([
		'Hue',
		'Nearest',
		'Falloff 3',
		'Stop 2.1',
		'grain',
		'grain[1]'
	]);
});

test('a set of known values says what those of several fields mean; others may be there, and a field may say more', () => {
	const guide = parseGuide(`
guide: 1
sets: { 'key codes': { '32': Space bar, '27': Escape } }
kinds:
  binding:
    title: Binding
    files: [bindings.csv]
    key: id
    fields:
      key: { type: code, set: key codes }
      other: { type: code, set: key codes, codes: { '27': Way out, '9': Tab } }
`);
	const { key, other } = guide.kinds.binding!.fields;
	expect(meaningOf(key, '32')).toBe('Space bar');
	expect(meaningOf(other, '27')).toBe('Way out');
	expect(meaningOf(other, '32')).toBe('Space bar');
	// What is not known is not wrong.
	expect(typeFault(key!, '77')).toBeNull();
	expect(() =>
		parseGuide('guide: 1\nkinds: { a: { title: A, files: [a], fields: { b: { set: keys } } } }\n')
	).toThrow('The field guide has no set of values “keys”, of which a.b speaks.');
});
