import { EditRefused, startDocument, type TextDocument, type TextFormat, type ReadHints } from './document';
import { applySplices, type Splice } from '../change';
import { EMPTY, escape, fillEmpty, markup } from './markup';
import { indentAt, insertAt } from './siblings';
import { itemsOf, MAP, TEXT } from './tape';
import { ALIKE, isAboutFile, likenessOf } from './collections';
import { addTreeRecords, containing, type Syntax } from './tree';
import { rowOf } from './tree-edits';
import { treeFormat } from './tree-format';
import { scanXml } from './xml-scan';

const KEYS = ['id', 'key', 'name'];

/** Attributes that say the name of a value, and the one that holds it, where an element is one of its parent's values. */
const NAMES = ['name', 'key', 'id'];
const HELD = ['value', 'val'];
/** The attribute that may say besides of which type it is. */
const TYPES = ['type'];

/**
 * The attributes of an element that is a value of its parent under a name, and nothing else:
 * `<property name="Weight" value="3"/>`; null for any other.
 */
function pairOf(doc: TextDocument, node: number): { name: number; value: number } | null {
	const { tape } = doc;
	// Three attributes at most, and the end of an element that holds nothing.
	if (tape.kind(node) !== MAP || tape.after(node) > node + 5) return null;
	const inside = itemsOf(tape, node).filter((item) => tape.kind(item) !== EMPTY);
	if (inside.length < 2 || inside.length > 3 || inside.some((item) => tape.kind(item) !== TEXT)) return null;
	const under = (names: readonly string[]) => inside.filter((item) => names.includes(markup.name(doc, item)));
	const [name, ...names] = under(NAMES);
	const [value, ...values] = under(HELD);
	const others = inside.length - 2 - under(TYPES).length;
	const pair =
		name !== undefined && value !== undefined && names.length + values.length + others === 0
			? { name, value }
			: null;
	return pair && /^[\p{L}_][\p{L}\p{N}_-]*$/u.test(String(markup.value(doc, pair.name))) ? pair : null;
}

/** A pair of an element's name in a document, to write another one like it; -1 where there is none. */
function pairLike(doc: TextDocument, tag: string): number {
	for (let node = 0; node < doc.tape.count; node++)
		if (doc.tape.kind(node) === MAP && markup.name(doc, node) === tag && pairOf(doc, node)) return node;
	return -1;
}

/** Adds a value under a name, written as the file writes others. @throws EditRefused */
function addPair(doc: TextDocument, node: number, tag: string, name: string, value: string): Splice[] {
	const like = pairLike(doc, tag);
	const pair = like < 0 ? null : pairOf(doc, like);
	if (!pair) throw new EditRefused(`“${tag}” does not exist here, and no other record has one like it.`);
	const { tape, content: text } = doc;
	const raw = applySplices(
		text.slice(tape.from(like), tape.to(like)),
		[
			{ ...spanOf(doc, pair.name), insert: escape(name, true) },
			{ ...spanOf(doc, pair.value), insert: escape(value, true) }
		]
			.map(({ from, to, insert }) => ({ from: from - tape.from(like), to: to - tape.from(like), insert }))
			.sort((a, b) => a.from - b.from)
	);
	const items = itemsOf(tape, node).filter((item) => tape.kind(item) === MAP);
	const last = items.findLastIndex((item) => pairOf(doc, item) && markup.name(doc, item) === tag);
	return insertAt(rowOf(doc, node, markup), last < 0 ? items.length : last + 1, raw);
}

const spanOf = ({ tape }: TextDocument, node: number) => ({ from: tape.from(node), to: tape.to(node) });

/** Between the name of an element and that of the one it stands in, where only both say what it is: `Birds/Row`. */
const WITHIN = '/';

const syntax: Syntax = {
	...markup,
	name(doc, node) {
		const pair = pairOf(doc, node);
		const tag = markup.name(doc, node);
		return pair ? `${tag}.${String(markup.value(doc, pair.name))}` : tag;
	},
	content: (doc, node) => pairOf(doc, node)?.value ?? markup.content!(doc, node),
	numbered: (doc, node) => doc.tape.kind(node) === MAP && syntax.content!(doc, node) < 0,
	addMember(doc, node, name, value) {
		const [tag, inner] = name.split('.') as [string, string | undefined];
		return inner === undefined
			? markup.addMember!(doc, node, name, value)
			: addPair(doc, node, tag, inner, value);
	},
	renameNode(doc, node, name) {
		const pair = pairOf(doc, node);
		return pair
			? [{ ...spanOf(doc, pair.name), insert: escape(name, true) }]
			: markup.renameNode!(doc, node, name);
	},
	namesWithin: true,
	// What was asked for by the name of its parent, too, is under that word.
	word(doc, node) {
		const asked = doc.hints.element;
		return asked !== undefined && (asked.includes(WITHIN) || isNamed(doc, node, asked))
			? asked
			: markup.name(doc, node);
	},
	words: (doc) => wordsOf(doc),
	records(doc, root) {
		const { tape, hints } = doc;
		const elements = itemsOf(tape, root).filter((item) => tape.kind(item) === MAP);
		if (hints.element !== undefined) return { ...elementsOf(doc, root, hints.element), named: false };
		const deeper = wrappedIn(doc, root);
		if (deeper) return { holder: root, items: deeper, named: false };
		if (elements.length > 0 && elements.every((item) => markup.content!(doc, item) >= 0))
			return { holder: -1, items: [root], named: false };
		const names = namesOf(doc, elements);
		const isKeyed = (item: number) =>
			itemsOf(tape, item).some((own) => tape.keyFrom(own) >= 0 && KEYS.includes(markup.name(doc, own)));
		const keyed = elements.slice(0, 20).some(isKeyed);
		const some = elements.slice(0, LOOKED_AT);
		const mostKeyed = some.filter(isKeyed).length * 2 >= some.length;
		if (hints.at === undefined && isOneThing(doc, root, elements, names, keyed, mostKeyed))
			return { holder: -1, items: [root], named: false };
		const named =
			hints.key === undefined && !keyed && names.length > 1 && new Set(names).size === names.length;
		return { holder: root, items: elements, named };
	}
};

