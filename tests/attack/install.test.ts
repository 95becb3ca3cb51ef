// A mod over a game's own files and within its archives: killed, on a full disk, and with others writing there, the
// game's folder has the old state or the new one, and what was there before can always be had again.
import { spawnSync } from 'node:child_process';
import {
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	symlinkSync,
	writeFileSync
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, afterEach, expect, test } from 'vitest';
import { install, installedOn, recover, remove, verify, type Place } from '../../src/lib/files';
import { repacked } from '../../src/lib/files/repack';
import { openFolder, readAll } from '../../src/lib/files';
import { kettle, root } from '../command/kettle';
import { AT_LENGTH } from '../runs';
import { tape } from '../tape';
import { digestsBelow, randomFrom } from './helpers';

const work = mkdtempSync(join(tmpdir(), 'kettle-install-'));
afterAll(() => rmSync(work, { recursive: true }));
afterEach(() => {
	delete process.env.KETTLE_FAIL;
});
let nth = 0;

function write(folder: string, files: Record<string, string | Uint8Array>): void {
	for (const [path, bytes] of Object.entries(files)) {
		mkdirSync(dirname(join(folder, path)), { recursive: true });
		writeFileSync(join(folder, path), bytes);
	}
}

/** A game with files of its own, two archives that hold the same, and one of another sort. */
async function makeGame(at = join(work, `game-${nth++}`)): Promise<string> {
	const held = {
		'boats/a.txt': strToU8('a'.repeat(3000)),
		'boats/b.txt': strToU8('bee'),
		'c.bin': Uint8Array.of(1, 2, 3)
	};
	write(at, {
		'data/vessels.tsv': `id\tspeed\n${Array.from({ length: 60 }, (_, row) => `v${row}\t${row * 7}\n`).join('')}`,
		'data/engines.tsv': 'id\nx\n',
		'words/en.txt': 'hello',
		'hold.zip': zipSync(held, { mtime: new Date(2001, 1, 1) }),
		'spare/hold.zip': zipSync(held, { level: 0, mtime: new Date(2002, 1, 1) }),
		'quay.box': await tape({ 'q/one.txt': 'one', 'q/two.txt': 'two' }),
		'on.txt': '# mods\nother\n'
	});
	return at;
}

const placeIn = (folder: string): Place => ({
	folder,
	mod: '.',
	over: true,
	twins: [['hold.zip', 'spare/hold.zip']],
	order: 'on.txt',
	listed: 'lines',
	name: 'mine'
});
const OVER = new Map(
	Object.entries({
		'data/vessels.tsv': 'id\tspeed\nv0\t99\n',
		'data/new/more.tsv': 'id\nfresh\n',
		'hold.zip/boats/a.txt': 'changed',
		'hold.zip/boats/new.txt': 'new',
		'quay.box/q/two.txt': 'two and more'
	}).map(([path, text]) => [path, strToU8(text)] as const)
);

/** What a game holds, archives looked into. */
async function within(folder: string): Promise<Record<string, string>> {
	const found = await readAll(await openFolder(folder));
	return Object.fromEntries(
		[...found].map(([path, bytes]) => [path, new TextDecoder('latin1').decode(bytes)])
	);
}

test('over the game’s own files and in its archives: all else is as it was, twins follow, and it all comes back', async () => {
	const game = await makeGame();
	const [before, inside] = [digestsBelow(game), await within(game)];
	const shelf = join(work, `shelf-${nth++}`);
	const state = await install(shelf, placeIn(game), new Set(['data/vessels.tsv']), OVER);
	expect(await within(game)).toEqual({
		...inside,
		...Object.fromEntries([...OVER].map(([path, bytes]) => [path, new TextDecoder().decode(bytes)])),
		'spare/hold.zip/boats/a.txt': 'changed',
		'spare/hold.zip/boats/new.txt': 'new',
		'on.txt': '# mods\nother\nmine\n'
	});
	expect((await verify(state)).every((file) => file.state === 'whole')).toBe(true);
	// Another state of the mod: what it no longer has is the game's again.
	await install(shelf, placeIn(game), new Set(), new Map([['words/en.txt', strToU8('ahoy')]]));
	expect(await within(game)).toEqual({
		...inside,
		'words/en.txt': 'ahoy',
		'on.txt': '# mods\nother\nmine\n'
	});
	expect(existsSync(join(game, 'data/new'))).toBe(false);
	const removed = (await remove(shelf))!;
	expect(removed.proof.map(({ path }) => path)).toEqual(['words/en.txt', 'on.txt']);
	expect(removed.proof.every((one) => one.before === one.now)).toBe(true);
	expect(digestsBelow(game)).toEqual(before);
	expect(existsSync(join(game, '.kettle-coming'))).toBe(false);
});

