// What all formats of nested maps and lists share: which of their nodes are records, and how fields are named by path.
import type { Splice } from '../change';
import type { FieldNode, PartHints, ReadHints, RecordPlace, Scalar, TextDocument } from './document';
import { collectionsBeside, collectionsIn, filledItems, isAboutFile, isCollection } from './collections';
import { addRecord, unitOf, type RecordShape } from './records';
import { LIST, MAP, remarkOf, startOf, type Tape } from './tape';

/** How a format of nested maps and lists is read and written, in its smallest parts. */
export interface Syntax {
	/** A name as meant, from its text. */
	name(doc: TextDocument, node: number): string;
	/** A value as meant. */
	value(doc: TextDocument, node: number): Scalar;
	/** A name as written. @throws EditRefused */
	writeName(doc: TextDocument, name: string, like: string): string;
	/** A value as written in place of the node, or again (-1) in a container. @throws EditRefused */
	writeValue(doc: TextDocument, node: number, value: string, container: number): string;
	/** What is between a name and its value where there is no neighbour to look at. */
	pair: string;
	/** The inside of a container and the marks between its items; none where each has lines of its own. */
	inside(
		doc: TextDocument,
		node: number
	): { from: number; to: number; separators: string; /** What a first item stands behind. */ lead?: string };
	/** End of commentary that begins at an offset; -1 where none does. */
	comment?(text: string, at: number): number;
	/** Whether a name may be given several times in a map, each an item of a list. */
	repeats?: boolean;
	/** Whether a member is an item of a list even where it is the only one of its name. */
	numbered?(doc: TextDocument, node: number): boolean;
	/** The value that stands for a container which holds nothing else; -1 for none. */
	content?(doc: TextDocument, node: number): number;
	/** Whether a node is no value of its own (white space between tags, code). */
	hidden?(doc: TextDocument, node: number): boolean;
	/** Whether a node is one of the row that items are put into, taken out of and moved in. */
	inRow?(doc: TextDocument, node: number): boolean;
	/** Where a node ends with the mark that closes it. */
	endOf?(doc: TextDocument, node: number): number;
	/** Whether neighbours in a row may touch. */
	touch?: boolean;
	/** Whether a map that holds nothing may as well be a list. */
	emptyIsList?: boolean;
	/** Adds a member in the format's own way. @throws EditRefused */
	addMember?(doc: TextDocument, node: number, name: string, value: string): Splice[];
	/** Whether a name may have two parts: of what stands under names in an element for each. */
	namesWithin?: boolean;
	/** Takes a node out in the format's own way; null where it is taken out of its row. */
	dropNode?(doc: TextDocument, node: number): Splice[] | null;
	/** Writes another name in the format's own way; null where it is one splice. @throws EditRefused */
	renameNode?(doc: TextDocument, node: number, name: string): Splice[] | null;
	/** The word that a record is under, where others are beside it under other words: it says of which kind it is. */
	word?(doc: TextDocument, node: number): string;
	/** The words of all records, where one alone does not tell its own. */
	words?(doc: TextDocument): string[];
	/** A record by its name, where that is only the end of what is written before it: `gull` of `Birds.gull`. */
	recordName?(doc: TextDocument, node: number): string;
	/** Whether such words are never names of records. */
	calls?: boolean;
	/** Whether the first line of a record names it, and no other field can. */
	headed?: boolean;
	/** Whether an item of a list may be a record that stands alone in it, under its name. */
	wraps?: boolean;
	/** Which nodes are records, where it is not detected from the shape alone. */
	records?(doc: TextDocument, root: number): { holder: number; items: number[]; named: boolean };
	/**
	 * The value that holds a record's id, and the id, where they are not detected from a name or a key alone; -1 for none,
	 * undefined where they are detected after all.
	 */
	idLeaf?(doc: TextDocument, node: number): number | undefined;
	idText?(doc: TextDocument, node: number): string;
	/** Whether commentary behind a record on its line is part of it. */
	trail?: boolean;
	/** The node from which the guide's path to the records is counted; the root where it is not another. */
	top?(doc: TextDocument, root: number): number;
	/** Whether values of several lines are indented with what holds them. */
	indented?: boolean;
}

const KEYS = ['id', 'key', 'name'];

/** The one field of a record that is a single value under a name. */
export const VALUE = 'value';

export const isHolder = (tape: Tape, node: number) => tape.kind(node) === MAP || tape.kind(node) === LIST;

