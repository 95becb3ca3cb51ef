import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { claimOf, EMPTY_GUIDE, GuideFault, meaningOf, parseGuide } from '$core/guide';
import { buildLinks, distance, linksTo, nearest } from '$core/links';
import { formulaFor, rankOf, spreadOf } from '$core/numbers';
import {
	arrange,
	conditionFault,
	conditionFrom,
	conditionsFrom,
	inConditionWords,
	type Condition
} from '$core/query';
import { packOf, zipOf } from '$core/pack';
import { gameVersionOf, identityOf } from '$core/stack';
import { buildIndex, fold, inRoll, rollOf, search } from '$core/search';
import { assembleStack } from '$core/model';
import { BASE, GUIDE, HEAD, stackOf } from './game';

describe('search', () => {
	const stack = stackOf();
	const index = buildIndex(stack, buildLinks(stack));
	const first = (query: string) => {
		const hit = search(index, query).hits[0];
		return hit && `${hit.kind}/${hit.record} by ${hit.reason}`;
	};
	test('by the name players see, in any language, without case and accents, in any order, with a slip', () => {
		expect(first('Hand cart')).toBe('cart/hand by English name');
		expect(first('bras charrette')).toBe('cart/hand by Français name');
		expect(first('CHARRETTE A PONEY')).toBe('cart/pony by Français name');
		expect(first('hannd cart')).toMatch(/^cart\/hand/);
	});
	test('by id, by value as a number, by remark; nothing where nothing is', () => {
		expect(first('oak_4')).toBe('wheel/oak_4 by id');
		expect(search(index, '60.0').hits.map((hit) => hit.record)).toEqual(['pony']);
		expect(search(index, '6').hits).toEqual([]);
		expect(first('strong')).toBe('wheel/oak_4 by remark');
		expect(search(index, 'zeppelin')).toMatchObject({ hits: [], total: 0 });
		expect(search(index, 'oak', { kind: 'wheel' }).hits.every((hit) => hit.kind === 'wheel')).toBe(true);
	});
	test('what says all of several words and nothing else comes before ids that have some of them', () => {
		const files = {
			'herbs.json': JSON.stringify({
				'Pale Thimble': { leaf: 3, said: 'grows near water' },
				'Near Pale Moss': { leaf: 4, said: 'once a thimble' }
			}),
			'finds.json': JSON.stringify([
				{ id: 'f_1', called: 'Near Pale Thimble', weight: 2 },
				{ id: 'pale_near_thimble', called: 'A thimble', weight: 3 }
			])
		};
		const own = assembleStack(
			[
				{
					id: 'base',
					title: 'Base',
					owner: 'game',
					files: new Map(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))
				}
			],
			EMPTY_GUIDE
		);
		const inOwn = buildIndex(own, buildLinks(own));
		const found = (query: string) => search(inOwn, query).hits.map(({ record }) => record);
		expect(found('near pale thimble')).toEqual([
			'f_1',
			'pale_near_thimble',
			'Pale Thimble',
			'Near Pale Moss'
		]);
		// Whatever stands between its words.
		expect(found('pale near thimble')[0]).toBe('pale_near_thimble');
	});
	test('texts are compared without accents, case and ligatures', () =>
		expect(fold('Straße ÆØ é')).toBe('strasse aeo e'));
	test('a roll of texts holds a part in just those texts that hold it', () =>
		fc.assert(
			fc.property(
				fc.array(fc.stringMatching(/^[ab ]{0,6}$/), { maxLength: 12 }),
				fc.stringMatching(/^[ab ]{1,3}$/),
				(texts, part) => {
					const holding = texts.flatMap((text, at) => (text.includes(part) ? [at] : []));
					expect([...inRoll(rollOf(texts), part)]).toEqual(holding);
				}
			)
		));
	test('what is found does not depend on what was looked for before', () => {
		const asked = fc.constantFrom(
			'cart',
			'oak',
			'h',
			'6',
			'60',
			'hand cart',
			'oak cart',
			'o*',
			'hannd',
			'%',
			' '
		);
		const options = fc.record({ pattern: fc.boolean(), whole: fc.boolean() });
		fc.assert(
			fc.property(fc.array(fc.tuple(asked, options), { minLength: 1, maxLength: 12 }), (queries) => {
				const own = buildIndex(stack, index.links);
				const found = queries.map(([query, how]) => search(own, query, how));
				queries.forEach(([query, how], nth) =>
					expect(found[nth]).toEqual(search(buildIndex(stack, index.links), query, how))
				);
			}),
			{ numRuns: 40 }
		);
	});
});

