// `npm run bench find`: a big made-up game brought in, searched and opened, beside plain parsers and grep in the same run.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { freePort, startPostgres } from '../scripts/postgres.mjs';
import { startApp, untilReady } from '../scripts/serve.mjs';
import { gameFiles, gameGuide, makeGame, random, type Game, type Thing } from './game';
import { REFERENCES } from './references';
import { openBrowser } from './browser';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);

const work = mkdtempSync(join(tmpdir(), 'kettle-bench-'));
const folder = join(work, 'skerry');
const next = random(11);
const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
const sorted = (list: number[]) => [...list].sort((a, b) => a - b);
const at = (list: number[], share: number) =>
	sorted(list)[Math.min(list.length - 1, Math.floor(list.length * share))]!;
const ms = (value: number) => (value < 10 ? value.toFixed(1) : value.toFixed(0));
const row = (what: string, said: string, limit = '') =>
	console.log(`${what.padEnd(44)} ${said.padEnd(46)} ${limit}`);

function writeGame(game: Game): { files: string[]; bytes: number } {
	const files: string[] = [];
	let bytes = 0;
	for (const { path, text } of gameFiles(game)) {
		mkdirSync(dirname(join(folder, path)), { recursive: true });
		writeFileSync(join(folder, path), text);
		files.push(path);
		bytes += Buffer.byteLength(text);
	}
	writeFileSync(`${folder}.guide.yaml`, gameGuide());
	return { files, bytes };
}

/** Milliseconds that the fastest common parser of each format needs for all files, one after another, reading included. */
function plainParsers(files: string[]): number {
	const started = performance.now();
	for (const path of files) {
		const ending = path.slice(path.lastIndexOf('.') + 1) as keyof typeof REFERENCES;
		const [reference] = REFERENCES[ending] ?? [];
		const text = readFileSync(join(folder, path), 'utf8');
		reference?.parse(text);
	}
	return performance.now() - started;
}

const memory = (pid: number, what: 'VmRSS' | 'VmHWM'): number => {
	try {
		const said = readFileSync(`/proc/${pid}/status`, 'utf8');
		return Number(new RegExp(`${what}:\\s+(\\d+)`).exec(said)?.[1] ?? 0) / 1024;
	} catch {
		return 0;
	}
};

/** The process and those it started. */
function family(pid: number): number[] {
	const said = execFileSync('ps', ['-e', '-o', 'pid=,ppid='], { encoding: 'utf8' });
	const pairs = said
		.trim()
		.split('\n')
		.map((line) => line.trim().split(/\s+/).map(Number));
	const all = [pid];
	for (const parent of all) for (const [child, of] of pairs) if (of === parent && child) all.push(child);
	return all;
}

/** A query, and the one word of it that grep can look for; null where it cannot. */
interface Question {
	query: string;
	grep: string | null;
}

const slip = (word: string) => word.slice(0, 3) + word.slice(4);

/** Two hundred queries of all sorts that people type. */
function questions(game: Game): Question[] {
	const named = [...game.things.vessel, ...game.things.engine, ...game.things.gear];
	const anything = Object.values(game.things).flat();
	const word = (thing: Thing) => thing.names.en!.split(' ')[1]!;
	const sorts: (() => Question)[] = [
		() => ({ query: pick(named).names.en!, grep: null }),
		() => ({ query: pick(named).names.de!.toUpperCase(), grep: null }),
		() => ({ query: pick(named).names.en!.split(' ').reverse().join(' '), grep: null }),
		() => {
			const name = word(pick(named));
			return { query: name, grep: name };
		},
		() => {
			const name = word(pick(named)).toLowerCase();
			return { query: name.slice(0, 4), grep: name.slice(0, 4) };
		},
		() => ({ query: slip(word(pick(named))), grep: null }),
		() => {
			const { id } = pick(anything);
			return { query: id, grep: id };
		},
		() => ({ query: String(Math.floor(next() * 900)), grep: null }),
		() => ({
			query: `${pick(['speed', 'hull', 'power', 'wage', 'depth'])} ${Math.floor(next() * 90)}`,
			grep: null
		}),
		() => {
			const about = String(pick(anything).values.about).split(' ').slice(3, 5);
			return { query: about.join(' '), grep: about[0]! };
		},
		() => ({ query: `${pick(['vessel', 'crew', 'hazard'])} ${word(pick(named))}`, grep: null }),
		() => ({ query: `on_alarm_${Math.floor(next() * 20)}`, grep: `on_alarm_${Math.floor(next() * 20)}` }),
		() => ({ query: pick(['raise_call', 'hold on', 'answers']), grep: 'raise_call' }),
		() => ({ query: `${String(Math.floor(next() * 90)).padStart(4, '0')}.tsv`, grep: null }),
		() => ({
			query: pick(['lifeboat', 'winch', 'bosun', 'Schlepper', 'turbine']),
			grep: pick(['lifeboat', 'winch'])
		})
	];
	return Array.from({ length: 200 }, (_, nth) => sorts[nth % sorts.length]!());
}

