// How delimited text is written, detected from its first lines.
import type { ReadHints } from './document';

/** How one file of delimited text is written. */
export interface Dialect {
	separator: string;
	/** Empty where quotes mean nothing. */
	quote: string;
	escape: 'doubled' | 'backslash';
	/** Mark of comment lines; empty for none. */
	comment: string;
	header: boolean;
	/** Whether a second line says the columns' types. */
	types: boolean;
}

const MARKS = [',', ';', '\t', '|'];
const SAMPLE_LINES = 40;
const SAMPLE_LENGTH = 64 * 1024;

/** Lines of the sample, with quoted line ends inside them. */
function sampleLines(text: string, quote: string): string[] {
	const lines: string[] = [];
	let from = 0;
	let inside = false;
	const most = Math.min(text.length, SAMPLE_LENGTH);
	for (let at = 0; at < most && lines.length < SAMPLE_LINES; at++) {
		const char = text[at]!;
		if (char === quote) inside = !inside;
		else if (!inside && (char === '\n' || char === '\r')) {
			if (at > from) lines.push(text.slice(from, at));
			from = at + 1;
		}
	}
	if (lines.length < SAMPLE_LINES && from < most) lines.push(text.slice(from, most));
	return lines.filter((line) => line.trim() !== '');
}

/** Cells of a line, as far as it matters for a guess. */
function split(line: string, separator: string, quote: string): string[] {
	const cells: string[] = [];
	let from = 0;
	let inside = false;
	for (let at = 0; at <= line.length; at++) {
		const char = line[at];
		if (quote !== '' && char === quote) inside = !inside;
		else if (char === undefined || (!inside && char === separator)) {
			cells.push(line.slice(from, at));
			from = at + 1;
		}
	}
	return cells;
}

/** How many cells a line has; without cutting it. */
function widthOf(line: string, separator: string, quote: string): number {
	const [mark, around] = [separator.charCodeAt(0), quote === '' ? -1 : quote.charCodeAt(0)];
	let inside = false;
	let count = 1;
	for (let at = 0; at < line.length; at++) {
		const code = line.charCodeAt(at);
		if (code === around) inside = !inside;
		else if (code === mark && !inside) count++;
	}
	return count;
}

/** The separator that cuts most lines into the same number of cells, more than one. */
function guessSeparator(lines: string[], quote: string): string {
	let best = ',';
	let bestScore = 0;
	for (const mark of MARKS) {
		const counts = lines.map((line) => widthOf(line, mark, quote));
		const wanted = counts[0] ?? 1;
		if (wanted < 2) continue;
		const alike = counts.filter((count) => count === wanted).length / counts.length;
		const score = alike * 100 + Math.min(wanted, 50) / 10;
		if (score > bestScore) {
			best = mark;
			bestScore = score;
		}
	}
	return best;
}

const alike = (lines: string[], separator: string, quote: string) => {
	const counts = lines.map((line) => widthOf(line, separator, quote));
	return counts.every((count) => count === counts[0]);
};

/** Cells that begin with a quote and do not end with one, when quotes inside are written in a certain way. */
function faults(sample: string, separator: string, quote: string, escape: Dialect['escape']): number {
	let count = 0;
	let starts = true;
	const ends = (at: number) => at >= sample.length || sample[at] === separator || /[\r\n]/.test(sample[at]!);
	for (let at = 0; at < sample.length; at++) {
		if (starts && sample[at] === quote) {
			let end = at + 1;
			for (; end < sample.length; end++) {
				if (escape === 'backslash' && sample[end] === '\\') end++;
				else if (sample[end] === quote) {
					if (sample[end + 1] !== quote) break;
					end++;
				}
			}
			if (end < sample.length && ends(end + 1)) at = end;
			else count++;
			starts = false;
		} else starts = sample[at] === separator || /[\r\n]/.test(sample[at]!);
	}
	return count;
}

/**
 * A single quote is the quote where no cell begins with a double one, every cell that begins with it ends with it, and
 * it makes the lines alike or wraps all that is not a number.
 */
