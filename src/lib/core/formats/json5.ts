// JSON5: JSON with names without quotes, texts in single quotes and numbers as JavaScript has them.
import { BARE_NAME, bareValue, LOOSE_NUMBER, reader, syntax } from './json';
import { TEXT } from './tape';
import type { Syntax } from './tree';
import { treeFormat } from './tree-format';

/** A text in quotes of either sort, with the escapes of JSON5. */
function looseText(raw: string): string {
	if (raw.startsWith('"') && !raw.includes('\\')) return raw.slice(1, -1);
	return raw.slice(1, -1).replace(ESCAPED, (_, code: string) => {
		if (/^[ux]/.test(code)) return String.fromCharCode(parseInt(code.slice(1), 16));
		return (
			{ b: '\b', f: '\f', n: '\n', r: '\r', t: '\t', v: '\v', '0': '\0' }[code] ?? code.replace(/^\r?\n/, '')
		);
	});
}

const ESCAPED = /\\(u[\da-fA-F]{4}|x[\da-fA-F]{2}|\r\n|[^])/g;

/** A text in the quotes that another one has. */
const looseQuoted = (value: string, like: string): string =>
	like.startsWith("'")
		? `'${JSON.stringify(value).slice(1, -1).replaceAll('\\"', '"').replaceAll("'", "\\'")}'`
		: JSON.stringify(value);

const looseName = (raw: string) => (/^["']/.test(raw) ? looseText(raw) : raw);

const looseSyntax: Syntax = {
	...syntax,
	name: ({ tape, content: text }, node) => looseName(text.slice(tape.keyFrom(node), tape.keyTo(node))),
	value(doc, node) {
		const raw = doc.content.slice(doc.tape.from(node), doc.tape.to(node));
		if (doc.tape.kind(node) === TEXT) return looseText(raw);
		const value = bareValue(raw);
		return typeof value === 'number' && !Number.isFinite(value) ? raw : value;
	},
	writeName: (_doc, name, like) =>
		!/^["']/.test(like) && BARE_NAME.test(name) ? name : looseQuoted(name, like),
	writeValue(doc, node, value, container) {
		if (node < 0 || doc.tape.kind(node) !== TEXT) {
			return LOOSE_NUMBER.test(value) ? value : syntax.writeValue(doc, node, value, container);
		}
		return looseQuoted(value, doc.content.slice(doc.tape.from(node), doc.tape.to(node)));
	}
};

/** JSON5: JSON with names without quotes, texts in single quotes and numbers as JavaScript has them. */
export const json5 = treeFormat('json5', ['json5'], reader('json5', 'json5', looseSyntax), looseSyntax, {
	nested: true
});
