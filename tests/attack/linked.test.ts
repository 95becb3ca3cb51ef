// The linked folder under other hands: gone, emptied, swapped for a link, written from several sides at once. What
// cannot be written is said on every page; nothing that was not meant counts as a deletion; nothing goes elsewhere.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer, type Server } from '../interface/helpers';
import { caller, digestsBelow, mineOf, times } from './helpers';

const SLUG = 'gannet-sound';
const work = mkdtempSync(join(tmpdir(), 'kettle-link-'));
const folder = join(work, 'allowed/mod');
const outside = join(work, 'outside');
let server: Server;
let post: ReturnType<typeof caller>;

beforeAll(async () => {
	mkdirSync(folder, { recursive: true });
	mkdirSync(outside);
	server = await startServer({ roots: join(work, 'allowed') });
	post = caller(server.address);
	expect((await ask({ do: 'link', folder })).status).toBe(200);
	expect(await (await ask({ do: 'write' })).json()).toEqual({ files: 7 });
});
afterAll(async () => {
	await server.stop();
	rmSync(work, { recursive: true, force: true });
});

const ask = (body: object) => post(`/p/${SLUG}/api/linked`, body);
const edit = (value: string) =>
	post(`/p/${SLUG}/api/apply`, {
		intention: { do: 'set', kind: 'vessel', id: 'cutter_04', field: 'seats', value }
	});
const outsidePlan = async () => (await fetch(`${server.address}/p/${SLUG}/api/linked`)).json();
const page = async () => (await fetch(`${server.address}/p/${SLUG}/find`)).text();

test('a folder that is gone, or empty where files were, is a fault and no deletion', async () => {
	const away = join(work, 'away');
	renameSync(folder, away);
	expect((await edit('5')).status).toBe(200);
	expect(await outsidePlan()).toBeNull();
	const refused = await ask({ do: 'write' });
	expect([refused.status, (await refused.json()).message]).toEqual([
		422,
		expect.stringContaining('is not there')
	]);
	expect(await page()).toContain('is not there');
	expect(readdirSync(join(work, 'allowed'))).toEqual([]);
	// The place where a disk was mounted is an empty folder.
	mkdirSync(folder);
	expect((await edit('6')).status).toBe(200);
	expect(await outsidePlan()).toBeNull();
	expect(await page()).toContain('is empty, and 7 files were in it');
	rmSync(folder, { recursive: true });
	renameSync(away, folder);
	expect((await edit('7')).status).toBe(200);
	expect(await (await ask({ do: 'write' })).json()).toEqual({ files: 1 });
	expect(digestsBelow(folder)).toEqual(await mineOf(server.url, SLUG));
});

test('a link in place of a folder leads no writing out of it', async () => {
	renameSync(join(folder, 'data'), join(work, 'data'));
	symlinkSync(outside, join(folder, 'data'));
	expect((await edit('8')).status).toBe(200);
	await ask({ do: 'write' });
	expect(readdirSync(outside)).toEqual([]);
	rmSync(join(folder, 'data'));
	renameSync(join(work, 'data'), join(folder, 'data'));
	expect((await edit('9')).status).toBe(200);
	expect((await ask({ do: 'write' })).status).toBe(200);
	// The folder itself put somewhere else.
	renameSync(folder, join(work, 'moved'));
	symlinkSync(outside, folder);
	expect((await edit('10')).status).toBe(200);
	const refused = await ask({ do: 'write' });
	expect([refused.status, (await refused.json()).message]).toEqual([
		422,
		expect.stringContaining('outside the folders')
	]);
	expect(readdirSync(outside)).toEqual([]);
	rmSync(folder);
	renameSync(join(work, 'moved'), folder);
	expect((await edit('11')).status).toBe(200);
	expect((await ask({ do: 'write' })).status).toBe(200);
});

test('written from many sides at once it is what my mod is, and stays free for the next', async () => {
	for (let round = 0; round < times(2, 30); round++) {
		const answers = await Promise.all(
			Array.from({ length: 12 }, (_, nth) =>
				nth % 3 === 0 ? edit(String(12 + nth + round * 3)) : ask({ do: 'write' })
			)
		);
		for (const answer of answers) expect([200, 422]).toContain(answer.status);
		expect((await ask({ do: 'write' })).status).toBe(200);
		expect(digestsBelow(folder)).toEqual(await mineOf(server.url, SLUG));
		expect(await outsidePlan()).toBeNull();
	}
});

/** A small disk (64 KB) in place of a folder; null where this user may mount none. */
function smallDisk(at: string): { readOnly(is: boolean): void; off(): void } | null {
	const mount = (...words: string[]) => spawnSync('mount', words).status === 0;
	if (!mount('-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', at)) return null;
	return {
		readOnly: (is) => expect(mount('-o', `remount,${is ? 'ro' : 'rw'}`, at)).toBe(true),
		// Whoever still looks into it keeps it until then; it is out of the tree at once.
		off: () => expect(spawnSync('umount', ['-l', at]).status).toBe(0)
	};
}

test('a disk that is full or read-only is told on the page; what was there stays whole, and then it goes on', async () => {
	const at = join(work, 'allowed/disk');
	mkdirSync(at);
	const disk = smallDisk(at);
	// Only root can mount a disk; everybody else is spared, since no folder can be made full for one process alone.
	if (!disk) return;
	try {
		expect((await ask({ do: 'link', folder: at, atOnce: false })).status).toBe(200);
		expect((await ask({ do: 'write' })).status).toBe(200);
		const before = digestsBelow(at);
		expect(before).toEqual(await mineOf(server.url, SLUG));
		for (let size = 32_768; size >= 1; size = Math.floor(size / 2))
			try {
				writeFileSync(join(at, `.fill_${size}`), Buffer.alloc(size, 1));
			} catch {
				rmSync(join(at, `.fill_${size}`), { force: true });
			}
		expect((await edit('14')).status).toBe(200);
		const full = await ask({ do: 'write' });
		expect([full.status, (await full.json()).message]).toEqual([422, expect.stringMatching(/is full/)]);
		expect(await page()).toMatch(/is full/);
		for (const [path, digest] of Object.entries(before)) expect(digestsBelow(at)[path]).toBe(digest);
		for (const name of readdirSync(at)) if (name.startsWith('.fill_')) rmSync(join(at, name));
		disk.readOnly(true);
		const refused = await ask({ do: 'write' });
		expect([refused.status, (await refused.json()).message]).toEqual([
			422,
			expect.stringMatching(/read-only/)
		]);
		expect(await page()).toMatch(/read-only/);
		expect(digestsBelow(at)).toEqual(before);
		disk.readOnly(false);
		expect(await (await ask({ do: 'write' })).json()).toEqual({ files: 1 });
		expect(digestsBelow(at)).toEqual(await mineOf(server.url, SLUG));
		expect(await page()).not.toMatch(/read-only|is full/);
	} finally {
		await ask({ do: 'unlink' });
		disk.off();
	}
});
