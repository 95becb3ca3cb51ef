import { startDocument, type TextDocument, type TextFormat, type ReadHints } from './document';
import { EMPTY, fillEmpty, markup } from './markup';
import { indentAt } from './siblings';
import { itemsOf, MAP } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-edits';
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
