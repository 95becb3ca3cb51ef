import { startDocument, type TextDocument, type OpenDocument, type ReadHints } from './document';
import { markup, RUN, unescape } from './markup';
import { itemsOf, MAP, TEXT } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';

const TAG = /^<\/?([A-Za-z][A-Za-z0-9-]*)/;
const SPACE = /\s/;
const isSpace = (code: number) => code === 32 || code === 10 || code === 13 || code === 9 || code === 12;
/** Elements whose text is no markup. */
const RAW = new Set(['script', 'style', 'textarea', 'title']);
const LISTS = new Set(['select', 'datalist']);

/** Attributes of the tag whose name ends at `at`, onto the tape when `keep`. Returns the place behind its `>`. */
function attributes(doc: OpenDocument, at: number, keep: boolean): number {
	const { content: text, tape } = doc;
	const length = text.length;
	for (;;) {
		while (at < length && (isSpace(text.charCodeAt(at)) || text[at] === '/')) at++;
		if (at >= length) return length;
		if (text[at] === '>') return at + 1;
		const keyFrom = at;
		while (
			at < length &&
			!isSpace(text.charCodeAt(at)) &&
			text[at] !== '=' &&
			text[at] !== '>' &&
			text[at] !== '/'
		)
			at++;
		if (at === keyFrom) {
			at++;
			continue;
		}
		const keyTo = at;
		while (at < length && isSpace(text.charCodeAt(at))) at++;
		if (text[at] !== '=') {
			if (keep) tape.leaf(TEXT, keyFrom, keyTo, keyTo, keyTo);
			continue;
		}
		at++;
		while (at < length && isSpace(text.charCodeAt(at))) at++;
		const quote = text[at];
		if (quote === '"' || quote === "'") {
			const end = text.indexOf(quote, at + 1);
			if (end < 0) {
				doc.problem(at, 'The quote that opens this value is never closed.');
				return length;
			}
			if (keep) tape.leaf(TEXT, keyFrom, keyTo, at + 1, end);
			at = end + 1;
		} else {
			const from = at;
			while (at < length && !isSpace(text.charCodeAt(at)) && text[at] !== '>') at++;
			if (keep) tape.leaf(TEXT, keyFrom, keyTo, from, at);
		}
	}
}

interface Open {
	node: number;
	name: string;
	textFrom: number;
	/** Where the text ended before the element did: at commentary. */
	textTo?: number;
}

function scan(doc: OpenDocument): number {
	const { content: text, tape } = doc;
	const root = tape.open(MAP, -1, -1, 0);
	let list: Open | null = null;
	let option: Open | null = null;
	const endOption = (at: number, to: number) => {
		if (!option) return;
		let from = option.textFrom;
		let end = option.textTo ?? at;
		while (from < end && SPACE.test(text[from]!)) from++;
		while (end > from && SPACE.test(text[end - 1]!)) end--;
		tape.leaf(RUN, -1, -1, from, end);
		tape.close(option.node, to === at ? Math.max(end, option.textFrom) : to);
		option = null;
	};
	const endList = (at: number, to: number) => {
		endOption(at, at);
		if (list) tape.close(list.node, to);
		list = null;
	};
	for (let at = text.indexOf('<'); at >= 0 && at < text.length;) {
		if (text.startsWith('<!--', at)) {
			const end = text.indexOf('-->', at + 4);
			if (end < 0) doc.problem(at, 'This comment is never closed by “-->”.');
			const to = end < 0 ? text.length : end + 3;
			tape.remark(at, to);
			if (option) (option as Open).textTo ??= at;
			at = text.indexOf('<', to);
			continue;
		}
		const tag = TAG.exec(text.slice(at, at + 60));
		if (!tag) {
			at = text.indexOf('<', at + 1);
			continue;
		}
		const name = tag[1]!.toLowerCase();
		const closes = text[at + 1] === '/';
		const keyTo = at + tag[0].length;
		if (!closes && (LISTS.has(name) || name === 'option')) {
			if (name === 'option') {
				endOption(at, at);
				option = { node: tape.open(MAP, at + 1, keyTo, at), name, textFrom: 0 };
				option.textFrom = attributes(doc, keyTo, true);
				at = option.textFrom;
			} else {
				if (list) {
					doc.problem(
						at,
						`A <${name}> is inside the <${(list as Open).name}> above, which was never closed.`
					);
					endList(at, at);
				}
				list = { node: tape.open(MAP, at + 1, keyTo, at), name, textFrom: 0 };
				at = attributes(doc, keyTo, false);
			}
		} else {
			const to = attributes(doc, keyTo, false);
			if (closes && name === 'option') endOption(at, to);
			else if (closes && list && name === (list as Open).name) endList(at, to);
			else if (option && name === 'optgroup') endOption(at, at);
			at = to;
			if (!closes && RAW.has(name)) {
				const end = text.slice(to).search(new RegExp(`</${name}[\\s>/]`, 'i'));
				at = end < 0 ? text.length : to + end;
			}
		}
		at = text.indexOf('<', at);
	}
	if (list) {
		doc.problem(
			(list as Open).textFrom || tape.from((list as Open).node),
			`This <${(list as Open).name}> is never closed.`
		);
		endList(text.length, text.length);
	} else endOption(text.length, text.length);
	tape.close(root, text.length);
	return root;
}

const NAMES = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: '\u00a0' };

const syntax: Syntax = {
	...markup,
	name: (doc, node) => markup.name(doc, node).toLowerCase(),
	value(doc, node) {
		const { tape, content: text } = doc;
		return unescape(text.slice(tape.from(node), tape.to(node)), NAMES);
	},
	content: () => -1,
	numbered: () => false,
	inRow: ({ tape }, node) => tape.kind(node) === MAP,
	idLeaf(doc, node) {
		const items = itemsOf(doc.tape, node);
		const key = doc.hints.key ?? 'value';
		return (
			items.find((item) => doc.tape.kind(item) === TEXT && syntax.name(doc, item) === key) ??
			items.find((item) => doc.tape.kind(item) === RUN) ??
			-1
		);
	},
	idText(doc, node) {
		const leaf = syntax.idLeaf!(doc, node) ?? -1;
		return leaf < 0 ? '' : String(syntax.value(doc, leaf));
	},
	inside(doc, node) {
		// The page itself is not a list: options are in their select.
		if (doc.tape.keyFrom(node) < 0) return { from: 0, to: doc.content.length, separators: '' };
		return markup.inside(doc, node);
	},
	records(doc, root) {
		const { tape } = doc;
		const items: number[] = [];
		for (let node = root + 1; node < tape.after(root); node++)
			if (tape.kind(node) === MAP && syntax.name(doc, node) === 'option') items.push(node);
		const lists = itemsOf(tape, root).filter((item) => LISTS.has(syntax.name(doc, item)));
		return { holder: items.length === 0 && lists[0] !== undefined ? lists[0] : root, items, named: false };
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('html', text, hints);
	const root = scan(doc);
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	doc.key = hints.key ?? 'value';
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no page.');
	return doc;
}

/** HTML pages: the options of their lists (`select`, `datalist`) are records, named by their value. */
export const html = treeFormat('html', ['html', 'htm'], read, syntax, { untyped: true, fixedIds: true });
