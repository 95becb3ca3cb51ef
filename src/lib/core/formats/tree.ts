// What all formats of nested maps and lists share: which of their nodes are records, how fields are named by path, and
// where in the text a new member or item goes.
import type { Splice } from '../change';
import { toEol } from '../text';
import {
	concretePath,
	EditRefused,
	type Document,
	type FieldNode,
	type Format,
	type FormatId,
	type NewItem,
	type RecordNode,
	type Scalar
} from './document';
import { insertLines } from './lines';
import { addRecord, type RecordShape } from './records';
import { gapBefore, indentAt, insertAt, moveTo, reindent, removeAt, unitEnd, type Row } from './siblings';
import { itemsOf, leadFrom, LIST, MAP, remarkOf, startOf, type Tape, trailTo } from './tape';

/** How a format of nested maps and lists is read and written, in its smallest parts. */
export interface Tongue {
	/** A name as it is meant, from its text. */
	name(doc: Document, node: number): string;
	/** A value as it is meant. */
	value(doc: Document, node: number): Scalar;
	/** A name as it is written. @throws EditRefused */
	writeName(doc: Document, name: string, like: string): string;
	/** A value as it is written in place of the node, or anew (-1) in a container. @throws EditRefused */
	writeValue(doc: Document, node: number, value: string, container: number): string;
	/** What stands between a name and its value where there is no neighbour to look at. */
	pair: string;
	/** The inside of a container and the marks between its items; none where each has lines of its own. */
	inside(
		doc: Document,
		node: number
	): { from: number; to: number; separators: string; /** What a first item stands behind. */ lead?: string };
	/** End of commentary that begins at an offset; -1 where none does. */
	comment?(text: string, at: number): number;
	/** Whether a name may be given several times in a map, each an item of a list. */
	repeats?: boolean;
	/** Whether a member is an item of a list even where it is the only one of its name. */
	numbered?(doc: Document, node: number): boolean;
	/** The value that stands for a container which holds nothing else; -1 for none. */
	content?(doc: Document, node: number): number;
	/** Whether a node is no value of its own (white space between tags, code). */
	hidden?(doc: Document, node: number): boolean;
	/** Whether a node is one of the row that items are put into, taken out of and moved in. */
	inRow?(doc: Document, node: number): boolean;
	/** Whether neighbours in a row may touch. */
	touch?: boolean;
	/** Whether a map that holds nothing may as well be a list. */
	emptyIsList?: boolean;
	/** What stands before a new item of a list (`- `), where there is no neighbour to look at. */
	itemHead?: string;
	/** Adds a member in the format's own way. @throws EditRefused */
	addMember?(doc: Document, node: number, name: string, value: string): Splice[];
	/** Takes a node out in the format's own way; null where it is taken out of its row. */
	dropNode?(doc: Document, node: number): Splice[] | null;
	/** Writes another name in the format's own way; null where it is one splice. @throws EditRefused */
	renameNode?(doc: Document, node: number, name: string): Splice[] | null;
	/** Which nodes are records, where it is not told from the shape alone. */
	records?(doc: Document, root: number): { holder: number; items: number[]; named: boolean };
	/** The value that holds a record's id, and the id, where they are not told from a name or a key alone. */
	idLeaf?(doc: Document, node: number): number;
	idText?(doc: Document, node: number): string;
	/** Whether commentary behind a record on its line is part of it. */
	trail?: boolean;
	/** The node from which the guide's path to the records is counted; the root where it is not another. */
	top?(doc: Document, root: number): number;
	/** A copy of a record as it is written in another document. */
	copy?(doc: Document, source: Document, record: RecordNode): string;
}

const KEYS = ['id', 'key', 'name'];

export const isHolder = (tape: Tape, node: number) => tape.kind(node) === MAP || tape.kind(node) === LIST;

