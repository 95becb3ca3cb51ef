import { lineAt } from '../text';
import {
	EditRefused,
	startDocument,
	type TextDocument,
	type OpenDocument,
	type ReadHints,
	type Scalar
} from './document';
import { contentLineEnd } from './lines';
import { BARE, LIST, MAP, TEXT, type TapeWriter } from './tape';
import { addTreeRecords, type Syntax } from './tree';
import { treeFormat } from './tree-edits';

/** Containers nested deeper than this are not read: no game's data are, and hostile files must cost nothing. */
export const DEEPEST = 400;

const NUMBER = /^-?(0|[1-9]\d*)(\.\d+)?([eE][-+]?\d+)?$/;
const isWordEnd = (code: number) =>
	code <= 32 || code === 44 || code === 58 || code === 91 || code === 93 || code === 123 || code === 125;

/** End of the commentary that begins at `at`, or -1; one that never ends goes to the end of the text. */
export function slashComment(text: string, at: number): number {
	if (text.charCodeAt(at) !== 47) return -1;
	if (text.charCodeAt(at + 1) === 47) return contentLineEnd(text, at);
	if (text.charCodeAt(at + 1) !== 42) return -1;
	const end = text.indexOf('*/', at + 2);
	return end < 0 ? text.length : end + 2;
}

/** Checks a string between its quotes; the offset of the first fault or -1. */
function stringFault(text: string, from: number, to: number): number {
	for (let at = from; at < to; at++) {
		const code = text.charCodeAt(at);
		if (code < 32) return at;
		if (code !== 92) continue;
		const next = text[++at]!;
		if (next === 'u') {
			if (!/^[0-9a-fA-F]{4}$/.test(text.slice(at + 1, at + 5)) || at + 5 > to) return at - 1;
			at += 4;
		} else if (!'"\\/bfnrt'.includes(next)) return at - 1;
	}
	return -1;
}

interface Reader {
	doc: OpenDocument;
	tape: TapeWriter;
	text: string;
	strict: boolean;
}

/**
 * One pass without recursion. Faults are told where they are and stepped over, so that all records before and after
 * one are still read.
 */
