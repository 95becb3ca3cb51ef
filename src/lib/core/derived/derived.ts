// Files of a mod that are made from its others: lists of files, with their digests or without, and counts. What is there
// is followed: only the lines that are wrong change, and new ones come where the order of the list has them.
import { md5, sha1 } from '@noble/hashes/legacy.js';
import { sha256, sha512 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { matchPath, type DerivedGuide, type Guide } from '../guide';
import { decode, encode, Unwritable, type TextFile } from '../text';

/** What derived files are made from. */
export interface Sources {
	/** The files of my mod, by their paths. */
	mine: ReadonlyMap<string, Uint8Array>;
	/** The file that the layers below have under a path. */
	below: (path: string) => Uint8Array | undefined;
	/** All paths that they have. */
	belowPaths: ReadonlySet<string>;
}

const HASHES = { sha256, sha512, sha1, md5 };
/** What a line has where nothing else is said. */
const LINES = { digests: '{digest}  {path}', list: '{path}', count: '{count}' };
/** What may stand in the place of each name. */
const PLACES: Readonly<Record<string, string>> = {
	digest: '[0-9a-fA-F]+',
	path: '.+',
	size: '[0-9]+',
	count: '[0-9]+'
};

/** How a line is read and written. */
interface Line {
	/** What is in the places of a line; null for a line of another form. */
	read(line: string): Record<string, string> | null;
	write(values: Readonly<Record<string, string>>): string;
}

function lineOf(form: string): Line {
	const names: string[] = [];
	const source = form
		.split(/\{(\w+)\}/)
		.map((part, nth) => {
			if (nth % 2 === 0) return part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
			if (!PLACES[part]) return `\\{${part}\\}`;
			names.push(part);
			return `(${PLACES[part]})`;
		})
		.join('');
	const pattern = new RegExp(`^${source}$`);
	return {
		read(line) {
			const found = pattern.exec(line);
			return found && Object.fromEntries(names.map((name, nth) => [name, found[nth + 1]!]));
		},
		write: (values) => form.replace(/\{(\w+)\}/g, (whole, name: string) => values[name] ?? whole)
	};
}

/** Whether a path is one of those that a file is made from. */
const isSource = ({ file, from }: DerivedGuide, path: string): boolean =>
	path !== file && from.some((glob) => matchPath(glob, path));

/** Lines with their ends, as they are written. */
const linesOf = (text: string): string[] => text.match(/[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$/g) ?? [];

function followList(
	about: DerivedGuide,
	model: TextFile | undefined,
	sources: Sources,
	all: boolean
): string {
	const { mine, below, belowPaths } = sources;
	const line = lineOf(about.line ?? LINES[about.as as 'digests' | 'list']);
	const wanted = new Set(
		[...mine.keys()].filter(
			(path) => isSource(about, path) && !(about.fresh === true && belowPaths.has(path))
		)
	);
	const lines = linesOf(model?.text ?? '');
	const end = /\r\n|\n|\r/.exec(lines[0] ?? '')?.[0] ?? '\n';
	const valuesOf = (path: string, like?: Record<string, string>) => {
		const bytes = mine.get(path) ?? below(path)!;
		const digest = about.as === 'digests' ? bytesToHex(HASHES[about.digest](bytes)) : '';
		const isUpper = like?.digest !== undefined && /[A-F]/.test(like.digest) && !/[a-f]/.test(like.digest);
		return { path, size: String(bytes.length), digest: isUpper ? digest.toUpperCase() : digest };
	};
	const seen = new Set<string>();
	const kept: { text: string; path: string | null }[] = [];
	let like: Record<string, string> | undefined;
	for (const whole of lines) {
		const [, bare = '', ending = ''] = /^(.*?)(\r\n|\n|\r)?$/s.exec(whole)!;
		const read = line.read(bare);
		const path = read?.path;
		if (read === null || path === undefined) {
			kept.push({ text: whole, path: null });
			continue;
		}
		like ??= read;
		seen.add(path);
		if (wanted.has(path)) kept.push({ text: line.write(valuesOf(path, read)) + ending, path });
		// What is not mine stays as it is listed, as long as somebody has it.
		else if (all && belowPaths.has(path)) kept.push({ text: whole, path });
	}
	const listed = kept.flatMap(({ path }) => path ?? []);
	const isSorted = listed.every((path, nth) => nth === 0 || listed[nth - 1]! < path);
	for (const path of [...wanted].filter((one) => !seen.has(one)).sort()) {
		const text = line.write(valuesOf(path, like)) + end;
		const before = isSorted ? kept.findIndex((one) => one.path !== null && one.path > path) : -1;
		const last = kept.findLastIndex((one) => one.path !== null);
		const at = before >= 0 ? before : last >= 0 ? last + 1 : kept.length;
		// A last line without an end gets one when something follows it.
		const previous = kept[at - 1];
		if (previous && !/[\r\n]$/.test(previous.text)) previous.text += end;
		kept.splice(at, 0, { text, path });
	}
	return kept.map(({ text }) => text).join('');
}

function followCount(
	about: DerivedGuide,
	model: TextFile | undefined,
	sources: Sources,
	all: boolean
): string {
	const paths = new Set([...sources.mine.keys(), ...(all ? sources.belowPaths : [])]);
	const count = String([...paths].filter((path) => isSource(about, path)).length);
	const line = lineOf(about.line ?? LINES.count);
	if (!model) return `${line.write({ count })}\n`;
	let done = false;
	return linesOf(model.text)
		.map((whole) => {
			const [, bare = '', ending = ''] = /^(.*?)(\r\n|\n|\r)?$/s.exec(whole)!;
			if (done || line.read(bare) === null) return whole;
			done = true;
			return line.write({ count }) + ending;
		})
		.join('');
}

/**
 * The derived files of a mod as they are to be; those that it has and that are right are among them, too. One that
 * neither the mod nor the game has is made where the guide says so.
 * @returns bytes by path
 */
export function derivedFiles(guide: Guide, sources: Sources): Map<string, Uint8Array> {
	const made = new Map<string, Uint8Array>();
	for (const about of guide.derived ?? []) {
		if (about.as === 'cache') continue;
		const all = (about.lists ?? (guide.install?.over === true ? 'all' : 'mine')) === 'all';
		const { mine, below } = sources;
		const own = mine.get(about.file);
		const bytes = own ?? (all ? below(about.file) : undefined);
		if (!bytes && about.always !== true) continue;
		const isTouched = [...mine.keys()].some((path) => isSource(about, path));
		if (!own && !isTouched) continue;
		const model = bytes && decode(bytes);
		// What came before in this list may be a source of what follows.
		const now = { ...sources, mine: new Map([...mine, ...made]) };
		const text =
			about.as === 'count' ? followCount(about, model, now, all) : followList(about, model, now, all);
		if (!own && text === model?.text) continue;
		try {
			made.set(about.file, model ? encode({ ...model, text }) : new TextEncoder().encode(text));
		} catch (fault) {
			// A path that its encoding cannot write is left as it is listed: the mod says nothing false by it.
			if (!(fault instanceof Unwritable)) throw fault;
			if (own) made.set(about.file, own);
		}
	}
	return made;
}
