import { startDocument, type TextDocument, type TextFormat, type ReadHints } from './document';
import { EMPTY, fillEmpty, markup } from './markup';
import { indentAt } from './siblings';
import { itemsOf, MAP } from './tape';
import { addTreeRecords, containing, type Syntax } from './tree';
import { treeFormat } from './tree-format';
import { scanXml } from './xml-scan';

const KEYS = ['id', 'key', 'name'];

const syntax: Syntax = {
	...markup,
	word: (doc, node) => markup.name(doc, node),
	records(doc, root) {
		const { tape, hints } = doc;
		const elements = itemsOf(tape, root).filter((item) => tape.kind(item) === MAP);
		if (hints.element !== undefined) {
			const items: number[] = [];
			for (let node = root + 1; node < tape.after(root);) {
				const match = tape.kind(node) === MAP && markup.name(doc, node) === hints.element;
				if (match) items.push(node);
				node = match ? tape.after(node) : node + 1;
			}
			return { holder: root, items, named: false };
		}
		const deeper = wrappedIn(doc, root);
		if (deeper) return { holder: root, items: deeper, named: false };
		if (elements.length > 0 && elements.every((item) => markup.content!(doc, item) >= 0))
			return { holder: -1, items: [root], named: false };
		const names = elements.map((item) => markup.name(doc, item));
		const sample = elements.slice(0, 20).flatMap((item) => itemsOf(tape, item));
		const keyed = sample.some((item) => tape.keyFrom(item) >= 0 && KEYS.includes(markup.name(doc, item)));
		const named =
			hints.key === undefined && !keyed && names.length > 1 && new Set(names).size === names.length;
		return { holder: root, items: elements, named };
	}
};

/** Elements of one name from which on they are the records, and what is around them is not. */
const MANY = 5;
/** Elements around the records, one in the other. */
const WRAPPERS = 3;

/** Elements that hold more than one text. */
const structured = (doc: TextDocument, node: number): number[] =>
	itemsOf(doc.tape, node).filter(
		(item) =>
			doc.tape.kind(item) === MAP && itemsOf(doc.tape, item).length > 0 && markup.content!(doc, item) < 0
	);

/** The records where they stand some levels deep, in elements that are there for nothing else; null where they do not. */
function wrappedIn(doc: TextDocument, root: number): number[] | null {
	const { tape } = doc;
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

const base = treeFormat('xml', ['xml'], read, syntax, { untyped: true });

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