/**
 * Calls `each` with the members of a node and their names; those of one name are numbered where the format repeats names.
 * It is called for every value of a game, so it makes neither a list nor a generator.
 */
function eachMember(
	doc: TextDocument,
	node: number,
	syntax: Syntax,
	each: (name: string, item: number) => void
): void {
	const { tape } = doc;
	const end = tape.after(node);
	if (tape.kind(node) === LIST) {
		for (let item = node + 1, nth = 0; item < end; item = tape.after(item), nth++) each(`[${nth}]`, item);
		return;
	}
	let counts: Map<string, number> | null = null;
	if (syntax.repeats) {
		counts = new Map();
		for (let item = node + 1; item < end; item = tape.after(item)) {
			if (syntax.hidden?.(doc, item)) continue;
			const name = syntax.name(doc, item);
			counts.set(name, (counts.get(name) ?? 0) + 1);
		}
	}
	let seen: Map<string, number> | null = null;
	for (let item = node + 1; item < end; item = tape.after(item)) {
		if (syntax.hidden?.(doc, item)) continue;
		const name = syntax.name(doc, item);
		if (!counts || (counts.get(name) === 1 && !syntax.numbered?.(doc, item))) {
			each(name, item);
			continue;
		}
		seen ??= new Map();
		const nth = seen.get(name) ?? 0;
		seen.set(name, nth + 1);
		each(`${name}[${nth}]`, item);
	}
}

const join = (prefix: string, name: string) =>
	prefix === '' ? name : name.startsWith('[') ? prefix + name : `${prefix}.${name}`;

/** The node that holds the value of a node: itself, or what stands for it; -1 where it holds several. */
export function valueNode(doc: TextDocument, node: number, syntax: Syntax): number {
	if (!isHolder(doc.tape, node)) return node;
	return syntax.content?.(doc, node) ?? -1;
}

/** What is called with a value: its path, the node that holds it, and the member it belongs to (-1 if it is a whole record). */
type TakeLeaf = (path: string, leaf: number, item: number) => void;

function collect(doc: TextDocument, node: number, path: string, syntax: Syntax, take: TakeLeaf): void {
	eachMember(doc, node, syntax, (name, item) => {
		const at = join(path, name);
		if (doc.hints.except?.includes(at)) return;
		const leaf = valueNode(doc, item, syntax);
		if (leaf < 0) collect(doc, item, at, syntax, take);
		else take(at, leaf, item);
	});
}

/** Calls `take` with all values below a node. */
function eachBelow(doc: TextDocument, node: number, syntax: Syntax, take: TakeLeaf): void {
	if (isHolder(doc.tape, node)) collect(doc, node, '', syntax, take);
	// An item of a map of values.
	else if (node !== doc.root) take(VALUE, node, -1);
}

const remarkAt = ({ tape }: TextDocument, item: number): string | undefined =>
	item < 0 ? undefined : remarkOf(tape, startOf(tape, item), tape.to(item));

/** All values below a node, by path. */
export function fieldsBelow(doc: TextDocument, node: number, syntax: Syntax): FieldNode[] {
	const fields: FieldNode[] = [];
	const { tape } = doc;
	eachBelow(doc, node, syntax, (path, leaf, item) => {
		const remark = remarkAt(doc, item);
		fields.push({
			path,
			value: syntax.value(doc, leaf),
			from: tape.from(leaf),
			to: tape.to(leaf),
			...(remark ? { remark } : {})
		});
	});
	return fields;
}

/** The node at a path below another, or -1. The empty path is the node itself. */
export function nodeAt(doc: TextDocument, node: number, path: string, syntax: Syntax): number {
	if (path === '') return node;
	if (!isHolder(doc.tape, node)) return path === VALUE ? node : -1;
	let found = -1;
	eachMember(doc, node, syntax, (name, item) => {
		if (path === name) found = item;
		else if (path.startsWith(name) && isHolder(doc.tape, item)) {
			const rest = path.slice(name.length);
			if (rest.startsWith('.') || rest.startsWith('[')) {
				const below = nodeAt(doc, item, rest.startsWith('.') ? rest.slice(1) : rest, syntax);
				if (below >= 0) found = below;
			}
		}
	});
	return found;
}

/** The node whose items are the records: the root, or the first list or map of alike items in it; -1 for none. */
export function holderOf(tape: Tape, root: number): number {
	if (isHolder(tape, root) && tape.after(root) === root + 1) return root;
	return collectionsIn(tape, root)[0] ?? -1;
}

