// One mistake of each sort: what is predicted of it, and what the game says to the same mod at the same place.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { checkStack, type Severity } from '$core/checks';
import { recordLine } from './places';
import { createPool } from '$core/facts';
import { parseGuide, type Guide } from '$core/guide';
import { buildStack, type Layer } from '$core/stack';
import { guideWith, loadLayer } from '$core/model';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-snag-'));
const pool = createPool();
let base: Map<string, Uint8Array>;
let below: Layer;
let shipped: Guide;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["one"]}');
	base = await readAll(await openFolder(join(demo, 'base')));
	below = loadLayer({ id: 'base', title: 'Base', owner: 'game' }, base, { guide, pool });
	shipped = guideWith(guide, below);
});
afterAll(() => rmSync(game, { recursive: true }));

const textOf = (path: string) =>
	path.endsWith('.lst')
		? new TextDecoder('shift_jis').decode(base.get(path)).replace(/ #.*$/gm, '')
		: new TextDecoder().decode(base.get(path));

/** A mod that has one file, changed; gives snags and lines of the log, each with its place. */
function tryOut(
	path: string,
	change: (text: string) => string,
	besides: [string, string][] = [],
	told: Guide = shipped
) {
	const text = change(textOf(path));
	expect(text).not.toBe(textOf(path));
	const files = new Map([
		[path, text],
		...besides,
		['mod.json', '{"name":"one","title":"One","version":"1","gameVersion":"1.4"}']
	]);
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	for (const [name, written] of files) {
		mkdirSync(dirname(join(game, 'mods/one', name)), { recursive: true });
		writeFileSync(join(game, 'mods/one', name), written);
	}
	const bytes = new Map([...files].map(([name, written]) => [name, new TextEncoder().encode(written)]));
	const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, bytes, {
		guide: told,
		below: [below],
		pool
	});
	const stack = buildStack([below, mine], told, pool);
	const snags = checkStack(stack)
		// Notes that the game has no word for.
		.filter(({ rule }) => !['same-as-base', 'same-name', 'same-text'].includes(rule))
		.map((snag) => ({ ...snag, recordLine: recordLine(stack, snag) }));
	return { snags, log: loadGame(game).log.filter(({ level }) => level !== 'INFO') };
}

type Case = [what: string, path: string, from: string | RegExp, to: string, rule: string, severity: Severity];

