// What is told of games that nobody described: who inherits from whom, texts of several formats, tables as wide as the
// game has ids, and how sure anything is.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack, understoodOf } from '$core/checks';
import { applyPlan, bytesOf } from '$core/change';
import { planFor } from '$core/edits';
import { tellFormats } from '$core/formats';
import { EMPTY_GUIDE, mentionsIn, parseGuide, valueFor, withMention } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { columnSpread } from '$core/numbers';
import { arrange, conditionsFrom } from '$core/query';
import { buildIndex, search } from '$core/search';
import { cellsOf, effectiveColumn, inheritedIn, inheritedValue, nameOf, rowsWith } from '$core/stack';
import { bytes, json as text, snagsOf, stackOf } from './unknown';

/** Winches of which some are made from others, and two patterns that are none themselves. */
const winches = [
	{ mould: 'any_winch', title: 'Any winch', pull: 100, rope: 20, weight: 7.5, needs: ['oil', 'hand'] },
	...Array.from({ length: 12 }, (_, nth) => ({
		id: `drum_${nth}`,
		title: `Drum ${nth}`,
		pull: 200 + nth * 10,
		rope: 30 + nth,
		weight: 1.5 * (nth + 1),
		needs: ['oil', nth % 2 ? 'coal' : 'hand']
	})),
	{ id: 'small_drum', made_from: 'any_winch', title: 'Small drum', more: { rope: 5 }, times: { pull: 0.5 } },
	{ id: 'tiny_drum', made_from: 'small_drum', title: 'Tiny drum', more: { rope: 1 }, times: { pull: 0.5 } },
	{ id: 'twin_drum', made_from: 'drum_3', title: 'Twin drum', weight: 99 },
	{ id: 'late_drum', made_from: 'drum_5', title: 'Late drum', needs: ['steam'] }
];
const game = { 'data/winches.json': text(winches) };

