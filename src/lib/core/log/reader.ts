// How the lines of a game's log are read: a pattern made from one line in which somebody marked what is what.
import { compilePattern, patternFault } from '../text';

/** What can be marked in a line. */
export const PARTS = ['level', 'file', 'line', 'record'] as const;
export type Part = (typeof PARTS)[number];

/** Where in a line each part is, `[from, to)` in UTF-16 code units. */
export type Marks = Partial<Record<Part, [number, number]>>;

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

/** What a part looks like in other lines, by how it looks in this one. */
function shapeOf(part: Part, text: string): string {
	if (part === 'line') return '\\d+';
	// Others may be written otherwise: “ERROR”, “note”.
	if (part === 'level' && /^[A-Za-z]+$/.test(text)) return '[A-Za-z]+';
	return /\s/.test(text) ? '.+?' : '\\S+?';
}

const spaced = (signs: string) => escaped(signs).replace(/[ \t]+/g, '\\s+');

/** Runs of letters, of digits, of spaces, and other signs. */
const RUNS = /\p{L}+|\d+|\s+|[^\p{L}\d\s]+/gu;

/**
 * What stands between two parts, as it may be in other lines; the most general first: signs at its ends with anything
 * between, then as many words and numbers as here, then the very words, then every letter.
 */
const BETWEEN: readonly ((text: string) => string)[] = [
	(text) => {
		const [, lead = '', tail = ''] = /^([^\p{L}\p{N}]*).*?([^\p{L}\p{N}]*)$/su.exec(text) ?? [];
		return lead.length === text.length ? spaced(text) : `${spaced(lead)}.*?${spaced(tail)}`;
	},
	(text) =>
		text.replace(RUNS, (run) =>
			/^\p{L}/u.test(run) ? '\\p{L}+' : /^\d/.test(run) ? '\\d+' : /^\s/.test(run) ? '\\s+' : escaped(run)
		),
	(text) => text.replace(RUNS, (run) => (/^\d/.test(run) ? '\\d+' : /^\s/.test(run) ? '\\s+' : escaped(run))),
	escaped
];

/**
 * A pattern that reads lines like one in which parts are marked, with a group for each, and `message` for what is behind
 * the last of them, or the whole line where nothing is.
 * @returns null where the marks overlap or are empty, or no pattern that can be used comes of them
 */
export function patternFrom(line: string, marks: Marks): string | null {
	const parts = PARTS.flatMap((part) =>
		marks[part] ? [{ part, from: marks[part][0], to: marks[part][1] }] : []
	);
	parts.sort((a, b) => a.from - b.from);
	if (
		parts.length === 0 ||
		parts.some(({ from, to }, nth) => from >= to || to > line.length || from < (parts[nth - 1]?.to ?? 0))
	)
		return null;
	const behind = line.slice(parts.at(-1)!.to);
	const [signs = ''] = /^[^\p{L}\p{N}]*/u.exec(behind) ?? [];
	for (const like of BETWEEN) {
		const read = parts.map(
			({ part, from, to }, nth) =>
				`${like(line.slice(parts[nth - 1]?.to ?? 0, from))}(?<${part}>${shapeOf(part, line.slice(from, to))})`
		);
		const pattern = `^${read.join('')}${like(signs)}(?<message>.*)$`;
		if (patternFault(pattern) !== null) continue;
		const groups = compilePattern(pattern).groups(line);
		const isRead = parts.every(({ part, from, to }) => {
			const found = groups?.get(part);
			return found?.[0] === from && found[1] === to;
		});
		if (isRead) return pattern;
	}
	return null;
}

/** Words that logs use for how grave a line is. */
const LEVEL =
	/\b(?:trace|debug|info|notice|warn(?:ing)?|err(?:or)?|fatal|critical|severe|refused|dropped|failed|ok)\b|(?<=[[(<])[A-Z](?=[\])>])/i;
/** A path, or a name with an ending. */
const FILE = /(?:[\w.-]+[/\\])*[\w-]+\.[A-Za-z]\w{0,9}\b/;

/** Where the parts of a line seem to be: a beginning for whoever marks them. */
export function guessedMarks(line: string): Marks {
	const marks: Marks = {};
	const level = LEVEL.exec(line);
	if (level) marks.level = [level.index, level.index + level[0].length];
	const file = FILE.exec(line);
	if (file) {
		const end = file.index + file[0].length;
		marks.file = [file.index, end];
		const number = /^(?:[:(,[]\s*|"?,?\s+line\s+)(\d+)/i.exec(line.slice(end));
		if (number) {
			const from = end + number[0].length - number[1]!.length;
			marks.line = [from, from + number[1]!.length];
		}
	}
	return marks;
}

/** A line of a log, as a pattern reads it; parts that it does not name are null. */
export interface ReadLine {
	text: string;
	level: string | null;
	file: string | null;
	line: number | null;
	record: string | null;
}

/** Characters of a line that is looked at. */
const LONGEST = 10_000;

/** Reads the lines of a log. @param source pattern with the groups `level`, `file`, `line`, `record`; null reads nothing */
export function readLines(log: string, source: string | null): ReadLine[] {
	const pattern = source === null ? null : compilePattern(source);
	return log
		.split(/\r?\n/)
		.filter((text) => text !== '')
		.map((text) => {
			const groups = text.length > LONGEST ? null : pattern?.groups(text);
			const said = (name: Part) => {
				const place = groups?.get(name);
				return place ? text.slice(...place) : null;
			};
			const number = said('line');
			return {
				text,
				level: said('level'),
				file: said('file')?.replaceAll('\\', '/') ?? null,
				line: number === null ? null : Number(number),
				record: said('record')
			};
		});
}
