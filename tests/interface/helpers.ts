import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from 'playwright-core';
import { afterAll, beforeAll, inject } from 'vitest';
import { CHROMIUM_FLAGS } from '../../scripts/chromium.mjs';
import { freePort } from '../../scripts/postgres.mjs';
import { startApp, untilReady } from '../../scripts/serve.mjs';
import { query } from './query';

export interface Server {
	address: string;
	home: string;
	/** Connection to its database. */
	url: string;
	/** Process of the server; its worker is a child of it. */
	pid(): number;
	/** Ends it at once, as a power cut would. */
	kill(): Promise<void>;
	/** Ends it in good order, as Ctrl-C does. */
	end(): Promise<void>;
	/** Starts it again on the same data. */
	start(): Promise<void>;
	stop(): Promise<void>;
}

let nth = 0;

/** A server with a database and a folder of its own. */
export async function startServer({
	demo = true,
	roots
}: { demo?: boolean; roots?: string } = {}): Promise<Server> {
	const seed = inject('seed');
	const name = `test_${process.pid}_${++nth}`;
	await query(inject('database'), `create database ${name}${demo ? ` template ${seed.name}` : ''}`);
	const url = new URL(inject('database'));
	url.pathname = `/${name}`;
	const home = mkdtempSync(join(tmpdir(), 'kettle-home-'));
	if (demo) {
		cpSync(seed.home, home, { recursive: true });
		// The game's folder is in its own home.
		await query(url.href, 'update projects set launcher = replace(launcher::text, $1, $2)::jsonb', [
			seed.home,
			home
		]);
	}
	const port = await freePort();
	let child: ReturnType<typeof startApp> | null = null;
	const end = async (signal: 'SIGKILL' | 'SIGTERM') => {
		if (!child || child.exitCode !== null || child.signalCode !== null) return;
		const ended = new Promise((done) => child!.once('exit', done));
		child.kill(signal);
		const late = setTimeout(() => child?.kill('SIGKILL'), 5000);
		await ended;
		clearTimeout(late);
	};
	const server: Server = {
		address: `http://127.0.0.1:${port}`,
		home,
		url: url.href,
		pid: () => child!.pid!,
		kill: () => end('SIGKILL'),
		end: () => end('SIGTERM'),
		async start() {
			child = startApp({ url: url.href, home, port, demo, ...(roots ? { roots } : {}) });
			await untilReady(port, child);
		},
		async stop() {
			await end('SIGTERM');
			rmSync(home, { recursive: true, force: true });
		}
	};
	await server.start();
	return server;
}

/** Debian's Chromium with a fresh profile: started by the first file of this process, and ended with the process. */
function openBrowser(): Promise<Browser> {
	const { path, env } = inject('chromium');
	const kept = globalThis as { kettleBrowser?: Promise<Browser> };
	return (kept.kettleBrowser ??= chromium.launch({
		executablePath: path,
		args: CHROMIUM_FLAGS,
		env: { ...(process.env as Record<string, string>), ...env }
	}));
}

/** A page that fails the test on any fault of its own. */
export async function openPage(browser: Browser, faults: string[] = []): Promise<Page> {
	// Moving pictures cost a frame sixty times a second; what they end in is the same without.
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
	// A ceiling for machines that are busy with other work; nothing waits longer than it has to.
	page.setDefaultTimeout(60_000);
	page.on('pageerror', (error) => faults.push(String(error)));
	page.on('console', (message) => {
		if (message.text().includes('Content Security Policy')) faults.push(message.text());
	});
	const go = page.goto.bind(page);
	page.goto = async (address, ...more) => {
		if (more.length === 0 && (await followed(page, address))) return null;
		const answer = await go(address, ...more);
		await page.locator('html[data-ready]').waitFor();
		return answer;
	};
	return page;
}

/**
 * Goes to another page of the application as a link on this one does, which costs a quarter of loading it; where it has
 * been, and what may be left of what was open there, is what a person has too. An address that the page has already is
 * loaded anew, and so is whatever `loaded` asks for.
 * @returns false where there is no page of the application yet, or the address is not another one of it
 */
async function followed(page: Page, address: string): Promise<boolean> {
	const there = await page.evaluate((to) => {
		const { dataset } = document.documentElement;
		const next = new URL(to, location.href);
		const same = next.pathname === location.pathname && next.search === location.search;
		if (!dataset.ready || next.origin !== location.origin || same) return false;
		delete dataset.ready;
		const link = document.createElement('a');
		link.href = next.href;
		document.body.append(link);
		link.click();
		link.remove();
		return true;
	}, address);
	if (there) await page.locator('html[data-ready]').waitFor();
	return there;
}

/** Loads a page as typing its address does. */
export async function loaded(page: Page, address: string): Promise<void> {
	await page.goto(address, { waitUntil: 'load' });
}

/** Presses Tab until the focus is on an element that matches; only the keyboard is used. */
export async function tabTo(page: Page, selector: string, most = 150): Promise<void> {
	for (let presses = 0; presses < most; presses++) {
		if (await page.evaluate((wanted) => document.activeElement?.matches(wanted) ?? false, selector)) return;
		await page.keyboard.press('Tab');
	}
	throw new Error(`Tab never reached ${selector}`);
}

/** What the dial says, once it says what is expected. */
export async function dialSays(page: Page, words: string): Promise<void> {
	await page.getByTestId('dial').filter({ hasText: words }).waitFor();
}

/** A server and a browser for a test file: there before its first test, gone after its last. */
export function useServer(options?: Parameters<typeof startServer>[0]): { server: Server; browser: Browser } {
	const kept = {} as { server: Server; browser: Browser };
	beforeAll(async () => {
		kept.server = await startServer(options);
		kept.browser = await openBrowser();
	});
	afterAll(async () => {
		for (const context of kept.browser?.contexts() ?? []) await context.close();
		await kept.server?.stop();
	});
	return kept;
}

/** The demo in a browser for a test file: its page, and what tests do on it. */
export function useDemo(): {
	server: () => Server;
	/** Faults of the page's own. */
	faults: string[];
	page: () => Page;
	at: (path: string) => Promise<unknown>;
	press: (keys: string) => Promise<void>;
	/** Waits for a message at the foot of the page. */
	said: (text: RegExp | string) => Promise<void>;
} {
	const use = useServer();
	const faults: string[] = [];
	let page: Page;
	beforeAll(async () => {
		page = await openPage(use.browser, faults);
	});
	return {
		server: () => use.server,
		faults,
		page: () => page,
		at: (path) => page.goto(`${use.server.address}/p/gannet-sound/${path}`),
		press: (keys) => page.keyboard.press(keys),
		said: (text) => page.getByTestId('message').filter({ hasText: text }).waitFor()
	};
}

/** The plan in view can be applied: worked out, not only asked for. */
export async function planReady(page: Page): Promise<void> {
	await page.locator('[data-testid="apply-plan"]:enabled').waitFor();
}
