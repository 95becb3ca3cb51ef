// Calls in a script with their arguments and places, also over several lines and behind faults: by their marks, not by a tree.

/** An argument of a call. */
export interface Argument {
	/** Where it stands: `[from, to)` in UTF-16 code units, without the space around it. */
	from: number;
	to: number;
	/** The text that it says, where it is one text; null for anything else. */
	text: string | null;
}

/** A call of a function by its name. */
export interface ScriptCall {
	from: number;
	to: number;
	/** Line from 1. */
	line: number;
	arguments: Argument[];
}

const ESCAPES: Record<string, string> = { n: '\n', t: '\t', r: '\r', a: '\x07', b: '\b', f: '\f', v: '\v' };

/** Bytes that are written as numbers, as a text: UTF-8 where they are that. */
function textOfBytes(written: string): string {
	const codes = [...written.matchAll(/\\(?:x([0-9a-fA-F]{2})|(\d{1,3}))/g)].map(([, hex, code]) =>
		hex === undefined ? Number(code) : Number.parseInt(hex, 16)
	);
	try {
		return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(Uint8Array.from(codes));
	} catch {
		return String.fromCharCode(...codes);
	}
}

const ESCAPED = /((?:\\\d{1,3}|\\x[0-9a-fA-F]{2})+)|\\(?:u\{([0-9a-fA-F]+)\}|z\s*|(\r\n|[\s\S]))/g;

/** What a text in quotes says. @param quoted with its quotes */
export function unquoted(quoted: string): string {
	const long = /^\[(=*)\[\r?\n?([\s\S]*)\]\1\]$/.exec(quoted);
	if (long) return long[2]!;
	return quoted.slice(1, -1).replace(ESCAPED, (_, ...parts: (string | undefined)[]) => {
		const [bytes, point, char] = parts;
		if (bytes !== undefined) return textOfBytes(bytes);
		if (point !== undefined) return String.fromCodePoint(Math.min(Number.parseInt(point, 16), 0x10ffff));
		if (char === undefined) return '';
		return ESCAPES[char] ?? (char === '\r\n' ? '\n' : char);
	});
}

/** A text as a script writes it, in the quotes that another one has. @param like a text with its quotes, or nothing */
export function quotedLike(text: string, like: string): string {
	const long = /^\[(=*)\[/.exec(like);
	if (long && !text.includes(`]${long[1]}]`) && !/^\r?\n/.test(text))
		return `[${long[1]}[${text}]${long[1]}]`;
	const quote = like.startsWith("'") ? "'" : '"';
	const written = text.replace(/[\\\n\r\t\0]|["']/g, (char) => {
		if (char === '\n') return '\\n';
		if (char === '\r') return '\\r';
		if (char === '\t') return '\\t';
		if (char === '\0') return '\\0';
		return char === quote || char === '\\' ? `\\${char}` : char;
	});
	return quote + written + quote;
}

/** Whether two slashes divide in a script, as in Lua; elsewhere they begin a comment. */
export const dividesIn = (code: string): boolean =>
	/^[^\S\n]*(?:local\b|end\b|--\s)|\bthen[^\S\n]*$/m.test(code);

/**
 * Where a text or comment that begins at a place ends; the place itself where none begins there. Marks as in Lua, and `//`
 * where that does not divide.
 */
export function skipped(code: string, at: number, divides: boolean): number {
	const char = code[at]!;
	const rest = (pattern: RegExp): RegExpExecArray | null => {
		pattern.lastIndex = at;
		return pattern.exec(code);
	};
	if (char === '"' || char === "'") {
		const found = rest(
			char === '"' ? /"(?:\\(?:z\s*|\r\n|[\s\S])|[^"\\\n])*"?/y : /'(?:\\(?:z\s*|\r\n|[\s\S])|[^'\\\n])*'?/y
		);
		return at + found![0].length;
	}
	if (char === '[') {
		const open = rest(/\[(=*)\[/y);
		if (!open) return at;
		const close = code.indexOf(`]${open[1]}]`, at);
		return close < 0 ? code.length : close + open[1]!.length + 2;
	}
	if ((char === '-' && code[at + 1] === '-') || (!divides && char === '/' && code[at + 1] === '/')) {
		const open = char === '-' ? rest(/--\[(=*)\[/y) : null;
		const close = open ? code.indexOf(`]${open[1]}]`, at) : code.indexOf('\n', at);
		return close < 0 ? code.length : open ? close + open[1]!.length + 2 : close;
	}
	return at;
}

/** The arguments of a call whose bracket is open, and where it is closed. */
function argumentsFrom(
	code: string,
	open: number,
	divides: boolean
): { arguments: Argument[]; to: number } | null {
	const found: Argument[] = [];
	let depth = 0;
	let from = open + 1;
	const add = (to: number) => {
		const raw = code.slice(from, to);
		const start = from + (raw.length - raw.trimStart().length);
		const end = to - (raw.length - raw.trimEnd().length);
		if (start >= end) return;
		const isText = /^(?:["']|\[=*\[)/.test(code.slice(start, end)) && skipped(code, start, divides) === end;
		found.push({ from: start, to: end, text: isText ? unquoted(code.slice(start, end)) : null });
	};
	for (let at = open + 1; at < code.length;) {
		const next = skipped(code, at, divides);
		if (next > at) {
			at = next;
			continue;
		}
		const char = code[at]!;
		if (char === '(' || char === '{' || char === '[') depth++;
		else if (char === ')' || char === '}' || char === ']') {
			if (depth-- === 0) {
				add(at);
				return { arguments: found, to: at + 1 };
			}
		} else if (char === ',' && depth === 0) {
			add(at);
			from = at + 1;
		}
		at++;
	}
	return null;
}

/** The calls of a function in a script, in order. Calls without brackets (`page "text"`) and definitions are none. */
export function callsIn(code: string, name: string): ScriptCall[] {
	const calls: ScriptCall[] = [];
	const named = new RegExp(
		`(?<![\\p{L}\\p{N}_.:])${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\s*\\(`,
		'uy'
	);
	const divides = dividesIn(code);
	let line = 1;
	for (let at = 0; at < code.length;) {
		const next = skipped(code, at, divides);
		if (next > at) {
			for (let nth = at; nth < next; nth++) if (code[nth] === '\n') line++;
			at = next;
			continue;
		}
		if (code[at] === '\n') line++;
		named.lastIndex = at;
		const found = code[at] === name[0] ? named.exec(code) : null;
		if (found && !/\bfunction\s+$/.test(code.slice(Math.max(0, at - 20), at))) {
			const inside = argumentsFrom(code, at + found[0].length - 1, divides);
			if (inside) calls.push({ from: at, to: inside.to, line, arguments: inside.arguments });
		}
		at++;
	}
	return calls;
}