/** Elements that are looked at to see whether most have an id. */
const LOOKED_AT = 200;

/** Share of the elements in a root that one name has where they are many things, whatever the root says of itself. */
const MOST = 0.8;

/** Whether a root is one thing, and the elements in it are its parts. */
function isOneThing(
	doc: TextDocument,
	root: number,
	elements: readonly number[],
	names: readonly string[],
	keyed: boolean,
	mostKeyed: boolean
): boolean {
	// Parts are called by what they are, and have little in common.
	const different = new Set(names).size;
	if (names.length > 1 && different === names.length && likenessOf(doc.tape, elements) < ALIKE) return true;
	const said = ownOf(doc, root);
	// Beside plain values of its own, what else is in it belongs to the same thing.
	if (said.length > 0 && !mostKeyed && different > 1 && elements.some((item) => isPlain(doc, item)))
		return true;
	if (said.length < OF_ITS_OWN && !said.some((name) => KEYS.includes(name))) return false;
	const most = Math.max(...[...new Set(names)].map((name) => names.filter((one) => one === name).length));
	return !keyed || (different > 1 && most < names.length * MOST);
}

/** Attributes from which on a root says so much of itself that it is a record, and what is in it are its parts. */
const OF_ITS_OWN = 2;

/** The names of what a root says of itself: not such as say something of the file. */
const ownOf = (doc: TextDocument, root: number): string[] =>
	itemsOf(doc.tape, root)
		.filter((item) => doc.tape.kind(item) === TEXT)
		.map((item) => markup.name(doc, item))
		.filter((name) => !isAboutFile(name) && !/^(?:xmlns|xsi|xml)(?::|$)/.test(name));

/** Whether an element holds a value and nothing else. */
const isPlain = (doc: TextDocument, item: number): boolean => markup.content!(doc, item) >= 0;

/** Elements of one name from which on they are the records, and what is around them is not. */
const MANY = 5;
/** Elements around the records, one in the other. */
const WRAPPERS = 3;

/** Whether an element holds more than one text. */
const isStructured = (doc: TextDocument, item: number): boolean =>
	doc.tape.kind(item) === MAP && doc.tape.after(item) > item + 1 && markup.content!(doc, item) < 0;

/** The elements in another that hold more than one text. */
const structured = (doc: TextDocument, node: number): number[] =>
	itemsOf(doc.tape, node).filter((item) => isStructured(doc, item));

/** Whether two of them have one name: told as soon as there are two. */
function repeats(doc: TextDocument, node: number): boolean {
	const { tape } = doc;
	const names = new Set<string>();
	for (let item = node + 1; item < tape.after(node); item = tape.after(item)) {
		if (!isStructured(doc, item)) continue;
		const name = markup.name(doc, item);
		if (names.has(name)) return true;
		names.add(name);
	}
	return false;
}

/** The records where they stand some levels deep, in elements that are there for nothing else; null where they do not. */
function wrappedIn(doc: TextDocument, root: number): number[] | null {
	const { tape } = doc;
	if (repeats(doc, root)) return null;
	let level = structured(doc, root);
	for (let depth = 0; depth < WRAPPERS; depth++) {
		if (level.length === 0) return null;
		const names = new Set(level.map((item) => markup.name(doc, item)));
		if (depth > 0) {
			const parents = new Set(level.map((item) => containing(tape, root, item)));
			if (names.size <= parents.size && level.length >= Math.max(MANY, names.size * 2)) return level;
		}
		// What repeats is a record itself, and so is what says more of itself than a name.
		if (names.size < level.length) return null;
		const plain = level.every((item) => {
			const own = itemsOf(tape, item);
			return (
				own.filter((one) => tape.kind(one) !== MAP).length <= 1 &&
				structured(doc, item).length === own.filter((one) => tape.kind(one) === MAP).length
			);
		});
		if (!plain) return null;
		level = level.flatMap((item) => structured(doc, item));
	}
	return null;
}

