// The application as a process: the built handler behind what holds for every request, pages and static files alike.
import { readdirSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import process from 'node:process';

const built = new URL('../build/app/', import.meta.url);

// The name is put together so that nobody's type check reads what was built.
const { handler } = await import(new URL('handler.js', built).href);

const LOCAL = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** Bytes that a body may have: an archive goes to disk piece by piece, all else is in memory. */
const MOST = { archive: 513 * 2 ** 20, other: 8 * 2 ** 20 };

/** Addresses of static files. */
const FILES = /^\/(?:_app\/|[\w.-]+\.(?:js|json|svg)(?:\?|$))/;

/** Milliseconds that requests may take to end when the server stops. */
const LAST_WORDS = 1000;

/** Milliseconds for which what is still sent with a refused request is read and thrown away. */
const DRAIN = 5000;

/**
 * Answers a request that is not let in. What is sent with it is read on for a while, so that whoever sends it gets to
 * the answer.
 * @param {import('node:http').IncomingMessage} request @param {import('node:http').ServerResponse} response
 * @param {number} status @param {string} message
 */
function refuse(request, response, status, message) {
	response.writeHead(status, { 'content-type': 'application/json' });
	response.end(JSON.stringify({ message }));
	request.resume();
	const late = setTimeout(() => request.destroy(), DRAIN);
	request.once('close', () => clearTimeout(late));
}

/**
 * Why a request is not let in; null where it is. Only this machine's own pages may talk to the server: the Host must be
 * a loopback name (against names that are pointed here from outside), and whatever changes something must come from a
 * page of the same host.
 * @param {import('node:http').IncomingMessage} request @returns {[number, string] | null}
 */
function refusal({ method = 'GET', url = '/', headers }) {
	const { host = '', origin } = headers;
	if (!LOCAL.test(host)) return [403, 'This server answers only to its own address on this machine.'];
	const changes = !['GET', 'HEAD', 'OPTIONS'].includes(method);
	if (changes && origin !== `http://${host}`)
		return [403, 'This call did not come from a page of this server.'];
	if (/%00|\0/.test(url)) return [400, 'Invalid request: the address holds a NUL character.'];
	try {
		decodeURIComponent(url.replaceAll('%25', ''));
	} catch {
		return [400, 'Invalid request: the address is not valid UTF-8.'];
	}
	if (!changes) return null;
	const archive = url.startsWith('/api/import') && headers['content-type'] === 'application/zip';
	const most = archive ? MOST.archive : MOST.other;
	const length = headers['content-length'];
	if (length === undefined && headers['transfer-encoding'] !== undefined && !archive)
		return [411, 'Invalid request: the length of the body must be given.'];
	if (Number(length ?? 0) > most)
		return [413, `The request is larger than ${Math.floor(most / 2 ** 20)} MB. Send it in smaller parts.`];
	return null;
}

/** When a request last came in or was answered. */
let asked = performance.now();
const isAsked = () => (asked = performance.now());

/** Somebody changes something for the first time: brings a game in, most of the time. */
let isChanged = () => {};
/** @type {Promise<void>} */
const changed = new Promise((done) => (isChanged = done));

const server = createServer((request, response) => {
	isAsked();
	if (request.method === 'POST') isChanged();
	response.once('finish', isAsked);
	response.setHeader('x-content-type-options', 'nosniff');
	response.setHeader('x-frame-options', 'DENY');
	response.setHeader('referrer-policy', 'same-origin');
	response.setHeader('cross-origin-resource-policy', 'same-origin');
	// Pages have a policy of their own, which names their one inline script by its hash.
	if (FILES.test(request.url ?? ''))
		response.setHeader('content-security-policy', "default-src 'self'; frame-ancestors 'none'");
	const refused = refusal(request);
	if (refused) return refuse(request, response, ...refused);
	handler(request, response, () => refuse(request, response, 404, 'There is nothing at this address.'));
});
server.headersTimeout = 20_000;
server.requestTimeout = 600_000;

let stopping = false;

function stop() {
	if (stopping) return;
	stopping = true;
	server.close(() => process.emit(/** @type {any} */ ('sveltekit:shutdown'), 'SIGTERM'));
	server.closeIdleConnections();
	setTimeout(() => server.closeAllConnections(), LAST_WORDS);
	setTimeout(() => process.exit(1), LAST_WORDS * 4).unref();
}

process.on('SIGTERM', stop);
process.on('SIGINT', stop);
if (process.env.KETTLE_TIED) {
	// Whoever started this one is gone: nobody would end it.
	process.stdin.on('end', stop).on('error', stop);
	process.stdin.resume();
}
/**
 * Milliseconds after the start for which the first pages have the server to themselves, and without a request after
 * which nobody seems to wait for anything.
 */
const [FIRST, QUIET] = [3000, 10];

/** What is asked for first once a game is there. */
const SOON = /\/_project_\/(?:_layout|opening\/|tables\/)/;

/** Modules of the built server that a file names. */
const MODULES = /(?:from|import)\s*['"](\.{1,2}\/[^'"]+\.js)['"]/g;

/** The files of all pages, what is asked for first ahead, and each after the files that it needs. */
async function pageFiles() {
	const folders = ['nodes', 'entries/pages', 'entries/endpoints'];
	const pages = folders.flatMap((folder) => {
		const below = new URL(`server/chunks/${folder}/`, built);
		const names = readdirSync(below, { recursive: true }).map(String);
		return names.filter((name) => name.endsWith('.js')).map((name) => new URL(name, below).href);
	});
	/** @type {Set<string>} */
	const seen = new Set();
	/** @type {string[]} */
	const files = [];
	/** @param {string} file @returns {Promise<void>} */
	const add = async (file) => {
		if (seen.has(file)) return;
		seen.add(file);
		const text = await readFile(new URL(file), 'utf8').catch(() => '');
		for (const [, name = ''] of text.matchAll(MODULES)) await add(new URL(name, file).href);
		files.push(file);
	};
	for (const page of pages.sort((a, b) => Number(SOON.test(b)) - Number(SOON.test(a)))) await add(page);
	return files;
}

/**
 * Loads the code of all pages while nobody asks for any: otherwise whoever asks for one first waits for its code, and all
 * others meanwhile. A file at a time, so that nobody waits for more than one.
 */
async function loadPages() {
	const pause = (/** @type {number} */ ms) => new Promise((done) => setTimeout(done, ms).unref());
	await Promise.race([pause(FIRST), changed]);
	for (const file of await pageFiles()) {
		while (performance.now() - asked < QUIET) await pause(QUIET / 2);
		// One that cannot be loaded fails where it is asked for.
		await import(file).catch(() => undefined);
	}
}

void loadPages();
server.listen(Number(process.env.PORT), process.env.HOST ?? '127.0.0.1');
