// The command as people and the CI of mods call it, on the demo data, and the stand-in as the judge of what it says.
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import { kettle, program, root, standIn } from './kettle';

const demo = join(root, 'demo');
const work = mkdtempSync(join(tmpdir(), 'kettle-command-'));
let base = '';
let mod = '';

afterAll(() => rmSync(work, { recursive: true }));

beforeEach(() => {
	base = join(mkdtempSync(join(work, 'run-')), 'base');
	mod = join(base, '../longline');
	cpSync(join(demo, 'base'), base, { recursive: true });
	cpSync(join(demo, 'longline'), mod, { recursive: true });
	cpSync(join(demo, 'base.guide.yaml'), `${base}.guide.yaml`);
});

const check = () => kettle('check', '--game', base, '--mod', mod, '--json');

/** Installs the mod beside a copy of the game and starts the stand-in. */
async function start() {
	const game = join(base, '../game');
	rmSync(game, { recursive: true, force: true });
	cpSync(base, game, { recursive: true });
	mkdirSync(join(game, 'mods'));
	const packed = await kettle('pack', '--game', base, '--mod', mod, '--out', join(game, 'mods/longline'));
	writeFileSync(join(game, 'load-order.json'), '{"mods":["longline"]}');
	const done = standIn(game);
	const log = readFileSync(join(game, 'game.log'), 'utf8').trim().split('\n');
	return {
		status: done.status,
		packed,
		refusals: log.filter((line) => /^(DROPPED|REFUSED)/.test(line)),
		log
	};
}

const replace = (path: string, from: string, to: string) => {
	const file = join(mod, path);
	const text = readFileSync(file, 'utf8');
	expect(text).toContain(from);
	writeFileSync(file, text.replace(from, to));
};

test('check says 1 on the mod with its three mistakes, the game refuses the same three, and both are content once they are mended', async () => {
	const before = program('check', '--game', base, '--mod', mod, '--json');
	expect(before).toEqual({ ...(await check()), out: expect.any(String) as string });
	expect(before.status).toBe(1);
	const { snags, counts } = JSON.parse(before.out) as {
		snags: { rule: string; severity: string; line: number; record: string; file: string; layer: string }[];
		counts: object;
	};
	// The fourth only warns: twins that are not alike keep nothing from loading.
	expect(counts).toEqual({ blocks: 3, warns: 1, note: 0 });
	expect(snags.map((snag) => `${snag.rule} ${snag.record}`)).toEqual([
		'missing-reference cutter_07',
		'wrong-kind lifeboat_03',
		'missing-text barge_09',
		'twins-apart boom_long'
	]);
	const seen = await start();
	expect(seen.status).toBe(1);
	const predicted = snags
		.filter(({ severity }) => severity === 'blocks')
		.map((snag) => `mods/longline/${snag.file}:${snag.line}`)
		.sort();
	expect(seen.refusals.map((line) => line.split(' ')[1]).sort()).toEqual(predicted);

	expect((await kettle('set', join(mod, 'data/vessels.tsv'), 'cutter_07', 'engine', 'triple_6')).status).toBe(
		0
	);
	expect((await kettle('set', join(mod, 'data/vessels.tsv'), 'lifeboat_03', 'deck', '')).status).toBe(0);
	for (const language of ['en', 'de', 'ja'])
		replace(
			`words/${language}/longline.properties`,
			'vessel.launch_12.name',
			`vessel.barge_09.name=Mudlark\nvessel.launch_12.name`
		);
	const mended = await check();
	const left = (JSON.parse(mended.out) as { snags: { rule: string }[] }).snags.map(({ rule }) => rule);
	// The name that was missing is the same in all three languages now.
	expect([mended.status, left]).toEqual([0, ['twins-apart', 'same-text', 'same-text']]);
	const clean = await start();
	expect([clean.status, clean.refusals]).toEqual([0, []]);
	expect(clean.packed.status).toBe(0);
}, 120_000);