describe('links', () => {
	test('know who names a record', () => {
		const links = buildLinks(stackOf());
		const users = (kind: string, id: string) =>
			linksTo(links, links.stack.tables.get(kind)!.byId.get(id)!).map(
				(link) => `${link.from.id}.${link.field}`
			);
		expect(users('cart', 'pony')).toEqual(['hand.next']);
		expect(users('wheel', 'oak_2')).toHaveLength(1);
	});
	test('and what may have been meant', () => {
		expect([
			distance('oak_2', 'oak_2'),
			distance('ab', 'ba'),
			distance('', 'abc'),
			distance('kitten', 'sitting')
		]).toEqual([0, 1, 3, 3]);
		expect(nearest('oak_3', ['elm', 'oak_4', 'oak_22'])).toEqual(['oak_4', 'oak_22']);
	});
	test('of a list that has grown, the new ids too', () => {
		const ids = ['elm'];
		expect(nearest('oak_3', ids)).toEqual([]);
		ids.push('oak_4');
		expect(nearest('oak_3', ids)).toEqual(['oak_4']);
	});
	test('the same as comparing with every id, whatever their letters', () => {
		const word = fc.stringMatching(/^[ab_1X]{0,7}$/);
		fc.assert(
			fc.property(word, fc.uniqueArray(word, { maxLength: 30 }), fc.nat(8), (one, ids, limit) => {
				const costs = ids
					.map((id) => ({ id, cost: distance(one.toLowerCase(), id.toLowerCase()) }))
					.filter(({ id, cost }) => cost <= Math.max(one.length, id.length) / 2)
					.sort((a, b) => a.cost - b.cost || (a.id < b.id ? -1 : 1));
				expect(nearest(one, ids)).toEqual(costs.slice(0, 3).map(({ id }) => id));
				for (const id of ids) {
					const [all, some] = [distance(one, id), distance(one, id, limit)];
					if (all <= limit) expect(some).toBe(all);
					else expect(some).toBeGreaterThan(limit);
				}
			})
		);
	});
});

describe('guide', () => {
	test('says which files are of a kind, and what codes mean', () => {
		const guide = parseGuide(GUIDE);
		expect(claimOf(guide, 'words/fr/any.properties')).toEqual({ kind: 'text', spec: 0, language: 'fr' });
		expect(claimOf(guide, 'words/xx/any.properties')).toBeNull();
		expect(meaningOf(guide.kinds.cart!.fields.mark, '5')).toBe('old, loud');
		expect(meaningOf(guide.kinds.cart!.fields.mark, '0')).toBe('none set');
	});
	test('that is wrong is refused with the place', () => {
		expect(() => parseGuide('guide: 1\nkinds: [')).toThrow(GuideFault);
		expect(() =>
			parseGuide('guide: 1\nkinds:\n  a:\n    title: A\n    files: [x]\n    merge: sideways\n')
		).toThrow(/kinds\.a\.merge \(line 6\)/);
		expect(() =>
			parseGuide(
				'guide: 1\nkinds:\n  a: { title: A, files: [x], fields: { b: { reference: { kinds: [z] } } } }\n'
			)
		).toThrow('no kind “z”');
	});
	test('is told from the files where nobody wrote one', () => {
		const files = new Map(Object.entries(BASE).map(([path, text]) => [path, new TextEncoder().encode(text)]));
		const stack = assembleStack([{ id: 'base', title: 'Base', owner: 'game', files }], EMPTY_GUIDE);
		expect(stack.tables.get('carts')?.guide).toMatchObject({ inferred: true, key: 'id', merge: 'file' });
		expect(stack.tables.get('carts')?.guide.fields.load?.type).toBe('whole');
		expect(stack.tables.get('wheels')?.records).toHaveLength(2);
	});
});

