// The stand-in's own small readers. Strict: they throw a Fault with the line at the first thing a game would not take.

/** Something the game does not take, with its line. */
export class Fault extends Error {
	/** @param {number} line @param {string} message */
	constructor(line, message) {
		super(message);
		this.line = line;
	}
}

/** @typedef {{ line: number, fields: Record<string, string> }} Row */

const linesOf = (/** @type {string} */ text) => text.replace(/^\ufeff/, '').split(/\r\n|\n|\r/);

/**
 * Tab-separated rows under a header that must be exactly `columns`.
 * @param {string} text @param {string[]} columns @returns {Row[]}
 */
export function readTable(text, columns) {
	const [header = '', ...rest] = linesOf(text);
	if (header !== columns.join('\t')) throw new Fault(1, 'the header is not the one the game expects');
	/** @type {Row[]} */
	const rows = [];
	rest.forEach((line, at) => {
		if (line.trim() === '') return;
		const cells = line.split('\t');
		if (cells.length !== columns.length)
			throw new Fault(at + 2, `${cells.length} cells instead of ${columns.length}`);
		rows.push({
			line: at + 2,
			fields: Object.fromEntries(columns.map((column, index) => [column, cells[index] ?? '']))
		});
	});
	return rows;
}

/** Sections with `name = value`. @param {string} text @returns {(Row & { id: string })[]} */
export function readSections(text) {
	/** @type {(Row & { id: string })[]} */
	const sections = [];
	linesOf(text).forEach((line, at) => {
		const bare = line.replace(/(^|\s)[;#].*$/, '').trim();
		if (bare === '') return;
		const head = /^\[(.*)\]$/.exec(bare);
		if (head) sections.push({ id: head[1] ?? '', line: at + 1, fields: {} });
		else {
			const equals = bare.indexOf('=');
			const open = sections.at(-1);
			if (equals < 1) throw new Fault(at + 1, 'neither a section nor name = value');
			if (!open) throw new Fault(at + 1, 'a value before the first section');
			open.fields[bare.slice(0, equals).trim()] = bare.slice(equals + 1).trim();
		}
	});
	return sections;
}

const ENTITIES = /** @type {Record<string, string>} */ ({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" });

/** @param {string} raw @param {number} line */
function plain(raw, line) {
	return raw.replace(/&([^;\s]*);?/g, (whole, name) => {
		if (/^#\d+$/.test(name)) return String.fromCodePoint(Number(name.slice(1)));
		if (!(name in ENTITIES) || !whole.endsWith(';')) throw new Fault(line, `unknown entity ${whole}`);
		return ENTITIES[name] ?? '';
	});
}

/**
 * @typedef {{ name: string, line: number, attributes: Record<string, string>, children: Element[] }} Element
 */

/** Elements with attributes; no text is allowed between them. @param {string} text @returns {Element} */
export function readElements(text) {
	const body = text.replace(/^\ufeff/, '');
	const token =
		/<!--[^]*?-->|<\?[^]*?\?>|<(\/?)([A-Za-z_][\w.-]*)((?:\s+[\w.-]+\s*=\s*(?:"[^"<]*"|'[^'<]*'))*)\s*(\/?)>|([^<]+)|</gy;
	/** @type {Element} */
	const top = { name: '', line: 0, attributes: {}, children: [] };
	const open = [top];
	let line = 1;
	for (let match = token.exec(body); match; match = token.exec(body)) {
		const [whole, closing, name, attributes = '', empty, between] = match;
		const parent = /** @type {Element} */ (open.at(-1));
		if (between !== undefined && between.trim() !== '')
			throw new Fault(line, 'text where only elements may stand');
		if (whole === '<') throw new Fault(line, 'a tag that is not well formed');
		if (name !== undefined && closing) {
			if (parent.name !== name)
				throw new Fault(line, `</${name}> closes <${parent.name}> of line ${parent.line}`);
			open.pop();
		} else if (name !== undefined) {
			/** @type {Element} */
			const element = { name, line, attributes: {}, children: [] };
			for (const [, key = '', double, single] of attributes.matchAll(
				/([\w.-]+)\s*=\s*(?:"([^"]*)"|'([^']*)')/g
			)) {
				if (key in element.attributes) throw new Fault(line, `attribute ${key} twice`);
				element.attributes[key] = plain(double ?? single ?? '', line);
			}
			parent.children.push(element);
			if (!empty) open.push(element);
		}
		line += whole.split('\n').length - 1;
	}
	const last = /** @type {Element} */ (open.at(-1));
	if (open.length > 1) throw new Fault(last.line, `<${last.name}> is never closed`);
	if (top.children.length !== 1) throw new Fault(1, 'there must be exactly one root element');
	return /** @type {Element} */ (top.children[0]);
}

/** `key=text` lines. @param {string} text @returns {{ line: number, key: string, text: string }[]} */
export function readTexts(text) {
	/** @type {{ line: number, key: string, text: string }[]} */
	const texts = [];
	linesOf(text).forEach((line, at) => {
		if (line.trim() === '' || /^\s*[#!]/.test(line)) return;
		const match = /^\s*((?:\\.|[^\\=:\s])+)\s*[=:]\s*(.*)$/.exec(line);
		if (!match) throw new Fault(at + 1, 'not key=text');
		const unescape = (/** @type {string} */ raw) =>
			raw.replace(/\\(?:u([0-9a-fA-F]{4})|(.))/g, (_, hex, char) =>
				hex ? String.fromCharCode(parseInt(hex, 16)) : char === 'n' ? '\n' : char === 't' ? '\t' : char
			);
		texts.push({ line: at + 1, key: unescape(match[1] ?? ''), text: unescape(match[2] ?? '') });
	});
	return texts;
}

/** Texts of an expansion: `msgid "key"` and `msgstr "text"`, each of which may go on in quotes. @param {string} text */
export function readMessages(text) {
	/** @type {{ line: number, key: string, text: string }[]} */
	const texts = [];
	/** @type {'key' | 'text' | null} */
	let open = null;
	linesOf(text).forEach((line, at) => {
		if (line.trim() === '' || line.startsWith('#')) return;
		const match = /^(?:(msgid|msgstr)\s+)?"((?:\\.|[^"\\])*)"\s*$/.exec(line);
		if (!match || (!match[1] && !open)) throw new Fault(at + 1, 'not msgid or msgstr with a text in quotes');
		if (match[1] === 'msgid') texts.push({ line: at + 1, key: '', text: '' });
		const last = texts.at(-1);
		if (!last) throw new Fault(at + 1, 'msgstr without its msgid');
		if (match[1]) open = match[1] === 'msgid' ? 'key' : 'text';
		last[open ?? 'text'] += (match[2] ?? '').replace(/\\(.)/g, (_, char) => (char === 'n' ? '\n' : char));
	});
	return texts.filter(({ key }) => key !== '');
}

/** `name = number` lines with remarks behind `--`. @param {string} text @returns {Record<string, number>} */
export function readRules(text) {
	/** @type {Record<string, number>} */
	const rules = {};
	linesOf(text).forEach((line, at) => {
		const bare = line.replace(/--.*$/, '').trim();
		if (bare === '') return;
		const match = /^([a-z_]+)\s*=\s*(-?\d+(?:\.\d+)?)$/.exec(bare);
		if (!match) throw new Fault(at + 1, 'not name = number');
		rules[match[1] ?? ''] = Number(match[2]);
	});
	return rules;
}

/**
 * Packed controls: a head with the count, the place of the delays and the sum of all bytes behind it, rows of fourteen
 * bytes, and delays of two bytes each.
 * @param {Buffer} bytes @param {(message: string) => void} refuse
 * @returns {{ id: string, key: string, pad: number, delay: number }[]}
 */
export function readControls(bytes, refuse) {
	if (bytes.length < 12 || bytes.toString('latin1', 0, 4) !== 'GSCB') {
		refuse('these are no packed controls');
		return [];
	}
	const count = bytes.readUInt16LE(4);
	const delays = bytes.readUInt16LE(6);
	if (delays !== 12 + count * 14 || bytes.length < delays + 2) {
		refuse(`${count} controls do not end where the delays begin`);
		return [];
	}
	let sum = 0;
	for (const byte of bytes.subarray(12)) sum += byte;
	if (sum !== bytes.readUInt32LE(8)) refuse(`the sum of the bytes is ${sum}, not ${bytes.readUInt32LE(8)}`);
	return Array.from({ length: count }, (_, row) => {
		const at = 12 + row * 14;
		const address = bytes.readUInt16LE(at + 12);
		if (address < delays || address + 2 > bytes.length || address % 2 !== delays % 2)
			refuse(`control ${row + 1} has its delay at ${address}, where there is none`);
		return {
			id: bytes.toString('latin1', at, at + 10).replace(/\0+$/, ''),
			key: bytes.toString('latin1', at + 10, at + 11).replace(/\0+$/, ''),
			pad: bytes[at + 11] ?? 0,
			delay: address + 2 <= bytes.length ? bytes.readUInt16LE(address) : 0
		};
	});
}
