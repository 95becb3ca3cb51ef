// Shapes in which games keep their data that nobody said anything of: what is a record, what it is called and of which kind
// it is, all told from small files; and that a change of them changes what was meant and no more.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applySplices } from '$core/change';
import {
	fieldsOf,
	formatFor,
	formatOf,
	readDocument,
	tellFormats,
	tellGiven,
	type ReadHints,
	type TextDocument,
	type TextFormat
} from '$core/formats';
import type { Stack } from '$core/stack';
import { json, snagsOf, stackOf } from './unknown';

const idsOf = (stack: Stack, kind: string) => [...stack.tables.get(kind)!.byId.keys()];
const referenceOf = (stack: Stack, kind: string, field: string) =>
	stack.guide.kinds[kind]!.fields[field]?.reference?.kinds;

const HULLS = ['skiff', 'barge', 'ketch', 'smack', 'yawl', 'lugger', 'cog', 'hoy', 'punt', 'sloop'];
const SAILS = ['lateen', 'gaff', 'lug', 'sprit', 'square', 'jib'];
const pick = <T>(list: readonly T[], nth: number): T => list[nth % list.length]!;

/** Texts in which a careless pattern would try every way to cut them up; each is looked at in no time. */
const TRICKY = {
	dashes: `name=a\n${'-'.repeat(4000)} said\nname=b\n`,
	lines: `id: a\r\n${'\r\n'.repeat(4000)}id: b\r\nx: 1\r\n`,
	comments: `${'// // // //   \n'.repeat(400)}start(); // = {`,
	'Lua comments': `add("a", {\n${'-'.repeat(4000)}\n${'-- -- --  \n'.repeat(400)}1, 2 })\n`,
	tags: `${'[a]\n'.repeat(4000)}[/b]\n`,
	keys: `${'"a\\" = "'.repeat(2000)}\n`.repeat(4)
};

/** A document, and how it is changed. */
function open(path: string, text: string, hints: ReadHints = {}) {
	const doc = readDocument(path, text, hints) as TextDocument;
	const format = (formatFor(path, hints) ?? formatOf(doc.format)) as TextFormat;
	const record = (id: string) => doc.records.find((one) => one.id === id)!;
	return {
		doc,
		record,
		set: (id: string, field: string, value: string) =>
			applySplices(text, format.set(doc, record(id), field, value)),
		unset: (id: string, field: string) => applySplices(text, format.unset(doc, record(id), field)),
		rename: (id: string, field: string, name: string) =>
			applySplices(text, format.renameKey(doc, record(id), field, name)),
		copy: (id: string) => applySplices(text, format.insert(doc, doc, record(id))),
		blank: () => format.blank(doc)
	};
}

