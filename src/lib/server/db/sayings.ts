// What is said of a project besides its files: its guides, the options of its mod, its notes.
import type { Sayings } from '$core/carry';
import { composeGuides } from '$core/guide';
import type { ModOption } from '$core/options';
import { putGuides, readGuides } from './guides';
import { putNote, readNotes } from './notes';
import { putOptions, readOptions } from './options';
import type { Queries } from './pool';

/** All that is said besides the files. @param lock holds the options until the transaction ends */
export async function readSayings(q: Queries, slug: string, lock = false): Promise<Sayings> {
	return {
		...(await readGuides(q, slug)),
		options: await readOptions(q, slug, lock),
		notes: await readNotes(q, slug)
	};
}

const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * Puts what is said in the place of what it was. What is no longer as it was stays: somebody changed it since.
 * @param title of the step of the guide, where that changes
 * @throws GuideFault where the guides would be none
 */
export async function putSayings(
	q: Queries,
	slug: string,
	was: Sayings,
	becomes: Sayings,
	title: string
): Promise<void> {
	const now = await readSayings(q, slug, true);
	const pick = <T>(is: T, before: T, after: T): T => (isSame(is, before) ? after : is);
	const shared = pick(now.shared, was.shared, becomes.shared);
	const mine = pick(now.mine, was.mine, becomes.mine);
	if (shared !== now.shared || mine !== now.mine) {
		composeGuides(shared, mine);
		await putGuides(q, slug, { shared, mine }, title);
	}
	const optionOf = (options: readonly ModOption[], id: string) => options.find((one) => one.id === id);
	const options = now.options.map(
		(option) =>
			pick(
				option,
				optionOf(was.options, option.id) ?? null,
				optionOf(becomes.options, option.id) ?? option
			) as ModOption
	);
	if (!isSame(options, now.options)) await putOptions(q, slug, options);
	for (const [at, note] of was.notes.entries()) {
		const next = becomes.notes[at];
		if (!next || isSame(note, next) || !now.notes.some((one) => isSame(one, note))) continue;
		await putNote(q, slug, { ...note, nickname: '', note: '' });
		await putNote(q, slug, next);
	}
}
