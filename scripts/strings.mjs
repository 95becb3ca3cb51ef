// Every sentence that the product can say, one a line with its place: what pages show, and what messages, snags, the
// command and errors are made of. `node scripts/strings.mjs` prints the list; it is read aloud when words change.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { argv } from 'node:process';
import { pathToFileURL } from 'node:url';
import { parse } from 'svelte/compiler';
import ts from 'typescript';

/** Attributes of elements and parts that people read or hear. */
const READ = /^(title|label|aria-label|placeholder|alt|heading|empty|said|hint|caption|text|words)$/;

const CLASSES =
	/(^|\s)(flex|grid|[pm][xytblr]?-\d|[wh]-\d|min-w-0|truncate|text-\[|rounded|border-|bg-|hover:)(\s|\d|$|[a-z]+)/;
const QUERY =
	/^\s*(select|insert into|update|delete from|create|alter|drop|lock|set|with|from|where|copy) .*[_(=$]/s;

/** Whether a text is said to people, and not the name of a class, a query or a key. @param {string} text */
const isSaid = (text) =>
	/\p{L}{2}/u.test(text) &&
	(/^\p{Lu}\p{Ll}+[.!?…]?$/u.test(text.trim()) || /\p{L}[,.:;)”"’]? [(“"‘]?\p{L}/u.test(text)) &&
	!CLASSES.test(text) &&
	!QUERY.test(text);

/** A template with `…` for what is put in. @param {ts.TemplateLiteral} node */
const templateText = (node) =>
	ts.isNoSubstitutionTemplateLiteral(node)
		? node.text
		: node.head.text + node.templateSpans.map(({ literal }) => `{…}${literal.text}`).join('');

/** The sentences in a script. @param {string} text @param {number} firstLine @returns {Generator<[number, string, boolean?]>} */
function* inScript(text, firstLine) {
	const source = ts.createSourceFile('a.ts', text, ts.ScriptTarget.Latest, true);
	/** @type {[ts.Node, string][]} */
	const found = [];
	/** @param {ts.Node} node */
	const visit = (node) => {
		const skipped =
			ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isLiteralTypeNode(node);
		if (skipped) return;
		if (ts.isStringLiteral(node)) found.push([node, node.text]);
		else if (ts.isTemplateExpression(node) || ts.isNoSubstitutionTemplateLiteral(node))
			found.push([node, templateText(node)]);
		ts.forEachChild(node, visit);
	};
	visit(source);
	for (const [node, said] of found)
		yield [firstLine + source.getLineAndCharacterOfPosition(node.getStart(source)).line, said];
}

/** @param {string} text @param {number} at */
const lineOf = (text, at) => text.slice(0, at).split('\n').length;

/** The sentences in a part of a page. @param {string} text @returns {Generator<[number, string, boolean?]>} */
function* inPage(text) {
	// The tree of a page has more sorts of nodes than are of interest here.
	const { fragment, instance, module } = /** @type {any} */ (parse(text, { modern: true }));
	for (const script of [instance, module])
		if (script)
			yield* inScript(
				text.slice(script.content.start, script.content.end),
				lineOf(text, script.content.start)
			);
	/** @type {any[]} */
	const stack = [fragment];
	while (stack.length > 0) {
		const node = stack.pop();
		if (node.type === 'Text') yield [lineOf(text, node.start), node.data, true];
		else if (node.type === 'Attribute') {
			for (const part of Array.isArray(node.value) ? node.value : [node.value])
				if (part.type === 'Text' && READ.test(node.name)) yield [lineOf(text, part.start), part.data, true];
				else if (part.type === 'ExpressionTag' && node.name !== 'class')
					yield* inScript(
						`(${text.slice(part.expression.start, part.expression.end)})`,
						lineOf(text, part.start)
					);
			continue;
		} else if (node.type === 'ExpressionTag')
			yield* inScript(
				`(${text.slice(node.expression.start, node.expression.end)})`,
				lineOf(text, node.start)
			);
		for (const value of Object.values(node))
			if (Array.isArray(value)) stack.push(...value.filter((one) => one?.type));
			else if (value?.type && value.type !== 'Identifier' && typeof value === 'object') stack.push(value);
	}
}

/** All sentences below some folders: place, line and text. @param {string} root */
export function strings(root, folders = ['src', 'cli']) {
	const all = [];
	for (const folder of folders)
		for (const name of readdirSync(join(root, folder), { recursive: true }).map(String).sort()) {
			const path = join(folder, name);
			const isPage = path.endsWith('.svelte');
			if (!isPage && !path.endsWith('.ts')) continue;
			const text = readFileSync(join(root, path), 'utf8');
			for (const [line, said, shown] of isPage ? inPage(text) : inScript(text, 1)) {
				const plain = said.replace(/\s+/g, ' ').trim();
				if (shown ? /\p{L}{2}/u.test(plain) : isSaid(plain)) all.push({ path, line, text: plain });
			}
		}
	return all;
}

if (argv[1] && import.meta.url === pathToFileURL(argv[1]).href)
	for (const { path, line, text } of strings(join(import.meta.dirname, '..')))
		console.log(`${path}:${line}\t${text}`);
