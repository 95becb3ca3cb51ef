// A patch from two states of files: each run of lines with as much around it as makes it the only one of its sort.
import { bytesOf, lineRuns, type FileContent, type LineRun } from '../change';
import { detectEol, digestOf } from '../text';
import { hunkParts, hunksOf } from './hunks';
import { headingOf, targetOf, type Target } from './heads';
import { lineOf, rivalOf, tellingTexts } from './locate';
import { MOST_AROUND, PatchFault, patchLines, type FilePatch, type Hunk, type Part } from './parts';

/** Lines around a run at the least. */
const AROUND = 3;
/** Texts that are kept on each side, and lines in which they are looked for. */
const TEXTS = 4;
const LOOKED_AT = 60;
/** Bytes around a run at the least and at most, and bytes between two runs that are taken as one. */
const BYTES_AROUND = 8;
const MOST_BYTES_AROUND = 64;
/** Bytes of a new or removed file, or of changed ones, that a patch can hold. */
const MOST_BYTES = 256 * 1024;

/** The nearest texts on a side of a run that stand in one line of the file only. */
function textsBeside(target: Target, lines: readonly string[]): string[] {
	const found: string[] = [];
	for (const line of lines) {
		const text = tellingTexts(line).find((one) => lineOf(target, one) !== null);
		if (text === undefined) continue;
		found.push(text);
		if (found.length === TEXTS) break;
	}
	return found;
}

function anchored(part: Part, target: Target): Part {
	const { texts } = target;
	const from = part.line - 1;
	const to = from + part.removed.length;
	return {
		...part,
		anchor: {
			in: headingOf(target, from, part),
			above: textsBeside(target, texts.slice(Math.max(0, from - LOOKED_AT), from).reverse()),
			below: textsBeside(target, texts.slice(to, to + LOOKED_AT)),
			rival: 0
		}
	};
}

type Parts = Pick<FilePatch, 'hunks' | 'parts'>;

/** Runs as parts with anchors; the lines around each are as many as tell it from all other places, if that can be. */
function partsOf(before: readonly string[], after: readonly string[], runs: readonly LineRun[]): Parts {
	const target = targetOf(before);
	let around = runs.map(() => AROUND);
	for (;;) {
		const hunks = hunksOf(before, after, runs, around);
		const parts = hunks.flatMap(hunkParts).map((part) => anchored(part, target));
		let grown = false;
		parts.forEach((part, nth) => {
			part.anchor!.rival = Math.round(rivalOf(part, target) * 10_000) / 10_000;
			if (part.anchor!.rival < 1 || around[nth]! >= MOST_AROUND) return;
			grown = true;
			around = around.with(nth, Math.min(MOST_AROUND, around[nth]! * 2));
		});
		if (!grown) return { hunks, parts };
	}
}

/** Runs of bytes that differ, those that are near each other as one. */
function byteRuns(before: Uint8Array, after: Uint8Array): LineRun[] {
	const runs: { before: [number, number]; after: [number, number] }[] = [];
	for (let at = 0; at < before.length; at++) {
		if (before[at] === after[at]) continue;
		const last = runs.at(-1);
		if (last && at - last.before[1] < BYTES_AROUND) last.before[1] = last.after[1] = at + 1;
		else runs.push({ before: [at, at + 1], after: [at, at + 1] });
	}
	return runs;
}

const hex = (byte: number) => `${byte.toString(16).padStart(2, '0')}\n`;

/** Bytes as lines of a patch, one to a line. */
export const byteLines = (bytes: Uint8Array): string[] => Array.from(bytes, hex);

/** How often a run of bytes is found. */
function countOf(bytes: Uint8Array, from: number, to: number): number {
	let count = 0;
	for (let at = bytes.indexOf(bytes[from]!); at >= 0 && count < 2; at = bytes.indexOf(bytes[from]!, at + 1)) {
		let nth = 1;
		while (from + nth < to && bytes[at + nth] === bytes[from + nth]) nth++;
		if (from + nth >= to) count++;
	}
	return count;
}

/** How many bytes around a run are needed for it to be found only once; the most that are looked at where none are enough. */
function bytesAround(bytes: Uint8Array, { before: [from, to] }: LineRun): number {
	let around = BYTES_AROUND;
	const count = () => countOf(bytes, Math.max(0, from - around), Math.min(bytes.length, to + around));
	while (around < MOST_BYTES_AROUND && count() > 1) around *= 2;
	return around;
}