describe('records that are made from others', () => {
	test('are told from what they leave out, with what names their patterns and changes their numbers', () => {
		const stack = stackOf(game);
		const { inherits, fields } = stack.guide.kinds.winches!;
		expect(inherits).toMatchObject({ from: 'made_from', pattern: 'mould', adds: 'more', times: 'times' });
		expect(inherits!.found!.sure).toBeLessThan(1);
		expect(fields.made_from!.reference).toMatchObject({ kinds: ['winches'], ends: true });
		expect(stack.tables.get('winches')!.byId.has('any_winch')).toBe(true);
		expect(snagsOf(stack)).toEqual([]);
	});

	test('have what the others say, changed on the way, and it is told from where', () => {
		const table = stackOf(game).tables.get('winches')!;
		const at = (id: string, path: string) => inheritedValue(table, table.rowOf(id), path);
		const [any, third] = [table.rowOf('any_winch'), table.rowOf('drum_3')];
		expect(at('small_drum', 'pull')).toEqual({ value: '50', from: any, how: 'multiplied' });
		expect(at('small_drum', 'rope')).toEqual({ value: '25', from: any, how: 'added' });
		expect(at('tiny_drum', 'pull')).toEqual({ value: '25', from: any, how: 'multiplied' });
		expect(at('tiny_drum', 'rope')).toEqual({ value: '26', from: any, how: 'added' });
		expect(at('twin_drum', 'pull')).toEqual({ value: '230', from: third, how: 'same' });
		// What it says itself, and who it is, it does not take over; a list is taken over whole or not at all.
		expect(at('twin_drum', 'weight')).toBeNull();
		expect(at('twin_drum', 'id')).toBeNull();
		expect(at('late_drum', 'needs[1]')).toBeNull();
		expect([...inheritedIn(table, table.rowOf('twin_drum')).keys()].sort()).toEqual([
			'needs[0]',
			'needs[1]',
			'pull',
			'rope'
		]);
	});

	test('are filtered, counted and checked by what they have in the end', () => {
		const said = parseGuide(
			'guide: 1\nkinds:\n  winch:\n    title: Winch\n    files: [data/winches.json]\n    key: id\n    inherits: { from: made_from, pattern: mould, adds: more, times: times }\n    fields:\n      pull: { type: whole, required: true }\n      made_from: { reference: { kinds: [winch], ends: true } }\n'
		);
		const stack = stackOf(game, {}, said);
		const table = stack.tables.get('winch')!;
		const around = { stack, links: buildLinks(stack), texts: undefined };
		const rows = arrange(
			around as never,
			table,
			conditionsFrom('pull < 60', [{ path: 'pull', title: 'Pull' }]),
			[]
		);
		expect([...rows].map((row) => table.record(row).id).sort()).toEqual(['small_drum', 'tiny_drum']);
		expect(columnSpread(table, 'pull')).toMatchObject({ min: 25 });
		expect(snagsOf(stack)).toEqual([]);
		const mine = { 'data/winches.json': text([...winches, { id: 'odd', title: 'Odd' }]) };
		expect(snagsOf(stackOf(game, mine, said)).map(({ rule, record }) => `${rule} ${record}`)).toEqual([
			'missing-field odd'
		]);
	});

	test('that are made from each other are said to, and taking over comes to an end', () => {
		const ring = [
			{ id: 'one', made_from: 'two', title: 'One' },
			{ id: 'two', made_from: 'one', title: 'Two' }
		];
		const stack = stackOf(game, { 'data/winches.json': text([...winches, ...ring]) });
		const table = stack.tables.get('winches')!;
		expect(inheritedValue(table, table.rowOf('one'), 'pull')).toBeNull();
		expect(inheritedIn(table, table.rowOf('one')).size).toBe(0);
		expect(snagsOf(stack).filter(({ severity }) => severity !== 'note')).toMatchObject([
			{ rule: 'endless-chain', severity: 'warns' }
		]);
	});

	test('a column as the game sees it has in each row what the record says, or else what it takes over', () => {
		const numbers = fc.array(fc.tuple(fc.integer({ min: -1, max: 19 }), fc.option(fc.nat(50))), {
			minLength: 1,
			maxLength: 20
		});
		const guide = parseGuide(
			'guide: 1\nkinds:\n  k:\n    title: K\n    files: [k.json]\n    key: id\n    inherits: { from: of }\n'
		);
		fc.assert(
			fc.property(numbers, (list) => {
				const records = list.map(([of, value], nth) => ({
					id: `r${nth}`,
					...(of < 0 ? {} : { of: `r${of}` }),
					...(value === null ? {} : { x: value })
				}));
				const table = stackOf({ 'k.json': text(records) }, {}, guide).tables.get('k')!;
				const column = effectiveColumn(table, 'x');
				records.forEach((record, row) => {
					const seen = new Set<string>();
					let now = record;
					while (now.x === undefined && now.of !== undefined && !seen.has(now.id)) {
						seen.add(now.id);
						const next = records.find(({ id }) => id === now.of);
						if (!next) break;
						now = next;
					}
					expect(column[row]! < 0 ? undefined : Number(table.pool.at(column[row]!))).toBe(now.x);
				});
			})
		);
	});

	test('a field that only names another record of the kind is no such thing', () => {
		const friends = Array.from({ length: 20 }, (_, nth) => ({
			id: `boat_${nth}`,
			seats: nth % 7,
			...(nth % 3 ? { follows: `boat_${(nth * 7) % 20}` } : {})
		}));
		const { kinds } = stackOf({ 'boats.json': text(friends) }).guide;
		expect(kinds.boats!.fields.follows!.reference!.kinds).toEqual(['boats']);
		expect(kinds.boats!.inherits).toBeUndefined();
	});
});

