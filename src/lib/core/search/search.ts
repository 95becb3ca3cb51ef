import { distance, type Links } from '../links';
import { nameOf, namesOf, recordKey, textKeysOf, type EffectiveRecord, type Stack } from '../stack';
import { fold } from './fold';

/** One thing of a record that a word can match. */
interface Clue {
	text: string;
	folded: string;
	/** Words of it, for slips of the finger; only for names and ids. */
	parts: string[];
	number: number | null;
	weight: number;
	field: string | null;
	/** What it is, to say why the record was found. */
	what: string;
}

interface Entry {
	record: EffectiveRecord;
	name: string | null;
	uses: number;
	clues: Clue[];
}

/** Everything that can be found. Rebuilt from the stack; holds no state of its own. */
export interface SearchIndex {
	entries: Entry[];
}

/** One record that was found, with what matched and why. */
export interface Hit {
	layer: string;
	file: string;
	line: number;
	kind: string;
	record: string;
	name: string | null;
	field: string | null;
	matched: string;
	reason: string;
	/** How many other records name this one. */
	uses: number;
	score: number;
}

export interface SearchOptions {
	kind?: string;
	layer?: string;
	most?: number;
}

const clue = (text: string, weight: number, field: string | null, what: string): Clue => {
	const folded = fold(text);
	const number = /^[-+]?\d+(\.\d+)?$/.test(text.trim()) ? Number(text) : null;
	return { text, folded, parts: weight >= 60 ? folded.split(/[\s_.-]+/) : [], number, weight, field, what };
};

function cluesOf(stack: Stack, record: EffectiveRecord): Clue[] {
	const guide = stack.guide.kinds[record.kind]!;
	const isText = record.kind === stack.guide.words?.kind;
	const languages = stack.guide.words?.languages ?? {};
	const clues = [clue(record.id, isText ? 55 : 100, null, 'id')];
	for (const [language, name] of namesOf(stack, record))
		clues.push(clue(name, 95, null, `${languages[language]} name`));
	const texts = stack.tables.get(stack.guide.words?.kind ?? '');
	for (const { label, key, name } of textKeysOf(stack, record)) {
		const text = name || key === null ? undefined : texts?.byId.get(key);
		for (const [language, value] of text?.values ?? [])
			clues.push(clue(value.value, 40, null, `${languages[language] ?? language} ${label.toLowerCase()}`));
	}
	for (const [path, value] of record.values) {
		if (path === guide.key) continue;
		const title = isText ? `${languages[path] ?? path} text` : (guide.fields[path]?.title ?? path);
		if (value.value !== '') clues.push(clue(value.value, 30, path, title));
		if (value.remark) clues.push(clue(value.remark, 15, path, `remark on ${title}`));
		const meaning = guide.fields[path]?.codes?.[value.value];
		if (meaning && guide.fields[path]?.type !== 'flags')
			clues.push(clue(meaning, 25, path, `${title}: ${value.value}`));
	}
	const winner = record.presences.at(-1)!;
	if (winner.record.remark) clues.push(clue(winner.record.remark, 20, null, 'remark'));
	clues.push(clue(winner.path, 10, null, 'file name'));
	return clues;
}

/** Builds the index over all records of a stack. */
export function buildIndex(stack: Stack, links: Links): SearchIndex {
	const entries: Entry[] = [];
	for (const table of stack.tables.values())
		for (const record of table.records)
			entries.push({
				record,
				name: nameOf(stack, record),
				uses: (links.to.get(recordKey(record.kind, record.id)) ?? []).filter((link) => !link.text).length,
				clues: cluesOf(stack, record)
			});
	return { entries };
}

/** How well a clue answers one word: 0 for not at all, up to 1 for being it. */
function likeness(found: Clue, word: string, number: number | null): number {
	if (number !== null && found.number !== null) return found.number === number ? 1 : 0;
	if (found.folded === word) return 1;
	const at = found.folded.indexOf(word);
	if (at === 0) return 0.8;
	if (at > 0) return /[\s_./-]/.test(found.folded[at - 1]!) ? 0.7 : number === null ? 0.45 : 0;
	if (word.length < 4) return 0;
	const slips = word.length >= 8 ? 2 : 1;
	for (const part of found.parts) {
		if (Math.abs(part.length - word.length) <= slips && distance(part, word) <= slips) return 0.35;
	}
	return 0;
}

/**
 * Finds records by words in any order; each word must match something of the record.
 * Best first: exact ids and names, then beginnings, then parts, values, remarks and file names.
 */
export function search(
	index: SearchIndex,
	query: string,
	{ kind, layer, most = 200 }: SearchOptions = {}
): { hits: Hit[]; total: number } {
	const phrase = fold(query.trim());
	const words = phrase.split(/\s+/).filter((word) => word !== '');
	if (words.length === 0) return { hits: [], total: 0 };
	const hits: Hit[] = [];
	for (const { record, name, uses, clues } of index.entries) {
		const winner = record.presences.at(-1)!;
		if ((kind && record.kind !== kind) || (layer && winner.layer.id !== layer)) continue;
		let score = 0;
		let best: { clue: Clue; value: number } | null = null;
		const all = words.every((word) => {
			const number = /^[-+]?\d+(\.\d+)?$/.test(word) ? Number(word) : null;
			let top = 0;
			for (const found of clues) {
				const value = likeness(found, word, number) * found.weight;
				if (value <= 0) continue;
				if (!best || value > best.value) best = { clue: found, value };
				top = Math.max(top, value);
			}
			score += top / words.length;
			return top > 0;
		});
		if (!all || !best) continue;
		const exact = words.length > 1 ? clues.find((candidate) => candidate.folded === phrase) : undefined;
		const found = exact ?? (best as { clue: Clue }).clue;
		if (exact) score += 20;
		const presence = (found.field && record.values.get(found.field)?.presence) || winner;
		hits.push({
			layer: presence.layer.id,
			file: presence.path,
			line: presence.record.line,
			kind: record.kind,
			record: record.id,
			name,
			field: found.field,
			matched: found.text,
			reason: found.what,
			uses,
			score: score + Math.min(uses, 20) / 100
		});
	}
	hits.sort((a, b) => b.score - a.score || (a.record < b.record ? -1 : 1));
	return { hits: hits.slice(0, most), total: hits.length };
}
