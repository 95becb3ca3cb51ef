// The application with its database, for benches that measure what people wait for.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Browser } from 'playwright-core';
import { freePort, startPostgres } from '../scripts/postgres.mjs';
import { startApp, untilReady } from '../scripts/serve.mjs';

/** What a server answers to a change. */
interface Answer {
	id?: string;
	message?: string;
	count?: number;
}

/** A running application with a folder for games. */
export interface App {
	base: string;
	work: string;
	post(path: string, body: unknown): Promise<Answer>;
	/** Imports a folder as a project; gives its name in addresses. */
	brought(title: string, from: string): Promise<string>;
	/**
	 * Milliseconds from the start of a navigation until an element is on the screen, by the page's own clock; seven times.
	 * @param before what is done before each
	 */
	opened(
		browser: Browser,
		path: string,
		first: string,
		before?: (nth: number) => Promise<unknown>
	): Promise<number[]>;
}

/** Milliseconds that some work takes. */
export async function clock(job: () => Promise<unknown>): Promise<number> {
	const started = performance.now();
	await job();
	return performance.now() - started;
}

/** Runs the application while a bench works with it; nothing of it stays. */
export async function inApp(name: string, job: (app: App) => Promise<void>): Promise<void> {
	const work = mkdtempSync(join(tmpdir(), `kettle-${name}-`));
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
		).json()) as Answer;
	const brought = async (title: string, from: string): Promise<string> => {
		const { id } = await post('/api/import', { title, folder: from });
		for (;;) {
			const state = (await (await fetch(`${base}/imports/${id}`)).json()) as {
				state: string;
				project: string;
				message: string;
			};
			if (state.state === 'done') return state.project;
			if (!['waiting', 'working'].includes(state.state)) throw new Error(state.message);
			await wait(100);
		}
	};
	const opened: App['opened'] = async (browser, path, first, before) => {
		const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
		await page.addInitScript((wanted) => {
			const watch = new MutationObserver(() => {
				if (!document.querySelector(wanted)) return;
				watch.disconnect();
				requestAnimationFrame(() =>
					setTimeout(() => ((window as { shownAt?: number }).shownAt = performance.now()))
				);
			});
			watch.observe(document, { childList: true, subtree: true, attributes: true });
		}, first);
		const times: number[] = [];
		for (let nth = 0; nth < 8; nth++) {
			await before?.(nth);
			await page.goto(`${base}${path}`);
			await page.waitForFunction(() => 'shownAt' in window);
			times.push(await page.evaluate(() => (window as { shownAt?: number }).shownAt!));
		}
		await page.close();
		return times.slice(1);
	};
	try {
		await untilReady(port, app);
		await job({ base, work, post, brought, opened });
	} finally {
		app.kill('SIGTERM');
		await new Promise((done) => app.once('exit', done));
		await database.stop();
		rmSync(work, { recursive: true, force: true });
	}
}
