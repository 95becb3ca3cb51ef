// The format of a text by what is in it, where its path does not tell: each is tried that could be, and the one that
// leaves the least unexplained is taken. What is written for people is none.
import type { FormatId, TextFormat } from './document';
import { blockLayout, type BlockLayout, type Layout } from './layout';
import { block } from './block';
import { csv, tsv } from './delimited';
import { ini } from './ini';
import { indented } from './indented';
import { json, jsonLines } from './json';
import { begins, given, givesValue, json5 } from './json5';
import { outline } from './outline';
import { behind, parens } from './parens';
import { po } from './po';
import { positional } from './positional';
import { properties } from './properties';
import { sections } from './sections';
import { stanzas } from './stanzas';
import { tagged } from './tagged';
import { xml } from './xml';
import { yaml } from './yaml';

/** How a text can be read. */
export interface ToldFormat {
	format: FormatId;
	layout?: Layout;
	/** Share of its lines that are read so. */
	explained: number;
}

/** Share of the lines that must be explained. */
const ENOUGH = 0.97;
/** Characters that are looked at. */
const MOST = 200_000;

/** Lines that say something, without commentary. */
export interface Lines {
	text: string;
	all: string[];
	/** Paragraphs: lines with no empty one between. */
	paragraphs: string[][];
}

/** The lines of a text that say something; of a long text the first of them. */
export function linesOf(whole: string): Lines {
	const cut = whole.length <= MOST ? whole.length : whole.lastIndexOf('\n', MOST) + 1;
	const text = whole.slice(0, cut);
	const paragraphs: string[][] = [[]];
	for (const line of text.split(/\r\n|\n|\r/)) {
		if (line.trim() === '') {
			if (paragraphs.at(-1)!.length > 0) paragraphs.push([]);
		} else if (!/^\s*(?:#|;|\/\/|--)/.test(line)) paragraphs.at(-1)!.push(line);
	}
	return { text, all: paragraphs.flat(), paragraphs: paragraphs.filter(({ length }) => length > 0) };
}

type Try = (lines: Lines, whole: string) => ToldFormat | null;

const shareOf = <T>(list: readonly T[], fits: (item: T) => boolean): number =>
	list.length === 0 ? 0 : list.filter(fits).length / list.length;

/** Reads the text; how much of it is explained goes by the lines with problems. */
function readAs(format: TextFormat, { text, all }: Lines, layout?: Layout, fewest = 2): ToldFormat | null {
	const doc = format.read(text, layout ? { layout } : {});
	const wrong = new Set(doc.problems.map(({ line }) => line)).size;
	if (doc.records.length < fewest) return null;
	return { format: format.id, ...(layout ? { layout } : {}), explained: 1 - wrong / all.length };
}

/** Formats with brackets around everything are read whole, or not at all. */
const enclosed =
	(format: TextFormat, begins: RegExp, from: (text: string) => number = () => 0): Try =>
	(_, whole) => {
		if (!begins.test(whole.slice(from(whole), from(whole) + 1000))) return null;
		return format.read(whole, {}).problems.length === 0 ? { format: format.id, explained: 1 } : null;
	};

const asJsonLines: Try = (lines, whole) => {
	if (lines.all.length < 2 || !lines.all.every((line) => /^\s*(?:\{.*\}|\[.*\])\s*$/.test(line))) return null;
	return jsonLines.read(whole, {}).problems.length === 0 ? { format: jsonLines.id, explained: 1 } : null;
};

/** Sections whose brackets hold values, too: `[thing id="buoy"]`. */
const asIni: Try = (lines) =>
	lines.all.some((line) => /^\s*\[[\w.-]+\s+[\w.-]+\s*=[^\]]*\]\s*$/.test(line))
		? readAs(ini, lines, undefined, 1)
		: null;

const asSections: Try = (lines) => {
	const headers = lines.all.filter((line) => /^\s*\[[^\]]+\]\s*$/.test(line)).length;
	const pairs = shareOf(lines.all, (line) => /^\s*(?:[A-Za-z_][\w .-]*=|\[[^\]]+\])/.test(line));
	return headers > 0 && pairs >= 0.3 ? readAs(sections, lines) : null;
};