/** Members with their names; those of one name are numbered where the format repeats names. */
function* members(doc: Document, node: number, tongue: Tongue): Generator<[string, number]> {
	const { tape } = doc;
	const end = tape.after(node);
	if (tape.kind(node) === LIST) {
		for (let item = node + 1, nth = 0; item < end; item = tape.after(item), nth++) yield [`[${nth}]`, item];
		return;
	}
	let counts: Map<string, number> | null = null;
	if (tongue.repeats) {
		counts = new Map();
		for (let item = node + 1; item < end; item = tape.after(item)) {
			if (tongue.hidden?.(doc, item)) continue;
			const name = tongue.name(doc, item);
			counts.set(name, (counts.get(name) ?? 0) + 1);
		}
	}
	const seen = new Map<string, number>();
	for (let item = node + 1; item < end; item = tape.after(item)) {
		if (tongue.hidden?.(doc, item)) continue;
		const name = tongue.name(doc, item);
		if (!counts || (counts.get(name) === 1 && !tongue.numbered?.(doc, item))) {
			yield [name, item];
			continue;
		}
		const nth = seen.get(name) ?? 0;
		seen.set(name, nth + 1);
		yield [`${name}[${nth}]`, item];
	}
}

const join = (prefix: string, name: string) =>
	prefix === '' ? name : name.startsWith('[') ? prefix + name : `${prefix}.${name}`;

/** The node that holds the value of a node: itself, or what stands for it; -1 where it holds several. */
function valueNode(doc: Document, node: number, tongue: Tongue): number {
	if (!isHolder(doc.tape, node)) return node;
	return tongue.content?.(doc, node) ?? -1;
}

function collect(doc: Document, node: number, path: string, tongue: Tongue, fields: FieldNode[]): void {
	const { tape } = doc;
	for (const [name, item] of members(doc, node, tongue)) {
		const at = join(path, name);
		const leaf = valueNode(doc, item, tongue);
		if (leaf < 0) {
			collect(doc, item, at, tongue, fields);
			continue;
		}
		const remark = remarkOf(tape, startOf(tape, item), tape.to(item));
		fields.push({
			path: at,
			value: tongue.value(doc, leaf),
			from: tape.from(leaf),
			to: tape.to(leaf),
			...(remark ? { remark } : {})
		});
	}
}

/** All values below a node, by path. */
export function fieldsBelow(doc: Document, node: number, tongue: Tongue): FieldNode[] {
	const fields: FieldNode[] = [];
	if (isHolder(doc.tape, node)) collect(doc, node, '', tongue, fields);
	return fields;
}

/** The node at a path below another, or -1. The empty path is the node itself. */
export function nodeAt(doc: Document, node: number, path: string, tongue: Tongue): number {
	if (path === '') return node;
	let found = -1;
	for (const [name, item] of members(doc, node, tongue)) {
		if (path === name) found = item;
		else if (path.startsWith(name) && isHolder(doc.tape, item)) {
			const rest = path.slice(name.length);
			if (rest.startsWith('.') || rest.startsWith('[')) {
				const below = nodeAt(doc, item, rest.startsWith('.') ? rest.slice(1) : rest, tongue);
				if (below >= 0) found = below;
			}
		}
	}
	return found;
}

/** The node whose items are the records: the root, or the one list or map that the root wraps; -1 for none. */
export function holderOf(tape: Tape, root: number): number {
	if (!isHolder(tape, root)) return -1;
	const all = (node: number, kind: number) => {
		for (let item = node + 1; item < tape.after(node); item = tape.after(item))
			if (tape.kind(item) !== kind) return false;
		return true;
	};
	const isMap = (node: number) => tape.kind(node) === MAP && all(node, MAP);
	const isList = (node: number) => tape.kind(node) === LIST && all(node, MAP);
	if (isList(root)) return root;
	const only = root + 1;
	if (tape.kind(root) === MAP && only < tape.after(root) && tape.after(only) === tape.after(root)) {
		if (isList(only) && tape.after(only) > only + 1) return only;
		if (isList(only) || (isMap(only) && !isMap(root))) return only;
		if (isMap(only) && tape.after(only) > only + 1) return only;
	}
	return isMap(root) ? root : -1;
}