test('caches of the game go while a mod is installed, and come back; what the game made anew meanwhile is kept aside', async () => {
	const game = join(work, 'cached');
	write(game, {
		'data/a.txt': 'one',
		'cache/a.bin': 'made of one',
		'cache/deep/b.bin': 'made of one',
		'index.bin': 'made of one'
	});
	const before = digestsBelow(game);
	const shelf = join(work, 'cached-shelf');
	const place = { ...placeIn(game), order: null, twins: [], caches: ['cache', 'index.bin', 'not-there'] };
	const mod = (text: string) => new Map([['data/a.txt', strToU8(text)]]);
	const made = (text: string) =>
		write(game, { 'cache/a.bin': text, 'cache/new.bin': text, 'index.bin': text, 'not-there': text });
	const state = await install(shelf, place, new Set(), mod('two'));
	expect(await within(game)).toEqual({ 'data/a.txt': 'two' });
	made('made of two');
	expect((await verify(state)).filter((file) => file.state !== 'whole')).toEqual([]);
	// Another state of the mod: what the game made of the one before goes, too.
	await install(shelf, place, new Set(), mod('three'));
	expect(await within(game)).toEqual({ 'data/a.txt': 'three' });
	made('made of three');
	const removed = (await remove(shelf))!;
	expect(digestsBelow(game)).toEqual(before);
	expect(removed.proof.every((one) => one.before === one.now)).toBe(true);
	expect(readFileSync(join(removed.backup, 'changed/cache/new.bin'), 'utf8')).toBe('made of two');
	expect(readFileSync(join(removed.backup, 'changed/cache/new.bin.1'), 'utf8')).toBe('made of three');
});

test('law: of an archive, the entries that were not named keep their bytes, the others have theirs', async () => {
	const name = fc.stringMatching(/^[a-z]{1,8}(?:\/[a-zé]{1,8}){0,2}$/);
	const bytes = fc.uint8Array({ maxLength: 600 });
	const files = fc.dictionary(name, bytes, { minKeys: 1, maxKeys: 8 }).filter((made) => {
		const names = Object.keys(made);
		return !names.some((one) => names.some((other) => other.startsWith(`${one}/`)));
	});
	await fc.assert(
		fc.asyncProperty(
			files,
			fc.array(bytes, { maxLength: 3 }),
			bytes,
			fc.boolean(),
			async (held, fresh, added, zip) => {
				const texts = Object.fromEntries(Object.entries(held).map(([path, one]) => [path, Buffer.from(one)]));
				const archive = zip ? Buffer.from(zipSync(held)) : await tape(texts as never);
				const changes = new Map(
					fresh.map((one, at) => [Object.keys(held)[at % Object.keys(held).length]!, one])
				);
				changes.set('added.txt', added);
				const made = Buffer.from(await repacked('x', archive, changes));
				const folder = mkdtempSync(join(work, 'law-'));
				writeFileSync(join(folder, 'x'), made);
				const found = await readAll(await openFolder(folder));
				const expected = new Map([...Object.entries(held), ...changes]);
				expect([...found.keys()].sort()).toEqual([...expected.keys()].map((path) => `x/${path}`).sort());
				for (const [path, one] of expected)
					expect(Buffer.from(found.get(`x/${path}`)!).equals(Buffer.from(one))).toBe(true);
				if (zip) expect(Object.keys(unzipSync(made)).sort()).toEqual([...expected.keys()].sort());
				// An entry that stays is packed as it was.
				const packed = (all: Buffer) => {
					const kept: string[] = [];
					const filter = ({
						name: path,
						size,
						compression
					}: {
						name: string;
						size: number;
						compression: number;
					}) => (changes.has(path) ? false : kept.push(`${path} ${size} ${compression}`) === 0);
					unzipSync(all, { filter });
					return kept;
				};
				if (zip) expect(packed(made)).toEqual(packed(archive));
				expect(Buffer.from(await repacked('x', archive, changes)).equals(made)).toBe(true);
				rmSync(folder, { recursive: true });
			}
		),
		{ numRuns: AT_LENGTH ? 400 : 60 }
	);
});

const TARGET_GUIDE = `guide: 1
install:
  folder: .
  over: true
  twins: [[hold.zip, spare/hold.zip]]
  order: on.txt
  listed: lines
`;

