const CODE = /^[a-z]{2}(?:[-_][A-Za-z]{2,4})?$/;

const names = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'none' });

/** The name of a language in itself, by its code; null where it is no code. */
export function languageName(code: string): string | null {
	if (!CODE.test(code)) return null;
	const tag = code.replace('_', '-');
	try {
		if (names.of(tag) === undefined) return null;
		return new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag;
	} catch {
		return null;
	}
}
