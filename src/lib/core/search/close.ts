// The second look at a query: the few best are looked at value by value, for their order and the reason.
import { addTo } from '../gather';
import { fieldOf } from '../guide';
import { recordAt } from '../links';
import { nameOf } from '../stack';
import {
	cluesOf,
	isPhrase,
	likeness,
	type Clue,
	type GivenName,
	type Wanted,
	type WantedWord
} from './clues';
import { fold } from './fold';
import { bestOf, EXACT, PHRASE, SOFT } from './score';
import type { Hit, SearchIndex, SearchOptions } from './types';

/** Records that are looked at value by value; so few left are so for the words that are left, too. */
export const CLOSE = 50;
/** Hits of each group that is not records. */
const OTHERS = 40;

/** A record looked at closely: the clue that answers best and the score; null where a word has no answer in it. */
function closely(
	clues: Clue[],
	wanted: Wanted,
	language: string | undefined,
	soft: (word: WantedWord) => string | null
): { clue: Clue; score: number; named: string | null } | null {
	let score = 0;
	let best: { clue: Clue; value: number } | null = null;
	const answered: { field: string | null; value: number }[] = [];
	const named = new Set<string>();
	for (const word of wanted.words) {
		if (word.parts.length === 0 && !wanted.pattern) continue;
		let top = 0;
		for (const clue of clues) {
			if (language && clue.language !== language) continue;
			const value =
				likeness(clue, word, wanted) *
				clue.weight *
				(0.9 + 0.1 * Math.min(1, word.folded.length / clue.folded.length));
			if (value <= 0) continue;
			if (!best || value > best.value) best = { clue, value };
			if (clue.field !== null) answered.push({ field: clue.field, value });
			top = Math.max(top, value);
		}
		const field = soft(word);
		if (field !== null) {
			named.add(field);
			top = Math.max(top, SOFT);
		}
		if (top === 0) return null;
		score += top / wanted.words.length;
	}
	if (!best) return null;
	named.delete('');
	const asked = answered.find((answer) => answer.field !== null && named.has(answer.field));
	if (asked) score += 40;
	return { clue: best.clue, score, named: asked?.field ?? [...named][0] ?? null };
}

/** The best of some records, each looked at value by value, best first. */
export function recordHits(
	index: SearchIndex,
	places: number[],
	wanted: Wanted,
	options: SearchOptions
): Hit[] {
	const { stack, links, room } = index;
	const words = stack.guide.words?.kind;
	const hits: Hit[] = [];
	const given = new Map<string, GivenName[]>();
	for (const entry of options.given ?? [])
		if (entry.on.record !== undefined && entry.on.field === undefined) {
			const key = `${entry.on.kind}/${entry.on.record}`;
			addTo(given, key, entry);
		}
	for (const place of bestOf(places, room.sum, CLOSE)) {
		const record = recordAt(links, place);
		const { table } = record;
		const soft = (word: WantedWord) => {
			if (wanted.words.length < 2 || wanted.pattern) return null;
			if (
				[table.kind, table.guide.title, table.guide.plural ?? ''].some((title) => fold(title) === word.folded)
			)
				return '';
			return (
				table.columns.find((path) => fold(fieldOf(table.guide, path)?.title ?? path) === word.folded) ?? null
			);
		};
		const clues = cluesOf(stack, record, given.get(`${record.kind}/${record.id}`));
		const found = closely(clues, wanted, options.language, soft);
		if (!found) continue;
		let { clue, score } = found;
		const exact = clues
			.filter((candidate) => isPhrase(candidate.folded, wanted))
			.sort((a, b) => b.weight - a.weight)[0];
		if (exact && (wanted.words.length > 1 || exact.weight >= clue.weight)) {
			clue = exact;
			score = Math.max(score, exact.weight) + (wanted.words.length > 1 ? PHRASE : EXACT);
		}
		const winner = record.presences.at(-1)!;
		const presence = (clue.field && record.said(clue.field)?.presence) || winner;
		hits.push({
			group: record.kind === words ? 'text' : 'record',
			layer: presence.layer.id,
			file: presence.path,
			line: presence.line,
			kind: record.kind,
			record: record.id,
			name: nameOf(stack, record),
			// The field that was asked for by its name, where there is one, rather than the one that happened to match.
			field: found.named ?? clue.field,
			matched: clue.text,
			reason: clue.what,
			uses: links.users.uses[place]!,
			score: score + Math.min(links.users.uses[place]!, 20) / 100
		});
	}
	return hits.sort((a, b) => b.score - a.score || (a.record! < b.record! ? -1 : 1));
}

/** The best lines of scripts and other texts. */
export function lineHits(
	{ occurrences, lineRoom, stack }: SearchIndex,
	lines: number[],
	{ phrase, words }: Wanted,
	{ layer, folder }: SearchOptions
): Hit[] {
	const hits: Hit[] = [];
	for (const at of bestOf(lines, lineRoom.sum, OTHERS * 4)) {
		const line = occurrences.lines[at]!;
		if ((layer && line.layer !== layer) || (folder && !line.file.path.startsWith(`${folder}/`))) continue;
		const text = stack.pool.at(line.text);
		const folded = fold(text);
		if (words.length > 1 && !words.every((word) => word.parts.every((part) => folded.includes(part))))
			continue;
		hits.push({
			group: 'line',
			layer: line.layer,
			file: line.file.path,
			line: line.number,
			kind: null,
			record: null,
			name: null,
			field: null,
			matched: text,
			reason:
				line.file.facts?.format === 'lua' || /\.(lua|js|py|cs|sh|bat)$/i.test(line.file.path)
					? 'script'
					: 'text',
			uses: 0,
			score: lineRoom.sum[at]! * 10 + (folded.includes(phrase) ? 5 : 0)
		});
	}
	return hits.sort((a, b) => b.score - a.score).slice(0, OTHERS);
}
