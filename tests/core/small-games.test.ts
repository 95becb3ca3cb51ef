// Games of a few small files: where their records stand, what names them, and what is beside them. So little of each is
// there that nothing may be taken for more than it is.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkStack } from '$core/checks';
import { applyPlan, applySplices, bytesOf } from '$core/change';
import { formatFor, readDocument, type ReadHints, type TextDocument, type TextFormat } from '$core/formats';
import { kindToWrite, parseGuide, guideToYaml, type Guide } from '$core/guide';
import { buildLinks } from '$core/links';
import { assembleStack } from '$core/model';
import { planFor } from '$core/edits';
import { buildIndex, search } from '$core/search';
import { inheritedIn, nameOf, valueOf, type Stack } from '$core/stack';
import { bytes, json, stackOf } from './unknown';

const guideOf = (game: Record<string, string>) => stackOf(game).guide;
const kindsOf = (game: Record<string, string>) => Object.keys(guideOf(game).kinds).sort();
const idsOf = (stack: Stack, kind: string) => [...stack.tables.get(kind)!.byId.keys()];
const read = (path: string, text: string, hints: ReadHints = {}) =>
	readDocument(path, text, hints) as TextDocument;
const formatOf = (path: string) => formatFor(path) as TextFormat;

describe('a map of things behind a version', () => {
	const sails = {
		version: 2,
		sails: {
			lateen: { name: 'Lateen', area: 12, drag: 0.4 },
			gaff: { name: 'Gaff', area: 18, drag: 0.6 },
			none: { name: 'Bare pole', area: 0, drag: 0.1 }
		}
	};
	const hulls = [
		{ id: 'skiff', sail: 'lateen', hold: 4 },
		{ id: 'barge', sail: 'none', hold: 30 },
		{ id: 'ketch', sail: 'gaff', hold: 12 }
	];
	const game = { 'sails.json': json(sails), 'hulls.json': json(hulls) };

	test('is as many records, which others refer to', () => {
		const stack = stackOf(game);
		expect(stack.guide.kinds.sails).toMatchObject({ at: 'sails' });
		expect(idsOf(stack, 'sails')).toEqual(['lateen', 'gaff', 'none']);
		expect(stack.guide.kinds.hulls!.fields.sail!.reference!.kinds).toEqual(['sails']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('what is one thing with parts stays one, and no value inside it names it', () => {
		const settings = { wind: { min: 2, max: 14 }, start: { hull: 'skiff', coins: 120 } };
		const { kinds } = guideOf({ ...game, 'settings.json': json(settings) });
		expect(kinds.settings).toMatchObject({ at: null, id: 'file' });
		expect(kinds.settings!.key).toBeUndefined();
		expect(kinds.settings!.fields['start.hull']!.reference!.kinds).toEqual(['hulls']);
		expect(
			guideOf({ 'about.json': json({ title: 'Mill', version: '2.1' }) }).kinds.about!.key
		).toBeUndefined();
		expect(guideOf({ 'about.json': json({ id: 'mill', version: '2.1' }) }).kinds.about!.key).toBe('id');
	});
});

describe('a file of several collections', () => {
	const names = ['ash', 'birch', 'cedar', 'elder', 'fir', 'gorse', 'hazel', 'ivy'];
	const balance = {
		version: 12,
		settings: { gold: 200, night: { length: 90, dark: 0.4 } },
		units: Object.fromEntries(
			names.map((name, nth) => [name, { hp: 10 + nth, made_in: ['yard', 'hall', 'mill'][nth % 3] }])
		),
		houses: {
			hall: { hp: 100, cost: { wood: 9, stone: 3 }, makes: ['ash', 'birch'] },
			yard: { hp: 200, cost: { wood: 19, stone: 1 }, makes: ['fir', 'ivy', 'cedar'] },
			mill: { hp: 300, cost: { wood: 29, stone: 2 }, makes: ['hazel'] }
		}
	};
	const game = { 'balance.json': json(balance) };

	test('calls each as the file does, and what is beside them is a record of its own', () => {
		const stack = stackOf(game);
		expect(kindsOf(game)).toEqual(['balance', 'houses', 'units']);
		expect(stack.guide.kinds.balance).toMatchObject({ at: null, except: ['units', 'houses'], id: 'file' });
		expect(Object.keys(stack.guide.kinds.balance!.fields)).toEqual([
			'version',
			'settings.gold',
			'settings.night.length',
			'settings.night.dark'
		]);
		expect(stack.guide.kinds.units!.fields.made_in!.reference!.kinds).toEqual(['houses']);
		expect(stack.guide.kinds.houses!.fields['makes[]']!.reference!.kinds).toEqual(['units']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('a value beside the collections is changed where it stands', () => {
		const stack = stackOf(game, game);
		const set = { do: 'set', kind: 'balance', id: 'balance', field: 'settings.gold', value: '250' } as const;
		const plan = planFor(stack, set, 'm');
		const files = new Map([['balance.json', stack.mine!.files.get('balance.json')!.text!]]);
		const made = applyPlan(files, plan).get('balance.json')!;
		const changed = json({ ...balance, settings: { ...balance.settings, gold: 250 } });
		expect(new TextDecoder().decode(bytesOf(made))).toBe(changed);
	});

	test('the guide says it again when it is written, and is read the same', () => {
		const guide = guideOf(game);
		expect(kindToWrite(guide.kinds.balance!)).toMatchObject({ at: null, except: ['units', 'houses'] });
		const again = parseGuide(guideToYaml(guide));
		expect(again.kinds.balance).toMatchObject({ at: null, except: ['units', 'houses'] });
	});
});

describe('a guide that speaks of some of what is in a file', () => {
	const guide = (kind: string) => parseGuide(`guide: 1\ngame: { title: Mill }\nkinds:\n${kind}`);
	const with_ = (game: Record<string, string>, said: Guide) =>
		assembleStack([{ id: 'game', title: 'Game', owner: 'game', files: bytes(game) }], said);
	const kind = (n: number) => ({ a: { x: n, y: 2 }, b: { x: n, y: 3 }, c: { x: n, y: 4 } });
	const both = {
		version: 3,
		wind: 4,
		carts: kind(1),
		barns: { d: { roof: 1, of: 'tin' }, e: { roof: 2, of: 'tin' }, f: { roof: 3, of: 'tin' } }
	};

	test('leaves the rest to be detected: lists and maps beside each other, and what is beside these', () => {
		const said = guide(
			'  cart: { title: Cart, files: [all.json], at: carts, fields: { x: { type: whole } } }\n'
		);
		const stack = with_({ 'all.json': json(both) }, said);
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['all', 'barns', 'cart']);
		expect(stack.guide.kinds.all!.except!.toSorted()).toEqual(['barns', 'carts']);
		expect(idsOf(stack, 'barns')).toEqual(['d', 'e', 'f']);
		expect(idsOf(stack, 'cart')).toEqual(['a', 'b', 'c']);
	});

	test('also where it speaks of what is beside them', () => {
		const said = guide(
			'  wind: { title: Wind, files: [all.json], at: null, except: [carts, barns], id: file }\n'
		);
		const stack = with_({ 'all.json': json(both) }, said);
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['barns', 'carts', 'wind']);
		expect(stack.tables.get('wind')!.record(0).values.size).toBe(2);
		expect(idsOf(stack, 'carts')).toEqual(['a', 'b', 'c']);
	});

	test('and elements under other words', () => {
		const xml = `<all>\n${['a', 'b'].map((id) => `\t<cart id="${id}" x="1"/>\n\t<barn id="${id}" roof="2"/>\n`).join('')}</all>\n`;
		const said = guide('  cart: { title: Cart, files: [all.xml], element: cart, key: id }\n');
		const stack = with_({ 'all.xml': xml }, said);
		expect(Object.keys(stack.guide.kinds).sort()).toEqual(['barn', 'cart']);
		expect(idsOf(stack, 'barn')).toEqual(['a', 'b']);
	});

	test('but not where it speaks of all there is', () => {
		const said = guide('  all: { title: All, files: [all.json], at: null, id: file }\n');
		expect(Object.keys(with_({ 'all.json': json(both) }, said).guide.kinds)).toEqual(['all']);
	});
});

describe('what names a record', () => {
	const beasts = ['ox', 'ram', 'hen', 'cur', 'ass', 'doe'];
	const waves = ['east', 'north', 'south', 'west', 'mid', 'far'].flatMap((gate, at) =>
		[1, 2, 3, 4, 5].map((nth) => `${gate},${nth},${beasts[(at * 3 + nth) % 6]},${(at + nth * 2) % 4}`)
	);
	const game = {
		'beasts.csv': `beast,hp\n${beasts.map((beast, nth) => `${beast},${nth + 3}\n`).join('')}`,
		'gates.csv': 'gate,next\neast,north\nnorth,south\nsouth,west\nwest,mid\nmid,far\nfar,\n',
		'waves.csv': `gate,wave,beast,count\n${waves.join('\n')}\n`
	};

	test('is two fields together where none does alone', () => {
		const stack = stackOf(game);
		const { waves: kind, gates } = stack.guide.kinds;
		expect(kind!.keyParts).toEqual(['gate', 'wave']);
		expect(kind!.key).toBeUndefined();
		expect(idsOf(stack, 'waves').slice(0, 6)).toEqual([
			'east/1',
			'east/2',
			'east/3',
			'east/4',
			'east/5',
			'north/1'
		]);
		// Nothing refers to such an id, and what it is made of refers to others.
		expect(kind!.fields.gate!.reference!.kinds).toEqual(['gates']);
		expect(gates!.fields.next!.reference!.kinds).toEqual(['gates']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('a row more, and the others are still called as they were', () => {
		const mine = { 'waves.csv': game['waves.csv'].replace('east,1', 'dawn,1,ox,2\neast,1') };
		const stack = stackOf(game, mine);
		expect(idsOf(stack, 'waves')).toHaveLength(31);
		expect(idsOf(stack, 'waves')).toContain('dawn/1');
		expect(idsOf(stack, 'waves')).not.toContain('east/1#2');
	});

	test('two of the same values are told apart, and none of them is lost', () => {
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(3), fc.nat(3)), { minLength: 1, maxLength: 30 }),
				fc.constantFrom([], ['a'], ['a', 'b']),
				(rows, keyParts) => {
					const text = `a,b\n${rows.map(([a, b]) => `${a},${b}\n`).join('')}`;
					const { records } = read('x.csv', text, { keyParts, whole: true });
					expect(records).toHaveLength(rows.length);
					expect(new Set(records.map(({ id }) => id)).size).toBe(rows.length);
					expect(records.every(({ idSpan }) => idSpan === null)).toBe(true);
					expect(records.map(({ fields }) => fields.map(({ value }) => value).join())).toEqual(
						rows.map((row) => row.join())
					);
				}
			)
		);
	});

	test('is a field whatever it is called: in the game and in a mod that holds a copy of its file', () => {
		const quests = ['ebb', 'flow', 'gale', 'haze', 'mist'].map((quest, nth) => ({
			quest,
			pay: nth,
			by: 'tide'
		}));
		const game = {
			'quests.json': json(quests),
			'cards.jsonl': quests.map((one) => JSON.stringify(one)).join('\n')
		};
		for (const stack of [stackOf(game), stackOf(game, game)]) {
			expect(idsOf(stack, 'quests')).toEqual(['ebb', 'flow', 'gale', 'haze', 'mist']);
			expect(idsOf(stack, 'cards')).toEqual(['ebb', 'flow', 'gale', 'haze', 'mist']);
			expect(checkStack(stack, buildLinks(stack))).toEqual([]);
		}
		const stack = stackOf(game);
		expect(search(buildIndex(stack, buildLinks(stack)), 'gale').hits.map(({ record }) => record)).toContain(
			'gale'
		);
	});

	test('of tables beside each other, a field that names the records of one', () => {
		const towns = ['lea', 'ness', 'holm', 'wick'];
		const files = Object.fromEntries(
			towns.flatMap((town, nth) => [
				[`towns/${town}/town.json`, json({ title: town, folk: nth * 10 })],
				[`towns/${town}/stock.csv`, `ware,count\nrope,${nth}\ntar,${nth + 1}\nsalt,${nth + 2}\n`]
			])
		);
		const stack = stackOf(files);
		expect(stack.guide.kinds.stock).toMatchObject({ keyParts: ['ware'], id: 'folder' });
		expect(idsOf(stack, 'stock')).toContain('holm/tar');
		expect(idsOf(stack, 'stock')).toHaveLength(12);
		expect(stack.guide.kinds.stock!.fields['#folder']!.reference!.kinds).toEqual(['town']);
	});

	/** Things of a game, and of an add-on that says three of them again and adds two. */
	const withAddOn = (titleOf: (id: string, again: boolean) => string) => {
		const thing = (id: string, again: boolean, nth: number) => ({
			id,
			title: titleOf(id, again),
			weight: 3 + nth * (again ? 5 : 2),
			price: 10 + ((nth * 7) % 12)
		});
		const names = [
			'oar',
			'sail',
			'mast',
			'keel',
			'rope',
			'hook',
			'lamp',
			'bell',
			'tar',
			'net',
			'buoy',
			'flag'
		];
		return stackOf({
			'core/rules/things.json': json(names.map((id, nth) => thing(id, false, nth))),
			'more/frost/rules/things.json': json(
				['mast', 'bell', 'net', 'sled', 'skate'].map((id, nth) => thing(id, true, nth))
			)
		});
	};
	const capital = (id: string) => id.replace(/^./, (first) => first.toUpperCase());

	test('what an add-on says again is the same thing, known by the name that both give it', () => {
		const stack = withAddOn(capital);
		expect(stack.guide.kinds.things).toMatchObject({ key: 'id' });
		expect(stack.guide.kinds.things!.keyParts).toBeUndefined();
		expect(idsOf(stack, 'things')).toHaveLength(14);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('ids that come again for other things are those of their file', () => {
		const others = new Map([
			['mast', 'Bell'],
			['bell', 'Net'],
			['net', 'Sled'],
			['sled', 'Skate'],
			['skate', 'Mast']
		]);
		const stack = withAddOn((id, again) => (again ? others.get(id)! : capital(id)));
		expect(stack.guide.kinds.things).toMatchObject({ keyParts: ['id'] });
		expect(idsOf(stack, 'things')).toHaveLength(17);
	});

	test('lists without a key, in files of which only a folder further up differs, keep all of their records', () => {
		const weather = (count: number, step: number) =>
			json(
				Array.from({ length: count }, (_, nth) => ({
					day: (nth * 7 + step) % 5,
					rain: 3 + ((nth * step) % 4),
					wind: ['north', 'south', 'east'][(nth + step) % 3]
				}))
			);
		const stack = stackOf({
			'core/rules/weather.json': weather(9, 1),
			'more/frost/rules/weather.json': weather(5, 2),
			'more/ember/rules/weather.json': weather(4, 3)
		});
		expect(stack.guide.kinds.weather!.id).toBe('path');
		expect(idsOf(stack, 'weather')).toHaveLength(18);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('wares that every town has, with the same titles, are those of their town', () => {
		const stock = (nth: number) => `ware,title,count\nrope,Rope,${nth}\ntar,Tar,${nth}\nsalt,Salt,${nth}\n`;
		const stack = stackOf(
			Object.fromEntries(['lea', 'ness', 'holm'].map((town, nth) => [`towns/${town}/stock.csv`, stock(nth)]))
		);
		expect(idsOf(stack, 'stock')).toHaveLength(9);
	});

	test('a field that repeats the id in capitals refers to nothing', () => {
		const ranks = ['cook', 'mate', 'hand', 'boy', 'bosun'].map((rank, nth) => ({
			rank,
			title: rank.replace(/^./, (first) => first.toUpperCase()),
			pay: nth
		}));
		expect(guideOf({ 'ranks.json': json(ranks) }).kinds.ranks!.fields.title!.reference).toBeUndefined();
	});
});

describe('lists that are inherited', () => {
	const tools = [
		{ id: 'winch', weight: 9, price: 3, marks: ['iron', 'loud', 'slow'] },
		{ id: 'block', weight: 2, price: 1, marks: ['wood', 'slow', 'old'] },
		{ id: 'crane', weight: 99, price: 9, marks: ['iron', 'tall', 'loud'] },
		{ id: 'hand_winch', like: 'winch', more: { marks: ['small'] }, gone: { marks: ['loud'] } },
		{ id: 'toy_winch', like: 'hand_winch', more: { marks: ['cheap', 'red'] } },
		{ id: 'snatch_block', like: 'block', gone: { marks: ['slow', 'old'] } },
		{ id: 'deck_crane', like: 'crane', price: 12, gone: { marks: ['tall'] }, more: { marks: ['wet'] } },
		{ id: 'own_crane', like: 'crane', marks: ['own'] }
	];
	const stack = stackOf({ 'tools.json': json(tools) });
	const table = stack.tables.get('tools')!;
	const marks = (id: string) => {
		const found = inheritedIn(table, table.rowOf(id));
		return [...found].filter(([path]) => path.startsWith('marks')).sort();
	};

	test('which of two maps puts items in and which takes them out is told from what the models have', () => {
		expect(stack.guide.kinds.tools!.inherits).toMatchObject({ from: 'like', appends: 'more', drops: 'gone' });
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('lose what is taken out and end in what is put in, and it is told from where', () => {
		const [winch, hand, toy] = ['winch', 'hand_winch', 'toy_winch'].map((id) => table.rowOf(id));
		expect(marks('toy_winch')).toEqual([
			['marks[0]', { value: 'iron', from: winch, how: 'same' }],
			['marks[1]', { value: 'slow', from: winch, how: 'same' }],
			['marks[2]', { value: 'small', from: hand, how: 'put in' }],
			['marks[3]', { value: 'cheap', from: toy, how: 'put in' }],
			['marks[4]', { value: 'red', from: toy, how: 'put in' }]
		]);
		expect(marks('snatch_block').map(([, { value }]) => value)).toEqual(['wood']);
		expect(marks('deck_crane').map(([, { value }]) => value)).toEqual(['iron', 'loud', 'wet']);
		// What says its list itself inherits none of it.
		expect(marks('own_crane')).toEqual([]);
		expect(marks('winch')).toEqual([]);
	});
});

describe('names of sections that begin with what they are', () => {
	const ini = `[Global]\nMost=4\n\n${['lamp', 'oar', 'hook'].map((name) => `[Tool.${name}]\nSkill=row\nWeight=3\n`).join('\n')}`;
	const skills = '[Skill.row]\nHours=3\n\n[Skill.sing]\nHours=9\n\n[Skill.knot]\nHours=1\n';
	const game = { 'tools.ini': ini, 'skills.toml': skills.replaceAll('=', ' = ') };

	test('make a kind of each, whose records are called by the rest', () => {
		const stack = stackOf(game);
		expect(kindsOf(game)).toEqual(['global', 'skill', 'tool']);
		expect(idsOf(stack, 'tool')).toEqual(['lamp', 'oar', 'hook']);
		expect(stack.guide.kinds.tool!.fields.Skill!.reference!.kinds).toEqual(['skill']);
	});

	test('a mod with one of them is read as such', () => {
		const stack = stackOf(game, { 'tools.ini': `${ini}\n[Tool.net]\nSkill=knot\nWeight=2\n` });
		expect(idsOf(stack, 'tool')).toContain('net');
		const alone = read('tools.ini', '[Tool.net]\nSkill=knot\n', { element: 'Tool', at: '' });
		expect(alone.records.map(({ id }) => id)).toEqual(['net']);
	});

	test.each([
		['tools.ini', ini, 'Tool'],
		['skills.toml', game['skills.toml'], 'Skill'],
		[
			'birds.lua',
			'local Birds = {}\nBirds["tern"] = { wing = 3 }\nBirds.gull = { wing = 4 }\nreturn Birds\n',
			'Birds'
		]
	])('a record of %s that gets another name keeps what is before it', (path, text, element) => {
		const doc = read(path, text, { element, at: '' });
		const record = doc.records[1]!;
		const changed = applySplices(text, formatOf(path).rename(doc, record, 'other'));
		expect(read(path, changed, { element, at: '' }).records[1]!.id).toBe('other');
		expect(changed.replace('other', record.id)).toBe(text);
	});
});

describe('texts', () => {
	const units = {
		'units.json': json({ gull: { wing: 3, nest: 1 }, tern: { wing: 2, nest: 2 }, skua: { wing: 4, nest: 1 } })
	};
	const lines = { 'unit.gull': 'Gull', 'unit.tern': 'Tern', 'unit.skua': 'Skua' };

	test('of a few names with parts are texts, in JSON as well', () => {
		const french = Object.fromEntries(Object.entries(lines).map(([key, word]) => [key, `${word} (fr)`]));
		const { words, kinds } = guideOf({ ...units, 'lang/en.json': json(lines), 'lang/fr.json': json(french) });
		expect(words).toMatchObject({ kind: 'text', main: 'en' });
		expect(kinds.text).toMatchObject({ at: '' });
		expect(kinds.units!.texts[0]).toMatchObject({ key: 'unit.{id}' });
	});

	test('in a file of three lines whose ending says nothing', () => {
		const text = Object.entries(lines).map(([key, word]) => `${key}=${word}\n`);
		const { words, kinds } = guideOf({ ...units, 'text_en.txt': text.join('') });
		expect(words!.languages).toEqual({ en: 'English' });
		expect(kinds.units!.texts[0]).toMatchObject({ key: 'unit.{id}' });
		expect(kindsOf({ 'notes.txt': 'One thing.\nAnother thing = good.\nThe end.\n' })).toEqual([]);
	});
});

describe('files that are not what their ending says, or say nothing', () => {
	test('a value on each line is JSON Lines under any name', () => {
		const cards = ['ace', 'two', 'ten']
			.map((card, nth) => JSON.stringify({ id: card, cost: nth }))
			.join('\n');
		expect(guideOf({ 'cards.jsonl': cards }).kinds.cards).toMatchObject({ key: 'id' });
		expect(guideOf({ 'cards.dat': cards }).kinds.cards!.written).toEqual({ format: 'jsonl' });
		const doc = read('cards.jsonl', `${cards}\n{"id": "jack", "cost": [1\n{"id": "king"}\n`);
		expect(doc.problems.map(({ line }) => line)).toEqual([4]);
		expect(doc.records.map(({ id }) => id)).toEqual(['ace', 'two', 'ten', 'king']);
	});

	test('settings with nothing between name and value, in a file that is called as if sections were in it', () => {
		const text =
			'// of the hull\nhull_speed 320\nhull_hold 12\nhull_name "Gannet"\nsail_drag 0.5\nsail_area 40\n';
		const stack = stackOf({ 'default.cfg': text });
		expect(stack.guide.kinds.default!.written!.layout).toMatchObject({ shape: 'block', assign: '' });
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
		// A file of sections with a fault in it stays one.
		const faulty = stackOf({ 'a.cfg': '[x]\na=1\nb=2\nc=3\nwhat is this\n' });
		expect(faulty.guide.kinds.a!.written).toBeUndefined();
	});

	const beasts = (begin: (name: string) => string) =>
		['ox', 'ram', 'hen', 'doe']
			.map(
				(name, nth) =>
					`${begin('beast')} ${name}\n  hp ${nth}\n  ${begin('bite')} deep\n    harm ${nth}\n  end\nend\n`
			)
			.join('\n');

	test.each([
		['a word before their names', beasts((name) => `begin ${name}`)],
		['their names alone', beasts((name) => name)]
	])('blocks that a word closes, begun by %s', (_, text) => {
		const stack = stackOf({ 'data/beasts.def': text });
		expect(idsOf(stack, 'beast')).toEqual(['ox', 'ram', 'hen', 'doe']);
		expect(Object.keys(stack.guide.kinds.beast!.fields)).toContain('hp');
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('but not a program whose functions end so', () => {
		const program = ['ebb', 'flow'].map(
			(name) => `function ${name}(boat)\n  if boat == 3 then\n    go(boat)\n  end\nend\n`
		);
		expect(kindsOf({ 'data/tides.scr': program.join('\n') })).toEqual([]);
	});

	test('assignments below a table are its records, unless single values are assigned beside them', () => {
		const units = ['gull', 'tern', 'skua']
			.map((name) => `Units["${name}"] = { wing = 3, nest = "cliff" }\n`)
			.join('');
		const game = (more: string) => ({ 'units.lua': `local Units = {}\n${units}${more}return Units\n` });
		expect(idsOf(stackOf(game('')), 'units')).toEqual(['gull', 'tern', 'skua']);
		expect(guideOf(game('Units.most = 3\n')).kinds.units!.at).toBeNull();
	});
});

describe('texts in Lua that are marked to be translated', () => {
	const birds = ['gull', 'tern', 'skua', 'smew', 'teal', 'knot'];
	const marks = ['_("The NAME")', "_ 'The NAME'", '_( "The NAME" )'];
	const game = {
		'birds.lua': `return {\n${birds.map((id, nth) => `\t${id} = { title = ${marks[nth % 3]!.replace('NAME', id)}, wing = ${nth + 2}, cry = _("a" .. nth) },\n`).join('')}}\n`
	};
	const after = (stack: Stack, id: string, field: string, value: string) => {
		const plan = planFor(stack, { do: 'set', kind: 'birds', id, field, value }, 'one');
		return new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('birds.lua')!));
	};

	test('are read as what is in the marks, and written into them', () => {
		const stack = stackOf(game);
		const { birds: table } = Object.fromEntries(stack.tables);
		expect(birds.map((id) => valueOf(table!.byId.get(id)!, 'title'))).toEqual(birds.map((id) => `The ${id}`));
		expect(birds.map((id) => nameOf(stack, table!.byId.get(id)!))).toEqual(birds.map((id) => `The ${id}`));
		birds.forEach((id, nth) => {
			const quote = nth % 3 === 1 ? "'" : '"';
			const old = marks[nth % 3]!.replace('NAME', id);
			for (const text of ['Old "Tom"', '5', "it's \\ so", ''])
				expect(after(stack, id, 'title', text)).toBe(
					game['birds.lua'].replace(old, () =>
						old.replace(
							/(["']).*\1/,
							() => quote + text.replaceAll('\\', '\\\\').replaceAll(quote, `\\${quote}`) + quote
						)
					)
				);
		});
	});

	test('are not taken for what is put together in the marks', () => {
		const stack = stackOf(game);
		expect(valueOf(stack.tables.get('birds')!.byId.get('gull')!, 'cry')).toBe('_("a" .. nth)');
		expect(() => after(stack, 'gull', 'cry', 'caw')).toThrow('code that runs in the game');
	});
});

describe('a list of which each item is one thing under its name', () => {
	const yaml =
		'crews:\n  # The first of them.\n  - rower:\n      pull: 3\n      eats: 1\n  - bowman:\n      pull: 1\n      eats: 1\n\n  - cox:\n      pull: 0\n      eats: 2 # and a half\n';
	const listed = json(
		['rower', 'bowman', 'cox'].map((id, nth) => ({ [id]: { pull: 3 - nth, eats: 1 + nth } }))
	);
	const boats = json([
		{ id: 'skiff', led_by: 'cox' },
		{ id: 'gig', led_by: 'rower' },
		{ id: 'punt', led_by: 'cox' },
		{ id: 'raft', led_by: 'bowman' }
	]);
	const plain = new TextDecoder();
	const after = (stack: Stack, intention: Parameters<typeof planFor>[1], path: string) =>
		plain.decode(bytesOf(applyPlan(new Map(), planFor(stack, intention, 'one')).get(path)!));

	test.each([
		['crews.yaml', yaml],
		['crews.json', listed]
	])('is read as records, which others refer to: %s', (path, text) => {
		const stack = stackOf({ [path]: text, 'boats.json': boats });
		const [kind] = Object.keys(stack.guide.kinds).filter((name) => name !== 'boats');
		expect(idsOf(stack, kind!)).toEqual(['rower', 'bowman', 'cox']);
		expect(stack.tables.get(kind!)!.columns).toEqual(['pull', 'eats']);
		expect(stack.guide.kinds.boats!.fields.led_by!.reference!.kinds).toEqual([kind]);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('a value, a name, a new one and one that goes change nothing else of the file', () => {
		const stack = stackOf({ 'crews.yaml': yaml, 'boats.json': boats });
		const [kind = ''] = Object.keys(stack.guide.kinds).filter((name) => name !== 'boats');
		expect(after(stack, { do: 'set', kind, id: 'bowman', field: 'pull', value: '2' }, 'crews.yaml')).toBe(
			yaml.replace('bowman:\n      pull: 1', 'bowman:\n      pull: 2')
		);
		expect(
			after(stack, { do: 'copy', kind, id: 'rower', newId: 'sculler', names: {} }, 'crews.yaml')
		).toContain('  - cox:\n      pull: 0\n      eats: 2 # and a half\n');
		const doc = read('crews.yaml', yaml);
		const format = formatOf('crews.yaml');
		const edited = (splices: Parameters<typeof applySplices<string>>[1]) => applySplices(yaml, splices);
		expect(edited(format.rename(doc, doc.records[1]!, 'lookout'))).toBe(yaml.replace('bowman', 'lookout'));
		const dense = (text: string) => text.replaceAll('\n\n', '\n');
		expect(dense(edited(format.remove(doc, doc.records[1]!)))).toBe(
			dense(yaml.replace('  - bowman:\n      pull: 1\n      eats: 1\n', ''))
		);
		expect(edited(format.move(doc, doc.records[2]!, 0))).toMatch(
			/^crews:\n[\s\S]*- cox:[\s\S]*- rower:[\s\S]*- bowman:/
		);
		const more = edited(format.insert(doc, doc, doc.records[0]!));
		expect(more.startsWith(yaml.trimEnd())).toBe(true);
		expect(more.match(/- rower:\n {6}pull: 3\n {6}eats: 1/g)).toHaveLength(2);
		const array = read('crews.json', listed);
		const json_ = formatOf('crews.json');
		expect(JSON.parse(applySplices(listed, json_.remove(array, array.records[0]!)))).toEqual([
			{ bowman: { pull: 2, eats: 2 } },
			{ cox: { pull: 1, eats: 3 } }
		]);
	});

	test('steps of a few sorts are none: their names come again, and so do those of few items', () => {
		const steps = json([{ wait: { s: 1 } }, { row: { m: 30 } }, { wait: { s: 5 } }, { row: { m: 10 } }]);
		expect(read('steps.json', steps).wrapped).toBe(false);
		expect(read('two.json', json([{ a: { s: 1 } }, { b: { s: 3 } }])).wrapped).toBe(false);
		expect(
			read(
				'plain.json',
				json([
					{ id: 'a', at: {} },
					{ id: 'b', at: {} },
					{ id: 'c', at: {} }
				])
			).wrapped
		).toBe(false);
	});
});

describe('a list whose things have the numbers of their places', () => {
	const list = (things: object[]) => `[\nnull,\n${things.map((one) => JSON.stringify(one)).join(',\n')}\n]\n`;
	const rigs = Array.from({ length: 8 }, (_, nth) => ({
		id: nth + 1,
		name: `Rig ${'abcdefgh'[nth]}`,
		sails: nth % 3
	}));
	const crews = Array.from({ length: 30 }, (_, nth) => ({
		id: nth + 1,
		name: `Hand ${nth}`,
		rigId: 1 + ((nth * 5) % 8),
		wage: 11 + nth
	}));
	const game = { 'data/Rigs.json': list(rigs), 'data/Crews.json': list(crews) };

	test('holds nothing at the first, and is records nevertheless; others name them by their numbers', () => {
		const stack = stackOf(game);
		expect(idsOf(stack, 'rigs')).toEqual(rigs.map(({ id }) => String(id)));
		expect(stack.guide.kinds.crews!.fields.rigId!.reference!.kinds).toEqual(['rigs']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('a value in it is one splice, and what is not there stays', () => {
		const doc = read('data/Rigs.json', game['data/Rigs.json']);
		const splices = formatOf('data/Rigs.json').set(doc, doc.records[2]!, 'sails', '7');
		expect(splices).toHaveLength(1);
		const text = applySplices(game['data/Rigs.json'], splices);
		expect(JSON.parse(text)).toEqual([
			null,
			...rigs.map((one) => (one.id === 3 ? { ...one, sails: 7 } : one))
		]);
	});
});

describe('a name of which several records have the same', () => {
	test('is no key, however like one it is called: all of them are there', () => {
		const goods = ['rope', 'tar', 'oak', 'hemp', 'pitch', 'sail'];
		const rows = Array.from({ length: 24 }, (_, nth) => ({
			name: goods[(nth * nth) % 6]!,
			days: (nth % 7) + 1,
			made: nth + 2
		}));
		const stack = stackOf({
			'goods.csv': `id,weight\n${goods.map((id, nth) => `${id},${nth + 3}\n`).join('')}`,
			'makings.xml': `<makings>\n${rows.map(({ name, days, made }) => `\t<making name="${name}" days="${days}" made="${made}"/>\n`).join('')}</makings>\n`
		});
		expect(stack.tables.get('making')!.count).toBe(24);
		expect(stack.guide.kinds.making!.fields.name!.reference!.kinds).toEqual(['goods']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});
});

describe('a row of a table that stands between others', () => {
	test('does not keep a column from being the key that the rest of the game writes', () => {
		const code = (nth: number) => `${'abcdefgh'[nth % 8]}${'klmn'[nth >> 3]}x`;
		const row = (nth: number) => `Hook ${nth}\t${code(nth)}\t${nth + 4}\t${code((nth * 3) % 24)}\t0`;
		const table = [
			'name\tcode\tweight\tbetter\tend',
			...Array.from({ length: 12 }, (_, nth) => row(nth)),
			'Later\t\t\t\t0',
			...Array.from({ length: 12 }, (_, nth) => row(nth + 12))
		];
		const stack = stackOf({ 'hooks.txt': `${table.join('\r\n')}\r\n` });
		expect(stack.guide.kinds.hooks).toMatchObject({ key: 'code' });
		expect(stack.guide.kinds.hooks!.fields.better!.reference!.kinds).toEqual(['hooks']);
		expect(stack.tables.get('hooks')!.count).toBe(25);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});
});

describe('text in braces that nobody described', () => {
	const crafts = ['rowing', 'caulking', 'charting', 'netting', 'diving', 'signals', 'knots', 'salting'];
	const yards = ['ropewalk', 'slip', 'loft', 'forge', 'cooperage'];
	const craft = (id: string, nth: number) => `${id} = {
	cost = ${nth % 3 === 0 ? '@cheap' : 10 * nth + 5}
	place = { ${yards[nth % 5]} ${yards[(nth + 2) % 5]} } # two of them
	after = { ${nth < 2 ? '' : `"${crafts[nth - 2]}" "${crafts[nth - 1]}"`} }
	allow = { year >= ${1200 + nth} NOT = { has = ${crafts[(nth + 3) % 8]} } }
	colour = rgb { ${nth} ${nth + 1} 9 }
}
`;
	const game = {
		'common/crafts.txt': `@cheap = 12\n\n${crafts.map(craft).join('\n')}`,
		'common/yards.txt': yards
			.map((id, nth) => `${id} = {\n\tbuilds = ${crafts[nth]}\n\tdays = ${nth + 9}\n}\n`)
			.join('\n')
	};

	test('is records under their names, beside constants; what they name is found', () => {
		const stack = stackOf(game);
		expect(idsOf(stack, 'crafts')).toEqual(crafts);
		expect(idsOf(stack, 'yards')).toEqual(yards);
		const { fields } = stack.guide.kinds.crafts!;
		expect(fields['place[]']!.reference!.kinds).toEqual(['yards']);
		expect(fields['allow.NOT.has']!.reference!.kinds).toEqual(['crafts']);
		expect(stack.guide.kinds.yards!.fields.builds!.reference!.kinds).toEqual(['crafts']);
		const charting = stack.tables.get('crafts')!.byId.get('charting')!;
		expect(charting.value('allow.year >=')).toBe('1202');
		expect(charting.value('colour[1]')).toBe('3');
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('one value of several on a line is changed alone, and a record gets another name', () => {
		const stack = stackOf(game);
		const text = (plan: ReturnType<typeof planFor>) =>
			new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('common/crafts.txt')!));
		const year = planFor(
			stack,
			{ do: 'set', kind: 'crafts', id: 'knots', field: 'allow.year >=', value: '1300' },
			'one'
		);
		expect(text(year)).toBe(game['common/crafts.txt'].replace('year >= 1206', 'year >= 1300'));
		const renamed = planFor(stack, { do: 'rename', kind: 'crafts', id: 'diving', newId: 'plunging' }, 'two');
		expect(text(renamed)).toBe(game['common/crafts.txt'].replaceAll('diving', 'plunging'));
	});
});

describe('sections with values in their brackets', () => {
	const tools = Array.from(
		{ length: 12 },
		(_, nth) =>
			`[tool id="t${nth}" sort="${nth % 2 ? 'blunt' : 'sharp'}"]\nweight = ${nth + 3}\n${nth > 4 ? `needs = "t${nth - 3}"\n` : ''}`
	);
	const marks = Array.from({ length: 6 }, (_, nth) => `[mark id="m${nth}"]\ndays = ${nth + 2}\n`);
	test('are named by one of them, and of the kind that their word says', () => {
		const stack = stackOf({ 'things.cfg': [...tools, ...marks].join('\n') });
		expect(kindsOf({ 'things.cfg': [...tools, ...marks].join('\n') })).toEqual(['mark', 'tool']);
		expect(idsOf(stack, 'tool')).toEqual(Array.from({ length: 12 }, (_, nth) => `t${nth}`));
		expect(stack.guide.kinds.tool!.fields.needs!.reference!.kinds).toEqual(['tool']);
		expect(stack.tables.get('tool')!.byId.get('t3')!.value('sort')).toBe('blunt');
		const plan = planFor(stack, { do: 'rename', kind: 'tool', id: 't5', newId: 'adze' }, 'one');
		const text = new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('things.cfg')!));
		expect(text).toContain('[tool id="adze" sort="blunt"]');
		expect(text).toContain('needs = "adze"');
	});
});

describe('an outline under an ending that says another format', () => {
	const hulls = ['SKIFF', 'BARGE', 'KETCH', 'SLOOP', 'YAWL', 'DORY'];
	const guns = ['Swivel', 'Carron', 'Chaser', 'Mortar'];
	const game = {
		'rules/hulls.yaml': hulls
			.map(
				(id, nth) =>
					`${id}:\n\tInherits: ^Afloat\n\tHull:\n\t\tOak: ${nth * 40 + 9}\n\tArms@BOW:\n\t\tGun: ${guns[nth % 4]}\n\t-Oars:\n`
			)
			.join('\n'),
		'rules/base.yaml':
			'^Afloat:\n\tOars: two\n\t\tReach: 4\n\tHull:\n\t\tOak: 5\n\n^Ashore:\n\tWalls:\n\t\tHeight: 3\n\tHull:\n\t\tOak: 2\n',
		'rules/guns.yaml': guns
			.map((id, nth) => `${id}:\n\tReload: ${nth + 20}\n\tShot: Ball\n\t\tWeight: ${nth + 6}\n`)
			.join('\n')
	};
	test('is read as what it is, without a fault, and what is named in it is found', () => {
		const stack = stackOf(game);
		expect(idsOf(stack, 'hulls')).toEqual(hulls);
		expect(idsOf(stack, 'guns')).toEqual(guns);
		expect(stack.guide.kinds.hulls!.fields['Arms@BOW.Gun']!.reference!.kinds).toEqual(['guns']);
		expect(stack.tables.get('guns')!.byId.get('Chaser')!.value('Shot.#1')).toBe('Ball');
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});

	test('what is no YAML and no outline either is not taken for something else', () => {
		const broken = `tugs:\n\t- id: cog\n\t  oak: "3\n\nskiffs:\n\t- id: dory\n\t  oak: 4\n`;
		const stack = stackOf({ 'rules/tugs.yaml': broken });
		expect(stack.layers[0]!.files.get('rules/tugs.yaml')!.doc!.format).toBe('yaml');
	});

	test('a file of mine that is no YAML any more, where the game has YAML, is none either', () => {
		const yaml = hulls
			.map((id, nth) => `${id}:\n  oak: ${nth + 3}\n  arms:\n    gun: ${guns[nth % 4]}\n`)
			.join('');
		const broken = yaml
			.replaceAll('    gun', '\t\tgun')
			.replaceAll('  arms', '\tarms')
			.replaceAll('  oak', '\toak');
		const stack = stackOf({ 'rules/hulls.yaml': yaml }, { 'rules/hulls.yaml': broken });
		expect(checkStack(stack, buildLinks(stack)).map(({ rule }) => rule)).toContain('unreadable-file');
	});
});

describe('maps in maps: which of them hold the things', () => {
	const named = <T>(count: number, of: (nth: number) => T) =>
		Object.fromEntries(Array.from({ length: count }, (_, nth) => [`h${nth}`, of(nth)]));
	const boats = named(12, (nth) => ({ seats: nth + 2, oak: nth % 2 === 0 }));
	const at = (file: object, path: string): [number, string[]] => {
		const { tables, guide } = stackOf({ 'all.json': json(file) });
		const found = Object.keys(guide.kinds).filter((kind) => guide.kinds[kind]!.at === path);
		expect(found, path).toHaveLength(1);
		return [tables.get(found[0]!)!.count, tables.get(found[0]!)!.columns.toSorted()];
	};

	test('those that only hold one another are around what is in the last', () => {
		const file = { harbour: { about: { made: 'by hand', on: 'a Friday' }, all: { boats } } };
		expect(at(file, 'harbour.all.boats')).toEqual([12, ['oak', 'seats']]);
		const two = { harbour: { all: { each: { boats, quays: { east: { deep: 3 }, west: { deep: 4 } } } } } };
		expect(at(two, 'harbour.all.each.quays')).toEqual([2, ['deep']]);
		// One record is one, whatever large map it has beside something else.
		const one = { harbour: { gull: { wide: 3, name: 'Gull Bay', berths: boats } } };
		expect(stackOf({ 'all.json': json(one) }).guide.kinds.all!.at).not.toBe('harbour.gull.berths');
	});

	test('a few that say something of the same many things are not the things', () => {
		const times = (count: number) =>
			named(count, (nth) => ({ morning: { from: nth }, night: { from: nth + 9 } }));
		const file = { about: { version: 3 }, summer: times(60), winter: times(60) };
		expect(at(file, 'winter')).toEqual([60, ['morning.from', 'night.from']]);
		// Few things in each, or many maps of them: these are what each of the many is made of.
		const few = stackOf({ 'all.json': json({ summer: times(5), winter: times(5), spring: times(5) }) });
		expect(idsOf(few, 'all')).toEqual(['summer', 'winter', 'spring']);
	});

	test('of many that are spelt out some may be said in a word, and of many lists a few may be maps of lists', () => {
		const notes = named(30, (nth) => (nth % 3 === 0 ? `note ${nth}` : { said: `note ${nth}`, by: 'Ada' }));
		expect(at({ version: { of: 3 }, notes }, 'notes')).toEqual([30, ['by', 'said', 'value']]);
		const stops = [{ quay: 'east', hour: 3 }];
		const ways = { ...named(40, () => stops), far: { north: stops, south: stops } };
		const [count, columns] = at({ version: { of: 3 }, ways }, 'ways');
		expect([count, columns.filter((path) => path.startsWith('['))]).toEqual([41, ['[0].hour', '[0].quay']]);
	});

	test('what is said of one in a word is changed there, and one of mine is read as those of the game', () => {
		const notes = named(30, (nth) => (nth % 3 === 0 ? `note ${nth}` : { said: `note ${nth}`, by: 'Ada' }));
		const mine = { notes: { h3: 'mine', new: { said: 'quite new', by: 'me' } } };
		const stack = stackOf(
			{ 'notes.json': json({ version: { of: 3 }, notes }) },
			{ 'notes.json': json(mine) }
		);
		expect(stack.tables.get('notes')!.byId.get('new')!.value('said')).toBe('quite new');
		const set = { do: 'set', kind: 'notes', id: 'h3', field: 'value', value: 'other' } as const;
		const files = new Map([['notes.json', stack.mine!.files.get('notes.json')!.text!]]);
		const made = applyPlan(files, planFor(stack, set, 'm')).get('notes.json')!;
		expect(new TextDecoder().decode(bytesOf(made))).toBe(json(mine).replace('"mine"', '"other"'));
	});
});

describe('texts whose endings say nothing', () => {
	const words = ['oak', 'elm', 'ash', 'fir', 'yew', 'larch', 'birch', 'alder'];
	const ropes = words.map((word) => `${word}_rope`);

	test('a field that is called as its file names the records, though another has values of its own as well', () => {
		const game = {
			'hulls.txt': words
				.map((word, nth) => `Hull: ${word}_hull\nSeats: ${nth + 2}\nRope: ${ropes[(nth + 3) % 8]}\n`)
				.join('\n'),
			'ropes.txt': ropes.map((rope, nth) => `Rope: ${rope}\nLength: ${nth * 9}\n`).join('\n')
		};
		const { kinds } = guideOf(game);
		expect([kinds.hulls!.key, kinds.ropes!.key]).toEqual(['Hull', 'Rope']);
		expect(kinds.hulls!.fields.Rope!.reference!.kinds).toEqual(['ropes']);
	});

	test('names of several parts with a colon are values, one on each line', () => {
		const text = words.map((word, nth) => `hull.${word}.seats: ${nth + 2}`).join('\n');
		const stack = stackOf({ 'all.txt': text });
		expect(stack.tables.get('all')!.byId.get('hull.fir.seats')!.value('text')).toBe('5');
		expect(kindsOf({ 'all.txt': `${text}\nAnd then it was said: nothing of that is so.\n` })).toEqual([]);
	});

	test('two words above numbers are the head of a table, not a setting', () => {
		const table = ['ROPE            LENGTH', ...ropes.map((rope, nth) => `${rope.padEnd(16)}${nth * 9}`)];
		const stack = stackOf({ 'ropes.txt': table.join('\n') });
		expect(stack.tables.get('ropes')!.byId.get('fir_rope')!.value('LENGTH')).toBe('27');
		const settings = ropes.map((rope, nth) => `${rope} ${nth * 9}`).join('\n');
		expect(stackOf({ 'ropes.cfg': '', 'ropes.txt': settings }).tables.get('ropes')!.count).toBe(1);
	});
});

describe('settings that take in other files', () => {
	const section = (id: string, nth: number) => `[${id}]\nseats = ${nth + 2}\nrope = ${nth * 7 + 1}\n`;
	const hulls = ['oak', 'elm', 'ash', 'fir', 'yew', 'larch'];
	const game = {
		'main.cfg': 'include "hulls.cfg"\ninclude "quays.cfg"\nmost = 40\n',
		'hulls.cfg': `@use <shared.h>\n\n${hulls.map(section).join('\n')}include oak.d/more.cfg\n`,
		'quays.cfg': ['east', 'west', 'north'].map((id, nth) => `[${id}]\ndeep = ${nth + 3}\n`).join('\n')
	};

	test('are read whole: the paths are fields where there is something that they are of', () => {
		const stack = stackOf(game);
		expect(checkStack(stack)).toEqual([]);
		expect(idsOf(stack, 'hulls')).toEqual(hulls);
		const [main] = stack.tables.get('main')!.records;
		expect([main!.value('include[1]'), main!.value('most')]).toEqual(['quays.cfg', '40']);
		expect(stack.tables.get('hulls')!.byId.get('larch')!.value('include')).toBe('oak.d/more.cfg');
	});

	test('get a value as values are written there, and a path as paths are', () => {
		const stack = stackOf(game, game);
		const set = (field: string, value: string) => {
			const plan = planFor(stack, { do: 'set', kind: 'hulls', id: 'larch', field, value }, 'one');
			const files = new Map([['hulls.cfg', stack.mine!.files.get('hulls.cfg')!.text!]]);
			return new TextDecoder().decode(bytesOf(applyPlan(files, plan).get('hulls.cfg')!));
		};
		expect(set('mast', '3')).toBe(`${game['hulls.cfg']}mast = 3\n`);
		expect(set('include', 'fir.d/less.cfg')).toBe(game['hulls.cfg'].replace('oak.d/more', 'fir.d/less'));
		expect(() => set('include', 'two words')).toThrow('cannot be the path of a file in this line');
	});

	test('a name in mine of which the mark before its value is missing is a fault still', () => {
		const broken = game['quays.cfg'].replace('deep = 3', 'picture quay.png');
		const snags = checkStack(stackOf(game, { 'quays.cfg': broken }));
		expect(snags[0]).toMatchObject({
			rule: 'unreadable-file',
			severity: 'blocks',
			excerpt: 'picture quay.png'
		});
	});
});

describe('a table whose head and line of types begin with the mark of commentary', () => {
	const goods = ['rope', 'tar', 'oak', 'hemp', 'pitch', 'sail', 'anchor', 'lamp'];
	const game = {
		'tables/Goods.csv': `#id;name;weight;for\n#string;string;int;enum\n${goods.map((id, nth) => `${id};The ${id};${nth + 3};${nth % 2 ? 'hull' : 'deck'}\n`).join('')}`,
		'tables/Finds.csv': `#id;good;share\n#int;string;float\n${Array.from({ length: 20 }, (_, nth) => `${nth + 1};${goods[(nth * 3) % 8]};0.${10 + nth}\n`).join('')}`
	};

	test('has the names that its head says, and is edited under them', () => {
		const stack = stackOf(game);
		expect(kindsOf(game)).toEqual(['finds', 'goods']);
		expect(idsOf(stack, 'goods')).toEqual(goods);
		expect(Object.keys(stack.guide.kinds.goods!.fields).sort()).toEqual(['for', 'name', 'weight']);
		expect(stack.guide.kinds.finds!.fields.good!.reference!.kinds).toEqual(['goods']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
		const plan = planFor(stack, { do: 'set', kind: 'goods', id: 'oak', field: 'weight', value: '50' }, 'one');
		const text = new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('tables/Goods.csv')!));
		expect(text).toBe(game['tables/Goods.csv'].replace('oak;The oak;5;', 'oak;The oak;50;'));
	});

	test('a line of types that has no record below it is none itself; what may be one is', () => {
		expect(read('a.tsv', 'id\tcode\tname\nint\tstr\tstr\n').records).toEqual([]);
		expect(read('a.tsv', 'id\tkind\nflag\tbool\n').records.map(({ id }) => id)).toEqual(['flag']);
		expect(read('a.tsv', 'id\tkind\tfor\nflag\tbool\thull\n').records.map(({ id }) => id)).toEqual(['flag']);
	});

	test('lines of commentary are none of it', () => {
		const doc = read('a.csv', '# made by hand\nid;weight\nrope;3\n# heavy ones\noak;9\n');
		expect(doc.records.map(({ id }) => id)).toEqual(['rope', 'oak']);
	});
});

describe('blocks of names and values in quotes, all in one block with a version', () => {
	test('are records under their names', () => {
		const arts = Array.from({ length: 9 }, (_, nth) => `art_${'abcdefghi'[nth]}`);
		const block = (top: string, all: readonly (readonly [string, string])[]) =>
			`"${top}"\n{\n\t"Version"\t"1"\n${all.map(([id, body]) => `\t"${id}"\n\t{\n${body}\t}\n`).join('')}}\n`;
		const stack = stackOf({
			'scripts/arts.txt': block(
				'Arts',
				arts.map((id, nth) => [id, `\t\t"Range"\t"${nth * 90}"\n\t\t"Wait"\t"${nth} ${nth + 1}"\n`] as const)
			),
			'scripts/crews.txt': block(
				'Crews',
				arts.map(
					(_, nth) =>
						[
							`crew_${nth}`,
							`\t\t"Health"\t"${nth + 40}" // of all\n\t\t"Art1"\t"${arts[(nth * 2) % 9]}"\n`
						] as const
				)
			)
		});
		expect(idsOf(stack, 'arts')).toEqual(arts);
		expect(stack.guide.kinds.crews!.fields.Art1!.reference!.kinds).toEqual(['arts']);
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
	});
});

describe('tags in brackets', () => {
	const hulls = ['OAK', 'ELM', 'PINE', 'ASH', 'TEAK', 'LARCH'];
	const game = {
		'raw/hulls.txt': `hulls\n\n[OBJECT:HULL]\n\n${hulls.map((id, nth) => `[HULL:${id}]\n\t[NAME:${id.toLowerCase()}:of ${nth}]\n\t[WEIGHT:${nth + 3}]\n`).join('\n')}`,
		'raw/boats.txt': `boats\n\n[OBJECT:BOAT]\n\n${Array.from({ length: 14 }, (_, nth) => `[BOAT:B${nth}]\n\tWords about it.\n\t[CREW:${nth + 1}]${nth % 2 ? '[FAST]' : ''}\n\t[HULL:${hulls[nth % 6]}]\n`).join('\n')}`
	};
	test('are records from one tag to the next; what they name is found, and a value is one splice', () => {
		const stack = stackOf(game);
		expect(idsOf(stack, 'hulls')).toEqual(hulls);
		expect(stack.guide.kinds.boats!.fields['HULL[][]']!.reference!.kinds).toEqual(['hulls']);
		expect(stack.tables.get('boats')!.byId.get('B3')!.value('FAST[0]')).toBe('');
		expect(checkStack(stack, buildLinks(stack))).toEqual([]);
		const plan = planFor(
			stack,
			{ do: 'set', kind: 'boats', id: 'B3', field: 'CREW[0][0]', value: '40' },
			'one'
		);
		const text = new TextDecoder().decode(bytesOf(applyPlan(new Map(), plan).get('raw/boats.txt')!));
		expect(text).toBe(game['raw/boats.txt'].replace('[CREW:4]', '[CREW:40]'));
	});
});
