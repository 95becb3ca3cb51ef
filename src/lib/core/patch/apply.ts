// A patch on files that may be other versions of those that it was made from: each part where it surely belongs, or none.
import { bytesOf, linesWithEnds, type FileContent } from '../change';
import { digestOf, encode, textLike, toEol, Unwritable, type TextFile } from '../text';
import { targetOf } from './heads';
import { locate, type Candidate } from './locate';
import { bare, PatchFault, patchLines, type FilePatch, type Part, type Patch } from './parts';

/** What came of a part. */
export interface PartResult {
	applied: boolean;
	/** Line (of bytes: place) from 1 where it belongs, or the likeliest one; null where nothing is like it. */
	line: number | null;
	likeness: number;
	/** Why it was not applied; empty where it was. */
	reason: string;
	candidates: Candidate[];
}

/** What came of a file. */
export interface FileResult {
	path: string;
	applied: boolean;
	/** The file has what the patch would make of it already. */
	already: boolean;
	/** Why it was not applied, where that is not a matter of its parts; empty otherwise. */
	reason: string;
	parts: PartResult[];
	/** What the file becomes; null where it is removed. Absent where it was not applied. */
	after?: FileContent | null;
}

/** What came of a patch: all its files, or none. */
export interface PatchResult {
	applied: boolean;
	files: FileResult[];
}

/** Where people want a part: its line (from 1), by the path and the number of the part from 1. */
export type Choices = ReadonlyMap<string, ReadonlyMap<number, number>>;

const NONE: ReadonlyMap<number, number> = new Map();

const put = (line: number, likeness: number): PartResult => ({
	applied: true,
	line,
	likeness: Math.round(likeness * 1000) / 1000,
	reason: '',
	candidates: []
});

const refusedPart = (reason: string, candidates: Candidate[] = []): PartResult => ({
	applied: false,
	line: candidates[0]?.line ?? null,
	likeness: candidates[0]?.likeness ?? 0,
	reason,
	candidates
});

const refused = (path: string, reason: string, already = false): FileResult => ({
	path,
	applied: false,
	already,
	reason,
	parts: []
});

/** The same part the other way round: what it put in is taken out again. */
const turned = (part: Part): Part => ({ ...part, removed: part.added, added: part.removed, anchor: null });

const ALREADY = 'It is already there.';

/** Runs of lines that are put in the place of others, from the last to the first. */
interface Put {
	at: number;
	part: Part;
}

/** Whether two places of parts are the same or overlap. */
const overlap = (one: Put, other: Put): boolean =>
	one.at === other.at ||
	(one.at < other.at + other.part.removed.length && other.at < one.at + one.part.removed.length);

/** Where the parts belong in lines. */
function placed(
	parts: readonly Part[],
	lines: readonly string[],
	chosen: ReadonlyMap<number, number>
): { results: PartResult[]; puts: Put[] } {
	const target = targetOf(lines);
	const puts: Put[] = [];
	const results = parts.map((part, nth): PartResult => {
		const line = chosen.get(nth + 1);
		if (line !== undefined) {
			if (line < 1 || line > lines.length + 1)
				return refusedPart(`The file has no line ${line}; it has ${lines.length}.`);
			puts.push({ at: line - 1, part });
			return put(line, 1);
		}
		const found = locate(part, target);
		const back = locate(turned(part), target);
		const there = back.sure && back.likeness === 1;
		if (found.sure && !(there && Math.abs(back.line - found.line) <= part.added.length)) {
			puts.push({ at: found.line - 1, part });
			return put(found.line, found.likeness);
		}
		if (there) return { ...refusedPart(ALREADY), line: back.line, likeness: 1 };
		return found.sure
			? refusedPart('It may be there already.', [{ line: found.line, likeness: found.likeness }])
			: refusedPart(found.reason, found.candidates);
	});
	const clash = puts.find((one, nth) => puts.some((other, at) => at !== nth && overlap(one, other)));
	if (clash) {
		const nth = parts.indexOf(clash.part);
		results[nth] = refusedPart('Two parts would change the same lines.', [
			{ line: clash.at + 1, likeness: 1 }
		]);
	}
	return { results, puts };
}

