// What fields do, brought in from a table that somebody wrote: CSV, or a table in Markdown, of kind, field and text.
import { readDocument } from '../formats';
import type { Guide } from './schema';
import { GuideFault } from './file';

/** One line of such a table. */
export interface Doc {
	kind: string;
	field: string;
	text: string;
	line: number;
}

const COLUMNS = {
	kind: /^(kind|table|file|what)$/i,
	field: /^(field|column|name|key|path)$/i,
	text: /^(text|meaning|description|doc|docs|note|what it does)$/i
};

function* rowsOfMarkdown(text: string): Generator<{ cells: string[]; line: number }> {
	const lines = text.split(/\r?\n/);
	for (let at = 0; at < lines.length; at++) {
		const line = lines[at]!.trim();
		if (!line.startsWith('|') || /^\|[\s:|-]+\|?$/.test(line)) continue;
		yield {
			cells: line
				.replace(/^\||\|$/g, '')
				.split(/(?<!\\)\|/)
				.map((cell) => cell.replace(/\\\|/g, '|').replace(/^[\s`*]+|[\s`*]+$/g, '')),
			line: at + 1
		};
	}
}

function* rowsOfCsv(text: string): Generator<{ cells: string[]; line: number }> {
	const doc = readDocument('docs.csv', text);
	if (!doc) return;
	yield { cells: doc.columns, line: 1 };
	for (const record of doc.records)
		yield {
			cells: doc.columns.map((column) =>
				String(record.fields.find(({ path }) => path === column)?.value ?? '')
			),
			line: record.line
		};
}

/**
 * Reads such a table. The heads say which column is which; without such heads the first three are kind, field, text.
 * @throws GuideFault where there is no table of three columns
 */
export function readDocs(text: string): Doc[] {
	const rows = [...(/^\s*\|/m.test(text) ? rowsOfMarkdown(text) : rowsOfCsv(text))];
	const [head] = rows;
	if (!head || head.cells.length < 3)
		throw new GuideFault(
			'This table needs the columns kind, field and text, as CSV or as a table in Markdown.'
		);
	const column = (name: keyof typeof COLUMNS) =>
		head.cells.findIndex((cell) => COLUMNS[name].test(cell.trim()));
	const found = [column('kind'), column('field'), column('text')];
	const headed = found.every((at) => at >= 0);
	const [kind, field, said] = headed ? (found as [number, number, number]) : [0, 1, 2];
	return rows
		.slice(headed ? 1 : 0)
		.map(({ cells, line }) => ({
			kind: (cells[kind] ?? '').trim(),
			field: (cells[field] ?? '').trim(),
			text: (cells[said] ?? '').trim(),
			line
		}))
		.filter((doc) => doc.field !== '' && doc.text !== '');
}

/** Finds the kind and field that each line speaks of, by name, title or file; the others are given back with why. */
export function placeDocs(
	guide: Guide,
	docs: readonly Doc[]
): { placed: Doc[]; lost: (Doc & { why: string })[] } {
	const same = (a: string, b: string | undefined) => b?.toLowerCase() === a.toLowerCase();
	const placed: Doc[] = [];
	const lost: (Doc & { why: string })[] = [];
	for (const doc of docs) {
		const kind = Object.entries(guide.kinds).find(
			([name, { title, plural, files }]) =>
				[name, title, plural].some((word) => same(doc.kind, word)) ||
				files.some((file) => same(doc.kind, file) || same(doc.kind, file.slice(file.lastIndexOf('/') + 1)))
		);
		if (!kind) {
			lost.push({ ...doc, why: `there is no kind “${doc.kind}”` });
			continue;
		}
		const field = Object.entries(kind[1].fields).find(
			([path, { title }]) => same(doc.field, path) || same(doc.field, title)
		);
		if (!field) lost.push({ ...doc, why: `${kind[1].title} has no field “${doc.field}”` });
		else placed.push({ ...doc, kind: kind[0], field: field[0] });
	}
	return { placed, lost };
}
