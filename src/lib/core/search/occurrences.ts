// Where each text stands: the records that have it as id, value or remark, and the lines of scripts.
import { type Facts } from '../facts';
import type { Links } from '../links';
import { nameFields, type LayerFile, type Stack, type Table } from '../stack';

/** What a text is where it stands. */
export const ID = 0;
export const VALUE = 1;
export const REMARK = 2;
export const LINE = 3;
/** The value of a field that holds the shown name. */
export const NAME = 4;

/** Languages that are distinguished, with 0 for none. */
const MOST_LANGUAGES = 16;

/** Line `number` of a file that is no data, or a script. */
export interface Line {
	layer: string;
	file: LayerFile;
	number: number;
	text: number;
}

/** Of each text its places, as numbers: `place * 128 + language * 8 + what`; of lines the place is the line's number. */
export interface Occurrences {
	firsts: Int32Array;
	marks: Int32Array;
	/** Characters of each text that has places, up to 65535. */
	lengths: Uint16Array;
	lines: Line[];
	/** Language codes; the first is none. */
	languages: string[];
}

function* cellsOf(
	table: Table,
	start: number,
	languages: string[]
): Generator<[facts: Facts, nth: number, code: number]> {
	const { firsts, file, nth, count } = table.rows;
	const files = table.files.map(({ facts, language }) => ({
		facts,
		language: language === undefined ? 0 : Math.max(0, languages.indexOf(language))
	}));
	for (let row = 0; row < count; row++) {
		let seen = 0;
		for (let at = firsts[row + 1]! - 1; at >= firsts[row]!; at--) {
			const { facts, language } = files[file[at]!]!;
			if ((seen & (1 << language)) !== 0) continue;
			seen |= 1 << language;
			yield [facts, nth[at]!, (start + row) * 128 + language * 8];
			if (language === 0) break;
		}
	}
}

/** Values that are gone through in one step, and records where these have few. */
const [STEP, RECORDS] = [20_000, 2000];

/** Every text with its places, one after another; in steps. */
function* each(
	stack: Stack,
	links: Links,
	languages: string[],
	lines: readonly Line[],
	take: (text: number, mark: number) => void
): Generator<void, void> {
	let [values, records] = [0, 0];
	for (const table of stack.tables.values()) {
		const start = links.starts.get(table.kind)!;
		for (let row = 0; row < table.count; row++) take(table.rows.ids[row]!, (start + row) * 128 + ID);
		const key = table.guide.key === undefined ? -1 : stack.pool.find(table.guide.key);
		const named = new Set(nameFields(table).map(({ field }) => stack.pool.find(field)));
		for (const [facts, nth, code] of cellsOf(table, start, languages)) {
			const from = facts.firsts[nth]!;
			const to = facts.firsts[nth + 1]!;
			values += to - from;
			if (values > STEP || ++records > RECORDS) {
				yield;
				[values, records] = [0, 0];
			}
			const shape = facts.shapes[facts.shape[nth]!];
			for (let cell = from; cell < to; cell++) {
				const path = shape![cell - from]!;
				if (facts.values[cell] === 0 || path === key) continue;
				take(facts.values[cell]!, code + (named.size > 0 && named.has(path) ? NAME : VALUE));
			}
		}
		table.files.forEach(({ facts }, number) => {
			const rows = table.rows.rowsOf[number]!;
			for (let at = 0; at < facts.remarks.length; at += 2)
				if (rows[facts.remarks[at]!]! >= 0)
					take(facts.remarks[at + 1]!, (start + rows[facts.remarks[at]!]!) * 128 + REMARK);
			for (let at = 0; at < facts.fieldRemarks.length; at += 3)
				if (rows[facts.fieldRemarks[at]!]! >= 0)
					take(facts.fieldRemarks[at + 2]!, (start + rows[facts.fieldRemarks[at]!]!) * 128 + REMARK);
		});
	}
	lines.forEach(({ text }, at) => take(text, at * 128 + LINE));
}

function linesOf(stack: Stack): Line[] {
	const hidden = new Map<string, string>();
	for (const layer of stack.layers) for (const path of layer.files.keys()) hidden.set(path, layer.id);
	const lines: Line[] = [];
	for (const layer of stack.layers)
		for (const file of layer.files.values()) {
			const prose = file.facts?.prose;
			if (!prose || prose.length === 0 || hidden.get(file.path) !== layer.id) continue;
			for (let at = 0; at < prose.length; at += 2)
				lines.push({ layer: layer.id, file, number: prose[at]!, text: prose[at + 1]! });
		}
	return lines;
}

/** Finds the places of all texts. A generator, so that the caller can do other things in between. */
export function* buildOccurrences(stack: Stack, links: Links): Generator<void, Occurrences> {
	const languages = ['', ...Object.keys(stack.guide.words?.languages ?? {})].slice(0, MOST_LANGUAGES);
	const lines = linesOf(stack);
	const firsts = new Int32Array(stack.pool.size + 1);
	yield;
	yield* each(stack, links, languages, lines, (text) => firsts[text + 1]!++);
	yield;
	for (let at = 0; at < stack.pool.size; at++) firsts[at + 1]! += firsts[at]!;
	const lengths = new Uint16Array(stack.pool.size);
	for (let text = 0; text < lengths.length; text++)
		if (firsts[text + 1]! > firsts[text]!) lengths[text] = Math.min(65535, stack.pool.at(text).length);
	yield;
	const next = firsts.slice();
	const marks = new Int32Array(firsts.at(-1)!);
	yield;
	yield* each(stack, links, languages, lines, (text, mark) => (marks[next[text]!++] = mark));
	return { firsts, marks, lengths, lines, languages };
}
