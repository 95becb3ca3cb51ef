// The stand-in's readers of things within things: JSON with remarks, and as much of YAML, TOML and Lua as the game uses.
import { Fault } from './readers.mjs';

/**
 * A thing of a list or map, with the line that it begins on. Values are texts, as written.
 * @typedef {{ id: string, line: number, fields: Record<string, string> }} Item
 */

const linesOf = (/** @type {string} */ text) => text.replace(/^\ufeff/, '').split(/\r\n|\n|\r/);

/**
 * JSON with remarks behind `//`: a list of maps, or one map. Nested values become `a.b` and `a[0]`.
 * @param {string} text @returns {Item[]}
 */
export function readJson(text) {
	const body = text.replace(/^\ufeff/, '');
	let at = 0;
	const lineAt = (/** @type {number} */ place) => body.slice(0, place).split('\n').length;
	const fail = (/** @type {string} */ message) => new Fault(lineAt(Math.min(at, body.length)), message);
	const space = () => {
		for (;;) {
			while (/\s/.test(body[at] ?? '')) at++;
			if (!body.startsWith('//', at)) return;
			while (at < body.length && body[at] !== '\n') at++;
		}
	};
	const string = () => {
		const match = /"(?:[^"\\\n]|\\.)*"/y;
		match.lastIndex = at;
		const found = match.exec(body);
		if (!found) throw fail('a text that is never closed');
		at += found[0].length;
		try {
			return String(JSON.parse(found[0]));
		} catch {
			throw fail('a text with a wrong escape');
		}
	};
	/** @param {Record<string, string>} fields @param {string} path */
	const value = (fields, path) => {
		space();
		if (body[at] === '{') return map(fields, path);
		if (body[at] === '[') {
			at++;
			for (let nth = 0; ; nth++) {
				space();
				if (body[at] === ']') break;
				value(fields, `${path}[${nth}]`);
				space();
				if (body[at] === ',') at++;
				else if (body[at] !== ']') throw fail('a comma or ] is missing');
			}
			at++;
			return;
		}
		if (body[at] === '"') {
			fields[path] = string();
			return;
		}
		const match = /-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?|true|false|null/y;
		match.lastIndex = at;
		const found = match.exec(body);
		if (!found) throw fail('no value');
		fields[path] = found[0] === 'null' ? '' : /^[-\d]/.test(found[0]) ? String(Number(found[0])) : found[0];
		at += found[0].length;
	};
	/** @param {Record<string, string>} fields @param {string} path */
	const map = (fields, path) => {
		at++;
		for (;;) {
			space();
			if (body[at] === '}') break;
			if (body[at] !== '"') throw fail('a name in quotes is missing');
			const name = string();
			space();
			if (body[at] !== ':') throw fail('a colon is missing');
			at++;
			value(fields, path === '' ? name : `${path}.${name}`);
			space();
			if (body[at] === ',') at++;
			else if (body[at] !== '}') throw fail('a comma or } is missing');
		}
		at++;
	};
	/** @type {Item[]} */
	const items = [];
	const item = () => {
		/** @type {Item} */
		const made = { id: '', line: lineAt(at), fields: {} };
		map(made.fields, '');
		made.id = made.fields.id ?? '';
		items.push(made);
	};
	space();
	if (body[at] === '{') item();
	else if (body[at] === '[') {
		at++;
		for (;;) {
			space();
			if (body[at] === ']') break;
			if (body[at] !== '{') throw fail('something that is no map');
			item();
			space();
			if (body[at] === ',') at++;
			else if (body[at] !== ']') throw fail('a comma or ] is missing');
		}
		at++;
	} else throw fail('neither a list nor a map');
	space();
	if (at < body.length) throw fail('something behind the end');
	return items;
}