/** A game with its guide beside it, and a pack. */
async function madeFor(
	name: string
): Promise<{ game: string; args: string[]; home: string; before: object; after: object }> {
	const base = join(work, name);
	const game = await makeGame(join(base, 'game'));
	writeFileSync(join(base, 'game.guide.yaml'), TARGET_GUIDE);
	write(join(base, 'mine'), Object.fromEntries(OVER));
	const home = join(base, 'home');
	process.env.KETTLE_HOME = home;
	const args = ['--target', game, '--pack', join(base, 'mine')];
	const before = digestsBelow(game);
	expect((await kettle('install', ...args)).status).toBe(0);
	const after = digestsBelow(game);
	expect((await kettle('verify', ...args)).status).toBe(0);
	expect((await kettle('remove', ...args)).status).toBe(0);
	expect(digestsBelow(game)).toEqual(before);
	return { game, args, home, before, after };
}

const PLACES = [
	'before-backup',
	'before-rename',
	'after-backup',
	'written-down',
	...Array.from({ length: 6 }, (_, at) => `moved:${at + 1}`),
	'all-moved',
	'before-note',
	'after-note'
];

const ROUNDS = AT_LENGTH ? 100 : 12;

test(`killed ${ROUNDS} times in the middle of an installation or a removal: the old state or the new one`, async () => {
	const { game, args, home, before, after } = await madeFor('killed');
	const random = randomFrom(Number(process.env.ATTACK_SEED ?? 11));
	const outcomes = new Set<string>();
	for (let round = 0; round < ROUNDS; round++) {
		const state = JSON.stringify(digestsBelow(game));
		const isIn = state === JSON.stringify(after);
		expect(isIn || state === JSON.stringify(before)).toBe(true);
		const place = PLACES[Math.floor(random() * PLACES.length)]!;
		const killed = spawnSync(
			process.execPath,
			[join(root, 'build/cli.js'), isIn ? 'remove' : 'install', ...args],
			{
				env: { ...process.env, KETTLE_FAIL: place, KETTLE_HOME: home }
			}
		);
		// The next call finishes it or takes it back.
		const verified = await kettle('verify', ...args);
		const now = digestsBelow(game);
		expect([before, after], `${place} ${killed.signal}`).toContainEqual(now);
		expect(verified.status).toBe(JSON.stringify(now) === JSON.stringify(after) ? 0 : 1);
		outcomes.add(`${isIn ? 'remove' : 'install'} ${killed.signal !== null} ${verified.status}`);
	}
	await kettle('remove', ...args);
	expect(digestsBelow(game)).toEqual(before);
	// Both ways were killed, with either end.
	expect([...outcomes].filter((one) => one.includes('true')).length).toBeGreaterThan(2);
});

test('a disk that fails at any place: either all of it or nothing, with a word, and then it goes on', async () => {
	const { game, args, before, after } = await madeFor('failing');
	const end = async (place: string, code: string, call: 'install' | 'remove') => {
		process.env.KETTLE_FAIL = `${place.includes(':') ? place : `${place}:1`}:${code}`;
		const done = await kettle(call, ...args);
		delete process.env.KETTLE_FAIL;
		// Where it failed behind the last file, the next call finishes it.
		if (done.status !== 0) await kettle('verify', ...args);
		expect([before, after], place).toContainEqual(digestsBelow(game));
		if (done.status !== 0) expect(done.said, place).toMatch(/full|permission|read-only/);
		expect(existsSync(join(game, '.kettle-coming'))).toBe(false);
	};
	for (const [at, place] of PLACES.entries()) {
		const code = ['ENOSPC', 'EACCES', 'EROFS'][at % 3]!;
		await end(place, code, 'install');
		await kettle('install', ...args);
		expect(digestsBelow(game), place).toEqual(after);
		await end(place, code, 'remove');
		await kettle('remove', ...args);
		expect(digestsBelow(game), place).toEqual(before);
	}
});

