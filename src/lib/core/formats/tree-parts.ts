// Blocks and lists below a record, put in after the model of another record, and moved among their neighbours.
import type { Splice } from '../change';
import { toEol } from '../text';
import { EditRefused, type PartSource, type RecordNode, type TextDocument } from './document';
import { homeOf } from './parts';
import { indentAt, insertAt, moveTo, reindent, type Row } from './siblings';
import { leadFrom, MAP, startOf, trailTo } from './tape';
import { concrete, endOf, namedWithin, parentOf, rowItems, rowOf, setBelow } from './tree-edits';
import { containing, isHolder, nodeAt, type Syntax } from './tree';

/** Whether a node is a value that has no place of its own in its row: an attribute, for example. */
const isLoose = (doc: TextDocument, node: number, syntax: Syntax) =>
	!isHolder(doc.tape, node) && syntax.inRow?.(doc, node) === false;

/** The number in a row at which a part belongs, by the order of the names in the model. */
function placeFor(names: readonly string[], order: readonly string[], at: number): number {
	for (let before = at - 1; before >= 0; before--) {
		const found = names.lastIndexOf(order[before]!);
		if (found >= 0) return found + 1;
	}
	for (let after = at + 1; after < order.length; after++) {
		const found = names.indexOf(order[after]!);
		if (found >= 0) return found;
	}
	return names.length;
}

/** A part as written, with its name and the commentary above it. */
function rawOf(doc: TextDocument, node: number, separated: boolean, syntax: Syntax): [string, string] {
	const { tape, content: text } = doc;
	const end = endOf(doc, node, syntax);
	const from = leadFrom(tape, startOf(tape, node));
	return [text.slice(from, separated ? end : trailTo(tape, end)), columnAt(text, startOf(tape, node))];
}

/** The space before an offset on its line, with as many blanks for whatever else is there (`- a: 1`). */
function columnAt(text: string, at: number): string {
	const start = Math.max(text.lastIndexOf('\n', at - 1), text.lastIndexOf('\r', at - 1)) + 1;
	return text.slice(start, at).replace(/[^\t]/g, ' ');
}

/** The space in which the lines of a row begin: as wide as its first item is in, where that has a line with others. */
function indentOf({ text, items }: Row, otherwise: string): string {
	const [first, second] = items;
	if (!first) return otherwise;
	if (second && /[\r\n]/.test(text.slice(first.to, second.from))) return columnAt(text, second.from);
	const own = columnAt(text, first.from);
	return /^\s*$/.test(text.slice(text.lastIndexOf('\n', first.from - 1) + 1, first.from)) ||
		second === undefined
		? own
		: indentAt(text, first.from);
}

/** Puts a copy of a part of another record under a path that is free, or holds nothing. @throws EditRefused */
export function insertPartBelow(
	whole: TextDocument,
	record: RecordNode,
	path: string,
	source: PartSource<TextDocument>,
	syntax: Syntax
): Splice[] {
	const doc = homeOf(whole, record);
	const model = homeOf(source.doc, source.record);
	const from = concrete(source.record, source.path);
	const node = nodeAt(model, source.record.node, from, syntax);
	const several = node < 0 ? namedWithin(model, source.record, from, syntax) : null;
	if (several) return insertNamed(doc, record, concrete(record, path), model, several, syntax);
	if (node < 0) throw new EditRefused(`${source.record.id} has no “${source.path}”.`);
	const at = concrete(record, path);
	const here = nodeAt(doc, record.node, at, syntax);
	const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : model.content);
	if (here >= 0) {
		const { tape } = doc;
		if (!isHolder(tape, here) || tape.after(here) > here + 1)
			throw new EditRefused(`${record.id} has “${path}” already.`);
		const [raw, indent] = rawOf(model, node, true, syntax);
		const insert = reindent(raw, indent, columnAt(doc.content, startOf(tape, here)), eol);
		return [{ from: startOf(tape, here), to: tape.to(here), insert }];
	}
	if (isLoose(model, node, syntax))
		return setBelow(doc, record, path, String(syntax.value(model, node)), syntax);
	// One of those that share a name is where they do.
	const own = syntax.repeats ? at.replace(/\[\d+\]$/, '') : at;
	const [parent, name] = parentOf(doc, record, own, syntax);
	if (parent < 0 || doc.tape.kind(parent) !== MAP || name.startsWith('[') || name === '')
		throw new EditRefused(`“${path}” does not exist here, and there is nothing that could take it.`);
	const row = rowOf(doc, parent, syntax);
	const [raw, indent] = rawOf(model, node, row.separators !== '', syntax);
	const like = rowItems(model, containing(model.tape, source.record.node, node), syntax);
	const place = placeFor(
		rowItems(doc, parent, syntax).map((item) => syntax.name(doc, item)),
		like.map((item) => syntax.name(model, item)),
		like.indexOf(node)
	);
	return insertAt(row, place, reindent(raw, indent, indentOf(row, indent), eol));
}

/** Puts copies of what stands under names with two parts into the record that has none of that first part. */
function insertNamed(
	doc: TextDocument,
	record: RecordNode,
	path: string,
	model: TextDocument,
	several: { parent: number; nodes: readonly number[] },
	syntax: Syntax
): Splice[] {
	const [parent] = parentOf(doc, record, path, syntax);
	if (parent < 0 || namedWithin(doc, record, path, syntax))
		throw new EditRefused(`${record.id} has “${path}” already.`);
	const eol = toEol(/[\r\n]/.test(doc.content) ? doc.content : model.content);
	const row = rowOf(doc, parent, syntax);
	const like = rowItems(model, several.parent, syntax);
	const place = placeFor(
		rowItems(doc, parent, syntax).map((item) => syntax.name(doc, item)),
		like.map((item) => syntax.name(model, item)),
		like.indexOf(several.nodes[0]!)
	);
	return several.nodes.flatMap((node) => {
		const [raw, indent] = rawOf(model, node, row.separators !== '', syntax);
		return insertAt(row, place, reindent(raw, indent, indentOf(row, indent), eol));
	});
}

/** Moves a part to the place of another one beside it. @throws EditRefused */
export function movePartBelow(
	whole: TextDocument,
	record: RecordNode,
	path: string,
	beside: string,
	syntax: Syntax
): Splice[] {
	const doc = homeOf(whole, record);
	const [node, other] = [path, beside].map((one) =>
		nodeAt(doc, record.node, concrete(record, one), syntax)
	) as [number, number];
	if (node < 0 || other < 0)
		throw new EditRefused(`There is no “${node < 0 ? path : beside}” in ${record.id}.`);
	const holder = containing(doc.tape, record.node, node);
	const items = rowItems(doc, holder, syntax);
	const [from, to] = [items.indexOf(node), items.indexOf(other)];
	if (from < 0 || to < 0 || containing(doc.tape, record.node, other) !== holder)
		throw new EditRefused(`“${path}” and “${beside}” do not stand beside each other.`);
	return moveTo(rowOf(doc, holder, syntax), from, to);
}
