import type { Found } from '../guide';
import type { Links } from '../links';
import {
	isGame,
	displayName,
	lineOfField,
	recordKey,
	type EffectiveRecord,
	type Layer,
	type Presence,
	type Stack
} from '../stack';

export type Severity = 'blocks' | 'warns' | 'note';

/** One thing that would keep the game from loading cleanly, or make it ignore something. */
export interface Snag {
	/** Stable as long as the same thing is wrong in the same place. */
	id: string;
	rule: string;
	severity: Severity;
	/** Id of the layer, and the path and line in it. */
	layer: string;
	file: string;
	line: number;
	/** The record it concerns, where there is one. */
	kind: string | null;
	record: string | null;
	name: string | null;
	field: string | null;
	/** What is wrong, where, what the game would do, and what to do. */
	message: string;
	/** The line in the file, for faults of the file itself. */
	excerpt?: string;
	/** Values that could be there instead, likeliest first. */
	candidates: string[];
	/** The part of the value that is meant, where it is not all of it. */
	value?: string;
	/** Tells sorts of what a rule finds apart, of which the game may do one and not the other. */
	sort?: string;
	repairable: boolean;
}

/** A snag of which some takes long to say: it is said of those that are shown. */
export type Draft = Snag & { later?: () => Pick<Snag, 'candidates' | 'message'> };

/** A draft with all that is said of it. */
export function finished({ later, ...snag }: Draft): Snag {
	return later ? { ...snag, ...later() } : snag;
}

/** All that a rule may look at. */
export interface Scene {
	stack: Stack;
	links: Links;
}

/** One way in which a game would refuse or ignore something. `reads` says whose change makes it run again. */
export interface Rule {
	id: string;
	/** What it looks for, in a few words. */
	title: string;
	reads: ('files' | 'records' | 'links')[];
	/** It speaks of a value by itself: what the game has in one record, another may have too. */
	local?: true;
	/** Null where others may go first. */
	find(scene: Scene): Iterable<Draft | null>;
}

/** What the game does with a faulty record, as the beginning of a sentence's end. */
export function consequence(stack: Stack, record: EffectiveRecord): string {
	const guide = stack.guide.kinds[record.kind]!;
	const what = `${guide.title.toLowerCase()} ${displayName(stack, record)}`;
	if (guide.fault === 'skips') return `The game skips ${what}`;
	if (guide.fault === 'ignores') return `The game ignores it in ${what}`;
	return guide.inferred ? `The game may refuse ${what}` : `The game refuses ${what}`;
}

/**
 * The line of a field in a file of a mod; that of its record where the field has none, and in the game itself, whose
 * files are too many to be opened for what is no fault of theirs.
 */
function lineOf(presence: Presence, field: string | null): number {
	if (field === null || isGame(presence.layer)) return presence.line;
	return lineOfField(presence, field);
}

/**
 * A snag at a record's place in the file that counts: at the field's own line, where it is about one. A message that
 * names the record's line names that instead.
 */
export function snagAt(
	stack: Stack,
	record: EffectiveRecord,
	presence: Presence,
	about: Pick<Snag, 'rule' | 'severity' | 'message' | 'repairable'> & Partial<Snag>
): Snag {
	const field = about.field ?? null;
	const line = about.line ?? lineOf(presence, field);
	return {
		id: [
			about.rule,
			recordKey(record.kind, record.id),
			field ?? '',
			presence.layer.id,
			about.line ?? '',
			...(about.value === undefined || about.value === record.value(field ?? '') ? [] : [about.value])
		].join('|'),
		layer: presence.layer.id,
		file: presence.path,
		line,
		kind: record.kind,
		record: record.id,
		name: displayName(stack, record),
		field,
		candidates: [],
		...about,
		message: about.message.replaceAll(`(line ${presence.line})`, `(line ${line})`)
	};
}

/** The same of which the candidates are looked for later; the likeliest is asked for at the end of the message. */
export function withCandidates(snag: Snag, find: () => string[], asks = true): Draft {
	return {
		...snag,
		later() {
			const candidates = find();
			const meant = asks && candidates[0] ? ` Did you mean ${quoted(candidates[0])}?` : '';
			return { candidates, message: snag.message + meant };
		}
	};
}

/** A snag at a line of a file, of which no record is at fault. @param what tells it from others of the rule there */
export function snagOfFile(
	layer: Layer,
	file: string,
	about: Pick<Snag, 'rule' | 'severity' | 'line' | 'message'>,
	...what: (string | number)[]
): Snag {
	return {
		id: [about.rule, layer.id, file, ...what].join('|'),
		layer: layer.id,
		file,
		kind: null,
		record: null,
		name: null,
		field: null,
		candidates: [],
		repairable: false,
		...about
	};
}

/** How grave it is to go against a statement: what was only found in the files cannot block. */
export const gravity = (found: Found): Severity => (found ? 'warns' : 'blocks');

/** An id or a path as it is set apart in a message. */
export const quoted = (text: string) => `\`${text}\``;

/** How sure a reference must be that was only found, for what goes against it to be said. */
export const SURE_ENOUGH = 0.85;
