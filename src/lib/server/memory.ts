// What many small requests leave behind is given back while there is little of it: left alone, the heap of a small
// project grows to a multiple of what is in use before the runtime sweeps it.

import { isBusy } from './breath';

/** Bytes that may be left behind, and the size of a heap from which on sweeping it in one go would be felt. */
const SLACK = 64 * 2 ** 20;
const LARGE = 400 * 2 ** 20;
/** Milliseconds between two looks. */
const LOOK = 5000;

/**
 * Sweeps the heap when more than a bound was left behind since the last time, and nothing long is under way. Needs
 * `--expose-gc`.
 */
export function boundMemory(): void {
	const sweep = globalThis.gc;
	if (!sweep) return;
	let kept = process.memoryUsage().heapUsed;
	setInterval(() => {
		const { heapUsed } = process.memoryUsage();
		if (heapUsed < kept) kept = heapUsed;
		if (heapUsed - kept < SLACK || heapUsed > LARGE || isBusy()) return;
		sweep();
		kept = process.memoryUsage().heapUsed;
	}, LOOK).unref();
}
