// Made-up files of the formats that nest: YAML, TOML, Lua.
import fc from 'fast-check';
import { stringify } from 'yaml';
import { eols, ids, lines, value, type Sample } from './sample-parts';

const plainData = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(
			fc.oneof(value, fc.integer(), fc.boolean(), fc.constant('two\nlines'), fc.constant('12'))
		),
		fc.nat(2)
	)
	.map(([keys, fields, values, shape]) => {
		const next = () => values.next().value!;
		const own = () => fields.next().value!.filter((field: string) => field !== 'id');
		const things = keys.map((key) => ({
			id: key,
			...Object.fromEntries(own().map((field: string) => [field, next()])),
			deep: { list: [next(), next()], pairs: [{ a: next() }, { a: next() }] }
		}));
		if (shape === 0) return things;
		if (shape === 1) return { all: things };
		return Object.fromEntries(things.map(({ id, ...rest }) => [id, rest]));
	});

export const yaml: fc.Arbitrary<Sample> = fc
	.tuple(plainData, fc.nat(5), eols, fc.constantFrom(2, 4), fc.boolean())
	.map(([data, shape, eol, indent, comments]) => {
		let text = stringify(data, {
			indent,
			indentSeq: shape % 2 === 0,
			defaultStringType: shape === 3 ? 'QUOTE_SINGLE' : shape === 4 ? 'QUOTE_DOUBLE' : 'PLAIN',
			lineWidth: 0,
			...(shape === 5 ? { collectionStyle: 'flow' as const } : {})
		});
		if (comments && shape !== 5)
			text = `# of all\n\n${text.replace(/^( *)deep:/gm, '$1# about it\n$1deep: # behind').replace(/^(.*: \d+)$/gm, '$1 # said')}`;
		if (shape === 1) text = `---\n${text}...\n`;
		return { format: 'yaml' as const, path: 'data/some.yaml', text: text.replaceAll('\n', eol) };
	});

function tomlText(text: string, shape: number): string {
	if (shape === 0 && !/['\n]/.test(text)) return `'${text}'`;
	if (shape === 1 && !/["\\]/.test(text)) return `"""\n${text}"""`;
	return `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n')}"`;
}

export const toml: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(value),
		fc.infiniteStream(fc.nat(6)),
		fc.boolean(),
		fc.constantFrom('\n', '\r\n'),
		fc.boolean()
	)
	.map(([keys, fields, values, shapes, list, eol, final]) => {
		const pair = (field: string, nth: number): string => {
			const shape = shapes.next().value!;
			if (shape === 3) return `${field} = ${nth * 7 - 3}  # said behind`;
			if (shape === 4) return `${field}=[ 1_000, 0x1F, 3.50, ] `;
			if (shape === 5) return `"${field}" = { a = true, b = ${tomlText(values.next().value!, 2)} }`;
			if (shape === 6) return `${field} = 1979-05-27 07:32:00Z`;
			return `${field} = ${tomlText(values.next().value!, shape)}`;
		};
		const rows = keys.flatMap((key, at) => {
			const taken = new Set(['id', 'sub', 'many']);
			const pairs = fields
				.next()
				.value!.filter((field: string) => !taken.has(field))
				.map((field: string) => pair(field, at));
			const about = shapes.next().value! === 0 ? ['# about the next one'] : [];
			const head = list ? 'thing' : key;
			const body = list ? ['[[thing]]', `id = "${key}"`, ...pairs] : [`[${key}]`, ...pairs];
			const below = shapes.next().value! === 0 ? [`[${head}.sub]`, 'x = 1', `[[${head}.many]]`, 'y = 2'] : [];
			return [...(at > 0 ? [''] : []), ...about, ...body, ...below];
		});
		return { format: 'toml' as const, path: 'data/some.toml', text: lines(rows, eol, final) };
	});

function luaText(text: string, shape: number): string {
	if (shape === 0 && !/\]$|\]=?\]/.test(text)) return `[[${text}]]`;
	if (shape === 1) return `'${text.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}'`;
	return `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"')}"`;
}

const LUA_WORDS =
	'and break do else elseif end false for function goto if in local nil not or repeat return then true until while';

export const lua: fc.Arbitrary<Sample> = fc
	.tuple(
		ids(),
		fc.infiniteStream(ids()),
		fc.infiniteStream(value),
		fc.infiniteStream(fc.nat(6)),
		fc.nat(3),
		eols
	)
	.map(([keys, fields, values, shapes, shape, eol]) => {
		const words = LUA_WORDS.split(' ');
		const pair = (field: string): string => {
			const form = shapes.next().value!;
			if (form === 3)
				return `\t\t${field} = ${['12', '-0.50', '0xFF', '1e3'][field.length % 4]}, -- said behind`;
			if (form === 4) return `\t\t["${field}"] = { 1, 2; "three" },`;
			if (form === 5) return `\t\t${field} = function(a) if a then return "}" end end;`;
			if (form === 6 && field.length % 2)
				return `\t\t${field} = ${field.length % 4 === 1 ? '_("A text")' : "_ 'Another'"},`;
			if (form === 6) return `\t\t${field} = { x = true, y = nil },`;
			return `\t\t${field} = ${luaText(values.next().value!, form)},`;
		};
		const rows = keys.flatMap((key) => {
			const own = fields.next().value!.filter((field: string) => field !== 'id' && !words.includes(field));
			const about = shapes.next().value! === 0 ? ['\t-- about the next one'] : [];
			const head = words.includes(key) ? `["${key}"]` : key;
			const id = shape === 0 ? [`\t\tid = "${key}",`] : [];
			if (shape === 3) {
				const open = shapes.next().value! === 0 ? `game.add('${key}',{` : `game.add("${key}", {`;
				const close = shapes.next().value! === 0 ? '}, 3) -- said behind' : '})';
				return [...about, open, ...own.map(pair), '\t\tlast = true', close];
			}
			return [...about, shape === 0 ? '\t{' : `\t${head} = {`, ...id, ...own.map(pair), '\t},'];
		});
		if (shape === 3)
			return {
				format: 'lua' as const,
				path: 'data/some.lua',
				text: lines(['local S = game.words("some")', '', ...rows], eol, true),
				hints: { element: 'game.add' }
			};
		const head =
			shape === 1 ? ['return {'] : ['--[[ all', 'of them ]]', 'local function f(x) return x end', 'data = {'];
		return {
			format: 'lua' as const,
			path: 'data/some.lua',
			text: lines([...head, ...rows, '}'], eol, true),
			// Records as unlike each other as these are told by a guide only.
			hints: { at: '' }
		};
	});
