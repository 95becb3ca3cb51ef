// Ids that scripts name as texts: arguments of calls, and what values are compared with.
import type { Facts } from '../facts';

/** A text in a script where an id may stand. */
export interface Spoken {
	call: string;
	/** From 1; 0 for a comparison. */
	argument: number;
	text: string;
	/** Offset of the text in the line. */
	from: number;
}

const CALL = /([\p{L}_][\p{L}\p{N}_.:]*)\s*\(/gu;
const COMPARED = /([\p{L}_][\p{L}\p{N}_.:]*)\s*(?:==|~=|!=)\s*(["'])([^"'\\]*)\2/gu;

/** The texts of one line of a script with where they stand: literal arguments of calls, and literals in comparisons. */
export function* spokenIn(line: string): Generator<Spoken> {
	for (const match of line.matchAll(CALL)) {
		let at = match.index + match[0].length;
		let argument = 1;
		let depth = 0;
		while (at < line.length) {
			const char = line[at]!;
			if (char === '"' || char === "'") {
				let end = at + 1;
				while (end < line.length && line[end] !== char) end += line[end] === '\\' ? 2 : 1;
				// Only a whole argument: what is put together from parts is no id.
				const before = /[(,]\s*$/.test(line.slice(0, at));
				const behind = /^\s*[,)]/.test(line.slice(end + 1));
				if (depth === 0 && before && behind)
					yield { call: match[1]!, argument, text: line.slice(at + 1, end), from: at + 1 };
				at = end + 1;
				continue;
			}
			if (char === '(' || char === '{' || char === '[') depth++;
			else if (char === ')' || char === '}' || char === ']') {
				if (depth-- === 0) break;
			} else if (char === ',' && depth === 0) argument++;
			at++;
		}
	}
	for (const match of line.matchAll(COMPARED))
		yield {
			call: match[1]!,
			argument: 0,
			text: match[3]!,
			from: match.index + match[0].length - 1 - match[3]!.length
		};
}

/** The code of a line of Lua or the like, without commentary that begins outside of texts. */
export const codeOf = (line: string): string => {
	const bare = line.replace(/(["'])(?:\\.|(?!\1).)*\1/g, (text) => ' '.repeat(text.length));
	const at = bare.indexOf('--');
	return at < 0 ? line : line.slice(0, at);
};

const OPENS = /--\[(=*)\[|\/\*/;

/** The code of a script line by line (from 1), without commentary, also that of several lines. */
export function* codeLines({ pool, prose }: Facts): Generator<{ line: number; code: string }> {
	/** What ends the commentary that is open; null where none is. */
	let end: string | null = null;
	for (let at = 0; at < prose.length; at += 2) {
		let rest = pool.at(prose[at + 1]!);
		let code = '';
		for (;;) {
			if (end !== null) {
				const to = rest.indexOf(end);
				if (to < 0) break;
				rest = rest.slice(to + end.length);
				end = null;
			}
			const bare = rest.replace(/(["'])(?:\\.|(?!\1).)*\1/g, (text) => ' '.repeat(text.length));
			const open = OPENS.exec(bare);
			const plain = bare.indexOf('--');
			if (!open || (plain >= 0 && plain < open.index)) {
				code += codeOf(rest);
				break;
			}
			code += `${rest.slice(0, open.index)} `;
			rest = rest.slice(open.index + open[0].length);
			end = open[1] === undefined ? '*/' : `]${open[1]}]`;
		}
		yield { line: prose[at]!, code };
	}
}

const heard = new WeakMap<Facts, { line: number; spoken: Spoken[] }[]>();

/** What the lines of a script ask for by name; lines that ask for nothing are left out. */
export function spokenBy(facts: Facts): readonly { line: number; spoken: Spoken[] }[] {
	let lines = heard.get(facts);
	if (!lines) {
		heard.set(facts, (lines = []));
		for (const { line, code } of codeLines(facts)) {
			const spoken = [...spokenIn(code)];
			if (spoken.length > 0) lines.push({ line, spoken });
		}
	}
	return lines;
}
