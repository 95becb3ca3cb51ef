import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core';
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
	/** Makes it what it was at first, for the next who needs one. False where it had to end for that. */
	reset(): Promise<boolean>;
	stop(): Promise<void>;
}

let nth = 0;

/**
 * A server with a database and a folder of its own.
 * @param settings `kept`: it can go back to what it is now
 */
export async function startServer({
	demo = true,
	kept = false,
	roots
}: { demo?: boolean; kept?: boolean; roots?: string } = {}): Promise<Server> {
	const seed = inject('seed');
	const name = `test_${process.pid}_${++nth}`;
	await query(inject('database'), `create database ${name}${demo ? ` template ${seed.name}` : ''}`);
	const url = new URL(inject('database'));
	url.pathname = `/${name}`;
	// It goes with all that the tests are on.
	const home = mkdtempSync(join(dirname(seed.home), 'home-'));
	const furnish = () => {
		if (!demo) return;
		// Thousands of small files: the system's own copying is several times faster than that of Node.js.
		const copied = spawnSync('cp', ['-a', `${seed.home}/.`, home], { encoding: 'utf8' });
		if (copied.status !== 0) throw new Error(`The seed could not be copied: ${copied.stderr}`);
	};
	furnish();
	// The game's folder is in its own home. A database without the demo has no projects yet, and may have no tables.
	if (demo)
		await query(url.href, 'update projects set launcher = replace(launcher::text, $1, $2)::jsonb', [
			seed.home,
			home
		]);
	const port = await freePort();
	let child: ReturnType<typeof startApp> | null = null;
	const isUp = () => child !== null && child.exitCode === null && child.signalCode === null;
	const end = async (signal: 'SIGKILL' | 'SIGTERM') => {
		if (!child || !isUp()) return;
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
			// Whoever takes the database down ends it before.
			if (kept) writeFileSync(join(dirname(home), `lent-${child.pid}`), '');
			await untilReady(port, child);
		},
		async reset() {
			if (isUp() && !(await emptied(server))) await end('SIGTERM');
			await backToSeed(url.href);
			for (const name of readdirSync(home)) takeAway(join(home, name));
			furnish();
			return isUp();
		},
		async stop() {
			await end('SIGTERM');
			rmSync(home, { recursive: true, force: true });
		}
	};
	await server.start();
	if (kept) await keepSeed(url.href);
	return server;
}

/** Removes what a server may still write into: what was written behind the removal is removed by the next attempt. */
export function takeAway(path: string): void {
	for (let attempts = 1; ; attempts++)
		try {
			return rmSync(path, { recursive: true, force: true });
		} catch (error) {
			if ((error as NodeJS.ErrnoException).code !== 'ENOTEMPTY' || attempts === 100) throw error;
		}
}

/** Removes all projects, as people do; false where one cannot be, such as one whose mod is still in the game. */
async function emptied({ address, url }: Server): Promise<boolean> {
	for (const { slug, title } of await query<{ slug: string; title: string }>(
		url,
		'select slug, title from projects'
	)) {
		const answer = await fetch(`${address}/p/${slug}/api/project`, {
			method: 'POST',
			headers: { 'content-type': 'application/json', origin: address },
			body: JSON.stringify({ do: 'remove', name: title })
		}).catch(() => null);
		if (!answer?.ok) return false;
	}
	return true;
}

/** Keeps what a database holds beside it, to go back to. */
async function keepSeed(url: string): Promise<void> {
	await query(
		url,
		`do $$ declare t text; begin
			create schema seed;
			for t in select tablename from pg_tables where schemaname = 'public' loop
				execute format('create table seed.%I as table public.%I', t, t);
			end loop;
			create table seed.sequences as select sequencename, last_value from pg_sequences where schemaname = 'public';
		end $$`
	);
}

/** Puts what was kept in the place of what a database holds, in one step. */
async function backToSeed(url: string): Promise<void> {
	await query(
		url,
		`do $$ declare t text; s record; begin
			set local session_replication_role = replica;
			execute (select 'truncate ' || string_agg(format('public.%I', tablename), ', ') from pg_tables where schemaname = 'public');
			for t in select tablename from pg_tables where schemaname = 'public' loop
				execute format('insert into public.%I select * from seed.%I', t, t);
			end loop;
			for s in select * from seed.sequences loop
				perform setval(format('public.%I', s.sequencename)::regclass, coalesce(s.last_value, 1), s.last_value is not null);
			end loop;
		end $$`
	);
}

