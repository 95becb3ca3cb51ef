// Calls that no page would make, over every address: each is answered with words, none is the server's fault, and the
// memory that it takes does not grow with their number.
import { readFileSync, readdirSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer, type Server } from '../interface/helpers';
import { randomFrom, times } from './helpers';

let server: Server;
const random = randomFrom(Number(process.env.ATTACK_SEED ?? 11));
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

beforeAll(async () => {
	server = await startServer();
});
afterAll(() => server.stop());

/** Addresses of the application, from the folders of its routes. */
const routes = readdirSync('src/routes', { recursive: true })
	.map(String)
	.filter((path) => /\+(?:server|page|page\.server)\.(?:ts|svelte)$/.test(path))
	.map((path) => `/${path.split('/').slice(0, -1).join('/')}`)
	.filter((path, at, all) => all.indexOf(path) === at);

const NAMES = ['constructor', '__proto__', 'toString', 'hasOwnProperty', 'prototype', 'then', 'length'];
const ODD = [
	...NAMES,
	'',
	' ',
	'..',
	'../../etc/passwd',
	'%2e%2e',
	'\u0000',
	'\ud800',
	'\u202e',
	'a'.repeat(5000),
	'🐦'.repeat(200),
	"'; drop table projects; --",
	'<script>alert(1)</script>',
	'${7*7}',
	'-1',
	'1e309',
	'NaN',
	'null',
	'vessel',
	'cutter_04',
	'data/vessels.tsv',
	'gannet-sound'
];
const value = (depth = 0): unknown =>
	pick<() => unknown>([
		() => pick(ODD),
		() => null,
		() => true,
		() => pick([0, -1, 1e308, 2 ** 53, 0.1, -0]),
		() => (depth > 2 ? [] : Array.from({ length: Math.floor(random() * 4) }, () => value(depth + 1))),
		() =>
			depth > 2
				? {}
				: JSON.parse(`{${JSON.stringify(pick(ODD))}:${JSON.stringify(value(depth + 1) ?? null)}}`)
	])();

const DO = [
	'set',
	'fill',
	'cells',
	'change',
	'bring',
	'take',
	'copy',
	'rename',
	'remove',
	'back',
	'move',
	'put',
	'item',
	'write',
	'recipe',
	'reverse'
];
const FIELDS = [
	'kind',
	'id',
	'field',
	'value',
	'expected',
	'ids',
	'how',
	'files',
	'newId',
	'names',
	'into',
	'settle',
	'line',
	'to',
	'list',
	'at',
	'texts',
	'recipe',
	'fill',
	'step',
	'cells',
	'values',
	'folder',
	'layer',
	'name',
	'query',
	'on',
	'label',
	'about',
	'text',
	'path',
	'encoding',
	'where',
	'rows',
	'title',
	'version',
	'mark',
	'last'
];

function body(): string {
	const likely: Record<string, unknown> = {};
	for (let nth = 0; nth < 6; nth++)
		likely[pick(FIELDS)] = pick([
			value,
			() => 'vessel',
			() => 'cutter_04',
			() => 'seats',
			() => '7',
			() => ['cutter_04'],
			() => 1
		])();
	const intention = { do: pick(DO), kind: 'vessel', id: 'cutter_04', field: 'seats', ...likely };
	return pick<() => string>([
		() => JSON.stringify({ intention, version: pick([1, 0, -1, undefined]) }),
		() =>
			JSON.stringify({
				do: pick([...DO, 'link', 'name', 'use', 'verify', 'say', 'undo', 'docs']),
				...likely
			}),
		() => JSON.stringify(value() ?? null),
		() => '{"a":',
		() => '',
		() => '"\\u0000"',
		() => '['.repeat(3000),
		() => '{"__proto__":{"polluted":true}}'
	])();
}

const address = (): string => {
	const filled = pick(routes).replace(/\[+(?:\.\.\.)?(\w+)\]+/g, (_, name: string) =>
		name === 'project' && random() < 0.85
			? 'gannet-sound'
			: encodeSafely(pick(['vessel', 'cutter_04', 'base', ...ODD]))
	);
	const query = Array.from(
		{ length: Math.floor(random() * 3) },
		() =>
			`${pick(['q', 'where', 'filter', 'sort', 'ticket', 'field', 'like', 'words', 'from', 'count', 'ids', 'depth', 'line', 'id', 'of', 'layer', 'kind', 'cols', 'trial', 'to', 'new', 'as'])}=${encodeSafely(pick(ODD))}`
	);
	return filled + (query.length > 0 ? `?${query.join('&')}` : '');
};
function encodeSafely(text: string): string {
	try {
		return encodeURIComponent(text);
	} catch {
		return '%ED%A0%80';
	}
}

