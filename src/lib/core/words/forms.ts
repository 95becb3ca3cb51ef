// Forms of a text for numbers, as each language has them: the plural categories of Unicode CLDR, by Intl.PluralRules.
import { derived, type Table } from '../stack';
import { tagOf } from '../text';

/** What a guide says of the keys of forms: `{key}.{form}`, cut into what is around the key and around the form. */
function partsOf(pattern: string): [before: string, between: string, after: string] {
	const [before = '', rest = ''] = pattern.split('{key}');
	const [between = '', after = ''] = rest.split('{form}');
	return [before, between, after];
}

const CATEGORIES = ['zero', 'one', 'two', 'few', 'many', 'other'];

/** The text and the form that a key is of; null for any other. */
export function formOf(pattern: string, key: string): { text: string; form: string } | null {
	const [before, between, after] = partsOf(pattern);
	if (!key.startsWith(before) || !key.endsWith(after)) return null;
	const inner = key.slice(before.length, key.length - after.length);
	const form = CATEGORIES.find((one) => inner.endsWith(between + one));
	const text = form === undefined ? '' : inner.slice(0, inner.length - between.length - form.length);
	return form === undefined || text === '' ? null : { text, form };
}

/** The key of a form of a text. */
export const keyOfForm = (pattern: string, text: string, form: string): string =>
	pattern.replace('{key}', () => text).replace('{form}', () => form);

/** The forms that a language has for whole numbers, `other` last; null where nobody knows the language. */
export function formsFor(code: string): string[] | null {
	const tag = tagOf(code);
	if (tag.startsWith('x-') || Intl.PluralRules.supportedLocalesOf([tag]).length === 0) return null;
	const rules = new Intl.PluralRules(tag);
	const all = rules.resolvedOptions().pluralCategories;
	// Some categories are for fractions or for very large numbers only, and no game needs a text for these.
	const counted = new Set(Array.from({ length: 201 }, (_, number) => rules.select(number)));
	return CATEGORIES.filter(
		(form) => (all as string[]).includes(form) && counted.has(form as Intl.LDMLPluralRule)
	);
}

/** Texts that have forms, with the forms that are there in a language. */
export const familiesIn = (
	table: Table,
	pattern: string,
	code: string
): ReadonlyMap<string, ReadonlySet<string>> =>
	derived(table, `forms ${pattern} ${code}`, () => {
		const found = new Map<string, Set<string>>();
		const column = table.column(code);
		for (const [row, id] of table.rows.ids.entries()) {
			if (!(column[row]! > 0)) continue;
			const own = formOf(pattern, table.pool.at(id));
			if (!own) continue;
			const forms = found.get(own.text);
			if (forms) forms.add(own.form);
			else found.set(own.text, new Set([own.form]));
		}
		return found;
	});
