// Made-up files of every format, for the laws that all of them must keep.
import fc from 'fast-check';
import type { FormatId } from '$core/formats';
import { eols, escapeXml, ids, lines, value, type Sample } from './sample-parts';
import { lua, toml, yaml } from './samples-data';
import { blockText, blockValue, html, po, positional, textLines } from './samples-own';
import { groups, indented, outline, parens, sections, tagged, toldValue } from './samples-told';

export type { Sample };
export { value };

const table = (format: 'csv' | 'tsv', separator: string): fc.Arbitrary<Sample> =>
	fc
		.tuple(ids(), ids(2), eols, fc.boolean(), fc.infiniteStream(value), fc.infiniteStream(fc.boolean()))
		.map(([keys, columns, eol, final, values, quotes]) => {
			const cell = () => {
				const text = values.next().value!;
				const quoted =
					format === 'csv' && (quotes.next().value! || text.includes(separator) || text.includes('"'));
				return quoted ? `"${text.replaceAll('"', '""')}"` : text;
			};
			const head = ['id', ...columns.filter((column) => !['id', 'key', 'name'].includes(column))];
			const rows = keys.map((key) => [key, ...head.slice(1).map(cell)].join(separator));
			return {
				format,
				path: `data/table.${format}`,
				text: lines([head.join(separator), ...rows], eol, final)
			};
		});

const iniValue = value.filter((text) => !/(^|\s)[;#]/.test(text) && !/^(["']).*\1$/.test(text));

/** Sections that are named by a value in their brackets. */
const iniAttributes: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(iniValue),
		fc.infiniteStream(fc.nat(4)),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, eol, final]) => {
		const rows = keys.flatMap((key) => [
			...(shapes.next().value! === 0 ? ['; about the next one'] : []),
			`[boat id="${key}"${shapes.next().value! === 0 ? ' crew=4' : ''} home="the old quay"]`,
			...fields
				.next()
				.value!.filter((field: string) => !/^(?:id|crew|home)$/.test(field))
				.map((field: string) => `${field} = ${values.next().value!}`),
			'last = yes'
		]);
		return { format: 'ini' as const, path: 'data/list.ini', text: lines(rows, eol, final) };
	});

/** Lines that take in other files. */
const TAKEN = [
	'Include "more boats.cfg"',
	'@Use <parts/keel.h>',
	'Import quays.ini ; the old ones',
	'  Exec x.y'
];

const iniSections: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(iniValue),
		fc.infiniteStream(fc.nat(4)),
		eols,
		fc.boolean()
	)
	.map(([sections, fields, values, shapes, eol, final]) => {
		const rows = sections.flatMap((section, at) => [
			...(at > 0 && shapes.next().value! > 0 ? [''] : []),
			...(shapes.next().value! === 0 ? ['; about the next one'] : []),
			`[${section}]`,
			...fields.next().value!.map((field: string) => {
				const shape = shapes.next().value!;
				return `${field}${['=', ' = ', ': ', '   = ', ' ='][shape]}${values.next().value!}${shape === 3 ? ' ; said behind' : ''}`;
			}),
			...TAKEN.slice(shapes.next().value!)
		]);
		return { format: 'ini' as const, path: 'data/list.ini', text: lines(rows, eol, final) };
	});

const xml: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(value),
		fc.infiniteStream(fc.nat(3)),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, eol, final]) => {
		const rows = keys.flatMap((key) => {
			const attributes = fields
				.next()
				.value!.filter((field: string) => field !== 'id')
				.map((field: string) => ` ${field}="${escapeXml(values.next().value!)}"`)
				.join('');
			const about = shapes.next().value! === 0 ? ['\t<!-- what is said of it -->'] : [];
			if (shapes.next().value! === 0) return [...about, `\t<piece id="${key}"${attributes} />`];
			return [
				...about,
				`\t<piece id="${key}"${attributes}>`,
				`\t\t<effect on="${escapeXml(values.next().value!)}" add='${shapes.next().value!}'/>`,
				`\t\t<about>${escapeXml(values.next().value!)}</about>`,
				...['calm', 'bold'].map(
					(trait) => `\t\t<trait name="${trait}" value="${escapeXml(values.next().value!)}"/>`
				),
				'\t</piece>'
			];
		});
		const head = ['<?xml version="1.0"?>', '<!-- all of them -->', '<gear slot="x">'];
		return {
			format: 'xml' as const,
			path: 'data/gear.xml',
			text: lines([...head, ...rows, '</gear>'], eol, final)
		};
	});