/** The text with the runs in their places: every line keeps its end, and new ones get the one that the text uses first. */
function withPuts(text: string, puts: readonly Put[], endsCount: boolean): string {
	const eol = endsCount ? '\n' : toEol(text);
	const lines = endsCount ? patchLines(text, true) : linesWithEnds(text);
	for (const { at, part } of [...puts].sort((a, b) => b.at - a.at))
		lines.splice(
			at,
			part.removed.length,
			...part.added.map((line) => (line.endsWith('\n') ? bare(line) + eol : line))
		);
	const ended = (line: string) => (endsCount ? line.endsWith('\n') : /[\r\n]$/.test(line));
	return lines.map((line, nth) => (nth < lines.length - 1 && !ended(line) ? line + eol : line)).join('');
}

/** A text that can be written in its encoding. @returns null where it cannot */
function writable(text: string, like: TextFile): TextFile | null {
	const file = textLike(text, like, like);
	try {
		encode(file);
		return file;
	} catch (error) {
		if (error instanceof Unwritable) return null;
		throw error;
	}
}

function onText(file: FilePatch, before: FileContent, chosen: ReadonlyMap<number, number>): FileResult {
	const { path, parts, endsCount } = file;
	if (before instanceof Uint8Array)
		return refused(path, `${path} is not a text here, and the patch is for a text.`);
	const exact = digestOf(bytesOf(before)) === file.before;
	const { results, puts } = exact
		? {
				results: parts.map(({ line }) => put(line, 1)),
				puts: parts.map((part) => ({ at: part.line - 1, part }))
			}
		: placed(parts, patchLines(before.text, endsCount), chosen);
	return concluded(path, results, () => writable(withPuts(before.text, puts, endsCount), before), before);
}

/** What comes of a file once each of its parts has a place or none. */
function concluded(
	path: string,
	parts: PartResult[],
	make: () => FileContent | null,
	before: FileContent
): FileResult {
	if (parts.some(({ applied }) => !applied)) {
		const already = parts.every(({ reason }) => reason === ALREADY);
		return { path, applied: false, already, reason: already ? ALREADY : '', parts };
	}
	const after = make();
	if (after !== null) return { path, applied: true, already: false, reason: '', parts, after };
	const { encoding } = before as TextFile;
	return refused(path, `${path} is written in ${encoding}, which cannot write what the patch adds.`);
}

/** Bytes of lines of a patch; null for any byte. @throws PatchFault */
function pattern(lines: readonly string[], path: string): (number | null)[] {
	return lines.map((line) => {
		const text = bare(line).trim();
		if (text === '??') return null;
		if (!/^[0-9a-f]{2}$/i.test(text))
			throw new PatchFault(
				`“${text}” in the patch of ${path} is not a byte: two digits from 00 to ff, or ??.`
			);
		return Number.parseInt(text, 16);
	});
}

/** Bytes of a file that are counted to tell which are rare. */
const SAMPLE = 65_536;

/** Where bytes stand, at most two places. */
function found(bytes: Uint8Array, wanted: readonly (number | null)[]): number[] {
	// The rarest byte of those that are known, by a sample, is looked for first.
	const counts = new Uint32Array(256);
	const step = Math.ceil((bytes.length + 1) / SAMPLE);
	for (let at = 0; at < bytes.length; at += step) counts[bytes[at]!]!++;
	let rare = -1;
	wanted.forEach((byte, nth) => {
		if (byte !== null && (rare < 0 || counts[byte]! < counts[wanted[rare]!]!)) rare = nth;
	});
	if (rare < 0) return [];
	const places: number[] = [];
	for (let at = bytes.indexOf(wanted[rare]!, rare); at >= 0 && places.length < 2;) {
		const from = at - rare;
		if (
			from + wanted.length <= bytes.length &&
			wanted.every((byte, nth) => byte === null || bytes[from + nth] === byte)
		)
			places.push(from);
		at = bytes.indexOf(wanted[rare]!, at + 1);
	}
	return places;
}

