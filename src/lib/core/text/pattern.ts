// Patterns that people write: run by a matcher whose time grows with the text alone, whatever the pattern is (RE2).
import { RE2JS } from 're2js';

/** A pattern that was understood. */
export interface Pattern {
	/** Names of its groups, in their order. */
	names: string[];
	test(text: string): boolean;
	/** Where each named group is in the text, `[from, to)` in UTF-16 code units; null where the pattern is not in it. */
	groups(text: string): Map<string, [number, number]> | null;
}

/**
 * Understands a pattern. Look-ahead, look-behind and back-references are not part of what it may hold.
 * @throws Error with the reason in the words of the library
 */
export function compilePattern(source: string): Pattern {
	const compiled = RE2JS.compile(source);
	const names = [...source.matchAll(/\(\?P?<(\w+)>/g)].map(([, name]) => name!);
	return {
		names,
		test: (text) => compiled.matcher(text).find(),
		groups(text) {
			const matcher = compiled.matcher(text);
			if (!matcher.find()) return null;
			return new Map(
				names.flatMap((name): [string, [number, number]][] => {
					const from = matcher.start(name);
					return from < 0 ? [] : [[name, [from, matcher.end(name)]]];
				})
			);
		}
	};
}

/** Why a pattern cannot be used; null where it can. */
export function patternFault(source: string): string | null {
	if (source === '') return 'is empty';
	try {
		compilePattern(source);
		return null;
	} catch (fault) {
		const why = (fault as Error).message.replace(/^error parsing regexp: /, '');
		return `is not a regular expression that can be used here: ${why}`;
	}
}