function scan({ doc, tape, text, strict }: Reader): number {
	const stack: number[] = [];
	let inMap = false;
	let root = -1;
	let at = 0;
	let keyFrom = -1;
	let keyTo = -1;
	/** Whether a value or name may stand here; after one, a separator must come first. */
	let ready = true;
	/** Whether a name was read whose value is still to come. */
	let named = false;
	let comma = -1;
	let tooDeep = 0;
	const length = text.length;

	const done = () => {
		ready = false;
		named = false;
		keyFrom = keyTo = -1;
		comma = -1;
	};
	const begin = (here: number): boolean => {
		if (stack.length === 0 && root >= 0) {
			doc.problem(here, 'Something stands behind the end of the data.');
			return false;
		}
		if (!ready) {
			doc.problem(here, 'A comma is missing before this.');
			ready = true;
		}
		if (inMap && !named) {
			doc.problem(here, 'A name in double quotes with a colon is missing before this value.');
			return false;
		}
		if (root < 0) root = tape.count;
		return true;
	};

	while (at < length) {
		const code = text.charCodeAt(at);
		if (code === 32 || code === 10 || code === 13 || code === 9) {
			at++;
			continue;
		}
		if (tooDeep > 0 && (code === 123 || code === 91 || code === 125 || code === 93)) {
			tooDeep += code === 123 || code === 91 ? 1 : -1;
			at++;
			if (tooDeep === 0) done();
			continue;
		}
		if (code === 34) {
			let end = at + 1;
			let fault = false;
			for (;;) {
				const inside = text.charCodeAt(end);
				if (inside === 34) break;
				if (inside === 92) {
					fault ||= !'"\\/bfnrtu'.includes(text[end + 1] ?? '\0') || text[end + 1] === 'u';
					end += 2;
				} else if (inside >= 32) end++;
				else if (inside === 10 || inside === 13 || end >= length) break;
				else {
					fault = true;
					end++;
				}
			}
			if (end >= length || text.charCodeAt(end) !== 34) {
				doc.problem(at, 'This text is never closed by a double quote.');
				end = Math.min(end, length);
				if (tooDeep === 0 && !(inMap && !named)) done();
				at = end;
				continue;
			}
			if (fault) {
				const wrong = stringFault(text, at + 1, end);
				if (wrong >= 0)
					doc.problem(
						wrong,
						text[wrong] === '\\'
							? 'After the backslash stands something that JSON does not know.'
							: 'A tab or control character must be written with a backslash inside a text.'
					);
			}
			const from = at;
			at = end + 1;
			if (tooDeep > 0) continue;
			if (inMap && !named) {
				if (!ready) {
					doc.problem(from, 'A comma is missing before this.');
					ready = true;
				}
				keyFrom = from;
				keyTo = at;
				let next = at;
				while (next < length) {
					const space = text.charCodeAt(next);
					if (space === 32 || space === 10 || space === 13 || space === 9) next++;
					else if (space === 47 && !strict) {
						const behind = slashComment(text, next);
						if (behind < 0) break;
						tape.remark(next, behind);
						next = behind;
					} else break;
				}
				named = true;
				comma = -1;
				if (text.charCodeAt(next) === 58) at = next + 1;
				else doc.problem(at, 'A colon is missing between the name and its value.');
				continue;
			}
			if (begin(from)) tape.leaf(TEXT, keyFrom, keyTo, from, at);
			done();
			continue;
		}
		if (code === 123 || code === 91) {
			if (stack.length >= DEEPEST) {
				doc.problem(at, `Here the data are nested more than ${DEEPEST} deep; what is deeper is not read.`);
				tooDeep = 1;
				at++;
				continue;
			}
			if (!begin(at)) {
				// What cannot be placed is still stepped into, so that its brackets do not close others.
				keyFrom = keyTo = -1;
			}
			if (root < 0) root = tape.count;
			stack.push(tape.open(code === 123 ? MAP : LIST, keyFrom, keyTo, at));
			inMap = code === 123;
			ready = true;
			named = false;
			keyFrom = keyTo = -1;
			comma = -1;
			at++;
			continue;
		}
		if (code === 125 || code === 93) {
			const kind = code === 125 ? MAP : LIST;
			const top = stack.at(-1);
			if (top === undefined) {
				doc.problem(at, `This “${text[at]}” closes nothing.`);
				at++;
				continue;
			}
			if (named) doc.problem(at, 'A value is missing here.');
			else if (comma >= 0 && strict)
				doc.problem(comma, 'The comma here has nothing after it; the game’s reader takes no such comma.');
			if (tape.kind(top) !== kind) {
				const wanted = tape.kind(top) === MAP ? '}' : ']';
				doc.problem(
					at,
					`This “${text[at]}” does not close the “${text[tape.from(top)]}” of line ${lineOf(doc, tape.from(top))}; “${wanted}” is missing before it.`
				);
				const match = stack.findLastIndex((node) => tape.kind(node) === kind);
				if (match < 0) {
					at++;
					continue;
				}
				while (stack.length > match + 1) {
					const node = stack.pop()!;
					tape.close(node, at);
					tape.breakOff(node);
				}
			}
			tape.close(stack.pop()!, at + 1);
			inMap = stack.length > 0 && tape.kind(stack.at(-1)!) === MAP;
			done();
			at++;
			continue;
		}
		if (code === 44) {
			if (tooDeep > 0) {
				at++;
				continue;
			}
			if (named) doc.problem(at, 'A value is missing before this comma.');
			else if (ready)
				doc.problem(at, comma >= 0 ? 'Two commas stand together here.' : 'This comma has nothing before it.');
			if (stack.length === 0 && !ready) doc.problem(at, 'Something stands behind the end of the data.');
			ready = stack.length > 0;
			named = false;
			keyFrom = keyTo = -1;
			comma = at++;
			continue;
		}
		if (code === 47) {
			const end = slashComment(text, at);
			if (end >= 0) {
				if (strict) doc.problem(at, 'Strict JSON has no comments.');
				if (text[at + 1] === '*' && text.slice(end - 2, end) !== '*/')
					doc.problem(at, 'This comment is never closed by “*/”.');
				tape.remark(at, end);
				at = end;
				continue;
			}
		}
		let end = at + 1;
		while (end < length && !isWordEnd(text.charCodeAt(end)) && text.charCodeAt(end) !== 34) end++;
		if (tooDeep > 0) {
			at = end;
			continue;
		}
		if (code === 58) {
			doc.problem(at, 'This colon has no name before it.');
			at++;
			continue;
		}
		const word = text.slice(at, end);
		const first = word.charCodeAt(0);
		const good =
			first === 45 || (first >= 48 && first <= 57)
				? NUMBER.test(word)
				: word === 'true' || word === 'false' || word === 'null';
		if (!good)
			doc.problem(
				at,
				/^[-+.\d]/.test(word)
					? 'This number is not written as JSON wants it.'
					: 'This word is none that JSON knows; text needs double quotes.'
			);
		if (begin(at) && good) tape.leaf(BARE, keyFrom, keyTo, at, end);
		if (inMap && !named && !good) {
			// Perhaps a name without quotes: its colon is not a second fault.
			while (end < length && text.charCodeAt(end) === 32) end++;
			if (text.charCodeAt(end) === 58) {
				named = true;
				at = end + 1;
				continue;
			}
		}
		done();
		at = end;
	}
	while (stack.length > 0) {
		const node = stack.pop()!;
		const from = tape.from(node);
		doc.problem(
			from,
			`The “${text[from]}” of line ${lineOf(doc, from)} is never closed${stack.length === 0 ? '' : ' (nor what holds it)'}.`
		);
		tape.close(node, length);
		tape.breakOff(node);
		if (stack.length > 0) {
			for (const outer of stack) {
				tape.close(outer, length);
				tape.breakOff(outer);
			}
			break;
		}
	}
	return root;
}

