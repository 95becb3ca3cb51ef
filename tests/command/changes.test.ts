// `kettle changes`: what the demo's next version changed.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { writeNext } from '../../demo/next.mjs';
import { kettle } from './kettle';

const base = join(import.meta.dirname, '../../demo/base');
const folder = mkdtempSync(join(tmpdir(), 'kettle-changes-'));
const next = join(folder, 'next');
beforeAll(() => writeNext(next));
afterAll(() => rmSync(folder, { recursive: true }));

interface Found {
	fields: { kind: string; what: string; from?: string; to?: string }[];
	records: {
		kind: string;
		record: string;
		what: string;
		from?: { kind: string; record: string };
		fields: { path: string; old: string | null; new: string | null }[];
	}[];
	files: { path: string; what: string }[];
}

test('a field with another name, an engine that is gone, gear in another file, values, a script', async () => {
	const { status, out } = await kettle('changes', '--old', base, '--new', next, '--json');
	expect(status).toBe(0);
	const { fields, records, files } = JSON.parse(out) as Found;
	expect(fields).toMatchObject([{ kind: 'engine', what: 'renamed', from: 'coldest', to: 'cold_start' }]);
	const said = records.map(
		({ kind, record, what, from }) => `${what} ${kind} ${record}${from ? ` from ${from.kind}` : ''}`
	);
	expect(said).toContain('gone engine single_3');
	expect(said).toContain('moved hull_gear net_ladder from deck_gear');
	expect(said).toContain('moved cold_hull_gear net_ladder from cold_deck_gear');
	expect(records.find(({ record }) => record === 'cutter_04')!.fields).toEqual([
		{ path: 'hull', old: '103', new: '110' }
	]);
	// A field that only has another name changes no record by itself.
	expect(records.filter(({ kind }) => kind === 'engine').map(({ record }) => record)).toEqual([
		'single_3',
		'triple_6'
	]);
	expect(files).toContainEqual({ path: 'scripts/omens.lua', what: 'changed' });
	const plain = await kettle('changes', '--old', base, '--new', next);
	expect(plain.out).toContain('renamed: field cold_start of engine, was coldest, 100 % sure (13 records)');
	expect(plain.out).toContain('changed: vessel cutter_04 (Kittiwake): hull “103” → “110”');
});

test('a version against itself, and a wrong call', async () => {
	const same = await kettle('changes', '--old', base, '--new', base);
	expect(same.out).toBe('0 records and 0 files differ\n');
	const wrong = await kettle('changes', '--old', base);
	expect([wrong.status, wrong.said]).toEqual([2, expect.stringContaining('Usage: kettle changes')]);
});