describe('elements of one name under others that say what they are', () => {
	const row = (fields: Record<string, string>) =>
		`\t\t<Row>\n${Object.entries(fields)
			.map(([name, value]) => `\t\t\t<${name}>${value}</${name}>\n`)
			.join('')}\t\t</Row>\n`;
	const boats = `<?xml version="1.0"?>\n<Game>\n\t<Hulls>\n${HULLS.map((id, nth) =>
		row({
			Type: `HULL_${id.toUpperCase()}`,
			Hold: String(4 + nth),
			Rig: `SAIL_${pick(SAILS, nth).toUpperCase()}`
		})
	).join('')}\t</Hulls>\n\t<HullCrews>\n${HULLS.flatMap((id, nth) =>
		[0, 1].map((one) =>
			row({ HullType: `HULL_${id.toUpperCase()}`, Place: pick(['helm', 'bow'], one), Hands: String(1 + nth) })
		)
	).join('')}\t</HullCrews>\n</Game>\n`;
	const sails = `<Game>\n\t<Sails>\n${SAILS.map((id, nth) =>
		row({ Type: `SAIL_${id.toUpperCase()}`, Area: String(12 + nth) })
	).join('')}\t</Sails>\n</Game>\n`;
	const stack = stackOf({ 'boats.xml': boats, 'sails.xml': sails });

	test('are a kind for each, in one file and in several', () => {
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['hullcrews', 'hulls', 'sails']);
		expect(stack.guide.kinds.hulls).toMatchObject({ element: 'Hulls/Row', key: 'Type' });
		expect(idsOf(stack, 'hullcrews')).toHaveLength(20);
		expect(referenceOf(stack, 'hulls', 'Rig')).toEqual(['sails']);
		expect(referenceOf(stack, 'hullcrews', 'HullType')).toEqual(['hulls']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('a copy goes to the others of its kind, and a file for more of them keeps what they stand in', () => {
		const { doc, copy, blank } = open('boats.xml', boats);
		const hull = doc.records.find(({ valueAt }) => valueAt)!;
		const more = copy(hull.id);
		expect(more.indexOf('</Hulls>')).toBeGreaterThan(boats.indexOf('</Hulls>'));
		expect(more.slice(more.indexOf('</Hulls>'))).toBe(boats.slice(boats.indexOf('</Hulls>')));
		expect(blank().replace(/\s+/g, '')).toBe(
			'<?xmlversion="1.0"?><Game><Hulls></Hulls><HullCrews></HullCrews></Game>'
		);
	});

	test('groups of things that are alike stay one kind, and a file for more of them holds none of them', () => {
		const group = (name: string, from: number) =>
			`\t<${name}>\n${HULLS.slice(from, from + 5)
				.map((id, nth) => `\t\t<hull id="${id}"><hold>${nth}</hold><draft>1.${nth}</draft></hull>\n`)
				.join('')}\t</${name}>\n`;
		const hulls = `<hulls>\n${group('small', 0)}${group('large', 5)}</hulls>\n`;
		expect(Object.keys(stackOf({ 'hulls.xml': hulls }).guide.kinds)).toEqual(['hull']);
		expect(open('hulls.xml', hulls).blank().replace(/\s+/g, '')).toBe(
			'<hulls><small></small><large></large></hulls>'
		);
	});
});

describe('elements most of which are a list, in many files', () => {
	const tongues = ['', ' tongue="kel"', ' tongue="oss"', ' tongue="vey"', ' tongue="bru"'];
	const calls = (hull: string) =>
		tongues.map((tongue) => `\t<call${tongue}>${hull}${tongue.slice(9, 12)}</call>`).join('\n');

	test('are one record each where what holds the list says of itself, and holds plain values beside it', () => {
		const files = Object.fromEntries(
			HULLS.flatMap((hull, nth) =>
				['coast', 'river'].map((water) => [
					`ships/${water}/${hull}.xml`,
					`<ship rig="${pick(SAILS, nth)}_${water}">\n${calls(hull)}\n\t<crew>${nth + 2}</crew>\n\t<yard name="north" />\n</ship>\n`
				])
			)
		);
		const stack = stackOf(files);
		expect(Object.keys(stack.guide.kinds)).toEqual(['ships']);
		expect(stack.guide.kinds.ships!.at).toBe(null);
		// Two files of one name are two records.
		expect(idsOf(stack, 'ships')).toHaveLength(20);
		expect(idsOf(stack, 'ships')).toContain('river/ketch');
		expect([...stack.tables.get('ships')!.columns]).toEqual(
			expect.arrayContaining(['rig', 'crew', 'yard[0].name', 'call[1].tongue'])
		);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('are not as many kinds as there are files where all have the same ids', () => {
		const many = Array.from({ length: 15 }, (_, nth) => [
			`ports/port_${nth}.xml`,
			`<port>\n${HULLS.map((hull) => `\t<berth id="${hull}" depth="${hull.length + nth}" />`).join('\n')}\n</port>\n`
		]);
		expect(Object.keys(stackOf(Object.fromEntries(many)).guide.kinds)).toEqual(['berth']);
		// A few files are: they say other things of the same ids.
		expect(Object.keys(stackOf(Object.fromEntries(many.slice(0, 3))).guide.kinds)).toHaveLength(3);
	});
});

describe('elements that hold a value under a name', () => {
	const text = `<gear>\n${HULLS.map(
		(id, nth) =>
			`\t<piece name="${id}">\n\t\t<property name="Weight" value="${nth}"/>\n\t\t<property name="Rig" value="${pick(SAILS, nth)}"/>\n\t\t<drop event="wreck" name="${pick(HULLS, nth + 3)}"/>\n\t</piece>\n`
	).join('')}</gear>\n`;
	const sails = json(Object.fromEntries(SAILS.map((id, nth) => [id, { area: nth + 12, drag: 0.5 }])));

	test('are fields of what they stand in, and refer as such', () => {
		const stack = stackOf({ 'gear.xml': text, 'sails.json': sails });
		expect(Object.keys(stack.guide.kinds.piece!.fields)).toEqual([
			'property.Weight',
			'property.Rig',
			'drop[].event',
			'drop[].name'
		]);
		expect(referenceOf(stack, 'piece', 'property.Rig')).toEqual(['sails']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('one is set, added as the file writes others, renamed and taken out', () => {
		const { set, unset, rename } = open('gear.xml', text);
		expect(set('skiff', 'property.Weight', '7')).toBe(text.replace('value="0"', 'value="7"'));
		const beside = '<property name="Rig" value="lateen"/>';
		expect(set('skiff', 'property.Keel', 'deep & <long>')).toBe(
			text.replace(beside, `${beside}\n\t\t<property name="Keel" value="deep &amp; &lt;long&gt;"/>`)
		);
		expect(rename('skiff', 'property.Rig', 'Sail')).toBe(text.replace('name="Rig"', 'name="Sail"'));
		expect(unset('skiff', 'property.Rig')).toBe(text.replace(`\t\t${beside}\n`, ''));
		expect(unset('skiff', 'property')).toBe(
			text.replace('\t\t<property name="Weight" value="0"/>\n', '').replace(`\t\t${beside}\n`, '')
		);
		expect(() => set('skiff', 'sound.Bell', 'x')).toThrow('no other record has one like it');
	});
});

test('a root that says more than a name of itself is the record', () => {
	const ships = Object.fromEntries(
		HULLS.map((id, nth) => [
			`ships/${id}.xml`,
			`<ship name="The ${id}" hull="${nth}">\n\t<mount x="1" gun="${pick(SAILS, nth)}"/>\n\t<mount x="2" gun="${pick(SAILS, nth + 1)}"/>\n</ship>\n`
		])
	);
	const guns = Object.fromEntries(
		SAILS.map((id, nth) => [
			`guns/${id}.xml`,
			`<gun id="${id}" range="${nth}"><sound file="bang/${pick(HULLS, nth)}_${nth}.ogg" loud="0.5"/></gun>\n`
		])
	);
	const stack = stackOf({ ...ships, ...guns });
	expect(idsOf(stack, 'ships')).toEqual([...HULLS].sort());
	expect(referenceOf(stack, 'ships', 'mount[].gun')).toEqual(['guns']);
	expect(stack.guide.kinds.guns!.fields['sound[].file']!.type).toBe('file');
	const { doc } = open('list.xml', '<gear slot="x">\n\t<piece id="a"/>\n\t<piece id="b"/>\n</gear>\n');
	expect(doc.records.map(({ id }) => id)).toEqual(['a', 'b']);
});

test('a root of parts that have little in common is one record in each file, also in folders of their own', () => {
	const rigs = Object.fromEntries(
		SAILS.map((id, nth) => [
			`templates/rig_${id}.xml`,
			`<Entity>\n  <Cost><Time>${nth}</Time><Wood>3</Wood></Cost>\n  <Health><Max>${nth}</Max></Health>\n</Entity>\n`
		])
	);
	const boats = Object.fromEntries(
		HULLS.map((id, nth) => [
			`templates/boats/${id}/${id}.xml`,
			`<Entity parent="rig_${pick(SAILS, nth)}">\n  <Identity><Name>The ${id}</Name><Rank>${nth}</Rank></Identity>\n  <Health><Max op="mul">1.${nth}</Max></Health>\n</Entity>\n`
		])
	);
	const maps = Object.fromEntries(
		SAILS.map((id, nth) => [
			`maps/${id}.xml`,
			`<map width="20" height="${nth}">\n  <properties><property name="level" type="int" value="${nth}"/></properties>\n  <layer id="1" name="ground"><data>1,2</data></layer>\n  <things id="2" name="boats"><thing id="1" hull="${pick(HULLS, nth)}"/></things>\n</map>\n`
		])
	);
	const stack = stackOf({ ...rigs, ...boats, ...maps });
	expect(Object.keys(stack.guide.kinds).sort()).toEqual(['boats', 'maps', 'templates']);
	expect(idsOf(stack, 'boats').sort()).toEqual([...HULLS].sort());
	expect(referenceOf(stack, 'boats', 'parent')).toEqual(['templates']);
	expect(stack.guide.kinds.maps!.fields['properties[].property.level']!.type).toBe('whole');
	expect(referenceOf(stack, 'maps', 'things[].thing[].hull')).toEqual(['boats']);
	expect(snagsOf(stack)).toEqual([]);
});

describe('tables of Lua that a call is given behind a name', () => {
	const text = `local S = game.words("sea")\n\n${HULLS.map(
		(id, nth) =>
			`game.add_hull("sea:${id}", {\n\tname = S("The ${id}"),\n\thold = ${nth},\n\tnext = "sea:${pick(HULLS, nth + 1)}",\n})\n`
	).join('\n')}`;
	const hints = { element: 'game.add_hull' };

	test('are records of that name', () => {
		const recipes = SAILS.map(
			(_, nth) =>
				`game.add_recipe({\n\tmakes = "sea:${pick(HULLS, nth)}",\n\tneeds = { "sea:${pick(HULLS, nth + 2)}" },\n})\n`
		).join('');
		const stack = stackOf({ 'mods/hulls.lua': text, 'mods/recipes.lua': recipes });
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['add_hull', 'add_recipe']);
		expect(idsOf(stack, 'add_hull')).toEqual(HULLS.map((id) => `sea:${id}`));
		expect(referenceOf(stack, 'add_hull', 'next')).toEqual(['add_hull']);
		expect(referenceOf(stack, 'add_recipe', 'needs[]')).toEqual(['add_hull']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('one is changed, called otherwise, copied with its brackets, and goes into a file of its own with the code before it', () => {
		const { doc, set, copy, blank } = open('mods/hulls.lua', text, hints);
		expect(set('sea:cog', 'hold', '60')).toBe(text.replace('hold = 6,', 'hold = 60,'));
		const format = formatOf('lua') as TextFormat;
		const renamed = format.rename(doc, doc.records[0]!, 'sea:dory');
		expect(applySplices(text, renamed)).toBe(text.replace('add_hull("sea:skiff"', 'add_hull("sea:dory"'));
		const one =
			'game.add_hull("sea:skiff", {\n\tname = S("The skiff"),\n\thold = 0,\n\tnext = "sea:barge",\n})';
		expect(copy('sea:skiff')).toBe(`${text.trimEnd()}\n\n${one}\n`);
		expect(blank().trim()).toBe('local S = game.words("sea")');
		const own = readDocument('mods/more.lua', blank(), hints) as TextDocument;
		expect(applySplices(own.content, format.insert(own, doc, doc.records[0]!))).toBe(
			`local S = game.words("sea")\n${one}`
		);
	});
});

describe('records of lines', () => {
	test('begin with the name that comes again, where nothing parts them', () => {
		const hulls = HULLS.map(
			(id, nth) =>
				`name:${id}\nrig:${pick(SAILS, nth)}\nbite:${nth}:deep\n${nth % 2 ? 'bite:1:wide\n' : ''}about:A ${id}.\nabout: It sails.`
		).join('\n');
		const rigs = SAILS.map((id, nth) => `name:${id}\narea:${nth}\nabout:A ${id}.`).join('\n');
		const stack = stackOf({ 'hulls.txt': `# All hulls\n\n${hulls}\n`, 'rigs.txt': `${rigs}\n` });
		expect(idsOf(stack, 'hulls')).toEqual(HULLS);
		expect(referenceOf(stack, 'hulls', 'rig')).toEqual(['rigs']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('with equals signs are parted by dashes', () => {
		const goods = SAILS.map((id, nth) => `obj=good\nname=${id}\nvalue=${nth}\n---`).join('\n');
		const boats = HULLS.map(
			(id, nth) => `# a boat\nobj=boat\nname=${id}\nfreight=${pick(SAILS, nth)}\nspeed=${nth}\n-----`
		).join('\n');
		const stack = stackOf({ 'pak/goods.dat': `${goods}\n`, 'pak/boats.dat': `${boats}\n` });
		expect(idsOf(stack, 'boats')).toEqual(HULLS);
		expect(referenceOf(stack, 'boats', 'freight')).toEqual(['goods']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('settings, one below the other, are no records', () => {
		const settings = 'window_width=800\nwindow_height=600\n\nvolume=3\nmusic=on\n\nlanguage=en\nborder=off\n';
		expect(tellFormats(settings).map(({ format }) => format)).not.toContain('stanzas');
	});
});

describe('sections that a tag closes', () => {
	const text = `${HULLS.map(
		(id, nth) =>
			`[hull]\n    id=${id}\n    name= _ "The ${id}"\n    {GROWS ${nth}}\n    next=${pick(HULLS, nth + 1)},${pick(HULLS, nth + 2)}\n    [gun]\n        reach=${nth}\n        [when]\n            wind=2\n        [/when]\n    [/gun]\n    [gun]\n        reach=9\n    [/gun]\n[/hull]\n`
	).join('\n')}`;
	const hints = { format: 'sections', element: 'hull', key: 'id' };

	test('stand in each other, whatever the ending', () => {
		const stack = stackOf({ 'units/hulls.cfg': text });
		expect(Object.keys(stack.guide.kinds)).toEqual(['hull']);
		expect(idsOf(stack, 'hull')).toEqual(HULLS);
		expect(fieldsOf(open('hulls.cfg', text, hints).record('skiff'))).toEqual({
			id: 'skiff',
			name: 'The skiff',
			next: 'barge,ketch',
			'gun[0].reach': '0',
			'gun[0].when[0].wind': '2',
			'gun[1].reach': '9'
		});
		expect(referenceOf(stack, 'hull', 'next')).toEqual(['hull']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('values are set and added inside, before the sections in them', () => {
		const { set } = open('hulls.cfg', text, hints);
		expect(set('skiff', 'gun[1].reach', '4')).toBe(text.replace('reach=9', 'reach=4'));
		expect(set('skiff', 'cost', '12')).toBe(
			text.replace('next=barge,ketch\n', 'next=barge,ketch\n    cost = 12\n')
		);
		expect(set('skiff', 'gun[1].load', '2')).toBe(text.replace('reach=9\n', 'reach=9\n        load = 2\n'));
	});

	test('what is not closed, or closes nothing, is told with its place', () => {
		const { doc } = open('hulls.cfg', '[hull]\n\tid=a\n\t[gun]\n[/hull]\n[/oar]\n', hints);
		expect(doc.problems.map(({ line, message }) => [line, message])).toEqual([
			[3, 'This section is never closed by “[/gun]”.'],
			[5, '“[/oar]” closes nothing.']
		]);
	});
});

test('files with the same sections are a record each', () => {
	const sails = Object.fromEntries(
		SAILS.map((id, nth) => [
			`sails/${id}.thing`,
			`[resource type="Sail" format=3]\n\n[needs path="base.script" id="1"]\n\n[values]\nid = "${id}"\narea = ${nth + 12}\n`
		])
	);
	const hulls = Object.fromEntries(
		HULLS.map((id, nth) => [
			`hulls/${id}.thing`,
			`[resource type="Hull" format=3]\n\n[needs path="base.script" id="1"]\n[needs path="game://sails/${pick(SAILS, nth)}.thing" id="2"]\n\n[values]\nid = "${id}"\nhold = ${nth}\n`
		])
	);
	const stack = stackOf({ ...sails, ...hulls });
	expect(Object.keys(stack.guide.kinds).sort()).toEqual(['hulls', 'sails']);
	expect(idsOf(stack, 'hulls').sort()).toEqual([...HULLS].sort());
	expect(stack.guide.kinds.hulls!.fields['values.hold']!.type).toBe('whole');
	expect(snagsOf(stack)).toEqual([]);
});

test('YAML under any ending, and records named by a file beside them', () => {
	const number = (id: string) =>
		[...id]
			.reduce((sum, char) => sum * 31 + char.charCodeAt(0), 7)
			.toString(16)
			.padStart(20, 'a');
	const beside = (id: string) => `version: 2\nguid: ${number(id)}\nImporter:\n  main: 11\n  note: \n`;
	const game: Record<string, string> = {};
	for (const [nth, id] of SAILS.entries()) {
		game[`sails/${id}.asset`] =
			`%YAML 1.1\n%TAG !t! tag:game,2011:\n--- !t!114 &11\nThing:\n  name: ${id}\n  area: ${nth}\n`;
		game[`sails/${id}.asset.meta`] = beside(id);
	}
	for (const [nth, id] of HULLS.entries()) {
		game[`hulls/${id}.asset`] =
			`%YAML 1.1\n%TAG !t! tag:game,2011:\n--- !t!114 &11\nThing:\n  name: ${id}\n  sail: {file: 11, guid: ${number(pick(SAILS, nth))}}\n`;
		game[`hulls/${id}.asset.meta`] = beside(id);
	}
	const stack = stackOf(game);
	expect(Object.keys(stack.guide.kinds).sort()).toEqual(['hulls', 'hulls_meta', 'sails']);
	expect(stack.guide.kinds.hulls_meta!.key).toBe('guid');
	expect(referenceOf(stack, 'hulls', 'Thing.sail.guid')).toEqual(['hulls_meta']);
	expect(snagsOf(stack)).toEqual([]);
});

test('texts in quotes behind their keys, in folders named after a language and something else', () => {
	const texts = (language: string) =>
		`/* all of them */\n${HULLS.flatMap((id) => ['name', 'about'].map((end) => `"${id}_${end}" = "${language} ${id}\\nsays \\"%d\\"";`)).join('\n')}\n`;
	const pages = json(
		HULLS.map((id, nth) => ({ id: `page_${nth}`, head: `${id}_name`, body: `${id}_about` }))
	);
	const stack = stackOf({
		'en.texts/Game.words': texts('the'),
		'de.texts/Game.words': texts('das'),
		'pages.json': pages
	});
	expect(stack.guide.words!.languages).toMatchObject({ en: 'English', de: 'Deutsch' });
	expect(stack.guide.kinds.pages!.fields.head!.type).toBe('textKey');
	const { doc } = open('x.words', texts('the'), { layout: tellFormats(texts('the'))[0]!.layout! });
	expect(doc.records[0]).toMatchObject({ id: 'skiff_name' });
	expect(doc.records[0]!.fields[0]!.value).toBe('the skiff\nsays "%d"');
});

describe('columns with nothing but space between', () => {
	const rows = HULLS.map(
		(id, nth) => `  ${id.padEnd(10)}${String(nth * 7).padStart(5)}  ${nth > 0 ? HULLS[nth - 1]! : 'none'}`
	);

	test('are named by the line above them, commentary or not', () => {
		const stack = stackOf({
			'hulls.txt': `; what there is\n; name      cost  after\n${rows.join('\n')}\n`,
			'sails.txt': `name     area  for\n--------------------\n${SAILS.map((id, nth) => `${id.padEnd(9)}${nth + 10}    ${pick(HULLS, nth)}`).join('\n')}\n`
		});
		expect(idsOf(stack, 'hulls')).toEqual(HULLS);
		expect(Object.keys(stack.guide.kinds.hulls!.fields)).toEqual(['cost', 'after']);
		expect(referenceOf(stack, 'hulls', 'after')).toEqual(['hulls']);
		expect(idsOf(stack, 'sails')).toEqual(SAILS);
		expect(referenceOf(stack, 'sails', 'for')).toEqual(['hulls']);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('lines of words are a text, however many are on each', () => {
		const word = fc.constantFrom('sea', 'the', 'wind', 'old', 'ropes', 'and', 'gulls', 'cry');
		fc.assert(
			fc.property(fc.array(fc.array(word, { minLength: 4, maxLength: 4 }), { minLength: 4 }), (lines) => {
				expect(tellFormats(lines.map((line) => line.join(' ')).join('\n'))).toEqual([]);
			})
		);
	});
});

describe('data in the file of a program', () => {
	const hulls = `// all of them\nvar Hulls = {\n${HULLS.map((id, nth) => `  ${id}: { name: 'The ${id}', hold: ${nth}, old: true },`).join('\n')}\n};\n`;
	const yards = `export const yards = [\n${SAILS.map((id, nth) => `  {\n    id: "yard_${id}",\n    builds: ["${pick(HULLS, nth)}", "${pick(HULLS, nth + 3)}"],\n  },`).join('\n')}\n];\n`;
	const program =
		'function start() {\n  const at = { x: 1 };\n  for (const hull of Hulls) sail(hull, at);\n}\nstart();\n';

	test('is read where there is nothing else in it', () => {
		const stack = stackOf({ 'js/hulls.js': hulls, 'js/yards.js': yards, 'js/start.js': program });
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['hulls', 'yards']);
		expect(referenceOf(stack, 'yards', 'builds[]')).toEqual(['hulls']);
		expect(snagsOf(stack)).toEqual([]);
		const { set } = open('js/hulls.js', hulls, { format: 'js' });
		expect(set('barge', 'name', "Cook's")).toBe(hulls.replace("'The barge'", "'Cook\\'s'"));
	});

	test('what must be worked out, or is more than one value, is left alone', () => {
		for (const text of [
			program,
			'const a = { x: y };',
			'const a = { x: 1 }; const b = { y: 2 };',
			'const a = [1, 2].map(twice);',
			'x = { a: `${b}` };'
		])
			expect(tellGiven(text)).toEqual([]);
		expect(tellGiven('game.hulls["old"] = [{ id: 1 }, { id: 2 }]')).toHaveLength(1);
	});
});

test('texts that tempt to try all ways are told, read and cut in a time that grows with them', () => {
	for (const text of Object.values(TRICKY)) {
		tellFormats(text);
		tellGiven(text);
		for (const format of ['stanzas', 'sections', 'lua', 'js', 'positional', 'block', 'yaml', 'xml']) {
			const doc = readDocument('some', text, { format }) as TextDocument;
			const own = formatOf(format) as TextFormat;
			const [first] = doc.records;
			const last = doc.records.at(-1);
			if (!first || !last || doc.records.length < 2) continue;
			own.remove(doc, last);
			own.remove(doc, first);
			own.insert(doc, doc, first);
		}
	}
}, 20_000);

describe('what kinds are called', () => {
	const items = Object.fromEntries(
		HULLS.map((id, nth) => [id, { name: `The ${id}`, cost: nth, tags: ['old'] }])
	);
	const beasts = HULLS.map((id, nth) => ({ id: `beast_${nth}`, hp: nth, drops: id }));

	test('of several collections each is by its place, also by a word for anything', () => {
		const { kinds } = stackOf({ 'game.json': json({ version: 3, items, beasts }) }).guide;
		expect(Object.keys(kinds).sort()).toEqual(['beasts', 'items']);
	});

	test('a file that says nothing is called as its folder, and of two alike the folder above tells which', () => {
		const each = (folder: string, ids: readonly string[], what: (nth: number) => object) =>
			Object.fromEntries(ids.map((id, nth) => [`${folder}/${id}.json`, json(what(nth))]));
		const stack = stackOf({
			...each('data/item', HULLS, (nth) => ({
				type: 'sea:thing',
				weight: nth,
				mends: nth % 2 ? `#sea:${pick(SAILS, nth)}` : `sea:${pick(HULLS, nth + 1)}`
			})),
			...each('data/tags/item', SAILS, (nth) => ({
				replace: false,
				values: [`sea:${pick(HULLS, nth)}`, `sea:${pick(HULLS, nth + 4)}`]
			})),
			'talk/all.json': json(
				HULLS.map((id, nth) => ({ node: `n${nth}`, says: `Of the ${id}.`, next: `n${(nth + 1) % 10}` }))
			)
		});
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['item', 'tags_item', 'talk']);
		// Whose mark says of which kind an id is.
		expect(stack.guide.kinds.item!.fields.mends!.reference!.kinds.toSorted()).toEqual(['item', 'tags_item']);
		expect(snagsOf(stack)).toEqual([]);
	});
});