/** A value of YAML or TOML without its quotes and the remark behind it. @param {string} raw @param {number} line */
function scalar(raw, line) {
	const trimmed = raw.trim();
	const quoted = /^("(?:[^"\\]|\\.)*"|'(?:[^']|'')*')\s*(?:#.*)?$/.exec(trimmed);
	if (quoted?.[1])
		return quoted[1]
			.slice(1, -1)
			.replace(quoted[1].startsWith("'") ? /''/g : /\\(.)/g, quoted[1].startsWith("'") ? "'" : '$1');
	if (/^["']/.test(trimmed)) throw new Fault(line, 'a text that is never closed');
	const bare = trimmed.replace(/(^|\s)#.*$/, '').trim();
	return /^[-+]?\d+\.?\d*([eE][-+]?\d+)?$/.test(bare) ? String(Number(bare)) : bare;
}

/**
 * YAML as the game uses it: a list of maps, maps in them by indentation or in braces.
 * @param {string} text @returns {Item[]}
 */
export function readYaml(text) {
	/** @type {Item[]} */
	const items = [];
	let below = '';
	linesOf(text).forEach((raw, nth) => {
		const line = nth + 1;
		if (raw.trim() === '' || raw.trim().startsWith('#')) return;
		const match = /^(- | {2}| {4})([\w-]+):(?: (.*)|)$/.exec(raw);
		if (!match) throw new Fault(line, 'not a name with a value');
		const [, indent, name = '', rest = ''] = match;
		if (indent === '- ') items.push({ id: '', line, fields: {} });
		const item = items.at(-1);
		if (!item) throw new Fault(line, 'a value before the first dash');
		if (indent === '    ' && below === '') throw new Fault(line, 'a value that is in too far');
		if (indent !== '    ') below = '';
		const path = indent === '    ' ? `${below}.${name}` : name;
		const inner = /^\{\s*(.*?)\s*\}\s*(?:#.*)?$/.exec(rest.trim());
		if (rest.trim() === '' && indent !== '    ') below = name;
		else if (inner)
			for (const part of (inner[1] ?? '').split(',')) {
				const pair = /^\s*([\w-]+):\s*(.*)$/.exec(part);
				if (!pair) throw new Fault(line, 'not a name with a value in braces');
				item.fields[`${path}.${pair[1]}`] = scalar(pair[2] ?? '', line);
			}
		else item.fields[path] = scalar(rest, line);
		if (path === 'id') item.id = item.fields.id ?? '';
	});
	return items;
}

/** TOML as the game uses it: one thing, with blocks. @param {string} text @returns {Item} */
export function readToml(text) {
	/** @type {Item} */
	const item = { id: '', line: 1, fields: {} };
	let block = '';
	linesOf(text).forEach((raw, nth) => {
		const bare = raw.trim();
		if (bare === '' || bare.startsWith('#')) return;
		const head = /^\[([\w.-]+)\]\s*(?:#.*)?$/.exec(bare);
		const pair = /^([\w-]+)\s*=\s*(.+)$/.exec(bare);
		if (head) block = `${head[1]}.`;
		else if (pair) item.fields[`${block}${pair[1]}`] = scalar(pair[2] ?? '', nth + 1);
		else throw new Fault(nth + 1, 'neither a block nor name = value');
	});
	return item;
}

/** A value of Lua: a text without its quotes, a number as it counts. @param {string} raw */
const plainLua = (raw) =>
	/^-?\d+\.?\d*([eE][-+]?\d+)?$/.test(raw) ? String(Number(raw)) : raw.replace(/^"(.*)"$/, '$1');

/** A Lua table of tables, one to a line: `name = { a = 1, b = 2 },`. @param {string} text @returns {Item[]} */
export function readLuaTable(text) {
	/** @type {Item[]} */
	const items = [];
	let open = false;
	linesOf(text).forEach((raw, nth) => {
		const bare = raw.replace(/--.*$/, '').trim();
		if (bare === '') return;
		if (/^\w+ = \{$/.test(bare)) open = true;
		else if (bare === '}') open = false;
		else {
			const match = /^(\w+) = \{\s*(.*?)\s*\},?$/.exec(bare);
			if (!open || !match) throw new Fault(nth + 1, 'not an entry of the table');
			/** @type {Item} */
			const item = { id: match[1] ?? '', line: nth + 1, fields: {} };
			for (const part of (match[2] ?? '').split(',')) {
				const pair = /^\s*(\w+)\s*=\s*(.+?)\s*$/.exec(part);
				if (part.trim() !== '' && !pair) throw new Fault(nth + 1, 'not name = value in the entry');
				if (pair) item.fields[pair[1] ?? ''] = plainLua(pair[2] ?? '');
			}
			items.push(item);
		}
	});
	if (open) throw new Fault(linesOf(text).length, 'the table is never closed');
	return items;
}

/** Comma-separated rows with quotes; lines with # before them are remarks. @param {string} text @param {string[]} columns @returns {Item[]} */
export function readCsv(text, columns) {
	/** @type {Item[]} */
	const items = [];
	let headed = false;
	linesOf(text).forEach((raw, nth) => {
		if (raw.trim() === '' || (!headed && raw.startsWith('#'))) return;
		/** @type {string[]} */
		const cells = [];
		const cell = /(?:"((?:[^"]|"")*)"|([^",]*))(,|$)/y;
		for (;;) {
			const match = cell.exec(raw);
			if (!match) throw new Fault(nth + 1, 'a quote in the wrong place');
			cells.push(match[1]?.replace(/""/g, '"') ?? match[2] ?? '');
			if (match[3] === '') break;
		}
		if (!headed) {
			if (cells.join() !== columns.join())
				throw new Fault(nth + 1, 'the header is not the one the game expects');
			headed = true;
			return;
		}
		if (cells.length !== columns.length)
			throw new Fault(nth + 1, `${cells.length} cells instead of ${columns.length}`);
		const fields = Object.fromEntries(columns.map((column, at) => [column, cells[at] ?? '']));
		items.push({ id: fields.id ?? '', line: nth + 1, fields });
	});
	return items;
}

/** Rows of numbers under their count, remarks behind #. @param {string} text @param {string[]} names @returns {Item[]} */
export function readNumbers(text, names) {
	/** @type {Item[]} */
	const items = [];
	let count = -1;
	linesOf(text).forEach((raw, nth) => {
		const bare = raw.replace(/#.*$/, '').trim();
		if (bare === '') return;
		const cells = bare.split(/\s+/);
		if (count < 0) {
			count = Number(cells[0]);
			if (cells.length !== 1 || !Number.isInteger(count)) throw new Fault(nth + 1, 'the count is missing');
			return;
		}
		if (cells.length !== names.length)
			throw new Fault(nth + 1, `${cells.length} values instead of ${names.length}`);
		items.push({
			id: `#${items.length + 1}`,
			line: nth + 1,
			fields: Object.fromEntries(names.map((name, at) => [name, cells[at] ?? '']))
		});
	});
	if (items.length !== count) throw new Fault(1, `${count} are promised and ${items.length} there`);
	return items;
}

/** The options of a page. @param {string} text @returns {Item[]} */
export function readOptions(text) {
	/** @type {Item[]} */
	const items = [];
	linesOf(text).forEach((raw, nth) => {
		for (const match of raw.matchAll(/<option value="([^"]*)"[^>]*>/g))
			items.push({ id: match[1] ?? '', line: nth + 1, fields: { value: match[1] ?? '' } });
	});
	return items;
}