function guessQuote(text: string): string {
	const sample = text.slice(0, SAMPLE_LENGTH);
	if (/(^|[,;\t|\r\n])"/.test(sample) || !/(^|[,;\t|\r\n])'/.test(sample)) return '"';
	const isRow = (line: string) => !/^(?:#|\/\/)/.test(line);
	const quoted = sampleLines(text, "'").filter(isRow);
	const lines = sampleLines(text, '').filter(isRow);
	const separator = guessSeparator(quoted, "'");
	if (faults(sample, separator, "'", 'doubled') > 0) return '"';
	const better = alike(quoted, separator, "'") && !alike(lines, guessSeparator(lines, ''), '');
	const row = split(quoted[1] ?? quoted[0] ?? '', separator, "'").filter(
		(cell) => !/^[-+.\d]*$/.test(cell.trim())
	);
	const wraps = row.length > 1 && row.every((cell) => /^'.*'$/.test(cell.trim()));
	return better || wraps ? "'" : '"';
}

/** A quote behind a backslash is escaped where more cells end well then. */
function guessEscape(text: string, separator: string, quote: string): Dialect['escape'] {
	const sample = text.slice(0, SAMPLE_LENGTH);
	if (quote === '' || !sample.includes(`\\${quote}`)) return 'doubled';
	const [doubled, backslash] = (['doubled', 'backslash'] as const).map((way) =>
		faults(sample, separator, quote, way)
	);
	return backslash! < doubled! ? 'backslash' : 'doubled';
}

const TYPE_NAMES =
	/^(?:u?int(?:eger)?(?:8|16|32|64)?|float|double|real|decimal|number|num|str(?:ing)?|text|bool(?:ean)?|flag|byte|short|long|char|date|enum|list|array|id|key|ref|path|file|vector\d?|colou?r)(?:\[\])?\??$/i;

/** Share of the cells of a line of types that are names of types that are known; the others are words as well. */
const KNOWN_TYPES = 0.75;

const isTypes = (cells: readonly string[]): boolean =>
	cells.filter((cell) => TYPE_NAMES.test(cell)).length >= cells.length * KNOWN_TYPES &&
	cells.every((cell) => /^[A-Za-z_]\w*(?:\[\]|<\w+>)?\??$/.test(cell));

/** Whether a line that has none below it is one of types all the same: nothing else is in it. */
const areAllKnown = (cells: readonly string[]): boolean =>
	cells.length > 2 && cells.every((cell) => TYPE_NAMES.test(cell));

const bare = (cell: string, quote: string) => {
	const trimmed = cell.trim();
	return quote !== '' && trimmed.startsWith(quote) && trimmed.endsWith(quote) && trimmed.length > 1
		? trimmed.slice(1, -1)
		: trimmed;
};

/**
 * The dialect of a text. What the guide says counts; the rest is detected from the first lines: the separator that cuts
 * them alike, the quote that opens cells, `#` before the header, a first line of names, a second one of types.
 */
export function dialectOf(id: 'csv' | 'tsv', text: string, hints: ReadHints): Dialect {
	const quote = hints.quote ?? (id === 'tsv' ? '"' : guessQuote(text));
	const all = sampleLines(text, id === 'tsv' ? '' : quote);
	const comment = hints.comment ?? /^(#|\/\/|;)/.exec(all[0] ?? '')?.[1] ?? '';
	const isTable = (mark: string) => all[0]!.split(mark).length > 1 && !all[0]!.startsWith(`${comment} `);
	// A header may itself begin with the mark: then it has as many cells as the lines below it.
	const lines = comment === '' ? all : all.filter((line) => !line.startsWith(comment));
	const separator = hints.separator ?? (id === 'tsv' ? '\t' : guessSeparator(lines, quote));
	const cellsOf = (line: string) => split(line, separator, quote).map((cell) => bare(cell, quote));
	/** A line of types may begin with the mark as well. */
	const typesOf = (line: string) => cellsOf(line.startsWith(comment) ? line.slice(comment.length) : line);
	const width = lines.length > 0 ? cellsOf(lines[0]!).length : 0;
	const marked = all.slice(1).filter((line) => line.startsWith(comment));
	const marksHeader =
		hints.comment === undefined &&
		comment !== '' &&
		lines.length > 0 &&
		isTable(separator) &&
		cellsOf(all[0]!).length === width &&
		(marked.length === 0 ||
			(marked.length === 1 &&
				marked[0] === all[1] &&
				typesOf(all[1]!).length === width &&
				isTypes(typesOf(all[1]!))));
	const rows = marksHeader ? all : lines;
	const first = cellsOf(rows[0] ?? '');
	const second = typesOf(rows[1] ?? '');
	const numeric = (cell: string) => /^[-+]?\d+([.,]\d+)?$/.test(cell);
	const header =
		hints.header ?? !(first.some(numeric) && (hints.key === undefined || !first.includes(hints.key)));
	return {
		separator,
		quote,
		escape: hints.escape ?? guessEscape(text, separator, quote),
		comment: marksHeader ? '' : comment,
		header,
		types:
			hints.types ??
			(header &&
				second.length > 1 &&
				second.length === first.length &&
				isTypes(second) &&
				(rows.length > 2 || areAllKnown(second)))
	};
}
