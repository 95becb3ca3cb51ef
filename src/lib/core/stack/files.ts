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
import {
	formatFor,
	isCode,
	linesOf,
	MOST_PROBLEMS,
	readDocument,
	tellFormats,
	tellGiven,
	type Document,
	type ReadHints
} from '../formats';
import { bytesOf, contentOf, type FileContent } from '../change';
import { decode, looksBinary, type Encoding, type TextFile } from '../text';

/** One file of a layer; without facts where it is no text, without a document where it is not read as data. */
export interface LayerFile {
	readonly path: string;
	/** In bytes. */
	readonly size: number;
	readonly facts: Facts | null;
	readonly text: TextFile | null;
	readonly doc: Document | null;
	/** Where no file says it as it is: the patch that makes it, and of what. */
	readonly patched?: {
		/** Path of the patch. */
		by: string;
		over: LayerFile;
		/** Whether that is a file of the same layer. */
		isOwn: boolean;
		/** Digest of what came of it. */
		id: string;
	};
	bytes(): Uint8Array;
}

/** What a file holds, as plans carry it: its text where it is read as one, else its bytes. */
export const fileContent = (file: Pick<LayerFile, 'text' | 'bytes'>): FileContent =>
	file.text ?? file.bytes();

/** All that the reading of a file depends on besides its path and bytes. */
export interface How {
	hints: ReadHints;
	/** The encoding that people or the guide chose, and the one of the same path in a lower layer. */
	chosen?: Encoding | undefined;
	like?: Encoding | undefined;
}

const written = new WeakMap<object, string>();

/** A part of what is said of a reading as text; the same objects say it of many files. */
function asText(said: object): string {
	let known = written.get(said);
	if (known === undefined) written.set(said, (known = JSON.stringify(said)));
	return known;
}

/** All that is said of how a file is read, as texts: the same ones for the same reading. */
export function howAsTexts({ hints, ...others }: How): string[] {
	const { parts, ...whole } = hints;
	const rest = JSON.stringify(others);
	return parts ? [JSON.stringify(whole), ...parts.map(asText), rest] : [asText(hints), rest];
}

/** The same as one text. */
export const howAsText = (how: How): string => howAsTexts(how).join('\n');

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
function isRead(path: string, bytes: Uint8Array, hints: ReadHints): boolean {
	if (bytes.length > LARGEST) return false;
	if (hints.none) return !looksBinary(bytes);
	const format = formatFor(path, hints);
	if (format?.of === 'bytes') return true;
	return (format !== null || isProse(path, bytes.length)) && !looksBinary(bytes);
}

type Told = NonNullable<Facts['told']>;

/** A file that is open: as a text or as bytes, and as data where it is read as such. */
type Opened = [file: FileContent, doc: Document | null, told?: Told];

/** Endings of programs: what in them looks like data is part of something else. */
const PROGRAMS = /\.(?:js|ts|mjs|py|cs|c|h|cpp|hpp|java|rb|sh|bat|ps1|glsl|hlsl|shader|css|md|rst|tex|svg)$/i;

/** How a text is read that no ending and no guide tells of; undefined where it is written for people. */
function toldOf(path: string, text: string): Told | undefined {
	const isScript = /\.[cm]?[jt]s$/i.test(path);
	if ((PROGRAMS.test(path) && !isScript) || !isProse(path, text.length)) return undefined;
	const [best] = isScript ? tellGiven(text) : tellFormats(text);
	return best && { format: best.format, ...(best.layout ? { layout: best.layout } : {}) };
}

/** Whether a path says of a text that it is a table, and it is none. */
const isNoTable = (path: string, text: string, hints: ReadHints): boolean =>
	Object.keys(hints).length === 0 && formatFor(path, hints)?.id === 'tsv' && !text.includes('\t');

/** From which share of lines with faults on a file is not what its ending says, and what it may be then; null for all. */
interface Misread {
	share: number;
	as: readonly string[] | null;
	/** What a file of its ending never has, although it can be read as one. */
	never?: RegExp;
}

const OF_LINES: Misread = { share: 0.5, as: null };
/**
 * Formats of lines, of which a wrong ending leaves nothing but faults. One fault in YAML hides others; what is written
 * much like it is outlines alone. What is in brackets is not taken for another.
 */
const MISREAD: Readonly<Record<string, Misread>> = {
	// Sections that are closed stand in each other.
	ini: { ...OF_LINES, never: /^[ \t]*\[\/[^\]\r\n]+\]/m },
	properties: OF_LINES,
	csv: OF_LINES,
	tsv: OF_LINES,
	yaml: { share: 0.05, as: ['outline'] }
};

/** What an ending says of a text that is plainly something else: many of its lines are faults. Nobody said how it is written. */
function misreadAs(doc: Document | null, text: string, hints: ReadHints): Misread | null {
	const misread = doc ? MISREAD[doc.format] : undefined;
	if (!doc || !misread || Object.keys(hints).length > 0) return null;
	if (misread.never?.test(text)) return misread;
	if (doc.problems.length === 0) return null;
	const lines = linesOf(text).all.length;
	const faults = doc.problems.length >= MOST_PROBLEMS ? lines : doc.problems.length;
	return faults >= lines * misread.share ? misread : null;
}

