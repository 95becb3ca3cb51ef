import { chromium } from 'playwright-core';
import { CHROMIUM_FLAGS } from './scripts/chromium.mjs';
const [,, ...specs] = process.argv;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_FLAGS });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
const base = 'http://127.0.0.1:4555';
let slug = process.env.SLUG;
if (!slug) {
	await page.goto(base + '/?all');
	await page.getByLabel('Folder that holds').fill('/tmp/coast/game');
	await page.getByRole('button', { name: 'Bring it in' }).click();
	await page.waitForURL(/\/p\/[^/]+\//);
	slug = new URL(page.url()).pathname.split('/')[2];
	console.log('slug', slug);
}
for (const spec of specs) {
	const [name, path, theme] = spec.split('|');
	await page.emulateMedia({ colorScheme: theme === 'dark' ? 'dark' : 'light' });
	await page.goto(`${base}/p/${slug}/${path}`); await page.waitForTimeout(700);
	await page.screenshot({ path: `/tmp/shots/${name}.png` });
}
await browser.close();