/** The node that holds a record's id: its own name, or a value of it; -1 for none. */
function idNode(doc: Document, node: number, tongue: Tongue): number {
	if (doc.holder < 0) return -1;
	if (tongue.idLeaf) return tongue.idLeaf(doc, node);
	if (doc.named) return doc.tape.keyFrom(node) < 0 ? -1 : node;
	if (doc.key === null) return -1;
	let found = -1;
	for (let item = node + 1; item < doc.tape.after(node); item = doc.tape.after(item)) {
		if (!mayBeNamed(doc, item, doc.key)) continue;
		if (tongue.hidden?.(doc, item) || tongue.name(doc, item) !== doc.key) continue;
		const leaf = valueNode(doc, item, tongue);
		if (leaf >= 0) found = leaf;
	}
	return found;
}

/** Whether a node can have a name at all, by its length: plain words are written as they are. */
function mayBeNamed({ tape, text }: Document, node: number, name: string): boolean {
	const from = tape.keyFrom(node);
	if (from < 0) return true;
	const code = text.charCodeAt(from);
	const letter = (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || code === 95;
	const quote = code === 34 || code === 39 ? 2 : 0;
	const length = tape.keyTo(node) - from - quote;
	return (
		(!letter && quote === 0) ||
		length === name.length ||
		(length > name.length && quote > 0 && text.indexOf('\\', from) < tape.keyTo(node))
	);
}

/** How the records of a tree are read. */
export function treeShape(tongue: Tongue): RecordShape {
	return {
		trail: tongue.trail ?? false,
		idSpan(doc, node) {
			const at = idNode(doc, node, tongue);
			if (at < 0) return null;
			const { tape } = doc;
			return doc.named && !tongue.idLeaf
				? { from: tape.keyFrom(at), to: tape.keyTo(at) }
				: { from: tape.from(at), to: tape.to(at) };
		},
		id(doc, node) {
			if (tongue.idText) return tongue.idText(doc, node);
			const at = idNode(doc, node, tongue);
			if (at < 0) return '';
			return doc.named ? tongue.name(doc, at) : String(tongue.value(doc, at) ?? '');
		},
		fields: (doc, node) => fieldsBelow(doc, node, tongue)
	};
}

function recordsBelow(
	doc: Document,
	root: number,
	tongue: Tongue
): { holder: number; items: number[]; named: boolean } {
	const { tape, hints } = doc;
	const top = tongue.top?.(doc, root) ?? root;
	if (hints.at === null) return { holder: -1, items: [top], named: false };
	const said = hints.at === undefined ? -1 : nodeAt(doc, top, hints.at, tongue);
	if (said >= 0 && isHolder(tape, said)) {
		const items = itemsOf(tape, said).filter((item) => isHolder(tape, item));
		const listed = tongue.repeats && items.length > 0 && items.every((item) => tongue.numbered?.(doc, item));
		return { holder: said, items, named: tape.kind(said) === MAP && !listed };
	}
	if (tongue.records) return tongue.records(doc, root);
	return plainRecords(tape, top);
}

/** The records of a root, told from its shape. */
export function plainRecords(tape: Tape, root: number): { holder: number; items: number[]; named: boolean } {
	const holder = holderOf(tape, root);
	return {
		holder,
		items: holder < 0 ? [root] : itemsOf(tape, holder),
		named: holder >= 0 && tape.kind(holder) === MAP
	};
}

/** The path of the records' holder, as the guide would say it; null where the whole file is one record. */
function pathOfHolder(doc: Document, root: number, tongue: Tongue): string | null | undefined {
	const top = tongue.top?.(doc, root) ?? root;
	if (doc.holder < 0) return null;
	const first = doc.records[0];
	if (first && containing(doc.tape, doc.holder, first.node) !== doc.holder) return undefined;
	if (doc.holder === top) return '';
	for (const [name, item] of members(doc, top, tongue)) if (item === doc.holder) return name;
	return undefined;
}

/** Adds the records below the root to the document. Those that were never closed are left out. */
export function addTreeRecords(doc: Document, root: number, tongue: Tongue): void {
	const { tape, hints } = doc;
	const shape = treeShape(tongue);
	const { holder, items, named } = recordsBelow(doc, root, tongue);
	doc.holder = holder;
	doc.named = named;
	if (!named && holder >= 0) {
		const names = new Set(
			items
				.slice(0, 20)
				.flatMap((item) => itemsOf(tape, item))
				.filter((item) => !tongue.hidden?.(doc, item))
				.map((item) => tongue.name(doc, item))
		);
		doc.key = hints.key ?? KEYS.find((name) => names.has(name)) ?? null;
	}
	items.forEach((item, nth) => {
		if (!tape.broken.has(item)) addRecord(doc, item, nth + 1, shape);
	});
	doc.at = pathOfHolder(doc, root, tongue);
}

const rowItems = (doc: Document, node: number, tongue: Tongue) =>
	itemsOf(doc.tape, node).filter((item) => tongue.inRow?.(doc, item) ?? true);

/** The items of a container as a row in which one can be put in, taken out or moved. */
export function rowOf(doc: Document, node: number, tongue: Tongue): Row {
	const { tape, text } = doc;
	const { from, to, separators, lead } = tongue.inside(doc, node);
	const items = rowItems(doc, node, tongue).map((item) => ({
		from: leadFrom(tape, startOf(tape, item)),
		to: separators ? tape.to(item) : trailTo(tape, tape.to(item))
	}));
	const inner = separators ? { from, to } : { from, to: Math.max(to, items.at(-1)?.to ?? 0) };
	const { comment, touch } = tongue;
	return {
		text,
		items,
		inner,
		separators,
		...(comment ? { comment } : {}),
		...(touch ? { touch } : {}),
		...(lead === undefined ? {} : { lead })
	};
}

/** A path with items named by number. @throws EditRefused */
export function concrete(record: RecordNode, path: string): string {
	const found = concretePath(record.fields, path);
	if (found === undefined) throw new EditRefused(`There is no “${path}” in ${record.id}.`);
	return found;
}

/** The container and the name of the last part of a path. */
function parentOf(doc: Document, record: RecordNode, path: string, tongue: Tongue): [number, string] {
	const cut = Math.max(path.lastIndexOf('.'), path.endsWith(']') ? path.lastIndexOf('[') : -1);
	const parent = cut < 0 ? record.node : nodeAt(doc, record.node, path.slice(0, cut), tongue);
	return [parent, cut < 0 ? path : path.slice(path[cut] === '.' ? cut + 1 : cut)];
}

function insertMember(doc: Document, node: number, name: string, value: string, tongue: Tongue): Splice[] {
	if (tongue.addMember) return tongue.addMember(doc, node, name, value);
	const { tape, text } = doc;
	const items = rowItems(doc, node, tongue);
	const last = items.at(-1);
	const like = last === undefined ? '' : text.slice(tape.keyFrom(last), tape.keyTo(last));
	const between =
		last === undefined || tape.keyFrom(last) < 0 ? '' : text.slice(tape.keyTo(last), tape.from(last));
	const pair = between !== '' && !/[\r\n#]/.test(between) && isLeaf(tape, last!) ? between : tongue.pair;
	const raw = tongue.writeName(doc, name, like) + pair + tongue.writeValue(doc, -1, value, node);
	return insertAt(rowOf(doc, node, tongue), items.length, raw);
}

const isLeaf = (tape: Tape, node: number) => !isHolder(tape, node);

/** Sets a value below a record, or adds it to the map that its path names. @throws EditRefused */
export function setBelow(
	doc: Document,
	record: RecordNode,
	path: string,
	value: string,
	tongue: Tongue
): Splice[] {
	const at = concrete(record, path);
	const node = nodeAt(doc, record.node, at, tongue);
	const { tape } = doc;
	if (node >= 0) {
		const leaf = valueNode(doc, node, tongue);
		if (leaf < 0) throw new EditRefused(`“${path}” holds several values; name one of them.`);
		return [{ from: tape.from(leaf), to: tape.to(leaf), insert: tongue.writeValue(doc, leaf, value, -1) }];
	}
	const [parent, name] = parentOf(doc, record, at, tongue);
	if (parent < 0 || tape.kind(parent) !== MAP || name.startsWith('[') || name === '')
		throw new EditRefused(`“${path}” does not exist here, and there is nothing that could take it.`);
	return insertMember(doc, parent, name, value, tongue);
}

function siblingOf(doc: Document, record: RecordNode, path: string, tongue: Tongue): [number, number] | null {
	const at = concretePath(record.fields, path);
	const node = at === undefined ? -1 : nodeAt(doc, record.node, at, tongue);
	if (node < 0 || node === record.node) return null;
	return [containing(doc.tape, record.node, node), node];
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

/** Takes a value (or all that stands below the path) out. @throws EditRefused */
export function unsetBelow(doc: Document, record: RecordNode, path: string, tongue: Tongue): Splice[] {
	const place = siblingOf(doc, record, path, tongue);
	if (!place) return [];
	const own = tongue.dropNode?.(doc, place[1]);
	if (own) return own;
	return removeAt(rowOf(doc, place[0], tongue), rowItems(doc, place[0], tongue).indexOf(place[1]));
}

/** Writes another name for a value below a record. @throws EditRefused */
export function renameBelow(
	doc: Document,
	record: RecordNode,
	path: string,
	name: string,
	tongue: Tongue
): Splice[] {
	const node = nodeAt(doc, record.node, concrete(record, path), tongue);
	const { tape } = doc;
	if (node < 0) throw new EditRefused(`There is no “${path}” in ${record.id}.`);
	if (tape.keyFrom(node) < 0 || tape.kind(containing(tape, record.node, node)) === LIST)
		throw new EditRefused(`“${path}” is an item of a list and has no name.`);
	return renameNode(doc, node, name, tongue);
}

function renameNode(doc: Document, node: number, name: string, tongue: Tongue): Splice[] {
	const { tape, text } = doc;
	const [from, to] = [tape.keyFrom(node), tape.keyTo(node)];
	return (
		tongue.renameNode?.(doc, node, name) ?? [
			{ from, to, insert: tongue.writeName(doc, name, text.slice(from, to)) }
		]
	);
}

/** Writes another id for a record. @throws EditRefused where none is written */
export function renameRecordBelow(doc: Document, record: RecordNode, id: string, tongue: Tongue): Splice[] {
	const node = record.idSpan ? idNode(doc, record.node, tongue) : -1;
	if (node < 0) throw new EditRefused('This record has no written id.');
	if (doc.named && !tongue.idLeaf) return renameNode(doc, node, id, tongue);
	const { tape } = doc;
	return [{ from: tape.from(node), to: tape.to(node), insert: tongue.writeValue(doc, node, id, -1) }];
}

function listAt(doc: Document, record: RecordNode, path: string, tongue: Tongue): number {
	const at = concrete(record, path);
	const node = nodeAt(doc, record.node, at, tongue);
	if (node < 0 || !isList(doc, node, tongue)) throw new EditRefused(`“${path}” is no list in ${record.id}.`);
	return node;
}

const outside = (path: string, count: number, at: number) =>
	new EditRefused(`“${path}” has ${count} items; there is none with number ${at + 1}.`);

/** Items of one name in a map that repeats names. */
function repeated(doc: Document, record: RecordNode, path: string, tongue: Tongue): [Row, number[]] | null {
	if (!tongue.repeats) return null;
	const [parent, name] = parentOf(doc, record, concrete(record, path), tongue);
	if (parent < 0 || doc.tape.kind(parent) !== MAP) return null;
	const all = rowItems(doc, parent, tongue);
	const same = all.filter((item) => !tongue.hidden?.(doc, item) && tongue.name(doc, item) === name);
	if (same.length === 0) return null;
	const row = rowOf(doc, parent, tongue);
	return [{ ...row, items: same.map((item) => row.items[all.indexOf(item)]!) }, same];
}

const isList = ({ tape }: Document, node: number, tongue: Tongue) =>
	tape.kind(node) === LIST ||
	(tongue.emptyIsList === true && isHolder(tape, node) && tape.after(node) === node + 1);

/** The items of a list of a record, as a row and as nodes. @throws EditRefused */
function listRow(doc: Document, record: RecordNode, list: string, tongue: Tongue): [Row, number[]] {
	const many = repeated(doc, record, list, tongue);
	if (many && !(many[1].length === 1 && isList(doc, many[1][0]!, tongue))) return many;
	const node = listAt(doc, record, list, tongue);
	return [rowOf(doc, node, tongue), itemsOf(doc.tape, node)];
}

/** Puts an item into a list. @throws EditRefused */
export function insertItemBelow(
	doc: Document,
	record: RecordNode,
	list: string,
	at: number,
	item: NewItem,
	tongue: Tongue
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, tongue);
	if (at < 0 || at > nodes.length) throw outside(list, nodes.length, at);
	const { tape, text } = doc;
	const like = nodes['copyOf' in item ? item.copyOf : Math.min(at, nodes.length - 1)];
	if ('copyOf' in item) {
		if (like === undefined) throw outside(list, nodes.length, item.copyOf);
		return insertAt(row, at, text.slice(startOf(tape, like), tape.to(like)));
	}
	const leaf = like === undefined ? -1 : valueNode(doc, like, tongue);
	if (like !== undefined && leaf < 0)
		throw new EditRefused(`The items of “${list}” hold several values; put a copy of one in and change it.`);
	const head =
		like === undefined ? (tongue.itemHead ?? '') : text.slice(startOf(tape, like), tape.from(leaf));
	const tail = like === undefined ? '' : text.slice(tape.to(leaf), tape.to(like));
	return insertAt(row, at, head + tongue.writeValue(doc, leaf, item.value, -1) + tail);
}

/** Takes an item out of a list. @throws EditRefused */
export function removeItemBelow(
	doc: Document,
	record: RecordNode,
	list: string,
	at: number,
	tongue: Tongue
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, tongue);
	if (at < 0 || at >= nodes.length) throw outside(list, nodes.length, at);
	return removeAt(row, at);
}

/** Moves an item of a list. @throws EditRefused */
export function moveItemBelow(
	doc: Document,
	record: RecordNode,
	list: string,
	at: number,
	to: number,
	tongue: Tongue
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, tongue);
	for (const place of [at, to])
		if (place < 0 || place >= nodes.length) throw outside(list, nodes.length, place);
	return moveTo(row, at, to);
}

