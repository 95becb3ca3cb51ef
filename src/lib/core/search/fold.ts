const LETTERS: Record<string, string> = { ß: 'ss', æ: 'ae', ø: 'o', œ: 'oe', đ: 'd', ł: 'l' };

/** A text as it is compared: without case, accents and differences of width. */
export function fold(text: string): string {
	return text
		.normalize('NFKD')
		.toLowerCase()
		.replace(/[\u0300-\u036f]/g, '')
		.replace(/[ßæøœđł]/g, (letter) => LETTERS[letter]!);
}