describe('what is predicted is what the game refuses', () => {
	const vessels = 'data/vessels.tsv';
	const BREAKS: [string, () => void][] = [
		['a number beyond its limit', () => replace(vessels, 'cutter_04\t3\t', 'cutter_04\t9\t')],
		['a word where a number stands', () => replace(vessels, 'cutter_04\t3\t103', 'cutter_04\t3\tmuch')],
		['a record twice', () => replace(vessels, 'tug_02\t2', 'cutter_04\t2')],
		['an upgrade to nothing', () => replace(vessels, 'cutter_05', 'cutter_55')],
		['an engine with a broken figure', () => replace('data/engines.ini', '560', '5x60')],
		['a gear file that does not close', () => replace('data/gear/deck.xml', '</gear>', '')],
		['a row that is too short', () => replace(vessels, '\tvessel.cutter_04', '')],
		[
			'a text that is there twice',
			() => replace('words/en/longline.properties', 'vessel.launch_12.short', 'vessel.launch_12.name')
		],
		['an id that is too long', () => replace(vessels, 'tug_02\t', 'tug_two_and_a_half\t')]
	];
	const places = (out: string) =>
		new Set(
			(JSON.parse(out).snags as { file: string; line: number; severity: string }[])
				.filter((snag) => snag.severity === 'blocks')
				.map((snag) => `mods/longline/${snag.file}:${snag.line}`)
		);
	const refusals = async () => new Set((await start()).refusals.map((line) => line.split(' ')[1]));
	/** What is wrong with the mod before anything is broken: asked once, by the first of these tests. */
	let sound: Promise<[Set<string>, Set<string | undefined>]> | null = null;
	test.each(BREAKS)('%s', async (_, breakIt) => {
		sound ??= (async () => [places((await check()).out), await refusals()])();
		const [before, refusedBefore] = await sound;
		breakIt();
		const predicted = [...places((await check()).out)].filter((place) => !before.has(place));
		const refused = [...(await refusals())].filter((place) => !refusedBefore.has(place));
		expect(predicted.length).toBeGreaterThan(0);
		expect(refused.length).toBeGreaterThan(0);
		// A file that does not read at all is refused whole; the place within it may be told differently.
		const coarse = (place: string | undefined) =>
			/\.(?:xml|ini)/.test(place ?? '') || /too short/.test(_) ? place?.replace(/:\d+$/, '') : place;
		expect(new Set(predicted.map(coarse))).toEqual(new Set(refused.map(coarse)));
	});

	test('the base alone: no snag, and the game loads cleanly', async () => {
		const alone = await kettle('check', '--game', base, '--json');
		expect([alone.status, JSON.parse(alone.out).counts]).toEqual([0, { blocks: 0, warns: 0, note: 0 }]);
		expect(standIn(base).status).toBe(0);
		expect(readFileSync(join(base, 'game.log'), 'utf8')).not.toMatch(/WARN|DROPPED|REFUSED/);
	});
});

test('set changes one line of git diff', async () => {
	const git = (...args: string[]) =>
		execFileSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@localhost', ...args], {
			cwd: base,
			encoding: 'utf8'
		});
	git('init', '-q');
	git('add', '-A');
	git('commit', '-qm', 'base');
	expect((await kettle('set', join(base, 'data/vessels.tsv'), 'cutter_04', 'speed', '22')).status).toBe(0);
	expect(git('diff', '--numstat').trim()).toBe('1\t1\tdata/vessels.tsv');
	expect(
		(await kettle('set', join(base, 'data/gear/deck.xml'), 'boom_long', 'effect[0].add', '5')).status
	).toBe(0);
	expect(git('diff', '--numstat', 'data/gear').trim()).toBe('1\t1\tdata/gear/deck.xml');
});

test('set --from does all edits or, with the first that cannot be done named, none', async () => {
	const file = join(base, 'data/engines.ini');
	const before = readFileSync(file);
	const edits = join(work, 'edits.jsonl');
	const line = (record: string, value: string | number) =>
		JSON.stringify({ file, record, field: 'power', value });
	writeFileSync(edits, `${line('twin_2', 70)}\n${line('twin_9', 80)}\n`);
	const refused = await kettle('set', '--from', edits);
	expect([refused.status, refused.said.trim()]).toEqual([1, `${file} has no record “twin_9”.`]);
	expect(readFileSync(file)).toEqual(before);
	writeFileSync(edits, `${line('twin_2', 70)}\n${line('twin_4', 130)}\n`);
	expect((await kettle('set', '--from', edits)).status).toBe(0);
	const { records } = JSON.parse((await kettle('records', file, '--json')).out) as {
		records: { id: string; fields: { power: string } }[];
	};
	expect(
		records.filter((record) => ['twin_2', 'twin_4'].includes(record.id)).map((record) => record.fields.power)
	).toEqual(['70', '130']);
});

