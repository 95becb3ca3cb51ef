import { z } from 'zod';
import { FORMAT_IDS, layoutSchema } from '../formats';
import { isEncoding } from '../text';

function isPattern(text: string): boolean {
	try {
		new RegExp(text);
		return true;
	} catch {
		return false;
	}
}

const reference = z.strictObject({
	/** Kinds whose ids may stand here. */
	kinds: z.array(z.string()).min(1),
	/** Values that mean “none”. The empty value always does when the field is not required. */
	none: z.array(z.string()).default([])
});

const field = z.strictObject({
	title: z.string().optional(),
	type: z
		.enum(['text', 'whole', 'decimal', 'switch', 'code', 'flags', 'reference', 'textKey', 'file'])
		.optional(),
	unit: z.string().optional(),
	/** What it does, for people. */
	meaning: z.string().optional(),
	group: z.string().optional(),
	required: z.boolean().default(false),
	/** Hard limits: beyond them the game does not take the value. */
	min: z.number().optional(),
	max: z.number().optional(),
	/** Digits behind the point. */
	decimals: z.int().min(0).max(9).optional(),
	/** Meaning of each code, or of each bit by its number from 0. */
	codes: z.record(z.string(), z.string()).optional(),
	reference: reference.optional(),
	/** How the value follows from others of the record, e.g. `item.{id}`. */
	derive: z.string().optional(),
	/** The game never reads it. */
	unused: z.boolean().default(false)
});

const text = z.strictObject({
	label: z.string(),
	/** The text's key, with fields of the record in braces: `{words}.name`. */
	key: z.string(),
	required: z.boolean().default(false),
	/** The text under which players know the record. */
	name: z.boolean().default(false)
});

/** How the files of a kind are written, as far as it is not told from themselves. */
const written = z.strictObject({
	format: z.enum(FORMAT_IDS).optional(),
	/** Punctuation and positions of formats that only a guide knows. */
	layout: layoutSchema.optional(),
	encoding: z.string().refine(isEncoding, 'no encoding that is known').optional(),
	/** Quote of delimited text, empty for none, and how one inside quotes is written. */
	quote: z.string().max(1).optional(),
	escape: z.enum(['doubled', 'backslash']).optional(),
	/** Whether the first line names the columns, and a second one says their types. */
	header: z.boolean().optional(),
	types: z.boolean().optional(),
	/** Whether rows may have other numbers of cells than the header. */
	ragged: z.boolean().optional(),
	/** Mark of comment lines in delimited text. */
	comment: z.string().max(4).optional(),
	/** Whether the game's reader takes no comments and trailing commas. */
	strict: z.boolean().optional()
});

const kind = z.strictObject({
	title: z.string(),
	plural: z.string().optional(),
	/** Paths from the layer's root; `*` and `**` as in globs, `{language}` for one of the languages. */
	files: z.array(z.string()).min(1),
	key: z.string().optional(),
	element: z.string().optional(),
	separator: z.string().optional(),
	/** Path of the list or map that holds the records, empty for the root; null where a file is one record. */
	at: z.string().nullable().optional(),
	written: written.optional(),
	/** Whether a later layer replaces single records or the whole file. */
	merge: z.enum(['record', 'file']).default('file'),
	/** Where new records of this kind are written in a mod; the base's own path when absent. `{language}`, `{mod}`. */
	write: z.string().optional(),
	/** What the game does with a faulty record: leave it out, refuse the file, or take it as it is. */
	fault: z.enum(['skips', 'refuses', 'ignores']).default('refuses'),
	limits: z
		.strictObject({ rows: z.int().positive().optional(), id: z.int().positive().optional() })
		.default({}),
	groups: z.array(z.string()).default([]),
	texts: z.array(text).default([]),
	fields: z.record(z.string(), field).default({}),
	/** Told from the files alone, not written down by anybody. */
	inferred: z.boolean().default(false)
});

const words = z.strictObject({
	/** The kind whose records are texts. */
	kind: z.string(),
	/** Language code to the name shown for it. */
	languages: z.record(z.string(), z.string()),
	/** The language in which names are shown. */
	main: z.string()
});

const words500 = z.string().min(1).max(1000);

/** A nickname and a note of people on a folder, a file, a kind, a field, a value of a field, or a record. */
export const noteSchema = z.strictObject({
	on: z.strictObject({
		folder: words500.optional(),
		file: words500.optional(),
		kind: words500.optional(),
		record: words500.optional(),
		field: words500.optional(),
		value: z.string().max(1000).optional()
	}),
	nickname: z.string().trim().max(200).default(''),
	note: z.string().trim().max(10_000).default('')
});

/** The field guide as it is kept in a YAML file. */
export const guideSchema = z.strictObject({
	guide: z.literal(1),
	game: z
		.strictObject({
			title: z.string(),
			version: z.strictObject({ file: z.string(), field: z.string() }).optional()
		})
		.optional(),
	words: words.optional(),
	/** The file by which a mod says who it is. */
	identity: z.string().optional(),
	/** Where mods are installed, and how the game's log is read. */
	install: z
		.strictObject({
			/** Folder of a mod below the game's folder, with `{mod}`. */
			folder: z.string(),
			/** JSON file below the game's folder that lists the mods to load, in order. */
			order: z.string(),
			log: z.string(),
			/** Pattern of a log line, with the groups `level`, `file`, `line`, `message`. */
			line: z.string().refine(isPattern, 'not a regular expression'),
			/** Levels that mean that something was not loaded. */
			refusals: z.array(z.string())
		})
		.optional(),
	kinds: z.record(z.string(), kind).default({}),
	notes: z.array(noteSchema).default([])
});

export type Note = z.infer<typeof noteSchema>;
export type NoteTarget = Note['on'];
export type Guide = z.infer<typeof guideSchema>;
export type KindGuide = z.infer<typeof kind>;
export type FieldGuide = z.infer<typeof field>;
export type TextGuide = z.infer<typeof text>;
export type WordsGuide = z.infer<typeof words>;
