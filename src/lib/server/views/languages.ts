// The languages of a game, the terms of its translations, and the language for testing.
import { testingPack, zipOf } from '$core/pack';
import { languagesAreFields } from '$core/edits';
import { textPath } from '$core/guide';
import { similarTexts, textTable, type Translated } from '$core/words';
import type { LanguagesView } from '$core/views';
import { NotThere } from '../faults';
import { identityFor } from '../identity';
import type { Model } from '../model';

/** The page; null where no texts in languages are known. */
export function languagesView({ stack, project }: Model): LanguagesView | null {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	if (!words || !table) return null;
	const glob = stack.guide.kinds[words.kind]!.files.find((one) => one.includes('{language}'));
	return {
		main: words.main,
		languages: Object.entries(words.languages).map(([code, title]) => ({
			code,
			title,
			there: table.column(code).filter((text) => text > 0).length
		})),
		terms: words.terms ?? [],
		example: languagesAreFields(table)
			? null
			: (textPath(stack.guide, '…', project.mod) ?? glob?.replaceAll('{language}', '…') ?? null)
	};
}

/** The mod with the language for testing, as a ZIP. @throws NotThere */
export function testingFile(model: Model, language: string): { name: string; bytes: Uint8Array } {
	const { stack, links } = model;
	if (!textTable(stack) || !Object.hasOwn(stack.guide.words!.languages, language))
		throw new NotThere(`This game has no language “${language}”.`);
	const { pack, name } = testingPack(stack, links, language, identityFor(model));
	return { name: `${name.replace(/[^\w.-]+/g, '_')}.zip`, bytes: zipOf(pack) };
}

/** How sentences like a text were translated before, by language. @throws NotThere */
export function translatedBefore({ stack }: Model, key: string): Record<string, Translated[]> {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	const source = words && table?.byId.get(key)?.value(words.main);
	if (source === undefined) throw new NotThere(`There is no text “${key}” in the main language.`);
	const codes = Object.keys(words!.languages).filter((code) => code !== words!.main);
	return similarTexts(table!, { key, source, main: words!.main, codes });
}