const TAG = /^([\p{L}_+-]{1,3}):/u;

const asTagged: Try = (lines) => {
	const { all, paragraphs } = lines;
	const tags = all.map((line) => TAG.exec(line)?.[1]);
	if (shareOf(tags, (tag) => tag !== undefined) < ENOUGH) return null;
	const firsts = new Map<string, number>();
	for (const [line] of paragraphs) {
		const tag = TAG.exec(line!)?.[1];
		if (tag !== undefined) firsts.set(tag, (firsts.get(tag) ?? 0) + 1);
	}
	const [best] = [...firsts].sort((a, b) => b[1] - a[1]);
	if (!best || best[1] < 2 || best[1] < paragraphs.length * 0.7) return null;
	// Lines of a tag whose values are now so many and now so many hold a text with marks in it.
	const widths = new Map<string, Map<number, number>>();
	all.forEach((line, nth) => {
		const tag = tags[nth];
		if (tag === undefined) return;
		const width = line.split(':').length;
		const own = widths.get(tag) ?? new Map<number, number>();
		widths.set(tag, own.set(width, (own.get(width) ?? 0) + 1));
	});
	const texts = [...widths]
		.filter(([, own]) => {
			const sum = [...own.values()].reduce((a, b) => a + b);
			return own.size > 2 && Math.max(...own.values()) < sum * 0.7;
		})
		.map(([tag]) => tag);
	const layout: Layout = {
		shape: 'tagged',
		first: best[0],
		separator: ':',
		brackets: null,
		texts,
		comments: ['#']
	};
	return readAs(tagged, lines, layout);
};

/** Tags with their values in brackets: the first tag that comes again begins a record. */
const asBrackets: Try = (lines) => {
	if (shareOf(lines.all, (line) => /^\s*\[[A-Z][A-Z0-9_]*(?::[^[\]]*)?\]/.test(line)) < 0.5) return null;
	const tags = [...lines.text.matchAll(/\[([A-Z][A-Z0-9_]*)(:[^[\]\r\n]*)?\]/g)];
	if (tags.length < 4 || shareOf(tags, ([, , values]) => values !== undefined) < 0.5) return null;
	const counts = countsOf(tags.map(([, tag]) => tag));
	// A tag that says something of the whole file comes only once.
	const first = tags.find(([, tag, values]) => values !== undefined && counts.get(tag!)! > 1)?.[1];
	if (first === undefined || first.length > 60) return null;
	return readAs(tagged, lines, {
		shape: 'tagged',
		first,
		separator: ':',
		brackets: ['[', ']'],
		texts: [],
		comments: []
	});
};

