// One mistake of each sort in texts: what is said of it, and that the game drops it, cuts it off or warns of it at the
// same place; and the same text without the mistake, of which neither says anything.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { checkStack, repairsFor, type Severity } from '$core/checks';
import { planFor, stackAfter } from '$core/edits';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';
import { kettle } from './kettle';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-text-snag-'));
let base: Map<string, Uint8Array>;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["one"]}');
	base = await readAll(await openFolder(join(demo, 'base')));
});
afterAll(() => rmSync(game, { recursive: true }));

/** What is said of a mod with these files, and what the game says of it. */
function tryOut(files: Record<string, string>) {
	const all = { ...files, 'mod.json': '{"name":"one","title":"One","version":"1","gameVersion":"1.4"}' };
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	for (const [name, written] of Object.entries(all)) {
		mkdirSync(dirname(join(game, 'mods/one', name)), { recursive: true });
		writeFileSync(join(game, 'mods/one', name), written);
	}
	const bytes = new Map(Object.entries(all).map(([name, text]) => [name, new TextEncoder().encode(text)]));
	const stack = assembleStack(
		[
			{ id: 'base', title: 'Base', owner: 'game', files: base },
			{ id: 'mine', title: 'Mine', owner: 'me', files: bytes }
		],
		guide
	);
	const snags = checkStack(stack).filter(({ layer }) => layer === 'mine');
	/** What is left of a rule when each of its snags was repaired in the first way, one after the other. */
	const repaired = (rule: string) => {
		let now = stack;
		for (let most = 6; most > 0; most--) {
			const [snag] = checkStack(now).filter((one) => one.rule === rule && one.layer === 'mine');
			const [repair] = snag ? repairsFor(now, snag) : [];
			if (!repair) return snag ? [snag.message] : [];
			now = stackAfter(now, planFor(now, repair.intention, 'one'));
		}
		return ['it goes on'];
	};
	const log = loadGame(game).log.filter(
		({ level, place, message }) =>
			place.startsWith('mods/') && (level !== 'INFO' || message.includes('as in en'))
	);
	return { snags, log, repaired };
}

const both = (en: string, de: string, ja?: string) => ({
	'words/en/one.properties': `${en}\n`,
	'words/de/one.properties': `${de}\n`,
	...(ja === undefined ? {} : { 'words/ja/one.properties': `${ja}\n` })
});
const PAGE = 'log.page.002';

type Case = [
	what: string,
	rule: string,
	severity: Severity,
	wrong: Record<string, string>,
	right: Record<string, string>
];
const ENGINE = {
	'data/engines.ini': '[single_99]\npower = 40\nfuel = 9.5\ncoldest = -10\nnoise = 60\n',
	'words/en/one.properties': 'engine.single_99.name=Pup\n',
	'words/de/one.properties': 'engine.single_99.name=Welpe\n'
};
const CASES: Case[] = [
	[
		'a text that is missing in one language',
		'missing-text',
		'blocks',
		ENGINE,
		{ ...ENGINE, 'words/ja/one.properties': 'engine.single_99.name=コ\n' }
	],
	[
		'a text that is too long for its place',
		'long-text',
		'blocks',
		{ 'words/de/one.properties': 'vessel.tug_01.short=Schlepper von der Reede\n' },
		{ 'words/de/one.properties': 'vessel.tug_01.short=Schlepper\n' }
	],
	[
		'a key that is there twice',
		'duplicate-id',
		'blocks',
		{ 'words/en/one.properties': `${PAGE}=Fog.\n${PAGE}=Rain.\n` },
		{ 'words/en/one.properties': `${PAGE}=Fog.\n` }
	],
	[
		'a text that is cut off',
		'cut-off',
		'warns',
		{
			'words/de/one.properties': `vessel.tug_01.about=${'Schleppt alles, was schwimmt. '.repeat(5).trim()}\n`
		},
		{
			'words/de/one.properties': `vessel.tug_01.about=${'Schleppt alles, was schwimmt. '.repeat(3).trim()}\n`
		}
	],
	[
		'a mark that is left open',
		'open-tag',
		'warns',
		both(`${PAGE}=**Fog** over **all.`, `${PAGE}=**Nebel** über **allem.`, `${PAGE}=**雪**と**氷。`),
		both(`${PAGE}=**Fog** over **all**.`, `${PAGE}=**Nebel** über **allem**.`, `${PAGE}=**雪**と**氷**。`)
	],
	[
		'a colour that does not end',
		'open-tag',
		'warns',
		both(`${PAGE}=<ice>Fog.`, `${PAGE}=<ice>Nebel.`, `${PAGE}=<ice>雪。`),
		both(`${PAGE}=<ice>Fog</ice>.`, `${PAGE}=<ice>Nebel</ice>.`, `${PAGE}=<ice>雪</ice>。`)
	],
	[
		'marks that differ between languages',
		'unlike-text',
		'warns',
		both(`${PAGE}=**Fog** here.`, `${PAGE}=Nebel hier.`, `${PAGE}=**雪**。`),
		both(`${PAGE}=**Fog** here.`, `${PAGE}=**Nebel** hier.`, `${PAGE}=**雪**。`)
	],
	[
		'a placeholder of another sort',
		'unlike-text',
		'warns',
		both('call.no_fuel_1.about=Answer within %d turns.', 'call.no_fuel_1.about=Antworte in %s Runden.'),
		both('call.no_fuel_1.about=Answer within %d turns.', 'call.no_fuel_1.about=Antworte in %d Runden.')
	],
	[
		'a space in front',
		'unlike-text',
		'note',
		both(`${PAGE}=Fog.`, `${PAGE}=\\ Nebel.`),
		both(`${PAGE}=Fog.`, `${PAGE}=Nebel.`)
	],
	[
		'a character that the font does not have',
		'odd-letter',
		'warns',
		{ 'words/en/one.properties': `${PAGE}=Fog ☁ here.\n` },
		{ 'words/en/one.properties': `${PAGE}=Fog – here, ⚓.\n` }
	],
	[
		'straight quotes',
		'odd-quotes',
		'note',
		both(`${PAGE}="Fog", they say.`, `${PAGE}="Nebel", sagen sie.`),
		both(`${PAGE}=“Fog”, they don't say.`, `${PAGE}=„Nebel“, sagen sie.`)
	],
	[
		'a text as in the main language',
		'same-text',
		'note',
		both(`${PAGE}=Fog everywhere.`, `${PAGE}=Fog everywhere.`),
		both(`${PAGE}=Fog everywhere.`, `${PAGE}=Überall Nebel.`)
	],
	[
		'a key in other case',
		'text-case',
		'note',
		{
			'words/en/one.properties': 'Vessel.tug_01.name=Puffin\n',
			'words/de/one.properties': 'Vessel.tug_01.name=Puffing\n',
			'words/ja/one.properties': 'Vessel.tug_01.name=ウミ\n'
		},
		{
			'words/en/one.properties': 'vessel.tug_01.name=Puffin\n',
			'words/de/one.properties': 'vessel.tug_01.name=Puffing\n',
			'words/ja/one.properties': 'vessel.tug_01.name=ウミ\n'
		}
	],
	[
		'a form for a number that is missing',
		'plural-forms',
		'warns',
		both('log.rafts.one=A raft.\nlog.rafts.other=%d rafts.', 'log.rafts.other=%d Inseln.'),
		both(
			'log.rafts.one=A raft.\nlog.rafts.other=%d rafts.',
			'log.rafts.one=Eine Insel.\nlog.rafts.other=%d Inseln.'
		)
	],
	[
		'a header in another language than the folder',
		'text-language',
		'warns',
		{ 'words/de/one.po': `msgid ""\nmsgstr ""\n"Language: fr\\n"\n\nmsgid "${PAGE}"\nmsgstr "Nebel."\n` },
		{ 'words/de/one.po': `msgid ""\nmsgstr ""\n"Language: de\\n"\n\nmsgid "${PAGE}"\nmsgstr "Nebel."\n` }
	],
	[
		'a language that the game does not have',
		'text-language',
		'warns',
		{ 'words/fr/one.properties': `${PAGE}=Brouillard.\n` },
		{ 'words/de/one.properties': `${PAGE}=Nebel.\n` }
	]
];

