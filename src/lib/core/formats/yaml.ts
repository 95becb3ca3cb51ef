import type { Splice } from '../change';
import { toEol } from '../text';
import {
	EditRefused,
	isText,
	startDocument,
	type Document,
	type TextDocument,
	type TextFormat,
	type ReadHints,
	type RecordNode,
	type Scalar
} from './document';
import { contentLineEnd } from './lines';
import { indentAt, reindent } from './siblings';
import { itemsOf, MAP, TEXT, trailTo, type Tape } from './tape';
import { addTreeRecords, containing, isHolder, plainRecords, type Syntax } from './tree';
import { treeFormat } from './tree-format';
import { plainValue, scalarText, writeScalar } from './yaml-scalars';
import type { YamlNotes } from './yaml-lines';
import { ALIAS } from './yaml-pieces';
import { scanYaml } from './yaml-scan';

const notes = new WeakMap<Tape, YamlNotes>();

/** What the tape does not say: what aliases stand for. Undefined for documents of other formats. */
export const yamlNotes = (doc: TextDocument): YamlNotes | undefined => notes.get(doc.tape);

/**
 * Where something stands for a list or map that is written elsewhere in the file, by its place in the text: that text.
 * Null where nothing in the file stands for anything else.
 */
export function sharedTexts(doc: Document): Map<number, string> | null {
	if (!isText(doc)) return null;
	const targets = notes.get(doc.tape)?.targets;
	if (!targets || targets.size === 0) return null;
	const found = new Map<number, string>();
	for (const [node, target] of targets)
		if (target >= 0 && isHolder(doc.tape, target)) found.set(doc.tape.from(node), raw(doc, target));
	return found;
}

const raw = ({ tape, content: text }: TextDocument, node: number) =>
	text.slice(tape.from(node), tape.to(node));

function valueOf(doc: TextDocument, node: number): Scalar {
	const kind = doc.tape.kind(node);
	if (kind === ALIAS) {
		const target = notes.get(doc.tape)!.targets.get(node);
		// What an alias stands for is never copied out: a map or list is named, not repeated.
		if (target === undefined || target < 0 || isHolder(doc.tape, target)) return raw(doc, node);
		return valueOf(doc, target);
	}
	const text = scalarText(raw(doc, node), notes.get(doc.tape)!.indents.get(node));
	return kind === TEXT ? text : plainValue(text);
}

