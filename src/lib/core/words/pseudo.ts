// A language for testing: every text longer by a third, with accents and with marks around it, so that one sees in the
// game what is cut off, what cannot be drawn and what is not translated at all. Placeholders and marks stay as they are.
import { anyOf, type Markup } from '../text';
import { spansOf } from './tokens';

const ACCENTED: Readonly<Record<string, string>> = Object.fromEntries(
	Array.from('aeiouyncsAEIOUYNCS', (letter, nth) => [letter, Array.from('áéíóúýñçšÁÉÍÓÚÝÑÇŠ')[nth]!])
);
/** Put between words until a text is as long as it should be. */
const FILL = 'ón twó threé fóur fívé síx ';

/** Marks around a text: what lacks one of them is cut off. */
const [OPEN, CLOSE] = ['[', ']'];

/** How much longer a text becomes. */
const LONGER = 1.35;

/** Where marks of the guide, placeholders and tags stand in a text, in order and joined where they meet. */
function fixedIn(
	text: string,
	markup: readonly Markup[],
	codes: readonly string[]
): { from: number; to: number }[] {
	const signs = markup.flatMap((mark) => ('code' in mark ? [mark.code] : [mark.open, mark.close]));
	const pattern = anyOf([...signs, ...codes].sort((a, b) => b.length - a.length));
	const spans = [
		...spansOf(text),
		...(pattern ? [...text.matchAll(pattern)] : []).map(({ 0: sign, index }) => ({
			from: index,
			to: index + sign.length
		}))
	].sort((a, b) => a.from - b.from);
	const joined: { from: number; to: number }[] = [];
	for (const span of spans) {
		const last = joined.at(-1);
		if (last && span.from < last.to) last.to = Math.max(last.to, span.to);
		else joined.push({ ...span });
	}
	return joined;
}

/** What is known of a text besides its words. */
interface PseudoAbout {
	markup?: readonly Markup[] | undefined;
	/** What else is not for reading: what is between its sections, placeholders that the guide names. */
	codes?: readonly string[] | undefined;
	/** Letters beyond which the game leaves it out altogether. */
	longest?: number | undefined;
}

/**
 * A text as the language for testing has it: longer by a third, if it may be, with accents, and with marks around it. One
 * without letters stays as it is.
 */
export function pseudoText(
	text: string,
	{ markup = [], codes = [], longest = Infinity }: PseudoAbout = {}
): string {
	if (!/\p{L}/u.test(text)) return text;
	let [made, at] = ['', 0];
	const accented = (part: string) => part.replace(/[A-Za-z]/g, (letter) => ACCENTED[letter] ?? letter);
	for (const { from, to } of fixedIn(text, markup, codes)) {
		made += accented(text.slice(at, from)) + text.slice(from, to);
		at = to;
	}
	made += accented(text.slice(at));
	const letters = [...made].length;
	const around = OPEN.length + CLOSE.length;
	if (letters + around > longest) return made;
	const missing = Math.min(Math.ceil(letters * LONGER), longest) - letters - around - 1;
	const filled = missing > 0 ? ` ${FILL.repeat(Math.ceil(missing / FILL.length)).slice(0, missing)}` : '';
	return `${OPEN}${made}${filled.trimEnd()}${CLOSE}`;
}
