// How an id is in a value: read, and written back with everything around it kept.
import { FILE, FOLDER, ID } from './fields';
import type { FieldGuide, Guide, ReferenceGuide } from './schema';

/** An id in a value, with the place of its letters. */
export interface Mention {
	id: string;
	from: number;
	to: number;
	/** The one kind that is meant, where the value says it; empty where it can be none. */
	kind?: string;
}

/** Whether a value is the id and nothing else. */
export const isPlain = (reference: ReferenceGuide): boolean => {
	const { before, after, list, weight, names, by, plus, marks, anyCase } = reference;
	return !(before || after || list || weight || names || by || plus || marks || anyCase);
};

/** The offset by which a number names a record: the largest that is not above it. */
function offsetFor(plus: Record<string, number>, number: number): [string, number] | null {
	let best: [string, number] | null = null;
	for (const [kind, offset] of Object.entries(plus))
		if (offset <= number && (!best || offset > best[1])) best = [kind, offset];
	return best;
}

/** The kind whose mark a text begins with, and the mark: the longest that fits. */
function markOf(marks: Record<string, string>, text: string): [string, string] | null {
	let best: [string, string] | null = null;
	for (const [kind, mark] of Object.entries(marks))
		if (text.length > mark.length && text.startsWith(mark) && (!best || mark.length > best[1].length))
			best = [kind, mark];
	return best;
}

/** One part of a value, spaces around it left out. */
function* partsOf(value: string, separator: string | undefined): Generator<[number, number]> {
	let from = 0;
	while (from <= value.length) {
		const next = separator === undefined ? -1 : value.indexOf(separator, from);
		const to = next < 0 ? value.length : next;
		let [start, end] = [from, to];
		while (start < end && value[start] === ' ') start++;
		while (end > start && value[end - 1] === ' ') end--;
		if (start < end || separator === undefined) yield [start, end];
		if (next < 0) return;
		from = next + separator!.length;
	}
}

/**
 * The ids in a value. What does not look as the rule says is taken as an id as is, and so is found missing.
 * @param decided the value of the field that says which kind is meant, where the rule has one
 */
export function mentionsIn(reference: ReferenceGuide, value: string, decided?: string): Mention[] {
	const { before = '', after = '', list, weight, by, plus, marks } = reference;
	const kind = by ? by.kinds[decided ?? ''] : undefined;
	const mentions: Mention[] = [];
	for (const [start, end] of partsOf(value, list)) {
		let [from, to] = [start, end];
		if (weight !== undefined) {
			const mark = value.indexOf(weight, from);
			if (mark >= 0 && mark < to) to = mark;
			while (to > from && value[to - 1] === ' ') to--;
		}
		const text = value.slice(from, to);
		if (plus) {
			const meant = /^[-+]?\d+$/.test(text) ? offsetFor(plus, Number(text)) : null;
			mentions.push(
				meant
					? { id: String(Number(text) - meant[1]), from, to, kind: meant[0] }
					: { id: text, from, to, kind: '' }
			);
			continue;
		}
		if (marks) {
			const marked = markOf(marks, text);
			if (marked)
				mentions.push({
					id: text.slice(marked[1].length),
					from: from + marked[1].length,
					to,
					kind: marked[0]
				});
			else if (reference.kinds.some((other) => !(other in marks))) mentions.push({ id: text, from, to });
			continue;
		}
		if (text.length > before.length + after.length && text.startsWith(before) && text.endsWith(after)) {
			from += before.length;
			to -= after.length;
		}
		mentions.push({ id: value.slice(from, to), from, to, ...(kind ? { kind } : {}) });
	}
	return mentions;
}

/** The value with the id of a mention exchanged; all else in it stays. */
export function withMention(reference: ReferenceGuide, value: string, mention: Mention, id: string): string {
	const offset = mention.kind === undefined ? undefined : reference.plus?.[mention.kind];
	const written = offset === undefined ? id : String(Number(id) + offset);
	return value.slice(0, mention.from) + written + value.slice(mention.to);
}