async function main(): Promise<void> {
	console.log(`A made-up game of ${RECORDS} records in about ${FILES} files`);
	const game = makeGame({ records: RECORDS, files: FILES });
	const { files, bytes } = writeGame(game);
	console.log(`${files.length} files, ${(bytes / 1e6).toFixed(1)} MB\n`);
	const parsers = plainParsers(files);
	const home = join(work, 'home');
	const database = await startPostgres(home);
	const port = await freePort();
	const app = startApp({ url: database.url, home, port, demo: false, roots: work });
	const base = `http://127.0.0.1:${port}`;
	const get = async (path: string) => {
		// A connection that the server closes just then is no answer: asked once more.
		const answer = await fetch(base + path).catch(() => fetch(base + path));
		const said = await answer.text();
		if (!answer.ok) throw new Error(`${path}: ${answer.status} ${said.slice(0, 200)}`);
		return said;
	};
	const post = async (path: string, body: unknown) =>
		(
			await fetch(base + path, {
				method: 'POST',
				headers: { 'content-type': 'application/json', origin: base },
				body: JSON.stringify(body)
			})
		).json() as Promise<{ id?: string; message?: string }>;
	const timed = async (work: () => Promise<unknown>) => {
		const started = performance.now();
		await work();
		return performance.now() - started;
	};
	const ended = async (id: string | undefined) => {
		for (;;) {
			const state = JSON.parse(await get(`/imports/${id}`)) as {
				state: string;
				message: string;
				project: string;
			};
			if (state.state === 'done') return state.project;
			if (!['waiting', 'working'].includes(state.state)) throw new Error(state.message);
			await wait(50);
		}
	};
	try {
		await untilReady(port, app);
		let peak = 0;
		const watcher = setInterval(() => {
			peak = Math.max(
				peak,
				family(app.pid!).reduce((sum, pid) => sum + memory(pid, 'VmRSS'), 0)
			);
		}, 250);

		let imported = 0;
		let slug = '';
		const searchable = await timed(async () => {
			imported = await timed(async () => {
				slug = await ended((await post('/api/import', { title: 'skerry', folder })).id);
			});
			await get(`/p/${slug}/api/find?q=cutter`);
		});
		clearInterval(watcher);
		row('plain parsers, reading included', `${ms(parsers)} ms`);
		row('import', `${ms(imported)} ms`);
		row(
			'import to fully searchable',
			`${ms(searchable)} ms, ${(searchable / parsers).toFixed(2)} times the parsers`,
			'at most 4 times'
		);
		row('peak of server and worker together', `${ms(peak)} MB`, 'under 3000 MB');

		await wait(6000);
		const changed = files.find((path) => path.endsWith('.ini'))!;
		writeFileSync(
			join(folder, changed),
			readFileSync(join(folder, changed), 'utf8').replace(/cost = \d+/, 'cost = 77777')
		);
		const layer = /"layer":"(\d+)"/.exec(await get(`/p/${slug}/api/find?q=cutter`))?.[1];
		const again = await timed(async () =>
			ended((await post(`/p/${slug}/api/layers`, { do: 'version', layer })).id)
		);
		const beside = JSON.parse(await get(`/p/${slug}/api/layers`)) as { id: string }[];
		const used = await timed(async () => {
			await post(`/p/${slug}/api/layers`, { do: 'use', layer: beside[0]!.id });
			const found = JSON.parse(await get(`/p/${slug}/api/find?q=77777`)) as { total: number };
			if (found.total !== 1) throw new Error(`the changed value is found ${found.total} times`);
		});
		row('second import, one changed file', `${ms(again)} ms`, 'under 3000 ms');
		row('and the new version in the stack, searchable', `${ms(used)} ms`);

		const asked = questions(game);
		for (const { query } of asked.slice(0, 30))
			await get(`/p/${slug}/api/find?q=${encodeURIComponent(query)}`);
		const times: number[] = [];
		const server: number[] = [];
		for (const { query } of asked)
			times.push(
				await timed(async () => {
					const said = JSON.parse(await get(`/p/${slug}/api/find?q=${encodeURIComponent(query)}`)) as {
						milliseconds: number;
					};
					server.push(said.milliseconds);
				})
			);
		row(
			'Find, 200 queries, median',
			`${ms(at(server, 0.5))} ms at the server, ${ms(at(times, 0.5))} ms with HTTP`,
			'under 30 ms'
		);
		row(
			'Find, 200 queries, 95th percentile',
			`${ms(at(server, 0.95))} ms at the server, ${ms(at(times, 0.95))} ms with HTTP`,
			'under 80 ms'
		);
		row(
			'Find, 200 queries, slowest',
			`${ms(at(server, 1))} ms: ${asked[server.indexOf(at(server, 1))]!.query}`
		);

		const both = asked
			.map((one, nth) => ({ ...one, own: server[nth]! }))
			.filter(({ grep }) => grep !== null)
			.slice(0, 25);
		const greps: number[] = [];
		for (const { grep } of both) {
			const started = performance.now();
			spawnSync('grep', ['-rli', '--', grep!, folder], { stdio: 'ignore' });
			greps.push(performance.now() - started);
		}
		const own = at(
			both.map((one) => one.own),
			0.5
		);
		row(
			`grep -rli, ${both.length} of the same words, median`,
			`${ms(at(greps, 0.5))} ms; Find for them ${ms(own)} ms: 1/${(at(greps, 0.5) / own).toFixed(0)}`,
			'at most 1/20'
		);

		const tickets: number[] = [];
		for (const [kind, things] of Object.entries(game.things))
			for (let nth = 0; nth < 12; nth++)
				tickets.push(await timed(() => get(`/p/${slug}/api/ticket/${kind}/${pick(things).id}`)));
		row(
			`ticket, ${tickets.length} of all kinds`,
			`median ${ms(at(tickets, 0.5))} ms, slowest ${ms(at(tickets, 1))} ms`,
			'under 150 ms'
		);

		const named = new Map<string, number>();
		for (const thing of Object.values(game.things).flat())
			for (const id of Object.values(thing.references)) named.set(id, (named.get(id) ?? 0) + 1);
		const [most, count] = [...named].sort((a, b) => b[1] - a[1])[0]!;
		const kind = Object.entries(game.things).find(([, things]) => things.some(({ id }) => id === most))![0];
		const usedBy: number[] = [];
		for (let nth = 0; nth < 10; nth++)
			usedBy.push(
				await timed(() => get(`/p/${slug}/uses/${kind}/${most}/__data.json?x-sveltekit-invalidated=001`))
			);
		row(
			`used by, most used record (${count} times)`,
			`median ${ms(at(usedBy, 0.5))} ms, slowest ${ms(at(usedBy, 1))} ms`,
			'under 100 ms'
		);

		const alike: number[] = [];
		for (const [name, things] of Object.entries(game.things))
			for (let nth = 0; nth < 4; nth++)
				alike.push(await timed(() => get(`/p/${slug}/api/like/${name}/${pick(things).id}`)));
		row(
			`most like, ${alike.length} of all kinds`,
			`median ${ms(at(alike, 0.5))} ms, slowest ${ms(at(alike, 1))} ms`,
			'under 200 ms'
		);

		{
			const browser = await openBrowser();
			const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
			await page.goto(`${base}/p/${slug}/find`);
			await page.locator('html[data-ready]').waitFor();
			const shown: number[] = [];
			for (const { query } of asked.filter(({ query }) => /^[A-Za-z]{5,}$/.test(query)).slice(0, 15)) {
				await page.getByTestId('find').fill('');
				await page.waitForTimeout(400);
				await page.getByTestId('find').pressSequentially(query.slice(0, -1), { delay: 120 });
				await page.waitForTimeout(300);
				shown.push(
					await page.evaluate(
						(last) =>
							new Promise<number>((done) => {
								const box = document.querySelector<HTMLInputElement>('[data-testid=find]')!;
								const started = performance.now();
								box.value += last;
								const wanted = box.value;
								box.dispatchEvent(new InputEvent('input', { bubbles: true }));
								const look = () => {
									if (
										new URL(location.href).searchParams.get('q') === wanted &&
										document.title.startsWith(wanted)
									)
										requestAnimationFrame(() => done(performance.now() - started));
									else setTimeout(look, 2);
								};
								look();
							}),
						query.slice(-1)
					)
				);
			}
			row(
				'first hits on the screen after the last key',
				`median ${ms(at(shown, 0.5))} ms, slowest ${ms(at(shown, 1))} ms`,
				'within 150 ms'
			);
			await browser.close();
		}
		await wait(8000);
		const [server1, ...rest] = family(app.pid!);
		row(
			'idle memory of the server',
			`${ms(memory(server1!, 'VmRSS'))} MB; its worker process ${ms(rest.reduce((sum, pid) => sum + memory(pid, 'VmRSS'), 0))} MB`,
			'under 700 MB'
		);
	} finally {
		app.kill('SIGTERM');
		await new Promise((done) => app.once('exit', done));
		await database.stop();
		rmSync(work, { recursive: true, force: true });
	}
}

await main();
