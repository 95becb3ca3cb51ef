// Who wears a text: the records that have it, and scripts and other texts that name it.
import type { Links } from '../links';
import type { Stack, Table } from '../stack';
import { formOf } from './forms';

/** For each row of a table whether a field, a text of a record or a line of a script names it: 1, or 0. */
export function usedRows(links: Links, table: Table): Uint8Array {
	const start = links.starts.get(table.kind)!;
	const used = new Uint8Array(table.count);
	for (const { to, targets } of links.strands) {
		if (!targets.some(({ kind }) => kind === table.kind)) continue;
		for (const place of to) if (place >= start && place < start + table.count) used[place - start] = 1;
	}
	const said = wordsOfScripts(links.stack);
	const { plurals } = links.stack.guide.words ?? {};
	for (let row = 0; row < table.count; row++) {
		if (used[row] === 1) continue;
		const key = table.pool.at(table.rows.ids[row]!);
		// A script names the text, and the game adds the form.
		const form = plurals === undefined ? null : formOf(plurals, key);
		if (said.has(key) || (form && said.has(form.text))) used[row] = 1;
	}
	return used;
}

/** A word that can be an id, with dots and dashes in it. */
const WORD = /[\p{L}\p{N}_][\p{L}\p{N}_.:/-]*/gu;

const known = new WeakMap<Stack, ReadonlySet<string>>();

/** All that stands in scripts and other texts that are no data, as words: whole, and each part between two marks. */
function wordsOfScripts(stack: Stack): ReadonlySet<string> {
	const old = known.get(stack);
	if (old) return old;
	const found = new Set<string>();
	const seen = new Set<number>();
	for (const { files } of stack.layers)
		for (const { facts } of files.values()) {
			const prose = facts?.prose ?? new Int32Array();
			for (let at = 1; at < prose.length; at += 2) {
				if (seen.has(prose[at]!)) continue;
				seen.add(prose[at]!);
				for (const [word] of stack.pool.at(prose[at]!).matchAll(WORD)) {
					const own = word.replace(/[.:/-]+$/, '');
					found.add(own);
					for (const part of own.split(/[.:/-]/)) found.add(part);
				}
			}
		}
	known.set(stack, found);
	return found;
}
