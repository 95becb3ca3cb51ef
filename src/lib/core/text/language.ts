const CODE = /^[a-z]{2}(?:[-_][A-Za-z]{2,4})?$/;

/** Made when it is first asked for: it takes five megabytes, and most games have one language. */
let names: Intl.DisplayNames | null = null;

/** The name of a language in itself, by its code; null where it is no code. */
export function languageName(code: string): string | null {
	if (!CODE.test(code)) return null;
	const tag = code.replace('_', '-');
	try {
		names ??= new Intl.DisplayNames(['en'], { type: 'language', fallback: 'none' });
		if (names.of(tag) === undefined) return null;
		return new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag;
	} catch {
		return null;
	}
}

/** A language as other programs write it (BCP 47): `zh_cn` as `zh-CN`; what cannot be one is marked as private. */
export function tagOf(code: string): string {
	try {
		return Intl.getCanonicalLocales(code.replaceAll('_', '-'))[0]!;
	} catch {
		const parts = code.toLowerCase().match(/[a-z0-9]{1,8}/g) ?? ['none'];
		return `x-${parts.join('-')}`;
	}
}

/** Whether an id or a key is one that people read, and no code: it has blanks, other letters, or is a word with a capital. */
export const isReadable = (key: string): boolean =>
	/[\s\u0080-\uffff]/.test(key) || /^[A-Z][a-z'-]+$/.test(key);
