// How readers written independently see the data of a text: by record, path to value, all as text. None shares code with ours.
import { runInNewContext } from 'node:vm';
import { parseXml, type XmlElement } from '@rgrove/parse-xml';
import { parseLines as parseProperties } from 'dot-properties';
// @ts-expect-error: this package brings no types
import gettextParser from 'gettext-parser';
import ini from 'ini';
import luaparse from 'luaparse';
import papaparse from 'papaparse';
import * as parse5 from 'parse5';
import { parse as parseToml, TomlDate } from 'smol-toml';
import { parseAllDocuments } from 'yaml';
import type { BlockLayout, FormatId, GroupsLayout, PositionalLayout, TaggedLayout } from '$core/formats';
import * as told from './readers-told';
import type { Sample } from './sample-parts';

export type Seen = Record<string, string>[];

const shown = (value: unknown): string => (value instanceof TomlDate ? value.toISOString() : String(value));

function flatten(value: unknown, path: string, out: Record<string, string>): Record<string, string> {
	if (Array.isArray(value)) value.forEach((item, nth) => flatten(item, `${path}[${nth}]`, out));
	else if (value !== null && typeof value === 'object' && !(value instanceof TomlDate))
		for (const [name, item] of Object.entries(value))
			flatten(item, path === '' ? name : `${path}.${name}`, out);
	else out[path] = shown(value);
	return out;
}

/** The records of plain data: the items of what is at a path, or all of it. */
function recordsOf(data: unknown, at: string | null | undefined): Seen {
	if (at === null || at === undefined) return [flatten(data, '', {})];
	const holder = at === '' ? data : (data as Record<string, unknown>)[at];
	const whole = holder as Record<string, unknown>;
	// A list of tables that is alone in its file holds the records.
	const lists = Object.values(whole ?? {});
	const items = Array.isArray(holder)
		? holder
		: at === '' && lists.length === 1 && Array.isArray(lists[0])
			? lists[0]
			: lists;
	return (items as unknown[]).map((item) => flatten(item, '', {}));
}

const table = (text: string, delimiter: string, quoteChar: string): Seen =>
	papaparse.parse<Record<string, string>>(text, {
		header: true,
		delimiter,
		quoteChar,
		skipEmptyLines: true,
		newline: /\r\n|\n|\r/.exec(text)?.[0] as '\n' | undefined
	}).data;

function xmlFields(element: XmlElement, prefix: string, out: Record<string, string>): Record<string, string> {
	for (const [name, value] of Object.entries(element.attributes)) out[prefix + name] = value;
	const children = element.children.filter((child): child is XmlElement => child.type === 'element');
	const seen = new Map<string, number>();
	for (const child of children) {
		const { name: named, value: held } = child.attributes;
		if (named !== undefined && held !== undefined && Object.keys(child.attributes).length === 2) {
			out[`${prefix}${child.name}.${named}`] = held;
			continue;
		}
		const parts =
			Object.keys(child.attributes).length > 0 || child.children.some(({ type }) => type === 'element');
		const alone = children.filter(({ name }) => name === child.name).length === 1;
		const nth = seen.get(child.name) ?? 0;
		seen.set(child.name, nth + 1);
		const path = prefix + (alone && !parts ? child.name : `${child.name}[${nth}]`);
		if (parts) xmlFields(child, `${path}.`, out);
		else out[path] = child.text;
	}
	return out;
}

interface Message {
	msgid: string;
	msgctxt?: string;
	msgid_plural?: string;
	msgstr: string[];
	comments?: { flag?: string };
}
type Messages = Record<string, Record<string, Message>>;
const gettext = gettextParser as {
	po: { parse(text: string): { translations: Messages; obsolete?: Messages } };
};

type Node5 = {
	nodeName: string;
	attrs?: { name: string; value: string }[];
	childNodes?: Node5[];
	value?: string;
};

function options(node: Node5, out: Seen): Seen {
	if (node.nodeName === 'option') {
		const text = (node.childNodes ?? []).map((child) => child.value ?? '').join('');
		out.push({
			...Object.fromEntries((node.attrs ?? []).map(({ name, value }) => [name, value])),
			'#text': text.trim()
		});
	} else for (const child of node.childNodes ?? []) options(child, out);
	return out;
}