test('a file whose ending says nothing is read and edited by what is in it, as in a game', async () => {
	const file = join(work, 'sails.txt');
	const text =
		'@cheap = 4\n\ngaff = {\n\tcost = @cheap\n\tparts = { boom peak }\n}\nlug = {\n\tcost = 9 # dear\n}\n';
	writeFileSync(file, text);
	const { records, format } = JSON.parse((await kettle('records', file, '--json')).out);
	expect(format).toBe('block');
	expect(records).toMatchObject([
		{ id: 'gaff', line: 3, fields: { cost: '@cheap', 'parts[1]': 'peak' } },
		{ id: 'lug', fields: { cost: '9' } }
	]);
	expect((await kettle('set', file, 'lug', 'cost', '12')).status).toBe(0);
	expect(readFileSync(file, 'utf8')).toBe(text.replace('cost = 9', 'cost = 12'));
	// What is written for people is no data.
	writeFileSync(file, 'Some words about sails.\nThey are read by people: nobody else.\n');
	expect((await kettle('records', file)).status).toBe(1);
});

test('records gives one JSON document a line, in the order given; a fault has its place and makes the status 1', async () => {
	const broken = join(work, 'broken.xml');
	writeFileSync(broken, '<all>\n<piece id="a">\n</all>');
	const some = await kettle(
		'records',
		join(base, 'data/gear/hull.xml'),
		broken,
		'--json',
		'--guide',
		`${base}.guide.yaml`
	);
	expect(some.status).toBe(1);
	const [hull, bad] = some.out
		.trim()
		.split('\n')
		.map((line) => JSON.parse(line));
	expect(hull).toMatchObject({ format: 'xml', encoding: 'utf-8', eol: 'lf', bom: false, problems: [] });
	expect(hull.records[0]).toMatchObject({
		kind: 'hull_gear',
		id: 'plank_double',
		line: 4,
		fields: { words: 'gear.plank_double', 'effect[0].on': 'hull' }
	});
	expect(bad.problems).toMatchObject([{ line: 3, message: expect.stringContaining('line 2') }]);
});

test('pack: the same input gives the same bytes, and the manifest tells them', async () => {
	const one = join(work, 'one.zip');
	const two = join(work, 'two.zip');
	const said = await kettle('pack', '--game', base, '--mod', mod, '--out', one, '--json');
	program('pack', '--game', base, '--mod', mod, '--out', two);
	expect(readFileSync(one)).toEqual(readFileSync(two));
	const { files } = JSON.parse(said.out) as {
		files: { path: string; why: string; sha256: string; bytes: number }[];
	};
	const vessels = readFileSync(join(mod, 'data/vessels.tsv'));
	expect(files.find((file) => file.path === 'data/vessels.tsv')).toEqual({
		path: 'data/vessels.tsv',
		why: 'patch',
		sha256: createHash('sha256').update(vessels).digest('hex'),
		bytes: vessels.length
	});
	expect(new Set(files.map((file) => file.why))).toEqual(new Set(['patch', 'new']));
});

test('a call that is wrong ends with 2 and one line that says how', async () => {
	const calls = [
		['set', 'x'],
		['check'],
		['records'],
		['pack', '--game', base],
		['check', '--game', join(base, 'none')],
		['records', join(base, 'none')],
		['check', '--wrong'],
		['frobnicate']
	];
	for (const call of calls) {
		const done = call === calls[0] ? program(...call) : await kettle(...call);
		expect([call.join(' '), done.status, done.said.trim().split('\n').length]).toEqual([
			call.join(' '),
			2,
			1
		]);
		expect(done.said).not.toMatch(/at .*:\d+:\d+/);
	}
	expect(existsSync(join(base, 'none'))).toBe(false);
});

test('the demo’s digests are those of its files', async () => {
	const lines = readFileSync(join(demo, 'base/digests.txt'), 'utf8').trim().split('\n');
	for (const line of lines) {
		const [digest, path] = line.split('  ');
		expect([
			path,
			createHash('sha256')
				.update(readFileSync(join(demo, 'base', path!)))
				.digest('hex')
		]).toEqual([path, digest]);
	}
	expect(lines.length).toBeGreaterThan(10);
});