function bytePart(bytes: Uint8Array, part: Part, exact: boolean, path: string): [PartResult, number] {
	const [above, removed, added, below] = [part.above, part.removed, part.added, part.below].map((lines) =>
		pattern(lines, path)
	) as [(number | null)[], (number | null)[], (number | null)[], (number | null)[]];
	if (removed.length !== added.length)
		throw new PatchFault(
			`The patch of ${path} puts ${added.length} bytes in the place of ${removed.length}.`
		);
	if (added.includes(null)) throw new PatchFault(`The patch of ${path} adds “??”, which is not a byte.`);
	if (exact) return [put(part.line, 1), part.line - 1];
	const places = found(bytes, [...above, ...removed, ...below]);
	const candidates = places.map((at) => ({ line: at + above.length + 1, likeness: 1 }));
	if (places.length === 1) return [put(candidates[0]!.line, 1), places[0]! + above.length];
	if (places.length > 1) return [refusedPart('These bytes are there more than once.', candidates), 0];
	const there = found(bytes, [...above, ...added, ...below]).length === 1;
	return [refusedPart(there ? ALREADY : 'These bytes are not there.'), 0];
}

function onBytes(file: FilePatch, before: FileContent): FileResult {
	const { path, parts } = file;
	const bytes = bytesOf(before);
	const exact = file.before !== null && digestOf(bytes) === file.before;
	const places = parts.map((part) => bytePart(bytes, part, exact, path));
	const make = () => {
		const next = Uint8Array.from(bytes);
		parts.forEach(({ added }, nth) => next.set(pattern(added, path) as number[], places[nth]![1]));
		return next;
	};
	return concluded(
		path,
		places.map(([result]) => result),
		make,
		before
	);
}

/** All of a file that a patch brings. */
function brought(file: FilePatch): FileContent {
	const lines = file.parts.flatMap(({ added }) => added);
	if (file.of === 'bytes') return Uint8Array.from(pattern(lines, file.path) as number[]);
	return textLike(lines.join(''), file.written ?? { encoding: 'utf-8', bom: false });
}

function onNew(file: FilePatch, before: FileContent | undefined): FileResult {
	const { path } = file;
	const after = brought(file);
	const parts = file.parts.map(() => put(1, 1));
	if (before === undefined) return { path, applied: true, already: false, reason: '', parts, after };
	const same = digestOf(bytesOf(before)) === (file.after ?? digestOf(bytesOf(after)));
	return refused(path, same ? ALREADY : `There is already another file ${path}.`, same);
}

function onGone(file: FilePatch, before: FileContent | undefined): FileResult {
	const { path, parts } = file;
	if (before === undefined) return refused(path, 'It is removed already.', true);
	const lines = before instanceof Uint8Array ? [] : patchLines(before.text, file.endsCount);
	const same =
		file.before === null
			? parts.flatMap(({ removed }) => removed).join('') === lines.join('')
			: digestOf(bytesOf(before)) === file.before;
	if (!same) return refused(path, `${path} is not as it was, so it is not removed.`);
	return { path, applied: true, already: false, reason: '', parts: parts.map(() => put(1, 1)), after: null };
}

function onFile(
	file: FilePatch,
	before: FileContent | undefined,
	chosen: ReadonlyMap<number, number>
): FileResult {
	if (file.becomes === 'new') return onNew(file, before);
	if (file.becomes === 'gone') return onGone(file, before);
	if (before === undefined) return refused(file.path, `There is no file ${file.path}.`);
	if (file.after !== null && digestOf(bytesOf(before)) === file.after)
		return refused(file.path, ALREADY, true);
	return file.of === 'bytes' ? onBytes(file, before) : onText(file, before, chosen);
}

/**
 * A patch on files: every part goes where it surely belongs, or nothing is changed and each part says why.
 * @param read the file at a path, or undefined where there is none
 * @param choices where people want parts that are not certain
 * @throws PatchFault where the patch itself is wrong
 */
export function applyPatch(
	{ files }: Patch,
	read: (path: string) => FileContent | undefined,
	choices: Choices = new Map()
): PatchResult {
	const results = files.map((file) => onFile(file, read(file.path), choices.get(file.path) ?? NONE));
	const applied = results.every((one) => one.applied);
	if (!applied) for (const one of results) delete one.after;
	return { applied, files: results };
}