describe('texts in several languages', () => {
	const keys = Array.from({ length: 9 }, (_, nth) => `mast_${nth}`);
	const lines = (language: string) =>
		keys.map((key) => `${key}=${language} says mast ${key.slice(5)}`).join('\n') + '\n';
	const catalogue = (language: string) =>
		keys.map((key) => `msgid "${key}"\nmsgstr "${language} ${key}"\n`).join('\n');

	test('of two formats are two kinds, and a language may stand within the name of a file', () => {
		const files = Object.fromEntries(
			['en', 'de', 'fr'].flatMap((language) => [
				[`words/${language}/yard.properties`, lines(language) + `extra=${language}\n`],
				[`words/tools.${language}.po`, catalogue(language)]
			])
		);
		const { guide, tables } = stackOf(files);
		expect(guide.kinds.text!.files).toEqual(['words/{language}/*.properties']);
		expect(guide.kinds.tools!.files).toEqual(['words/tools.{language}.po']);
		expect(Object.keys(guide.words!.languages)).toEqual(['de', 'en', 'fr']);
		const record = tables.get('tools')!.byId.get('mast_3')!;
		expect(Object.keys(Object.fromEntries(record.values)).sort()).toEqual(['de', 'en', 'fr']);
	});

	test('what is said is no name, and its lack is only noted; a name that lacks warns', () => {
		const yard = keys.map((id, nth) => ({ id, height: nth * 3 }));
		const words = (what: (id: string) => string) => ({
			'data/masts.json': text(yard),
			'words/en.properties': keys.map(what).join('\n') + '\n'
		});
		const mine = { 'data/masts.json': text([...yard, { id: 'mast_99', height: 4 }]) };
		const spoken = words((id) => `mast.${id}.call=The ${id} goes up at dawn.`);
		const named = words((id) => `mast.${id}.name=Mast ${id}`);
		const graves = (files: Record<string, string>) =>
			snagsOf(stackOf(files, mine)).flatMap(({ rule, severity }) =>
				rule === 'missing-text' ? [severity] : []
			);
		expect(graves(spoken)).toEqual(['note']);
		expect(graves(named)).toEqual(['warns']);
	});

	test('keys in capitals belong to records whose ids are written small: named, missed, and renamed with them', () => {
		const yard = keys.map((id, nth) => ({ id, height: nth * 3 }));
		const said = (ids: readonly string[]) =>
			ids
				.map((id) => `YARD_${id.toUpperCase()}_NAME=The ${id}\nYARD_${id.toUpperCase()}_HELP=It stands.\n`)
				.join('');
		const game = { 'data/masts.json': text(yard), 'words/en.properties': said(keys) };
		const mine = {
			'data/masts.json': text([...yard, { id: 'mast_99', height: 4 }]),
			'words/en.properties': said([...keys, 'mast_99'])
		};
		const stack = stackOf(game, mine);
		expect(stack.guide.kinds.masts!.texts.map(({ key, name }) => [key, name])).toEqual([
			['YARD_{id:upper}_NAME', true],
			['YARD_{id:upper}_HELP', false]
		]);
		expect(nameOf(stack, stack.tables.get('masts')!.byId.get('mast_4')!)).toBe('The mast_4');
		expect(snagsOf(stack).filter(({ rule }) => rule === 'missing-text')).toEqual([]);
		const silent = snagsOf(stackOf(game, { 'data/masts.json': mine['data/masts.json'] }));
		expect(silent.map(({ rule, severity, field }) => [rule, severity, field])).toEqual([
			['missing-text', 'warns', 'Name'],
			['missing-text', 'note', 'Help']
		]);
		const rename = { do: 'rename', kind: 'masts', id: 'mast_99', newId: 'boom_1' } as const;
		const files = new Map([...stack.mine!.files].map(([path, { text: own }]) => [path, own!] as const));
		const made = applyPlan(files, planFor(stack, rename, 'm')).get('words/en.properties')!;
		expect(new TextDecoder().decode(bytesOf(made))).toBe(
			mine['words/en.properties'].replaceAll('YARD_MAST_99_', 'YARD_BOOM_1_')
		);
	});
});

