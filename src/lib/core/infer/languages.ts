// Texts in several languages: files that are alike but for a language in their path.
import { addTo } from '../gather';
import { formatOf } from '../formats';
import { languageName } from '../text';
import type { DataFile } from './group';
import { asValues } from '../facts';

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

/** A word of a file's name that may be a language. */
const WORD = /(?<![A-Za-z])[A-Za-z]{2}(?:[-_](?:[A-Za-z]{2}|[A-Z][a-z]{3}))?(?![A-Za-z])/g;

/** The parts of a path that may say a language: its folders, and the words of its name but the ending. */
function* placesOf(file: DataFile): Generator<Place> {
	const { path } = file;
	const open = (from: number, code: string): Place => ({
		file,
		glob: `${path.slice(0, from)}{language}${path.slice(from + code.length)}`,
		code
	});
	let from = 0;
	for (const part of path.split('/')) {
		const ending = path.lastIndexOf('.');
		if (from + part.length < path.length) {
			if (languageName(part) !== null) yield open(from, part);
			else
				for (const { 0: code, index } of part.matchAll(WORD))
					// As the first or the last word of a folder's name.
					if ((index === 0 || index + code.length === part.length) && languageName(code) !== null)
						yield open(from + index, code);
		} else
			for (const { 0: code, index } of part.matchAll(WORD))
				if (from + index < ending && languageName(code) !== null) yield open(from + index, code);
		from += part.length + 1;
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

/** A file that was taken for one record as what it is among files of texts: a text under each name. */
function asTexts(file: DataFile): DataFile {
	const { facts } = file;
	if (facts.count !== 1 || facts.at !== null || facts.types.some((type) => type !== 0)) return file;
	const paths = facts.shapes[facts.shape[0]!] ?? new Int32Array();
	// What stands in blocks has no name of its own.
	return paths.some((path) => /[.[]/.test(facts.pool.at(path)))
		? file
		: { ...file, facts: asValues(facts, '') };
}

/** Whether a file is one record, and no list of texts. */
const isRecord = ({ facts }: DataFile) => facts.count === 1 && facts.at === null;

/** Share of the ids of the smaller file that the other has too. */
function common(a: DataFile, b: DataFile): number {
	const ids = new Set(a.facts.ids);
	let hits = 0;
	for (const id of b.facts.ids) if (ids.has(id)) hits++;
	return hits / Math.max(1, Math.min(a.facts.count, b.facts.count));
}

/** Whether a glob says nothing of a file but the language, its folder and its ending, or that it is of texts. */
const isPlain = (glob: string) =>
	/(?:^|\/)\{language\}(?:\/|\.[^./]+$)/.test(glob) ||
	/(?:^|[/_.-])(?:texts?|lang(?:uages?)?|strings?|locali[sz]ation|locales?|messages?|translations?)[/_.-]\{language\}/i.test(
		glob
	);

/** Files of one format in several languages. */
function familyOf(places: readonly Place[]): Languages {
	const codes = [...new Set(places.map(({ code }) => code))].sort();
	return {
		globs: [...new Set(places.map(({ glob }) => widened(glob)))],
		languages: Object.fromEntries(codes.map((code) => [code, languageName(code)!])),
		main: codes.includes('en') ? 'en' : codes[0]!,
		files: places.map(({ file }) => file)
	};
}

/**
 * The texts of a game in all languages, those of each format by themselves, the most first; none where no path says a
 * language.
 */
export function languagesIn(files: readonly DataFile[]): Languages[] {
	const byGlob = new Map<string, Place[]>();
	for (const file of files.map(asTexts))
		for (const place of placesOf(file)) {
			const list = byGlob.get(place.glob) ?? [];
			byGlob.set(place.glob, list);
			list.push(place);
		}
	const byFormat = new Map<string, Place[]>();
	const taken = new Set<DataFile>();
	for (const [glob, places] of byGlob) {
		const { format } = places[0]!.file.facts;
		const [first, ...others] = places.filter(({ file }) => !taken.has(file) && file.facts.format === format);
		if (!first) continue;
		const own = [first, ...others];
		if (own.every(({ file }) => isRecord(file))) continue;
		const made = isPlain(glob) && formatOf(format!)?.traits.texts !== undefined;
		const several = others.length > 0 && others.every((other) => common(first.file, other.file) >= 0.5);
		if (!made && !(several && new Set(own.map(({ code }) => code)).size > 1)) continue;
		for (const { file } of own) taken.add(file);
		for (const one of own) addTo(byFormat, format!, one);
	}
	const count = (family: Languages) => family.files.reduce((sum, { facts }) => sum + facts.count, 0);
	const [main, ...others] = [...byFormat.values()].map(familyOf).sort((a, b) => count(b) - count(a));
	// The others are in some of the same languages.
	const isOf = ({ languages }: Languages) =>
		Object.keys(languages).every((code) => Object.hasOwn(main!.languages, code));
	return main ? [main, ...others.filter(isOf)] : [];
}
