// `npm run bench edit`: what a change costs. In a game of 300,000 records: snags after one edit beside the full check, and
// the most used id renamed. In a table of 100,000 rows and 60 columns, in the browser: opening, scrolling, filtering,
// sorting, editing, and a formula over 50,000 rows.
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { chromium, type Page } from 'playwright-core';
import { applyPlan } from '$core/change';
import { checkStack } from '$core/checks';
import { planFor, type Intention } from '$core/edits';
import { createPool } from '$core/facts';
import { parseGuide } from '$core/guide';
import { buildLinks, linksTo, usesOf } from '$core/links';
import { spreadSteps } from '$core/numbers';
import { asText, buildStack, guideWith, loadLayer, withFiles, type Stack } from '$core/stack';
import { CHROMIUM_FLAGS, findChromium } from '../scripts/chromium.mjs';
import { provide } from '../scripts/debian.mjs';
import { freePort, startPostgres } from '../scripts/postgres.mjs';
import { startApp, untilReady } from '../scripts/serve.mjs';
import { gameFiles, gameGuide, makeGame, random } from './game';

const RECORDS = Number(process.env.BENCH_RECORDS ?? 300_000);
const FILES = Number(process.env.BENCH_FILES ?? 3000);
const ROWS = Number(process.env.BENCH_ROWS ?? 100_000);
const COLUMNS = 60;

const ms = (value: number) => (value < 10 ? value.toFixed(1) : value.toFixed(0));
const row = (what: string, said: string, limit = '') =>
	console.log(`${what.padEnd(46)} ${said.padEnd(50)} ${limit}`);
const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!;
const most = (list: number[]) => Math.max(...list);

/** The work and the milliseconds it took. */
function timed<T>(work: () => T): [T, number] {
	const started = performance.now();
	const result = work();
	return [result, performance.now() - started];
}

/** The core alone: a change in a big game, and all that is told anew of it. */
function inCore(): void {
	const game = makeGame({ records: RECORDS, files: FILES });
	const files = new Map([...gameFiles(game)].map(({ path, text }) => [path, new TextEncoder().encode(text)]));
	const pool = createPool();
	const written = parseGuide(gameGuide());
	const base = loadLayer({ id: 'base', title: 'Base', role: 'base' }, files, { guide: written, pool });
	const guide = guideWith(written, base);
	const mine = loadLayer({ id: 'mine', title: 'Mine', role: 'mine' }, new Map(), { guide, pool });
	console.log(`A made-up game of ${RECORDS} records in ${files.size} files`);

	const fresh = () =>
		buildStack(
			[base, mine].map((layer) => ({ ...layer, files: new Map(layer.files) })),
			guide,
			pool
		);
	let [stack, links] = [fresh(), buildLinks(fresh())];
	const fulls: number[] = [];
	for (let nth = 0; nth < 3; nth++) {
		const [, time] = timed(() => {
			stack = fresh();
			links = buildLinks(stack);
			return checkStack(stack, links);
		});
		fulls.push(time);
	}
	// As the server does once a game is open.
	const steps = spreadSteps(stack, 2000);
	while (!steps.next().done);
	// What the three full checks left behind is not to be swept up while the edits are timed.
	globalThis.gc?.();

	const after = (before: Stack, intention: Intention) => {
		const plan = planFor(before, intention, 'mod', { links });
		const own = new Map([...before.mine!.files].map(([path, file]) => [path, asText(file)]));
		const next = applyPlan(own, plan);
		const changed = new Map(plan.changes.map(({ path }) => [path, next.get(path) ?? null]));
		return {
			plan,
			layers: before.layers.map((layer) =>
				layer.role === 'mine' ? withFiles(layer, changed, guide, pool) : layer
			)
		};
	};
	const kinds = ['vessel', 'crew', 'engine', 'lane'].filter((kind) => stack.tables.has(kind));
	const edits: number[] = [];
	const parts: [number, number, number][] = [];
	for (let nth = 0; nth < 24; nth++) {
		const table = stack.tables.get(kinds[nth % kinds.length]!)!;
		const record = table.record((nth * 977) % table.count);
		const field =
			table.columns.find((path) => table.guide.fields[path]?.type === 'whole') ?? table.columns[1]!;
		const { layers } = after(stack, {
			do: 'set',
			kind: table.kind,
			id: record.id,
			field,
			value: String(nth + 3)
		});
		const [, time] = timed(() => {
			const [next, a] = timed(() => buildStack(layers, guide, pool, stack));
			const [followed, b] = timed(() => buildLinks(next, links));
			const [, c] = timed(() => checkStack(next, followed));
			parts.push([a, b, c]);
			[stack, links] = [next, followed];
		});
		// The first change of a kind has no older state of it to go by.
		if (nth >= kinds.length) edits.push(time);
	}
	const [full, edit] = [median(fulls), median(edits)];
	row('full check: tables, links, snags', `${ms(full)} ms`);
	row(
		'snags after one edit, 20 of several kinds',
		`median ${ms(edit)} ms, slowest ${ms(most(edits))} ms; 1/${(full / edit).toFixed(0)} of the full check`,
		'under 100 ms, at most 1/100'
	);

	const part = (nth: 0 | 1 | 2) => ms(median(parts.map((list) => list[nth])));
	row('of these', `tables ${part(0)} ms, links ${part(1)} ms, snags ${part(2)} ms`);

	let best: { kind: string; id: string; users: number } = { kind: '', id: '', users: 0 };
	void links.users;
	for (const table of stack.tables.values())
		for (const record of table.records) {
			const users = table.kind === 'text' ? 0 : usesOf(links, record);
			if (users > best.users) best = { kind: table.kind, id: record.id, users };
		}
	const record = stack.tables.get(best.kind)!.byId.get(best.id)!;
	const places = new Set(linksTo(links, record).map(({ from }) => from.presences.at(-1)!.path));
	const [{ plan, layers }, planned] = timed(() =>
		after(stack, { do: 'rename', kind: best.kind, id: best.id, newId: 'renamed_thing' })
	);
	const [, followed] = timed(() => {
		const next = buildStack(layers, guide, pool, stack);
		return checkStack(next, buildLinks(next, links));
	});
	row(
		'rename of the most used id there, planned',
		`${ms(planned)} ms: ${best.users} places in ${places.size} files, ${plan.changes.length} of mine`
	);
	row('and its snags afterwards', `${ms(followed)} ms`);
}