/** The value that names a record and nothing else; null where the rule cannot name one of that kind or id. */
export function valueFor(reference: ReferenceGuide, id: string, kind: string): string | null {
	const { before = '', after = '', plus, marks, key } = reference;
	// Another field of the record would have to be written, and only its id is known here.
	if (key !== undefined) return null;
	if (marks) return `${marks[kind] ?? ''}${id}`;
	if (!plus) return `${before}${id}${after}`;
	return kind in plus && /^\d+$/.test(id) ? String(Number(id) + plus[kind]!) : null;
}

/** How a rule reads in words; empty where the id is there as it is. */
export function ruleInWords(reference: ReferenceGuide): string {
	const { before, after, list, weight, names, by, plus, marks, anyCase, key } = reference;
	return [
		key && `by its ${key}`,
		names && 'the name in the path',
		list && `a list with “${list}” between`,
		weight && `with a weight after “${weight}”`,
		before && `“${before}” before it`,
		after && `“${after}” after it`,
		plus &&
			Object.entries(plus)
				.map(([kind, offset]) => `${kind} + ${offset}`)
				.join(', '),
		marks &&
			Object.entries(marks)
				.map(([kind, mark]) => `“${mark}” before ${kind}`)
				.join(', '),
		by && `its kind depends on ${by.field}`,
		anyCase && 'in any case'
	]
		.filter(Boolean)
		.join(', ');
}

/** The sorts of rules by which a field names a record. */
export const RULES = [
	'plain',
	'case',
	'affix',
	'list',
	'names',
	'weighted',
	'offset',
	'text',
	'file',
	'folder',
	'decided',
	'script',
	'pair'
] as const;
export type RuleName = (typeof RULES)[number];

/** The rule of a reference on a path; the most telling one where several go together. */
export function ruleOf(path: string, reference: ReferenceGuide): RuleName {
	if (path === ID) return 'pair';
	if (path === FOLDER || path === FILE) return 'folder';
	if (reference.names) return 'names';
	if (reference.plus) return 'offset';
	if (reference.by) return 'decided';
	if (reference.weight) return 'weighted';
	if (reference.list || path.endsWith('[]')) return 'list';
	if (reference.before || reference.after || reference.marks) return 'affix';
	return reference.anyCase ? 'case' : 'plain';
}

/** One statement of who names whom. `to` is a kind, or the pattern of a file's path. */
export interface Edge {
	rule: RuleName;
	from: string;
	field: string;
	to: string;
	sure: number;
}

/** Everything that a guide says of who names whom. What people said is sure. */
export function* edgesOf(guide: Guide): Generator<Edge> {
	for (const [from, kind] of Object.entries(guide.kinds)) {
		for (const [field, { reference, type, derive, found }] of Object.entries(kind.fields)) {
			if (type === 'file' && derive) yield { rule: 'file', from, field, to: derive, sure: found?.sure ?? 1 };
			for (const to of reference?.kinds ?? [])
				yield { rule: ruleOf(field, reference!), from, field, to, sure: reference!.found?.sure ?? 1 };
		}
		if (guide.words)
			for (const { key, found } of kind.texts)
				yield { rule: 'text', from, field: key, to: guide.words.kind, sure: found?.sure ?? 1 };
		for (const { path, found } of kind.assets ?? [])
			yield { rule: 'file', from, field: '#id', to: path, sure: found?.sure ?? 1 };
	}
	for (const { call, argument, kinds, found } of guide.scripts ?? [])
		for (const to of kinds)
			yield { rule: 'script', from: call, field: String(argument), to, sure: found?.sure ?? 1 };
}

/** What else the guide says of a field, each as a few words for people. */
export function columnsInWords(field: FieldGuide): string[] {
	const { unused, onlyIf, counts, derive, min, max, usual, separator } = field;
	return [
		unused && 'does nothing',
		onlyIf && `ignored unless ${onlyIf.field} is ${onlyIf.is.join(' or ')}`,
		counts &&
			(counts.startsWith('kind:') ? `counts rows of ${counts.slice(5)}` : `counts the items of ${counts}`),
		derive && `follows from the id: ${derive}`,
		(min !== undefined || max !== undefined) && `hard limit: ${min ?? '…'} to ${max ?? '…'}`,
		usual && usual[0] !== usual[1] && `usually ${usual[0]} to ${usual[1]}`,
		separator && `a list with “${separator}” between`
	].filter((words) => typeof words === 'string');
}
