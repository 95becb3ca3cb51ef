// Patches by the command: made from two versions, applied to others, refused in plain words.
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { kettle, program } from './kettle';

const folder = () => mkdtempSync(join(tmpdir(), 'kettle-patch-'));

/** A folder with some files. */
function folderOf(files: Record<string, string | Uint8Array>): string {
	const root = folder();
	for (const [path, content] of Object.entries(files)) {
		mkdirSync(join(root, path, '..'), { recursive: true });
		writeFileSync(join(root, path), content);
	}
	return root;
}

const TIDE = `-- The tide.
function tide(hour)
	return base + 1.6 * math.sin(hour)
end

function ebb(hour)
	return base - 1.6 * math.sin(hour)
end
`;
const MINE = TIDE.replace('+ 1.6', '+ 2.1');

test('two versions of a folder become a patch that another version of it takes', async () => {
	const old = folderOf({
		'scripts/tide.lua': TIDE,
		'data/a.bin': Uint8Array.from([0, 1, 2, 3, 0, 255, 7]),
		'same.txt': 'a\n'
	});
	const fresh = folderOf({
		'scripts/tide.lua': MINE,
		'data/a.bin': Uint8Array.from([0, 1, 2, 9, 0, 255, 7]),
		'same.txt': 'a\n',
		'scripts/new.lua': 'return 1\n'
	});
	const file = join(folder(), 'mine.patch');
	const made = program('patch', 'make', old, fresh, '--out', file);
	expect([made.status, made.out]).toEqual([0, `3 files, 3 parts: ${file}\n`]);
	const newer = folderOf({
		'scripts/tide.lua': `-- Version 2\r\n${TIDE.replaceAll('\n', '\r\n')}`,
		'data/a.bin': Uint8Array.from([8, 8, 0, 1, 2, 3, 0, 255, 7])
	});
	const out = join(folder(), 'out');
	const dry = await kettle('patch', 'apply', file, '--on', newer, '--json');
	expect([dry.status, existsSync(out)]).toEqual([0, false]);
	const done = await kettle('patch', 'apply', file, '--on', newer, '--out', out, '--json');
	expect([done.status, JSON.parse(done.out)]).toMatchObject([
		0,
		{
			applied: true,
			files: [
				{ path: 'data/a.bin', parts: [{ applied: true, line: 6 }] },
				{ path: 'scripts/new.lua', applied: true },
				{
					path: 'scripts/tide.lua',
					parts: [{ applied: true, line: 4, likeness: 1, reason: '', candidates: [] }]
				}
			]
		}
	]);
	expect(readFileSync(join(out, 'scripts/tide.lua'), 'utf8')).toBe(
		`-- Version 2\r\n${MINE.replaceAll('\n', '\r\n')}`
	);
	expect([...readFileSync(join(out, 'data/a.bin'))]).toEqual([8, 8, 0, 1, 2, 9, 0, 255, 7]);
	expect(existsSync(join(out, 'same.txt'))).toBe(false);
	// A second time it is there already.
	const again = await kettle('patch', 'apply', file, '--on', out);
	expect(again.status).toBe(1);
	expect(again.out).toContain('scripts/tide.lua: It is already there.');
});

test('what is not certain is not written, and its nearest places are named and can be chosen', async () => {
	const file = join(folder(), 'mine.patch');
	const [old, fresh] = [folderOf({ 'tide.lua': TIDE }), folderOf({ 'tide.lua': MINE })];
	expect(
		(await kettle('patch', 'make', join(old, 'tide.lua'), join(fresh, 'tide.lua'), '--out', file)).status
	).toBe(0);
	const changed = folderOf({ 'tide.lua': TIDE.replace('+ 1.6', '+ 1.7') });
	const out = join(folder(), 'out');
	const refused = await kettle('patch', 'apply', file, '--on', changed, '--out', out);
	expect(refused.status).toBe(1);
	expect(refused.out).toContain(
		'tide.lua, part 1 of 1: The lines that it changes are not as they were. Nearest: line 3'
	);
	expect(refused.out).toContain('Nothing was written.');
	expect(existsSync(out)).toBe(false);
	const chosen = await kettle('patch', 'apply', file, '--on', changed, '--out', out, '--at', 'tide.lua:1:3');
	expect(chosen.status).toBe(0);
	expect(readFileSync(join(out, 'tide.lua'), 'utf8')).toBe(MINE);
});

test('encodings and wrong calls', async () => {
	const latin = (text: string) => Buffer.from(text, 'latin1');
	const old = folderOf({ 'a.txt': latin('one\ntwo\nthree\n') });
	const fresh = folderOf({ 'a.txt': latin('one\nzwölf Möwen über dem Öl\nthree\n') });
	const made = await kettle('patch', 'make', old, fresh);
	const file = join(folder(), 'a.patch');
	writeFileSync(file, made.out);
	const target = folderOf({ 'a.txt': latin('naught, für Jürgen und die Bären\none\ntwo\nthree\n') });
	const out = folder();
	expect((await kettle('patch', 'apply', file, '--on', target, '--out', out)).status).toBe(0);
	expect(readFileSync(join(out, 'a.txt'), 'latin1')).toBe(
		'naught, für Jürgen und die Bären\none\nzwölf Möwen über dem Öl\nthree\n'
	);
	for (const [args, said] of [
		[['make', old], 'Name the old version and the new one.'],
		[['make', old, join(fresh, 'a.txt')], 'must both be files or both be folders'],
		[['make', old, join(fresh, 'none')], 'There is no file or folder'],
		[['apply', file], 'with --on the folder'],
		[['apply', join(old, 'a.txt'), '--on', old], 'This is not a patch'],
		[['apply', file, '--on', target, '--at', 'a.txt'], 'is not PATH:PART:LINE'],
		[['turn'], 'is not one of make and apply']
	] as const) {
		const done = await kettle('patch', ...args);
		expect([done.status, done.said]).toEqual([2, expect.stringContaining(said)]);
	}
	const outside = join(folder(), 'bad.patch');
	writeFileSync(outside, '--- ../../etc/x\n+++ ../../etc/x\n@@ -1 +1 @@\n-a\n+b\n');
	const bad = await kettle('patch', 'apply', outside, '--on', target, '--out', out);
	expect([bad.status, bad.said]).toEqual([2, expect.stringContaining('is outside the folder')]);
});