const properties: fc.Arbitrary<Sample> = fc
	.tuple(ids(), fc.infiniteStream(value), fc.infiniteStream(fc.nat(4)), eols, fc.boolean())
	.map(([keys, values, shapes, eol, final]) => {
		const rows = keys.flatMap((key) => {
			const shape = shapes.next().value!;
			const text = values
				.next()
				.value!.replaceAll('\\', '\\\\')
				.replace(/^[=:]+/, '');
			const mark = ['=', ' = ', ': ', '=', '\t=\t'][shape]!;
			return [
				...(shape === 3 ? ['# about the next one'] : []),
				...(shape === 4 ? [''] : []),
				`${key}${mark}${text}${shape === 1 ? `\\${eol}  and on` : ''}`
			];
		});
		return { format: 'properties' as const, path: 'words/en/some.properties', text: lines(rows, eol, final) };
	});

const json: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(fc.oneof(value, fc.integer(), fc.boolean(), fc.constant(null))),
		fc.nat(3),
		eols
	)
	.map(([keys, fields, values, shape, eol]) => {
		// What stands under names is told from one thing with parts by being alike.
		const common = fields.next().value!;
		const objects = keys.map((key) => {
			const own = (shape > 1 ? common : fields.next().value!).filter((field: string) => field !== 'id');
			return [key, Object.fromEntries(own.map((field: string) => [field, values.next().value!]))] as const;
		});
		const list = objects.map(([id, rest]) => ({ id, ...rest }));
		const data =
			shape === 0
				? list
				: shape === 1
					? { all: list }
					: Object.fromEntries(objects.map(([key, rest]) => [key, { ...rest, of: { x: 1 } }]));
		return {
			format: 'json' as const,
			path: 'data/some.json',
			text: JSON.stringify(data, null, '\t').replaceAll('\n', eol)
		};
	});

const jsonl: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(fc.oneof(value, fc.integer(), fc.boolean(), fc.constant(null))),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, eol, final]) => {
		const rows = keys.map((id) => {
			const own = fields.next().value!.filter((field: string) => field !== 'id');
			const rest = Object.fromEntries(own.map((field: string) => [field, values.next().value!]));
			return JSON.stringify({ id, ...rest, of: { x: 1, all: [1, 2] } });
		});
		return { format: 'jsonl' as const, path: 'data/some.jsonl', text: lines(rows, eol, final) };
	});

const json5: fc.Arbitrary<Sample> = fc
	.tuple(ids(), fc.infiniteStream(ids()), fc.infiniteStream(value), fc.infiniteStream(fc.nat(5)), eols)
	.map(([keys, fields, values, shapes, eol]) => {
		const name = (text: string) => (/^[A-Za-z_]\w*$/.test(text) ? text : `'${text}'`);
		const single = (text: string) =>
			`'${text.replaceAll('\\', '\\\\').replaceAll("'", "\\'").replaceAll('\t', '\\t')}'`;
		const written = () => {
			const shape = shapes.next().value!;
			if (shape > 2) return [`0x1F`, '.5', '-3'][shape - 3]!;
			return shape === 0 ? JSON.stringify(values.next().value!) : single(values.next().value!);
		};
		const common = fields.next().value!;
		const rows = keys.flatMap((key) => [
			...(shapes.next().value! === 0 ? ['\t// about the next one'] : []),
			`\t${name(key)}: {`,
			...common.map((field: string) => `\t\t${name(field)}: ${written()}, // said behind`),
			`\t\tof: { x: [${written()}, ${written()},], },`,
			'\t},'
		]);
		return { format: 'json5' as const, path: 'data/some.json5', text: lines(['{', ...rows, '}'], eol, true) };
	});

/** JSON5 that a program gives to a name. */
const given: fc.Arbitrary<Sample> = fc
	.tuple(
		json5,
		fc.constantFrom(
			'var Things = ',
			'// all of them\nexport const things = ',
			'game.things = ',
			'export default '
		),
		fc.constantFrom('', ';', ';\n')
	)
	.map(([{ text }, head, tail]) => ({
		format: 'js' as const,
		path: 'data/some.js',
		text: head.replaceAll('\n', /\r\n|\n|\r/.exec(text)![0]) + text.trimEnd() + tail,
		hints: { format: 'js' }
	}));

