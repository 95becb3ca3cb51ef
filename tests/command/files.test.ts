// The file system storey: sources that are safe to read, and writing that is all or nothing.
import {
	appendFileSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	symlinkSync,
	truncateSync,
	utimesSync,
	writeFileSync
} from 'node:fs';
import { createHash } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeEach, describe, expect, test } from 'vitest';
import {
	guideBeside,
	LIMITS,
	openFolder,
	openSource,
	openZip,
	readAll,
	readWhole,
	SourceFault,
	writeAtomic,
	writeTree
} from '../../src/lib/files';

const work = mkdtempSync(join(tmpdir(), 'kettle-files-'));
let place = '';

beforeEach(() => {
	place = mkdtempSync(join(work, 't-'));
});
afterAll(() => rmSync(work, { recursive: true }));

const put = (path: string, text: string | Uint8Array) => {
	mkdirSync(join(place, path, '..'), { recursive: true });
	writeFileSync(join(place, path), text);
	return join(place, path);
};
const small = { ...LIMITS, path: 20, files: 3, total: 1000, opened: 100 };

describe('a folder', () => {
	test('gives its files in order, with digests', async () => {
		put('b.tsv', 'id\n');
		put('a/c.ini', '[x]\n');
		put('.git/config', 'not part of a game');
		const source = await openFolder(place);
		expect(source.entries).toEqual([
			{ path: 'a/c.ini', size: 4 },
			{ path: 'b.tsv', size: 3 }
		]);
		expect(source.bytes).toBe(7);
		const file = await source.read(source.entries[1]!);
		expect(file.sha256).toBe(createHash('sha256').update('id\n').digest('hex'));
	});

	test('is left by no link', async () => {
		put('outside/secret.tsv', 'id\n');
		put('inside/own.tsv', 'id\n');
		symlinkSync(join(place, 'outside/secret.tsv'), join(place, 'inside/file.tsv'));
		symlinkSync(join(place, 'outside'), join(place, 'inside/folder'));
		symlinkSync(join(place, 'inside/own.tsv'), join(place, 'inside/same.tsv'));
		const source = await openFolder(join(place, 'inside'));
		expect(source.entries.map((entry) => entry.path)).toEqual(['own.tsv', 'same.tsv']);
	});

	test('beyond a limit is refused with the limit in words', async () => {
		put('a-name-that-is-too-long.tsv', 'x');
		await expect(openFolder(place, small)).rejects.toThrow(/27 characters; the limit is 20/);
		rmSync(join(place, 'a-name-that-is-too-long.tsv'));
		for (const name of ['a', 'b', 'c', 'd']) put(name, 'x');
		await expect(openFolder(place, small)).rejects.toThrow(/There are 4 files; at most 3/);
		rmSync(join(place, 'd'));
		truncateSync(put('a', ''), 5000);
		await expect(openFolder(place, small)).rejects.toThrow(SourceFault);
		await expect(openFolder(join(place, 'none'))).rejects.toThrow(/There is no folder/);
	});

	test('keeps a large file by digest, without its bytes', async () => {
		put('big.tsv', 'x'.repeat(200));
		const source = await openFolder(place, small);
		const file = await source.read(source.entries[0]!);
		expect(file).toMatchObject({
			bytes: null,
			size: 200,
			sha256: createHash('sha256').update('x'.repeat(200)).digest('hex')
		});
		expect((await readAll(source)).size).toBe(0);
	});
});