/** The row of the records, and the number of one in it. @throws EditRefused where the file is one record */
function recordRow(doc: Document, record: RecordNode, tongue: Tongue): [Row, number] {
	if (doc.holder < 0) throw new EditRefused('The whole file is one record; it cannot be taken out or moved.');
	const holder = containing(doc.tape, doc.holder, record.node);
	return [rowOf(doc, holder, tongue), rowItems(doc, holder, tongue).indexOf(record.node)];
}

/** Takes a record out of its map or list. @throws EditRefused */
export function removeRecordBelow(doc: Document, record: RecordNode, tongue: Tongue): Splice[] {
	return removeAt(...recordRow(doc, record, tongue));
}

/** Moves a record among the others; `to` counts records. @throws EditRefused */
export function moveRecordBelow(doc: Document, record: RecordNode, to: number, tongue: Tongue): Splice[] {
	const [row, at] = recordRow(doc, record, tongue);
	const target = doc.records[to];
	if (!target) throw new EditRefused(`There is no place ${to + 1} among the records.`);
	const holder = containing(doc.tape, doc.holder, record.node);
	const place = rowItems(doc, holder, tongue).indexOf(target.node);
	if (place < 0) throw new EditRefused('That place belongs to another list of the file.');
	return moveTo(row, at, place);
}

