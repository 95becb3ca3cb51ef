// Scalars of YAML 1.2: what a piece of text means, and how a value is written in the style of another.
import { EditRefused, type Scalar } from './document';

const ESCAPES: Record<string, string> = {
	'0': '\0',
	a: '\x07',
	b: '\b',
	t: '\t',
	'\t': '\t',
	n: '\n',
	v: '\v',
	f: '\f',
	r: '\r',
	e: '\x1b',
	' ': ' ',
	'"': '"',
	'/': '/',
	'\\': '\\',
	N: '\x85',
	_: '\xa0',
	L: '\u2028',
	P: '\u2029'
};

/** Whether an escape is one that YAML knows; `at` is behind the backslash. */
export function isEscape(text: string, at: number): boolean {
	const char = text[at]!;
	if (char === 'x') return /^[0-9a-fA-F]{2}/.test(text.slice(at + 1, at + 3));
	if (char === 'u') return /^[0-9a-fA-F]{4}/.test(text.slice(at + 1, at + 5));
	if (char === 'U') return /^[0-9a-fA-F]{8}/.test(text.slice(at + 1, at + 9));
	return char in ESCAPES || char === '\n' || char === '\r';
}

/** Joins the lines of a flow scalar: one line end is a space, more are one line end less. */
function folded(raw: string): string {
	if (!/[\r\n]/.test(raw)) return raw;
	return raw
		.replace(/\r\n?/g, '\n')
		.replace(/[ \t]*\n[ \t]*/g, '\n')
		.replace(/\n+/g, (run) => (run.length === 1 ? ' ' : '\n'.repeat(run.length - 1)));
}

function doubleQuoted(inner: string): string {
	if (!inner.includes('\\')) return folded(inner);
	// Escaped line ends join without a space; escapes must not take part in folding.
	const marks: string[] = [];
	const kept = inner.replace(
		/\\(\r\n|\r|\n)[ \t]*|\\x([0-9a-fA-F]{2})|\\u([0-9a-fA-F]{4})|\\U([0-9a-fA-F]{8})|\\([^])/g,
		(_, eol?: string, two?: string, four?: string, eight?: string, char?: string) => {
			const code = parseInt(two ?? four ?? eight ?? '', 16);
			marks.push(
				eol !== undefined
					? ''
					: char !== undefined
						? (ESCAPES[char] ?? char)
						: code <= 0x10ffff
							? String.fromCodePoint(code)
							: '\ufffd'
			);
			return '\ue000';
		}
	);
	// A private-use character of the text itself is put back as it is.
	const own = [...inner.matchAll(/\\[^]|\ue000/g)].map(([match]) => match === '\ue000');
	let mark = 0;
	let nth = 0;
	return folded(kept).replace(/\ue000/g, () => (own[nth++] ? '\ue000' : marks[mark++]!));
}

/** A block scalar: header, then lines. `indent` is given where the header says it. */
function blockScalar(raw: string, indent: number | undefined): string {
	const lines = raw.replace(/\r\n?/g, '\n').split('\n');
	const header = lines.shift()!;
	const style = header[0]!;
	const chomp = /^[|>]\d?([-+])/.exec(header)?.[1] ?? '';
	const first = lines.find((line) => /[^ ]/.test(line));
	const depth = indent ?? (first === undefined ? Infinity : /^ */.exec(first)![0].length);
	const body = lines.map((line) => line.slice(depth));
	let last = body.length;
	while (last > 0 && body[last - 1] === '') last--;
	const tail = body.length - last;
	const kept = body.slice(0, last);
	let out = '';
	if (style === '|') out = kept.join('\n');
	else {
		// Folding: a single line end between two plain lines is a space; lines that begin with space keep theirs.
		let blank = 0;
		let before: string | null = null;
		for (const line of kept) {
			if (line === '') {
				blank++;
				continue;
			}
			const more = /^[ \t]/.test(line);
			if (before === null) out += '\n'.repeat(blank);
			else if (more || /^[ \t]/.test(before)) out += '\n'.repeat(blank + 1);
			else out += blank === 0 ? ' ' : '\n'.repeat(blank);
			out += line;
			before = line;
			blank = 0;
		}
	}
	if (kept.length === 0) return chomp === '+' ? '\n'.repeat(tail) : '';
	if (chomp === '-') return out;
	return out + (chomp === '+' ? '\n'.repeat(tail + 1) : '\n');
}

/** The text of a scalar as written, whatever its style. */
export function scalarText(raw: string, indent?: number): string {
	switch (raw[0]) {
		case '"':
			return doubleQuoted(raw.slice(1, -1));
		case "'":
			return folded(raw.slice(1, -1)).replaceAll("''", "'");
		case '|':
		case '>':
			return blockScalar(raw, indent);
		default:
			return folded(raw);
	}
}

