// Patterns with names in braces, which values are put in for: `item.{id}`, and `ITEM_{id:upper}` in capitals.

const BRACES = /\{([^{}]+?)(:upper)?\}/g;

/** What is written for a value that is put in in capitals. */
export const inCapitals = (name: string): string => `{${name}:upper}`;

/** The names in a pattern, in their order. */
export const namesInBraces = (pattern: string): string[] =>
	[...pattern.matchAll(BRACES)].map(([, name]) => name!);

/** A pattern with other names in its braces. */
export const renamedInBraces = (pattern: string, nameOf: (name: string) => string): string =>
	pattern.replace(BRACES, (_, name: string, form = '') => `{${nameOf(name)}${form}}`);

/** A pattern with its braces filled in; null when one of the values is absent or empty. */
export function fillPattern(pattern: string, value: (name: string) => string | undefined): string | null {
	let missing = false;
	const filled = pattern.replace(BRACES, (_, name: string, form: string | undefined) => {
		const found = value(name);
		if (!found) missing = true;
		return (form ? found?.toUpperCase() : found) ?? '';
	});
	return missing ? null : filled;
}
