// `npm run bench map`: a map with 50,000 things and 5,000 links: how soon it is drawn, and whether it moves without a hitch.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { inApp } from './app';
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

await inApp('map', async ({ base, work, brought, opened }) => {
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
	const empty = await opened(browser, at('empty'), '[data-testid=map][data-drawn]');
	const full = await opened(browser, at('full'), '[data-testid=map][data-drawn]');
	row(
		'the whole picture after opening the page anew',
		`median ${ms(median(full))} ms; of a map with two things ${ms(median(empty))} ms`,
		'500 ms more'
	);
	const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
	await page.goto(base + at('full'));
	await page.locator('[data-testid=map][data-drawn]').waitFor();
	await page.evaluate(() => {
		const tasks: number[] = [];
		(window as { tasks?: number[] }).tasks = tasks;
		new PerformanceObserver((list) =>
			tasks.push(...list.getEntries().map(({ duration }) => duration))
		).observe({
			type: 'longtask'
		});
	});
	const box = (await page.getByTestId('map').boundingBox())!;
	for (let nth = 0; nth < 20; nth++) {
		await page.mouse.move(box.x + 400, box.y + 300);
		await page.mouse.wheel(0, nth % 2 === 0 ? -240 : 240);
		await page.mouse.down();
		await page.mouse.move(box.x + 400 + nth * 8, box.y + 320, { steps: 8 });
		await page.mouse.up();
	}
	const tasks = await page.evaluate(() => (window as { tasks?: number[] }).tasks!);
	row(
		'tasks of more than 50 ms in 20 rounds of zooming and dragging',
		`${tasks.length}${tasks.length > 0 ? `, the longest ${ms(most(tasks))} ms` : ''}`,
		'none'
	);
	await browser.close();
});