/** One word, and below it nothing but names with a few values each. */
const isOneBlock = ({ all: [top, ...inner] }: Lines): boolean =>
	inner.length >= 2 &&
	/^[A-Za-z_]\w*$/.test(top!) &&
	inner.every((line) => /^\t[a-z_]\w*(?:[ \t]+(?:"[^"\n]*"|[^\s"]+)){1,6}[ \t]*$/.test(line)) &&
	// Words and words are a text.
	inner.some((line) => /["\d]/.test(line));

/** Whether a word stands alone at the left edge again and again, with nothing below it: it closes what is above. */
function hasClosing(all: readonly string[]): boolean {
	const below = new Map<string, boolean>();
	const counts = new Map<string, number>();
	all.forEach((line, at) => {
		const [word] = /^\w+$/.exec(line.trimEnd()) ?? [];
		if (word === undefined) return;
		counts.set(word, (counts.get(word) ?? 0) + 1);
		below.set(word, (below.get(word) ?? false) || /^\s/.test(all[at + 1] ?? ''));
	});
	return [...counts].some(([word, count]) => count > 1 && !below.get(word));
}

const asIndented: Try = (lines) => {
	const tops = lines.all.filter((line) => !/^\s/.test(line));
	const inner = lines.all.filter((line) => /^\s/.test(line));
	if (isOneBlock(lines)) return readAs(indented, lines, undefined, 1);
	if (tops.length < 2 || inner.length < lines.all.length * 0.4 || /[{};]\s*$/m.test(lines.text)) return null;
	// What stands indented further does so by steps of one sort.
	if (shareOf(inner, (line) => /^(?:\t+|(?: {2})+)[^\s]/.test(line)) < ENOUGH) return null;
	const words = new Map<string, number>();
	for (const line of tops) {
		const word = /^[A-Za-z_][\w-]*/.exec(line)?.[0];
		if (word === undefined) return null;
		words.set(word, (words.get(word) ?? 0) + 1);
	}
	if (hasClosing(lines.all)) return null;
	return words.size <= Math.max(3, tops.length / 3) ? readAs(indented, lines) : null;
};

/** Names with a colon on each line, some with a value, and below some of them others that are indented further. */
const asOutline: Try = (lines) => {
	const named = shareOf(lines.all, (line) => /^\s*(?!-\s)[^\s:#"{}[\]][^:"{}[\]]*:(?:\s|$)/.test(line));
	const inner = shareOf(lines.all, (line) => /^(?:\t+| {2,})\S/.test(line));
	// Of lines that belong to nothing it is a list of settings, of which others know more.
	return named >= ENOUGH && inner >= 0.3 && /:[ \t]*(?:#.*)?$/m.test(lines.text)
		? readAs(outline, lines)
		: null;
};

/** A list, or names with a colon, some with others below them that are indented further; or what says that it is YAML. */
const asYaml: Try = ({ all, text }, whole) => {
	const says = /^(?:%YAML|---(?:\s|$))/.test(text);
	const named = shareOf(all, (line) =>
		/^\s*(?:- )*(?:"[^"]*"|'[^']*'|[^\s:#"'{}[\]][^:"{}[\]]*):(?:\s|$)/.test(line)
	);
	const items = shareOf(all, (line) => /^\s*- \S/.test(line));
	const below = all.some((line, at) => /:\s*$/.test(line) && /^\s*(?: |- )\S/.test(all[at + 1] ?? ''));
	// A list below a heading is written for people.
	const valued = all.some((line) => /^\s*(?:- )*[^\s:#"'{}[\]-][^:"{}[\]]*:\s+\S/.test(line));
	if (!says && (all.length < 3 || named + items < ENOUGH || !below || !valued)) return null;
	const doc = yaml.read(whole, {});
	return doc.problems.length === 0 && doc.records.length > 0 ? { format: yaml.id, explained: 1 } : null;
};

const asStanzas: Try = (lines) => {
	const { text, paragraphs } = lines;
	const all = lines.all.filter((line) => !/^(?:-{3,}|={3,}|\*{3,})\s*$/.test(line));
	if (
		shareOf(all, (line) => /^(?:[A-Za-z][\w-]*:(?:\s|$)|\s)/.test(line)) >= ENOUGH &&
		paragraphs.length >= 2
	)
		return readAs(stanzas, lines);
	// Close together, or with an equals sign, the records are told by the name that each begins with.
	const mark = /^[^\s:=]+([:=])/.exec(all[0] ?? '')?.[1];
	if (mark === undefined || shareOf(all, (line) => /^(?:[A-Za-z][^\s:=]*[:=]|\s)/.test(line)) < ENOUGH)
		return null;
	const first = all[0]!.slice(0, all[0]!.indexOf(mark) + 1);
	const doc = stanzas.read(text, {});
	const begun = doc.records.filter(({ node }) => doc.content.startsWith(first, doc.tape.from(node))).length;
	return begun >= 3 && begun >= doc.records.length * 0.9 && all.length >= begun * 2
		? readAs(stanzas, lines)
		: null;
};

const asTable =
	(format: TextFormat, mark: string): Try =>
	(lines) => {
		const { all } = lines;
		const width = (all[0] ?? '').split(mark).length;
		if (all.length < 4 || width < (mark === '\t' ? 2 : 3)) return null;
		const alike = shareOf(all, (line) => line.split(mark).length === width);
		return alike >= ENOUGH ? { format: format.id, explained: alike } : null;
	};

/** Names of several parts, each with a value behind a colon. */
const DOTTED = /^[A-Za-z_][\w$-]*(?:\.[\w$-]+)+[ \t]*:[ \t]*\S/;

const asProperties: Try = ({ all }) => {
	const dotted = all.length >= 5 ? shareOf(all, (line) => DOTTED.test(line)) : 0;
	if (dotted >= ENOUGH) return { format: properties.id, explained: dotted };
	const fits = shareOf(all, (line) => /^[A-Za-z_][\w.$-]*[ \t]*=[ \t]*\S/.test(line));
	// Of few lines each must be one.
	const enough = all.length >= 5 ? fits >= ENOUGH : all.length >= 3 && fits === 1;
	return enough ? { format: properties.id, explained: fits } : null;
};

/** A text in blocks of some marks, by what may be between a name and its value. */
function inBlocks(lines: Lines, marks: Partial<BlockLayout>, fewest = 2): ToldFormat | null {
	const tried = ['=', '', ':']
		.map((assign) => readAs(block, lines, blockLayout.parse({ shape: 'block', assign, ...marks }), fewest))
		.filter((told) => told !== null);
	return tried.sort((a, b) => b.explained - a.explained)[0] ?? null;
}

const ENTRY = /^\s*(?:"(?:[^"\\]|\\.)*"|[\w.-]+)\s*=\s*"(?:[^"\\]|\\.)*"\s*;\s*(?:\/[/*].*)?$/;

/** Texts in quotes behind their keys, each with a mark at its end. */
const asEntries: Try = (lines) => {
	const said = lines.all.filter((line) => !/^\s*(?:\/\*.*)?$/.test(line));
	if (said.length < 3 || shareOf(said, (line) => ENTRY.test(line)) < ENOUGH) return null;
	const layout = { shape: 'block', end: ';', letters: true, comments: ['//'], blockComment: ['/*', '*/'] };
	return readAs(block, lines, blockLayout.parse(layout));
};

const asBlock: Try = (lines) => {
	if (shareOf(lines.all, (line) => /[{}]\s*$/.test(line)) < 0.1 || /[;)]\s*$/m.test(lines.text)) return null;
	return inBlocks(lines, {});
};

/** Marks that compare, the longest first. */
const COMPARES = ['>=', '<=', '!=', '==', '?=', '>', '<'];

/** Names with values of one word each, lists of words, and blocks in braces behind an equals sign. */
const asBraces: Try = (lines) => {
	if (!/^[^\s{}=#"]+\s*=\s*\{/m.test(lines.text)) return null;
	// Lines of programs, and of lists with commas between their items.
	if (shareOf(lines.all, (line) => /[;,)]\s*$/.test(line.replace(/\s#.*$/, ''))) > 1 - ENOUGH) return null;
	const marks = { assign: '=', openAfter: '=', listOpen: '{', listClose: '}', compares: COMPARES };
	return readAs(block, lines, blockLayout.parse({ shape: 'block', words: true, ...marks }), 1);
};

const firstWord = (line: string) => /^\s*([\p{L}_][\p{L}\p{N}_]*)/u.exec(line)?.[1];
const indentOf = (line: string) => /^\s*/.exec(line)![0].length;

/** How often each text comes. */
function countsOf(texts: readonly (string | undefined)[]): Map<string, number> {
	const counts = new Map<string, number>();
	for (const text of texts) if (text !== undefined) counts.set(text, (counts.get(text) ?? 0) + 1);
	return counts;
}

/** The first words of the lines that each closing line belongs to: the last one before it that begins as far in. */
function headsOf(all: readonly string[], close: string): Set<string> {
	const open: [number, string][] = [];
	const heads = new Set<string>();
	for (const line of all) {
		const indent = indentOf(line);
		while (open.length > 0 && open.at(-1)![0] > indent) open.pop();
		if (line.trim() !== close) open.push([indent, firstWord(line) ?? '']);
		else {
			heads.add(open.findLast(([own]) => own === indent)?.[1] ?? '');
			while (open.length > 0 && open.at(-1)![0] >= indent) open.pop();
		}
	}
	return heads;
}

/** What a line of a program has: a call, a comparison. Where many have it, blocks are not data. */
const CALLS = /\w\(|[=<>!~]=|\bthen\s*$/;
const MOST_CALLS = 0.1;

/** Blocks that a word closes on a line of its own; what opens them is a word before or behind their names, or the names do. */
const asWords: Try = (lines) => {
	const { all } = lines;
	const alone = countsOf(all.map((line) => /^\s*([A-Za-z_]\w*)\s*$/.exec(line)?.[1]));
	const [closing] = [...alone].sort((a, b) => b[1] - a[1]);
	if (!closing || closing[1] < 2 || closing[1] * 20 < all.length) return null;
	const [close, times] = closing;
	if (all.at(-1)?.trim() !== close || shareOf(all, (line) => CALLS.test(line)) > MOST_CALLS) return null;
	const behind = countsOf(all.map((line) => /\S\s+([A-Za-z_]\w*)\s*$/.exec(line)?.[1]));
	const [open] = [...behind].find(([word, count]) => count === times && word !== close) ?? [];
	const heads = headsOf(all, close);
	if (heads.has('') || heads.size > times / 2 + 1) return null;
	const [only] = heads;
	const begun = all.filter((line) => heads.has(firstWord(line) ?? '')).length;
	const named = all.filter(
		(line) => firstWord(line) === only && /^\s*\S+\s+[A-Za-z_]\w*\s+\S/.test(line)
	).length;
	if (heads.size === 1 && begun === times && named >= times / 2)
		return inBlocks(lines, { openBefore: only!, open: only!, close });
	if (begun === times) return inBlocks(lines, { heads: [...heads], open: close, close });
	return open === undefined ? null : inBlocks(lines, { open, close });
};

/** Settings: a name and a value on each line, with nothing but space between. Words and words are a text. */
const asSettings: Try = (lines) => {
	const { all } = lines;
	const plain = shareOf(all, (line) =>
		/^[A-Za-z_][\w.]*[ \t]+(?:"[^"\n]*"|[-+]?\d+(?:\.\d+)?|true|false|on|off)[ \t]*$/.test(line)
	);
	const named = shareOf(all, (line) => /^[A-Za-z_][\w.]*[ \t]+\S/.test(line));
	const names = new Set(all.map((line) => firstWord(line)));
	if (all.length < 4 || plain < 0.8 || named < ENOUGH || names.size < all.length * 0.6) return null;
	// Two words above numbers alone are the head of a table.
	const [first, ...others] = all;
	if (
		/^\w+[ \t]+[A-Za-z_]\w*[ \t]*$/.test(first!) &&
		others.every((line) => /[ \t]-?[\d.]+[ \t]*$/.test(line))
	)
		return null;
	return inBlocks(lines, { assign: '', comments: ['#', '//', ';'] }, 1);
};

const NUMBER = /^[-+]?(?:\d+\.?\d*|\.\d+)%?$/;
const MARK = /^\s*(#|;|\/\/|--)/;
/** Values on a line of columns at most. */
const WIDEST = 40;

/** Words as names of columns: each once, and none of them a number. */
const areNames = (words: readonly string[], width: number): boolean =>
	words.length === width &&
	new Set(words).size === width &&
	words.every((word) => /^[\p{L}_][\p{L}\p{N}_.-]*$/u.test(word));

/** The names that stand in the commentary right above the first line of columns. */
function namesAbove(text: string, width: number): string[] | null {
	let last: string | null = null;
	for (const line of text.split(/\r\n|\n|\r/)) {
		if (line.trim() === '') continue;
		if (!MARK.test(line)) break;
		const said = line.replace(/^[\s#;/-]+/, '');
		if (said !== '') last = said;
	}
	const words = last?.trim().split(/\s+/) ?? [];
	return areNames(words, width) ? words : null;
}

/** As many words on each line, with nothing but space between, some of them numbers in all lines: columns. */
const asColumns: Try = (lines) => {
	const { all, text } = lines;
	const rows = all.map((line) =>
		line
			.replace(/\s(?:#|;|\/\/|--).*$/, '')
			.trim()
			.split(/\s+/)
	);
	const width = rows[0]?.length ?? 0;
	if (rows.length < 4 || width < 2 || width > WIDEST || rows.some((row) => row.length !== width)) return null;
	if (rows.some((row) => row.some((word) => /[{}="#;]|^\/\/|^--|[,:]$/.test(word)))) return null;
	const [first, ...others] = rows as [string[], ...string[][]];
	const numeric = first.map((_, nth) => others.every((row) => NUMBER.test(row[nth]!)));
	// Words and words are a text, and numbers alone are told elsewhere.
	if (!numeric.includes(true) || !numeric.includes(false)) return null;
	const headed = areNames(first, width);
	const names = (headed ? first : namesAbove(text, width)) ?? first.map((_, nth) => `v${nth + 1}`);
	const marks = new Set(text.split(/\r\n|\n|\r/).flatMap((line) => MARK.exec(line)?.[1] ?? []));
	const layout: Layout = {
		shape: 'positional',
		separator: '',
		comments: marks.size > 0 ? [...marks] : ['#'],
		titled: headed,
		head: [],
		record: [names],
		count: null
	};
	return readAs(positional, lines, layout);
};

/** Names with which lists of programs begin. */
const OF_PROGRAMS =
	/\(\s*(?:define|defun|defmacro|defvar|defparameter|lambda|let\*?|letrec|setq|set!|cond|if|begin|progn|do|loop|use-modules|in-package|require|import|ns|defn)[\s(]/g;

/** Lists in parentheses and nothing else, hardly any of which are a program. */
const asParens: Try = ({ text, all }, whole) => {
	if (whole[behind(whole, 0)] !== '(') return null;
	const lists = text.split('(').length - 1;
	if (lists < 4 || (text.match(OF_PROGRAMS)?.length ?? 0) > lists * MOST_CALLS) return null;
	const doc = parens.read(whole, {});
	const says = doc.records.length > 1 || (doc.records[0]?.fields.length ?? 0) > 2;
	return doc.problems.length === 0 && says && all.length > 1 ? { format: parens.id, explained: 1 } : null;
};

/** In the order in which they are preferred where as much is explained. */
const TRIES: readonly Try[] = [
	enclosed(json, /^\s*[[{]/),
	asJsonLines,
	enclosed(json5, /^[[{]/, begins),
	asParens,
	enclosed(xml, /^\s*<(?:\?xml|[A-Za-z][\w-]*[\s>])/),
	(lines) => (/^msgid "/m.test(lines.text) && /^msgstr/m.test(lines.text) ? readAs(po, lines) : null),
	asBrackets,
	asIni,
	asSections,
	asTagged,
	asYaml,
	asOutline,
	asStanzas,
	asWords,
	asIndented,
	asBraces,
	asEntries,
	asBlock,
	asTable(tsv, '\t'),
	asProperties,
	asSettings,
	asTable(csv, ';'),
	asTable(csv, ','),
	asColumns
];

/** The ways in which a text can be read as data, the best first; none for what is written for people. */
export function tellFormats(text: string): ToldFormat[] {
	const lines = linesOf(text);
	if (lines.all.length === 0) return [];
	return TRIES.map((attempt) => attempt(lines, text))
		.filter((told) => told !== null)
		.filter(({ explained }) => explained >= ENOUGH)
		.sort((a, b) => b.explained - a.explained);
}

/** The same for the text of a program in JavaScript: data only where there is nothing else in it. */
export function tellGiven(text: string): ToldFormat[] {
	if (!givesValue(text) || given.read(text, {}).problems.length > 0) return [];
	return [{ format: given.id, explained: 1 }];
}