/** Rules whose first repair ends the matter. */
const REPAIRED = new Set(['open-tag', 'unlike-text', 'odd-quotes', 'plural-forms', 'cut-off']);

/** What the game does where a rule blocks, warns or notes. */
const LEVELS: Record<Severity, readonly string[]> = {
	blocks: ['DROPPED', 'REFUSED'],
	warns: ['WARN'],
	note: ['WARN', 'INFO']
};

test.each(CASES)('%s', (_, rule, severity, wrong, right) => {
	const { snags, log, repaired } = tryOut(wrong);
	const found = snags.filter((snag) => snag.rule === rule);
	expect([...new Set(found.map((snag) => snag.severity))]).toEqual([severity]);
	const heard = log.filter(({ level }) => LEVELS[severity].includes(level)).map(({ place }) => place);
	// The folder of a language that is not there has no lines.
	for (const { file, line } of found)
		expect(heard).toContain(`mods/one/${file.startsWith('words/fr/') ? 'words/fr:1' : `${file}:${line}`}`);
	if (REPAIRED.has(rule) && found.every(({ repairable }) => repairable)) expect(repaired(rule)).toEqual([]);
	const without = tryOut(right);
	expect(without.snags.filter((snag) => snag.rule === rule || snag.severity !== 'note')).toEqual([]);
	// Japanese has no form for one of a kind, so nothing is missing there.
	expect(without.log).toEqual([]);
});

test('the untouched game has no snag of words that blocks or warns', () => {
	const stack = assembleStack([{ id: 'base', title: 'Base', owner: 'game', files: base }], guide);
	expect(checkStack(stack).filter((snag) => snag.kind === 'text' && snag.severity !== 'note')).toEqual([]);
});

test('the language for testing is a mod that the game loads cleanly, and shows what is cut off', async () => {
	const out = join(game, 'testing');
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	mkdirSync(join(game, 'mods'));
	const said = await kettle(
		...['words', 'testing', '--game', join(demo, 'base'), '--guide', join(demo, 'base.guide.yaml')],
		...['--as', 'de', '--out', out]
	);
	expect([said.status, said.said]).toEqual([0, '']);
	expect(said.out).toMatch(/_testing: \d+ texts in place of Deutsch\n$/);
	const { name } = JSON.parse(readFileSync(join(out, 'mod.json'), 'utf8')) as { name: string };
	cpSync(out, join(game, 'mods', name), { recursive: true });
	rmSync(out, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), JSON.stringify({ mods: [name] }));
	const loaded = loadGame(game);
	expect(loaded.log.filter(({ level }) => level === 'DROPPED' || level === 'REFUSED')).toEqual([]);
	const texts = loaded.texts.get('de')!;
	expect(texts.get('vessel.tug_01.name')).toMatch(/^\[.*\]$/);
	expect(
		loaded.log.filter(
			({ message }) =>
				message.includes('boxes') || message.includes('placeholders') || message.includes('other marks')
		)
	).toEqual([]);
	writeFileSync(join(game, 'load-order.json'), '{"mods":["one"]}');
});