describe('a table with a column for each id', () => {
	const towns = Array.from({ length: 230 }, (_, nth) => `town_${nth}`);
	const prices = Object.fromEntries(
		towns.map((town, nth) => [
			town,
			{ roads: Object.fromEntries([1, 2, 3].map((step) => [towns[(nth * 7 + step) % 230]!, step * nth])) }
		])
	);
	const guide = parseGuide('guide: 1\nkinds:\n  town:\n    title: Town\n    files: [towns.json]\n');
	const table = stackOf({ 'towns.json': text(prices) }, {}, guide).tables.get('town')!;

	test('says of each cell, column and row what its file says', () => {
		expect(table.columns.length).toBeGreaterThan(200);
		const records = table.records;
		for (const path of table.columns.filter((_, nth) => nth % 9 === 0)) {
			const [cell, column] = [cellsOf(table, path), table.column(path)];
			const rows = new Set(rowsWith(table, path));
			for (let row = 0; row < table.count; row++) {
				const value = records[row]!.value(path);
				expect(column[row]! < 0 ? undefined : table.pool.at(column[row]!)).toBe(value);
				expect(cell(row)).toBe(column[row]);
				expect(rows.has(row)).toBe(value !== undefined);
			}
		}
	});
});

test('nothing that was found is wholly sure, and so nothing that was found blocks', () => {
	const masts = Array.from({ length: 900 }, (_, nth) => ({ id: `mast_${nth}`, foot: `foot_${nth % 300}` }));
	const feet = Array.from({ length: 300 }, (_, nth) => ({ id: `foot_${nth}`, wide: nth }));
	const files = { 'masts.json': text(masts), 'feet.json': text(feet) };
	const mine = { 'masts.json': text([...masts, { id: 'mast_x', foot: 'foot_of_nobody' }]) };
	const stack = stackOf(files, mine);
	expect(stack.guide.kinds.masts!.fields.foot!.reference!.found!.sure).toBeLessThan(1);
	expect(snagsOf(stack).map(({ rule, severity }) => `${severity} ${rule}`)).toEqual([
		'warns missing-reference'
	]);
});

