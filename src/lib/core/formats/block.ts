import { scanBlocks } from './block-scan';
import { contentLineEnd } from './lines';
import { EditRefused, startDocument, type TextDocument, type ReadHints } from './document';
import { blockLayout, type BlockLayout } from './layout';
import { itemsOf, LIST, MAP, startOf, TEXT } from './tape';
import { filledItems } from './collections';
import { addTreeRecords, holderOf, isHolder, type Syntax } from './tree';
import { treeFormat } from './tree-format';

/** The punctuation that is meant when the guide says none. */
const PLAIN = blockLayout.parse({ shape: 'block' });

const layoutOf = (doc: TextDocument): BlockLayout =>
	doc.hints.layout?.shape === 'block' ? doc.hints.layout : PLAIN;

/** Whether a block begins with its name alone, or with a mark before it. */
function isLed(doc: TextDocument, node: number): boolean {
	const { tape, content: text } = doc;
	const { openBefore, heads } = layoutOf(doc);
	if (heads.length > 0 && heads.includes(text.slice(tape.keyFrom(node), tape.keyTo(node)))) return true;
	return openBefore !== '' && text.startsWith(openBefore, startOf(tape, node));
}

/** Whether a mark is a word, which matters only where it stands by itself. */
const isWord = (mark: string) => /^[\p{L}\p{N}_]/u.test(mark);

const isQuoted = (raw: string, quotes: string) =>
	raw.length >= 2 && quotes.includes(raw[0]!) && raw.endsWith(raw[0]!);

/** What letters behind an escape stand for, where they are not meant as they are. */
const LETTERS: readonly (readonly [string, string])[] = [
	['n', '\n'],
	['r', '\r'],
	['t', '\t']
];

function unquoted(raw: string, { quotes, escape, letters }: BlockLayout): string {
	if (!isQuoted(raw, quotes)) return raw;
	const inner = raw.slice(1, -1);
	if (escape === raw[0]) return inner.replaceAll(escape + escape, escape);
	if (escape === '') return inner;
	const meant = (part: string) =>
		(letters ? LETTERS : [])
			.reduce((text, [letter, char]) => text.replaceAll(escape + letter, char), part)
			.replaceAll(escape, '');
	return inner
		.split(escape + escape)
		.map(meant)
		.join(escape);
}

/** A value with what would end it, or cannot be in it, behind an escape. */
function escaped(value: string, mark: string, { escape, letters }: BlockLayout): string {
	const own = value.replaceAll(escape, escape + escape).replaceAll(mark, escape + mark);
	return (letters ? LETTERS : []).reduce(
		(text, [letter, char]) => text.replaceAll(char, escape + letter),
		own
	);
}

/** A value as the layout lets it stand: bare where it can, in the old quotes where it had them. @throws EditRefused */
function written(value: string, old: string, layout: BlockLayout, word: boolean): string {
	const { quotes, escape, letters } = layout;
	const canBreak = letters && escape !== '' && !quotes.includes(escape) && isQuoted(old, quotes);
	if (/[\r\n]/.test(value) && !canBreak)
		throw new EditRefused('A value in this file cannot contain a line break.');
	const marks = [
		layout.open,
		layout.close,
		layout.end,
		...(word
			? [layout.assign, layout.openAfter, layout.listOpen, layout.listClose, layout.listSeparator]
			: [])
	].filter(Boolean);
	const plain =
		value !== '' &&
		value === value.trim() &&
		!(word && /\s/.test(value)) &&
		!marks.some((mark) => (isWord(mark) ? value === mark : value.includes(mark))) &&
		!(layout.listOpen !== '' && value.startsWith(layout.listOpen)) &&
		!(quotes !== '' && quotes.includes(value[0]!)) &&
		![...layout.comments, layout.blockComment?.[0] ?? ''].some((mark) => mark !== '' && value.includes(mark));
	const quote = isQuoted(old, quotes) ? old[0]! : '';
	if (!quote && plain) return value;
	if (quotes === '') {
		if (value === '' && !word) return value;
		throw new EditRefused(`“${value}” cannot be written in this file, which has no quotes.`);
	}
	const mark = quote || quotes[0]!;
	if (escape === '' && value.includes(mark)) {
		const other = [...quotes].find((candidate) => !value.includes(candidate));
		if (!other) throw new EditRefused('This value contains the quote that would close it.');
		return other + value + other;
	}
	if (escape === mark) return mark + value.replaceAll(mark, mark + mark) + mark;
	return mark + (escape === '' ? value : escaped(value, mark, layout)) + mark;
}

