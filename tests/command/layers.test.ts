// Layers by the command: what clashes, an order that works, and a small mod that settles what clashes.
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { kettle, program } from './kettle';

const DEMO = join(import.meta.dirname, '../../demo');

function folderOf(name: string, files: Record<string, string>): string {
	const folder = join(mkdtempSync(join(tmpdir(), 'kettle-layers-')), name);
	for (const [path, text] of Object.entries(files)) {
		mkdirSync(join(folder, path, '..'), { recursive: true });
		writeFileSync(join(folder, path), text);
	}
	return folder;
}

const GUIDE = `guide: 1
identity: mod.json
kinds:
  boat: { title: Boat, files: [data/boats.json], key: id, at: '', merge: record, fields: { speed: { type: whole }, crew: { type: whole } } }
`;
const boats = (...rows: object[]) => ({ 'data/boats.json': `${JSON.stringify(rows)}\n` });
const game = () =>
	folderOf('game', boats({ id: 'tern', speed: 10, crew: 2 }, { id: 'skua', speed: 7, crew: 1 }));
const mod = (name: string, about: object, ...rows: object[]) =>
	folderOf(name, { 'mod.json': JSON.stringify({ name, title: `The ${name}`, ...about }), ...boats(...rows) });

test('the demo: what two layers change, with who wins; an order that works', () => {
	const done = program(
		'layers',
		...[
			'--game',
			join(DEMO, 'base'),
			'--layer',
			join(DEMO, 'ice-season'),
			'--layer',
			join(DEMO, 'quiet-harbours')
		],
		...['--mod', join(DEMO, 'longline'), '--json']
	);
	expect(done.status).toBe(0);
	const found = JSON.parse(done.out) as {
		clashes: object[];
		order: string[];
		impossible: object[];
		nothing: object[];
	};
	expect(found.clashes).toContainEqual({
		kind: 'vessel',
		record: 'tug_02',
		field: 'speed',
		base: '11',
		values: [
			{ layer: 'quiet-harbours', value: '12' },
			{ layer: 'longline', value: '11', copied: true }
		],
		wins: 'longline',
		differs: true
	});
	expect(found.order).toEqual(['base', 'ice-season', 'quiet-harbours', 'longline']);
	expect(found.impossible).toEqual([]);
});

test('an order that cannot work says why in one sentence, with the layers that it is about', async () => {
	const guide = join(folderOf('guide', { 'g.yaml': GUIDE }), 'g.yaml');
	const [a, b, c] = [
		mod('alpha', { after: ['beta'] }),
		mod('beta', { requires: ['alpha'] }),
		mod('gamma', {})
	];
	const done = await kettle(
		'layers',
		'--game',
		game(),
		'--layer',
		a,
		'--layer',
		b,
		'--layer',
		c,
		'--guide',
		guide,
		'--json'
	);
	expect(done.status).toBe(1);
	expect((JSON.parse(done.out) as { impossible: object[] }).impossible).toEqual([
		{
			message: 'No order works: beta requires alpha, but alpha has to be loaded after beta.',
			layers: ['alpha', 'beta']
		}
	]);
});

test('two mods are settled in a small one: what only one changes by itself, the rest as preferred', async () => {
	const guide = join(folderOf('guide', { 'g.yaml': GUIDE }), 'g.yaml');
	const base = game();
	const fast = mod('fast', {}, { id: 'tern', speed: 14, crew: 2 }, { id: 'skua', speed: 9, crew: 1 });
	const full = mod('full', {}, { id: 'tern', speed: 10, crew: 5 }, { id: 'skua', speed: 8, crew: 1 });
	const out = join(mkdtempSync(join(tmpdir(), 'kettle-merged-')), 'settled');
	const call = ['merge', '--game', base, '--layer', fast, '--layer', full, '--guide', guide, '--out', out];
	const left = await kettle(...call, '--json');
	expect(left.status).toBe(0);
	const first = JSON.parse(left.out) as { settled: object[]; open: { record: string }[] };
	// The speed of the tern was only copied along by the second: the first one's change counts.
	expect(first.settled).toEqual([{ kind: 'boat', record: 'tern', field: 'speed', value: '14' }]);
	expect(first.open.map(({ record }) => record)).toEqual(['skua']);
	const preferred = await kettle(...call, '--prefer', 'fast');
	expect([preferred.status, preferred.out]).toEqual([
		0,
		`2 values settled, 0 clashes left to the last layer: ${out}\n`
	]);
	expect(JSON.parse(readFileSync(join(out, 'data/boats.json'), 'utf8'))).toEqual([
		{ id: 'tern', speed: 14, crew: 5 },
		{ id: 'skua', speed: 9, crew: 1 }
	]);
	expect(JSON.parse(readFileSync(join(out, 'mod.json'), 'utf8'))).toMatchObject({
		after: ['fast', 'full'],
		requires: ['fast', 'full']
	});
	const over = await kettle(
		'layers',
		'--game',
		base,
		'--layer',
		fast,
		'--layer',
		full,
		'--layer',
		out,
		'--guide',
		guide,
		'--json'
	);
	expect((JSON.parse(over.out) as { order: string[] }).order.at(-1)).toBe('settled');
	// Nothing of others is written over.
	writeFileSync(join(out, 'mine.txt'), 'mine');
	const refused = await kettle(...call);
	expect([refused.status, refused.said]).toEqual([2, expect.stringContaining('that no pack put there')]);
	expect(existsSync(join(out, 'mine.txt'))).toBe(true);
	const unknown = await kettle(...call, '--prefer', 'nobody');
	expect([unknown.status, unknown.said]).toEqual([2, expect.stringContaining('There is no layer “nobody”')]);
	expect((await kettle('merge', '--game', base, '--layer', fast, '--out', out)).status).toBe(2);
});
