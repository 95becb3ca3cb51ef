// Functions that scripts define under a global name, line by line: what the game may call in them.
import type { Facts } from '../facts';
import { codeLines } from './spoken';

/** A function that a script defines, by the line (from 1) on which it begins. */
export interface Defined {
	name: string;
	parameters: string[];
	line: number;
}

const DEFINED =
	/(?:^|[^\p{L}\p{N}_.])(?<local>local\s+)?function\s+(?<name>[\p{L}_][\p{L}\p{N}_.:]*)\s*\((?<parameters>[^)]*)\)|^\s*(?<to>[\p{L}_][\p{L}\p{N}_.]*)\s*=\s*function\s*\((?<of>[^)]*)\)/u;
const CALLED = /([\p{L}_][\p{L}\p{N}_.:]*)\s*\(/gu;

const named = (list: string): string[] =>
	list
		.split(',')
		.map((one) => one.trim())
		.filter((one) => one !== '');

interface Heard {
	defined: Defined[];
	/** Names that are called somewhere in the script, also its own. */
	called: Set<string>;
}

const heard = new WeakMap<Facts, Heard>();

function listen(facts: Facts): Heard {
	let found = heard.get(facts);
	if (found) return found;
	heard.set(facts, (found = { defined: [], called: new Set() }));
	for (const { line, code } of codeLines(facts)) {
		const parts = DEFINED.exec(code)?.groups;
		const name = parts?.name ?? parts?.to;
		if (name !== undefined && parts!.local === undefined)
			found.defined.push({
				name,
				parameters: named(parts!.parameters ?? parts!.of ?? ''),
				line
			});
		for (const [, call] of code.matchAll(CALLED)) if (call !== name) found.called.add(call!);
	}
	return found;
}

/** The functions that a script defines, in order. */
export const definedIn = (facts: Facts): readonly Defined[] => listen(facts).defined;

/** The names that a script calls. */
export const calledIn = (facts: Facts): ReadonlySet<string> => listen(facts).called;