/** The node that holds a record's id: its own name, or a value of it; -1 for none. */
export function idNode(doc: TextDocument, node: number, syntax: Syntax): number {
	if (doc.holder < 0 && doc.key === null) return -1;
	const own = syntax.idLeaf?.(doc, node);
	if (own !== undefined) return own;
	if (doc.named) return doc.tape.keyFrom(node) < 0 ? -1 : node;
	if (doc.key === null) return -1;
	const found = valueUnder(doc, node, doc.key, syntax);
	const { spare } = doc.hints;
	return found < 0 && spare !== undefined ? valueUnder(doc, node, spare, syntax) : found;
}

/** The node of a value of a record by its name or path; -1 for none. */
function valueUnder(doc: TextDocument, node: number, name: string, syntax: Syntax): number {
	if (/[.[]/.test(name)) {
		const at = nodeAt(doc, node, name, syntax);
		return at < 0 ? -1 : valueNode(doc, at, syntax);
	}
	let found = -1;
	for (let item = node + 1; item < doc.tape.after(node); item = doc.tape.after(item)) {
		if (!mayBeNamed(doc, item, name)) continue;
		if (syntax.hidden?.(doc, item) || syntax.name(doc, item) !== name) continue;
		const leaf = valueNode(doc, item, syntax);
		if (leaf >= 0) found = leaf;
	}
	return found;
}

/** Whether a node can have a name at all, by its length: plain words are written as they are. */
function mayBeNamed({ tape, content: text }: TextDocument, node: number, name: string): boolean {
	const from = tape.keyFrom(node);
	if (from < 0) return true;
	const code = text.charCodeAt(from);
	const letter = (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || code === 95;
	const quote = code === 34 || code === 39 ? 2 : 0;
	const length = tape.keyTo(node) - from - quote;
	return (
		(!letter && quote === 0) ||
		length === name.length ||
		(length > name.length && quote > 0 && text.slice(from, tape.keyTo(node)).includes('\\'))
	);
}

/** How the records of a tree are read. */
export function treeShape(syntax: Syntax): RecordShape {
	return {
		trail: syntax.trail ?? false,
		...(syntax.endOf ? { endOf: syntax.endOf } : {}),
		idSpan(doc, node) {
			const at = idNode(doc, node, syntax);
			if (at < 0) return null;
			const { tape } = doc;
			return at === node
				? { from: tape.keyFrom(at), to: tape.keyTo(at) }
				: { from: tape.from(at), to: tape.to(at) };
		},
		id(doc, node) {
			if (syntax.idText) return syntax.idText(doc, node);
			const at = idNode(doc, node, syntax);
			if (at < 0) return '';
			if (doc.named) return (syntax.recordName ?? syntax.name)(doc, at);
			return String(syntax.value(doc, at) ?? '');
		},
		fields: (doc, node) => fieldsBelow(doc, node, syntax),
		each: (doc, node, take) =>
			eachBelow(doc, node, syntax, (path, leaf, item) =>
				take(path, syntax.value(doc, leaf), remarkAt(doc, item))
			),
		valueAt(doc, node, path) {
			const found = nodeAt(doc, node, path, syntax);
			const leaf = found < 0 ? -1 : valueNode(doc, found, syntax);
			return leaf < 0 ? undefined : syntax.value(doc, leaf);
		}
	};
}

/** Which nodes are records, and in what. */
interface Records {
	holder: number;
	items: number[];
	named: boolean;
	wrapped?: boolean;
}

/** So many items of a list that hold one map each, under different names, are records under their names. */
const WRAPPED = 3;

/** Records that are each alone in an item of a list, under their names; what was told where they are not. */
function unwrapped(doc: TextDocument, told: Records, syntax: Syntax): Records {
	const { tape, hints } = doc;
	const { holder, items, named } = told;
	if (named || holder < 0 || tape.kind(holder) !== LIST || items.length < WRAPPED) return told;
	// Those of several documents in a file are in several lists.
	if (tape.after(items.at(-1)!) !== tape.after(holder) || items[0] !== holder + 1) return told;
	if (hints.key !== undefined || hints.keyParts !== undefined) return told;
	const inside = items.map((item) => item + 1);
	const isAlone = items.every(
		(item, nth) =>
			tape.kind(item) === MAP &&
			item + 1 < tape.after(item) &&
			tape.after(inside[nth]!) === tape.after(item) &&
			tape.kind(inside[nth]!) === MAP &&
			tape.keyFrom(inside[nth]!) >= 0
	);
	if (!isAlone) return told;
	const different = new Set(inside.map((item) => syntax.name(doc, item))).size;
	// One that is there twice is a mistake, or a copy that has no name of its own yet; more are steps of a few sorts.
	if (different < WRAPPED || items.length - different > Math.max(1, items.length / 5)) return told;
	return { holder, items: inside, named: true, wrapped: true };
}

function recordsBelow(doc: TextDocument, root: number, syntax: Syntax): Records {
	const found = placedRecords(doc, root, syntax);
	return syntax.wraps ? unwrapped(doc, found, syntax) : found;
}

function placedRecords(doc: TextDocument, root: number, syntax: Syntax): Records {
	const { tape, hints } = doc;
	const top = syntax.top?.(doc, root) ?? root;
	if (hints.at === null) return { holder: -1, items: [top], named: false };
	const told = syntax.records ? syntax.records(doc, root) : plainRecords(tape, top);
	if (syntax.word && hints.element !== undefined) {
		const items = told.items.filter((item) => syntax.word!(doc, item) === hints.element);
		// Records that are all called as their word have no names of their own.
		const named = told.named && items.some((item) => syntax.recordName?.(doc, item) !== hints.element);
		return { holder: told.holder, items, named: syntax.recordName !== undefined && named };
	}
	const said = hints.at === undefined ? -1 : nodeAt(doc, top, hints.at, syntax);
	// Where the shape tells the same place, it tells as well whether the records have names there.
	if (said >= 0 && said !== told.holder && isHolder(tape, said)) {
		const all = filledItems(tape, said);
		const things = all.filter(
			(item) => isHolder(tape, item) || (hints.leaves && !isAboutFile(syntax.name(doc, item)))
		);
		const items = things.length > 0 && !isCollection(tape, said) ? things : all;
		const listed = syntax.repeats && items.length > 0 && items.every((item) => syntax.numbered?.(doc, item));
		return { holder: said, items, named: tape.kind(said) === MAP && !listed };
	}
	return told;
}

/** The records of a root, detected from its shape. */
export function plainRecords(tape: Tape, root: number): { holder: number; items: number[]; named: boolean } {
	const holder = holderOf(tape, root);
	return {
		holder,
		items: holder < 0 ? [root] : filledItems(tape, holder),
		named: holder >= 0 && tape.kind(holder) === MAP
	};
}

/** The path of the records' holder, as the guide would say it; null where the whole file is one record. */
function pathOfHolder(doc: TextDocument, root: number, syntax: Syntax): string | null | undefined {
	const top = syntax.top?.(doc, root) ?? root;
	if (doc.holder < 0) return null;
	const first = doc.records[0];
	if (first && containing(doc.tape, doc.holder, unitOf(doc, first.node)) !== doc.holder) return undefined;
	return pathTo(doc, top, doc.holder, syntax);
}

/** The path of a node below another, as the guide would say it. */
function pathTo(doc: TextDocument, from: number, node: number, syntax: Syntax): string | undefined {
	let path = '';
	for (let at = from; at !== node;) {
		let next = -1;
		const outer = path;
		eachMember(doc, at, syntax, (name, item) => {
			if (item > node || node >= doc.tape.after(item)) return;
			path = join(outer, name);
			next = item;
		});
		if (next < 0) return undefined;
		at = next;
	}
	return path;
}

/** The collections that a document holds, where there are several things in it: each is a part, and what is beside them. */
export function partsByPlace(doc: TextDocument, syntax: Syntax, said: readonly string[]): PartHints[] {
	if (doc.root < 0) return [];
	const top = syntax.top?.(doc, doc.root) ?? doc.root;
	const own = collectionsIn(doc.tape, top);
	const found = own.length === 0 && said.length > 0 ? collectionsBeside(doc.tape, top) : own;
	if (said.length === 0 && (found.length === 0 || found[0] !== doc.holder)) return [];
	const paths = found.map((node) => pathTo(doc, top, node, syntax));
	if (paths.some((path) => path === undefined || path === '')) return [];
	const except = [...new Set([...(paths as string[]), ...said])];
	const parts: PartHints[] = except.map((at) => ({ at }));
	const beside = Object.create(doc) as TextDocument;
	beside.hints = { ...doc.hints, except };
	const others = fieldsBelow(beside, top, syntax);
	return others.some(({ path }) => !isAboutFile(path)) ? [...parts, { at: null, except }] : parts;
}

/** Containers that are looked into for others. */
const MOST_PLACES = 30;

/** All places at which records may stand, the outermost first; the whole as one record is the last. */
export function placesBelow(doc: TextDocument, syntax: Syntax): RecordPlace[] {
	if (doc.root < 0 || doc.parts) return [];
	const top = syntax.top?.(doc, doc.root) ?? doc.root;
	const found: RecordPlace[] = [];
	const open: [number, string][] = [[top, '']];
	for (let at = 0; at < open.length && found.length < MOST_PLACES; at++) {
		const [node, path] = open[at]!;
		const inside: [string, number][] = [];
		eachMember(doc, node, syntax, (name, item) => {
			if (isHolder(doc.tape, item)) inside.push([name, item]);
		});
		if (inside.length > 0) found.push({ at: path, records: inside.length });
		// A place in a list is none for all of its items.
		if (doc.tape.kind(node) === MAP && open.length < MOST_PLACES)
			for (const [name, item] of inside) open.push([item, join(path, name)]);
	}
	return found.length === 0 ? [] : [...found, { at: null, records: 1 }];
}

/** The name that stands for an id in one of some records; null where none does. */
function keyIn(doc: TextDocument, records: readonly number[], syntax: Syntax): string | null {
	const { tape } = doc;
	const isIn = (record: number, key: string): boolean => {
		const end = tape.after(record);
		for (let item = record + 1; item < end; item = tape.after(item))
			if (mayBeNamed(doc, item, key) && !syntax.hidden?.(doc, item) && syntax.name(doc, item) === key)
				return true;
		return false;
	};
	return KEYS.find((key) => records.some((record) => isIn(record, key))) ?? null;
}

/** Adds the records below the root to the document. Those that were never closed are left out. */
export function addTreeRecords(doc: TextDocument, root: number, syntax: Syntax): void {
	const { tape, hints } = doc;
	doc.root = root;
	const shape = treeShape(syntax);
	const { holder, items, named, wrapped = false } = recordsBelow(doc, root, syntax);
	doc.holder = holder;
	doc.named = named;
	doc.wrapped = wrapped;
	if (syntax.headed) doc.key = null;
	else if (!named && holder >= 0) {
		// What names a record outside of its fields is none of these.
		const outside = items.some((item) => syntax.hidden?.(doc, syntax.idLeaf?.(doc, item) ?? item) === true);
		doc.key = hints.key ?? (outside ? null : keyIn(doc, items.slice(0, 20), syntax));
	} else if (holder < 0) doc.key = hints.key ?? null;
	items.forEach((item, nth) => {
		if (!tape.broken.has(item)) addRecord(doc, item, nth + 1, shape);
	});
	doc.at = pathOfHolder(doc, root, syntax);
}

/** The records of a document that was read already, by other hints. */
export function treeAgain(known: TextDocument, hints: ReadHints, syntax: Syntax): TextDocument {
	const doc = Object.create(known) as TextDocument;
	Object.assign(doc, {
		hints,
		records: [],
		key: null,
		holder: -1,
		named: false,
		wrapped: false,
		at: undefined
	});
	if (known.root >= 0) addTreeRecords(doc, known.root, syntax);
	// Of an empty file its reader alone knows where records go.
	else Object.assign(doc, { holder: known.holder, named: known.named });
	return doc;
}

/** Words that records are under, where several of them are under the same: each is a part. */
export function partsByWord(doc: TextDocument, syntax: Syntax): PartHints[] {
	if (!syntax.word || doc.records.length < (syntax.calls ? 1 : 2)) return [];
	const counts = new Map<string, number>();
	const words = syntax.words?.(doc) ?? doc.records.map(({ node }) => syntax.word!(doc, node));
	for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1);
	if (counts.has('')) return [];
	// Words that seldom come twice are names, and one that does is a mistake.
	if (!syntax.calls && counts.size * 2 > doc.records.length) return [];
	return [...counts.keys()].map((element) => ({ element }));
}

/** The innermost container that holds a node. */
export function containing(tape: Tape, root: number, node: number): number {
	let parent = root;
	for (let item = root + 1; item < tape.after(parent);) {
		if (item === node) return parent;
		if (node > item && node < tape.after(item)) {
			parent = item;
			item++;
		} else item = tape.after(item);
	}
	return parent;
}