describe('an archive', () => {
	const zip = (files: Record<string, string>) =>
		put(
			'some.zip',
			zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])))
		);

	test('reads like its folder, without a folder around everything', async () => {
		const files = await readAll(await openSource(zip({ 'game/a.tsv': 'id\n', 'game/b/c.ini': '[x]\n' })));
		expect([...files].map(([path, bytes]) => [path, new TextDecoder().decode(bytes)])).toEqual([
			['a.tsv', 'id\n'],
			['b/c.ini', '[x]\n']
		]);
	});

	test('that unpacks beyond the limit is refused before it is unpacked', async () => {
		await expect(openZip(zip({ 'a.tsv': '0'.repeat(5000) }), small)).rejects.toThrow(/Unpacked, this is/);
	});

	test('that is damaged inside is refused where it is read', async () => {
		const path = zip({ 'a.tsv': Array.from({ length: 500 }, (_, at) => `row ${at * at}`).join('\n') });
		const bytes = readFileSync(path);
		bytes.fill(0xff, 60, 120);
		writeFileSync(path, bytes);
		await expect(readAll(await openZip(path))).rejects.toThrow(/a\.tsv cannot be unpacked/);
	});

	test('that is none, or empty, or cut off, is said to be so', async () => {
		await expect(openSource(put('text.zip', 'just text'))).rejects.toThrow(/not a ZIP file/);
		await expect(openSource(put('empty.zip', ''))).rejects.toThrow(/empty/);
		const whole = readFileSync(zip({ 'a.tsv': 'id\n' }));
		await expect(openSource(put('cut.zip', whole.subarray(0, whole.length - 8)))).rejects.toThrow(
			/damaged or not a ZIP/
		);
	});
});

describe('writing', () => {
	test('a file leaves nothing half-written beside it', async () => {
		const path = put('a.txt', 'old');
		await writeAtomic(path, strToU8('new'));
		expect([readFileSync(path, 'utf8'), readdirSync(place)]).toEqual(['new', ['a.txt']]);
		await expect(writeAtomic(join(place, 'none/a.txt'), strToU8('x'))).rejects.toThrow();
	});

	test('a tree takes the place of the old one, whole', async () => {
		put('mod/old.tsv', 'x');
		await writeTree(join(place, 'mod'), new Map([['data/new.tsv', strToU8('id\n')]]));
		expect(existsSync(join(place, 'mod/old.tsv'))).toBe(false);
		expect(readFileSync(join(place, 'mod/data/new.tsv'), 'utf8')).toBe('id\n');
		expect(readdirSync(place)).toEqual(['mod']);
	});
});

test('a guide that lies beside a folder under its name is found', async () => {
	put('game/a.tsv', 'id\n');
	expect(await guideBeside(join(place, 'game'))).toBeNull();
	put('game.guide.yaml', 'guide: 1\n');
	expect(await guideBeside(join(place, 'game/'))).toBe('guide: 1\n');
});

describe('a file that another program writes', () => {
	test('is read once nobody writes to it any more, and once only where nobody does', async () => {
		put('carts.tsv', 'id\tload\n');
		const path = join(place, 'carts.tsv');
		const source = await openFolder(place);
		const [entry] = source.entries;
		const now = 1_900_000_000;
		const left = ['hand\t4\n', 'pony\t5\n', 'dray\t6\n'];
		const whole = ['id\tload\n', ...left].join('');
		let reads = 0;
		/** A source whose file grows each time that it was read, as long as there is something to add. */
		const growing = {
			...source,
			async read(one: typeof entry & object) {
				const file = await source.read(one);
				reads++;
				const part = left.shift();
				if (part !== undefined) appendFileSync(path, part);
				utimesSync(path, now, part === undefined ? now - 3600 : now - 0.05);
				return file;
			}
		};
		const { bytes, sha256 } = await readWhole(growing, place, entry!, () => now * 1000);
		expect(new TextDecoder().decode(bytes!)).toBe(whole);
		expect(sha256).toBe(createHash('sha256').update(whole).digest('hex'));
		expect(reads).toBe(4);
		// Written long ago, and again by a clock that is ahead.
		for (const time of [now - 60, now + 60]) {
			const counted = { ...source, read: (one: typeof entry & object) => (reads++, source.read(one)) };
			utimesSync(path, now, time);
			reads = 0;
			expect((await readWhole(counted, place, entry!, () => now * 1000)).sha256).toBe(sha256);
			expect(reads).toBe(1);
		}
		source.close();
	});
});
