// The parsers that each format is measured against: they give values and no places.
import { parse as parseDotProperties } from 'dot-properties';
// @ts-expect-error: this package brings no types
import gettext from 'gettext-parser';
import ini from 'ini';
import luaparse from 'luaparse';
import papaparse from 'papaparse';
import * as parse5 from 'parse5';
import { SaxesParser } from 'saxes';
import { parse as parseToml } from 'smol-toml';
import { inferSchema, initParser } from 'udsv';
import { parseDocument } from 'yaml';
import type { FormatId } from '$core/formats';

export interface Reference {
	name: string;
	parse: (text: string) => unknown;
	/** Largest file in MB that it is given: the slow ones would take minutes and all memory. */
	most: number;
}

const udsv: Reference = {
	name: 'udsv',
	parse: (text) => initParser(inferSchema(text)).stringArrs(text),
	most: 100
};
const papa: Reference = { name: 'papaparse', parse: (text) => papaparse.parse(text).data, most: 100 };

function saxes(text: string): unknown {
	const parser = new SaxesParser();
	let count = 0;
	parser.on('opentag', () => count++);
	parser.on('text', () => count++);
	parser.write(text).close();
	return count;
}

/** Block text without places, for want of a library: names, values, nesting. */
function blocks(text: string): unknown {
	const root: Record<string, unknown> = {};
	const stack = [root];
	for (const line of text.split('\n')) {
		const bare = line.split(' #')[0]!.trim();
		if (bare === '') continue;
		if (bare === '}') stack.pop();
		else if (bare.endsWith('{')) {
			const inner: Record<string, unknown> = {};
			stack.at(-1)![bare.slice(0, -1).trim()] = inner;
			stack.push(inner);
		} else {
			const [name, value] = bare.split(/\s*=\s*/, 2);
			stack.at(-1)![name!] = value!.startsWith('"') ? value!.slice(1, -1) : value;
		}
	}
	return root;
}

/** Rows of values, for want of a library. */
const rows = (text: string) =>
	text
		.split('\n')
		.map((line) => line.split('#')[0]!.trim())
		.filter((line) => line !== '')
		.map((line) => line.split(/\s+/));

const matched = (text: string) => {
	const pattern = /^(?<id>\S+) -> (?<hull>\S+)$/;
	return text.split('\n').map((line) => pattern.exec(line)?.groups);
};

const byLine: Reference = { name: 'split by lines', parse: rows, most: 100 };

/** The fastest common parser without places comes first; all are run, and the fastest of them counts. */
export const REFERENCES: Record<FormatId, Reference[]> = {
	csv: [udsv, papa],
	tsv: [udsv, papa],
	json: [{ name: 'JSON.parse', parse: (text) => JSON.parse(text) as unknown, most: 100 }],
	xml: [{ name: 'saxes', parse: saxes, most: 100 }],
	html: [{ name: 'parse5', parse: (text) => parse5.parse(text), most: 10 }],
	yaml: [{ name: 'yaml', parse: (text) => parseDocument(text), most: 10 }],
	toml: [{ name: 'smol-toml', parse: (text) => parseToml(text), most: 10 }],
	ini: [{ name: 'ini', parse: (text) => ini.parse(text), most: 100 }],
	properties: [{ name: 'dot-properties', parse: (text) => parseDotProperties(text), most: 100 }],
	po: [
		{
			name: 'gettext-parser',
			parse: (text) => (gettext as { po: { parse(text: string): unknown } }).po.parse(text),
			most: 10
		}
	],
	lua: [{ name: 'luaparse', parse: (text) => luaparse.parse(text, { comments: false }), most: 10 }],
	block: [{ name: 'split by lines', parse: blocks, most: 100 }],
	positional: [byLine],
	jsonl: [
		{
			name: 'JSON.parse by lines',
			parse: (text) => text.split('\n').flatMap((line) => (line === '' ? [] : [JSON.parse(line) as unknown])),
			most: 100
		}
	],
	// No parser of these is among our packages.
	json5: [byLine],
	js: [byLine],
	stanzas: [byLine],
	sections: [byLine],
	tagged: [byLine],
	indented: [byLine],
	outline: [byLine],
	parens: [byLine],
	groups: [byLine],
	lines: [{ name: 'match by lines', parse: matched, most: 100 }]
};
