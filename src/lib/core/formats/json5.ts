// JSON5: JSON with names without quotes, texts in single quotes and numbers as JavaScript has them; and such data in a
// file of a program.
import { BARE_NAME, bareValue, LOOSE_NUMBER, reader, slashComment, syntax } from './json';
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

/** What gives a list or map to a name, or to others. */
const GIVEN =
	/(?:export\s+default|(?:export\s+)?(?:var|let|const)\s+[A-Za-z_$][\w$]*(?:\s*:[^={};]{1,200})?\s*=|[A-Za-z_$][\w$]*(?:\.[\w$]+|\[(?:"[^"\]]*"|'[^'\]]*')\])*\s*=)\s*(?=[[{])/y;

/** Where the first thing in a text begins that is no space and no commentary. */
export function begins(text: string): number {
	let at = 0;
	for (;;) {
		while (/\s/.test(text[at] ?? '')) at++;
		const end = slashComment(text, at);
		if (end < 0) return at;
		at = end;
	}
}

/** Where the value begins that is given to a name or exported; -1 where the text of a program begins with anything else. */
function valueFrom(text: string): number {
	GIVEN.lastIndex = begins(text);
	return GIVEN.test(text) ? GIVEN.lastIndex : -1;
}

/** Whether a text of a program begins by giving a list or map to a name. */
export const givesValue = (text: string): boolean => valueFrom(text) >= 0;

/** The value in the text of a program, without the name it is given to and the semicolon behind it. */
function givenIn(text: string): [from: number, to: number] {
	const end = text.trimEnd().length;
	return [Math.max(0, valueFrom(text)), text[end - 1] === ';' ? end - 1 : text.length];
}

/** A list or map in JavaScript, given to one name or exported, with nothing in it that must be worked out. */
export const given = treeFormat('js', [], reader('js', 'json5', looseSyntax, givenIn), looseSyntax, {
	nested: true
});
