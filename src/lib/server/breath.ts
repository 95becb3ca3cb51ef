// Long work in steps, between which others get their turn: requests, and other long work.
import { performance } from 'node:perf_hooks';

/** Milliseconds of work between two breaths. */
const BREATH = 6;

/** When the thread was last free for others. */
let free = performance.now();

/** Work that waits for its turn. */
const waiting: (() => void)[] = [];

/** Whether something long is under way. */
export const isBusy = (): boolean => waiting.length > 0;

/** Lets one go on each time the thread was free: however much work there is, nothing waits for all of it. */
function turn(): void {
	setImmediate(() => {
		free = performance.now();
		waiting.shift()?.();
		if (waiting.length > 0) turn();
	});
}

/** Something to call between steps: takes a breath where it is time for one, whoever has kept the thread since the last. */
export function breath(): Promise<void> | void {
	if (performance.now() - free < BREATH) return;
	return new Promise((done) => {
		waiting.push(done);
		if (waiting.length === 1) turn();
	});
}

/**
 * Goes through steps, with breaths; gives what comes of them.
 * @param tell hears what each step yields
 */
export async function inSteps<S, T>(steps: Generator<S, T>, tell?: (step: S) => void): Promise<T> {
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
		tell?.(step.value);
		await breath();
	}
}
