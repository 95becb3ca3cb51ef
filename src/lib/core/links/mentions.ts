// Where scripts and other texts name a record: lines that hold its id as a whole word. Not as sure as a reference: a
// word may mean something else; but what is not even mentioned is named by nobody.
import type { Stack } from '../stack';

/** A line of a script or text that names something. */
export interface Mention {
	/** Id of the layer, and the path and line in it. */
	layer: string;
	path: string;
	line: number;
	text: string;
}

/** Ids shorter than this, and mere numbers, are in too many lines to say anything: only in quotes they count. */
const SHORT = 3;

const isWordCode = (code: number) =>
	(code >= 48 && code <= 57) ||
	(code >= 65 && code <= 90) ||
	(code >= 97 && code <= 122) ||
	code === 95 ||
	code >= 128;

/** Whether a text holds an id as a whole word. */
export function names(text: string, id: string): boolean {
	const quoted = id.length < SHORT || /^[\d.]+$/.test(id);
	for (let at = text.indexOf(id); at >= 0; at = text.indexOf(id, at + 1)) {
		const [before, after] = [text.charCodeAt(at - 1), text.charCodeAt(at + id.length)];
		if (
			quoted
				? /["'`]/.test(text[at - 1] ?? '') && text[at - 1] === text[at + id.length]
				: !isWordCode(before || 0) && !isWordCode(after || 0)
		)
			return true;
	}
	return false;
}

/** Files of the stack that the game would see: a later layer's stands in for the same path below. */
function* seenFiles({ layers }: Stack) {
	const seen = new Set<string>();
	for (const layer of [...layers].reverse())
		for (const file of layer.files.values()) {
			if (seen.has(file.path)) continue;
			seen.add(file.path);
			yield { layer, file };
		}
}

/** The lines of scripts and texts that name an id, the first of them up to `most`, and how many there are. */
export function mentionsOf(stack: Stack, id: string, most = 50): { count: number; lines: Mention[] } {
	const found: { count: number; lines: Mention[] } = { count: 0, lines: [] };
	if (id === '') return found;
	// Each text is looked at once, however many lines are the same.
	const seen = new Map<number, boolean>();
	for (const { layer, file } of seenFiles(stack)) {
		const prose = file.facts?.prose;
		if (!prose) continue;
		for (let at = 0; at < prose.length; at += 2) {
			const text = prose[at + 1]!;
			let is = seen.get(text);
			if (is === undefined) seen.set(text, (is = names(stack.pool.at(text), id)));
			if (!is) continue;
			found.count++;
			if (found.lines.length < most)
				found.lines.push({ layer: layer.id, path: file.path, line: prose[at]!, text: stack.pool.at(text) });
		}
	}
	return found;
}

/** How many files could not be looked into: pictures, sounds, what is too large, and what could not be read completely. */
export function notLookedInto(stack: Stack): { files: number; faulty: number } {
	let [files, faulty] = [0, 0];
	for (const layer of stack.layers) {
		for (const path of layer.paths ?? []) if (!layer.files.get(path)?.facts) files++;
		for (const { facts } of layer.files.values()) if (facts && facts.problems.length > 0) faulty++;
	}
	return { files, faulty };
}