/** Whether a node has a name, told without making a text of it. */
function isNamed({ tape, content: text }: TextDocument, node: number, name: string): boolean {
	const from = tape.keyFrom(node);
	return from >= 0 && tape.keyTo(node) - from === name.length && text.startsWith(name, from);
}

/** The names of some elements, those of neighbours with the same name as one text. */
function namesOf(doc: TextDocument, nodes: readonly number[]): string[] {
	let last = '';
	return nodes.map((node) => (isNamed(doc, node, last) ? last : (last = markup.name(doc, node))));
}

/** The elements of a name below another, each in no other of that name. */
function elementsNamed(doc: TextDocument, from: number, to: number, name: string): number[] {
	const { tape } = doc;
	const items: number[] = [];
	for (let node = from; node < to;) {
		const match = tape.kind(node) === MAP && isNamed(doc, node, name);
		if (match) items.push(node);
		node = match ? tape.after(node) : node + 1;
	}
	return items;
}

/** The elements of a word, and what holds them. */
function elementsOf(doc: TextDocument, root: number, word: string): { holder: number; items: number[] } {
	const { tape } = doc;
	const [name, parent] = word.split(WITHIN).reverse() as [string, string | undefined];
	if (parent === undefined)
		return { holder: root, items: elementsNamed(doc, root + 1, tape.after(root), name) };
	const holders = elementsNamed(doc, root, tape.after(root), parent);
	const items = holders.flatMap((holder) =>
		itemsOf(tape, holder).filter((item) => tape.kind(item) === MAP && isNamed(doc, item, name))
	);
	// Where there is none yet, a new one goes to where they would be.
	return { holder: items.length === 0 ? (holders[0] ?? root) : root, items };
}

/** Names of elements that say nothing of what they are. */
const ANYTHING = /^(?:row|rec|record|item|li|entry|element|elem|node|object|obj|data|def|value)s?$/i;
/** Share of their members that elements of one name have in common where what they stand in does not tell their kind. */
const COMMON = 0.5;

/**
 * The words that the records are under: the names of the elements, or, where elements of one name stand in others of
 * several names and have little in common, or have a name that says nothing, with that of what they stand in.
 */
function wordsOf(doc: TextDocument): string[] {
	const { tape, records } = doc;
	const nodes = records.map(({ node }) => node);
	const names = namesOf(doc, nodes);
	const parents = parentsOf(doc, nodes);
	const members = new Map<string, Map<string, Set<string>>>();
	names.forEach((name, nth) => {
		const byParent = members.get(name);
		if (!byParent) members.set(name, new Map([[parents[nth]!, new Set()]]));
		else if (!byParent.has(parents[nth]!)) byParent.set(parents[nth]!, new Set());
	});
	// What is in the elements is looked at where those of one name stand in several.
	nodes.forEach((node, nth) => {
		const byParent = members.get(names[nth]!)!;
		if (byParent.size < 2) return;
		const own = byParent.get(parents[nth]!)!;
		for (const item of itemsOf(tape, node)) own.add(markup.name(doc, item));
	});
	const isTold = (name: string) => {
		const sets = [...members.get(name)!.values()];
		if (sets.length < 2) return ANYTHING.test(name) && !ANYTHING.test([...members.get(name)!.keys()][0]!);
		return sets.some((set, nth) => {
			const other = sets[(nth + 1) % sets.length]!;
			const both = [...set].filter((member) => other.has(member)).length;
			return both < COMMON * (set.size + other.size - both);
		});
	};
	const told = new Set([...members.keys()].filter(isTold));
	return names.map((name, nth) => (told.has(name) ? parents[nth]! + WITHIN + name : name));
}

/** The names of the elements in which others stand, these in the order of the file. */
function parentsOf(doc: TextDocument, nodes: readonly number[]): string[] {
	const { tape } = doc;
	const open: number[] = [];
	let [at, last, name] = [doc.root, -1, ''];
	return nodes.map((node) => {
		for (; at < node; at++) if (tape.kind(at) === MAP) open.push(at);
		while (open.length > 1 && tape.after(open.at(-1)!) <= node) open.pop();
		const parent = open.at(-1) ?? -1;
		// Most stand in what the one before stood in.
		if (parent !== last) name = parent < 0 ? '' : markup.name(doc, parent);
		last = parent;
		return name;
	});
}

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('xml', text, hints);
	if (text.trim() === '') {
		doc.problem(0, 'The file is empty: there is no root element.');
		return doc;
	}
	const root = scanXml(doc);
	doc.tape.finish();
	if (root >= 0) addTreeRecords(doc, root, syntax);
	return doc;
}

const base = treeFormat('xml', ['xml'], read, syntax, { untyped: true, nested: true });

/** XML: the children of the root (or the elements that the guide names) are records. */
export const xml: TextFormat = {
	...base,
	insert(doc, source, record) {
		const { tape } = doc;
		const root = doc.holder;
		const alone = root >= 0 && doc.records.length === 0 && tape.kind(tape.after(root) - 1) === EMPTY;
		if (!alone) return base.insert(doc, source, record);
		const indent = indentAt(source.content, record.from) || '\t';
		return fillEmpty(doc, root, source.content.slice(record.from, record.to), indent);
	}
};
