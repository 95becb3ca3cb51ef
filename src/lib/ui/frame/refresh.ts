import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/** The loading that was asked for last. */
let last: Promise<void> = Promise.resolve();

/** Waits until no other page is on its way. */
async function arrived(): Promise<void> {
	let way: Promise<unknown> | null = null;
	while (navigating.complete !== null && navigating.complete !== way) {
		way = navigating.complete;
		await way.catch(() => undefined);
	}
}

/**
 * Loads again what the page shows, and ends when that is there. When another page is on its way, that comes first:
 * loading again in the middle of it would cut it short, and the link that somebody followed would do nothing. A loading
 * that another one overtakes ends at once, without what it was asked for: what overtook it is waited for as well.
 */
export async function refresh(): Promise<void> {
	await arrived();
	let own = (last = invalidateAll());
	await own;
	while (own !== last) {
		own = last;
		await own;
	}
}
