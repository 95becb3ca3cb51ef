// Texts for translators as a table: a column with the key, and one for each language, named by its code.
import { readDocument } from '../../formats';
import { ExchangeFault, type Returned, type ReturnedText } from '../returned';
import type { Given } from '../units';

const KEY = 'key';
const USED_BY = 'used by';
const LONGEST = 'longest';
const REMARK = 'remark';
const beforeOf = (code: string) => `${code} before`;

const cell = (text: string): string => `"${text.replaceAll('"', '""')}"`;
const row = (cells: readonly string[]): string => cells.map(cell).join(',');

/**
 * The texts as CSV (RFC 4180, UTF-8 with a mark of its order, without which some programs take it for something else).
 * The main language comes first and then the one that is translated into; the others are there to look at.
 */
export function asCsv({ from, to, units }: Given): string {
	const others = [...new Set(units.flatMap((unit) => unit.others.map(([code]) => code)))];
	const header = [KEY, from, to, beforeOf(to), USED_BY, LONGEST, REMARK, ...others];
	const lines = units.map(({ key, source, target, usedBy, longest, remark, ...unit }) => {
		const there = new Map(unit.others);
		return row([
			...[key, source, target, target, usedBy.join('\n'), longest === null ? '' : String(longest)],
			...[remark ?? '', ...others.map((code) => there.get(code) ?? '')]
		]);
	});
	return `\ufeff${[row(header), ...lines].join('\r\n')}\r\n`;
}

/** The sign that the cells of the first line are separated by: what stands behind its first name. */
function separatorOf(text: string): string {
	const [, sign] = /^(?:"key"|key)([,;\t|])/.exec(text) ?? [];
	if (sign === undefined)
		throw new ExchangeFault('Line 1: the first column is not “key”, or there is no second one.');
	return sign;
}

/**
 * A CSV file that came back. The language is that of the second column with texts, or the one that was said.
 * @param said the code of the language that is taken in, where the file has several
 * @throws ExchangeFault
 */
export function fromCsv(content: string, said?: string): Returned {
	const text = content.replace(/^\ufeff/, '');
	const doc = readDocument('texts.csv', text, {
		format: 'csv',
		separator: separatorOf(text),
		quote: '"',
		escape: 'doubled',
		header: true,
		types: false,
		ragged: true,
		comment: '',
		key: KEY
	})!;
	const [problem] = doc.problems;
	if (problem) throw new ExchangeFault(`Line ${problem.line}: ${problem.message}`);
	const [, from, first] = doc.columns;
	const to = said ?? first;
	if (from === undefined || to === undefined || !doc.columns.includes(to))
		throw new ExchangeFault(
			said === undefined
				? 'Line 1: the columns must be “key”, the main language, and the one that it is translated into.'
				: `Line 1: there is no column “${said}”.`
		);
	const before = doc.columns.includes(beforeOf(to)) ? beforeOf(to) : null;
	const texts = doc.records.map((record): ReturnedText => {
		const cells = new Map(record.fields.map(({ path, value }) => [path, String(value ?? '')]));
		return {
			key: record.id,
			source: cells.get(from) ?? null,
			before: before === null ? null : (cells.get(before) ?? ''),
			target: cells.get(to) ?? '',
			finished: true,
			line: record.line
		};
	});
	return { to, texts, faults: [] };
}
