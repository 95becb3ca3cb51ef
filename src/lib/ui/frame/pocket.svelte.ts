// The pocket: labelled values and records at hand while working, kept by the server.
import type { PocketItem } from '$core/views';
import { post, say } from './client.svelte';

/** What is in the pocket, what of it is in hand (to be dropped into a field), and whether it is open. */
export const pocket = $state<{ items: PocketItem[]; inHand: PocketItem | null; open: boolean }>({
	items: [],
	inHand: null,
	open: false
});

const addressOf = (slug: string) => `/p/${slug}/api/pocket`;

async function ask(address: string, method: string, body?: unknown): Promise<void> {
	const answer = await fetch(address, {
		method,
		...(body === undefined
			? {}
			: { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
	}).catch(() => null);
	if (answer?.ok) pocket.items = (await answer.json()) as PocketItem[];
	else say('The pocket could not be reached; nothing in it has changed.', { bad: true });
	if (pocket.inHand && !pocket.items.some(({ id }) => id === pocket.inHand!.id)) pocket.inHand = null;
}

export const loadPocket = (slug: string) => ask(addressOf(slug), 'GET');
export const labelItem = (slug: string, id: number, label: string) =>
	ask(addressOf(slug), 'PUT', { id, label });
export const dropItem = (slug: string, id: number) => ask(`${addressOf(slug)}?id=${id}`, 'DELETE');

/** Keeps something at hand. */
export async function keep(slug: string, item: Omit<PocketItem, 'id'>): Promise<void> {
	try {
		pocket.items = await post<PocketItem[]>(addressOf(slug), item);
		say(`Kept in the pocket: ${item.label}`);
	} catch (error) {
		say((error as Error).message, { bad: true });
	}
}
