// `kettle carry`: the demo's mod on the game's next version, which the game then loads.
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { writeNext } from '../../demo/next.mjs';
import { loadGame } from '../../standin/load.mjs';
import { kettle } from './kettle';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const [base, longline] = [join(demo, 'base'), join(demo, 'longline')];
const folder = mkdtempSync(join(tmpdir(), 'kettle-carry-'));
const next = join(folder, 'next');

beforeAll(() => writeNext(next));
afterAll(() => rmSync(folder, { recursive: true }));

const filesIn = (root: string): Record<string, string> =>
	Object.fromEntries(
		readdirSync(root, { recursive: true, withFileTypes: true })
			.filter((entry) => entry.isFile())
			.map((entry) => join(entry.parentPath, entry.name))
			.map((path) => [path.slice(root.length + 1), readFileSync(path, 'latin1')])
	);

test('each change is carried, taken over, to decide, or without a place; nothing is written without --out', async () => {
	const { status, out } = await kettle('carry', '--old', base, '--new', next, '--mod', longline, '--json');
	expect(status).toBe(1);
	const said = JSON.parse(out) as Record<string, Record<string, unknown>[]>;
	expect(said.undecided).toEqual([
		expect.objectContaining({
			kind: 'engine',
			record: 'triple_6',
			field: 'power',
			old: '520',
			new: '510',
			mine: '560',
			result: '560'
		})
	]);
	expect(said.homeless).toEqual([
		expect.objectContaining({
			kind: 'vessel',
			record: 'barge_09',
			field: 'deck',
			mine: 'net_ladder',
			candidates: expect.arrayContaining([
				expect.objectContaining({ kind: 'hull_gear', value: 'net_ladder' })
			]) as unknown
		})
	]);
	expect(said.refreshed!.map(({ record, field, new: fresh }) => [record, field, fresh])).toEqual([
		['cutter_04', 'hull', '110'],
		['tug_02', 'speed', '12'],
		['mod.json', 'gameVersion', '1.5']
	]);
	expect(said.carried).toContainEqual(
		expect.objectContaining({ record: 'cutter_04', field: 'speed', mine: '24', result: '24' })
	);
});

test('the whole mod is written; a field has its new name, and my change is made on top of the game’s', async () => {
	const out = join(folder, 'carried');
	const list = join(folder, 'list.md');
	const call = [
		'carry',
		'--old',
		base,
		'--new',
		next,
		'--mod',
		longline,
		'--prefer',
		'on-top',
		'--out',
		out,
		'--list',
		list
	];
	const { status } = await kettle(...call);
	// What has no place any more is still open.
	expect(status).toBe(1);
	expect(Object.keys(filesIn(out))).toEqual(Object.keys(filesIn(longline)));
	const engines = readFileSync(join(out, 'data/engines.ini'), 'utf8');
	expect(engines).toContain('cold_start = -14');
	expect(engines).toContain('power   = 550');
	expect(engines).toContain('; more pull for the harbours that tow');
	expect(readFileSync(list, 'utf8')).toMatch(
		/## Without a place in the new version\s+### Vessel barge_09[\s\S]*## Carried over/
	);
	// Again into the same folder: what was written before may be replaced, what somebody else put there may not.
	expect((await kettle(...call)).status).toBe(1);
	writeFileSync(join(out, 'notes.txt'), 'mine');
	const refused = await kettle(...call);
	expect([refused.status, refused.said]).toEqual([2, expect.stringContaining('notes.txt')]);
});

test('a mod without faults is carried whole, and the next version of the game loads it cleanly', async () => {
	const mod = join(folder, 'sound');
	cpSync(longline, mod, { recursive: true });
	const vessels = readFileSync(join(mod, 'data/vessels.tsv'), 'utf8');
	writeFileSync(
		join(mod, 'data/vessels.tsv'),
		vessels
			.replace('triple_9', 'triple_6')
			.replace('\tkeel_deep\t\t', '\t\t\t')
			.replace(/^barge_09.*\n/m, '')
	);
	const out = join(folder, 'sound-carried');
	const { status } = await kettle(
		'carry',
		'--old',
		base,
		'--new',
		next,
		'--mod',
		mod,
		'--prefer',
		'mine',
		'--out',
		out
	);
	expect(status).toBe(0);
	const game = join(folder, 'game');
	cpSync(next, game, { recursive: true });
	cpSync(out, join(game, 'mods/longline'), { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["longline"]}');
	const { log, clean } = loadGame(game);
	expect(log.filter(({ level }) => level === 'DROPPED' || level === 'REFUSED')).toEqual([]);
	expect(clean).toBe(true);
});

test('on an unchanged game every byte stays; a wrong call says how', async () => {
	const same = join(folder, 'same');
	const { status } = await kettle('carry', '--old', base, '--new', base, '--mod', longline, '--out', same);
	expect(status).toBe(0);
	expect(filesIn(same)).toEqual(filesIn(longline));
	const wrong = await kettle('carry', '--old', base, '--mod', longline);
	expect([wrong.status, wrong.said]).toEqual([2, expect.stringContaining('Usage: kettle carry')]);
	const side = await kettle('carry', '--old', base, '--new', next, '--mod', longline, '--prefer', 'yours');
	expect([side.status, side.said]).toEqual([2, expect.stringContaining('mine, theirs or on-top')]);
	expect(existsSync(join(folder, 'yours'))).toBe(false);
});
