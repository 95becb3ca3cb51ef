import { fillPattern, type TextGuide } from '../guide';
import { valueOf, type Stack } from './stack';
import type { EffectiveRecord } from './record';

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

/** The names under which players know a record, by language. */
export function namesOf(stack: Stack, record: EffectiveRecord): Map<string, string> {
	const names = new Map<string, string>();
	const words = stack.guide.words;
	if (!words) return names;
	const texts = stack.tables.get(words.kind);
	for (const { key, name } of textKeysOf(stack, record)) {
		if (!name || key === null) continue;
		const text = texts?.byId.get(key);
		for (const language of Object.keys(words.languages)) {
			const shown = text && valueOf(text, language);
			if (shown && !names.has(language)) names.set(language, shown);
		}
	}
	return names;
}

/** The shown name in the main language, or any other; null where the record has none. */
export function nameOf(stack: Stack, record: EffectiveRecord): string | null {
	const names = namesOf(stack, record);
	return names.get(stack.guide.words?.main ?? '') ?? names.values().next().value ?? null;
}

/** The shown name, or the id where there is none: for sentences. */
export function displayName(stack: Stack, record: EffectiveRecord): string {
	return nameOf(stack, record) ?? record.id;
}
