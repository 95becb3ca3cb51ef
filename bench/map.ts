// `npm run bench map`: a map with 50,000 things and 5,000 links: how soon it is drawn, and whether it moves without a hitch.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { clock, inApp } from './app';
import type { MapView } from '$core/views';
import { openBrowser } from './browser';
import { random } from './game';
import { median, most, ms, row } from './said';

const THINGS = Number(process.env.BENCH_THINGS ?? 50_000);
const LINKS = Number(process.env.BENCH_LINKS ?? 5_000);

const GUIDE = `guide: 1
kinds:
  bay: { title: Bay, files: ['bays/*/bay.json'], id: folder, at: null }
  mark:
    title: Mark
    files: ['bays/*/marks.json']
    key: id
    at: ''
    fields: { '#folder': { reference: { kinds: [bay] } }, next: { type: reference, reference: { kinds: [mark] } } }
  wreck:
    title: Wreck
    files: ['bays/*/wrecks.lst']
    id: folder
    written: { layout: { shape: positional, head: [[count]], record: [[day, x, y]], count: count } }
    fields: { '#folder': { reference: { kinds: [bay] } } }
places:
  bay:
    x: [0, 900]
    y: [0, 900]
    ground: { file: 'bays/{id}/ground.txt', says: depth }
    days: { last: 28, repeats: true }
    things:
      - { kind: mark, in: '#folder', x: x, y: y, to: next }
      - { kind: wreck, in: '#folder', x: x, y: y, from: day }
`;

await inApp('map', async ({ base, work, post, brought, opened }) => {
	const next = random(7);
	const place = () => Math.floor(next() * 900);
	const folder = join(work, 'map');
	for (const bay of ['full', 'empty']) mkdirSync(join(folder, 'bays', bay), { recursive: true });
	for (const bay of ['full', 'empty']) {
		const [links, wrecks] = bay === 'full' ? [LINKS, THINGS - LINKS] : [1, 1];
		writeFileSync(join(folder, 'bays', bay, 'bay.json'), '{ "depth": 1 }\n');
		const marks = Array.from({ length: links }, (_, at) =>
			JSON.stringify({ id: `${bay}_${at}`, x: place(), y: place(), next: `${bay}_${(at + 1) % links}` })
		);
		writeFileSync(join(folder, 'bays', bay, 'marks.json'), `[\n${marks.join(',\n')}\n]\n`);
		const lines = Array.from(
			{ length: wrecks },
			() => `${1 + Math.floor(next() * 28)} ${place()} ${place()}`
		);
		writeFileSync(join(folder, 'bays', bay, 'wrecks.lst'), `${wrecks}\n${lines.join('\n')}\n`);
		const ground = Array.from({ length: 64 }, (_, y) =>
			Array.from({ length: 64 }, (__, x) => (Math.sin(x / 7) * Math.cos(y / 9) * 20).toFixed(1)).join(' ')
		);
		writeFileSync(join(folder, 'bays', bay, 'ground.txt'), `${ground.join('\n')}\n`);
	}
	writeFileSync(`${folder}.guide.yaml`, GUIDE);
	const slug = await brought('map', folder);
	console.log(`${THINGS} things, ${LINKS} of them with a link`);
	const browser = await openBrowser();
	const at = (bay: string) => `/p/${slug}/places/bay/${bay}`;
	const drawn = '[data-testid=map][data-drawn]';
	const empty = await opened(browser, at('empty'), drawn);
	const full = await opened(browser, at('full'), drawn);
	row(
		'the whole picture after opening the page anew',
		`median ${ms(median(full))} ms; of a map with two things ${ms(median(empty))} ms`,
		'500 ms more'
	);
	/** Moves one thing of the large map. */
	const change = (nth: number) =>
		post(`/p/${slug}/api/apply`, {
			intention: { do: 'set', kind: 'mark', id: 'full_0', field: 'x', value: String(100 + nth) }
		});
	const emptyAfter = await opened(browser, at('empty'), drawn, change);
	const fullAfter = await opened(browser, at('full'), drawn, (nth) => change(20 + nth));
	row(
		'the same right after a change of one thing on the large one',
		`median ${ms(median(fullAfter))} ms; of the map with two things ${ms(median(emptyAfter))} ms`,
		'500 ms more'
	);
	const answers: number[] = [];
	for (let nth = 0; nth < 7; nth++)
		answers.push(
			await clock(async () => (await fetch(`${base}/p/${slug}/api/places/bay/full`)).arrayBuffer())
		);
	const afresh: number[] = [];
	for (let nth = 0; nth < 7; nth++) {
		await change(40 + nth);
		afresh.push(
			await clock(async () => (await fetch(`${base}/p/${slug}/api/places/bay/full`)).arrayBuffer())
		);
	}
	row(
		'the answer of the server with all that stands there',
		`median ${ms(median(answers))} ms; the first after a change ${ms(median(afresh))} ms`,
		''
	);
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(base + at('full'));
	await page.locator(drawn).waitFor();
	await page.evaluate(() => {
		const tasks: number[] = [];
		(window as { tasks?: number[] }).tasks = tasks;
		new PerformanceObserver((list) =>
			tasks.push(...list.getEntries().map(({ duration }) => duration))
		).observe({
			type: 'longtask'
		});
	});
	/** Says what tasks took more than 50 ms since it was asked last. */
	const told = async (what: string) => {
		const tasks = await page.evaluate(() => (window as { tasks?: number[] }).tasks!.splice(0));
		row(
			`tasks of more than 50 ms ${what}`,
			`${tasks.length}${tasks.length > 0 ? `, the longest ${ms(most(tasks))} ms` : ''}`,
			'none'
		);
	};
	const box = (await page.getByTestId('map').boundingBox())!;
	const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
	await page.mouse.move(x, y);
	await page.getByTestId('map').focus();
	for (let nth = 0; nth < 20; nth++) {
		await page.mouse.wheel(0, nth % 2 === 0 ? -240 : 240);
		for (let step = 0; step < 4; step++) await page.keyboard.press(nth % 4 < 2 ? 'ArrowRight' : 'ArrowLeft');
		await page.mouse.move(x + nth * 8, y + nth * 3, { steps: 6 });
	}
	await told('in 20 rounds of zooming, moving the map and pointing');
	// One thing is dragged about, and let go where it began.
	const list = page.getByRole('region', { name: 'What is on the map' }).getByRole('button');
	await list.first().click();
	await page.getByTestId('map').focus();
	await told('of picking a thing');
	const view = (await (await fetch(`${base}/p/${slug}/api/places/bay/full`)).json()) as MapView;
	const fit = Math.min((box.width - 58) / 900, (box.height - 36) / 900);
	await page.getByRole('button', { name: 'Whole map' }).click();
	const left = box.x + 45 + Math.max(0, (box.width - 58 - fit * 900) / 2);
	const [startX, startY] = [left + view.things.x[0]! * fit, box.y + 15 + view.things.y[0]! * fit];
	await page.mouse.move(startX, startY);
	await page.mouse.down();
	for (let nth = 0; nth < 20; nth++)
		await page.mouse.move(x + (nth % 5) * 30, y + (nth % 7) * 20, { steps: 6 });
	await page.mouse.move(startX, startY, { steps: 6 });
	await page.mouse.up();
	await told('while a thing is dragged about');
	await browser.close();
});
