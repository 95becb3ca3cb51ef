// Who wears a text: the records that have it, and scripts and other texts that name it.
import type { Links } from '../links';
import type { Stack, Table } from '../stack';
import { formOf } from './forms';

/** What uses records of a kind: the records of another, or scripts. */
export interface Users {
	/** Null for scripts and other texts that are no data. */
	kind: string;
	title: string;
	plural: string;
	/** 1 for each row of which it names the record, 0 for the others. */
	rows: Uint8Array;
	count: number;
}

/** The name under which scripts are among what uses a text. */
const SCRIPTS = '#scripts';

const users = new WeakMap<Links, Map<Table, Users[]>>();

/** What uses the records of a table: kinds, those that use the most first, and then scripts. What uses none is left out. */
export function usersOf(links: Links, table: Table): readonly Users[] {
	const all = users.get(links) ?? new Map<Table, Users[]>();
	users.set(links, all);
	const old = all.get(table);
	if (old) return old;
	const start = links.starts.get(table.kind)!;
	const byKind = new Map<string, Uint8Array>();
	for (const { table: from, to, targets } of links.strands) {
		if (!targets.some(({ kind }) => kind === table.kind)) continue;
		let rows = byKind.get(from.kind);
		if (!rows) byKind.set(from.kind, (rows = new Uint8Array(table.count)));
		for (const place of to) if (place >= start && place < start + table.count) rows[place - start] = 1;
	}
	const said = wordsOfScripts(links.stack);
	const { words, kinds } = links.stack.guide;
	const scripts = new Uint8Array(table.count);
	for (let row = 0; row < table.count; row++) {
		const key = table.pool.at(table.rows.ids[row]!);
		// A script names the text, and the game adds the form.
		const form = words?.plurals === undefined ? null : formOf(words.plurals, key);
		if (said.has(key) || (form && said.has(form.text))) scripts[row] = 1;
	}
	const counted = (rows: Uint8Array) => rows.reduce((sum, one) => sum + one, 0);
	const found = [...byKind]
		.map(([kind, rows]) => {
			const { title, plural = title } = kinds[kind]!;
			return { kind, title, plural, rows, count: counted(rows) };
		})
		.sort((a, b) => b.count - a.count);
	found.push({ kind: SCRIPTS, title: 'script', plural: 'scripts', rows: scripts, count: counted(scripts) });
	const some = found.filter(({ count }) => count > 0);
	all.set(table, some);
	return some;
}

/** For each row of a table whether a field, a text of a record or a line of a script names it: 1, or 0. */
export function usedRows(links: Links, table: Table): Uint8Array {
	const used = new Uint8Array(table.count);
	for (const { rows } of usersOf(links, table))
		for (let row = 0; row < table.count; row++) if (rows[row] === 1) used[row] = 1;
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