describe('a file of mine that is written as none of the game’s is', () => {
	const many = Object.fromEntries(
		Array.from({ length: 12 }, (_, nth) => [
			`data/mast_${nth}.json`,
			JSON.stringify({ id: `mast_${nth}`, height: nth }, null, 2) + '\n'
		])
	);
	const said = (mine: Record<string, string | Uint8Array>, game = many) =>
		checkStack(
			assembleStack(
				[
					{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) },
					{
						id: 'mine',
						title: 'Mine',
						owner: 'me',
						files: new Map(
							Object.entries(mine).map(([path, content]) => [
								path,
								typeof content === 'string' ? new TextEncoder().encode(content) : content
							])
						)
					}
				],
				EMPTY_GUIDE
			)
		).flatMap(({ rule, severity, line, message }) =>
			rule === 'unlike-game' ? [`${severity} ${line} ${/` (.*?) \(line/.exec(message)![1]}`] : []
		);

	test.each([
		['{\n  "id": "mast_20",\n  "height": 3,\n}\n', 'warns 3 has a comma with nothing after it'],
		['{\n  // tall\n  "id": "mast_20",\n  "height": 3\n}\n', 'warns 2 has a comment'],
		['{\n  "id": "mast_20",\n  "height": 3,\n  "height": 4\n}\n', 'warns 1 has a name twice in one record'],
		['{\n\t"id": "mast_20",\n\t"height": 3\n}\n', 'note 2 is indented with tabs'],
		['{\r\n  "id": "mast_20",\r\n  "height": 3\r\n}\r\n', 'warns 1 has CRLF line ends'],
		['\uFEFF{\n  "id": "mast_20",\n  "height": 3\n}\n', 'warns 1 begins with a byte-order mark']
	])('%j', (content, expected) => {
		expect(said({ 'data/mast_20.json': content })).toEqual([expected]);
	});

	test('is fine where one file of the game is written so, and only noted where these are few', () => {
		const comma = '{\n  "id": "mast_20",\n  "height": 3,\n}\n';
		expect(said({ 'data/mast_20.json': comma }, { ...many, 'data/odd.json': comma })).toEqual([]);
		const few = Object.fromEntries(Object.entries(many).slice(0, 4));
		expect(said({ 'data/mast_20.json': comma }, few)).toEqual(['note 3 has a comma with nothing after it']);
		expect(said({ 'data/mast_20.json': many['data/mast_3.json']! })).toEqual([]);
	});
});

describe('a mod’s file at the path of one of the game’s', () => {
	const masts = Array.from({ length: 30 }, (_, nth) => ({ id: `mast_${nth}`, foot: `foot_${nth % 12}` }));
	const feet = Array.from({ length: 12 }, (_, nth) => ({ id: `foot_${nth}`, wide: nth % 5 }));
	const files = { 'data/masts.json': text(masts), 'data/feet.json': text(feet) };

	test('that holds few of its records is taken to add to them, with a word on it, and nothing goes missing', () => {
		const stack = stackOf(files, { 'data/feet.json': text([{ id: 'foot_3', wide: 4 }]) });
		const { merge, adds } = stack.guide.kinds.feet!;
		expect([merge, adds!.because]).toEqual(['record', expect.stringMatching(/holds 1 of the 12 records/)]);
		expect(stack.guide.kinds.masts!.merge).toBe('file');
		expect(stack.tables.get('feet')!.count).toBe(12);
		expect(stack.tables.get('feet')!.byId.get('foot_3')!.value('wide')).toBe('4');
		expect(snagsOf(stack).map(({ rule, severity }) => `${severity} ${rule}`)).toEqual([
			'note adds-or-replaces'
		]);
	});

	test('that holds most of them replaces it; and what people say holds', () => {
		const most = { 'data/feet.json': text(feet.slice(1)) };
		expect(stackOf(files, most).guide.kinds.feet!.merge).toBe('file');
		expect(snagsOf(stackOf(files, most)).map(({ rule }) => rule)).toContain('missing-reference');
		const said = parseGuide(
			'guide: 1\nkinds:\n  feet: { title: Feet, files: [data/feet.json], key: id, merge: file }\n'
		);
		const stack = stackOf(files, { 'data/feet.json': text([{ id: 'foot_3', wide: 4 }]) }, said);
		expect(stack.tables.get('feet')!.count).toBe(1);
	});

	test('tells the same whichever layer shows it, and a layer that has whole files decides against it', () => {
		const few = { 'data/feet.json': text([{ id: 'foot_3', wide: 4 }]) };
		const layers = (...mods: Record<string, string>[]) =>
			assembleStack(
				[
					{ id: 'game', title: 'Game', owner: 'game', files: bytes(files) },
					...mods.map((mod, nth) => ({
						id: `mod${nth}`,
						title: `Mod ${nth}`,
						owner: 'others' as const,
						files: bytes(mod)
					}))
				],
				EMPTY_GUIDE
			).guide.kinds.feet!.merge;
		expect(layers(few)).toBe('record');
		expect(layers({ 'data/feet.json': text(feet) }, few)).toBe('file');
	});
});

test('what is understood is said in a few lines, with what the most hangs on first', () => {
	const masts = Array.from({ length: 60 }, (_, nth) => ({
		id: `mast_${nth}`,
		foot: nth < 55 ? `foot_${nth % 12}` : `lost_${nth}`,
		rare: nth < 3 ? `foot_${nth}` : 'none'
	}));
	const feet = Array.from({ length: 12 }, (_, nth) => ({ id: `foot_${nth}`, wide: nth % 5 }));
	const stack = stackOf({
		'data/masts.json': text(masts),
		'data/feet.json': text(feet),
		'data/broken.json': '[{ "id": "x", ',
		'read-me.md': 'Masts and feet.'
	});
	const { lines, first } = understoodOf(stack, buildLinks(stack));
	const said = (what: RegExp) => lines.find((line) => what.test(line.what))?.count;
	expect(said(/read as data/)).toBe(3);
	expect(said(/not be read completely/)).toBe(1);
	expect(said(/other file/)).toBe(1);
	expect(said(/records of/)).toBe(72);
	expect(lines.length).toBeLessThanOrEqual(11);
	// The reference that 60 values hang on, and of which some lead nowhere, goes before all others.
	expect(first[0]).toMatchObject({ kind: 'masts', field: 'foot', hangs: 60 });
	expect(first[0]!.sure).toBeLessThan(0.9);
});

describe('what is written for people', () => {
	const words = ['Amber', 'Broad', 'Calm', 'Deep', 'Even', 'Far', 'Grey', 'High'];
	const typeOf = (value: (nth: number) => string) =>
		stackOf({
			'x.json': text(Array.from({ length: 60 }, (_, nth) => ({ id: `x_${nth}`, said: value(nth) })))
		}).guide.kinds.x!.fields.said!.type;

	test('names of several words are no lists, though their words come again; words that are tags are', () => {
		const name = (nth: number) =>
			`${words[nth % 8]} ${words[(nth * 3 + (nth >> 3)) % 8]} ${words[(nth + (nth >> 2)) % 8]}`;
		expect(typeOf(name)).toBe('text');
		expect(typeOf((nth) => name(nth).toLowerCase())).toBe('list');
	});

	test('a sentence with “and” is no condition; a condition is one', () => {
		expect(typeOf((nth) => `Wind and water turn it ${nth} times and it stops or not at all.`)).toBe('text');
		expect(typeOf((nth) => `tide > ${nth} and not (storm or fog)`)).toBe('expression');
		expect(typeOf((nth) => `has_key and visits >= ${nth}`)).toBe('expression');
	});
});

test('a file with few records under a word is of the kind that others beside it show', () => {
	const scene = (nth: number) =>
		`<scene><id>s_${nth}</id><label>Scene ${nth}</label><boat>b_${nth % 5}</boat></scene>`;
	const night = (name: string, from: number, count: number) => [
		`acts/${name}.xml`,
		`<night called="${name}"><scenes>${Array.from({ length: count }, (_, at) => scene(from + at)).join('\n')}</scenes></night>\n`
	];
	const files = Object.fromEntries([
		night('one', 0, 12),
		night('two', 20, 14),
		night('three', 40, 11),
		night('four', 60, 3),
		night('five', 70, 1)
	]) as Record<string, string>;
	const { guide, tables } = stackOf(files);
	expect(Object.keys(guide.kinds)).toEqual(['scene']);
	expect(tables.get('scene')!.count).toBe(41);
});

describe('ids behind marks', () => {
	const ropes = Array.from({ length: 12 }, (_, nth) => ({ id: `rope_${nth}`, length: 10 + nth }));
	const tugs = Array.from({ length: 20 }, (_, nth) => ({
		id: `tug_${nth}`,
		title: `Tug ${nth}`,
		tow: nth % 3 === 0 ? '@BASE_TOW' : 40 + nth,
		watch: nth % 5 === 0 ? '@NIGHT' : nth,
		best: nth % 4 === 0 ? `rope:rope_${nth % 12}` : `tug_${(nth * 7) % 20}`
	}));
	const named = {
		'data/ropes.json': text(ropes),
		'data/tugs.json': text(tugs),
		'data/fixed.json': text({ fixed: { BASE_TOW: 55, NIGHT: 22, NOON: '12:00', LIMIT: 0.5 } }),
		'data/use.json': text(
			['BASE_TOW', 'NIGHT', 'NOON', 'LIMIT'].map((name, nth) => ({ id: `use_${nth}`, of: `@${name}` }))
		)
	};

	test('mean a kind among values that mean nothing, and among plain ids; named values are records', () => {
		const { guide, tables } = stackOf(named);
		const fields = guide.kinds.tugs!.fields;
		expect([...tables.get('fixed')!.byId.keys()]).toEqual(['BASE_TOW', 'NIGHT', 'NOON', 'LIMIT']);
		expect(tables.get('fixed')!.byId.get('NIGHT')!.value('value')).toBe('22');
		expect(fields.tow!.reference).toMatchObject({ kinds: ['fixed'], marks: { fixed: '@' } });
		// Told from all values of the game: this column alone has one.
		expect(fields.watch!.reference).toMatchObject({ kinds: ['fixed'], marks: { fixed: '@' } });
		expect(fields.best!.reference).toMatchObject({ kinds: ['tugs', 'ropes'], marks: { ropes: 'rope:' } });
		expect(fields.tow!.found!.sure).toBeLessThan(1);
	});

	test('are followed, missed and written by their kind', () => {
		const mine = {
			'data/tugs.json': text([...tugs, { ...tugs[0], id: 'odd', tow: '@NOWHERE', best: 'rope:none' }])
		};
		const stack = stackOf(named, mine);
		expect(snagsOf(stackOf(named))).toEqual([]);
		expect(snagsOf(stack).map(({ rule, field, severity }) => `${rule} ${field} ${severity}`)).toEqual([
			'missing-reference tow warns',
			'missing-reference best warns'
		]);
		const rule = stack.guide.kinds.tugs!.fields.best!.reference!;
		expect(valueFor(rule, 'rope_3', 'ropes')).toBe('rope:rope_3');
		expect(valueFor(rule, 'tug_3', 'tugs')).toBe('tug_3');
		fc.assert(
			fc.property(fc.constantFrom('rope_3', 'x'), fc.constantFrom('ropes', 'tugs'), (id, kind) => {
				const [mention] = mentionsIn(rule, valueFor(rule, id, kind)!);
				expect(mention).toMatchObject({ id, ...(kind === 'ropes' ? { kind } : {}) });
				expect(withMention(rule, valueFor(rule, id, kind)!, mention!, 'other')).toBe(
					valueFor(rule, 'other', kind)
				);
			})
		);
		expect(mentionsIn({ kinds: ['fixed'], none: [], marks: { fixed: '@' } }, '12')).toEqual([]);
	});

	test('say nothing where a kind has two in one field', () => {
		const { guide } = stackOf({
			...named,
			'data/use.json': text(
				Array.from({ length: 12 }, (_, nth) => ({
					id: `use_${nth}`,
					of: `${nth % 2 ? '@' : 'fixed:'}${['BASE_TOW', 'NIGHT', 'NOON', 'LIMIT'][nth % 4]}`,
					or: `${nth % 2 ? '@' : 'fixed:'}${['LIMIT', 'NOON', 'NIGHT', 'BASE_TOW'][nth % 4]}`,
					and: ['fixed:NIGHT', 'fixed:NOON', 'fixed:LIMIT'][nth % 3]
				}))
			)
		});
		expect(guide.kinds.use!.fields.of!.reference).toBeUndefined();
	});

	test('are none where the words behind a mark are no names', () => {
		const { guide } = stackOf({
			...named,
			'data/use.json': text(
				Array.from({ length: 9 }, (_, nth) => ({
					id: `use_${nth}`,
					of: `@${nth % 2 ? 'NIGHT' : `word${nth}`}`
				}))
			)
		});
		expect(guide.kinds.use!.fields.of!.reference).toBeUndefined();
	});
});

test('files that are named after records of another kind refer to them, also in a wide table', () => {
	const harbours = Array.from({ length: 8 }, (_, nth) => ({ id: `harbour_${nth}`, size: nth }));
	const goods = Array.from({ length: 260 }, (_, nth) => ({ id: `good_${nth}`, weight: nth }));
	const tides = Object.fromEntries(
		harbours
			.slice(1)
			.map(({ id }, nth) => [
				`data/tides/${id}.json`,
				text({ spring: { crowd: nth, rain: 0.5 }, autumn: { crowd: nth * 2, rain: 0.1 } })
			])
	);
	const prices = Object.fromEntries(
		harbours.map(({ id }, nth) => [
			id,
			Object.fromEntries(
				Array.from({ length: 90 }, (_, at) => [`good_${(nth * 31 + at * 7) % 260}`, at + nth / 10])
			)
		])
	);
	const wide = {
		'data/harbours.json': text(harbours),
		'data/goods.json': text(goods),
		'data/prices.json': text({ data: prices }),
		...tides
	};
	const { guide } = stackOf(wide);
	expect(guide.kinds.tides!.fields['#id']!.reference!.kinds).toEqual(['harbours']);
	expect(guide.kinds.prices!.fields['*']!.reference).toMatchObject({ kinds: ['goods'], names: true });
	expect(guide.kinds.prices!.fields['*']!.type).toBe('decimal');
	const mine = {
		'data/prices.json': text({ data: { ...prices, harbour_of_nowhere: { good_1: 2, good_2: 3, good_3: 4 } } })
	};
	const snags = snagsOf(stackOf(wide, mine)).filter(({ severity }) => severity !== 'note');
	expect(snags.map(({ rule, record }) => `${rule} ${record}`)).toEqual([
		'missing-reference harbour_of_nowhere'
	]);
});

test('numbers with offsets mean the kinds that they cover, not one so dense that any number would fit', () => {
	const rows = (count: number, from: number) =>
		Array.from({ length: count }, (_, nth) => `${from + nth}\tname ${nth}`).join('\n');
	const made = Array.from(
		{ length: 120 },
		(_, nth) => `${2000 + nth}\t${nth % 2 ? 5001 + (nth % 40) : 9001 + (nth % 30)}`
	);
	const { guide } = stackOf({
		'data/stoves.tsv': `id\theat\n${rows(40, 1)}\n`,
		'data/stops.tsv': `id\tstreet\n${rows(30, 1)}\n`,
		'data/cooks.tsv': `id\twage\n${rows(90, 1)}\n`,
		'data/orders.tsv': `id\tnote\n${rows(900, 1)}\n`,
		'data/buns.tsv': `id\tmade_at\n${made.join('\n')}\n`
	});
	expect(guide.kinds.buns!.fields.made_at!.reference!.plus).toEqual({ stoves: 5000, stops: 9000 });
});

test('a file of one indented block is read as one; a verse is not', () => {
	const told = (words: string) => tellFormats(words).map(({ format }) => format);
	expect(told('start\n\tday 12 4 301\n\tplace SlowQuay\n\tboat "Grey Tern"\n')).toEqual(['indented']);
	expect(told('Harbours\n\tthe water rose\n\tand fell again\n\tand all was still\n')).toEqual([]);
});

test('a few words that recur are codes, also with a space in them', () => {
	const grips = ['one hand', 'two hands', 'belt'];
	const { guide } = stackOf({
		'data/tools.json': text(
			Array.from({ length: 30 }, (_, nth) => ({ id: `tool_${nth}`, grip: grips[nth % 3] }))
		)
	});
	expect(guide.kinds.tools!.fields.grip!.type).toBe('code');
});

test('what a text in another language says leads to the record whose field has its key, and the whole phrase comes first', () => {
	const names = ['Alto', 'Tern', 'Rope', 'Lamp', 'Loaf'].flatMap((noun) =>
		['Deep', 'Grey', 'Old', 'Burnt', 'High', 'Late'].map((word) => `${word} ${noun}`)
	);
	const stack = stackOf({
		'data/singers.csv': `id,name,range\n${names.map((name, nth) => `singer_${nth},${name},loaf`).join('\n')}\n`,
		'words/de.tab': names
			.map((name) => `${name}\nDas ${name.toLowerCase().split(' ').reverse().join(' ')}`)
			.join('\n'),
		'words/es.tab': names.map((name) => `${name}\nEl ${name.toLowerCase()}`).join('\n'),
		'words/fr.tab': names.map((name) => `${name}\nLe ${name.toLowerCase()}`).join('\n')
	});
	expect(stack.guide.kinds.singers!.fields.name!.type).toBe('textKey');
	const index = buildIndex(stack, buildLinks(stack));
	const [first] = search(index, 'das alto deep').hits;
	expect(first).toMatchObject({
		kind: 'singers',
		record: 'singer_0',
		field: 'name',
		matched: 'Das alto deep'
	});
	expect(search(index, 'burnt loaf').hits.find(({ group }) => group === 'record')).toMatchObject({
		record: 'singer_27'
	});
});

test('maps of lists beside each other that hold the same names are the records', () => {
	const places = Array.from({ length: 60 }, (_, nth) => `place_${nth}`);
	const days = ['mon', 'tue', 'wed', 'thu', 'fri'];
	const plan = Object.fromEntries(
		days.map((day, at) => [
			day,
			Object.fromEntries(
				Array.from({ length: 20 }, (_, nth) => [places[(at * 11 + nth * 7) % 60], [`act_${nth}`]])
			)
		])
	);
	const { tables } = stackOf({ 'data/plan.json': text(plan) });
	expect([...tables.get('plan')!.byId.keys()]).toEqual(days);
});
