// Changes of the field guide, as the pages ask for them.
import { refresh } from '../frame/refresh';
import type { GuideAnswer, GuideChange } from '$core/views';
import { hush, post, Refused, say } from '../frame/client.svelte';

/** Sorts of values as people call them. */
export const TYPES: Readonly<Record<string, string>> = {
	text: 'text',
	whole: 'whole number',
	decimal: 'number',
	chance: 'chance, 0 to 1',
	switch: 'switch',
	code: 'code with a meaning',
	flags: 'flags in one number',
	reference: 'reference',
	textKey: 'key of a text',
	file: 'file',
	list: 'list',
	weights: 'weighted list',
	colour: 'colour',
	date: 'date',
	duration: 'duration',
	angle: 'angle',
	position: 'position',
	expression: 'expression'
};

/** The change that was asked for last; each goes when the one before it is through, so that none overtakes another. */
let last: Promise<unknown> = Promise.resolve();

/** Changes the guide, says what came of it, and ends when the page shows it. True when it was done. */
export function changeGuide(slug: string, change: GuideChange): Promise<boolean> {
	const own = last.then(() => changeNow(slug, change));
	last = own.catch(() => undefined);
	return own;
}

async function changeNow(slug: string, change: GuideChange): Promise<boolean> {
	hush();
	try {
		const { said, left } = await post<GuideAnswer>(`/p/${slug}/api/guide`, change);
		await refresh();
		say(
			[`${said}.`, ...left.slice(0, 3), left.length > 3 ? `${left.length - 3} more.` : '']
				.filter(Boolean)
				.join(' '),
			{
				bad: left.length > 0
			}
		);
		return true;
	} catch (fault) {
		if (!(fault instanceof Refused)) throw fault;
		say(fault.message, { bad: true });
		return false;
	}
}