/** Puts a copy of a record behind the last one of another document. @throws EditRefused */
export function insertRecordBelow(
	doc: Document,
	source: Document,
	record: RecordNode,
	tongue: Tongue
): Splice[] {
	if (doc.holder < 0) throw new EditRefused('There is no place for a record in this file.');
	const last = doc.records.at(-1);
	if (last && doc.named !== source.named)
		throw new EditRefused('One file holds a list and the other a map; the record does not fit.');
	const holder = last ? containing(doc.tape, doc.holder, last.node) : doc.holder;
	const row = rowOf(doc, holder, tongue);
	const count = last ? rowItems(doc, holder, tongue).indexOf(last.node) + 1 : row.items.length;
	const eol = toEol(/[\r\n]/.test(doc.text) ? doc.text : source.text);
	const from = indentAt(source.text, record.from);
	const to = row.items[0] ? indentAt(doc.text, row.items[0].from) : from;
	const raw = reindent(
		tongue.copy?.(doc, source, record) ?? source.text.slice(record.from, record.to),
		from,
		to,
		eol
	);
	if (row.items.length > 0) return insertAt(row, count, raw);
	// A file of lines needs nothing around its first record.
	if (doc.tape.keyFrom(holder) < 0 && row.separators === '') return insertLines(doc, raw, 0);
	return insertAt(
		{ ...row, lead: gapBefore(source.text, record.from).replace(/^(\r\n|\n|\r)/, eol) },
		0,
		raw
	);
}