/** A mistake, the rule that sees it, and how grave it is: what blocks is refused or dropped, what warns is warned of. */
const CASES: Case[] = [
	[
		'a reference to nothing',
		'data/abilities.json',
		/"id": "(\w+)" \}/,
		'"id": "no_such" }',
		'missing-reference',
		'blocks'
	],
	[
		'the wrong kind',
		'data/bays/knot/lanes.json',
		/"light": "\w+"/,
		'"light": "boom_long"',
		'wrong-kind',
		'blocks'
	],
	['a wrong case', 'data/bays/knot/layout.json', '"tern_rock"', '"Tern_Rock"', 'missing-reference', 'blocks'],
	[
		'a shown name instead of an id',
		'data/bays/knot/layout.json',
		'"tern_rock"',
		'"Tern Rock"',
		'missing-reference',
		'blocks'
	],
	[
		'a name in a path that is no id',
		'data/calls.yaml',
		/wants:\n {4}\w+:/,
		'wants:\n    nobody:',
		'missing-reference',
		'blocks'
	],
	['one id of a weighted list', 'data/hazards.csv', /,(\w+):/, ',nobody:', 'missing-reference', 'blocks'],
	[
		'a number with an offset that is no record',
		'data/bays/knot/spawns/01-14.lst',
		/^(\d+) (\d+) (\d+) (\d+)$/m,
		'$1 555 $3 $4',
		'missing-reference',
		'blocks'
	],
	['a needed field that is absent', 'data/crew.json', /\t\t"nerve": \d+,\n/, '', 'missing-field', 'blocks'],
	[
		'a text where a number should be',
		'data/tints.json',
		/"steps": \d/,
		'"steps": "many"',
		'wrong-type',
		'blocks'
	],
	['an unknown code', 'data/crew.json', /"watch": \d/, '"watch": 7', 'wrong-type', 'blocks'],
	['a share above one', 'data/omens.xml', /chance="[\d.]+"/, 'chance="1.5"', 'wrong-type', 'blocks'],
	[
		'a date that is none',
		'data/stations/tern_rock.toml',
		/opened = \S+/,
		'opened = 1902-02-30',
		'wrong-type',
		'blocks'
	],
	['beyond a hard limit', 'data/salvage.csv', /,\d+,([\d.]+)$/m, ',5000,$1', 'hard-limit', 'blocks'],
	[
		'dates out of order',
		'data/stations/tern_rock.toml',
		/(\[keeper\][^[]*until = )\S+/,
		'$11800-01-01',
		'out-of-order',
		'blocks'
	],
	[
		'a counter that is wrong',
		'data/tints.json',
		/"falloff": \[[\d.]+, /,
		'"falloff": [',
		'wrong-counter',
		'blocks'
	],
	[
		'a script that asks for nothing',
		'scripts/omens.lua',
		/seen\("\w+"\)/,
		'seen("white_dodo")',
		'script-names',
		'blocks'
	],
	[
		'a start that only the page has',
		'ui/freeplay.html',
		'value="harbour"',
		'value="harbor"',
		'missing-reference',
		'blocks'
	],
	[
		'a code that is not the name of the file',
		'data/stations/tern_rock.toml',
		'code = "tern_rock"',
		'code = "turn_rock"',
		'wrong-name',
		'blocks'
	],
	[
		'a code that is not the name of the folder',
		'data/bays/knot/layout.json',
		'"code": "knot"',
		'"code": "Knot"',
		'wrong-name',
		'blocks'
	],
	[
		'a limit that the guide tells',
		'data/rules.lua',
		'stations_max = 12',
		'stations_max = 14',
		'hard-limit',
		'blocks'
	],
	[
		'a text that has no room',
		'words/en/vessels.properties',
		/(vessel.tug_02.short)=.*/,
		'$1=A name much too long',
		'long-text',
		'blocks'
	],
	[
		'a text of one line that has two',
		'words/de/vessels.properties',
		/(vessel.tug_02.short)=.*/,
		'$1=Kurz\\nlang',
		'long-text',
		'blocks'
	],
	[
		'a file that is called so in other letters',
		'data/ambience.yaml',
		/sound: \S+/,
		'sound: sound/Ambience/night_calm.ogg',
		'missing-file',
		'warns'
	],
	[
		'more decimals than the game keeps',
		'data/engines.ini',
		/fuel( +)= [\d.]+/,
		'fuel$1= 21.75',
		'too-exact',
		'warns'
	],
	[
		'a number that the game reads as the nearest one',
		'data/abilities.json',
		/"rest": \d/,
		'"rest": 12',
		'hard-limit',
		'warns'
	],
	['twins apart', 'client/modes.json', /"pace": \d/, '"pace": 9', 'twins-apart', 'warns'],
	[
		'a file that is not there',
		'data/ambience.yaml',
		/sound: \S+/,
		'sound: sound/none.ogg',
		'missing-file',
		'warns'
	]
];

test.each(CASES)('%s', (_, path, from, to, rule, severity) => {
	const { snags, log } = tryOut(path, (text) => text.replace(from, to));
	expect(snags.map((snag) => [snag.rule, snag.severity])).toEqual([[rule, severity]]);
	const [snag] = snags;
	expect(snag!.message).toMatch(/[.?]$/);
	const levels = severity === 'blocks' ? ['REFUSED', 'DROPPED'] : ['WARN'];
	const places = log.filter(({ level }) => levels.includes(level)).map(({ place }) => place);
	expect([...new Set(places)]).toEqual([`mods/one/${snag!.file}:${snag!.recordLine}`]);
});

test('more rows than there is room for', () => {
	const rows = textOf('data/vessels.tsv').trimEnd().split('\n');
	const cells = rows[1]!.split('\t');
	const more = Array.from({ length: 70 }, (_, nth) => [`extra_${nth}`, ...cells.slice(1)].join('\t'));
	const { snags, log } = tryOut('data/vessels.tsv', () => `${rows[0]}\n${more.join('\n')}\n`);
	expect(snags.map((snag) => [snag.rule, snag.severity])).toEqual([['too-many-rows', 'blocks']]);
	expect(log.map(({ level, place }) => [level, place])).toEqual([
		['REFUSED', `mods/one/data/vessels.tsv:${snags[0]!.recordLine}`]
	]);
});

test('a record taken out by a copy that is not exact', () => {
	const out = '[\n\t{ "id": "haul", "key": "R", "pad": 7 },\n\t{ "id": "horn", "key": "X", "pad": 5 }\n]\n';
	const { snags, log } = tryOut('data/crew.json', (text) => `${text}\n`, [['data/controls.out.json', out]]);
	expect(snags.map((snag) => [snag.rule, snag.severity, snag.line])).toEqual([
		['removes-nothing', 'warns', 3]
	]);
	expect(snags[0]!.message).toContain('key is `H` there and not `X`');
	expect(log.map(({ level, place }) => [level, place])).toEqual([
		['WARN', 'mods/one/data/controls.out.json:3']
	]);
});

test('what the game takes without a word is at most a note', () => {
	for (const [path, from, to, rule] of [
		['data/hazards.csv', /,\d,(?=\w+:)/, ',9,', 'without-effect'],
		['data/salvage.csv', /,(\d+),([\d.]+)$/m, ',990,$2', 'unusual-value'],
		// Without a slip nobody reads how many berths there are.
		['data/stations/east_pier.toml', /berths = \d+/, 'berths = 8', 'without-effect']
	] as const) {
		const { snags, log } = tryOut(path, (text) => text.replace(from, to));
		expect(snags.map((snag) => [snag.rule, snag.severity])).toEqual([[rule, 'note']]);
		expect(log).toEqual([]);
	}
});

test('a file that belongs to a record by its name: absent, and there in other letters', () => {
	const names = (id: string): [string, string][] =>
		['en', 'de', 'ja'].map((language) => [`words/${language}/new.properties`, `omen.${id}.name=New\n`]);
	for (const [id, said] of [
		['grey_gull', 'no layer has it'],
		['White_Gull', '`sound/omens/white_gull.ogg`']
	] as const) {
		const { snags, log } = tryOut(
			'data/omens.xml',
			(text) => text.replace('</omens>', `\t<omen id="${id}" bit="30" chance="0.10" every="40" />\n</omens>`),
			names(id)
		);
		expect(snags.map((snag) => [snag.rule, snag.severity])).toEqual([['missing-asset', 'warns']]);
		expect(snags[0]!.message).toContain(said);
		expect(log.map(({ level, place }) => [level, place])).toEqual([
			['WARN', `mods/one/data/omens.xml:${snags[0]!.recordLine}`]
		]);
	}
});

test('a limit that only a remark in the game’s own file tells', () => {
	const { kinds, ...others } = guide;
	const { rule, ...rest } = kinds;
	expect(rule).toBeDefined();
	const told = guideWith({ ...others, kinds: rest }, below);
	const { snags, log } = tryOut(
		'data/rules.lua',
		(text) => text.replace('stations_max = 12', 'stations_max = 13'),
		[],
		told
	);
	expect(snags.map((snag) => [snag.rule, snag.severity])).toEqual([['hard-limit', 'warns']]);
	expect(snags[0]!.message).toContain('the file itself states');
	expect(log.map(({ level, place }) => [level, place])).toEqual([['REFUSED', 'mods/one/data/rules.lua:1']]);
});

test('ranges that overlap are said, with the rule that wins', () => {
	const { snags, log } = tryOut('data/ambience.yaml', (text) =>
		text.replace('hour: { from: 5, to: 9 }', 'hour: { from: 4, to: 9 }')
	);
	expect(snags).toMatchObject([{ rule: 'overlaps', severity: 'warns', record: 'dawn_calm' }]);
	expect(snags[0]!.message).toContain('night_calm');
	expect(log.map(({ level, place }) => [level, place])).toEqual([
		['WARN', `mods/one/data/ambience.yaml:${snags[0]!.recordLine}`]
	]);
});

test('upgrades that lead back to where they began are said', () => {
	const rows = textOf('data/vessels.tsv').split('\n');
	const last = rows.find((row) => row.startsWith('launch_04\t'))!;
	const cells = last.split('\t');
	cells[rows[0]!.split('\t').indexOf('upgrade')] = 'launch_01';
	const { snags, log } = tryOut('data/vessels.tsv', () => `${rows[0]}\n${cells.join('\t')}\n`);
	expect(snags).toMatchObject([{ rule: 'endless-chain', severity: 'warns' }]);
	expect(log.map(({ level, place }) => [level, place])).toEqual([
		['WARN', `mods/one/data/vessels.tsv:${snags[0]!.recordLine}`]
	]);
});

test('lanes that lead nowhere, and deeper than the water, are told at the record at which the game warns', () => {
	const file = 'data/bays/knot/lanes.json';
	const away = tryOut(file, (text) => text.replace('"next": "knot_4"', '"next": "knot_2"'));
	const at = (rule: string, { snags }: typeof away) =>
		snags.filter((snag) => snag.rule === rule).map(({ recordLine }) => `mods/one/${file}:${recordLine}`);
	const warned = ({ log }: typeof away) =>
		log.filter(({ level }) => level === 'WARN').map(({ place }) => place);
	expect(at('leads-nowhere', away)).toHaveLength(2);
	expect(warned(away)).toEqual(at('leads-nowhere', away));
	const deep = tryOut(file, (text) => text.replace('"depth": 4.3', '"depth": 40.3'));
	expect(at('in-the-ground', deep)).toHaveLength(1);
	expect(warned(deep)).toEqual(at('in-the-ground', deep));
	for (const { snags, log } of [
		tryOut(file, (text) => text.replace('"depth": 4.3', '"depth": 4.1')),
		tryOut(file, (text) => text.replace('"id": "knot_2", "x": 239', '"id": "knot_2", "x": 241'))
	]) {
		expect(snags.filter(({ severity }) => severity !== 'note')).toEqual([]);
		expect(log.filter(({ level }) => level !== 'INFO')).toEqual([]);
	}
});

test('a copy that kept its name is noted, one with a name of its own is not', () => {
	const row = textOf('data/vessels.tsv').split('\n');
	const own = row.find((line) => line.startsWith('cutter_04\t'))!.replaceAll('cutter_04', 'cutter_99');
	const named = (name: string) => {
		const files = new Map([
			['data/vessels.tsv', `${row[0]}\n${own}\n`],
			...['en', 'de', 'ja'].map((language): [string, string] => [
				`words/${language}/new.properties`,
				`vessel.cutter_99.name=${name}\n`
			])
		]);
		const bytes = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
		const mine = loadLayer({ id: 'mine', title: 'Mine', owner: 'me' }, bytes, {
			guide: shipped,
			below: [below],
			pool
		});
		return checkStack(buildStack([below, mine], shipped, pool)).filter(({ rule }) => rule === 'same-name');
	};
	const twin = /^vessel\.cutter_04\.name=(.*)$/m.exec(textOf('words/en/vessels.properties'))![1]!;
	const [snag, ...others] = named(twin);
	expect(others).toEqual([]);
	expect(snag).toMatchObject({ severity: 'note', kind: 'vessel', record: 'cutter_99', repairable: false });
	expect(snag!.message).toContain('`cutter_04`');
	expect(named('Quite another')).toEqual([]);
});
