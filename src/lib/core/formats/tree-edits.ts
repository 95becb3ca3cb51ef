// Where in a text of nested maps and lists a member, an item or a record goes, and how it is taken out, moved, renamed.
import { applySplices, type Splice } from '../change';
import { toEol } from '../text';
import { concretePath, EditRefused, type TextDocument, type NewItem, type RecordNode } from './document';
import { insertLines } from './lines';
import { homeOf, partLike } from './parts';
import {
	gapBefore,
	indentAt,
	insertAt,
	moveTo,
	reindent,
	removeAt,
	removeSeveral,
	unitEnd,
	type Row
} from './siblings';
import { itemsOf, leadFrom, LIST, MAP, startOf, type Tape, trailTo } from './tape';
import { unitOf } from './records';
import { containing, idNode, isHolder, nodeAt, valueNode, type Syntax } from './tree';

/** The items of a container that others can be beside. */
export const rowItems = (doc: TextDocument, node: number, syntax: Syntax) =>
	itemsOf(doc.tape, node).filter((item) => syntax.inRow?.(doc, item) ?? true);

/** Where a node ends with the mark that closes it. */
export const endOf = (doc: TextDocument, node: number, syntax: Syntax): number =>
	syntax.endOf?.(doc, node) ?? doc.tape.to(node);

