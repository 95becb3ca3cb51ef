// `npm run bench games [-- DIR…]`: any folders with games, of whatever make. A folder is a game, holds one in `base`, or
// holds several such; without one, the open data sets of the tests and data of our own in other shapes, small and large.
import { spawn } from 'node:child_process';
import {
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	rmSync,
	writeFileSync
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { EMPTY_GUIDE } from '$core/guide';
import { createPool } from '$core/facts';
import { buildLinks } from '$core/links';
import { assembleStack, guideWith, loadLayer } from '$core/model';
import { buildIndex, search } from '$core/search';
import { openFolder, readAll } from '../src/lib/files';
import { freePort, startPostgres } from '../scripts/postgres.mjs';
import { startApp, untilReady } from '../scripts/serve.mjs';
import { random } from './game';
import { median, timed } from './said';
import { shapes } from './shapes';

const work = mkdtempSync(join(tmpdir(), 'kettle-games-'));
const empty = join(work, 'empty');
mkdirSync(empty);
const root = process.cwd();
const share = (list: number[], part: number) =>
	[...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))]!;

interface Game {
	name: string;
	folder: string;
}

/** The games in a folder. */
function gamesIn(folder: string): Game[] {
	if (existsSync(join(folder, 'base'))) return [{ name: basename(folder), folder: join(folder, 'base') }];
	const below = readdirSync(folder).filter((name) => existsSync(join(folder, name, 'base')));
	return below.length > 0
		? below.map((name) => ({ name, folder: join(folder, name, 'base') }))
		: [{ name: basename(folder), folder }];
}

/** What there is without any folder: open data sets, and our own in other shapes at two sizes. */
function ownGames(): Game[] {
	const made = [1, 10].map((scale): Game => {
		const folder = join(work, `scale-${scale}`, 'shapes');
		for (const [path, text] of shapes(scale)) {
			mkdirSync(dirname(join(folder, path)), { recursive: true });
			writeFileSync(join(folder, path), text);
		}
		return { name: 'shapes', folder };
	});
	const open = ['world-countries/dist', 'cldr-core', 'mdn-data/css', 'unicode-emoji-json'];
	return [...open.map((name) => ({ name, folder: join(root, 'node_modules', name) })), ...made];
}

/** Seconds of processor time that the machine's host gave to others instead of this machine, since it was started. */
function withheldSoFar(): number {
	const [, , , , , , , , steal] = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0]!.split(/\s+/);
	return Number(steal ?? 0) / 100;
}

/**
 * The whole check from the command, with a mod that is empty: seconds, of these those of processor time, seconds that
 * the host withheld meanwhile (over all processors), and megabytes at the peak.
 */
