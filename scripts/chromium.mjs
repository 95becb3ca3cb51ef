import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** How Chromium is started, everywhere: without a monitor, and without calling anybody. */
export const CHROMIUM_FLAGS =
	'--headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
		' '
	);

/** Debian's Chromium below a root: the installed wrapper, or the program itself where it was only unpacked. @param {string} root */
export function findChromium(root) {
	const names = root === '/' ? ['usr/bin/chromium'] : ['usr/lib/chromium/chromium'];
	return names.map((name) => join(root, name)).find((path) => existsSync(path)) ?? null;
}
