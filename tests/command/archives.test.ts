// Archives in a game are looked into by what they are, whatever their names say.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { strToU8, zipSync } from 'fflate';
import { afterAll, expect, test } from 'vitest';
import { digestOf } from '$core/text';
import { openFolder, readAll } from '../../src/lib/files';
import { tape } from '../tape';

const work = mkdtempSync(join(tmpdir(), 'kettle-archives-'));
afterAll(() => rmSync(work, { recursive: true }));

async function filesOf(name: string, content: Record<string, Uint8Array>): Promise<Record<string, string>> {
	const folder = join(work, name);
	mkdirSync(folder);
	for (const [path, bytes] of Object.entries(content)) writeFileSync(join(folder, path), bytes);
	const found = await readAll(await openFolder(folder));
	// Read one by one, with what they are known by, they are the same.
	const again = await openFolder(folder);
	for (const entry of again.entries) {
		const { bytes, sha256 } = await again.read(entry);
		expect(bytes).toEqual(found.get(entry.path));
		expect(sha256).toBe(digestOf(bytes!));
	}
	again.close();
	return Object.fromEntries([...found].map(([path, bytes]) => [path, new TextDecoder().decode(bytes)]));
}

test('of any sort, under any name, and packed in each other', async () => {
	const boats = { 'boats/one.txt': 'one', 'boats/two.txt': 'two' };
	const zip = zipSync({ 'a/boats.txt': strToU8('afloat') });
	expect(
		await filesOf('all', {
			'harbour.hold': await tape(boats),
			'quay.crate': zip,
			'packed.tgz': gzipSync(await tape({ 'deep.txt': 'deep' })),
			'nest.box': zipSync({ 'inner.cask': zip, 'plain.txt': strToU8('plain') }),
			'words.txt': strToU8('PK\x03\x04 is how one begins, and this is none')
		})
	).toEqual({
		'harbour.hold/boats/one.txt': 'one',
		'harbour.hold/boats/two.txt': 'two',
		'quay.crate/a/boats.txt': 'afloat',
		'packed.tgz/deep.txt': 'deep',
		'nest.box/inner.cask/a/boats.txt': 'afloat',
		'nest.box/plain.txt': 'plain',
		'words.txt': 'PK\x03\x04 is how one begins, and this is none'
	});
});

test('what is damaged, or leads out of it, is a file like any other, or left out', async () => {
	const whole = await tape({ 'one.txt': 'one', '../out.txt': 'out', '/root.txt': 'root' });
	const cut = whole.subarray(0, 700);
	const found = await filesOf('odd', {
		'whole.hold': whole,
		'cut.hold': cut,
		'no.gz.pack': Uint8Array.of(0x1f, 0x8b, 1, 2, 3, ...new Array<number>(30).fill(7))
	});
	expect(Object.keys(found).sort()).toEqual(['cut.hold', 'no.gz.pack', 'whole.hold/one.txt']);
});