/** Bytes as lines that are made where they are needed. */
const linesOf = (bytes: Uint8Array) => ({
	length: bytes.length,
	slice: (from: number, to: number) => byteLines(bytes.subarray(from, to))
});

function bytesParts(before: Uint8Array, after: Uint8Array, runs: readonly LineRun[]): Parts {
	const around = runs.map((run) => bytesAround(before, run));
	const hunks = hunksOf(linesOf(before), linesOf(after), runs, around);
	return { hunks, parts: hunks.flatMap(hunkParts) };
}

const isBytes = (file: FileContent | undefined): file is Uint8Array => file instanceof Uint8Array;

/** Whether line ends have to be part of the lines: not all of both texts are of one sort. */
function endsDiffer(before: string | undefined, after: string | undefined): boolean {
	const ends = new Set([before, after].flatMap((text) => (text === undefined ? [] : [detectEol(text)])));
	// A text of one line says nothing on line ends: where the other has any but the usual, they come with the patch.
	if (ends.delete('none')) return ends.size > 0 && !ends.has('lf');
	return ends.size > 1 || ends.has('mixed');
}

/** All of a new or removed file as one part. */
function whole(lines: readonly string[], becomes: 'new' | 'gone'): Parts {
	const none: string[] = [];
	const [from, to] = becomes === 'gone' ? [lines, none] : [none, lines];
	const run: LineRun = { before: [0, from.length], after: [0, to.length] };
	const hunks: Hunk[] = lines.length === 0 ? [] : hunksOf(from, to, [run], [0]);
	return { hunks, parts: hunks.flatMap(hunkParts) };
}

/**
 * What leads from one state of a file to another; undefined where it is not there.
 * @returns null where both are the same
 * @throws PatchFault where no patch can say it: another length of a file of bytes, another encoding of a text
 */
export function filePatch(
	path: string,
	before: FileContent | undefined,
	after: FileContent | undefined
): FilePatch | null {
	const [old, fresh] = [before && digestOf(bytesOf(before)), after && digestOf(bytesOf(after))];
	if (old === fresh) return null;
	const becomes = before === undefined ? 'new' : after === undefined ? 'gone' : 'changed';
	const of = isBytes(before) || isBytes(after) ? 'bytes' : 'text';
	const about = {
		path,
		of,
		becomes,
		before: old ?? null,
		after: fresh ?? null,
		written: null,
		endsCount: false
	} as const;
	if (of === 'bytes') {
		const sides = [before, after].map((file) => file && bytesOf(file));
		const [was, is] = sides;
		if (was && is) {
			if (was.length !== is.length)
				throw new PatchFault(
					`${path} is not a text, and its two versions have different lengths (${was.length} and ${is.length} bytes): a patch of bytes keeps the length. Include the whole file instead.`
				);
			const runs = byteRuns(was, is);
			if (runs.reduce((sum, run) => sum + run.before[1] - run.before[0], 0) > MOST_BYTES)
				throw new PatchFault(
					`${path} is not a text, and too much of it differs. Include the whole file instead.`
				);
			return { ...about, ...bytesParts(was, is, runs) };
		}
		const one = (was ?? is)!;
		if (one.length > MOST_BYTES)
			throw new PatchFault(
				`${path} is not a text, and too long for a patch. Include the whole file instead.`
			);
		return { ...about, ...whole(byteLines(one), becomes as 'new' | 'gone') };
	}
	const [was, is] = [before, after] as { text: string; encoding: string; bom: boolean }[];
	if (was && is && (was.encoding !== is.encoding || was.bom !== is.bom))
		throw new PatchFault(
			`${path} is written in another encoding (${was.encoding}${was.bom ? ' with byte-order mark' : ''} before, ${is.encoding}${is.bom ? ' with byte-order mark' : ''} after): a patch keeps the encoding. Save both in the same encoding.`
		);
	const endsCount =
		becomes === 'new' ? !['lf', 'none'].includes(detectEol(is!.text)) : endsDiffer(was?.text, is?.text);
	const plain = becomes !== 'new' || (is!.encoding === 'utf-8' && !is!.bom);
	const written = plain ? null : { encoding: is!.encoding, bom: is!.bom };
	const [from, to] = [was, is].map((file) => patchLines(file?.text ?? '', endsCount)) as [string[], string[]];
	const parts =
		becomes === 'changed'
			? partsOf(from, to, lineRuns(from, to))
			: whole(becomes === 'new' ? to : from, becomes);
	return { ...about, written, endsCount, ...parts };
}
