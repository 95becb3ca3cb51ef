// The command as a package: one file, nothing to install with it, and it runs outside of the house.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from 'vitest';

const root = fileURLToPath(new URL('../../', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'kettle-package-'));
afterAll(() => rmSync(work, { recursive: true }));

test('a package of the command checks, packs, finds, reads and sets as the command does', () => {
	execFileSync('npm', ['pack', './cli', '--pack-destination', work, '--loglevel=error'], { cwd: root });
	const [name] = readdirSync(work);
	execFileSync('tar', ['-xzf', join(work, name!), '-C', work]);
	const unpacked = join(work, 'package');
	expect(readdirSync(unpacked).sort()).toEqual(['glue.wasm', 'kettle.mjs', 'package.json', 'thrower.js']);
	const about = JSON.parse(readFileSync(join(unpacked, 'package.json'), 'utf8')) as Record<string, object>;
	expect(about).toMatchObject({ bin: { kettle: 'kettle.mjs' } });
	expect(about.dependencies).toBeUndefined();
	const run = (...words: string[]) =>
		spawnSync(process.execPath, [join(unpacked, 'kettle.mjs'), ...words], { cwd: work, encoding: 'utf8' });
	const demo = join(root, 'demo');
	const game = ['--game', join(demo, 'base')];
	const checked = run('check', ...game, '--mod', join(demo, 'longline'), '--json');
	expect([checked.status, checked.stderr]).toEqual([1, '']);
	expect((JSON.parse(checked.stdout) as { counts: object }).counts).toMatchObject({ blocks: 3 });
	expect(run('find', ...game, 'Kittiwake').stdout).toContain('cutter_04');
	expect(run('guide', ...game).stdout).toContain('vessel');
	expect(run('records', join(demo, 'base/data/engines.ini')).status).toBe(0);
	const out = join(work, 'engines.ini');
	const file = join(demo, 'base/data/engines.ini');
	const id = (JSON.parse(run('records', file, '--json').stdout) as { records: { id: string }[] }).records[0]!
		.id;
	expect(run('set', file, id, 'power', '77', '--out', out).status).toBe(0);
	expect(readFileSync(out, 'utf8')).toContain('77');
	const packed = run(
		'pack',
		...game,
		'--mod',
		join(demo, 'longline'),
		'--out',
		join(work, 'mod.zip'),
		'--run-tools',
		'--json'
	);
	expect(packed.stderr).toBe('');
	const tried = run('script', 'try', ...game, 'on_hour', 'vessel:cutter_04', '3', '--json');
	expect((JSON.parse(tried.stdout) as { calls: object[] }).calls).toHaveLength(1);
	expect(run('nonsense').status).toBe(2);
});
