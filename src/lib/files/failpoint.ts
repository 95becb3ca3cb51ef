// Marked places at which a test lets the process die as in a power cut. `KETTLE_FAIL=after-blob:3` ends it the third time;
// With a code behind it (`moved:2:ENOSPC`) the disk fails there instead, once.
// `KETTLE_FAIL_FILE` names a file that says so while the process runs: it is looked at whenever a mark is passed.
import { readFileSync } from 'node:fs';

const file = process.env.KETTLE_FAIL_FILE ?? '';
const passed = new Map<string, number>();

/** Where to die, and on which pass; null for nowhere. */
function wish(): string | null {
	if (file === '') return process.env.KETTLE_FAIL ?? null;
	try {
		return readFileSync(file, 'utf8');
	} catch {
		return null;
	}
}

/** Ends the process at once, or fails as a disk does, where a test asked for it; else nothing. */
export function failpoint(name: string): void {
	const said = wish();
	if (said === null) return passed.clear();
	const [place, nth = '1', code] = said.split(':');
	if (place !== name) return;
	const times = (passed.get(said) ?? 0) + 1;
	passed.set(said, times);
	if (times < Number(nth)) return;
	if (code !== undefined) {
		if (times > Number(nth)) return;
		throw Object.assign(new Error(code), { code });
	}
	process.kill(process.pid, 'SIGKILL');
	// The signal is on its way: nothing more is done.
	Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 60_000);
}
