// A packed table in a mod: edited together with its twin, a shared value changed here and everywhere, read by the game.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { bytesOf, invertPlan, applyPlan } from '$core/change';
import { checkStack } from '$core/checks';
import { myFiles, planFor, stackAfter, type Intention } from '$core/edits';
import { parseGuide } from '$core/guide';
import { assembleStack } from '$core/model';
import type { Stack } from '$core/stack';
import { openFolder, readAll } from '../../src/lib/files';
import { loadGame } from '../../standin/load.mjs';
import { readControls } from '../../standin/readers.mjs';
import { kettle } from './kettle';

const demo = fileURLToPath(new URL('../../demo/', import.meta.url));
const layout = join(demo, 'base/packed/controls.layout.yaml');
const guide = parseGuide(readFileSync(join(demo, 'base.guide.yaml'), 'utf8'));
const game = mkdtempSync(join(tmpdir(), 'kettle-packed-'));
const FILE = 'packed/controls.bin';
let start: Stack;

beforeAll(async () => {
	cpSync(join(demo, 'base'), game, { recursive: true });
	writeFileSync(join(game, 'load-order.json'), '{"mods":["one"]}');
	start = assembleStack(
		[
			{
				id: 'base',
				title: 'Base',
				owner: 'game',
				files: await readAll(await openFolder(join(demo, 'base')))
			},
			{
				id: 'mine',
				title: 'Mine',
				owner: 'me',
				files: new Map([
					[
						'mod.json',
						new TextEncoder().encode('{"name":"one","title":"One","version":"1","gameVersion":"1.4"}')
					]
				])
			}
		],
		guide
	);
});
afterAll(() => rmSync(game, { recursive: true }));

const set = (kind: string, id: string, field: string, value: string, everywhere = false): Intention => ({
	do: 'set',
	kind,
	id,
	field,
	value,
	everywhere
});

/** What warns or blocks in my mod. */
const apart = (stack: Stack) =>
	checkStack(stack).flatMap(({ layer, rule, severity }) =>
		layer === 'mine' && severity !== 'note' ? [rule] : []
	);

/** What the game says of my mod, and what it reads of the packed controls. */
function played(stack: Stack) {
	rmSync(join(game, 'mods'), { recursive: true, force: true });
	for (const [path, file] of myFiles(stack)) {
		mkdirSync(dirname(join(game, 'mods/one', path)), { recursive: true });
		writeFileSync(join(game, 'mods/one', path), bytesOf(file));
	}
	const { log } = loadGame(game);
	const faults: string[] = [];
	const bytes = readFileSync(join(game, 'mods/one', FILE));
	const rows = readControls(bytes, (message) => faults.push(message));
	return { log: log.filter(({ level }) => level !== 'INFO'), rows, faults, size: bytes.length };
}

test('a key changed in the table of text is changed in the packed one, too; both are read, and the size is kept', () => {
	const plan = planFor(start, set('control', 'horn', 'key', 'B'), 'one');
	expect(plan.changes.map(({ path, of }) => [path, of])).toEqual([
		['data/controls.json', 'text'],
		[FILE, 'bytes']
	]);
	const now = stackAfter(start, plan);
	const { log, rows, faults, size } = played(now);
	expect([log, faults]).toEqual([[], []]);
	expect(rows.find(({ id }) => id === 'horn')).toEqual({ id: 'horn', key: 'B', pad: 5, delay: 400 });
	expect(size).toBe(readFileSync(join(demo, 'base', FILE)).length);
	expect(apart(now)).toEqual([]);
	const back = applyPlan(myFiles(now), invertPlan(myFiles(start), plan));
	expect(back.has(FILE)).toBe(false);
});

