const LETTERS: Record<string, string> = { ß: 'ss', æ: 'ae', ø: 'o', œ: 'oe', đ: 'd', ł: 'l' };

const PLAIN = /^[\x00-\x7f]*$/;

/** A text as it is compared: without case, accents and differences of width. */
export function fold(text: string): string {
	if (PLAIN.test(text)) return text.toLowerCase();
	return text
		.normalize('NFKD')
		.toLowerCase()
		.replace(/[\u0300-\u036f]/g, '')
		.replace(/[ßæøœđł]/g, (letter) => LETTERS[letter]!)
		.normalize('NFC');
}

const SPLIT = /[^\p{L}\p{N}\p{M}]+/u;

/** The words of a folded text: runs of letters and digits. */
export function wordsOf(folded: string): string[] {
	if (!PLAIN.test(folded)) return folded.split(SPLIT).filter((word) => word !== '');
	const words: string[] = [];
	let from = -1;
	for (let at = 0; at < folded.length; at++) {
		const code = folded.charCodeAt(at);
		const inside = (code >= 97 && code <= 122) || (code >= 48 && code <= 57);
		if (inside) {
			if (from < 0) from = at;
		} else if (from >= 0) {
			words.push(folded.slice(from, at));
			from = -1;
		}
	}
	if (from >= 0) words.push(folded.slice(from));
	return words;
}

/** A word as a number; NaN where it is none. */
export const numberOf = (word: string): number =>
	/^[-+]?(?:\d+(?:\.\d*)?|\.\d+)$/.test(word) ? Number(word) : NaN;
