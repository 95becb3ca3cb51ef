// Files of a layer: their facts are kept, text and document are made from the bytes when somebody asks.
import {
	factsOf,
	isProse,
	proseOf,
	settleFacts,
	type Facts,
	type Letters,
	type LocalFacts,
	type Pool
} from '../facts';
import { formatFor, readDocument, type Document, type ReadHints } from '../formats';
import { decode, encode, looksBinary, type Encoding, type TextFile } from '../text';

/** One file of a layer; without facts where it is no text, without a document where it is not read as data. */
export interface LayerFile {
	readonly path: string;
	/** In bytes. */
	readonly size: number;
	readonly facts: Facts | null;
	readonly text: TextFile | null;
	readonly doc: Document | null;
	bytes(): Uint8Array;
}

/** A file as a text whatever it is: bytes that are no text stand for one letter each, so that plans can carry them. */
export const asText = (file: Pick<LayerFile, 'text' | 'bytes'>): TextFile =>
	file.text ?? decode(file.bytes(), 'iso-8859-1');

/** All that the reading of a file depends on besides its path and bytes. */
export interface How {
	hints: ReadHints;
	/** The encoding that people or the guide chose, and the one of the same path in a lower layer. */
	chosen?: Encoding | undefined;
	like?: Encoding | undefined;
}

/** Texts larger than this (bytes) are kept but not opened as tables. */
const LARGEST = 64 * 1024 * 1024;

const lettersOf = ({ encoding, bom, eol, told, confidence }: TextFile): Letters => ({
	encoding,
	bom,
	eol,
	told,
	confidence
});

/** Whether a file is read at all: as data, or as a text that is no data. */
const isRead = (path: string, bytes: Uint8Array, hints: ReadHints): boolean =>
	bytes.length <= LARGEST &&
	(formatFor(path, hints) !== null || isProse(path, bytes.length)) &&
	!looksBinary(bytes);

function openText(
	path: string,
	bytes: Uint8Array,
	{ hints, chosen, like }: How
): [TextFile, Document | null] {
	const text = decode(bytes, chosen, like);
	return [text, readDocument(path, text.text, hints)];
}

/** Whether a Lua file holds more than tables: a call, a condition, a loop, a function. What stands in comments and texts counts too. */
const doesSomething = (text: string): boolean =>
	/\b(?:function|if|for|while|repeat)\b|[\w\])]\s*\(/.test(text);

/** The facts of a text and its document. Scripts and texts that are no data are also known line by line. */
function factsFrom(path: string, text: TextFile, doc: Document | null): LocalFacts {
	const isScript = doc?.format === 'lua' && doesSomething(text.text);
	const byLine = (doc === null || isScript) && isProse(path, text.text.length);
	return factsOf(doc, lettersOf(text), byLine ? proseOf(text.text) : []);
}

/** Reads a file's facts; null where it is no text. Needs nothing but its arguments: the work of a worker. */
export function readFacts(path: string, bytes: Uint8Array, how: How): LocalFacts | null {
	if (!isRead(path, bytes, how.hints)) return null;
	return factsFrom(path, ...openText(path, bytes, how));
}

/** Bytes that open texts and their documents may take at a time, by what they take about for each file and character. */
const MOST_OPEN = 128 * 2 ** 20;
const costOf = ({ text }: TextFile): number => 16_384 + 10 * text.length;

const opened = new Map<LayerFile, [TextFile, Document | null]>();
let held = 0;

function openFile(file: LayerFile, bytes: () => Uint8Array, how: How): [TextFile, Document | null] {
	let found = opened.get(file);
	if (found) opened.delete(file);
	else {
		found = openText(file.path, bytes(), how);
		held += costOf(found[0]);
	}
	opened.set(file, found);
	for (const [old, [text]] of opened) {
		if (held <= MOST_OPEN || old === file) break;
		opened.delete(old);
		held -= costOf(text);
	}
	return found;
}

/** Closes a file that another version took the place of: whoever still asks for its text opens it again. */
export function closeFile(file: LayerFile): void {
	const known = opened.get(file);
	if (!known || !opened.delete(file)) return;
	held -= costOf(known[0]);
}

/** A file of which the bytes can be had when they are needed. `facts` null: it is no text. */
export function fileOf(
	path: string,
	size: number,
	bytes: () => Uint8Array,
	how: How,
	facts: Facts | null
): LayerFile {
	const file: LayerFile = {
		path,
		size,
		facts,
		bytes,
		get text() {
			return facts && openFile(file, bytes, how)[0];
		},
		get doc() {
			return facts && facts.format !== null ? openFile(file, bytes, how)[1] : null;
		}
	};
	return file;
}

/** A file that is open anyway: one that a plan changes. */
export function openFileOf(path: string, text: TextFile, hints: ReadHints, pool: Pool): LayerFile {
	const doc = readDocument(path, text.text, hints);
	const facts = settleFacts(factsFrom(path, text, doc), pool);
	return { path, size: text.text.length, text, doc, facts, bytes: () => encode(text) };
}
