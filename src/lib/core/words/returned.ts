// Texts that come back from whoever translated them: what is new, and what changed in the meantime.
import type { Stack } from '../stack';
import { tagOf } from '../text';
import { textTable } from './coverage';

/** What cannot be taken in at all. The message says where and why. */
export class ExchangeFault extends Error {}

/** A text as it came back. */
export interface ReturnedText {
	key: string;
	/** The text in the main language that was translated; null where the file does not say it. */
	source: string | null;
	/** The translation when it was given out; null where the file does not say it. */
	before: string | null;
	target: string;
	/** False where whoever translated it marked it as not done. */
	finished: boolean;
	/** Where in the file it is, from 1. */
	line: number;
}

/** A file that came back. */
export interface Returned {
	/** The language that it is translated into, as the file says it. */
	to: string;
	texts: ReturnedText[];
	/** What in it could not be read. */
	faults: { line: number; message: string }[];
}

/** A text that is taken in. */
export interface TakenText {
	key: string;
	/** The translation that is there now; empty where there is none. */
	now: string;
	text: string;
}

/** A text of which the game or my mod says something else now than when it was given out. */
export interface ChangedText extends TakenText {
	/** The main language when it was given out (null where the file does not say it), and now. */
	source: { then: string | null; now: string };
	/** The translation when it was given out; null where the file does not say it. */
	then: string | null;
}

/** What becomes of the texts of a file that came back. */
export interface TakenIn {
	/** The language, by its code in the game. */
	to: string;
	/** New translations, of texts that nobody touched meanwhile. */
	taken: TakenText[];
	/** Translations of texts that changed meanwhile: each is somebody's choice. */
	changed: ChangedText[];
	/** Texts that are there already, word for word. */
	there: number;
	/** Texts without a translation, and those that are marked as not done. */
	empty: number;
	unfinished: number;
	/** Keys that no text has. */
	unknown: { key: string; line: number }[];
	faults: { line: number; message: string }[];
}

/** The code of a language in the game by what a file calls it; null where the game has none that is called so. */
export function codeOf({ guide }: Stack, said: string): string | null {
	const codes = Object.keys(guide.words?.languages ?? {});
	return (
		codes.find((code) => code === said) ??
		codes.find((code) => tagOf(code).toLowerCase() === tagOf(said).toLowerCase()) ??
		null
	);
}

/**
 * What becomes of a file that came back. A text whose main language or translation is no longer what it was when it was
 * given out is not taken, but told with all that is said of it. Where the file does not tell what was there before, a
 * translation that is there now counts as one that changed.
 * @throws ExchangeFault where the game has no such language, or the file is in the main one
 */
export function takenIn(stack: Stack, { to: said, texts, faults }: Returned): TakenIn {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	if (!words || !table) throw new ExchangeFault('This game has no texts in languages that are known.');
	const to = codeOf(stack, said);
	const known = Object.entries(words.languages).map(([code, title]) => `${title} (${code})`);
	if (to === null)
		throw new ExchangeFault(
			`The file is in “${said}”, which is not a language of this game. It has ${known.join(', ')}.`
		);
	if (to === words.main)
		throw new ExchangeFault(
			`The file is in ${words.languages[to]}, the main language, which texts are translated from.`
		);
	const result: TakenIn = {
		to,
		taken: [],
		changed: [],
		there: 0,
		empty: 0,
		unfinished: 0,
		unknown: [],
		faults: [...faults]
	};
	const seen = new Map<string, string>();
	for (const { key, source, before, target, finished, line } of texts) {
		const record = table.byId.get(key);
		if (!record) {
			result.unknown.push({ key, line });
			continue;
		}
		const earlier = seen.get(key);
		if (earlier !== undefined) {
			if (earlier !== target)
				result.faults.push({ line, message: `“${key}” is there twice. The first translation counts.` });
			continue;
		}
		seen.set(key, target);
		const [now, sourceNow] = [record.value(to) ?? '', record.value(words.main) ?? ''];
		if (target === '') result.empty++;
		else if (!finished) result.unfinished++;
		else if (target === now) result.there++;
		else if ((source ?? sourceNow) !== sourceNow || (before ?? '') !== now)
			result.changed.push({
				key,
				now,
				text: target,
				source: { then: source, now: sourceNow },
				then: before
			});
		else result.taken.push({ key, now, text: target });
	}
	return result;
}
