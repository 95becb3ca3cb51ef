// Texts in several languages: files that are alike but for a language in their path.
import { formatOf } from '../formats';
import type { DataFile } from './group';

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

/** Files of which a part of the path is a language. */
export interface Languages {
	/** The paths with the language left open. */
	globs: string[];
	/** Code to name. */
	languages: Record<string, string>;
	main: string;
	files: DataFile[];
}

interface Place {
	file: DataFile;
	glob: string;
	code: string;
}

function* placesOf(file: DataFile): Generator<Place> {
	const parts = file.path.split('/');
	for (let at = 0; at < parts.length; at++) {
		const last = at === parts.length - 1;
		const part = parts[at]!;
		const ending = last ? part.slice(part.indexOf('.')) : '';
		const code = last ? part.slice(0, part.length - ending.length) : part;
		if (languageName(code) === null) continue;
		const rest = last
			? [...parts.slice(0, at), `{language}${ending}`]
			: [...parts.slice(0, at), '{language}', ...parts.slice(at + 1)];
		yield { file, glob: rest.join('/'), code };
	}
}

/** The glob with the name of the file left open. */
function widened(glob: string): string {
	const at = glob.lastIndexOf('/');
	const name = glob.slice(at + 1);
	return name.includes('{language}') || !glob.includes('{language}')
		? glob
		: `${glob.slice(0, at + 1)}*${name.slice(name.lastIndexOf('.'))}`;
}

/** Share of the ids of the smaller file that the other has too. */
function common(a: DataFile, b: DataFile): number {
	const ids = new Set(a.facts.ids);
	let hits = 0;
	for (const id of b.facts.ids) if (ids.has(id)) hits++;
	return hits / Math.max(1, Math.min(a.facts.count, b.facts.count));
}

/** The texts of a game in all languages; null where no path says a language. */
export function languagesIn(files: readonly DataFile[]): Languages | null {
	const byGlob = new Map<string, Place[]>();
	for (const file of files)
		for (const place of placesOf(file)) {
			const list = byGlob.get(place.glob) ?? [];
			byGlob.set(place.glob, list);
			list.push(place);
		}
	const taken: Place[] = [];
	for (const places of byGlob.values()) {
		const [first, ...others] = places;
		const made = formatOf(first!.file.facts.format!)?.traits.texts !== undefined;
		const several = others.length > 0 && others.every((other) => common(first!.file, other.file) >= 0.5);
		if (made || (several && new Set(places.map(({ code }) => code)).size > 1)) taken.push(...places);
	}
	if (taken.length === 0) return null;
	const codes = [...new Set(taken.map(({ code }) => code))].sort();
	return {
		globs: [...new Set(taken.map(({ glob }) => widened(glob)))],
		languages: Object.fromEntries(codes.map((code) => [code, languageName(code)!])),
		main: codes.includes('en') ? 'en' : codes[0]!,
		files: taken.map(({ file }) => file)
	};
}
