// Open data sets that nobody made for this: what is plain to people in them has to be found, and nothing is wrong with them.
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { bytesOf } from '$core/change';
import { myFiles, planFor, stackAfter } from '$core/edits';
import { EMPTY_GUIDE, parseGuide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { mapOf, networkIn, shortestWay } from '$core/places';
import type { Stack } from '$core/stack';

const packages = new URL('../../node_modules/', import.meta.url);

/** The JSON files of a folder of a package, but those that describe the package. */
const filesOf = (folder: string, only = /\.json$/) =>
	readdirSync(new URL(`${folder}/`, packages), { recursive: true, encoding: 'utf8' }).filter(
		(path) => only.test(path) && !/(^|\/)(package|bower)\.json$/.test(path)
	);

const known = new Map<string, Stack>();

/** A package's data as a game. */
function stackOf(folder: string, only?: RegExp): Stack {
	const old = known.get(folder);
	if (old) return old;
	const files = new Map(
		filesOf(folder, only).map((path) => [
			path,
			new Uint8Array(readFileSync(new URL(`${folder}/${path}`, packages)))
		])
	);
	const layers = [
		{ id: 'game', title: 'Game', owner: 'game' as const, files },
		{ id: 'mine', title: 'Mine', owner: 'me' as const, files: new Map<string, Uint8Array>() }
	];
	const stack = assembleStack(layers, EMPTY_GUIDE);
	known.set(folder, stack);
	return stack;
}

/** The kind whose records are at a place of a file. */
function kindAt({ guide, tables }: Stack, path: string, at = ''): string {
	const found = [...tables].filter(
		([kind, { files }]) => guide.kinds[kind]!.at === at && files.some(({ file }) => file.path === path)
	);
	expect(
		found.map(([kind]) => kind),
		`${path} ${at}`
	).toHaveLength(1);
	return found[0]![0];
}

const SETS: [folder: string, only?: RegExp][] = [
	['world-countries', /^countries\.json$/],
	['cldr-core'],
	['mdn-data/css'],
	['unicode-emoji-json'],
	['mime-db', /^db\.json$/]
];

describe.each(SETS)('%s', (folder, only) => {
	test('is read whole, and nothing is wrong with it', () => {
		const stack = stackOf(folder, only);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('has no kind of several records with more fields than one of them has, or eight times the mean', () => {
		const { guide, tables } = stackOf(folder, only);
		for (const [kind, { fields }] of Object.entries(guide.kinds)) {
			const sizes = tables.get(kind)!.records.map(({ values }) => values.size);
			if (sizes.length < 2) continue;
			const mean = sizes.reduce((sum, size) => sum + size, 0) / sizes.length;
			expect(Object.keys(fields).length, kind).toBeLessThanOrEqual(Math.max(...sizes, 8 * mean));
		}
	});
});

/** Maps and lists of records, by the file and the place in it, with how many there are and the field of their ids. */
const KEYS: [folder: string, path: string, at: string, count: number, key: string | null][] = [
	['world-countries', 'countries.json', '', 250, 'cca2'],
	['cldr-core', 'coverageLevels.json', 'effectiveCoverageLevels', 530, null],
	['cldr-core', 'scriptMetadata.json', 'scriptMetadata', 181, null],
	['cldr-core', 'supplemental/aliases.json', 'supplemental.metadata.alias.languageAlias', 500, null],
	['cldr-core', 'supplemental/aliases.json', 'supplemental.metadata.alias.territoryAlias', 640, null],
	[
		'cldr-core',
		'supplemental/characterFallbacks.json',
		'supplemental.characters.character-fallback',
		169,
		null
	],
	['cldr-core', 'supplemental/dayPeriods.json', 'supplemental.dayPeriodRuleSet', 89, null],
	[
		'cldr-core',
		'supplemental/metaZones.json',
		'supplemental.metaZones.metazoneInfo.timezone.Africa',
		52,
		null
	],
	['cldr-core', 'supplemental/references.json', 'supplemental.references', 389, null],
	['cldr-core', 'supplemental/calendarData.json', 'supplemental.calendarData', 18, null],
	['cldr-core', 'supplemental/calendarPreferenceData.json', 'supplemental.calendarPreferenceData', 52, null],
	['cldr-core', 'supplemental/codeMappings.json', 'supplemental.codeMappings', 492, null],
	['cldr-core', 'supplemental/currencyData.json', 'supplemental.currencyData.fractions', 75, null],
	['cldr-core', 'supplemental/currencyData.json', 'supplemental.currencyData.region', 266, null],
	['cldr-core', 'supplemental/grammaticalFeatures.json', 'supplemental.grammaticalData', 64, null],
	['cldr-core', 'supplemental/languageData.json', 'supplemental.languageData', 907, null],
	['cldr-core', 'supplemental/languageGroups.json', 'supplemental.languageGroups', 114, null],
	['cldr-core', 'supplemental/likelySubtags.json', 'supplemental.likelySubtags', 7788, null],
	['cldr-core', 'supplemental/metaZones.json', 'supplemental.metaZones.metazoneIds', 159, null],
	['cldr-core', 'supplemental/numberingSystems.json', 'supplemental.numberingSystems', 97, null],
	['cldr-core', 'supplemental/ordinals.json', 'supplemental.plurals-type-ordinal', 108, null],
	['cldr-core', 'supplemental/plurals.json', 'supplemental.plurals-type-cardinal', 224, null],
	['cldr-core', 'supplemental/parentLocales.json', 'supplemental.parentLocales.parentLocale', 199, null],
	['cldr-core', 'supplemental/pluralRanges.json', 'supplemental.plurals', 91, null],
	['cldr-core', 'supplemental/territoryInfo.json', 'supplemental.territoryInfo', 258, null],
	['cldr-core', 'supplemental/timeData.json', 'supplemental.timeData', 276, null],
	['cldr-core', 'supplemental/units.json', 'supplemental.unitPrefixes', 32, null],
	['cldr-core', 'supplemental/units.json', 'supplemental.unitConstants', 19, null],
	['cldr-core', 'supplemental/units.json', 'supplemental.convertUnits', 155, null],
	['mdn-data/css', 'properties.json', '', 672, null],
	['mdn-data/css', 'syntaxes.json', '', 378, null],
	['unicode-emoji-json', 'data-by-emoji.json', '', 1914, null],
	['mime-db', 'db.json', '', 2522, null]
];

test.each(KEYS)('%s: the records of %s at “%s” are %i, known by %s', (folder, path, at, count, key) => {
	const stack = stackOf(folder, SETS.find(([name]) => name === folder)![1]);
	const kind = kindAt(stack, path, at);
	const table = stack.tables.get(kind)!;
	expect(table.count).toBe(count);
	expect(table.guide.key ?? null).toBe(key);
	// Every one has an id of its own.
	expect(table.files.some(({ facts }) => facts.written.includes(0))).toBe(false);
});

/** What fields name: the file and place that they are in, the field, the file and place of what is named. */
const REFERENCES: [folder: string, from: [string, string?], field: string, to: [string, string?]][] = [
	['world-countries', ['countries.json'], 'borders[]', ['countries.json']],
	['unicode-emoji-json', ['data-by-group.json'], 'emojis[].emoji', ['data-by-emoji.json']],
	['unicode-emoji-json', ['data-by-emoji.json'], 'group', ['data-by-group.json']],
	['mdn-data/css', ['properties.json'], 'computed[]', ['properties.json']],
	['mdn-data/css', ['properties.json'], 'initial[]', ['properties.json']],
	['mdn-data/css', ['properties.json'], 'percentages[]', ['properties.json']],
	['mdn-data/css', ['properties.json'], 'animationType[]', ['properties.json']],
	[
		'cldr-core',
		['supplemental/languageData.json', 'supplemental.languageData'],
		'_scripts[]',
		['scriptMetadata.json', 'scriptMetadata']
	],
	[
		'cldr-core',
		['supplemental/aliases.json', 'supplemental.metadata.alias.languageAlias'],
		'_replacement',
		['supplemental/likelySubtags.json', 'supplemental.likelySubtags']
	],
	[
		'cldr-core',
		['supplemental/units.json', 'supplemental.convertUnits'],
		'_baseUnit',
		['supplemental/units.json', 'supplemental.unitQuantities']
	],
	[
		'cldr-core',
		['supplemental/calendarPreferenceData.json', 'supplemental.calendarPreferenceData'],
		'[]',
		['supplemental/calendarData.json', 'supplemental.calendarData']
	]
];

test.each(REFERENCES)('%s: in %j, %s names records of %j', (folder, from, field, to) => {
	const stack = stackOf(folder, SETS.find(([name]) => name === folder)![1]);
	const reference = stack.guide.kinds[kindAt(stack, ...from)]!.fields[field]?.reference;
	expect(reference?.kinds).toEqual([kindAt(stack, ...to)]);
	expect(reference!.found!.sure).toBeGreaterThanOrEqual(0.85);
});

test('a guide makes a map of countries, with ways over their borders; one that is moved changes by its number', () => {
	const guide = parseGuide(`guide: 1
kinds:
  country:
    title: Country
    files: ['countries.json']
    key: cca3
    at: ''
    fields: { 'borders[]': { reference: { kinds: [country] } } }
places:
  world:
    title: World
    x: [-180, 180]
    y: [-90, 90]
    upwards: true
    things: [{ kind: country, x: 'latlng[1]', y: 'latlng[0]', to: 'borders[]' }]
`);
	const bytes = readFileSync(new URL('world-countries/dist/countries.json', packages));
	const layers = [
		{ id: 'game', title: 'Game', owner: 'game' as const, files: new Map([['countries.json', bytes]]) },
		{ id: 'mine', title: 'Mine', owner: 'me' as const, files: new Map<string, Uint8Array>() }
	];
	interface Country {
		cca3: string;
		latlng: [number, number];
		borders: string[];
	}
	const countries = JSON.parse(bytes.toString()) as Country[];
	// Nobody needs to say so: the list is named as what it holds.
	const told = assembleStack(layers, EMPTY_GUIDE).guide.places!;
	expect(Object.values(told)).toMatchObject([
		{ upwards: true, things: [{ x: 'latlng[1]', y: 'latlng[0]', to: 'borders[]' }] }
	]);
	const stack = assembleStack(layers, guide);
	const links = buildLinks(stack);
	const map = mapOf(stack, 'world', 'world')!;
	expect(map.things.map(({ id, x, y }) => [id, y, x])).toEqual(
		countries.map(({ cca3, latlng }) => [cca3, ...latlng])
	);
	expect(map.links.map(({ from, to }) => [from, to])).toEqual(
		countries.flatMap(({ cca3, borders }) => borders.map((other) => [cca3, other]))
	);
	const { points } = shortestWay(networkIn(map, 'country'), 'PRT', 'CHN')!;
	const bordersOf = new Map(countries.map(({ cca3, borders }) => [cca3, borders]));
	for (const [nth, id] of points.slice(1).entries()) expect(bordersOf.get(points[nth]!)).toContain(id);
	expect(checkStack(stack, links)).toEqual([]);

	const [country] = countries.filter(({ cca3 }) => cca3 === 'PRT');
	const move = { do: 'set', kind: 'country', id: 'PRT', field: 'latlng[1]', value: '-9.25' } as const;
	const [file] = myFiles(stackAfter(stack, planFor(stack, move, 'mine', { links }))).values();
	const was = `"latlng":[${country!.latlng.join(',')}]`;
	const moved = bytes.toString().replace(was, `"latlng":[${country!.latlng[0]},-9.25]`);
	expect(Buffer.from(bytesOf(file!)).toString()).toBe(moved);
	expect(moved).not.toBe(bytes.toString());
});
