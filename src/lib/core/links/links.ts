import { recordKey, textKeysOf, valueOf, type EffectiveRecord, type Stack } from '../stack';

/** One reference: a field of a record that names another, or a text that belongs to it. */
export interface Link {
	from: EffectiveRecord;
	/** Path of the field, or the label of the text. */
	field: string;
	/** The id that is written there. */
	value: string;
	kinds: string[];
	/** The record it names, of a kind that fits. */
	to: EffectiveRecord | null;
	/** A record with that id of a kind that does not fit, when there is none that does. */
	misfit: EffectiveRecord | null;
	text: boolean;
	required: boolean;
}

export interface Links {
	/** References by the record they start from. */
	from: Map<string, Link[]>;
	/** References by the record they name. */
	to: Map<string, Link[]>;
}

const NONE = ['', '-'];

function* linksOf(stack: Stack, record: EffectiveRecord): Generator<Link> {
	const guide = stack.guide.kinds[record.kind]!;
	for (const [path, field] of Object.entries(guide.fields)) {
		if (!field.reference) continue;
		const value = valueOf(record, path);
		const none = [...NONE, ...field.reference.none];
		if (value === undefined || (none.includes(value) && !field.required)) continue;
		const { kinds } = field.reference;
		const to =
			kinds.map((kind) => stack.tables.get(kind)?.byId.get(value)).find((found) => found !== undefined) ??
			null;
		let misfit: EffectiveRecord | null = null;
		if (!to)
			for (const table of stack.tables.values())
				misfit ??= table.kind === stack.guide.words?.kind ? null : (table.byId.get(value) ?? null);
		yield { from: record, field: path, value, kinds, to, misfit, text: false, required: field.required };
	}
	const words = stack.guide.words?.kind;
	if (!words) return;
	for (const { label, key, required } of textKeysOf(stack, record)) {
		if (key === null) continue;
		const to = stack.tables.get(words)?.byId.get(key) ?? null;
		yield { from: record, field: label, value: key, kinds: [words], to, misfit: null, text: true, required };
	}
}

function push<V>(map: Map<string, V[]>, key: string, value: V): void {
	const list = map.get(key);
	if (list) list.push(value);
	else map.set(key, [value]);
}

/** Follows every reference of every record. */
export function buildLinks(stack: Stack): Links {
	const links: Links = { from: new Map(), to: new Map() };
	for (const table of stack.tables.values())
		for (const record of table.records)
			for (const link of linksOf(stack, record)) {
				push(links.from, recordKey(record.kind, record.id), link);
				if (link.to) push(links.to, recordKey(link.to.kind, link.to.id), link);
			}
	return links;
}

/**
 * Edits (insert, drop, replace, swap of neighbours) from one word to another: optimal string alignment distance,
 * a restricted Damerau–Levenshtein distance.
 */
export function distance(a: string, b: string): number {
	let older: number[] = [];
	let old = Array.from({ length: b.length + 1 }, (_, at) => at);
	for (let i = 1; i <= a.length; i++) {
		const row = [i];
		for (let j = 1; j <= b.length; j++) {
			let cost = Math.min(old[j]! + 1, row[j - 1]! + 1, old[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
			if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
				cost = Math.min(cost, older[j - 2]! + 1);
			row.push(cost);
		}
		older = old;
		old = row;
	}
	return old[b.length]!;
}

/** The ids most like a word, nearest first; only those that could be meant (up to half of the letters differ). */
export function nearest(word: string, ids: Iterable<string>, most = 3): string[] {
	const folded = word.toLowerCase();
	return [...ids]
		.map((id) => ({ id, cost: distance(folded, id.toLowerCase()) }))
		.filter(({ id, cost }) => cost <= Math.max(word.length, id.length) / 2)
		.sort((a, b) => a.cost - b.cost || (a.id < b.id ? -1 : 1))
		.slice(0, most)
		.map(({ id }) => id);
}