/** Records of lines with an equals sign that lines of dashes part, or of which each begins with the same name. */
const partedStanzas: fc.Arbitrary<Sample> = fc
	.tuple(
		fc.uniqueArray(fc.stringMatching(/^[a-z][a-z0-9_]{0,7}$/), { minLength: 4, maxLength: 7 }),
		fc.infiniteStream(ids()),
		fc.infiniteStream(value.filter((text) => !/[=:]/.test(text))),
		fc.infiniteStream(fc.nat(3)),
		fc.boolean(),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, dashes, eol, final]) => {
		const mark = dashes ? '=' : ':';
		const rows = keys.flatMap((key, at) => [
			...(dashes && at > 0 ? ['-----'] : []),
			...(shapes.next().value! === 0 ? ['# about the next one'] : []),
			`id${mark}${key}`,
			...fields
				.next()
				.value!.filter((field: string) => field !== 'id')
				.map((field: string) => `${field}${mark}${values.next().value!}`),
			`last${mark}yes`
		]);
		return { format: 'stanzas' as const, path: 'data/list.stanzas', text: lines(rows, eol, final) };
	});

const plainStanzas: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(value),
		fc.infiniteStream(fc.nat(3)),
		eols,
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, eol, final]) => {
		const rows = keys.flatMap((key, at) => [
			...(at > 0 ? Array.from({ length: 1 + (shapes.next().value! === 0 ? 1 : 0) }, () => '') : []),
			...(shapes.next().value! === 0 ? ['# about the next one'] : []),
			`id: ${key}`,
			...fields
				.next()
				.value!.filter((field: string) => field !== 'id')
				.map(
					(field: string) => `${field}:${[' ', '', '  '][shapes.next().value! % 3]}${values.next().value!}`
				)
		]);
		return { format: 'stanzas' as const, path: 'data/list.stanzas', text: lines(rows, eol, final) };
	});

const stanzas = fc.oneof({ arbitrary: plainStanzas, weight: 2 }, { arbitrary: partedStanzas, weight: 1 });

/** A file of each format, by its name. */
export const SAMPLES: Record<FormatId, fc.Arbitrary<Sample>> = {
	tsv: table('tsv', '\t'),
	csv: table('csv', ','),
	ini: fc.oneof({ arbitrary: iniSections, weight: 3 }, { arbitrary: iniAttributes, weight: 1 }),
	xml,
	properties,
	json,
	jsonl,
	json5,
	js: given,
	html,
	po,
	yaml,
	toml,
	lua,
	block: blockText,
	positional,
	lines: textLines,
	stanzas,
	sections,
	tagged,
	indented,
	outline,
	parens,
	groups
};

/** A value that a field of the format can hold. */
export const VALUES: Record<FormatId, fc.Arbitrary<string>> = {
	tsv: value,
	csv: fc.oneof(value, fc.constantFrom('a,b', 'say "no"', 'two\nlines', '"')),
	ini: iniValue,
	xml: fc.oneof(value, fc.constantFrom('a < b & c', '"quoted" \'twice\'', 'two\nlines')),
	properties: fc.oneof(value, fc.constantFrom('two\nlines', ' leads', 'back\\slash', 'tab\there')),
	json: fc.oneof(value, fc.constantFrom('two\nlines', '"', '12', 'true')),
	jsonl: fc.oneof(value, fc.constantFrom('two\nlines', '"', '12', 'true')),
	json5: fc.oneof(value, fc.constantFrom('two\nlines', '"', "it's", '12', 'true', 'back\\slash')),
	js: fc.oneof(value, fc.constantFrom('two\nlines', '"', "it's", '12', 'true', 'back\\slash')),
	html: fc.oneof(
		value.filter((text) => text !== ''),
		fc.constantFrom('a < b & c', '"quoted" \'twice\'')
	),
	po: fc.oneof(value, fc.constantFrom('two\nlines', '"', 'tab\there', 'back\\slash')),
	yaml: fc.oneof(
		value,
		fc.constantFrom(
			'two\nlines',
			'"',
			'12',
			'true',
			'null',
			'- x',
			'a: b',
			'x #y',
			'',
			'~',
			'#',
			'007',
			'last\n'
		)
	),
	toml: fc.oneof(value, fc.constantFrom('two\nlines', '"', '12', 'true', "it's", 'back\\slash', "''" + "'")),
	lua: fc.oneof(
		value,
		fc.constantFrom('two\nlines', '"', '12', 'true', 'a]]b', 'x]', 'back\\slash', '\u0000' + '1')
	),
	block: blockValue,
	positional: fc.stringMatching(/^[a-z0-9.äツ-]{1,6}$/),
	lines: fc.stringMatching(/^[a-z0-9äツ]{1,6}$/),
	stanzas: value,
	sections: toldValue,
	tagged: toldValue,
	indented: toldValue,
	outline: toldValue,
	parens: fc.oneof(
		toldValue,
		fc.constantFrom('two words', '"', 'back\\slash', 'two\nlines', '(', ';', '\t', '', '.')
	),
	groups: toldValue
};