/** Memory of the server process, in bytes. */
const memory = () =>
	Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid()}/status`, 'utf8'))![1]) * 1024;

test(`${times(Number(process.env.ATTACK_CALLS ?? 800), 10_000)} calls: no fault of the server, each refusal in words`, async () => {
	const calls = times(Number(process.env.ATTACK_CALLS ?? 800), 10_000);
	let early = 0;
	const faults: string[] = [];
	for (let nth = 0; nth < calls; nth++) {
		// Also where this call is left out.
		if (nth === Math.floor(calls / 4)) early = memory();
		const method = pick(['GET', 'POST', 'POST', 'POST', 'PUT', 'DELETE']);
		const at = address();
		// What would run a game, empty the project or never end is another test's.
		if (/\/api\/(?:trial|project|restore|events|export)/.test(at)) continue;
		const headers: Record<string, string> = { origin: server.address };
		if (method !== 'GET')
			headers['content-type'] = pick([
				'application/json',
				'application/json',
				'text/plain',
				'application/zip'
			]);
		if (random() < 0.5) headers.accept = 'application/json';
		const sent = method === 'GET' ? undefined : body();
		const answer = await fetch(server.address + at, {
			method,
			headers,
			redirect: 'manual',
			...(sent === undefined ? {} : { body: sent })
		});
		const said = await answer.text();
		if (answer.status >= 500)
			faults.push(`${answer.status} ${method} ${at} ${sent?.slice(0, 300) ?? ''} → ${said.slice(0, 200)}`);
		if (/\bat \S+ \(|node:internal|\.ts:\d+/.test(said) && answer.status >= 400)
			faults.push(`a stack: ${method} ${at}`);
		if (
			answer.status >= 400 &&
			at.includes('/api/') &&
			answer.headers.get('content-type')?.includes('json')
		) {
			const { message } = JSON.parse(said) as { message?: string };
			if (!message) faults.push(`no words: ${answer.status} ${method} ${at}`);
		}
	}
	expect(faults.slice(0, 12)).toEqual([]);
	expect(({} as Record<string, unknown>).polluted).toBeUndefined();
	expect(memory()).toBeLessThan(early * 1.6 + 80 * 2 ** 20);
	expect((await fetch(`${server.address}/p/gannet-sound/api/ticket/vessel/cutter_04`)).status).toBe(200);
});

test('what comes from elsewhere, is too large or has no length is refused before it is read', async () => {
	const to = `${server.address}/p/gannet-sound/api/plan`;
	const call = (headers: Record<string, string>, sent = '{}') =>
		fetch(to, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: sent });
	expect((await call({ origin: 'http://elsewhere.example' })).status).toBe(403);
	expect((await call({})).status).toBe(403);
	expect((await call({ origin: server.address }, ' '.repeat(9 * 2 ** 20))).status).toBe(413);
	const endless = new ReadableStream({
		start(controller) {
			controller.enqueue(new TextEncoder().encode('{}'));
			controller.close();
		}
	});
	const chunked = await fetch(to, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server.address },
		body: endless,
		duplex: 'half'
	} as RequestInit);
	expect(chunked.status).toBe(411);
	expect((await chunked.json()) as object).toMatchObject({ message: expect.stringContaining('length') });
	for (const path of ['/kettle.svg', '/theme.js', '/p/gannet-sound/find']) {
		const answer = await fetch(server.address + path);
		expect(answer.headers.get('x-frame-options'), path).toBe('DENY');
		expect(answer.headers.get('content-security-policy'), path).toMatch(
			/script-src 'self'|default-src 'self'/
		);
		expect(answer.headers.get('content-security-policy'), path).not.toMatch(/script-src[^;]*unsafe/);
	}
});

test('more event streams than there is room for are told so, and an edit does not wait for those that are open', async () => {
	const controller = new AbortController();
	const open = await Promise.all(
		Array.from({ length: 310 }, () =>
			fetch(`${server.address}/p/gannet-sound/api/events`, { signal: controller.signal })
		)
	);
	expect(open.filter(({ status }) => status === 200)).toHaveLength(300);
	expect(open.filter(({ status }) => status === 503)).toHaveLength(10);
	const since = performance.now();
	const edited = await fetch(`${server.address}/p/gannet-sound/api/apply`, {
		method: 'POST',
		headers: { 'content-type': 'application/json', origin: server.address },
		body: JSON.stringify({
			intention: { do: 'set', kind: 'vessel', id: 'cutter_05', field: 'seats', value: '11' }
		})
	});
	expect(edited.status).toBe(200);
	console.log(`an edit beside 300 streams: ${Math.round(performance.now() - since)} ms`);
	controller.abort();
});