/** The items of a container as a row in which one can be put in, taken out or moved. */
export function rowOf(doc: TextDocument, node: number, syntax: Syntax): Row {
	const { tape, content: text } = doc;
	const { from, to, separators, lead } = syntax.inside(doc, node);
	const items = rowItems(doc, node, syntax).map((item) => ({
		from: leadFrom(tape, startOf(tape, item)),
		to: separators ? endOf(doc, item, syntax) : trailTo(tape, endOf(doc, item, syntax))
	}));
	const inner = separators ? { from, to } : { from, to: Math.max(to, items.at(-1)?.to ?? 0) };
	const { comment, touch } = syntax;
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
export function parentOf(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	syntax: Syntax
): [number, string] {
	const cut = Math.max(path.lastIndexOf('.'), path.endsWith(']') ? path.lastIndexOf('[') : -1);
	const parent = cut < 0 ? record.node : nodeAt(doc, record.node, path.slice(0, cut), syntax);
	if (parent < 0 && syntax.namesWithin && path[cut] === '.') {
		const outer = path.lastIndexOf('.', cut - 1);
		const above = outer < 0 ? record.node : nodeAt(doc, record.node, path.slice(0, outer), syntax);
		return [above, path.slice(outer + 1)];
	}
	return [parent, cut < 0 ? path : path.slice(path[cut] === '.' ? cut + 1 : cut)];
}

function insertMember(
	doc: TextDocument,
	node: number,
	name: string,
	value: string,
	syntax: Syntax
): Splice[] {
	if (syntax.addMember) return syntax.addMember(doc, node, name, value);
	const { tape, content: text } = doc;
	const items = rowItems(doc, node, syntax);
	const last = items.at(-1);
	const like = last === undefined ? '' : text.slice(tape.keyFrom(last), tape.keyTo(last));
	const between =
		last === undefined || tape.keyFrom(last) < 0 ? '' : text.slice(tape.keyTo(last), tape.from(last));
	// A line without the mark between name and value is of another sort than what is written here.
	const alike = between.trim() !== '' || syntax.pair.trim() === '';
	const pair =
		between !== '' && alike && !/[\r\n#]/.test(between) && isLeaf(tape, last!) ? between : syntax.pair;
	const raw = syntax.writeName(doc, name, like) + pair + syntax.writeValue(doc, -1, value, node);
	return insertAt(rowOf(doc, node, syntax), items.length, raw);
}

const isLeaf = (tape: Tape, node: number) => !isHolder(tape, node);

/** Sets a value below a record, or adds it to the map that its path names. @throws EditRefused */
export function setBelow(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	value: string,
	syntax: Syntax
): Splice[] {
	const at = concrete(record, path);
	const node = nodeAt(doc, record.node, at, syntax);
	const { tape } = doc;
	if (node >= 0) {
		const leaf = valueNode(doc, node, syntax);
		if (leaf < 0) throw new EditRefused(`“${path}” holds several values; name one of them.`);
		return [{ from: tape.from(leaf), to: tape.to(leaf), insert: syntax.writeValue(doc, leaf, value, -1) }];
	}
	const [parent, name] = parentOf(doc, record, at, syntax);
	if (parent < 0 || tape.kind(parent) !== MAP || name.startsWith('[') || name === '')
		throw new EditRefused(`“${path}” does not exist here, and there is nothing that could take it.`);
	return insertMember(doc, parent, name, value, syntax);
}

function siblingOf(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	syntax: Syntax
): [number, number] | null {
	const at = concretePath(record.fields, path);
	const node = at === undefined ? -1 : nodeAt(doc, record.node, at, syntax);
	if (node < 0 || node === record.node) return null;
	return [containing(doc.tape, record.node, node), node];
}

/** What stands under names with two parts, by the first of them: no node holds them all. Null where there is none. */
export function namedWithin(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	syntax: Syntax
): { parent: number; nodes: number[] } | null {
	if (!syntax.namesWithin || nodeAt(doc, record.node, path, syntax) >= 0) return null;
	const [parent, name] = parentOf(doc, record, path, syntax);
	if (parent < 0 || name.includes('.') || doc.tape.kind(parent) !== MAP) return null;
	const nodes = rowItems(doc, parent, syntax).filter((item) => syntax.name(doc, item).startsWith(`${name}.`));
	return nodes.length === 0 ? null : { parent, nodes };
}

/** Takes a value (or all that is below the path) out. @throws EditRefused */
export function unsetBelow(doc: TextDocument, record: RecordNode, path: string, syntax: Syntax): Splice[] {
	const place = siblingOf(doc, record, path, syntax);
	if (!place) {
		const at = concretePath(record.fields, path);
		const several = at === undefined ? null : namedWithin(doc, record, at, syntax);
		if (!several) return [];
		const items = rowItems(doc, several.parent, syntax);
		return removeSeveral(
			rowOf(doc, several.parent, syntax),
			several.nodes.map((node) => items.indexOf(node))
		);
	}
	const own = syntax.dropNode?.(doc, place[1]);
	if (own) return own;
	return removeAt(rowOf(doc, place[0], syntax), rowItems(doc, place[0], syntax).indexOf(place[1]));
}

/** Writes another name for a value below a record. @throws EditRefused */
export function renameBelow(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	name: string,
	syntax: Syntax
): Splice[] {
	const node = nodeAt(doc, record.node, concrete(record, path), syntax);
	const { tape } = doc;
	if (node < 0) throw new EditRefused(`There is no “${path}” in ${record.id}.`);
	if (node === record.node)
		throw new EditRefused('This value has no name of its own; rename the record itself.');
	if (tape.keyFrom(node) < 0 || tape.kind(containing(tape, record.node, node)) === LIST)
		throw new EditRefused(`“${path}” is an item of a list and has no name.`);
	return renameNode(doc, node, name, syntax);
}

function renameNode(doc: TextDocument, node: number, name: string, syntax: Syntax): Splice[] {
	const { tape, content: text } = doc;
	const [from, to] = [tape.keyFrom(node), tape.keyTo(node)];
	return (
		syntax.renameNode?.(doc, node, name) ?? [
			{ from, to, insert: syntax.writeName(doc, name, text.slice(from, to)) }
		]
	);
}

/** Writes another id for a record. @throws EditRefused where none is written */
export function renameRecordBelow(
	whole: TextDocument,
	record: RecordNode,
	id: string,
	syntax: Syntax
): Splice[] {
	const doc = homeOf(whole, record);
	const node = record.idSpan ? idNode(doc, record.node, syntax) : -1;
	if (node < 0) throw new EditRefused('This record has no written id.');
	if (doc.named && syntax.idLeaf?.(doc, record.node) === undefined) return renameNode(doc, node, id, syntax);
	const { tape } = doc;
	return [{ from: tape.from(node), to: tape.to(node), insert: syntax.writeValue(doc, node, id, -1) }];
}

function listAt(doc: TextDocument, record: RecordNode, path: string, syntax: Syntax): number {
	const at = concrete(record, path);
	const node = nodeAt(doc, record.node, at, syntax);
	if (node < 0 || !isList(doc, node, syntax))
		throw new EditRefused(`“${path}” is not a list in ${record.id}.`);
	return node;
}

const outside = (path: string, count: number, at: number) =>
	new EditRefused(`“${path}” has ${count} items; there is no item ${at + 1}.`);

/** Items of one name in a map that repeats names. */
function repeated(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	syntax: Syntax
): [Row, number[]] | null {
	if (!syntax.repeats) return null;
	const [parent, name] = parentOf(doc, record, concrete(record, path), syntax);
	if (parent < 0 || doc.tape.kind(parent) !== MAP) return null;
	const all = rowItems(doc, parent, syntax);
	const same = all.filter((item) => !syntax.hidden?.(doc, item) && syntax.name(doc, item) === name);
	if (same.length === 0) return null;
	const row = rowOf(doc, parent, syntax);
	return [{ ...row, items: same.map((item) => row.items[all.indexOf(item)]!) }, same];
}

const isList = ({ tape }: TextDocument, node: number, syntax: Syntax) =>
	tape.kind(node) === LIST ||
	(syntax.emptyIsList === true && isHolder(tape, node) && tape.after(node) === node + 1);

/** The items of a list of a record, as a row and as nodes. @throws EditRefused */
function listRow(doc: TextDocument, record: RecordNode, list: string, syntax: Syntax): [Row, number[]] {
	const many = repeated(doc, record, list, syntax);
	const [only] = many?.[1] ?? [];
	const itself = many?.[1].length === 1 && isList(doc, only!, syntax) && !syntax.numbered?.(doc, only!);
	if (many && !itself) return many;
	const node = listAt(doc, record, list, syntax);
	return [rowOf(doc, node, syntax), itemsOf(doc.tape, node)];
}

/** Puts an item into a list. @throws EditRefused */
export function insertItemBelow(
	doc: TextDocument,
	record: RecordNode,
	list: string,
	at: number,
	item: NewItem,
	syntax: Syntax
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, syntax);
	if (at < 0 || at > nodes.length) throw outside(list, nodes.length, at);
	const { tape, content: text } = doc;
	const like = nodes['copyOf' in item ? item.copyOf : Math.min(at, nodes.length - 1)];
	if ('copyOf' in item) {
		if (like === undefined) throw outside(list, nodes.length, item.copyOf);
		return insertAt(row, at, text.slice(startOf(tape, like), endOf(doc, like, syntax)));
	}
	const leaf = like === undefined ? -1 : valueNode(doc, like, syntax);
	if (like !== undefined && leaf < 0)
		throw new EditRefused(`The items of “${list}” hold several values; put a copy of one in and change it.`);
	const head = like === undefined ? '' : text.slice(startOf(tape, like), tape.from(leaf));
	const tail = like === undefined ? '' : text.slice(tape.to(leaf), endOf(doc, like, syntax));
	return insertAt(row, at, head + syntax.writeValue(doc, leaf, item.value, -1) + tail);
}

/** Takes an item out of a list. @throws EditRefused */
export function removeItemBelow(
	doc: TextDocument,
	record: RecordNode,
	list: string,
	at: number,
	syntax: Syntax
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, syntax);
	if (at < 0 || at >= nodes.length) throw outside(list, nodes.length, at);
	return removeAt(row, at);
}