function messages(text: string): Seen {
	// Line ends other than \n are not known to this reader.
	const { translations, obsolete } = gettext.po.parse(text.replace(/\r\n?/g, '\n'));
	const out: Seen = [];
	for (const group of [translations, obsolete ?? {}])
		for (const entry of Object.values(group).flatMap((context) => Object.values(context))) {
			// The header is no message.
			if (entry.msgid === '' && !entry.msgctxt && group === translations) continue;
			const seen: Record<string, string> = { id: entry.msgid };
			if (entry.msgctxt) seen.context = entry.msgctxt;
			if (entry.msgid_plural !== undefined) {
				seen.plural = entry.msgid_plural;
				entry.msgstr.forEach((form, nth) => (seen[`text[${nth}]`] = form));
			} else seen.text = entry.msgstr[0] ?? '';
			entry.comments?.flag
				?.split('\n')
				.join(',')
				.split(',')
				.map((flag) => flag.trim())
				.filter(Boolean)
				.forEach((flag, nth) => (seen[`flags[${nth}]`] = flag));
			out.push(seen);
		}
	return out;
}

/** A table of a syntax tree as plain data; what is no data keeps its text. */
function luaValue(node: luaparse.Expression, text: string): unknown {
	if (node.type === 'StringLiteral') return fromBytes(node.value);
	if (node.type === 'NumericLiteral' || node.type === 'BooleanLiteral') return node.value;
	if (node.type === 'NilLiteral') return null;
	if (node.type === 'UnaryExpression' && node.operator === '-' && node.argument.type === 'NumericLiteral')
		return -node.argument.value;
	// What marks a text to be translated is not part of it.
	const isMark = (base: luaparse.Expression) => base.type === 'Identifier' && base.name === '_';
	if (node.type === 'StringCallExpression' && isMark(node.base)) return luaValue(node.argument, text);
	const only = node.type === 'CallExpression' && node.arguments.length === 1 ? node.arguments[0]! : null;
	if (node.type === 'CallExpression' && only?.type === 'StringLiteral' && isMark(node.base))
		return luaValue(only, text);
	if (node.type !== 'TableConstructorExpression') {
		const [from, to] = (node as unknown as { range: [number, number] }).range;
		return fromBytes(text.slice(from, to));
	}
	if (node.fields.length > 0 && node.fields.every((field) => field.type === 'TableValue'))
		return node.fields.map((field) => luaValue(field.value, text));
	const out: Record<string, unknown> = {};
	for (const field of node.fields) {
		if (field.type === 'TableKeyString') out[field.key.name] = luaValue(field.value, text);
		else if (field.type === 'TableKey') out[String(luaValue(field.key, text))] = luaValue(field.value, text);
	}
	return out;
}

/** This reader works on bytes: each character of what it is given is one. */
const asBytes = (text: string) => String.fromCharCode(...new TextEncoder().encode(text));
const fromBytes = (text: string) =>
	new TextDecoder().decode(Uint8Array.from(text, (char) => char.charCodeAt(0)));

function luaData(characters: string): unknown {
	const text = asBytes(characters);
	const tree = luaparse.parse(text, { encodingMode: 'pseudo-latin1', ranges: true });
	const given = tree.body.flatMap((statement) =>
		statement.type === 'CallStatement' && statement.expression.type === 'CallExpression'
			? statement.expression.arguments.filter(({ type }) => type === 'TableConstructorExpression')
			: []
	);
	if (given.length > 0) return given.map((table) => luaValue(table, text));
	for (const statement of tree.body) {
		if (statement.type === 'ReturnStatement') return luaValue(statement.arguments[0]!, text);
		if (statement.type === 'AssignmentStatement') return luaValue(statement.init[0]!, text);
	}
	return {};
}

