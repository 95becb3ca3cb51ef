// What a step changes besides the files of my mod: the version of the game, what is said of it, an option.
import * as z from 'zod';
import type { Sayings } from '$core/carry';
import { NotPossible, type Intention } from '$core/edits';
import { noteSchema } from '$core/guide';
import { optionsSchema } from '$core/options';
import { carriedSayings } from './carry';
import { changeOption } from './db/options';
import type { Queries } from './db/pool';
import { standFor } from './db/projects';
import { putSayings } from './db/sayings';
import type { Model } from './model';

/** What is said besides the files, as a step of the ledger holds it. */
const sayingsSchema: z.ZodType<Sayings> = z.object({
	shared: z.string().nullable(),
	mine: z.string().nullable(),
	options: optionsSchema,
	notes: z.array(noteSchema)
});

/** An intention with all that it changes besides files, so that this can be taken back. */
export async function withBesides(client: Queries, model: Model, intention: Intention): Promise<Intention> {
	if (intention.do !== 'carry') return intention;
	const { was, becomes } = await carriedSayings(client, model, intention.to);
	return { ...intention, sayings: { was: { ...was }, becomes: { ...becomes } } };
}

/** The new version of the game in the place of the old one, or back, and what is said of it with it. */
async function carry(
	client: Queries,
	slug: string,
	{ to, from, called, sayings }: Extract<Intention, { do: 'carry' }>,
	direction: 'undo' | 'redo'
): Promise<void> {
	if (!(await standFor(client, slug, direction === 'undo' ? from : to)))
		throw new NotPossible(
			'The version of the game that belongs to this step is not in this project any more. Nothing was changed.'
		);
	const [was, becomes] = [sayings?.was, sayings?.becomes].map((one) => sayingsSchema.safeParse(one).data);
	if (!was || !becomes) return;
	if (direction === 'redo') await putSayings(client, slug, was, becomes, `Carry over to ${called}`);
	else await putSayings(client, slug, becomes, was, `Undo: Carry over to ${called}`);
}

/**
 * Does what a step changes besides files, or takes it back. False where something was changed since, and stays as it is.
 * @throws NotPossible where it cannot be
 */
export async function doBesides(
	client: Queries,
	slug: string,
	intention: Intention,
	direction: 'undo' | 'redo'
): Promise<boolean> {
	if (intention.do === 'carry') await carry(client, slug, intention, direction);
	if (intention.do !== 'option') return true;
	const { was, becomes } = intention;
	return direction === 'undo'
		? changeOption(client, slug, becomes, was)
		: changeOption(client, slug, was, becomes);
}