/** A game in which one thing is named in 10,000 places of 400 files, in four formats. */
function renameHub(): void {
	const files = new Map<string, string>();
	files.set('hubs.tsv', `id\tsize\n${['hub_1', 'hub_2', 'hub_3'].map((id) => `${id}\t4`).join('\n')}\n`);
	for (let file = 0; file < 400; file++) {
		const ids = Array.from({ length: 25 }, (_, nth) => `x_${file}_${nth}`);
		const text = [
			() => `id\thub\tpower\n${ids.map((id, nth) => `${id}\thub_1\t${nth}`).join('\n')}\n`,
			() => `id,hub,power\n${ids.map((id, nth) => `${id},hub_1,${nth}`).join('\n')}\n`,
			() => ids.map((id, nth) => `[${id}]\nhub = hub_1\npower = ${nth}\n`).join('\n'),
			() =>
				`[\n${ids.map((id, nth) => `\t{ "id": "${id}", "hub": "hub_1", "power": ${nth} }`).join(',\n')}\n]\n`
		][file % 4]!();
		files.set(`${['a', 'b', 'c', 'd'][file % 4]}/${file}.${['tsv', 'csv', 'ini', 'json'][file % 4]}`, text);
	}
	const kind = (name: string, glob: string) =>
		`  ${name}: { title: ${name}, files: ['${glob}'], key: id, merge: record, fields: { hub: { type: reference, reference: { kinds: [hub] } } } }\n`;
	const pool = createPool();
	const guide = parseGuide(
		`guide: 1\nkinds:\n  hub: { title: Hub, files: [hubs.tsv], key: id, merge: record }\n${kind('a', 'a/*.tsv')}${kind('b', 'b/*.csv')}${kind('c', 'c/*.ini').replace('key: id, ', '')}${kind('d', 'd/*.json')}`
	);
	const bytes = new Map([...files].map(([path, text]) => [path, new TextEncoder().encode(text)]));
	const base = loadLayer({ id: 'base', title: 'Base', role: 'base' }, bytes, { guide, pool });
	const mine = loadLayer({ id: 'mine', title: 'Mine', role: 'mine' }, new Map(), { guide, pool });
	const stack = buildStack([base, mine], guide, pool);
	const links = buildLinks(stack);
	const times: number[] = [];
	const applied: number[] = [];
	let places = 0;
	let changed = 0;
	for (let nth = 0; nth < 3; nth++) {
		const [plan, planned] = timed(() =>
			planFor(stack, { do: 'rename', kind: 'hub', id: 'hub_1', newId: 'harbour_1' }, 'mod', { links })
		);
		const [, time] = timed(() => {
			const next = applyPlan(new Map(), plan);
			const own = new Map([...next].map(([path, file]) => [path, file]));
			const after = buildStack([base, withFiles(mine, own, guide, pool)], guide, pool, stack);
			return checkStack(after, buildLinks(after, links));
		});
		times.push(planned);
		applied.push(time);
		places = plan.values.filter(({ by }) => by === 'reference').length;
		changed = plan.changes.length;
	}
	row(
		'rename of an id in four formats, planned',
		`median ${ms(median(times))} ms: ${places} places, ${changed} files of mine`,
		'under 1000 ms'
	);
	row('its bytes, and tables, links and snags after it', `median ${ms(median(applied))} ms`, 'under 3000 ms');
}