/** The document without its records: everything before the first and behind the last. */
export function blankBelow(doc: Document, tongue: Tongue): string {
	const first = doc.records[0];
	if (doc.holder < 0 || !first) return doc.text;
	const row = rowOf(doc, containing(doc.tape, doc.holder, first.node), tongue);
	const head = doc.text.slice(0, row.items[0]!.from).trimEnd();
	const tail = doc.text.slice(unitEnd(row, row.items.length - 1));
	return head + (/\S/.test(tail) ? tail : '');
}

/** What every tree format does by the same means; the rest is its tongue. */
export function treeFormat(id: FormatId, endings: string[], read: Format['read'], tongue: Tongue): Format {
	return {
		id,
		endings,
		read,
		set: (doc, record, path, value) => setBelow(doc, record, path, value, tongue),
		unset: (doc, record, path) => unsetBelow(doc, record, path, tongue),
		rename: (doc, record, name) => renameRecordBelow(doc, record, name, tongue),
		renameKey: (doc, record, path, name) => renameBelow(doc, record, path, name, tongue),
		insert: (doc, source, record) => insertRecordBelow(doc, source, record, tongue),
		remove: (doc, record) => removeRecordBelow(doc, record, tongue),
		move: (doc, record, to) => moveRecordBelow(doc, record, to, tongue),
		insertItem: (doc, record, list, at, item) => insertItemBelow(doc, record, list, at, item, tongue),
		removeItem: (doc, record, list, at) => removeItemBelow(doc, record, list, at, tongue),
		moveItem: (doc, record, list, at, to) => moveItemBelow(doc, record, list, at, to, tongue),
		blank: (doc) => blankBelow(doc, tongue)
	};
}
