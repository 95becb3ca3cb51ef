// Shown names that records have in a field of their own, and not in a text with a key.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { planFor, stackAfter } from '$core/edits';
import { guideToYaml, parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { buildIndex, search } from '$core/search';
import { displayName, namesOf, recordNamed, type Stack } from '$core/stack';
import { json, snagsOf, stackOf } from './unknown';

const FIRST = ['Amber', 'Birch', 'Copper', 'Dusk', 'Ember', 'Fern', 'Grey', 'Hollow', 'Iron', 'Jade'];
const SECOND = ['Lamp', 'Kettle'];
const titles = FIRST.flatMap((first) => SECOND.map((second) => `${first} ${second}`));
const wares = titles.map((label, nth) => ({ id: 100 + nth, label, price: 3 + ((nth * 7) % 11) }));
const stalls = Array.from({ length: 12 }, (_, nth) => ({
	id: `stall_${nth}`,
	sells: [titles[nth]!, titles[(nth * 3 + 5) % titles.length]!],
	rent: nth * 2
}));

const shown = (stack: Stack, kind: string, id: string) =>
	displayName(stack, stack.tables.get(kind)!.byId.get(id)!);
const found = (stack: Stack, words: string) => {
	const { hits } = search(buildIndex(stack, buildLinks(stack)), words);
	return hits.filter(({ group }) => group === 'record').map(({ kind, record }) => `${kind}/${record}`);
};
const nameOfKind = (stack: Stack, kind: string) => stack.guide.kinds[kind]!.name?.from;

describe('a field with the shown name', () => {
	test('is found by what it is called, and used where a record is named', () => {
		const stack = stackOf({ 'wares.json': json(wares), 'stalls.json': json(stalls) });
		expect(stack.guide.kinds.wares!.name).toMatchObject({
			from: 'label',
			found: { because: 'All 20 records have a short text there, no two the same.' }
		});
		expect(shown(stack, 'wares', '104')).toBe('Copper Lamp');
		expect(nameOfKind(stack, 'stalls')).toBeUndefined();
		expect(shown(stack, 'stalls', 'stall_3')).toBe('stall_3');
		expect(snagsOf(stack)).toEqual([]);
	});

	test('is found by the references that go by it, whatever it is called', () => {
		const coded = wares.map(({ id, label, price }) => ({ id, x1: label, price }));
		const stack = stackOf({ 'wares.json': json(coded), 'stalls.json': json(stalls) });
		expect(stack.guide.kinds.stalls!.fields['sells[]']!.reference).toMatchObject({ key: 'x1' });
		expect(nameOfKind(stack, 'wares')).toBe('x1');
		expect(recordNamed(stack.tables.get('wares'), 'Copper Lamp', 'x1')?.id).toBe('104');
		expect(recordNamed(stack.tables.get('wares'), '104', 'x1')).toBeUndefined();
		expect(shown(stack, 'wares', '104')).toBe('Copper Lamp');
		// The thing itself comes before what refers to it by that name.
		expect(found(stack, 'copper lamp')[0]).toBe('wares/104');
		expect(found(stack, 'copper lamp').length).toBeGreaterThan(1);
		// Where nothing refers to them, it is only a text.
		expect(nameOfKind(stackOf({ 'wares.json': json(coded) }), 'wares')).toBeUndefined();
	});

	test('may be a map with one for each language', () => {
		const stack = stackOf({
			'wares.json': json(
				wares.map(({ label, ...ware }, nth) => ({
					...ware,
					label: { en: label, de: `Ware ${FIRST[nth % 10]}${nth}` }
				}))
			)
		});
		expect(nameOfKind(stack, 'wares')).toBe('label');
		const record = stack.tables.get('wares')!.byId.get('104')!;
		expect([...namesOf(stack, record)]).toEqual([
			['en', 'Copper Lamp'],
			['de', 'Ware Ember4']
		]);
		expect(shown(stack, 'wares', '104')).toBe('Copper Lamp');
		expect(found(stack, 'ware ember4')[0]).toBe('wares/104');
	});

	test('is none where the values are shared, are numbers, codes, sentences or something of others', () => {
		const told = (field: string, value: (nth: number) => unknown) =>
			nameOfKind(
				stackOf({
					'wares.json': json(wares.map(({ id, price }, nth) => ({ id, price, [field]: value(nth) })))
				}),
				'wares'
			);
		expect(told('title', (nth) => titles[nth])).toBe('title');
		expect(told('wares_name', (nth) => titles[nth])).toBe('wares_name');
		expect(told('title', (nth) => titles[nth % 3])).toBeUndefined();
		expect(told('title', (nth) => nth * 3 + 1)).toBeUndefined();
		expect(
			told('name', (nth) => `wares.shown.${titles[nth]!.toLowerCase().replace(' ', '_')}`)
		).toBeUndefined();
		expect(
			told('title', (nth) => `${titles[nth]} is sold in the evening, when all others have gone.`)
		).toBeUndefined();
		expect(told('maker_name', (nth) => titles[nth])).toBeUndefined();
		expect(told('name', (nth) => (nth < 8 ? titles[nth] : undefined))).toBeUndefined();
	});

	test('may be what its translations go by, or the key of a text', () => {
		const words = (of: (label: string, nth: number) => string) => ({
			'words/de.properties': wares.map(({ label }, nth) => `${of(label, nth)}=Ware ${nth}`).join('\n'),
			'words/fr.properties': wares.map(({ label }, nth) => `${of(label, nth)}=Article ${nth}`).join('\n')
		});
		const named = (of: (label: string, nth: number) => string) =>
			stackOf({
				'wares.json': json(wares.map((ware, nth) => ({ ...ware, label: of(ware.label, nth) }))),
				...words((label, nth) => of(label, nth).replaceAll(' ', '\\ '))
			});
		const translated = named((label) => label);
		expect(shown(translated, 'wares', '104')).toBe('Copper Lamp');
		expect(found(translated, 'article 4')[0]).toBe('wares/104');
		const abroad = named((_, nth) => `銅のランプ${nth}`);
		expect(shown(abroad, 'wares', '104')).toBe('銅のランプ4');
		const keyed = named((_, nth) => `ware_${nth}_name`);
		expect(shown(keyed, 'wares', '104')).toBe('Ware 4');
		expect(found(keyed, 'article 4')[0]).toBe('wares/104');
	});

	test('is not looked for where texts have the names', () => {
		const stack = stackOf({
			'wares.json': json(wares.map(({ id, label, price }) => ({ id: `w${id}`, label, price }))),
			'words/en.properties': wares.map(({ id, label }) => `ware.w${id}.name=The ${label}`).join('\n'),
			'words/de.properties': wares.map(({ id }) => `ware.w${id}.name=Ware ${id}`).join('\n')
		});
		expect(nameOfKind(stack, 'wares')).toBeUndefined();
		expect(shown(stack, 'wares', 'w104')).toBe('The Copper Lamp');
	});

	test('can be said and rejected, and is written down as other statements are', () => {
		const files = { 'wares.json': json(wares) };
		const stack = stackOf(files);
		const yaml = guideToYaml(stack.guide);
		expect(yaml).toContain('name:\n      from: label');
		const said = stackOf(files, {}, parseGuide(yaml));
		expect(shown(said, 'wares', '104')).toBe('Copper Lamp');
		const kind = 'guide: 1\nkinds:\n  wares: { title: Ware, files: [wares.json], key: id, ';
		expect(shown(stackOf(files, {}, parseGuide(`${kind}name: { from: price } }`)), 'wares', '104')).toBe('9');
		expect(shown(stackOf(files, {}, parseGuide(`${kind}not: [name] }`)), 'wares', '104')).toBe('104');
	});

	test('a copy gets a name of its own with its id', () => {
		const stack = stackOf({ 'wares.json': json(wares) });
		const plan = planFor(
			stack,
			{ do: 'copy', kind: 'wares', id: '104', newId: '140', names: { '': 'Copper Urn' } },
			'mod'
		);
		const after = stackAfter(stack, plan);
		expect(shown(after, 'wares', '140')).toBe('Copper Urn');
		expect(shown(after, 'wares', '104')).toBe('Copper Lamp');
		expect(found(after, 'copper urn')[0]).toBe('wares/140');
	});

	test('what is shown is the value that stands there, or else the id', () => {
		const text = fc.option(
			fc.string({ minLength: 1, maxLength: 12, unit: fc.constantFrom(...'abcXYZ 19_.') }),
			{ freq: 6, nil: undefined }
		);
		fc.assert(
			fc.property(fc.array(text, { minLength: 2, maxLength: 30 }), (names) => {
				const things = names.map((name, nth) => ({ id: `t${nth}`, name, size: nth }));
				const stack = stackOf({ 'things.json': json(things) });
				const kind = Object.keys(stack.guide.kinds)[0]!;
				const table = stack.tables.get(kind)!;
				const isNamed = nameOfKind(stack, kind) === 'name';
				expect(table.count).toBe(things.length);
				things.forEach(({ id, name }, row) =>
					expect(displayName(stack, table.record(row))).toBe((isNamed && name) || id)
				);
			}),
			{ numRuns: 60 }
		);
	});
});