/** A table as wide and as long as they come. */
function sheet(): string {
	const next = random(5);
	const columns = Array.from({ length: COLUMNS - 1 }, (_, nth) =>
		nth % 6 === 5 ? `note_${nth}` : `value_${nth}`
	);
	const lines = [['id', ...columns].join('\t')];
	const words = ['calm', 'swell', 'storm', 'fog', 'ice', 'drift'];
	for (let at = 0; at < ROWS; at++)
		lines.push(
			[
				`r_${String(at).padStart(6, '0')}`,
				...columns.map((name, nth) =>
					name.startsWith('note')
						? `${words[Math.floor(next() * words.length)]} ${Math.floor(next() * 400)}`
						: nth % 5 === 0
							? (next() * 100).toFixed(2)
							: String(Math.floor(next() * 1000))
				)
			].join('\t')
		);
	return lines.join('\n') + '\n';
}

const GUIDE = `guide: 1
kinds:
  thing:
    title: Thing
    plural: Things
    files: [things.tsv]
    key: id
    merge: record
`;

/** Frames that take longer than 50 ms while the table is scrolled from end to end. */
async function scroll(page: Page): Promise<{ frames: number; slowest: number; late: number }> {
	return page.evaluate(async () => {
		const grid = document.querySelector<HTMLElement>('[role=grid]')!;
		const times: number[] = [];
		const steps = 240;
		let last = performance.now();
		for (let step = 0; step <= steps; step++) {
			grid.scrollTop = (grid.scrollHeight - grid.clientHeight) * (step / steps);
			if (step % 12 === 0) grid.scrollLeft = (grid.scrollWidth - grid.clientWidth) * ((step % 120) / 120);
			await new Promise(requestAnimationFrame);
			const now = performance.now();
			times.push(now - last);
			last = now;
		}
		return {
			frames: times.length,
			slowest: Math.max(...times),
			late: times.filter((time) => time > 50).length
		};
	});
}

