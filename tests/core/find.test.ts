import { describe, expect, test } from 'vitest';
import { claimOf, EMPTY_GUIDE, GuideFault, meaningOf, parseGuide } from '$core/guide';
import { buildLinks, distance, linksTo, nearest } from '$core/links';
import { arrange, rankOf, spreadOf } from '$core/numbers';
import { gameVersionOf, identityOf, packOf, zipOf } from '$core/pack';
import { buildIndex, fold, search } from '$core/search';
import { assembleStack } from '$core/stack';
import type { TableView } from '$core/views';
import { BASE, GUIDE, stackOf } from './game';

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
	test('texts are compared without accents, case and ligatures', () =>
		expect(fold('Straße ÆØ é')).toBe('strasse aeo e'));
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
});

describe('guide', () => {
	test('says which files are of a kind, and what codes mean', () => {
		const guide = parseGuide(GUIDE);
		expect(claimOf(guide, 'words/fr/any.properties')).toEqual({ kind: 'text', language: 'fr' });
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
		const stack = assembleStack([{ id: 'base', title: 'Base', role: 'base', files }], EMPTY_GUIDE);
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
	const table: TableView = {
		kind: 'k',
		title: 'K',
		plural: 'Ks',
		key: 'id',
		named: true,
		limit: null,
		total: 3,
		matching: null,
		columns: [{ path: 'load', title: 'Load', unit: null, numeric: true, reference: false }],
		rows: [
			['b', '9'],
			['a', '10'],
			['c', '']
		].map(([id, load]) => ({
			id: id!,
			name: `N${id}`,
			mine: id === 'a',
			cells: [load!],
			changed: [],
			snag: null
		}))
	};
	const ids = (filter: string, sort: string, only = false) =>
		arrange(table, { filter, sort, only }).map((row) => row.id);
	test('rows are filtered by words and comparisons, sorted by value, the empty ones last', () => {
		expect(ids('', 'load')).toEqual(['b', 'a', 'c']);
		expect(ids('', '-load')).toEqual(['a', 'b', 'c']);
		expect(ids('load>=10', '')).toEqual(['a']);
		expect(ids('nb', '')).toEqual(['b']);
		expect(ids('', '-name')).toEqual(['c', 'b', 'a']);
		expect(ids('', '', true)).toEqual(['a']);
	});
});

describe('pack', () => {
	const stack = stackOf({ 'carts.tsv': 'x', 'about.json': '{}', 'words/en/m.properties': 'a=b' });
	const bytes = new Map([...stack.mine!.files.keys()].map((path) => [path, new TextEncoder().encode(path)]));
	const pack = () => packOf(bytes, new Set(Object.keys(BASE)), stack.guide, identityOf(stack, 'My Mill'));
	test('says why each file is there, and makes the one that says who the mod is', () => {
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