/** Block text by a reader of its own: tokens first, then nesting. */
function blocks(text: string, layout: BlockLayout): Seen {
	const word = (mark: string) =>
		mark.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') + (/\w/.test(mark) ? '(?![\\wäß漢.])' : '');
	const quote = layout.quotes;
	const inner = layout.escape === quote ? `(?:[^${quote}]|${quote}${quote})*` : `(?:\\\\.|[^${quote}])*`;
	const marks = [
		layout.openBefore,
		layout.open,
		layout.close,
		layout.assign,
		layout.openAfter,
		layout.end,
		layout.listOpen,
		layout.listClose,
		layout.listSeparator
	].filter(Boolean);
	const stop = marks.filter((mark) => !/\w/.test(mark)).map((mark) => `\\${[...mark].join('\\')}`);
	const token = new RegExp(
		`(${layout.comments.map(word).join('|')})[^\\r\\n]*|(${quote}${inner}${quote})|(${marks.map(word).join('|')})|((?:(?!${[...stop, quote].join('|')})\\S)+)|(\\r\\n|\\n|\\r)`,
		'g'
	);
	const tokens = [...text.matchAll(token)]
		.filter((match) => match[1] === undefined)
		.map((match) => ({
			mark: match[3] ?? null,
			eol: match[5] !== undefined,
			text: match[2] !== undefined ? match[2].slice(1, -1) : (match[4] ?? '')
		}));
	let at = 0;
	const block = (
		name: string,
		words: readonly string[],
		prefix: string,
		seen: Map<string, number>,
		out: Record<string, string>
	): void => {
		const nth = seen.get(name) ?? 0;
		seen.set(name, nth + 1);
		out[`${prefix}${name}[${nth}].id`] = words[0]!;
		body(`${prefix}${name}[${nth}].`, out);
		at++;
	};
	const body = (prefix: string, out: Record<string, string>): Record<string, string> => {
		const seen = new Map<string, number>();
		while (at < tokens.length && tokens[at]!.mark !== layout.close) {
			const next = tokens[at++]!;
			if (next.eol || next.mark === layout.end) continue;
			const led = layout.openBefore !== '' && next.mark === layout.openBefore;
			const name = led ? tokens[at++]!.text : next.text;
			const words: string[] = [];
			while (tokens[at] && !tokens[at]!.mark && !tokens[at]!.eol) words.push(tokens[at++]!.text);
			if (led || layout.heads.includes(name)) {
				block(name, words, prefix, seen, out);
				continue;
			}
			if (layout.openAfter && tokens[at]?.mark === layout.openAfter) at++;
			if (tokens[at]?.mark === layout.open) {
				at++;
				block(next.text, words, prefix, seen, out);
				continue;
			}
			if (layout.assign && tokens[at]?.mark === layout.assign) at++;
			if (tokens[at]?.mark === layout.listOpen && layout.listOpen) {
				at++;
				for (let nth = 0; tokens[at]!.mark !== layout.listClose; at++)
					if (!tokens[at]!.mark) out[`${prefix}${next.text}[${nth++}]`] = tokens[at]!.text;
				at++;
				continue;
			}
			while (tokens[at] && !tokens[at]!.mark && !tokens[at]!.eol) words.push(tokens[at++]!.text);
			out[prefix + next.text] = words.join(' ');
		}
		return out;
	};
	const all = body('', {});
	const records: Seen = [];
	for (const [path, value] of Object.entries(all)) {
		const [, nth, rest] = /^vessel\[(\d+)\]\.(.*)$/.exec(path)!;
		(records[Number(nth)] ??= {})[rest!] = value;
	}
	return records;
}