const wholeCheck = (folder: string) =>
	new Promise<{ seconds: number; busy: number; withheld: number; megabytes: number; said: string }>(
		(done) => {
			const [started, before] = [performance.now(), withheldSoFar()];
			const child = spawn('env', [
				// As the command starts it.
				...readFileSync(join(root, 'scripts/engine.txt'), 'utf8').trim().split(' '),
				join(root, 'build/cli.js'),
				'check',
				'--game',
				folder,
				'--mod',
				empty
			]);
			let [said, megabytes, busy] = ['', 0, 0];
			child.stdout.on('data', (data: Buffer) => (said += data.toString()));
			const look = setInterval(() => {
				try {
					const status = readFileSync(`/proc/${child.pid}/status`, 'utf8');
					megabytes = Math.max(megabytes, Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
					// Behind the name, which is in brackets and may hold blanks.
					const stat = readFileSync(`/proc/${child.pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
					busy = Math.max(busy, (Number(stat[11]) + Number(stat[12])) / 100);
				} catch {
					// It has just ended.
				}
			}, 20);
			child.on('close', () => {
				clearInterval(look);
				done({
					seconds: (performance.now() - started) / 1000,
					busy,
					withheld: withheldSoFar() - before,
					megabytes,
					said: said.trim().split('\n').at(-1) ?? ''
				});
			});
		}
	);

/** Tells by how much a timer was late at most, in a process that does nothing else: what the machine alone costs. */
const IDLE = `
	let [last, most] = [performance.now(), 0];
	setInterval(() => {
		const now = performance.now();
		most = Math.max(most, now - last - 5);
		last = now;
	}, 5);
	process.stdin.resume().on('end', () => process.stdout.write(String(most), () => process.exit()));
`;

/** Begins to watch a process that does nothing; what is given ends it, and gives how late it was at most (ms). */
function watchIdle(): () => Promise<number> {
	const child = spawn(process.execPath, ['-e', IDLE]);
	let said = '';
	child.stdout.on('data', (data: Buffer) => (said += data.toString()));
	const ended = new Promise((done) => child.once('close', done));
	return async () => {
		child.stdin.end();
		await ended;
		return Number(said);
	};
}

/**
 * Seconds until a game that is brought in shows its tables, what other requests waited meanwhile (ms), and how long at
 * most a process that does nothing was kept from running (ms).
 */
async function opening(folder: string): Promise<{ seconds: number; others: number[]; idle: number }> {
	const home = mkdtempSync(join(work, 'home-'));
	const database = await startPostgres(home, { throwaway: true });
	const port = await freePort();
	const app = startApp({ url: database.url, home, port, demo: false, roots: dirname(folder) });
	const base = `http://127.0.0.1:${port}`;
	try {
		await untilReady(port, app);
		const answer = await fetch(`${base}/api/import`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: base },
			body: JSON.stringify({ title: 'Game', folder })
		});
		const { id } = (await answer.json()) as { id: string };
		let project: string | null = null;
		while (project === null) {
			const state = (await (await fetch(`${base}/imports/${id}`)).json()) as {
				state: string;
				project: string;
				message: string;
			};
			if (state.state === 'failed') throw new Error(state.message);
			if (state.state === 'done') project = state.project;
			else await wait(50);
		}
		const others: number[] = [];
		let open = false;
		const idle = watchIdle();
		const meanwhile = (async () => {
			while (!open) {
				const asked = performance.now();
				await (await fetch(`${base}/imports/${id}`)).text();
				others.push(performance.now() - asked);
				await wait(20);
			}
		})();
		const started = performance.now();
		// Whoever waits longer is led to a page that says how far it is.
		for (;;) {
			const page = await fetch(`${base}/p/${project}/tables`);
			await page.text();
			if (!page.url.includes('/opening/')) break;
			await wait(20);
		}
		const seconds = (performance.now() - started) / 1000;
		open = true;
		await meanwhile;
		return { seconds, others, idle: await idle() };
	} finally {
		const ended = new Promise((done) => app.once('exit', done));
		app.kill('SIGTERM');
		await ended;
		await database.stop();
	}
}

/** Words that are in ids and values, for a search: whole ones, parts, and with a slip. */
function questions(texts: readonly string[]): string[] {
	const next = random(7);
	const words = texts.filter((text) => /^[\p{L}_]{4,40}$/u.test(text));
	return Array.from({ length: 100 }, (_, nth) => {
		const word = words[Math.floor(next() * words.length)] ?? 'nothing';
		return nth % 3 === 0 ? word : nth % 3 === 1 ? word.slice(0, 5) : word.slice(0, 3) + word.slice(4);
	});
}

const TURNS = 15;

/**
 * Milliseconds for reading all files and for understanding what was read: the medians of some turns where both are soon
 * done, for what a game of half a megabyte takes the first time is mostly code that runs the first time. As many turns
 * on a slow machine as on a fast one.
 */
function readAndUnderstood(files: ReadonlyMap<string, Uint8Array>) {
	const [readings, understandings]: [number[], number[]] = [[], []];
	let spent = 0;
	do {
		const about = { id: 'game', title: 'Game', owner: 'game' as const };
		const [layer, reading] = timed(() => loadLayer(about, files, { guide: EMPTY_GUIDE, pool: createPool() }));
		const [, understanding] = timed(() => guideWith(EMPTY_GUIDE, layer));
		readings.push(reading);
		understandings.push(understanding);
		spent += reading + understanding;
	} while (spent < 1000 || (readings.length < TURNS && spent < 5000));
	return { reading: median(readings), understanding: median(understandings) };
}

/** How often the command is run: one run of seconds is at the mercy of who else is on the machine. */
const CHECKS = 3;

/** The check in the middle of several by its time, with the most memory that any of them took. */
async function checked(folder: string) {
	const all = [];
	for (let nth = 0; nth < CHECKS; nth++) all.push(await wholeCheck(folder));
	const middle = all.toSorted((a, b) => a.seconds - b.seconds)[CHECKS >> 1]!;
	return { ...middle, megabytes: Math.max(...all.map(({ megabytes }) => megabytes)) };
}

async function measure({ folder }: Game) {
	const files = await readAll(await openFolder(folder));
	const bytes = [...files.values()].reduce((sum, one) => sum + one.length, 0) / 2 ** 20;
	const about = { id: 'game', title: 'Game', owner: 'game' as const };
	const { reading, understanding } = readAndUnderstood(files);
	const stack = assembleStack([{ ...about, files }], EMPTY_GUIDE);
	const index = buildIndex(stack, buildLinks(stack));
	const texts = [...stack.tables.values()].flatMap((table) =>
		Array.from(table.rows.ids.subarray(0, 400), (id) => stack.pool.at(id))
	);
	const finds = questions(texts).map((query) => timed(() => search(index, query))[1]);
	const kinds = Object.keys(stack.guide.kinds).length;
	const check = await checked(folder);
	const open = await opening(folder);
	return { bytes, kinds, reading, understanding, finds, check, open };
}

const COLUMNS = [
	'MB',
	'kinds',
	'check s',
	'≤ 0.5/MB + 3',
	'busy s',
	'withheld s',
	'memory MB',
	'reading s',
	'understood s',
	'≤ 3 ×',
	'Find ms',
	'95th',
	'opened s',
	'others ms',
	'idle ms'
];
const print = (name: string, cells: string[]) =>
	console.log(`${name.padEnd(22)}${cells.map((cell) => cell.padStart(13)).join('')}`);
print('', COLUMNS);
const seconds = new Map<string, { bytes: number; seconds: number }[]>();
const games = process.argv
	.slice(2)
	.filter((word) => word !== '--')
	.flatMap((folder) => gamesIn(resolve(folder)));
try {
	for (const game of games.length > 0 ? games : ownGames()) {
		const { bytes, kinds, reading, understanding, finds, check, open } = await measure(game);
		seconds.set(game.name, [...(seconds.get(game.name) ?? []), { bytes, seconds: check.seconds }]);
		print(game.name, [
			bytes.toFixed(2),
			String(kinds),
			check.seconds.toFixed(1),
			(bytes * 0.5 + 3).toFixed(1),
			check.busy.toFixed(1),
			check.withheld.toFixed(1),
			check.megabytes.toFixed(0),
			(reading / 1000).toFixed(2),
			(understanding / 1000).toFixed(2),
			(understanding / reading).toFixed(1),
			median(finds).toFixed(1),
			share(finds, 0.95).toFixed(1),
			open.seconds.toFixed(2),
			share(open.others, 1).toFixed(0),
			open.idle.toFixed(0)
		]);
		if (!/^0 block, 0 warn/.test(check.said)) console.log(`  an empty mod: ${check.said}`);
	}
	for (const [name, [small, large]] of seconds)
		if (small && large)
			console.log(
				`${name}: ${(large.bytes / small.bytes).toFixed(1)} times the bytes, ${(large.seconds / small.seconds).toFixed(1)} times as long (at most 12)`
			);
} finally {
	rmSync(work, { recursive: true, force: true });
}