test('without the packed one, the two differ: it is a snag, and the game warns at the same record', () => {
	const plan = planFor(
		start,
		{ ...set('control', 'horn', 'key', 'B'), without: ['twin'] } as Intention,
		'one'
	);
	// The game compares what it reads: the packed file is brought along to be seen.
	const now = stackAfter(
		stackAfter(start, plan),
		planFor(start, set('packed_control', 'lamp', 'delay', '700'), 'one')
	);
	expect(played(now).log).toEqual([
		expect.objectContaining({
			level: 'WARN',
			place: `mods/one/${FILE}:5`,
			message: expect.stringContaining('horn') as string
		})
	]);
	expect(apart(now)).toEqual(['twins-apart']);
});

test('a shared delay: here by the address of another, everywhere in its place; what has no room is refused', () => {
	const here = planFor(start, set('packed_control', 'ahead', 'delay', '700'), 'one');
	expect(here.values.map(({ id, before, after }) => [id, before, after])).toEqual([['ahead', '120', '700']]);
	const delays = (stack: Stack) => played(stack).rows.map(({ delay }) => delay);
	expect(delays(stackAfter(start, here))).toEqual([700, 120, 120, 120, 400, 250, 700, 700]);

	const everywhere = planFor(start, set('packed_control', 'ahead', 'delay', '135', true), 'one');
	expect(everywhere.values.map(({ id, after, follows }) => [id, after, follows ?? ''])).toEqual([
		['ahead', '135', ''],
		...['astern', 'port', 'starboard'].map((id) => [id, '135', 'points at the same value'])
	]);
	const all = stackAfter(start, everywhere);
	expect(delays(all)).toEqual([135, 135, 135, 135, 400, 250, 700, 700]);
	expect(played(all)).toMatchObject({ log: [], faults: [], size: 134 });

	expect(() => planFor(start, set('packed_control', 'ahead', 'delay', '135'), 'one')).toThrow(
		/3 other values stand at the same address, and the pool “delays” is full\. Change it everywhere/
	);
	expect(() => planFor(start, set('packed_control', 'horn', 'delay', '70000'), 'one')).toThrow(
		/from 0 to 65535/
	);
	expect(() => planFor(start, set('packed_control', 'horn', 'id', 'a_much_longer_id'), 'one')).toThrow(
		/takes 16 bytes; there is room for 10\. “a_much_lon” would fit/
	);
});

test('the command reads and sets it by its layout', async () => {
	const copy = join(game, 'copy.bin');
	cpSync(join(demo, 'base', FILE), copy);
	const records = await kettle('records', copy, '--layout', layout, '--json');
	expect(records.status).toBe(0);
	const read = JSON.parse(records.out) as {
		format: string;
		records: { kind: string; id: string; fields: object }[];
	};
	expect(read.format).toBe('packed');
	expect(read.records.find(({ id }) => id === 'lamp')).toMatchObject({
		kind: 'controls',
		fields: { id: 'lamp', key: 'L', pad: 6, delay: 250 }
	});
	expect((await kettle('set', copy, 'lamp', 'pad', '11', '--layout', layout)).status).toBe(0);
	const refused = await kettle('set', copy, 'ahead', 'delay', '90', '--layout', layout);
	expect([refused.status, refused.said]).toEqual([1, expect.stringContaining('Change it everywhere')]);
	expect((await kettle('set', copy, 'ahead', 'delay', '90', '--layout', layout, '--everywhere')).status).toBe(
		0
	);
	const faults: string[] = [];
	const rows = readControls(readFileSync(copy), (message) => faults.push(message));
	expect(faults).toEqual([]);
	expect(rows.map(({ pad, delay }) => [pad, delay])).toEqual([
		[1, 90],
		[2, 90],
		[3, 90],
		[4, 90],
		[5, 400],
		[11, 250],
		[7, 700],
		[8, 700]
	]);
	writeFileSync(join(game, 'wrong.yaml'), 'tables: [{ name: a, fields: [{ name: x, as: text }] }]');
	const wrong = await kettle('records', copy, '--layout', join(game, 'wrong.yaml'));
	expect([wrong.status, wrong.said]).toEqual([
		2,
		expect.stringContaining('tables.0.fields.0: needs a length')
	]);
});