describe('numbers', () => {
	test('spread and rank', () => {
		const spread = spreadOf(['3', '1', '', '2', '2'])!;
		expect(spread).toMatchObject({ min: 1, max: 3, count: 4, values: [1, 2, 3], below: [0, 1, 3] });
		expect(rankOf(spread, 2)).toBe(0.5);
		expect(spreadOf(['a', 'b', '1', '2'])).toBeNull();
		expect(spreadOf(['1e6', '8'])).toMatchObject({ min: 8, max: 1e6 });
		expect(spreadOf(['0x10', '0x20'])).toBeNull();
		const many = spreadOf(Array.from({ length: 5000 }, (_, at) => String(at * 3)))!;
		expect(many.values.length).toBeLessThan(410);
		expect(rankOf(many, 7500)).toBeCloseTo(0.5, 2);
		expect([rankOf(many, -1), rankOf(many, 99999)]).toEqual([0, 1]);
	});
	const stack = stackOf({
		'carts.tsv': `${HEAD}st_2\t9\tnone\t\t\t0\tcart.st_2\nst_10\t\toak_4\t\tpony\t0\tcart.st_10\n`
	});
	const links = buildLinks(stack);
	const table = stack.tables.get('cart')!;
	const columns = table.columns.map((path) => ({ path, title: table.guide.fields[path]?.title ?? path }));
	const snags = new Map([['st_2', 'blocks' as const]]);
	const ids = (typed: string[], ...sorts: string[]) =>
		[
			...arrange(
				{ stack, links, snags },
				table,
				typed.flatMap((one) => conditionsFrom(one, columns)),
				sorts
			)
		].map((row) => table.pool.at(table.rows.ids[row]!));
	test('rows are sorted by value, by several columns, numbers in texts by their value, the empty ones last', () => {
		expect(ids([], 'load')).toEqual(['st_2', 'hand', 'pony', 'st_10']);
		expect(ids([], '-load')).toEqual(['pony', 'hand', 'st_2', 'st_10']);
		expect(ids([], 'id')).toEqual(['hand', 'pony', 'st_2', 'st_10']);
		expect(ids([], 'name')).toEqual(['hand', 'pony', 'st_2', 'st_10']);
		expect(ids([], 'wheel', '-load')).toEqual(['st_2', 'hand', 'pony', 'st_10']);
	});
	test('conditions pass rows by numbers, sets, texts, what is mine, what is wrong and what is named', () => {
		expect(ids(['load >= 20'])).toEqual(['hand', 'pony']);
		expect(ids(['load>20'])).toEqual(['pony']);
		expect(ids(['Load 9 to 20'])).toEqual(['hand', 'st_2']);
		expect(ids(['wheel is OAK_2, oak_4'])).toEqual(['hand', 'pony', 'st_10']);
		expect(ids(['wheel is not oak_2'])).toEqual(['pony', 'st_2', 'st_10']);
		expect(ids(['load is empty'])).toEqual(['st_10']);
		expect(ids(['load is filled', 'changed by me'])).toEqual(['st_2']);
		expect(ids(['name has pony'])).toEqual(['pony']);
		expect(ids(['pony'])).toEqual(['hand', 'pony', 'st_10']);
		expect(ids(['oak cart.hand'])).toEqual(['hand']);
		expect(ids(['has blocking snags'])).toEqual(['st_2']);
		expect(ids(['refers to oak_4'])).toEqual(['pony', 'st_10']);
		// Words that happen to be in a condition's name are words.
		for (const word of ['mine', 'blocks', 'warns', 'snags'])
			expect(conditionFrom(word, columns)).toEqual({ is: 'text', text: word });
		// What reads as a condition on a column that is not there passes nothing, and says so.
		expect(ids(['laod > 5'])).toEqual([]);
		expect(conditionFrom('laod is 5', columns, true)).toEqual({
			is: 'unknown',
			text: 'laod is 5',
			said: 'laod'
		});
		expect(conditionFault(conditionFrom('laod > 5', columns)!)).toContain('no field “laod”');
		expect(conditionFrom('the sea is rough', columns)).toEqual({ is: 'text', text: 'the sea is rough' });
	});
	test('a condition is read back from the words it stands in', () => {
		const word = fc
			.stringMatching(/^[a-z][a-z_]{0,8}[0-9]?$/)
			.filter((text) => !['empty', 'filled', 'not', 'or'].includes(text));
		const field = fc.constantFrom('load', 'wheel', 'brake', 'name', 'id');
		const number = fc.integer({ min: -999, max: 999 });
		const condition = fc.oneof<fc.Arbitrary<Condition>[]>(
			fc.record({
				is: fc.constant('compare' as const),
				field,
				by: fc.constantFrom('<' as const, '<=' as const, '>' as const, '>=' as const, '=' as const),
				value: number
			}),
			fc.record({ is: fc.constant('between' as const), field, low: number, high: number }),
			fc.record({
				is: fc.constant('one' as const),
				field,
				values: fc.uniqueArray(word, { minLength: 1, maxLength: 3 }),
				not: fc.boolean()
			}),
			fc.record({ is: fc.constant('has' as const), field, text: word }),
			fc.record({ is: fc.constant('filled' as const), field, not: fc.boolean() }),
			fc.record({
				is: fc.constant('snags' as const),
				severity: fc.constantFrom('blocks' as const, 'warns' as const, 'note' as const, null)
			}),
			fc.record({ is: fc.constant('names' as const), id: word }),
			fc.constant<Condition>({ is: 'mine' })
		);
		fc.assert(
			fc.property(condition, (one) => {
				expect(conditionFrom(inConditionWords(one), columns)).toEqual(one);
			})
		);
	});
	describe('formulas', () => {
		const own = new Map(Object.entries({ load: '20', wheel: 'oak_2', 'effect[0].add': '3', empty: '' }));
		const fields = (name: string) => own.get(name);
		const worked = (formula: string) => formulaFor(formula)(fields);
		test('work out numbers over the fields of a record', () => {
			expect(worked('load * 1.5 + 2')).toBe(32);
			expect(worked('round(load / 3)')).toBe(7);
			expect(worked('clamp(load, 0, 10) + effect[0].add')).toBe(13);
			expect(worked("load > 10 && wheel == 'oak_2' ? 1 : 0")).toBe(1);
			expect(worked("wheel == 'oak_4' ? 'a' : 'b'")).toBe('b');
			expect(worked('-load % 7')).toBe(-6);
		});
		test('say what is wrong, and where', () => {
			expect(() => formulaFor('load * (2')).toThrow(/at character/);
			expect(() => worked('lode * 2')).toThrow('there is no field “lode”');
			expect(() => worked('empty * 2')).toThrow('is empty');
			expect(() => worked('wheel * 2')).toThrow('“oak_2”, which is not a number');
			expect(() => worked('load / 0')).toThrow('division by 0');
			expect(() => worked('fetch(1)')).toThrow('is not a function');
			expect(() => worked('constructor')).toThrow('there is no field');
			expect(() => worked('load.constructor(1)')).toThrow('is not a function');
		});
		test('arithmetic is that of JavaScript', () => {
			const leaf = fc.oneof(fc.integer({ min: 0, max: 99 }).map(String), fc.constant('load'));
			const { tree } = fc.letrec<{ tree: string }>((tie) => ({
				tree: fc.oneof(
					{ maxDepth: 4 },
					leaf,
					fc
						.tuple(tie('tree'), fc.constantFrom('+', '-', '*'), tie('tree'))
						.map(([a, by, b]) => `(${a} ${by} ${b})`)
				)
			}));
			fc.assert(
				fc.property(tree, (formula) => {
					const plain = new Function('load', `return ${formula}`) as (load: number) => number;
					expect(formulaFor(formula)(fields)).toBe(formula === 'load' ? '20' : plain(20));
				})
			);
		});
	});
});

describe('pack', () => {
	const stack = stackOf({ 'carts.tsv': 'x', 'about.json': '{}', 'words/en/m.properties': 'a=b' });
	const bytes = new Map([...stack.mine!.files.keys()].map((path) => [path, new TextEncoder().encode(path)]));
	const pack = () => packOf(bytes, new Set(Object.keys(BASE)), stack.guide, identityOf(stack, 'My Mill'));
	test('says why each file is there, and makes the one that identifies the mod', () => {
		expect(pack().files.map((file) => `${file.path} ${file.why}`)).toEqual([
			'about.json overrides',
			'carts.tsv patch',
			'mod.json derived',
			'words/en/m.properties new'
		]);
		expect(JSON.parse(new TextDecoder().decode(pack().contents.get('mod.json')))).toMatchObject({
			name: 'my-mill'
		});
		expect(gameVersionOf(stackOf())).toBe('2.1');
	});
	test('the same input gives the same bytes, whatever the order', () => {
		const turned = packOf(
			new Map([...bytes].reverse()),
			new Set(Object.keys(BASE)),
			stack.guide,
			identityOf(stack, 'My Mill')
		);
		expect(zipOf(turned)).toEqual(zipOf(pack()));
	});
});
