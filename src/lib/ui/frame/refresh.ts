import { invalidateAll } from '$app/navigation';
import { navigating } from '$app/state';

/**
 * Loads again what the page shows. When another page is on its way, that comes first: loading again in the
 * middle of it would cut it short, and the link that somebody followed would do nothing.
 */
export async function refresh(): Promise<void> {
	let way: Promise<unknown> | null = null;
	while (navigating.complete !== null && navigating.complete !== way) {
		way = navigating.complete;
		await way.catch(() => undefined);
	}
	await invalidateAll();
}
