// What two or more layers both change: by record and field, and by file, with who wins now.
import { addTo } from '../gather';
import type { Facts } from '../facts';
import { isGame, unitOf, type Layer, type Stack, type Table, type TableFile } from '../stack';
import { digestOf } from '../text';

/** What a layer says of a field. */
export interface ClashValue {
	layer: Layer;
	/** Null where its version of the record does not have the field. */
	value: string | null;
	/** It only repeats what the game says, over a change of a layer before it. */
	copied: boolean;
	path: string;
	line: number;
}

/** Something that two or more layers say differently from the game, or that one changes and a later one takes back. */
export interface Clash {
	/** Null for a file that is not data. */
	kind: string | null;
	/** The id; of a file its path. */
	record: string;
	/** Null where the layers have different files. */
	field: string | null;
	/** What the game says; null where it has no such record, field or file. */
	base: string | null;
	/** In the order of loading. */
	values: ClashValue[];
	/** The layer whose value the game uses. */
	wins: Layer;
	/** Whether the layers say different things. */
	differs: boolean;
}

/** A record in a file of a layer. */
interface Standing {
	from: TableFile;
	nth: number;
	order: number;
}

/** Calls `each` for every field of a record, as numbers of texts; of texts in a language, one field with that name. */
function eachField(
	{ facts, composed, language }: TableFile,
	nth: number,
	each: (path: number | string, value: number) => void
) {
	// Of what a patch made of a file, only what it changed is its own.
	if (composed?.changes && language === undefined) {
		for (const [path, value] of composed.changes(nth)) each(path, value);
		return;
	}
	// Where layers replace single fields, only those that a file says itself are its own.
	const { shapes, shape, firsts, values } = composed?.own ?? facts;
	const paths = shapes[shape[nth]!] ?? [];
	for (let at = 0; at < paths.length; at++) {
		const value = values[firsts[nth]! + at]!;
		if (language === undefined) each(paths[at]!, value);
		else if (at === paths.length - 1) each(language, value);
	}
}

/** The records of a table that two or more layers besides the game have, with all files in which they are. */
function* contested(table: Table, order: ReadonlyMap<string, number>): Generator<Standing[]> {
	const files = [...table.files, ...table.hidden].filter(({ removes }) => !removes);
	if (new Set(files.filter(({ layer }) => !isGame(layer)).map(({ layer }) => layer.id)).size < 2) return;
	/** By id: the one layer that has it, or -1 for several. */
	const owners = new Map<number, number>();
	for (const { layer, facts } of files) {
		if (isGame(layer)) continue;
		const at = order.get(layer.id)!;
		for (const id of facts.ids) {
			const known = owners.get(id);
			owners.set(id, known === undefined || known === at ? at : -1);
		}
	}
	const found = new Map<number, Standing[]>();
	for (const from of files)
		from.facts.ids.forEach((id, nth) => {
			if (owners.get(id) !== -1) return;
			const list = found.get(id);
			const one = { from, nth, order: order.get(from.layer.id)! };
			if (list) list.push(one);
			else found.set(id, [one]);
		});
	for (const list of found.values()) yield list.sort((a, b) => a.order - b.order);
}

type Said = Map<number | string, number>;

/** What each layer says of a record, and what the game says; the last file of a layer counts for each of its fields. */
function saidBy(list: readonly Standing[]): {
	base: Said | null;
	by: Map<Layer, { said: Said; at: Standing }>;
} {
	let base: Said | null = null;
	const by = new Map<Layer, { said: Said; at: Standing }>();
	for (const one of list) {
		const { layer } = one.from;
		let said: Said;
		if (isGame(layer)) base = said = base ?? new Map();
		else {
			const known = by.get(layer);
			said = known?.said ?? new Map();
			by.set(layer, { said, at: one });
		}
		eachField(one.from, one.nth, (path, value) => said.set(path, value));
	}
	return { base, by };
}

const textOf = (facts: Facts, number: number | undefined): string | null =>
	number === undefined || number < 0 ? null : facts.pool.at(number);

