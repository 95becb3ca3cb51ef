// Long work in steps, between which others get their turn.
import { performance } from 'node:perf_hooks';

/** Milliseconds of work between two breathers. */
const BREATH = 12;

/** Something to call between steps: it takes a breath where it is time for one. */
export function breather(): () => Promise<void> | void {
	let since = performance.now();
	return () => {
		if (performance.now() - since < BREATH) return;
		return new Promise((done) =>
			setImmediate(() => {
				since = performance.now();
				done();
			})
		);
	};
}

/**
 * Goes through steps, with breathers; gives what comes of them.
 * @param tell hears what each step yields
 */
export async function inSteps<S, T>(steps: Generator<S, T>, tell?: (step: S) => void): Promise<T> {
	const breathe = breather();
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
		tell?.(step.value);
		await breathe();
	}
}