/** Sections with values in their brackets, line by line. */
function attributed(text: string): Seen {
	const records: Seen = [];
	for (const line of text.split(/\r\n|\n|\r/)) {
		const [, head] = /^\[boat (.*)\]$/.exec(line) ?? [];
		const [, name, value] = /^([^;=]+?) = ?(.*)$/.exec(line) ?? [];
		if (head !== undefined)
			records.push(
				Object.fromEntries(
					[...head.matchAll(/(\w+)=(?:"([^"]*)"|(\S+))/g)].map(([, own, a, b]) => [own!, a ?? b!])
				)
			);
		else if (name !== undefined) records.at(-1)![name] = value!.replace(/ [;#] .*$/, '');
	}
	return records;
}

/** Texts behind their keys, in quotes as JSON has them. */
const entries = (text: string): Seen =>
	[...text.matchAll(/\/\*[^]*?\*\/|\/\/.*|=\s*("(?:[^"\\]|\\.)*"|[^;]*?)\s*;/g)].flatMap(([, value]) =>
		value === undefined ? [] : [{ value: value.startsWith('"') ? (JSON.parse(value) as string) : value }]
	);

/** Text in braces by a reader of its own. */
function braces(text: string): Seen {
	const token = /#[^\r\n]*|"((?:\\.|[^"\\])*)"|[{}]|([<>]=?|=)|[^\s{}<>="#]+/g;
	const tokens = [...text.matchAll(token)].filter(([one]) => !one.startsWith('#'));
	let at = 0;
	const body = (prefix: string, out: Record<string, string>): void => {
		while (at < tokens.length && tokens[at]![0] !== '}') {
			const name = tokens[at++]!;
			const mark = tokens[at++]!;
			const path = prefix + (mark[0] === '=' ? name[0] : text.slice(name.index, mark.index + mark[0].length));
			if (tokens[at + 1]?.[0] === '{' && tokens[at]![0] !== '{') at++;
			if (tokens[at]![0] !== '{') {
				out[path] = tokens[at]![1] ?? tokens[at]![0];
				at++;
				continue;
			}
			at++;
			if (tokens[at + 1]?.[2] !== undefined) body(`${path}.`, out);
			else
				for (let nth = 0; tokens[at]![0] !== '}'; nth++, at++)
					out[`${path}[${nth}]`] = tokens[at]![1] ?? tokens[at]![0];
			at++;
		}
	};
	const records: Seen = [];
	while (at < tokens.length) {
		at += 2;
		if (tokens[at]![0] !== '{') {
			at++;
			continue;
		}
		at++;
		const record: Record<string, string> = {};
		body('', record);
		records.push(record);
		at++;
	}
	return records;
}

function positions(text: string, layout: PositionalLayout): Seen {
	const rows = text
		.split(/\r\n|\n|\r/)
		.map((line) => line.split(layout.comments[0]!)[0]!.trim())
		.filter((line) => line !== '')
		.map((line) =>
			layout.separator === '' ? line.split(/\s+/) : line.split(layout.separator).map((cell) => cell.trim())
		);
	const body = rows.slice(layout.head.length + (layout.titled ? 1 : 0));
	const size = layout.record.length;
	return Array.from({ length: body.length / size }, (_, nth) =>
		Object.fromEntries(
			layout.record.flatMap((names, line) =>
				names.map((name, at) => [name, body[nth * size + line]![at]!] as const)
			)
		)
	);
}

/** Each format by another reader; `at` says where the records stand in formats that nest. */
export const READERS: Record<
	FormatId,
	(text: string, sample: Sample, at: string | null | undefined) => Seen
> = {
	csv: (text) => table(text, ',', '"'),
	tsv: (text) => table(text, '\t', '\u0000'),
	// This reader knows only the one mark between name and value.
	ini: (text) =>
		/^\[boat /m.test(text)
			? attributed(text)
			: Object.values(
					ini.parse(
						text
							.replace(/\r(?!\n)/g, '\n')
							.replace(/^([a-z0-9_]+):/gm, '$1 = ')
							// Nor lines that take in other files.
							.replace(/^ *(@?[A-Z][a-z]+) ["<]?([\w./ -]+?)[">]?(?= ;|\r?$)/gm, '$1 = $2')
					)
				).map((section) => flatten(section, '', {})),
	properties: (text) =>
		parseProperties(text.replace(/\r(?!\n)/g, '\n'))
			.filter((line) => Array.isArray(line))
			.map(([, value]) => ({ text: value! })),
	po: messages,
	xml: (text) => {
		const root = parseXml(text).root!;
		return root.children
			.filter((child): child is XmlElement => child.type === 'element')
			.map((child) => xmlFields(child, '', {}));
	},
	html: (text) => options(parse5.parse(text) as unknown as Node5, []),
	json: (text, _sample, at) => recordsOf(JSON.parse(text), at),
	jsonl: (text, _sample, at) =>
		recordsOf(
			text
				.split(/\r\n|\n|\r/)
				.filter((line) => line.trim() !== '')
				.map((line) => JSON.parse(line) as unknown),
			at
		),
	// All of JSON5 that is in the samples is JavaScript as well.
	json5: (text, _sample, at) => recordsOf(runInNewContext(`(${text}\n)`), at),
	js: (text, _sample, at) =>
		recordsOf(
			runInNewContext(
				`var game = {}, out = ${text.replace(/^(\/\/.*\s+)?(?:var \w+ =|export const \w+ =|export default)/, '')}\n;out`
			),
			at
		),
	yaml: (text, _sample, at) => {
		const [doc] = parseAllDocuments(text, { version: '1.2', schema: 'core' }) as {
			errors: Error[];
			toJS(): unknown;
		}[];
		if (doc!.errors[0]) throw doc!.errors[0];
		return recordsOf(doc!.toJS(), at);
	},
	toml: (text, _sample, at) => recordsOf(parseToml(text), at),
	lua: (text, _sample, at) => recordsOf(luaData(text), /^game\.add\(/m.test(text) ? '' : at),
	block: (text, { hints }) => {
		const layout = hints!.layout as BlockLayout;
		if (layout.letters) return entries(text);
		return layout.words ? braces(text) : blocks(text, layout);
	},
	positional: (text, { hints }) => positions(text, hints!.layout as PositionalLayout),
	lines: (text, { hints }) => {
		const layout = hints!.layout as { pattern: string | null };
		return text
			.split(/\r\n|\n|\r/)
			.filter((line) => line !== '' && !line.startsWith('#'))
			.map((line) =>
				layout.pattern ? { ...new RegExp(layout.pattern).exec(line)!.groups } : { text: line }
			);
	},
	stanzas: told.stanzas,
	sections: told.sections,
	tagged: (text, { hints }) => told.tagged(text, hints!.layout as TaggedLayout),
	indented: told.indented,
	outline: told.outline,
	parens: told.parens,
	groups: (text, { hints }) => told.groups(text, (hints!.layout as GroupsLayout).names)
};
