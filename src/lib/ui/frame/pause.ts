import { onDestroy } from 'svelte';

/**
 * Waits for a pause: of several calls the last one does its work, after so many milliseconds; none does once the
 * component is gone, whose properties may be gone as well. To be made while a component is made.
 */
export function makePause(): { after: (work: () => void, milliseconds: number) => void; stop: () => void } {
	let timer: ReturnType<typeof setTimeout> | undefined;
	const stop = () => clearTimeout(timer);
	onDestroy(stop);
	return {
		after(work, milliseconds) {
			stop();
			timer = setTimeout(work, milliseconds);
		},
		stop
	};
}
