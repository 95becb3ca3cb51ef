// Whether Lua code can be loaded, by luaparse: what it refuses, the game refuses before it runs a line of it.
import { parse } from 'luaparse';
import { lineIndex } from '../text';

/** Versions of the language that games use; code that one of them takes is right. */
const VERSIONS = ['5.3', 'LuaJIT', '5.1'] as const;

/** Code longer than this (UTF-16 code units) is not parsed: its tree would take many times its size. */
const LONGEST = 4_000_000;

interface ParserFault {
	message: string;
	index: number;
}

/** Sentences of the parser, as somebody would say them. */
const WORDS: [RegExp, (...parts: string[]) => string][] = [
	[
		/^'end' expected near '<eof>'/,
		() => 'An “end” is missing: a function, if, for or while is never closed.'
	],
	[/^'?(.+?)'? expected near '<eof>'/, (what) => `${named(what!)} is missing before the end of the file.`],
	[/^'?(.+?)'? expected near '(.*)'$/s, (what, near) => `${named(what!)} is missing before “${near}”.`],
	[/^unexpected \w+ '(.*?)' near/s, (what) => `“${what}” cannot be here.`],
	[/^unfinished string/, () => 'This text is never closed by its quote.'],
	[/^unfinished long string/, () => 'This text is never closed by “]]”.'],
	[/^unfinished long comment/, () => 'This comment is never closed by “]]”.'],
	[/^malformed number near '(.*)'/s, (what) => `“${what}” is not a Lua number.`],
	[/^no visible label '(.*)'/, (what) => `There is no label “${what}” for this “goto”.`],
	[/^no loop to break/, () => 'A “break” can only be inside a loop.'],
	[
		/^cannot use '\.\.\.' outside/,
		() => '“...” can only be used in a function that has it among its parameters.'
	]
];

function named(what: string): string {
	if (what === '<expression>') return 'A value';
	if (what === '<name>' || what === "<name> or '...") return 'A name';
	if (what === 'function arguments') return 'A call with “(…)”';
	return `“${what}”`;
}

function inWords(message: string): string {
	const said = message.replace(/^\[\d+:\d+\] /, '');
	for (const [pattern, words] of WORDS) {
		const match = pattern.exec(said);
		if (match) return words(...match.slice(1));
	}
	return `This is not valid Lua: ${said}.`;
}

/** Attributes of locals, which came with version 5.4, as spaces: the parser does not know them. */
const withoutAttributes = (text: string): string =>
	text.replace(/\blocal\s+\w+\s*(?:<[^\n=]*)/g, (names) =>
		names.replace(/<\s*(?:const|close)\s*>/g, (all) => ' '.repeat(all.length))
	);

/** Where a fault is: the parser tells where it stopped, which may be behind it. */
function placeOf(code: string, index: number, message: string): number {
	const open = /unfinished string near '(.*)'$/s.exec(message);
	if (open) return Math.max(0, index - open[1]!.length);
	const begun = /starting at line (\d+)/.exec(message);
	if (begun) return lineIndex(code)[Number(begun[1]) - 1] ?? index;
	return message.includes('no loop to break') ? Math.max(0, code.lastIndexOf('break', index)) : index;
}

/** What keeps code from being loaded: its place (UTF-16 code units) and why, in words; null where it loads, undefined where that cannot be told. */
export function codeFault(text: string): { at: number; message: string } | null | undefined {
	if (text.length > LONGEST) return undefined;
	const code = withoutAttributes(text);
	let furthest: ParserFault | null = null;
	for (const luaVersion of VERSIONS)
		try {
			parse(code, { luaVersion, comments: false, encodingMode: 'none' });
			return null;
		} catch (fault) {
			// Too deep for the parser: that says nothing of the code.
			if (!(fault instanceof SyntaxError)) return undefined;
			const found = fault as unknown as ParserFault;
			if (!furthest || found.index > furthest.index) furthest = found;
		}
	const { index, message } = furthest!;
	return { at: placeOf(code, index, message), message: inWords(message) };
}