test('the demo’s other mods and its next version load cleanly, and what the next one changed is there', async () => {
	const game = join(base, '../game');
	const clean = () => {
		const done = standIn(game);
		const log = readFileSync(join(game, 'game.log'), 'utf8');
		expect(log).not.toMatch(/^(DROPPED|REFUSED|WARN)/m);
		expect(done.status).toBe(0);
		return log;
	};
	cpSync(base, game, { recursive: true });
	cpSync(join(demo, 'ice-season'), join(game, 'mods/ice_season'), { recursive: true });
	cpSync(join(demo, 'quiet-harbours'), join(game, 'mods/quiet_harbours'), { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["ice_season","quiet_harbours"]}');
	expect(clean()).toContain('64 vessels, 16 engines, 120 pieces of gear');
	spawnSync(process.execPath, [join(demo, 'next.mjs'), game]);
	expect(clean()).toContain('60 vessels, 13 engines, 120 pieces of gear');
	expect(readFileSync(join(game, 'data/engines.ini'), 'utf8')).not.toMatch(/coldest|single_3/);
});

test('nothing in the product names anything of the demo game', async () => {
	const names = [
		'gannet',
		'longline',
		'kittiwake',
		'skerry',
		'vessel',
		'lifeboat',
		'\\bengine\\b',
		'hull',
		'bridge_gear',
		'deck_gear',
		'triple_',
		'quiet harbours',
		'ice season'
	];
	const found = spawnSync('grep', ['-rniE', names.join('|'), join(root, 'src'), join(root, 'cli')], {
		encoding: 'utf8'
	});
	expect(found.stdout).toBe('');
	expect(found.status).toBe(1);
});

describe('find', () => {
	test('finds what Find finds: names in any language, fields, scripts, with place and reason', async () => {
		const found = await kettle('find', '--game', base, '--mod', mod, 'Dreizehenmöwe', '--json');
		expect(found.status).toBe(0);
		const said = JSON.parse(found.out);
		expect(said).toMatchObject({ total: 1 });
		expect(said.hits[0]).toMatchObject({
			layer: 'mine',
			file: 'data/vessels.tsv',
			kind: 'vessel',
			record: 'cutter_04',
			reason: 'Deutsch name',
			matched: 'Dreizehenmöwe'
		});
		expect((await kettle('find', '--game', base, 'hours', 'of', 'sleep')).out).toMatch(
			/^data\/rules\.lua:\d+ rule rules/
		);
		expect((await kettle('find', '--game', base, 'no such thing at all')).out).toBe('0 records\n');
	});
	test('the line is that of the value that matched, also of a text of one language', async () => {
		const game = join(base, '../lines');
		const write = (path: string, text: string) => {
			mkdirSync(join(game, path, '..'), { recursive: true });
			writeFileSync(join(game, path), text);
		};
		const crates = ['oak', 'elm', 'ash'].map(
			(id, at) => `  "${id}_crate": {\n    "weight": ${at + 2},\n    "said": "Smells of ${id} bark"\n  }`
		);
		write('data/crates.json', `{\n${crates.join(',\n')}\n}\n`);
		const texts = ['OAK', 'ELM', 'ASH'].map((id) => `msgid "${id}_CRATE"\nmsgstr "Crate of ${id}"\n`);
		for (const language of ['en', 'de']) write(`words/ship.${language}.po`, texts.join('\n'));
		const lines = async (...words: string[]) =>
			(await kettle('find', '--game', game, ...words)).out
				.split('\n')
				.map((line) => line.slice(0, line.indexOf(' ')));
		expect((await lines('Smells', 'of', 'elm', 'bark'))[0]).toBe('data/crates.json:8');
		expect((await lines('Crate', 'of', 'ELM'))[0]).toMatch(/^words\/ship\.(en|de)\.po:5$/);
		// An id is where the record begins.
		expect((await lines('ash_crate'))[0]).toBe('data/crates.json:10');
	});
	test('a call without words or game is wrong', async () => {
		expect(await kettle('find', '--game', base)).toMatchObject({ status: 2 });
		expect((await kettle('find', 'winch')).said).toContain("Name the game's folder");
	});
});

test('words: how far each language is, and what is wrong with the texts; a wrong call says how', async () => {
	const { status, out } = await kettle('words', '--game', base, '--mod', mod, '--json');
	const { texts, languages, snags } = JSON.parse(out) as {
		texts: number;
		languages: { code: string; main: boolean; there: number; missing: number; mine: number }[];
		snags: { rule: string; record: string }[];
	};
	expect([status, texts > 900]).toEqual([1, true]);
	expect(
		languages.map(({ code, main, there, missing, mine }) => [code, main, there + missing, mine])
	).toEqual([
		['en', true, texts, 4],
		['de', false, texts, 4],
		['ja', false, texts, 4]
	]);
	expect(snags.map(({ rule, record }) => `${rule} ${record}`)).toEqual(['missing-text barge_09']);
	replace('words/de/longline.properties', 'vessel.launch_12.short=', 'vessel.launch_12.short=%s ');
	const plain = await kettle('words', '--game', base, '--mod', mod);
	expect(plain.out).toMatch(/Deutsch \(de\): .* 1 with other placeholders or tags, 0 older .*, 4 mine\n/);
	expect(plain.out).toMatch(
		/warns {2}words\/de\/longline\.properties:\d+ .* has `%s`, which it does not have in English/
	);
	const wrong = await kettle('words', '--mod', mod);
	expect([wrong.status, wrong.said]).toEqual([2, expect.stringContaining('Usage: kettle words --game DIR')]);
});

test('words give and take: what comes back is in the mod, and nothing else; what changed meanwhile is listed', async () => {
	const [file, out] = [join(work, 'german.csv'), join(work, 'translated')];
	const from = ['--game', base, '--mod', mod];
	const given = await kettle(
		'words',
		'give',
		...from,
		'--to',
		'Deutsch',
		'--as',
		'csv',
		'--all',
		'--out',
		file
	);
	expect([given.status, given.out]).toEqual([0, expect.stringMatching(/^\d+ texts: /)]);
	const text = readFileSync(file, 'utf8');
	expect(text).toMatch(/^\ufeff"key","en","de","de before","used by","longest","remark","ja"\r\n/);
	const back = text
		.replace('"Auflaufen","Auflaufen"', '"Auf Grund","Auflaufen"')
		.replace('"Lost raft","Verlorenes Floß"', '"Lost rafts","Verlorene Flöße"');
	writeFileSync(file, back);
	const dry = await kettle('words', 'take', file, ...from);
	expect([dry.status, dry.out]).toEqual([1, expect.stringContaining('1 translation to take in')]);
	expect(dry.out).toContain(
		'changed call.lost_raft_1.name: the main text was "Lost rafts" and is "Lost raft" now; there is "Verlorenes Floß", the file has "Verlorene Flöße"'
	);
	const before = readFileSync(join(mod, 'words/de/longline.properties'), 'utf8');
	expect((await kettle('words', 'take', file, ...from, '--out', out)).status).toBe(1);
	expect(readFileSync(join(mod, 'words/de/longline.properties'), 'utf8')).toBe(before);
	const after = readFileSync(join(out, 'words/de/longline.properties'), 'utf8');
	expect(after.split('\n').filter((line) => !before.includes(line))).toEqual([
		'call.grounding_1.name=Auf Grund'
	]);
	for (const path of ['mod.json', 'data/vessels.tsv'])
		expect(readFileSync(join(out, path))).toEqual(readFileSync(join(mod, path)));
});

test('words give and take: a wrong language, form or file is said in one line, and nothing is written', async () => {
	const out = join(work, 'none');
	const give = (...more: string[]) => kettle('words', 'give', '--game', base, '--out', out, ...more);
	expect((await give('--to', 'fr', '--as', 'po')).said).toContain('It has Deutsch (de), 日本語 (ja).');
	expect((await give('--to', 'en', '--as', 'po')).said).toContain('“en” is not a language that this game is');
	expect((await give('--to', 'de', '--as', 'docx')).said).toContain('--as is po, xliff, xliff2, csv');
	expect((await give('--to', 'de', '--as', 'po', '--mine')).said).toContain('--mine needs --mod DIR');
	const bad = join(work, 'bad.po');
	writeFileSync(bad, 'msgid "a\n');
	const taken = await kettle('words', 'take', bad, '--game', base, '--mod', mod, '--out', out);
	expect([taken.status, taken.said]).toEqual([2, expect.stringContaining('Line 1')]);
	expect(existsSync(out)).toBe(false);
});