/** Moves an item of a list. @throws EditRefused */
export function moveItemBelow(
	doc: TextDocument,
	record: RecordNode,
	list: string,
	at: number,
	to: number,
	syntax: Syntax
): Splice[] {
	const [row, nodes] = listRow(doc, record, list, syntax);
	for (const place of [at, to])
		if (place < 0 || place >= nodes.length) throw outside(list, nodes.length, place);
	return moveTo(row, at, to);
}

/** The row of the records, and the number of one in it. @throws EditRefused where the file is one record */
function recordRow(whole: TextDocument, record: RecordNode, syntax: Syntax): [Row, number] {
	const doc = homeOf(whole, record);
	if (doc.holder < 0) throw new EditRefused('The whole file is one record; it cannot be removed or moved.');
	const unit = unitOf(doc, record.node);
	const holder = containing(doc.tape, doc.holder, unit);
	return [rowOf(doc, holder, syntax), rowItems(doc, holder, syntax).indexOf(unit)];
}

/** Takes a record out of its map or list. @throws EditRefused */
export function removeRecordBelow(doc: TextDocument, record: RecordNode, syntax: Syntax): Splice[] {
	return removeAt(...recordRow(doc, record, syntax));
}

/** Moves a record among the others; `to` counts records. @throws EditRefused */
export function moveRecordBelow(
	whole: TextDocument,
	record: RecordNode,
	to: number,
	syntax: Syntax
): Splice[] {
	const doc = homeOf(whole, record);
	const [row, at] = recordRow(doc, record, syntax);
	const target = doc.records[to];
	if (!target) throw new EditRefused(`There is no place ${to + 1} among the records.`);
	const holder = containing(doc.tape, doc.holder, unitOf(doc, record.node));
	const place = rowItems(doc, holder, syntax).indexOf(unitOf(doc, target.node));
	if (place < 0) throw new EditRefused('That place belongs to another list of the file.');
	return moveTo(row, at, place);
}

