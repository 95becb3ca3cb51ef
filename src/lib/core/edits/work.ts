// A plan while it is worked out: the draft of my mod, the values that change, and what to say about it.
import type { FollowSort, ValueChange } from '../change';
import { firstIdOf, type Found } from '../guide';
import { displayName, valueOf, type EffectiveRecord, type Stack } from '../stack';
import { startDraft, type Draft } from './draft';
import type { ModName, Say } from './steps';
import { writeTexts, type TextWrite } from './texts';

/** The intention cannot be carried out on these data; says why and what would do. */
export class NotPossible extends Error {}

/** All is as it was wanted already. */
export class NothingToDo extends NotPossible {}

/** The value is no longer the one that was looked at: somebody changed it meanwhile. */
export class StaleValue extends Error {
	constructor(
		readonly field: string,
		readonly expected: string | null,
		readonly present: string | null
	) {
		super(
			`Meanwhile “${field}” was changed from ${shown(expected)} to ${shown(present)}. Nothing was overwritten.`
		);
	}
}

/**
 * Sees to it that a value is the one that was on the screen, where a field that is absent and one that is empty look alike.
 * @param expected what was looked at; undefined where nobody looked. @throws StaleValue
 */
export function mustBe(field: string, expected: string | null | undefined, present: string | null): void {
	if (expected !== undefined && (expected ?? '') !== (present ?? ''))
		throw new StaleValue(field, expected, present);
}

const shown = (value: string | null) => (value === null || value === '' ? 'nothing' : `“${value}”`);

export interface Work {
	draft: Draft;
	stack: Stack;
	name: ModName;
	values: ValueChange[];
	say: Say;
	/** What follows by itself and is not wanted this time. */
	without: ReadonlySet<FollowSort>;
	/** What was only detected to follow, and is wanted all the same. */
	including: ReadonlySet<FollowSort>;
	/** How much of each sort was only detected to follow, and left alone. */
	detected: Map<FollowSort, number>;
}

/** A plan that is begun, and the notes that it comes with. */
export function startWork(
	stack: Stack,
	mod: string,
	without: Iterable<FollowSort> = [],
	including: Iterable<FollowSort> = []
): { work: Work; notes: Set<string> } {
	const notes = new Set<string>();
	const work: Work = {
		draft: startDraft(stack),
		stack,
		name: { mod },
		values: [],
		say: (sentence) => notes.add(sentence),
		without: new Set(without),
		including: new Set(including),
		detected: new Map()
	};
	return { work, notes };
}

/**
 * Whether something that follows by itself is done. A guess never writes: what was only detected is done where it was
 * asked for, and else counted.
 */
export function wanted({ without, including, detected }: Work, sort: FollowSort, found?: Found): boolean {
	if (without.has(sort)) return false;
	if (!found || including.has(sort)) return true;
	detected.set(sort, (detected.get(sort) ?? 0) + 1);
	return false;
}

/** @throws NotPossible */
export function find(stack: Stack, kind: string, id: string): EffectiveRecord {
	const table = stack.tables.get(kind);
	if (!table) throw new NotPossible(`There is no kind “${kind}” in this project.`);
	const record = table.byId.get(id);
	if (!record) throw new NotPossible(`No record of the kind “${table.guide.title}” has the id “${id}”.`);
	return record;
}

/** Whether a field is the one in which a record says its own id. */
export function isOwnId({ guide }: Stack, record: EffectiveRecord, field: string): boolean {
	const kind = guide.kinds[record.kind]!;
	if (field !== kind.key && field !== firstIdOf(kind)) return false;
	return record.presences.at(-1)!.record.idSpan !== null && valueOf(record, field) === record.id;
}

/** Why a value changes that was not asked for itself. */
export interface Following {
	follows: string;
	by: FollowSort;
}

/** Notes a change of a value for the plan. */
export function note(
	work: Work,
	record: Pick<EffectiveRecord, 'kind' | 'id'> & Partial<EffectiveRecord>,
	field: string,
	before: string | null,
	after: string | null,
	following?: Following
): void {
	const { kind, id } = record;
	const known = work.stack.tables.get(kind)?.byId.get(id);
	const name = known ? displayName(work.stack, known) : id;
	work.values.push({ kind, id, name, field, before, after, ...following });
}

export const isText = (stack: Stack, kind: string): boolean => stack.guide.words?.kind === kind;

/** The text of a key in a language; null where there is none. */
export function textBefore(stack: Stack, key: string, language: string): string | null {
	const record = stack.tables.get(stack.guide.words?.kind ?? '')?.byId.get(key);
	return (record && valueOf(record, language)) ?? null;
}

/** Writes texts into my mod, each file of it once. */
export function writeAll(work: Work, texts: readonly TextWrite[]): void {
	const { stack, draft, name, say } = work;
	const kind = stack.guide.words!.kind;
	const before = texts.map(({ key, language }) => textBefore(stack, key, language));
	writeTexts(draft, texts, name, say);
	texts.forEach(({ key, language, text }, nth) =>
		work.values.push({ kind, id: key, name: key, field: language, before: before[nth]!, after: text })
	);
}

/** Writes a text into my mod. */
export function write(work: Work, key: string, language: string, text: string, following?: Following): void {
	const before = textBefore(work.stack, key, language);
	writeTexts(work.draft, [{ key, language, text }], work.name, work.say);
	const kind = work.stack.guide.words!.kind;
	work.values.push({ kind, id: key, name: key, field: language, before, after: text, ...following });
}

/** Whether a path stays inside of a mod. */
export const isInside = (path: string) =>
	!/(^|\/)\.{0,2}(\/|$)|\\|^[a-z]:/i.test(path) && ![...path].some((letter) => letter < ' ');
