// Where a script sets a name to a value, and where that name is used: by the scopes of Lua, else by the word.
import { dividesIn, skipped } from './calls';
import { variablesIn, type Variable } from './names';

/** A name that a line of code gives a value. */
export interface Assigned {
	name: string;
	/** Column of the name in the line, from 0. */
	at: number;
}

/** The name that a line gives a value; null where it does nothing of the sort. */
export function assignedIn(line: string): Assigned | null {
	const found =
		/^(\s*(?:(?:local|let|const|var|final|static)\s+)?)([\p{L}_][\p{L}\p{N}_]*)\s*(?::?=)(?!=)/u.exec(line);
	return found ? { name: found[2]!, at: found[1]!.length } : null;
}

/** The lines (from 1) in which a name stands as a word of the code: not in texts, not in comments, not behind a dot. */
function wordLines(code: string, name: string): number[] {
	const lines: number[] = [];
	const word = /[\p{L}_][\p{L}\p{N}_]*/uy;
	const divides = dividesIn(code);
	let line = 1;
	for (let at = 0; at < code.length;) {
		const next = skipped(code, at, divides);
		word.lastIndex = at;
		const found = next > at ? null : word.exec(code);
		const end = next > at ? next : at + (found?.[0].length ?? 1);
		if (found?.[0] === name && !/[.:]\s*$/.test(code.slice(Math.max(0, at - 2), at))) lines.push(line);
		for (let nth = at; nth < end; nth++) if (code[nth] === '\n') line++;
		at = end;
	}
	return lines;
}

/** The lines (from 1) in which each of some places stands. @param places ascending */
function linesAt(code: string, places: readonly number[]): number[] {
	let [line, at] = [1, 0];
	return places.map((place) => {
		for (; at < place; at++) if (code[at] === '\n') line++;
		return line;
	});
}

/** A script whose names were read once. */
export interface NamesRead {
	code: string;
	/** Null where it cannot be read as Lua. */
	variables: Variable[] | null;
}

/** Reads the names of a script. */
export const readNames = (code: string): NamesRead => ({ code, variables: variablesIn(code) });

const namedAt = (variables: readonly Variable[], place: number): Variable | undefined =>
	variables.find(({ at }) => at.some(([from]) => from === place));

/**
 * Who sees the name at a place: a part of its script, or all scripts; null where it is the name of no variable, as the
 * key of a table. Of a script that cannot be read as Lua every name is taken for one that all see.
 */
export function seenBy({ variables }: NamesRead, place: number): 'part' | 'all' | null {
	if (!variables) return 'all';
	const found = namedAt(variables, place);
	return found ? (found.local ? 'part' : 'all') : null;
}

/**
 * The lines (from 1) of a script in which a name means the same variable.
 * @param place where the variable is named in this script (UTF-16 code units); null for a global of another script
 */
export function usesIn(script: NamesRead, name: string, place: number | null): number[] {
	const { code, variables } = script;
	if (!variables) return [...new Set(wordLines(code, name))];
	const found =
		place === null ? variables.find((one) => !one.local && one.name === name) : namedAt(variables, place);
	return found
		? [
				...new Set(
					linesAt(
						code,
						found.at.map(([from]) => from)
					)
				)
			]
		: [];
}
