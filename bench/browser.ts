// The browser in which benches measure what people wait for.
import { join } from 'node:path';
import { chromium, type Browser } from 'playwright-core';
import { CHROMIUM_FLAGS, findChromium } from '../scripts/chromium.mjs';
import { provide } from '../scripts/debian.mjs';

/** Debian's Chromium with a fresh profile; it is installed where it is not there yet. */
export function openBrowser(): Promise<Browser> {
	const { path, env } = provide({
		find: findChromium,
		packages: ['chromium'],
		home: join(process.cwd(), '.kettle'),
		what: 'Chromium'
	});
	return chromium.launch({
		executablePath: path,
		args: CHROMIUM_FLAGS,
		env: { ...process.env, ...env } as Record<string, string>
	});
}