/** Servers that the files of this process have in turn, each as it was at first. */
const lent = ((globalThis as { kettleServers?: Map<string, Server> }).kettleServers ??= new Map());

/** A server that another file had before, or a new one. */
async function borrow(demo: boolean): Promise<Server> {
	const key = demo ? 'demo' : 'empty';
	const known = lent.get(key);
	if (!known) {
		const server = await startServer({ demo, kept: true });
		lent.set(key, server);
		return server;
	}
	if (!(await known.reset())) await known.start();
	return known;
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

/** Pages that nobody has at present: a new one costs several times as much as going on with one that is there. */
const idle = ((globalThis as { kettlePages?: Page[] }).kettlePages ??= []);

/** What is put back for each test: how a page goes somewhere, where it was, and whether it can serve again. */
interface Kept {
	goto: Page['goto'];
	context: BrowserContext;
	origins: Set<string>;
	/** Whether something was asked of it that cannot be taken back. */
	spent: boolean;
}

const ways = ((globalThis as { kettleWays?: WeakMap<Page, Kept> }).kettleWays ??= new WeakMap<Page, Kept>());

const SIZE = { width: 1280, height: 800 };

async function newPage(browser: Browser): Promise<Page> {
	// Moving pictures cost a frame sixty times a second; what they end in is the same without.
	const page = await browser.newPage({ viewport: SIZE, reducedMotion: 'reduce' });
	const own: Kept = {
		goto: page.goto.bind(page),
		context: page.context(),
		origins: new Set(),
		spent: false
	};
	ways.set(page, own);
	for (const name of ['addInitScript', 'emulateMedia', 'exposeFunction'] as const) {
		const ask = page[name].bind(page) as (...args: unknown[]) => unknown;
		Object.assign(page, {
			[name]: (...args: unknown[]) => {
				own.spent = true;
				return ask(...args);
			}
		});
	}
	return page;
}

/** Takes from a page all that a test did with it, for the next one; closes it where that is not possible. */
async function putBack(page: Page, own: Kept): Promise<void> {
	const { context } = own;
	const reuse = !own.spent && !page.isClosed();
	try {
		if (!reuse) return;
		await page.unrouteAll({ behavior: 'ignoreErrors' });
		for (const event of ['pageerror', 'console', 'dialog', 'download', 'request', 'response', 'filechooser'])
			await page.removeAllListeners(event as 'console');
		page.once('dialog', (dialog) => void dialog.accept());
		await page.evaluate(() => sessionStorage.clear()).catch(() => {});
		await own.goto('about:blank');
		await page.removeAllListeners('dialog');
		const session = await context.newCDPSession(page);
		for (const origin of own.origins)
			await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,cookies' });
		await session.detach();
		own.origins.clear();
		await context.clearPermissions();
		await page.setViewportSize(SIZE);
		idle.push(page);
	} catch {
		own.spent = true;
	} finally {
		if (!reuse || own.spent) await context.close();
	}
}

/** A page that fails the test on any fault of its own; as new, although another test may have had it. */
export async function openPage(browser: Browser, faults: string[] = []): Promise<Page> {
	const page = idle.pop() ?? (await newPage(browser));
	const own = ways.get(page)!;
	// A ceiling for machines that are busy with other work; nothing waits longer than it has to.
	page.setDefaultTimeout(60_000);
	page.on('pageerror', (error) => faults.push(String(error)));
	page.on('console', (message) => {
		if (message.text().includes('Content Security Policy')) faults.push(message.text());
	});
	page.goto = async (address, ...more) => {
		if (more.length === 0 && (await followed(page, address))) return null;
		own.origins.add(new URL(address).origin);
		const answer = await own.goto(address, ...more);
		await page.locator('html[data-ready]').waitFor();
		return answer;
	};
	page.close = () => putBack(page, own);
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
export function useServer({ demo = true, roots }: { demo?: boolean; roots?: string } = {}): {
	server: Server;
	browser: Browser;
} {
	const kept = {} as { server: Server; browser: Browser };
	beforeAll(async () => {
		// What may be read of the file system is settled when it starts.
		kept.server = roots === undefined ? await borrow(demo) : await startServer({ demo, roots });
		kept.browser = await openBrowser();
	});
	afterAll(async () => {
		for (const context of kept.browser?.contexts() ?? [])
			for (const page of context.pages()) if (!idle.includes(page)) await page.close();
		if (roots !== undefined) await kept.server?.stop();
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