/** Whether a path lies in a list of which the items of all layers count. */
function isJoined({ guide: { joins }, pool }: Table, path: number | string): boolean {
	if (!joins || typeof path === 'string') return false;
	const join = joins[unitOf(pool.at(path))];
	return join !== undefined && join.same !== 'position';
}

function* inTable(table: Table, order: ReadonlyMap<string, number>): Generator<Clash> {
	const key = table.guide.key === undefined ? -1 : table.pool.find(table.guide.key);
	for (const list of contested(table, order)) {
		const { base, by } = saidBy(list);
		if (by.size < 2) continue;
		const { facts } = list[0]!.from;
		const record = facts.pool.at(facts.ids[list[0]!.nth]!);
		const paths = new Set([...by.values()].flatMap(({ said }) => [...said.keys()]));
		for (const path of paths) {
			// What names the record is the same in all of them, and joined lists have the items of all.
			if (path === key || isJoined(table, path)) continue;
			const under = base?.get(path);
			// A text in one language says nothing of the others, and a single field nothing of the rest.
			const isWhole = ({ language, file }: TableFile) =>
				table.guide.merge !== 'field' && language === undefined && !file.patched;
			const stating = [...by].filter(([, { said, at }]) => said.has(path) || isWhole(at.from));
			const changing = stating.filter(([, { said }]) => said.get(path) !== under);
			if (stating.length < 2 || changing.length === 0) continue;
			const first = stating.findIndex(([, { said }]) => said.get(path) !== under);
			const values = stating.slice(first).map(([layer, { said, at }], nth): ClashValue => {
				const number = said.get(path);
				return {
					layer,
					value: textOf(facts, number),
					copied: nth > 0 && number === under,
					path: at.from.file.path,
					line: at.from.facts.lines[at.nth]!
				};
			});
			if (values.length < 2) continue;
			yield {
				kind: table.kind,
				record,
				field: typeof path === 'string' ? path : facts.pool.at(path),
				base: textOf(facts, under),
				values,
				wins: values.at(-1)!.layer,
				differs: new Set(values.map(({ value }) => value)).size > 1
			};
		}
	}
}

/** Files that are not data and that two or more layers have. */
function* inFiles({ layers, tables }: Stack): Generator<Clash> {
	const data = new Set<string>();
	for (const table of tables.values())
		for (const { file } of [...table.files, ...table.hidden]) data.add(file.path);
	const paths = new Map<string, Layer[]>();
	for (const layer of layers)
		if (!isGame(layer)) for (const path of layer.files.keys()) if (!data.has(path)) addTo(paths, path, layer);
	for (const [path, owners] of paths) {
		if (owners.length < 2) continue;
		const digest = (layer: Layer) => digestOf(layer.files.get(path)!.bytes());
		const base = layers.findLast((layer) => isGame(layer) && layer.files.has(path));
		const under = base ? digest(base) : null;
		const values = owners.map((layer, nth): ClashValue => {
			const value = digest(layer);
			return { layer, value, copied: nth > 0 && value === under, path, line: 1 };
		});
		if (values.every(({ value }) => value === under)) continue;
		yield {
			kind: null,
			record: path,
			field: null,
			base: under,
			values,
			wins: owners.at(-1)!,
			differs: new Set(values.map(({ value }) => value)).size > 1
		};
	}
}

/**
 * All that two or more layers change, in the order of kinds and files; linear in the records of these layers.
 * Files by which mods say who they are do not count.
 */
export function clashesOf(stack: Stack): Clash[] {
	const order = new Map(stack.layers.map(({ id }, nth) => [id, nth]));
	const found: Clash[] = [];
	for (const table of stack.tables.values()) {
		const own = table.files.some(({ file }) => file.path === stack.guide.identity);
		if (!own) found.push(...inTable(table, order));
	}
	for (const clash of inFiles(stack)) if (clash.record !== stack.guide.identity) found.push(clash);
	return found;
}
