import { fillPattern, topOf, type TextGuide } from '../guide';
import { isReadable, languageName } from '../text';
import { derived } from './derived';
import type { EffectiveRecord } from './record';
import { valueOf, type Stack } from './stack';
import type { Table } from './table';

/** One string for a record, unique within the stack. */
export const recordKey = (kind: string, id: string) => `${kind}/${id}`;

/** The keys of the texts that belong to a record, by the guide's patterns. */
export function textKeysOf(
	stack: Stack,
	record: EffectiveRecord
): (Omit<TextGuide, 'key'> & { key: string | null; pattern: string })[] {
	return (stack.guide.kinds[record.kind]?.texts ?? []).map((text) => ({
		...text,
		key: fillPattern(text.key, (name) => (name === 'id' ? record.id : valueOf(record, name))),
		pattern: text.key
	}));
}

/** A field in which records have their shown name, and the language it is in; empty where that is not said. */
interface NameField {
	field: string;
	language: string;
}

const NONE: readonly NameField[] = [];

const isTop = (path: string): boolean => topOf(path) === path;

/** The fields in which the records of a kind have their shown name: where that is a map, those in it. */
export function nameFields(table: Table): readonly NameField[] {
	const from = table.guide.name?.from;
	if (!from) return NONE;
	return derived(table, `name from ${from}`, () =>
		table.columns
			.filter((path) => path === from || (path.startsWith(`${from}.`) && isTop(path.slice(from.length + 1))))
			.sort((a, b) => a.length - b.length)
			.map((field) => {
				const last = field.slice(from.length + 1);
				return { field, language: languageName(last) === null ? '' : last };
			})
	);
}

/** The names under which players know a record that stand in texts with keys, by language. */
export function textNamesOf(stack: Stack, record: EffectiveRecord): Map<string, string> {
	const names = new Map<string, string>();
	const words = stack.guide.words;
	const texts = words && stack.tables.get(words.kind);
	if (!texts) return names;
	const add = (key: string | null | undefined) => {
		const text = key ? texts.byId.get(key) : undefined;
		for (const language of text ? Object.keys(words.languages) : []) {
			const shown = valueOf(text!, language);
			if (shown && !names.has(language)) names.set(language, shown);
		}
	};
	for (const { key, name } of textKeysOf(stack, record)) if (name) add(key);
	for (const { field } of nameFields(record.table)) add(valueOf(record, field));
	return names;
}

/**
 * The names that a record has in fields of its own, one for each language; the language is empty if it is not said. No
 * keys of texts, unless these are in the language of those who made the game.
 */
export function ownNamesOf(stack: Stack, record: EffectiveRecord): (NameField & { name: string })[] {
	const texts = stack.tables.get(stack.guide.words?.kind ?? '');
	const names: (NameField & { name: string })[] = [];
	for (const place of nameFields(record.table)) {
		const name = valueOf(record, place.field);
		if (!name || names.some(({ language }) => language === place.language)) continue;
		if (isReadable(name) || !texts || texts.rowOf(name) < 0) names.push({ ...place, name });
	}
	return names;
}

/** The names under which players know a record, by language; under `''` where it is not said in which. */
export function namesOf(stack: Stack, record: EffectiveRecord): Map<string, string> {
	const own = ownNamesOf(stack, record).map(({ language, name }) => [language, name] as const);
	return new Map([...own, ...textNamesOf(stack, record)]);
}

/** The shown name in the main language, or any other; null where the record has none. */
export function nameOf(stack: Stack, record: EffectiveRecord): string | null {
	const names = namesOf(stack, record);
	return names.get('') ?? names.get(stack.guide.words?.main ?? '') ?? names.values().next().value ?? null;
}

/** The shown name, or the id where there is none: for sentences. */
export function displayName(stack: Stack, record: EffectiveRecord): string {
	return nameOf(stack, record) ?? record.id;
}
