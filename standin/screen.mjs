// How the stand-in draws a text on its screen: as lines of plain text, and as HTML.
// A text has sections between "||", of which the last is on top; <br> is a new line, <anchor> a picture, ** is bold and
// <ice> blue. %s is a name, %d a number, {speed} that of the vessel. A full-width letter takes two columns.

/** @typedef {{ char: string, look: string }} Cell one column or two, with the tags around it: "b", "ice", "b ice" */
/** @typedef {{ columns: number | null, rows: number | null, cut: string }} Room */

const FULL =
	/[\u1100-\u115f\u2e80-\u303e\u3041-\u33ff\u3400-\u4dbf\u4e00-\u9fff\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe4f\uff00-\uff60\uffe0-\uffe6]/u;
const columnsOf = (/** @type {string} */ char) => (FULL.test(char) ? 2 : 1);
const width = (/** @type {Cell[]} */ cells) => cells.reduce((sum, { char }) => sum + columnsOf(char), 0);

/** The room of each text, by the end of its key. @param {string} key @returns {Room} */
export function roomOf(key) {
	if (!/^vessel\./.test(key)) return { columns: null, rows: null, cut: '' };
	if (key.endsWith('.about')) return { columns: 34, rows: 3, cut: '…' };
	return { columns: null, rows: key.endsWith('.short') ? 1 : null, cut: '' };
}

/**
 * Reads one section: goes on while what it meets is text, and comes back at the mark that it waits for.
 * @param {string} text @param {Record<string, string>} values
 * @returns {Cell[]} with "\n" for a new line
 */
function cellsOf(text, values) {
	/** @type {Cell[]} */
	const cells = [];
	/** @param {string} part @param {string[]} looks */
	const read = (part, looks) => {
		const look = looks.join(' ');
		const put = (/** @type {string} */ said) => {
			for (const char of said) cells.push({ char, look });
		};
		let rest = part;
		while (rest !== '') {
			const bold = /^\*\*(.*?)\*\*/s.exec(rest);
			const ice = /^<ice>(.*?)<\/ice>/s.exec(rest);
			const value = Object.keys(values).find((code) => rest.startsWith(code));
			if (bold) read(bold[1] ?? '', [...looks, 'b']);
			else if (ice) read(ice[1] ?? '', [...looks, 'ice']);
			else if (rest.startsWith('<br>')) put('\n');
			else if (rest.startsWith('<anchor>')) put('⚓');
			else if (value !== undefined) put(values[value] ?? '');
			else put(String.fromCodePoint(rest.codePointAt(0) ?? 0));
			if (bold) rest = rest.slice(bold[0].length);
			else if (ice) rest = rest.slice(ice[0].length);
			else if (rest.startsWith('<br>')) rest = rest.slice(4);
			else if (rest.startsWith('<anchor>')) rest = rest.slice(8);
			else if (value !== undefined) rest = rest.slice(value.length);
			else rest = rest.slice(String.fromCodePoint(rest.codePointAt(0) ?? 0).length);
		}
	};
	read(text, []);
	return cells;
}

/** One written line in rows of so many columns. @param {Cell[]} line @param {number} columns @returns {Cell[][]} */
function wrap(line, columns) {
	/** @type {Cell[][]} */
	const rows = [];
	/** @type {Cell[]} */
	let row = [];
	let at = 0;
	while (at < line.length) {
		let end = at;
		while (end < line.length && line[end]?.char === ' ') end++;
		const gap = line.slice(at, end);
		if (end >= line.length) break;
		let to = end + 1;
		if (columnsOf(line[end]?.char ?? '') === 1)
			while (to < line.length && line[to]?.char !== ' ' && columnsOf(line[to]?.char ?? '') === 1) to++;
		const word = line.slice(end, to);
		at = to;
		if (width(row) + width(gap) + width(word) <= columns) {
			row = [...row, ...gap, ...word];
			continue;
		}
		if (row.length > 0) rows.push(row);
		row = [];
		for (const cell of word) {
			if (row.length > 0 && width(row) + columnsOf(cell.char) > columns) {
				rows.push(row);
				row = [];
			}
			row.push(cell);
		}
	}
	return [...rows, row];
}

/** The rows of a text on the screen, and whether something is cut off. @param {string} text @param {Room} room @param {Record<string, string>} values */
export function screenOf(text, { columns, rows, cut }, values) {
	/** @type {Cell[][]} */
	const lines = [];
	for (const section of text.split('||').reverse()) {
		lines.push([]);
		for (const cell of cellsOf(section, values)) {
			if (cell.char === '\n') lines.push([]);
			else lines.at(-1)?.push(cell);
		}
	}
	const all = columns === null ? lines : lines.flatMap((line) => wrap(line, columns));
	if (rows === null || all.length <= rows) return { rows: all, cut: false };
	const kept = all.slice(0, rows);
	let last = kept.pop() ?? [];
	while (last.length > 0 && (width(last) + cut.length > (columns ?? Infinity) || last.at(-1)?.char === ' '))
		last = last.slice(0, -1);
	return { rows: [...kept, [...last, ...[...cut].map((char) => ({ char, look: '' }))]], cut: true };
}

const escaped = (/** @type {string} */ text) =>
	text.replace(/[&<>"]/g, (char) => `&#${char.codePointAt(0)};`);

/** @param {{ rows: Cell[][] }} screen */
export const asText = ({ rows }) => rows.map((row) => row.map(({ char }) => char).join('')).join('\n');

/** @param {{ rows: Cell[][] }} screen */
export function asHtml({ rows }) {
	return rows
		.map((row) => {
			let html = '';
			let look = '';
			for (const cell of row) {
				if (cell.look !== look) {
					if (look) html += '</span>';
					if (cell.look) html += `<span class="${cell.look}">`;
					look = cell.look;
				}
				html += escaped(cell.char);
			}
			return `<p>${html}${look ? '</span>' : ''}</p>`;
		})
		.join('');
}
