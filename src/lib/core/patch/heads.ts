// A file whose lines are looked for: what each says, and which line opens what it stands in: a function, a section, a record.
import { bare, type Part } from './parts';

/** The lines of a file, with all that is asked of them again and again. */
export interface Target {
	lines: readonly string[];
	/** The same without their ends. */
	texts: readonly string[];
	/** Where each text stands. */
	at: ReadonlyMap<string, readonly number[]>;
	/** How far each line is indented; -1 for lines that open nothing: empty ones, brackets, commentary. */
	depths: Int32Array;
	/** The nearest head of a section (`[name]`) in or above each line; -1 where there is none. */
	sections: Int32Array;
}

const indent = (line: string) => /^\s*/.exec(line)![0].length;

/** How far the content of a place is indented: as the first line that is taken out or put in; a line that closes counts as inside. */
function depthOf({ removed, added, below }: Part): number {
	const line = bare([...removed, ...added, ...below].find((one) => one.trim() !== '') ?? '');
	return indent(line) + (/^\s*(?:end\b|[})\]])/.test(line) ? 1 : 0);
}

/** What a line opens with and ends in: `function` and `)`, `-` and a letter, a letter and `{`. */
function shapeOf(line: string): string {
	const [, word, sign] = /^\s*(?:(\p{L}+)(?=\s+[\p{L}_])|(\S))/u.exec(line) ?? [];
	const last = line.trimEnd().at(-1) ?? '';
	const kind = (one: string) => (/[\p{L}\p{N}_"']/u.test(one) ? 'a' : one);
	return `${word ?? kind(sign ?? '')} ${kind(last)}`;
}

/** Whether a line looks as if it opened what is indented below it. */
const opens = (line: string): boolean =>
	/[{[(:=>]\s*$|^\s*(?:-\s+)?[^\s"']+:(?:\s|$)|^\s*(?:local\s+)?(?:function|class|def|if|for|while|do|repeat)\b/.test(
		line
	);

/** Whether a line only closes what was opened further up. */
const CLOSES = /^\s*(?:end|[}\])]+)[;,)]*\s*$|^\s*<\/[^>]+>\s*$/;

/**
 * Number of the line that opens what a part stands in at a place: the outermost of those that are indented less, or a
 * section's head. A line of another shape than the head that is looked for, which opens nothing, was only put there
 * without being indented.
 */
export function headAt({ texts, depths, sections }: Target, place: number, part: Part): number | null {
	const section = place > 0 ? sections[place - 1]! : -1;
	let depth = depthOf(part);
	if (depth === 0) return section < 0 ? null : section;
	const head = part.anchor?.in ?? null;
	const shape = head === null ? null : shapeOf(head);
	let found: number | null = null;
	for (let nth = place - 1; nth >= 0 && depth > 0; nth--) {
		if (nth === section && found === null) return nth;
		const own = depths[nth]!;
		const text = texts[nth]!;
		if (own < 0) {
			// What is closed here was opened by a line that is indented as far: only those outside of it are left.
			if (CLOSES.test(text)) depth = Math.min(depth, indent(text));
			continue;
		}
		if (own >= depth) continue;
		if (shape !== null && shapeOf(text) !== shape && !opens(text)) continue;
		found = nth;
		depth = own;
	}
	return found;
}

/** The line that opens what a part stands in at a place: a function, a section, a record. */
export function headingOf(target: Target, place: number, part: Part): string | null {
	const nth = headAt(target, place, part);
	return nth === null ? null : target.texts[nth]!.trim();
}

/** Whether a line is like lines everywhere: a bracket, an `end`. */
export const isTrivial = (text: string): boolean =>
	!/[\p{L}\p{N}]{2}/u.test(text) || /^\s*(?:end|else|return|break)\W*$/.test(text);

/** Lines as a target. */
export function targetOf(lines: readonly string[]): Target {
	const texts = lines.map(bare);
	const at = new Map<string, number[]>();
	const depths = new Int32Array(texts.length);
	const sections = new Int32Array(texts.length);
	let section = -1;
	texts.forEach((text, nth) => {
		const seen = at.get(text);
		if (seen) seen.push(nth);
		else at.set(text, [nth]);
		depths[nth] = isTrivial(text) || /^\s*(?:--|\/\/|[#;*])/.test(text) ? -1 : indent(text);
		if (/^\s*\[[^\]]+\]\s*$/.test(text)) section = nth;
		sections[nth] = section;
	});
	return { lines, texts, at, depths, sections };
}
