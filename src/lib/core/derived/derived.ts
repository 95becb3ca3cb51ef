// Files of a mod that are made from its others: lists of files, with their digests or without, counts, and indexes of
// records. What is there is followed: only the lines that are wrong change, and new ones come where the order of the
// list has them.
import { md5, sha1 } from '@noble/hashes/legacy.js';
import { sha256, sha512 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { EditRefused, formatFor } from '../formats';
import { encodingFor, hintsFor, matchPath, type DerivedGuide, type Guide } from '../guide';
import { decode, encode, Unwritable, type TextFile } from '../text';
import { followCopy } from './copy';
import { recordsIn } from './records';

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
const LINES = { digests: '{digest}  {path}', list: '{path}', count: '{count}', index: '{id}' };
/** What may stand in the place of each name; a field of a record is `{field:NAME}`. */
const PLACES: Readonly<Record<string, string>> = {
	digest: '[0-9a-fA-F]+',
	path: '.+',
	size: '[0-9]+',
	count: '[0-9]+',
	id: '.+',
	kind: '.+',
	line: '[0-9]+'
};
const FIELD = 'field:';
const placeOf = (name: string): string | undefined => (name.startsWith(FIELD) ? '.*' : PLACES[name]);

/** How a line is read and written. */
interface Line {
	/** What is in the places of a line; null for a line of another form. */
	read(line: string): Record<string, string> | null;
	write(values: Readonly<Record<string, string>>): string;
}

function lineOf(form: string): Line {
	const names: string[] = [];
	const source = form
		.split(/\{([^{}]+)\}/)
		.map((part, nth) => {
			if (nth % 2 === 0) return part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
			const place = placeOf(part);
			if (place === undefined) return `\\{${part}\\}`;
			names.push(part);
			return `(${place})`;
		})
		.join('');
	const pattern = new RegExp(`^${source}$`);
	return {
		read(line) {
			const found = pattern.exec(line);
			return found && Object.fromEntries(names.map((name, nth) => [name, found[nth + 1]!]));
		},
		write: (values) =>
			form.replace(/\{([^{}]+)\}/g, (whole, name: string) =>
				placeOf(name) === undefined ? whole : (values[name] ?? '')
			)
	};
}

/** Whether a path is one of those that a file is made from. */
const isSource = ({ file, from }: DerivedGuide, path: string): boolean =>
	path !== file && from.some((glob) => matchPath(glob, path));

/** Lines with their ends, as they are written. */
const linesOf = (text: string): string[] => text.match(/[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$/g) ?? [];

/** What a list is to have. */
interface Wanted {
	/** What tells a line from another; undefined for one that is of another form. */
	keyOf: (read: Readonly<Record<string, string>>) => string | undefined;
	/** What a line of a key has, written like one that is there. */
	lines: ReadonlyMap<string, (like?: Readonly<Record<string, string>>) => Record<string, string>>;
	/** Whether a line that is not mine stays as it is. */
	stays: (key: string) => boolean;
}

/** A list with its lines put right: what is right stays, and what is new comes where its order has it. */
function follow(form: string, model: TextFile | undefined, { keyOf, lines: wanted, stays }: Wanted): string {
	const line = lineOf(form);
	const lines = linesOf(model?.text ?? '');
	const end = /\r\n|\n|\r/.exec(lines[0] ?? '')?.[0] ?? '\n';
	const seen = new Set<string>();
	const kept: { text: string; key: string | null }[] = [];
	let like: Record<string, string> | undefined;
	for (const whole of lines) {
		const [, bare = '', ending = ''] = /^(.*?)(\r\n|\n|\r)?$/s.exec(whole)!;
		const read = line.read(bare);
		const key = read === null ? undefined : keyOf(read);
		if (read === null || key === undefined) {
			kept.push({ text: whole, key: null });
			continue;
		}
		like ??= read;
		seen.add(key);
		const values = wanted.get(key);
		if (values) kept.push({ text: line.write(values(read)) + ending, key });
		else if (stays(key)) kept.push({ text: whole, key });
	}
	const listed = kept.flatMap(({ key }) => key ?? []);
	const isSorted = listed.every((key, nth) => nth === 0 || listed[nth - 1]! < key);
	for (const [key, values] of [...wanted]
		.filter(([one]) => !seen.has(one))
		.sort(([a], [b]) => (a < b ? -1 : 1))) {
		const text = line.write(values(like)) + end;
		const before = isSorted ? kept.findIndex((one) => one.key !== null && one.key > key) : -1;
		const last = kept.findLastIndex((one) => one.key !== null);
		const at = before >= 0 ? before : last >= 0 ? last + 1 : kept.length;
		// A last line without an end gets one when something follows it.
		const previous = kept[at - 1];
		if (previous && !/[\r\n]$/.test(previous.text)) previous.text += end;
		kept.splice(at, 0, { text, key });
	}
	return kept.map(({ text }) => text).join('');
}

function followList(
	about: DerivedGuide,
	model: TextFile | undefined,
	{ mine, below, belowPaths }: Sources,
	all: boolean
): string {
	const paths = [...mine.keys()].filter(
		(path) => isSource(about, path) && !(about.fresh === true && belowPaths.has(path))
	);
	const valuesOf = (path: string) => (like?: Readonly<Record<string, string>>) => {
		const bytes = mine.get(path) ?? below(path)!;
		const digest = about.as === 'digests' ? bytesToHex(HASHES[about.digest](bytes)) : '';
		const isUpper = like?.digest !== undefined && /[A-F]/.test(like.digest) && !/[a-f]/.test(like.digest);
		return { path, size: String(bytes.length), digest: isUpper ? digest.toUpperCase() : digest };
	};
	return follow(about.line ?? LINES[about.as as 'digests' | 'list'], model, {
		keyOf: ({ path }) => path,
		lines: new Map(paths.map((path) => [path, valuesOf(path)])),
		// What is not mine stays as it is listed, as long as somebody has it.
		stays: (path) => all && belowPaths.has(path)
	});
}

/** An index lists records: those in the files of the mod, or also the game's. */
function followIndex(
	guide: Guide,
	about: DerivedGuide,
	model: TextFile | undefined,
	{ mine, below }: Sources,
	all: boolean
): string {
	const form = about.line ?? LINES.index;
	const kinds = new Set(about.of ?? []);
	const isOf = ({ kind }: { kind: string }) => kinds.size === 0 || kinds.has(kind);
	// Of two kinds the same id may be listed, where the line tells them apart.
	const keyOf = ({ id, kind }: Readonly<Record<string, string>>) =>
		id === undefined ? undefined : kind === undefined ? id : `${id}\0${kind}`;
	const namesKind = form.includes('{kind}');
	const keyFor = ({ id, kind }: { id: string; kind: string }) => (namesKind ? `${id}\0${kind}` : id);
	const lines = new Map<string, () => Record<string, string>>();
	const gone = new Set<string>();
	for (const [path, bytes] of mine) {
		if (!isSource(about, path)) continue;
		for (const record of recordsIn(guide, path, bytes).filter(isOf))
			lines.set(keyFor(record), () => ({
				...Object.fromEntries(
					Object.entries(record.fields).map(([name, value]) => [FIELD + name, value.replace(/[\r\n]+/g, ' ')])
				),
				id: record.id,
				kind: record.kind,
				line: String(record.line),
				path
			}));
		const before = all ? below(path) : undefined;
		if (before) for (const record of recordsIn(guide, path, before).filter(isOf)) gone.add(keyFor(record));
	}
	return follow(form, model, {
		keyOf,
		lines,
		// Those of a file that mine replaces go with it, where mine does not have them.
		stays: (key) => all && !gone.has(key)
	});
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

const isEqual = (a: Uint8Array, b: Uint8Array | undefined): boolean =>
	a.length === b?.length && a.every((byte, nth) => byte === b[nth]);

/** A copy of records as it is to be; as it is, where it cannot hold them. */
function copyOf(
	guide: Guide,
	about: DerivedGuide,
	bytes: Uint8Array | undefined,
	sources: Sources,
	refused: (file: string, why: string) => void
): Uint8Array | undefined {
	if (!bytes) return undefined;
	const isBytes = formatFor(about.file, hintsFor(guide, about.file))?.of === 'bytes';
	try {
		const next = followCopy(
			guide,
			about,
			isBytes ? bytes : decode(bytes, encodingFor(guide, about.file)),
			sources
		);
		return next instanceof Uint8Array ? next : encode(next);
	} catch (fault) {
		if (!(fault instanceof EditRefused || fault instanceof Unwritable)) throw fault;
		refused(about.file, fault.message);
		return bytes;
	}
}

/**
 * The derived files of a mod as they are to be; those that it has and that are right are among them, too. One that
 * neither the mod nor the game has is made where the guide says so.
 * @param refused is told of each that cannot be made anew, and so stays as it is
 * @returns bytes by path
 */
export function derivedFiles(
	guide: Guide,
	sources: Sources,
	refused: (file: string, why: string) => void = () => undefined
): Map<string, Uint8Array> {
	const made = new Map<string, Uint8Array>();
	for (const about of guide.derived ?? []) {
		if (about.as === 'cache' || about.as === 'program') continue;
		const all =
			about.as === 'copy' || (about.lists ?? (guide.install?.over === true ? 'all' : 'mine')) === 'all';
		const { mine, below } = sources;
		const own = mine.get(about.file);
		const bytes = own ?? (all ? below(about.file) : undefined);
		if (!bytes && about.always !== true) continue;
		const isTouched = [...mine.keys()].some((path) => isSource(about, path));
		if (!own && !isTouched) continue;
		// What came before in this list may be a source of what follows.
		const now = { ...sources, mine: new Map([...mine, ...made]) };
		if (about.as === 'copy') {
			const next = copyOf(guide, about, bytes, now, refused);
			if (next && (own || !isEqual(next, bytes))) made.set(about.file, next);
			continue;
		}
		const model = bytes && decode(bytes);
		const text =
			about.as === 'count'
				? followCount(about, model, now, all)
				: about.as === 'index'
					? followIndex(guide, about, model, now, all)
					: followList(about, model, now, all);
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
