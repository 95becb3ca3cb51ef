// Marked places at which a test lets the process die as in a power cut: `KETTLE_FAIL=after-blob:3` ends it the third time.
const wish = process.env.KETTLE_FAIL ?? '';
const [place = '', nth = '1'] = wish.split(':');
let passed = 0;

/** Ends the process at once where a test asked for it; else nothing. */
export function failpoint(name: string): void {
	if (place === '' || name !== place || ++passed < Number(nth)) return;
	process.kill(process.pid, 'SIGKILL');
	// The signal is on its way: nothing more is done.
	Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 60_000);
}