/** What a plain scalar is in the core schema of YAML 1.2. A whole number that would lose digits stays text. */
export function plainValue(text: string): Scalar {
	if (text === '' || /^(?:~|null|Null|NULL)$/.test(text)) return null;
	if (/^(?:true|True|TRUE)$/.test(text)) return true;
	if (/^(?:false|False|FALSE)$/.test(text)) return false;
	if (/^[-+]?\d+$/.test(text) || /^0o[0-7]+$/.test(text) || /^0x[0-9a-fA-F]+$/.test(text)) {
		const number = Number(text);
		return Number.isSafeInteger(number) ? number : text;
	}
	if (/^[-+]?(?:\.\d+|\d+(?:\.\d*)?)(?:[eE][-+]?\d+)?$/.test(text)) return Number(text);
	if (/^[-+]?\.(?:inf|Inf|INF)$/.test(text)) return text.startsWith('-') ? -Infinity : Infinity;
	return /^\.(?:nan|NaN|NAN)$/.test(text) ? NaN : text;
}

const PLAIN =
	/^(?![-?:](?:\s|$)|[,[\]{}#&*!|>'"%@`]|---|\.\.\.)[^\x00-\x1f\x7f-\x84\x86-\x9f\ufeff\ufffe\uffff\ud800-\udfff]+$/;

const pairs = (text: string) => text.replace(/[\ud800-\udbff][\udc00-\udfff]/g, 'x');

/** Whether a text can stand without quotes and be read as itself. */
function canBePlain(value: string, flow: boolean): boolean {
	return (
		PLAIN.test(pairs(value)) &&
		value === value.trim() &&
		!/:(?:\s|$)|\s#/.test(value) &&
		!(flow && /[,[\]{}]|^[-?:]|:/.test(value))
	);
}

function doubled(value: string): string {
	return `"${value
		.replaceAll('\\', '\\\\')
		.replaceAll('"', '\\"')
		.replaceAll('\n', '\\n')
		.replaceAll('\r', '\\r')
		.replaceAll('\t', '\\t')
		.replace(
			/[\x00-\x1f\x7f-\x9f\u2028\u2029\ufeff\ufffe\uffff]/g,
			(char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`
		)}"`;
}

/** A block scalar like the old one, or null where the value does not fit one. */
function asBlock(value: string, old: string, eol: string): string | null {
	if (/^[\s]|[\x00-\x08\x0b-\x1f\x7f\x85\u2028\u2029]|\n[ \t]*$(?<!\n)/.test(value) || value.trim() === '')
		return null;
	const tail = /\n*$/.exec(value)![0].length;
	const body = value.slice(0, value.length - tail);
	const lines = body.split('\n');
	const header = /^[|>][^\r\n]*/.exec(old)![0];
	const indent = /[\r\n]+( +)\S/.exec(old)?.[1];
	if (indent === undefined || tail > 1 || /\d/.test(header.slice(0, 3))) return null;
	const style = header[0]!;
	if (style === '>' && lines.some((line) => /^\s|^$/.test(line))) return null;
	const comment = /\s#.*$/.exec(header)?.[0] ?? '';
	const out = style === '>' ? lines.flatMap((line, nth) => (nth === 0 ? [line] : ['', line])) : lines;
	return (
		style +
		(tail === 0 ? '-' : '') +
		comment +
		eol +
		out.map((line) => (line === '' ? '' : indent + line)).join(eol)
	);
}

/**
 * A value in the style of the one it replaces. `old` is null for a new one; `text` says that it must be read as text.
 * @throws EditRefused
 */
export function writeScalar(
	value: string,
	old: string | null,
	text: boolean,
	flow: boolean,
	eol: string
): string {
	if (/[\ud800-\udfff]/.test(pairs(value)))
		throw new EditRefused('Half a character (a lone surrogate) cannot be written.');
	const quote = old?.[0] ?? '';
	if (quote === '|' || quote === '>') {
		const block = asBlock(value, old!, eol);
		if (block !== null) return block;
	}
	if (quote === "'" && !/[\x00-\x1f\x7f-\x9f\u2028\u2029\ufeff\ufffe\uffff]/.test(value))
		return `'${value.replaceAll("'", "''")}'`;
	if (quote === '"' || !canBePlain(value, flow)) return doubled(value);
	if (quote === "'" || quote === '|' || quote === '>') return doubled(value);
	const now = plainValue(value);
	if (typeof now === 'string') return value;
	if (text) return doubled(value);
	// A number in another writing than its own (`007`) would come back as another text.
	const was = old === null ? null : plainValue(old);
	return String(now) === value || (typeof now === 'number' && typeof was === 'number')
		? value
		: doubled(value);
}
