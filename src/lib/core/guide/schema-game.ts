// What the guide says of a mod in its game: how it is installed and started, what is made from its files, what it takes
// from the player, what is played with it, and the recipes by which it is made.
import * as z from 'zod';
import { patternSchema } from '../formats';
import { glob } from './schema-common';

/** Files of which any change takes something from the player. */
export const spoils = z.strictObject({
	files: z.array(glob).min(1),
	what: z.enum(['achievements', 'saves', 'multiplayer', 'statistics']),
	because: z.string().optional()
});

/** Whether a path stays in the folder that it begins from. */
const staysInside = (path: string): boolean =>
	!/^(?:[\\/]|[A-Za-z]:)/.test(path) && !path.split(/[\\/]/).includes('..');

/** A file that is made from others: by the pack, whenever one of them changes. */
export const derived = z
	.strictObject({
		/** Its path; of a cache, also a folder. */
		file: z
			.string()
			.min(1)
			.max(1000)
			.refine(staysInside, {
				error: ({ input }) => `“${String(input)}” leads out of the folder that it is in.`
			}),
		title: z.string().optional(),
		/**
		 * A list of files with digests or without, how many there are, an index of records, a copy of records in a form of its
		 * own (such as a compiled table), what a program of the game's tools makes, or a cache, which goes while a mod is
		 * installed.
		 */
		as: z.enum(['digests', 'list', 'count', 'index', 'copy', 'program', 'cache']),
		/** The files that it is made from. */
		from: z.array(glob).min(1).default(['**']),
		/** How a line is written, with `{path}`, `{digest}`, `{size}`, `{count}`; of an index also `{id}`, `{kind}`, `{line}`, `{field:NAME}`. */
		line: z.string().min(1).max(500).optional(),
		digest: z.enum(['sha256', 'sha512', 'sha1', 'md5']).default('sha256'),
		/** The kinds whose records an index lists or a copy has; all where nothing is said. */
		of: z.array(z.string()).optional(),
		/** The program that makes it, and what it is given: `{mod}` is a copy of my mod's folder, `{game}` the game's. */
		program: z.string().min(1).max(1000).optional(),
		arguments: z.array(z.string().max(1000)).max(60).optional(),
		/** Only files that the game does not have. */
		fresh: z.boolean().optional(),
		/** Whether it lists the files of a mod alone, or all that the game then has; by how mods are installed, where nothing is said. */
		lists: z.enum(['mine', 'all']).optional(),
		/** It is made although neither the mod nor the game has one yet. */
		always: z.boolean().optional()
	})
	.refine(({ as, program }) => as !== 'program' || program !== undefined, {
		path: ['program'],
		error: 'Say which program makes it.'
	});

/** Where mods are installed, and how the game's log is read. */
export const installSchema = z.strictObject({
	/** Folder of a mod below the game's folder, with `{mod}`; with `over`, the folder that its paths begin from. */
	folder: z.string().min(1),
	/** Whether a mod's files stand in the place of the game's own, also within its archives, instead of beside them. */
	over: z.boolean().optional(),
	/** Archives below the game's folder that hold the same files: what changes in one, changes in the others. */
	twins: z.array(z.array(z.string().min(1)).min(2)).optional(),
	/** File below the game's folder that lists the mods to load, in order; without it a mod counts where it is there. */
	order: z.string().min(1).optional(),
	/**
	 * How that file lists them: a list under `mods` in JSON, a name a line, or a field of a configuration: in JSON the path
	 * of a list (`game.mods`), else a setting with names one after the other (`Mods/active` below `[Mods]`).
	 */
	listed: z
		.union([
			z.enum(['json', 'lines']),
			z.strictObject({ field: z.string().min(1).max(500), between: z.string().min(1).max(10).optional() })
		])
		.optional(),
	/** The file of the log, below the game's folder. */
	log: z.string().min(1).optional(),
	/** Pattern of a log line, with the groups `level`, `file`, `line`, `record`, `message`. */
	line: patternSchema.optional(),
	/** Levels that mean that something was not loaded. */
	refusals: z.array(z.string()).default([])
});

/** Something that a recipe leaves open, by the name that is in braces in its steps. */
export const blank = z.strictObject({
	title: z.string().min(1).max(200),
	/** Kind of the record that is picked, or of which a new id is given. */
	kind: z.string().optional(),
	/** The id is to be a new one. */
	new: z.boolean().optional(),
	/** What was here when it was recorded. */
	example: z.string().max(100_000).optional()
});

/** Steps that are done in order, as one plan, on whatever the blanks are filled with. */
export const recipeSchema = z.strictObject({
	title: z.string().min(1).max(200),
	/** What it is for, and why its steps are needed. */
	meaning: z.string().max(10_000).optional(),
	blanks: z.record(z.string().regex(/^[\p{L}\p{N}_-]+$/u), blank).default({}),
	/** Each is what somebody wants changed, with `{blank}` for what is left open. */
	steps: z.array(z.record(z.string(), z.unknown())).min(1).max(200)
});

/** What can be asked of the game with a change and without it: played many times, or worked out. */
export const scenarioSchema = z
	.strictObject({
		title: z.string().min(1).max(200),
		/** The question that it answers, for people. */
		asks: z.string().max(1000).optional(),
		/**
		 * What follows the arguments with which the game is started: `{times}`, `{seed}` and the names of inputs are filled in.
		 * It prints a line of JSON for each time, with its `seed` and the numbers that came of it.
		 */
		arguments: z.array(z.string().max(2000)).min(1).max(60).optional(),
		/** The program, where that is not the game itself; its arguments are then these alone, and `{game}` is the folder. */
		program: z.string().min(1).max(2000).optional(),
		/** Records that are asked for, by the names that stand for their ids. */
		inputs: z
			.record(
				z.string().regex(/^[\p{L}\p{N}_-]+$/u),
				z.strictObject({ kind: z.string(), title: z.string().optional() })
			)
			.default({}),
		/** Or a formula over the fields of each record of a kind. */
		formula: z.string().max(2000).optional(),
		kind: z.string().optional(),
		/** What comes of it, by the names that the program prints; `value` is what a formula gives. */
		outcomes: z
			.record(
				z.string(),
				z.strictObject({
					title: z.string().optional(),
					unit: z.string().optional(),
					better: z.enum(['more', 'less']).optional()
				})
			)
			.default({})
	})
	.check(({ value, issues }) => {
		const played = value.arguments !== undefined;
		const worked = value.formula !== undefined && value.kind !== undefined;
		if (played !== worked) return;
		const message = 'has either arguments, with which it is played, or a formula and a kind';
		issues.push({ code: 'custom', message, input: value });
	});

export type InstallGuide = z.infer<typeof installSchema>;
export type DerivedGuide = z.infer<typeof derived>;
export type SpoilsGuide = z.infer<typeof spoils>;
export type Recipe = z.infer<typeof recipeSchema>;
export type ScenarioGuide = z.infer<typeof scenarioSchema>;
/** A scenario as it is written down: what goes without saying may be left out. */
export type ScenarioInput = z.input<typeof scenarioSchema>;
export type BlankGuide = z.infer<typeof blank>;
