// Texts for translators: which are given out, as which file, and what becomes of a file that came back.
import * as z from 'zod';
import type { GiveView, TakeView } from '$core/views';
import {
	coverageSteps,
	FORM_NAMES,
	FORMS,
	giveAs,
	givenOut,
	readReturned,
	takenIn,
	textTable,
	type GiveAsked
} from '$core/words';
import { inSteps } from '../breath';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** What may be asked for in an address: `to`, `all` and `mine`. */
const askedSchema = z.object({
	to: z.string().optional(),
	all: z.string().optional(),
	mine: z.string().optional()
});
const formSchema = z.enum(FORM_NAMES);

/** What is sent to see what becomes of a file. */
export const takeSchema = z.object({ text: z.string() });

/** What an address asks for: without a language the first that anything is missing in. */
function askedIn(url: URL, languages: readonly { code: string; missing: number }[]): GiveAsked {
	const { to, all, mine } = askedSchema.parse(Object.fromEntries(url.searchParams));
	const chosen =
		to === undefined
			? (languages.find(({ missing }) => missing > 0) ?? languages[0])
			: languages.find(({ code }) => code === to);
	if (!chosen) throw new NotThere(`This game is not translated into “${to ?? ''}”.`);
	return { to: chosen.code, open: all === undefined, mine: mine !== undefined };
}

/** What can be given out, and how many texts an address asks for; null where there is nothing to translate into. */
export async function giveView({ stack, links }: Model, url: URL): Promise<GiveView | null> {
	const coverage = await inSteps(coverageSteps(stack));
	const main = coverage.find((language) => language.main);
	const languages = coverage
		.filter((language) => !language.main)
		.map(({ code, title, missing, stale }) => ({ code, title, missing, stale }));
	if (!main || languages.length === 0) return null;
	const asked = askedIn(url, languages);
	return { main: main.title, languages, asked, count: givenOut(stack, links, asked).units.length };
}

/** The file that an address asks for. @throws ExchangeFault, NotThere, ZodError */
export function giveFile(model: Model, url: URL): { name: string; type: string; text: string } {
	const { stack, links, project } = model;
	const form = formSchema.parse(url.searchParams.get('as'));
	const main = stack.guide.words?.main;
	const codes = Object.keys(stack.guide.words?.languages ?? {}).filter((code) => code !== main);
	const asked = askedIn(
		url,
		codes.map((code) => ({ code, missing: 0 }))
	);
	const { ending, type } = FORMS[form];
	return {
		name: `${project.slug}-${asked.to.replace(/[^\w-]+/g, '_')}.${ending}`,
		type,
		text: giveAs(givenOut(stack, links, asked), form)
	};
}

/** What becomes of a file that came back; nothing is written. @throws ExchangeFault */
export function takeView({ stack }: Model, { text }: z.infer<typeof takeSchema>): TakeView {
	const found = takenIn(stack, readReturned(text));
	const { languages, main } = stack.guide.words!;
	return { ...found, kind: textTable(stack)!.kind, title: languages[found.to]!, main: languages[main]! };
}