/** Whether an offset is inside a value of a record. */
function isInValue({ tape }: TextDocument, { node }: RecordNode, at: number): boolean {
	for (let item = node; item < tape.after(node); item++)
		if (!isHolder(tape, item) && tape.from(item) < at && at < tape.to(item)) return true;
	return false;
}

/** Puts a copy of a record behind the last one of another document. @throws EditRefused */
export function insertRecordBelow(
	whole: TextDocument,
	from: TextDocument,
	record: RecordNode,
	syntax: Syntax
): Splice[] {
	const source = homeOf(from, record);
	const doc = partLike(whole, source);
	if (doc.holder < 0) throw new EditRefused('There is no place for a record in this file.');
	const last = doc.records.at(-1);
	if (last && (doc.named !== source.named || (doc.wrapped ?? false) !== (source.wrapped ?? false)))
		throw new EditRefused('One file holds a list and the other a map; the record does not fit.');
	const holder = last ? containing(doc.tape, doc.holder, unitOf(doc, last.node)) : doc.holder;
	const row = rowOf(doc, holder, syntax);
	const count = last ? rowItems(doc, holder, syntax).indexOf(unitOf(doc, last.node)) + 1 : row.items.length;
	const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : source.content);
	const indent = indentAt(source.content, record.from);
	const to = row.items[0] ? indentAt(doc.content, row.items[0].from) : indent;
	const raw = reindent(
		source.content.slice(record.from, record.to),
		indent,
		to,
		eol,
		syntax.indented ? undefined : (at) => isInValue(source, record, record.from + at)
	);
	const inLines = doc.tape.keyFrom(holder) < 0 && row.separators === '';
	if (row.items.length > 0 && (last || !inLines)) return insertAt(row, count, raw);
	// A file of lines needs nothing around its first record.
	if (inLines) return insertLines(doc, raw, 0);
	return insertAt(
		{ ...row, lead: gapBefore(source.content, record.from).replace(/^(\r\n|\n|\r)/, eol) },
		0,
		raw
	);
}

/** The document without its records: everything before the first and behind the last. */
export function blankBelow(doc: TextDocument, syntax: Syntax): string {
	if (doc.parts) return blankParts(doc, syntax);
	const first = doc.records[0];
	if (doc.holder < 0 || !first) return doc.content;
	const holder = containing(doc.tape, doc.holder, unitOf(doc, first.node));
	const row = rowOf(doc, holder, syntax);
	const items = rowItems(doc, holder, syntax);
	// Code before and behind the calls stays: they may need it.
	const loose = syntax.calls === true && row.separators === '';
	const from = loose ? items.indexOf(unitOf(doc, first.node)) : 0;
	const to = loose ? items.indexOf(unitOf(doc, doc.records.at(-1)!.node)) : items.length - 1;
	const head = doc.content.slice(0, row.items[from]!.from).trimEnd();
	const tail = doc.content.slice(unitEnd(row, to < 0 ? items.length - 1 : to));
	return head + (/\S/.test(tail) ? tail : '');
}

/** The same of a document whose records are at several places. */
function blankParts({ content, parts = [] }: TextDocument, syntax: Syntax): string {
	const gone = new Map<number, Splice>();
	for (const part of parts) {
		const doc = part.doc as TextDocument;
		if (doc.holder < 0) continue;
		const inside = new Set<number>();
		for (const { node } of doc.records) {
			if (inside.has(unitOf(doc, node))) continue;
			const holder = containing(doc.tape, doc.holder, unitOf(doc, node));
			for (const item of rowItems(doc, holder, syntax)) inside.add(item);
			const row = rowOf(doc, holder, syntax);
			const from = content.slice(0, row.items[0]!.from).trimEnd().length;
			gone.set(holder, { from, to: unitEnd(row, row.items.length - 1), insert: '' });
		}
	}
	return applySplices(
		content,
		[...gone.values()].sort((a, b) => a.from - b.from)
	);
}
