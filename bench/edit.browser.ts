// The second part of `npm run bench edit`: what people wait for in the browser, with the server and its database.
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { clock, inApp } from './app';
import { traced } from './frames';
import { random } from './game';
import { hubGame } from './hub';
import { median, most, ms, row } from './said';
import { openBrowser } from './browser';

const ROWS = Number(process.env.BENCH_ROWS ?? 100_000);
const COLUMNS = 60;

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

/** A table that no script draws: what scrolling costs here without us. */
const plainTable = () =>
	`<div role="grid" style="height:700px;width:1200px;overflow:auto"><table>${`<tr style="height:28px">${'<td style="min-width:140px">some words 17</td>'.repeat(12)}</tr>`.repeat(500)}</table></div>`;

/** The table and a rename in the application, with its database, over HTTP and in the browser. */
export async function inBrowser(): Promise<void> {
	await inApp('edit', async ({ base, work, post, brought, opened }) => {
		const folder = join(work, 'sheet');
		mkdirSync(folder);
		writeFileSync(join(folder, 'things.tsv'), sheet());
		writeFileSync(`${folder}.guide.yaml`, GUIDE);
		const slug = await brought('sheet', folder);
		const rows = `/p/${slug}/api/rows/thing`;
		await fetch(`${base}/p/${slug}/tables/thing`);
		console.log(`\nA table of ${ROWS} rows and ${COLUMNS} columns`);
		const browser = await openBrowser();
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.goto(`${base}/p/${slug}/find`);
		await page.locator('html[data-ready]').waitFor();
		await page.goto(`${base}/p/${slug}/tables/thing`);
		const ledger = await opened(browser, `/p/${slug}/ledger`, 'h1');
		const opening = await opened(browser, `/p/${slug}/tables/thing`, '[role=rowheader]');
		row(
			'first rows after opening the page anew',
			`median ${ms(median(opening))} ms; the empty ledger ${ms(median(ledger))} ms`,
			'within 300 ms'
		);
		await page.locator('html[data-ready]').waitFor();
		await wait(500);
		const said = ({ longest, late, frames, gap }: Awaited<ReturnType<typeof traced>>) =>
			`longest task ${ms(longest)} ms, ${late} over 50 ms; ${frames} frames, longest gap ${ms(gap)} ms`;
		row('scrolling end to end, as Chromium traces it', said(await traced(page)), 'none over 50 ms');
		const plain = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await plain.setContent(plainTable());
		row('a plain table of 500 × 12, the same way', said(await traced(plain)));
		await plain.close();

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

		console.log('\nAn id that 10,000 places of 400 files name');
		const hub = hubGame();
		const hubs = join(work, 'hub');
		for (const [path, text] of hub.files) {
			mkdirSync(dirname(join(hubs, path)), { recursive: true });
			writeFileSync(join(hubs, path), text);
		}
		writeFileSync(`${hubs}.guide.yaml`, hub.guide);
		const other = await brought('hub', hubs);
		await fetch(`${base}/p/${other}/tables/hub`);
		const [planned, applied, undone]: [number[], number[], number[]] = [[], [], []];
		for (let nth = 0; nth < 3; nth++) {
			const intention = { do: 'rename', kind: hub.kind, id: hub.id, newId: 'harbour_1' };
			const ask = async (path: string, body: unknown) => {
				const { message } = await post(`/p/${other}/api/${path}`, body);
				if (message) throw new Error(message);
				// The next call finds the state after it.
				await (await fetch(`${base}/p/${other}/api/rows/hub`)).json();
			};
			planned.push(await clock(() => ask('plan', { intention })));
			applied.push(await clock(() => ask('apply', { intention })));
			undone.push(await clock(() => ask('undo', {})));
		}
		row('renamed, planned with its snags', `median ${ms(median(planned))} ms`, 'core: under 1000 ms');
		row(
			'renamed, applied, in the database and in the tables',
			`median ${ms(median(applied))} ms, slowest ${ms(most(applied))} ms`,
			'under 3000 ms'
		);
		row('and taken back', `median ${ms(median(undone))} ms`);
	});
}