/** A name as meant: without `? `, anchor and tag; a name that is itself a map or list stays as written. */
function keyText(raw: string): string {
	const bare = raw
		.replace(/^\?\s+/, '')
		.replace(/^(?:[&!]\S*\s+)+/, '')
		.replace(/^[&!]\S*$/, '');
	if (/^[[{]/.test(bare)) return bare;
	return scalarText(/^["'|>]/.test(bare) ? bare : bare.trim());
}

const isFlowText = (doc: TextDocument, node: number) => /[[{]/.test(doc.content[doc.tape.from(node)] ?? '');

/** A block collection never begins with a bracket, unless its first name does. */
function isFlowNode(doc: TextDocument, node: number): boolean {
	if (!isFlowText(doc, node)) return false;
	const { tape, content: text } = doc;
	return /[\]}]/.test(text[tape.to(node) - 1] ?? '') && tape.keyFrom(node + 1) !== tape.from(node);
}

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => keyText(text.slice(tape.keyFrom(node), tape.keyTo(node))),
	value: valueOf,
	writeName: (doc, name, like) =>
		writeScalar(name, /^["']/.test(like) ? like[0]! : null, true, true, toEol(doc.content)),
	writeValue(doc, node, value, container) {
		const { tape, content: text } = doc;
		const eol = toEol(text);
		if (node < 0) return writeScalar(value, null, false, container >= 0 && isFlowNode(doc, container), eol);
		const flow = isFlowNode(doc, containing(tape, 0, node));
		const old = raw(doc, node);
		const typed = tape.kind(node) === TEXT;
		const style = tape.kind(node) === ALIAS ? null : old;
		const gap = old === '' && /[-:?]/.test(text[tape.from(node) - 1] ?? '') ? ' ' : '';
		return gap + writeScalar(value, style, typed && !/^["'|>]/.test(old), flow, eol);
	},
	pair: ': ',
	inside(doc, node) {
		const { tape } = doc;
		if (node === 0) return { from: 0, to: doc.content.length, separators: '' };
		return isFlowNode(doc, node)
			? { from: tape.from(node) + 1, to: tape.to(node) - 1, separators: ',' }
			: { from: tape.from(node), to: tape.to(node), separators: '' };
	},
	comment(text, at) {
		return text.charCodeAt(at) === 35 ? contentLineEnd(text, at) : -1;
	},
	indented: true,
	wraps: true,
	top: ({ tape }, root) => itemsOf(tape, root)[0] ?? root,
	records(doc, root) {
		const { tape } = doc;
		const docs = itemsOf(tape, root);
		if (docs.length > 1) return { holder: root, items: docs, named: false };
		return plainRecords(tape, docs[0] ?? root);
	}
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('yaml', text, hints);
	notes.set(doc.tape, scanYaml(doc));
	doc.tape.finish();
	if (doc.tape.count > 1) addTreeRecords(doc, 0, syntax);
	else if (text.trim() === '') doc.problem(0, 'The file is empty: there is no data.');
	return doc;
}

const base = treeFormat('yaml', ['yaml', 'yml'], read, syntax, { nested: true });

/** Where the last item of a block collection goes, an empty pair of brackets comes, so that the list is still one. */
function emptied(doc: TextDocument, holder: number): Splice[] {
	const { tape, content: text } = doc;
	const brackets = tape.kind(holder) === MAP ? '{}' : '[]';
	const keyed = hasName(doc, holder);
	let from = tape.from(holder);
	if (keyed) while (from > 0 && /\s/.test(text[from - 1]!)) from--;
	return [{ from, to: trailTo(tape, tape.to(holder)), insert: (keyed ? ' ' : '') + brackets }];
}

/** Whether a collection is after a name; what is in a document by itself may be after its `---`. */
const hasName = ({ tape }: TextDocument, node: number) =>
	tape.keyFrom(node) >= 0 && containing(tape, 0, node) !== 0;

const isLastOfBlock = (doc: TextDocument, holder: number) =>
	holder > 0 && itemsOf(doc.tape, holder).length === 1 && !isFlowNode(doc, holder);

/** A record in lines, put into a pair of brackets that holds nothing yet. */
function fill(doc: TextDocument, source: TextDocument, record: RecordNode): Splice[] {
	const { tape, content: text } = doc;
	const eol = toEol(/[\r\n]/.test(text) ? text : source.content);
	const keyed = hasName(doc, doc.holder);
	let from = tape.from(doc.holder);
	if (keyed) while (from > 0 && text[from - 1] === ' ') from--;
	const own = indentAt(source.content, record.from);
	const wanted = keyed ? own || indentAt(text, tape.keyFrom(doc.holder)) + '  ' : '';
	const body = reindent(source.content.slice(record.from, record.to), own, wanted, eol);
	return [{ from, to: tape.to(doc.holder), insert: (keyed ? eol + wanted : '') + body }];
}

/** YAML 1.2, of one or many documents: a map or a list of maps, else one record for each document. */
export const yaml: TextFormat = {
	...base,
	insert(doc, source, record) {
		const { tape, content: text } = doc;
		const empty = doc.holder > 0 && tape.after(doc.holder) === doc.holder + 1;
		if (empty && !isFlowNode(source, source.holder)) return fill(doc, source, record);
		if (doc.holder === 0 && source.holder === 0) {
			const eol = toEol(text);
			const body = source.content.slice(record.from, record.to);
			const start = body.startsWith('---') || /(^|\n|\r)---/.test(body) ? '' : `---${eol}`;
			const end = doc.records.at(-1)!.to;
			return [{ from: end, to: end, insert: eol + start + body.replace(/\r\n|\n|\r/g, eol) }];
		}
		if (
			(doc.holder > 0 && isFlowNode(doc, doc.holder)) !==
			(source.holder > 0 && isFlowNode(source, source.holder))
		)
			throw new EditRefused(
				'One file writes its records in lines and the other in brackets; the record does not fit.'
			);
		return base.insert(doc, source, record);
	},
	remove(doc, record) {
		return isLastOfBlock(doc, doc.holder) ? emptied(doc, doc.holder) : base.remove(doc, record);
	},
	removeItem(doc, record, list, at) {
		const splices = base.removeItem(doc, record, list, at);
		const node = record.fields.find((field) => field.path.startsWith(`${list}[`));
		const holder = node ? listHolder(doc, record.node, splices[0]!.from) : -1;
		return holder > 0 && isLastOfBlock(doc, holder) ? emptied(doc, holder) : splices;
	},
	unset(doc, record, path) {
		const splices = base.unset(doc, record, path);
		const holder = splices[0] ? listHolder(doc, record.node, splices[0].from) : -1;
		return holder > 0 && isLastOfBlock(doc, holder) ? emptied(doc, holder) : splices;
	},
	blank(doc) {
		const { content: text } = doc;
		if (doc.holder <= 0 || isFlowNode(doc, doc.holder)) return base.blank(doc);
		const [splice] = emptied(doc, doc.holder);
		return text.slice(0, splice!.from) + splice!.insert + text.slice(splice!.to);
	}
};

/** The innermost block collection of which all items are after an offset, below a node. */
function listHolder(doc: TextDocument, root: number, at: number): number {
	const { tape } = doc;
	let found = -1;
	for (let node = root; node < tape.after(root); node++)
		if (isHolder(tape, node) && tape.from(node) - 1 <= at && at <= tape.to(node) && tape.from(node) >= at - 1)
			found = node;
	return found;
}
