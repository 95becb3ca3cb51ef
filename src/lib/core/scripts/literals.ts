// Numbers and texts that stand in the functions of a script: where, in which function, and how another is written there.
import { dividesIn, quotedLike, skipped, unquoted } from './calls';

/** A number or a text in a script. */
export interface Literal {
	/** Its number in the script, from 0. */
	nth: number;
	from: number;
	to: number;
	/** Line from 1. */
	line: number;
	of: 'number' | 'text';
	/** As it is written, with quotes. */
	raw: string;
	/** What it says. */
	value: string;
	/** The function that it stands in: the nearest one that opens further left above it; null outside of any. */
	in: string | null;
	/** The code of its line without the space at both ends, and where in it the literal stands. */
	around: string;
	at: number;
}

/** What cannot be written in a script at a place; says why. */
export class LiteralFault extends Error {}

const NUMBER =
	/(?:0[xX][0-9a-fA-F]+(?:\.[0-9a-fA-F]*)?(?:[pP][-+]?\d+)?|(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)/y;
const WORD = /[\p{L}_][\p{L}\p{N}_]*/uy;
const OPENS =
	/(?:^|[^\p{L}\p{N}_.])function\s+([\p{L}_][\p{L}\p{N}_.:]*)|([\p{L}_][\p{L}\p{N}_.]*)\s*=\s*function\b/u;

const indent = (line: string) => /^[ \t]*/.exec(line)![0].replaceAll('\t', '    ').length;

/** For each line the function that it is in, by how far lines are indented. */
function functionsBy(lines: readonly string[]): (string | null)[] {
	const open: { name: string; depth: number }[] = [];
	return lines.map((line) => {
		if (line.trim() === '') return open.at(-1)?.name ?? null;
		const depth = indent(line);
		while (open.length > 0 && open.at(-1)!.depth >= depth && !/^\s*(?:end|[})])/.test(line)) open.pop();
		const found = OPENS.exec(line);
		const name = found?.[1] ?? found?.[2];
		if (name !== undefined) open.push({ name, depth });
		const inside = open.at(-1)?.name ?? null;
		if (open.at(-1)?.depth === depth && /^\s*(?:end|[})])/.test(line)) open.pop();
		return inside;
	});
}

/** The numbers and texts of a script in order, those in comments left out. */
export function literalsIn(code: string): Literal[] {
	const lines = code.split('\n');
	const functions = functionsBy(lines);
	const divides = dividesIn(code);
	const found: Literal[] = [];
	let [line, start] = [0, 0];
	const add = (from: number, to: number, of: Literal['of']) => {
		const raw = code.slice(from, to);
		const whole = lines[line]!;
		const around = whole.trim();
		found.push({
			nth: found.length,
			from,
			to,
			line: line + 1,
			of,
			raw,
			value: of === 'text' ? unquoted(raw) : raw,
			in: functions[line] ?? null,
			around,
			at: from - start - whole.indexOf(around)
		});
	};
	for (let at = 0; at < code.length;) {
		const char = code[at]!;
		if (char === '\n') {
			line++;
			start = at + 1;
		}
		const next = skipped(code, at, divides);
		if (next > at) {
			if (char === '"' || char === "'" || char === '[') add(at, next, 'text');
			for (let nth = at; nth < next; nth++)
				if (code[nth] === '\n') {
					line++;
					start = nth + 1;
				}
			at = next;
			continue;
		}
		WORD.lastIndex = NUMBER.lastIndex = at;
		const word = WORD.exec(code);
		if (word) {
			at += word[0].length;
			continue;
		}
		const number = /[\d.]/.test(char) ? NUMBER.exec(code) : null;
		if (number && !/[.]{2}$/.test(code.slice(at - 1, at + 1))) {
			add(at, at + number[0].length, 'number');
			at += number[0].length;
			continue;
		}
		at++;
	}
	return found;
}

/**
 * How another value is written in the place of a literal.
 * @throws LiteralFault where a number is needed and this is none
 */
export function literalAs(code: string, { of, raw, from }: Literal, value: string): string {
	if (of === 'text') return quotedLike(value, raw);
	const plain = value.trim();
	if (!/^-?(?:0[xX][0-9a-fA-F]+|(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)$/.test(plain))
		throw new LiteralFault(`“${value}” is not a number that a script can hold.`);
	// Two signs behind each other would begin a comment.
	return plain.startsWith('-') && /-\s*$/.test(code.slice(0, from)) ? `(${plain})` : plain;
}