const lineOf = (doc: TextDocument, at: number) => lineAt(doc.lines, at);

function unquoted(raw: string): string {
	if (!raw.includes('\\')) return raw.slice(1, -1);
	try {
		return JSON.parse(raw) as string;
	} catch {
		return raw.slice(1, -1);
	}
}

/** A bare word as a value; a whole number that would lose digits stays text. */
export function bareValue(raw: string): Scalar {
	if (raw === 'true') return true;
	if (raw === 'false') return false;
	if (raw === 'null') return null;
	const number = Number(raw);
	return Number.isSafeInteger(number) || !/^-?\d+$/.test(raw) ? number : raw;
}

const isBare = (value: string) => NUMBER.test(value) || /^(true|false|null)$/.test(value);

const syntax: Syntax = {
	name: ({ tape, content: text }, node) => unquoted(text.slice(tape.keyFrom(node), tape.keyTo(node))),
	value({ tape, content: text }, node) {
		const raw = text.slice(tape.from(node), tape.to(node));
		return tape.kind(node) === TEXT ? unquoted(raw) : bareValue(raw);
	},
	writeName: (_doc, name) => JSON.stringify(name),
	writeValue(doc, node, value) {
		if (node < 0) return isBare(value) ? value : JSON.stringify(value);
		if (doc.tape.kind(node) === TEXT) return JSON.stringify(value);
		if (isBare(value)) return value;
		const old = doc.content.slice(doc.tape.from(node), doc.tape.to(node));
		if (old === 'null') return JSON.stringify(value);
		throw new EditRefused(
			`Here stands a ${/^[-\d]/.test(old) ? 'number' : 'switch (true or false)'}; “${value}” is none.`
		);
	},
	pair: ': ',
	inside: ({ tape }, node) => ({ from: tape.from(node) + 1, to: tape.to(node) - 1, separators: ',' }),
	comment: slashComment
};

function read(text: string, hints: ReadHints): TextDocument {
	const doc = startDocument('json', text, hints);
	if (text.trim() === '') {
		doc.problem(0, 'The file is empty: there is no data.');
		return doc;
	}
	const root = scan({ doc, tape: doc.tape, text, strict: hints.strict ?? false });
	doc.tape.finish();
	if (root < 0) {
		if (doc.problems.length === 0) doc.problem(0, 'There is no data in this file, only comments.');
		return doc;
	}
	addTreeRecords(doc, root, syntax);
	return doc;
}

/** JSON, with comments and trailing commas where they are there: a map or a list of objects, else one record. */
export const json = treeFormat('json', ['json', 'jsonc'], read, syntax, { nested: true });