test('a small disk with less and less room: never half of it', async () => {
	const at = join(work, 'disk');
	mkdirSync(at);
	// Only root can mount a disk; the test before has every other user's part.
	if (spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=200k', 'tmpfs', at]).status !== 0) return;
	try {
		const { game, args, before, after } = await madeFor('disk/there');
		let refused = 0;
		for (let room = 0; room < 20; room++) {
			const filler = join(at, 'filler');
			const free = Number(/(\d+) +\d+% /.exec(spawnSync('df', ['-k', at]).stdout.toString())?.[1]) * 1024;
			writeFileSync(filler, Buffer.alloc(Math.max(0, free - room * 4096), 1));
			const done = await kettle('install', ...args);
			if (done.status !== 0) refused++;
			expect(digestsBelow(game)).toEqual(done.status === 0 ? after : before);
			rmSync(filler);
			if (done.status === 0) await kettle('remove', ...args);
			expect(digestsBelow(game)).toEqual(before);
			rmSync(join(at, 'there/home'), { recursive: true, force: true });
		}
		expect(refused).toBeGreaterThan(2);
	} finally {
		expect(spawnSync('umount', ['-l', at]).status).toBe(0);
	}
});

test('20 programs that write there meanwhile: what they wrote is kept, what was there before comes back', async () => {
	const random = randomFrom(Number(process.env.ATTACK_SEED ?? 5));
	for (let round = 0; round < 20; round++) {
		const game = await makeGame();
		const before = digestsBelow(game);
		const shelf = join(work, `shelf-${nth++}`);
		const touched = ['data/vessels.tsv', 'data/new/more.tsv', 'hold.zip', 'quay.box', 'spare/hold.zip'];
		const path = touched[Math.floor(random() * touched.length)]!;
		const foreign = `of another program ${round}`;
		const way = Math.floor(random() * 4);
		const meddle = () => {
			rmSync(join(game, path), { recursive: true, force: true });
			if (way === 0) write(game, { [path]: foreign });
			if (way === 1) write(game, { [`${path}/in/it.txt`]: foreign });
			if (way === 2) symlinkSync('/etc/hostname', join(game, path));
		};
		if (round % 2 === 0) {
			// While it is installed.
			await install(shelf, placeIn(game), new Set(), OVER);
			mkdirSync(dirname(join(game, path)), { recursive: true });
			meddle();
		} else {
			// In the middle of the installation, between two files.
			process.env.KETTLE_FAIL = 'moved:1:EIO';
			const during = install(shelf, placeIn(game), new Set(), OVER).catch(() => null);
			await during;
			delete process.env.KETTLE_FAIL;
			expect(digestsBelow(game)).toEqual(before);
			await install(shelf, placeIn(game), new Set(), OVER);
			mkdirSync(dirname(join(game, path)), { recursive: true });
			meddle();
		}
		if (way === 1 || way === 2) {
			// Something that is no file stands there: told, and nothing is touched until it is gone.
			const there = digestsBelow(game);
			await expect(remove(shelf)).rejects.toThrow(/a folder|a link/);
			expect(digestsBelow(game)).toEqual(there);
			rmSync(join(game, path), { recursive: true });
		}
		const removed = (await remove(shelf))!;
		expect(digestsBelow(game)).toEqual(before);
		if (way === 0) {
			expect(removed.aside).toEqual([path]);
			expect(readFileSync(join(removed.backup, 'changed', path), 'utf8')).toBe(foreign);
		}
		expect(await installedOn(shelf)).toBeNull();
	}
});

test('others that write all the time while it is installed and removed: nothing of theirs is lost, all else is as it was', async () => {
	const game = await makeGame();
	const before = digestsBelow(game);
	const shelf = join(work, `shelf-${nth++}`);
	const wrote = new Set<string>();
	let going = true;
	const path = join(game, 'data/vessels.tsv');
	const other = (async () => {
		for (let count = 0; going; count++) {
			const text = `theirs ${count}`;
			writeFileSync(path, text);
			wrote.add(text);
			await new Promise((next) => setImmediate(next));
		}
	})();
	for (let round = 0; round < 5; round++) {
		await install(shelf, placeIn(game), new Set(), OVER).catch(() => null);
		await remove(shelf).catch(() => null);
	}
	going = false;
	await other;
	await recover(shelf);
	await remove(shelf);
	const now = digestsBelow(game);
	expect(wrote.has(readFileSync(path, 'utf8'))).toBe(true);
	expect({ ...now, 'data/vessels.tsv': '' }).toEqual({ ...before, 'data/vessels.tsv': '' });
});

test('a game that is running is noticed, and nothing is changed', async () => {
	const { game, args, before } = await madeFor('running');
	write(game, { 'bin/game.mjs': 'process.stdin.resume(); console.log("up");' });
	const { spawn } = await import('node:child_process');
	const running = spawn(process.execPath, [join(game, 'bin/game.mjs')], {
		stdio: ['pipe', 'pipe', 'ignore']
	});
	await new Promise((up) => running.stdout.once('data', up));
	try {
		const done = await kettle('install', ...args);
		expect(done.status).toBe(2);
		expect(done.said).toContain(`is running (process ${running.pid})`);
	} finally {
		running.stdin.end();
		await new Promise((ended) => running.once('exit', ended));
	}
	rmSync(join(game, 'bin'), { recursive: true });
	expect(digestsBelow(game)).toEqual(before);
	expect((await kettle('install', ...args)).status).toBe(0);
	expect(readdirSync(game)).not.toContain('.kettle-coming');
	expect((await kettle('remove', ...args)).status).toBe(0);
});