function openBytes(path: string, bytes: Uint8Array, { hints, chosen, like }: How): Opened {
	const format = hints.none ? null : formatFor(path, hints);
	const file = format?.of === 'bytes' ? bytes : decode(bytes, chosen, like);
	if (file instanceof Uint8Array || (format && !isNoTable(path, file.text, hints))) {
		const doc = readDocument(path, contentOf(file), hints);
		const misread = file instanceof Uint8Array ? null : misreadAs(doc, file.text, hints);
		if (file instanceof Uint8Array || !misread) return [file, doc];
		const told = toldOf(path, file.text);
		return told && told.format !== format!.id && (misread.as?.includes(told.format) ?? true)
			? [file, readDocument(path, file.text, { ...hints, ...told }), told]
			: [file, doc];
	}
	const told = hints.none ? undefined : toldOf(path, file.text);
	return told ? [file, readDocument(path, file.text, { ...hints, ...told }), told] : [file, null];
}

/** How one file is read: what was said of it, and by what is in it where neither that nor its path tells; as in a game. */
export function hintsWithin(path: string, bytes: Uint8Array, hints: ReadHints): ReadHints {
	if (hints.none || looksBinary(bytes)) return hints;
	const [, , told] = openBytes(path, bytes, { hints });
	return told ? { ...hints, ...told } : hints;
}

/** The facts of a text and its document. Scripts and texts that are no data are also known line by line. */
function factsFrom(path: string, ...[text, doc, told]: Opened): LocalFacts {
	if (text instanceof Uint8Array) return factsOf(doc, null);
	const isScript = doc?.format === 'lua' && isCode(text.text);
	const byLine = (doc === null || isScript) && isProse(path, text.text.length);
	const facts = factsOf(doc, lettersOf(text), byLine ? proseOf(text.text) : []);
	return told ? { ...facts, told } : facts;
}

/** Reads a file's facts; null where it is no text. Needs nothing but its arguments: the work of a worker. */
export function readFacts(path: string, bytes: Uint8Array, how: How): LocalFacts | null {
	if (!isRead(path, bytes, how.hints)) return null;
	return factsFrom(path, ...openBytes(path, bytes, how));
}

/** Bytes that open texts and their documents may take at a time, by what they take about for each file and character. */
const MOST_OPEN = 128 * 2 ** 20;
const costOf = (file: FileContent): number => 16_384 + 10 * contentOf(file).length;

/** Files that take more than this are held by themselves, one at a time: they would drive out all others. */
const LARGE = MOST_OPEN / 4;

const opened = new Map<LayerFile, Opened>();
let held = 0;
/** The large file that was asked for last: who edits its records asks for it again and again. */
let large: { file: LayerFile; opened: Opened } | null = null;

function openFile(file: LayerFile, bytes: () => Uint8Array, how: How): Opened {
	if (large?.file === file) return large.opened;
	let found = opened.get(file);
	if (found) opened.delete(file);
	else {
		found = openBytes(file.path, bytes(), how);
		const cost = costOf(found[0]);
		if (cost > LARGE) {
			large = { file, opened: found };
			return found;
		}
		held += cost;
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
	if (large?.file === file) large = null;
	const known = opened.get(file);
	if (!known || !opened.delete(file)) return;
	held -= costOf(known[0]);
}

/** A file of which text and document are made when somebody asks. A class: thousands share their accessors. */
class KeptFile implements LayerFile {
	constructor(
		readonly path: string,
		readonly size: number,
		readonly bytes: () => Uint8Array,
		private readonly how: How,
		readonly facts: Facts | null
	) {}

	get text(): TextFile | null {
		// Facts without letters are those of bytes.
		return this.facts?.letters ? (openFile(this, this.bytes, this.how)[0] as TextFile) : null;
	}

	get doc(): Document | null {
		return this.facts && this.facts.format !== null ? openFile(this, this.bytes, this.how)[1] : null;
	}
}

/** A file of which the bytes can be had when they are needed. `facts` null: it is no text. */
export const fileOf = (
	path: string,
	size: number,
	bytes: () => Uint8Array,
	how: How,
	facts: Facts | null
): LayerFile => new KeptFile(path, size, bytes, how, facts);

/** A file that is open anyway: one that a plan changes. */
export function openFileOf(path: string, file: FileContent, hints: ReadHints, pool: Pool): LayerFile {
	const text = file instanceof Uint8Array ? null : file;
	const size = contentOf(file).length;
	if (!text && !isRead(path, bytesOf(file), hints))
		return { path, size, text, doc: null, facts: null, bytes: () => bytesOf(file) };
	const doc = hints.none ? null : readDocument(path, contentOf(file), hints);
	const facts = settleFacts(factsFrom(path, file, doc), pool);
	return { path, size, text, doc, facts, bytes: () => bytesOf(file) };
}
