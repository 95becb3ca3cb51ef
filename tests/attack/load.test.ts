// Eight people at once, with the database started again in the middle: errors only while it was away, and no memory that
// grows with time.
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { LONG, randomFrom, withOwnDatabase } from './helpers';

const SLUG = 'gannet-sound';
/** Milliseconds that the load goes on, and after which the memory is looked at for the first time. */
const [ALL, FIRST] = LONG ? [30 * 60_000, 10 * 60_000] : [15_000, 5_000];
const CLIENTS = 8;
let own: Awaited<ReturnType<typeof withOwnDatabase>>;
beforeAll(async () => {
	own = await withOwnDatabase();
});
afterAll(() => own.stop());

const VESSELS = [
	'launch_01',
	'launch_02',
	'launch_03',
	'cutter_03',
	'cutter_04',
	'cutter_05',
	'tug_01',
	'tug_02'
];
const WORDS = ['cutter', 'hand winch', '47', 'raise_call', 'merlin draft', 'tow', 'ice', 'seats 8'];

/** Memory of the server process, in MB. */
const memory = () =>
	Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${own.app.pid}/status`, 'utf8'))![1]) / 1024;
const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

test(`${CLIENTS} people for ${ALL / 1000} s, PostgreSQL started anew in the middle`, async () => {
	const begun = Date.now();
	/** From when to when the database is away, with the seconds in which everything finds its way back. */
	let away: [number, number] = [Infinity, Infinity];
	const faults: string[] = [];
	let calls = 0;
	let refused = 0;
	const client = async (nth: number) => {
		const random = randomFrom(100 + nth);
		const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!;
		const at = `/p/${SLUG}`;
		const get = (path: string) => fetch(own.address + path);
		const doing: (() => Promise<Response>)[] = [
			() => get(`${at}/find?q=${encodeURIComponent(pick(WORDS))}`),
			() => get(`${at}/api/find?q=${encodeURIComponent(pick(WORDS))}`),
			() => get(`${at}/tables/vessel?sort=${pick(['seats', '-hull', 'speed'])}`),
			() => get(`${at}/api/rows/vessel?from=0&count=40&filter=${pick(['cutter', 'tug', 'seats>4'])}`),
			() => get(`${at}/api/ticket/vessel/${pick(VESSELS)}`),
			() => get(`${at}/snags`),
			() => get(`${at}/ledger`),
			() => get(`${at}/guide`),
			() => own.post(`${at}/api/undo`, {}),
			...Array.from(
				{ length: 4 },
				() => () =>
					own.post(`${at}/api/apply`, {
						intention: {
							do: 'set',
							kind: 'vessel',
							id: pick(VESSELS),
							field: 'seats',
							value: String(1 + Math.floor(random() * 40))
						}
					})
			)
		];
		while (Date.now() - begun < ALL) {
			const since = Date.now();
			const answer = await pick(doing)();
			const said = await answer.text();
			calls++;
			if (answer.status >= 500) {
				refused++;
				if (answer.status !== 503 || Date.now() < away[0] || since > away[1])
					faults.push(`${answer.status} after ${since - begun} ms: ${said.slice(0, 200)}`);
			}
			// Somebody who looks at what came, and then goes on.
			await new Promise((done) => setTimeout(done, 20 + random() * 60));
		}
	};
	const samples: [number, number][] = [];
	const watch = setInterval(() => samples.push([Date.now() - begun, memory()]), ALL / 240);
	const restart = setTimeout(() => {
		away = [Date.now(), Date.now() + 20_000];
		process.kill(own.database.pid()!, 'SIGQUIT');
	}, ALL / 2);
	await Promise.all(Array.from({ length: CLIENTS }, (_, nth) => client(nth)));
	clearInterval(watch);
	clearTimeout(restart);
	const around = (moment: number) =>
		median(samples.filter(([at]) => Math.abs(at - moment) < ALL / 15).map(([, size]) => size));
	const [first, last] = [around(FIRST), around(ALL)];
	console.log(
		`${calls} calls, ${refused} refused while the database was away; ${Math.round(first)} MB after ${FIRST / 1000} s, ${Math.round(last)} MB at the end`
	);
	expect(faults.slice(0, 8)).toEqual([]);
	expect(refused).toBeGreaterThan(0);
	// A short run is still warming up; what grows with each call would be far above this as well.
	expect(last).toBeLessThan(first * (LONG ? 1.1 : 1.6));
});