async function inBrowser(): Promise<void> {
	const work = mkdtempSync(join(tmpdir(), 'kettle-edit-'));
	const folder = join(work, 'sheet');
	mkdirSync(folder);
	writeFileSync(join(folder, 'things.tsv'), sheet());
	writeFileSync(`${folder}.guide.yaml`, GUIDE);
	const home = join(work, 'home');
	const database = await startPostgres(home);
	const port = await freePort();
	const app = startApp({ url: database.url, home, port, demo: false, roots: work });
	const base = `http://127.0.0.1:${port}`;
	const post = async (path: string, body: unknown) =>
		(await (
			await fetch(base + path, {
				method: 'POST',
				headers: { 'content-type': 'application/json', origin: base },
				body: JSON.stringify(body)
			})
		).json()) as { id?: string; message?: string; count?: number };
	const clock = async (job: () => Promise<unknown>) => {
		const started = performance.now();
		await job();
		return performance.now() - started;
	};
	const found = provide({
		find: findChromium,
		packages: ['chromium'],
		home: join(process.cwd(), '.kettle'),
		what: 'Chromium'
	});
	try {
		await untilReady(port, app);
		const { id } = await post('/api/import', { title: 'sheet', folder });
		let slug = '';
		while (slug === '') {
			const state = (await (await fetch(`${base}/imports/${id}`)).json()) as {
				state: string;
				project: string;
				message: string;
			};
			if (state.state === 'done') slug = state.project;
			else if (!['waiting', 'working'].includes(state.state)) throw new Error(state.message);
			await wait(100);
		}
		const rows = `/p/${slug}/api/rows/thing`;
		await fetch(`${base}/p/${slug}/tables/thing`);
		console.log(`\nA table of ${ROWS} rows and ${COLUMNS} columns`);
		const browser = await chromium.launch({
			executablePath: found.path,
			args: CHROMIUM_FLAGS,
			env: { ...process.env, ...found.env } as Record<string, string>
		});
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.goto(`${base}/p/${slug}/find`);
		await page.locator('html[data-ready]').waitFor();
		await page.goto(`${base}/p/${slug}/tables/thing`);
		const opening: number[] = [];
		for (let nth = 0; nth < 5; nth++)
			opening.push(
				await clock(async () => {
					await page.goto(`${base}/p/${slug}/tables/thing`, { waitUntil: 'commit' });
					await page.locator('[role=rowheader]').first().waitFor();
				})
			);
		row('first rows after opening the page anew', `median ${ms(median(opening))} ms`, 'within 300 ms');
		await page.locator('html[data-ready]').waitFor();
		await wait(500);
		const { frames, slowest, late } = await scroll(page);
		row(
			'scrolling end to end',
			`${frames} frames, slowest ${ms(slowest)} ms, ${late} over 50 ms`,
			'none over 50 ms'
		);

		const queries = [
			'where=value_1+%3E+500',
			'where=note_5+has+storm&where=value_0+10+to+40',
			'filter=r_0777',
			'sort=value_2',
			'sort=-note_5,value_0',
			'where=value_3+%3C+100&sort=-value_4'
		];
		const times: number[] = [];
		for (const query of queries)
			times.push(await clock(async () => (await fetch(`${base}${rows}?${query}`)).json()));
		row(
			'filter and sort, 6 queries, with HTTP',
			`median ${ms(median(times))} ms, slowest ${ms(most(times))} ms`,
			'under 150 ms'
		);

		await page.evaluate(() => document.querySelector('[role=grid]')!.scrollTo(0, 0));
		await page.getByRole('grid').focus();
		await page.keyboard.press('ArrowRight');
		const [shown, committed]: [number[], number[]] = [[], []];
		for (let nth = 0; nth < 8; nth++) {
			await page.keyboard.press('ArrowDown');
			await page.keyboard.press('e');
			await page.locator('[data-testid=cell-editor] input').waitFor();
			const value = String(100 + nth);
			await page.keyboard.insertText(value);
			const answered = page.waitForResponse((answer) => answer.url().includes('/api/apply'));
			const began = performance.now();
			const time = await page.evaluate(
				(wanted) =>
					new Promise<number>((done) => {
						const input = document.querySelector<HTMLInputElement>('[data-testid=cell-editor] input')!;
						const started = performance.now();
						input.dispatchEvent(
							new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true })
						);
						const look = () =>
							[...document.querySelectorAll('[role=gridcell]')].some((cell) =>
								cell.textContent?.trim().startsWith(wanted)
							)
								? requestAnimationFrame(() => done(performance.now() - started))
								: setTimeout(look, 1);
						look();
					}),
				value
			);
			shown.push(time);
			await answered;
			committed.push(performance.now() - began);
			await wait(600);
		}
		row(
			'cell edit to the screen',
			`median ${ms(median(shown))} ms, slowest ${ms(most(shown))} ms`,
			'under 50 ms'
		);
		row(
			'cell edit to committed, as the browser sees it',
			`median ${ms(median(committed))} ms, slowest ${ms(most(committed))} ms`,
			'under 150 ms'
		);

		const half = { where: [`id has r_0`], filter: '', sort: [] };
		const formulas: number[] = [];
		let count = 0;
		for (const formula of [
			'value * 1.1 + 2',
			'round(value_0 + value_1 / 3)',
			'value > 500 ? value - 10 : clamp(value, 50, 400)'
		])
			formulas.push(
				await clock(async () => {
					const said = await post(`/p/${slug}/api/many`, {
						kind: 'thing',
						field: 'value_1',
						how: { by: 'formula', formula },
						rows: { ...half, where: [`value_2 < 500`] }
					});
					if (said.message) throw new Error(said.message);
					count = said.count!;
				})
			);
		row(
			`preview of a formula over ${count} rows`,
			`median ${ms(median(formulas))} ms, slowest ${ms(most(formulas))} ms`,
			'under 500 ms for 50,000'
		);
		await browser.close();
	} finally {
		app.kill('SIGTERM');
		await new Promise((done) => app.once('exit', done));
		await database.stop();
		rmSync(work, { recursive: true, force: true });
	}
}

if (process.env.BENCH_PART !== 'browser') {
	inCore();
	renameHub();
}
if (process.env.BENCH_PART !== 'core') await inBrowser();
