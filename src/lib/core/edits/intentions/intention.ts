// What every intention is made of: its schema, the plan that carries it out, and its words.
import * as z from 'zod';
import { FOLLOW_SORTS, type FileContent, type Plan } from '../../change';
import type { Links } from '../../links';
import type { Stack } from '../../stack';
import type { SaidBy } from '../many';
import type { Work } from '../work';

/** An id, a field, a path. */
export const name = z.string().min(1).max(500);
export const value = z.string().max(100_000);
/** The value that was on the screen; if it is no longer so, nothing is done. */
export const expected = z.string().nullable().optional();

/** What follows by itself and is declined, and why. */
export const declining = {
	without: z.array(z.enum(FOLLOW_SORTS)).optional(),
	/** What was only detected to follow, and is wanted. */
	including: z.array(z.enum(FOLLOW_SORTS)).optional(),
	reason: z.string().max(500).optional()
};

/** A step of the ledger that is to be undone, and what is needed to tell how. */
export interface Reversing {
	step: Plan;
	/** The steps since, the oldest first. */
	later: readonly Pick<Plan, 'title' | 'changes'>[];
	/** My mod's files right before the step. */
	before: (path: string) => FileContent | undefined;
}

/** What a plan may need besides the stack. */
export interface Besides {
	/** For `bring`: the files as they are outside. */
	brought?: ReadonlyMap<string, FileContent | null>;
	/** The links of the stack, where they are known. */
	links?: Links | undefined;
	/** What another layer or version says of a field. */
	said?: SaidBy;
	/** For `reverse`. */
	reversing?: Reversing;
}

/** A step of a recipe as data, in which blanks may be open. */
export interface Step {
	said(part: string): string;
	many(part: string): Record<string, unknown>[];
	count(part: string): number;
	data: Readonly<Record<string, unknown>>;
}

/** Makes blanks of what was typed, when steps become a recipe. */
export interface Opener {
	/** A value that was typed: a blank of its own, unless it names one of the records. */
	value(text: string, title: string): string;
	/** The blanks of the ids that are in a text. */
	ids(text: string): string;
	fieldTitle(kind: string, field: string): string;
	language(code: string): string;
}

/** The schema of an intention: `do` is its name. */
export type IntentionSchema = z.ZodObject<{ do: z.ZodLiteral<string> } & z.core.$ZodLooseShape>;

interface Common<S extends IntentionSchema> {
	schema: S;
	/** How it reads as a step of a recipe. */
	words(step: Step): string;
}

/** An intention that is worked out on a draft of my mod. */
export interface Drafted<S extends IntentionSchema> extends Common<S> {
	/** Does it on the draft; gives the title of the step. @throws NotPossible, StaleValue, EditRefused */
	draft(work: Work, asked: z.infer<S>, besides: Besides): string;
	/** What of it becomes blanks of a recipe, besides ids. */
	opens?(asked: z.infer<S>, open: Opener): Record<string, unknown>;
}

/** An intention that is bound to its moment: its plan is made as a whole, and it is no step of a recipe. */
export interface Bound<S extends IntentionSchema> extends Common<S> {
	/** What it does, as the end of “a step that …”. */
	bound: string;
	/** @throws NotPossible */
	whole(on: { stack: Stack; mod: string; besides: Besides }, asked: z.infer<S>): Plan;
}
