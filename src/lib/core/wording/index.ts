// wording: numbers, plurals and lists as English has them, in one place, so that no sentence is glued together.

// Made when they are needed: the first one takes some thirty milliseconds.
let grouped: Intl.NumberFormat | undefined;
const lists: Partial<Record<'and' | 'or', Intl.ListFormat>> = {};

/** A number as people read it: `1,204`. */
export const numbered = (number: number): string =>
	Number.isInteger(number) && Math.abs(number) < 1000
		? String(number)
		: (grouped ??= new Intl.NumberFormat('en')).format(number);

/** One of two words, by a count: `is` or `are`. */
export const either = (count: number, one: string, many: string): string =>
	Math.abs(count) === 1 ? one : many;

/** A size for people. @param bytes 0 on */
export const sizeOf = (bytes: number): string =>
	bytes < 1024
		? counted(bytes, 'byte')
		: bytes < 2 ** 20
			? `${(bytes / 1024).toFixed(1)} KB`
			: `${(bytes / 2 ** 20).toFixed(1)} MB`;

/** A count with its word: `1 file`, `1,204 files`. @param many of words whose plural is not made with an `s` */
export const counted = (count: number, one: string, many = `${one}s`): string =>
	`${numbered(count)} ${either(count, one, many)}`;

/** `a, b, and c`, or with `or`. */
export const listed = (items: readonly string[], word: 'and' | 'or' = 'and'): string =>
	(lists[word] ??= new Intl.ListFormat('en', {
		type: word === 'and' ? 'conjunction' : 'disjunction'
	})).format(items);
