// How a file can be read, in words.
import {
	blockLayout,
	groupsLayout,
	linesLayout,
	positionalLayout,
	taggedLayout,
	type PackedLayout
} from '$core/formats';
import type { ReadHow } from '$core/infer';
import { counted } from '$core/wording';

const NAMES: Record<string, string> = {
	json: 'JSON',
	jsonl: 'JSON Lines',
	json5: 'JSON5',
	js: 'JavaScript data',
	xml: 'XML',
	html: 'HTML',
	yaml: 'YAML',
	toml: 'TOML',
	lua: 'Lua tables',
	ini: 'Sections with name = value',
	sections: 'Sections that may repeat, with texts and tables in values',
	stanzas: 'Paragraphs of name: value',
	indented: 'Blocks by indentation',
	outline: 'Outlines by indentation',
	parens: 'Lists in parentheses',
	properties: 'Lines of key = value',
	po: 'Messages with translations',
	csv: 'A table',
	tsv: 'A table with tabs',
	tagged: 'Lines that begin with a tag',
	block: 'Blocks in brackets',
	positional: 'Lines of values by position',
	groups: 'Groups of lines',
	lines: 'One record a line',
	packed: 'A packed table: rows of bytes'
};

const MARKS: Record<string, string> = {
	',': 'commas',
	';': 'semicolons',
	'\t': 'tabs',
	'|': 'bars',
	':': 'colons'
};

/** A way of reading in words: `A table with semicolons`. */
export function nameOfHow({ format, layout, separator }: ReadHow): string {
	const name = NAMES[format ?? layout?.shape ?? ''] ?? format ?? 'Text';
	if (separator !== undefined) return `${name} with ${MARKS[separator] ?? `“${separator}”`}`;
	if (layout?.shape === 'block' && /\w/.test(layout.close)) return `Blocks up to “${layout.close}”`;
	if (layout?.shape === 'block')
		return `${name}, ${layout.assign === '' ? 'name value' : `name ${layout.assign} value`}`;
	if (layout?.shape === 'tagged') return `${name}; ${layout.first} begins a record`;
	if (layout?.shape === 'packed') return packedInWords(layout);
	return name;
}

/** A layout of bytes in words: `Rows of 14 bytes, with texts that they point at`. */
function packedInWords({ tables, pools }: PackedLayout): string {
	const [table] = tables;
	if (tables.length > 1) return `${counted(tables.length, 'table')} of rows of bytes`;
	const length =
		table!.length ??
		table!.fields.reduce(
			(sum, { as, length: own, times }) => sum + (times ?? 1) * (own ?? Number(as.slice(1)) / 8),
			0
		);
	return `Rows of ${counted(length, 'byte')}${pools.length > 0 ? ', with values that they point at' : ''}`;
}

/** Ways whose details people fill in. */
export const OTHERS: ReadHow[] = [
	{ format: 'lines', layout: linesLayout.parse({ shape: 'lines' }) },
	{ format: 'positional', layout: positionalLayout.parse({ shape: 'positional' }) },
	{ format: 'block', layout: blockLayout.parse({ shape: 'block' }) },
	{ format: 'tagged', layout: taggedLayout.parse({ shape: 'tagged' }) },
	{ format: 'groups', layout: groupsLayout.parse({ shape: 'groups' }) },
	{ format: 'csv', separator: ',' },
	{ format: 'yaml' },
	{ format: 'ini' }
];
