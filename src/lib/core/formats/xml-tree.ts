import { SaxesParser } from 'saxes';
import { lineAt } from '../text';
import type { startDocument } from './document';

/** One attribute; `[from, to)` is its raw value without the quotes. */
export interface Attribute {
	name: string;
	value: string;
	from: number;
	to: number;
}

/** One element with the places of its tags; `openTo` and `closeFrom` are equal when it is written `<a/>`. */
export interface Element {
	name: string;
	from: number;
	openTo: number;
	closeFrom: number;
	to: number;
	/** Whether it is written `<a/>`. */
	empty: boolean;
	attributes: Attribute[];
	children: Element[];
	text: string;
	/** Whether something else than text (a comment, an instruction) stands inside. */
	mixed: boolean;
}

/** Plain words for what the reader reports; `open` is the innermost element that is not closed yet. */
function inWords(message: string, open: { name: string; line: number } | undefined): string {
	const said = message.replace(/^\d+:\d+:\s*/, '');
	const unclosed = open
		? ` The tag <${open.name}> was opened on line ${open.line} and never closed before it.`
		: '';
	if (/unclosed tag|unexpected close tag/.test(said)) return `A closing tag does not match.${unclosed}`;
	if (/unexpected end|must contain a root|document must/.test(said))
		return `The file ends too early.${unclosed}`;
	if (/undefined entity|entity/.test(said))
		return 'A “&” begins an entity that is not known; a plain “&” is written “&amp;”.';
	if (/attribute/.test(said)) return `An attribute is not well written here: ${said.replace(/\.$/, '')}.`;
	return `Not well-formed here: ${said.replace(/\.$/, '')}.`;
}

/**
 * Reads elements with their exact places; the positions are the reader's own, only the start of a tag or value is
 * looked up backwards from them. Stops at the first fault, with all elements finished before it.
 */
export function readTree(text: string, doc: ReturnType<typeof startDocument>): Element | null {
	const parser = new SaxesParser({ position: true });
	const stack: Element[] = [];
	let root: Element | null = null;
	let attributes: Attribute[] = [];
	let faulty = false;
	parser.on('error', (error) => {
		if (faulty) return;
		faulty = true;
		const open = stack.at(-1);
		doc.problem(
			Math.max(0, Math.min(parser.position, text.length) - 1),
			inWords(error.message, open && { name: open.name, line: lineAt(doc.lines, open.from) })
		);
	});
	parser.on('opentagstart', () => {
		attributes = [];
	});
	parser.on('attribute', ({ name, value }) => {
		const to = parser.position - 1;
		const from = text.lastIndexOf(text[to]!, to - 1) + 1;
		attributes.push({ name, value, from, to });
	});
	parser.on('opentag', ({ name, isSelfClosing }) => {
		if (faulty) return;
		const openTo = parser.position;
		const first = attributes[0]?.from ?? openTo;
		const element: Element = {
			name,
			from: text.lastIndexOf('<', first - 1),
			openTo,
			closeFrom: openTo,
			to: openTo,
			empty: isSelfClosing,
			attributes,
			children: [],
			text: '',
			mixed: false
		};
		stack.at(-1)?.children.push(element);
		root ??= element;
		stack.push(element);
	});
	parser.on('closetag', () => {
		if (faulty) return;
		const element = stack.at(-1);
		if (!element) return;
		const tag = text.slice(text.lastIndexOf('<', parser.position - 1), parser.position);
		if (
			!element.empty &&
			!(tag.startsWith(`</${element.name}`) && /^\s*>$/.test(tag.slice(element.name.length + 2)))
		) {
			// The reader closes what is open for whatever closing tag comes: the fault is told here, at the tag.
			faulty = true;
			const line = lineAt(doc.lines, element.from);
			doc.problem(
				text.lastIndexOf('<', parser.position - 1),
				inWords('unexpected close tag', { name: element.name, line })
			);
			return;
		}
		stack.pop();
		element.to = parser.position;
		element.closeFrom = element.empty ? element.openTo : text.lastIndexOf('<', parser.position - 1);
	});
	const add = (chunk: string) => {
		const open = stack.at(-1);
		if (open) open.text += chunk;
	};
	parser.on('text', add);
	parser.on('cdata', add);
	const mark = () => {
		const open = stack.at(-1);
		if (open) open.mixed = true;
	};
	parser.on('comment', mark);
	parser.on('processinginstruction', mark);
	parser.write(text).close();
	// What was never closed is not a whole element: it must not be edited as one.
	for (const open of stack) {
		open.to = text.length;
		const parent = stack[stack.indexOf(open) - 1];
		if (parent) parent.children.pop();
	}
	return root;
}