const syntax: Syntax = {
	name({ tape, content: text, hints }, node) {
		if (tape.keyFrom(node) < 0) return 'id';
		const layout = hints.layout?.shape === 'block' ? hints.layout : PLAIN;
		return unquoted(text.slice(tape.keyFrom(node), tape.keyTo(node)), layout);
	},
	value: (doc, node) => unquoted(doc.content.slice(doc.tape.from(node), doc.tape.to(node)), layoutOf(doc)),
	writeName(doc, name, like) {
		const layout = layoutOf(doc);
		const mark = layout.compares.find((one) => like.endsWith(one));
		if (mark !== undefined && !name.endsWith(mark))
			throw new EditRefused(`Keep the comparison at the end of the name, as in “${name} ${mark}”.`);
		const plain = mark === undefined ? name : name.slice(0, -mark.length).trimEnd();
		const bare = written(plain, '', layout, true);
		if (bare !== plain) throw new EditRefused(`“${name}” cannot be a name in this file.`);
		return name;
	},
	writeValue(doc, node, value, container) {
		const { tape, content: text } = doc;
		const layout = layoutOf(doc);
		if (node < 0)
			return written(value, '', layout, container < 0 || layout.words) + (container < 0 ? '' : layout.end);
		const old = text.slice(tape.from(node), tape.to(node));
		const word = tape.keyFrom(node) < 0 || layout.words;
		const gap =
			old === '' &&
			value !== '' &&
			text[tape.from(node) - 1] !== ' ' &&
			/\w/.test(text[tape.from(node) - 1] ?? '')
				? ' '
				: '';
		return gap + written(value, old, layout, word);
	},
	pair: ' ',
	inside(doc, node) {
		const { tape, content: text } = doc;
		const layout = layoutOf(doc);
		if (tape.kind(node) === LIST)
			return {
				from: tape.from(node) + layout.listOpen.length,
				to: tape.to(node) - layout.listClose.length,
				separators: layout.listSeparator.trim() === '' ? ' ' : layout.listSeparator
			};
		if (node === 0) return { from: 0, to: text.length, separators: '' };
		let at = tape.keyTo(node);
		for (const item of itemsOf(tape, node)) if (tape.keyFrom(item) < 0) at = Math.max(at, tape.to(item));
		const to = tape.to(node) - layout.close.length;
		if (isLed(doc, node)) return { from: Math.max(at, contentLineEnd(text, at)), to, separators: '' };
		const open = text.indexOf(layout.open, at);
		return { from: open + layout.open.length, to, separators: '' };
	},
	inRow: ({ tape }, node) => tape.keyFrom(node) >= 0 || tape.kind(node) !== TEXT || isInList({ tape }, node),
	endOf(doc, node) {
		const { end } = layoutOf(doc);
		const to = doc.tape.to(node);
		const behind = /^[ \t]*/.exec(doc.content.slice(to, to + 100))![0].length + to;
		return end.trim() !== '' && doc.content.startsWith(end, behind) && doc.tape.keyFrom(node) >= 0
			? behind + end.length
			: to;
	},
	repeats: true,
	trail: true,
	numbered: (doc, node) => isHolder(doc.tape, node) && doc.tape.kind(node) === MAP && headed(doc, node),
	idLeaf(doc, node) {
		const { tape } = doc;
		const own = node + 1;
		if (own < tape.after(node) && tape.keyFrom(own) < 0 && tape.kind(own) === TEXT) return own;
		if (doc.named) return tape.keyFrom(node) < 0 ? -1 : node;
		if (doc.hints.key === undefined) return -1;
		return (
			itemsOf(tape, node).find((item) => !isHolder(tape, item) && syntax.name(doc, item) === doc.hints.key) ??
			-1
		);
	},
	word: (doc, node) => (headed(doc, node) ? syntax.name(doc, node) : ''),
	idText(doc, node) {
		const leaf = syntax.idLeaf!(doc, node) ?? -1;
		if (leaf === node) return syntax.name(doc, node);
		return leaf < 0 ? '' : String(syntax.value(doc, leaf) ?? '');
	},
	records(doc, root) {
		const { tape } = doc;
		const holder = holderOf(tape, root);
		const wraps =
			holder === root &&
			itemsOf(tape, root).length === 1 &&
			itemsOf(tape, root + 1).some((item) => headed(doc, item));
		const inner = wraps && !headed(doc, root + 1) ? root + 1 : holder;
		if (inner < 0) return { holder: -1, items: [root], named: false };
		const items = filledItems(tape, inner).filter((item) => tape.keyFrom(item) >= 0);
		return {
			holder: inner,
			items,
			named: !items.some((item) => headed(doc, item)) && doc.hints.key === undefined
		};
	}
};

/** Whether a word is between a block's name and its opening: its own id. */
function headed({ tape }: TextDocument, node: number): boolean {
	const first = node + 1;
	return (
		first < tape.after(node) &&
		tape.keyFrom(first) < 0 &&
		tape.kind(first) === TEXT &&
		tape.kind(node) === MAP
	);
}

function isInList({ tape }: Pick<TextDocument, 'tape'>, node: number): boolean {
	for (let parent = node - 1; parent >= 0; parent--)
		if (tape.after(parent) > node) return tape.kind(parent) === LIST;
	return false;
}

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('block', text, hints);
	const root = scanBlocks(doc, layoutOf(doc));
	doc.tape.finish();
	addTreeRecords(doc, root, syntax);
	if (text.trim() === '') doc.problem(0, 'The file is empty: there is no block.');
	return doc;
}

const base = treeFormat('block', [], read, syntax, { untyped: true });

/** Block text: nested `name … { … }`, with the punctuation that the guide says. */
export const block = {
	...base,
	rename(doc, record, id) {
		const leaf = syntax.idLeaf!(doc, record.node) ?? -1;
		const { tape } = doc;
		if (leaf >= 0 && leaf !== record.node)
			return [{ from: tape.from(leaf), to: tape.to(leaf), insert: syntax.writeValue(doc, leaf, id, -1) }];
		if (!doc.named) throw new EditRefused('This record has no written id.');
		return [
			{ from: tape.keyFrom(record.node), to: tape.keyTo(record.node), insert: syntax.writeName(doc, id, '') }
		];
	}
} satisfies typeof base as typeof base;
