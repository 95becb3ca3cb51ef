import * as z from 'zod';
import { FORMAT_IDS, layoutSchema, unknownEncoding } from '../formats';
import { isEncoding } from '../text';
import { found, glob } from './schema-common';
import { derived, installSchema, recipeSchema, scenarioSchema, spoils } from './schema-game';
import { placeSchema } from './schema-places';
import { call, event, markup, page, script } from './schema-scripts';

const reference = z.strictObject({
	/** Kinds whose ids may be here. */
	kinds: z.array(z.string()).min(1),
	/** Values that mean “none”. The empty value always does when the field is not required. */
	none: z.array(z.string()).default([]),
	/** What is here is not the id but the value of this field of the record that is meant. */
	key: z.string().optional(),
	/** The game accepts the id in any case of its letters. */
	anyCase: z.boolean().optional(),
	/** What is before and behind the id in the value. */
	before: z.string().optional(),
	after: z.string().optional(),
	/** What is between the ids, where the value is a list of them. */
	list: z.string().min(1).optional(),
	/** What is between an id and its weight. */
	weight: z.string().min(1).optional(),
	/** The id is the last name of the path: the field is `outcomes.*`. */
	names: z.boolean().optional(),
	/** Another field of the record that says which kind is meant: its value, and the kind for it. */
	by: z.strictObject({ field: z.string(), kinds: z.record(z.string(), z.string()) }).optional(),
	/**
	 * What is before the id of a record of some kind and says that it is one. What begins with none of these is an id of
	 * the other kinds as is, or names nothing where every kind has its mark.
	 */
	marks: z.record(z.string(), z.string().min(1)).optional(),
	/** What is added to the number of a record of each kind. */
	plus: z.record(z.string(), z.int()).optional(),
	/** Whether following it from record to record has to come to an end. */
	ends: z.boolean().optional(),
	found
});

const field = z.strictObject({
	title: z.string().optional(),
	type: z
		.enum([
			'text',
			'whole',
			'decimal',
			'chance',
			'switch',
			'code',
			'flags',
			'reference',
			'textKey',
			'file',
			'list',
			'weights',
			'colour',
			'date',
			'duration',
			'angle',
			'position',
			'expression'
		])
		.optional(),
	unit: z.string().optional(),
	/** What it does, for people. */
	meaning: z.string().optional(),
	group: z.string().optional(),
	required: z.boolean().default(false),
	/** Hard limits: beyond them the game does not take the value. */
	min: z.number().optional(),
	max: z.number().optional(),
	/** What the game does with a number beyond them: refuse it, or read it as the nearest one. */
	beyond: z.enum(['refuses', 'clamps']).optional(),
	/** Digits behind the point. */
	decimals: z.int().min(0).max(9).optional(),
	/** Meaning of each code, or of each bit by its number from 0. */
	codes: z.record(z.string(), z.string()).optional(),
	/** A set of known values, by its name: what its codes mean, where the field does not say so itself. Others may be there. */
	set: z.string().optional(),
	reference: reference.optional(),
	/** How the value follows from others of the record, e.g. `item.{id}`. */
	derive: z.string().optional(),
	/** The game never reads it. */
	unused: z.boolean().default(false),
	/** What is between the parts of a list, and between a part and its weight. */
	separator: z.string().min(1).optional(),
	weight: z.string().min(1).optional(),
	/** Between which numbers nearly all values lie. */
	usual: z.tuple([z.number(), z.number()]).optional(),
	/** What it counts: `kind:cart` for all records of a kind, else the path of a list of the record. */
	counts: z.string().optional(),
	/** Of a duration: how many of its unit are a second. */
	perSecond: z.number().positive().optional(),
	/** Another field of the record that it must not are below or before. */
	notBefore: z.string().optional(),
	/** What was found of it and is not so. */
	not: z
		.array(z.enum(['type', 'reference', 'derive', 'counts', 'usual', 'codes', 'meaning', 'unit']))
		.optional(),
	/** The game shows the items of the list the last first. */
	reversed: z.boolean().optional(),
	/** In how many trials the game was seen to refuse what this says that it refuses. */
	seen: z.int().positive().optional(),
	/** It only counts while another field has one of these values. */
	onlyIf: z.strictObject({ field: z.string(), is: z.array(z.string()).min(1) }).optional(),
	found
});

const text = z.strictObject({
	label: z.string(),
	/** The text's key, with fields of the record in braces: `{words}.name`, `{id:upper}_NAME` for capitals. */
	key: z.string(),
	required: z.boolean().default(false),
	/** The text under which players know the record. */
	name: z.boolean().default(false),
	/** Letters that the game has room for, and whether it shows one line only. */
	longest: z.int().positive().optional(),
	oneLine: z.boolean().optional(),
	/**
	 * How wide the place is in which the game draws it: in letters of one width (a full-width character has two), or in
	 * pixels of a font like one of these. What is longer goes on in the next line.
	 */
	width: z
		.union([
			z.int().positive(),
			z.strictObject({
				pixels: z.number().positive(),
				size: z.number().positive().max(500),
				font: z.enum(['sans', 'serif', 'mono']).default('sans')
			})
		])
		.optional(),
	/** Lines that are drawn; what goes beyond them is cut off. */
	lines: z.int().positive().optional(),
	/** What the game draws where it cuts a text off. */
	cut: z.string().max(8).optional(),
	found
});

/** A file of which the name follows from a record. */
const asset = z.strictObject({
	label: z.string(),
	/** The path from the layer's root, with fields of the record in braces: `pictures/{id}.png`. */
	path: z.string(),
	required: z.boolean().default(false),
	found
});

/** Two files that must stay alike. */
const twin = z.strictObject({
	of: z.string(),
	file: z.string(),
	/** Fields that may differ. */
	but: z.array(z.string()).default([]),
	found
});

/** Ranges that the records of a kind cover together. */
const cover = z.strictObject({
	/** Fields with the lower and the upper end on each axis; the upper one does not belong to it. */
	axes: z
		.array(
			z.strictObject({
				from: z.string(),
				to: z.string(),
				low: z.number().optional(),
				high: z.number().optional()
			})
		)
		.min(1)
		.max(2),
	/** Id of the record that holds where no other does. */
	fallback: z.string().optional(),
	found
});

/** Points that a record spends: what is above a start costs, what is below it pays. */
const budget = z.strictObject({
	title: z.string(),
	/** Points for each unit of a number, or of each code. */
	costs: z.record(z.string(), z.union([z.number(), z.record(z.string(), z.number())])),
	/** The value of a number that costs nothing; 0 where it is not said. */
	from: z.record(z.string(), z.number()).optional(),
	/** Points that may be spent: a number, or a field that holds it. */
	most: z.union([z.number(), z.string()]).optional()
});

/** How a record inherits what it does not say itself from another of its kind. */
const inherits = z.strictObject({
	/** The field that names the other record. */
	from: z.string(),
	/** The field that holds the name of records that only serve as models for other records, in place of the key. */
	pattern: z.string().optional(),
	/** The map of numbers that are added to what is taken over, and of those that it is multiplied by. */
	adds: z.string().optional(),
	times: z.string().optional(),
	/** The map of lists whose items are put behind those of the lists that are taken over, and of those that are taken out. */
	appends: z.string().optional(),
	drops: z.string().optional(),
	found
});

/** The field of a record in which its shown name is; a map there has one in each language. Empty where no field has it. */
const name = z.strictObject({ from: z.string(), found });

/** How the files of a kind are written, as far as it is not detected from themselves. */
export const writtenSchema = z.strictObject({
	format: z.enum(FORMAT_IDS).optional(),
	/** Punctuation and positions of formats that only a guide knows. */
	layout: layoutSchema
		.refine(
			(layout) => layout.shape !== 'packed' || unknownEncoding(layout) === null,
			'names an encoding that is not known'
		)
		.optional(),
	encoding: z.string().refine(isEncoding, 'is not a known encoding').optional(),
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

/** How a list of a later layer is joined with the list below it, instead of standing in for it. */
const join = z.strictObject({
	/** What makes two items the same: all they say, what is under one name in them, or their number. */
	same: z.enum(['value', 'id', 'position']).default('value'),
	/** The name under which items have their id. */
	id: z.string().default('id'),
	/** What counts where both layers have an item: the one below, the later one in its place, or both. */
	second: z.enum(['first', 'last', 'both']).default('last'),
	/** Before the item (or its id) that is taken out of the list below. */
	out: z.string().min(1).max(20).optional()
});
export type ListJoin = z.output<typeof join>;

const kind = z.strictObject({
	title: z.string(),
	plural: z.string().optional(),
	/** Paths from the layer's root; `*` and `**` as in globs, `{language}` for one of the languages. */
	files: z.array(glob).min(1),
	key: z.string().optional(),
	/** Fields that name a record together, where none does alone; an empty list where nothing but its place does. */
	keyParts: z.array(z.string()).max(4).optional(),
	/** A record may have several ids: its key holds a list of them then, and it is known by the first. */
	severalIds: z.boolean().optional(),
	/** What names the records that have no id written: the name of their file, of its folder, both, or the whole path. */
	id: z.enum(['file', 'folder', 'both', 'path']).optional(),
	/** The word under which its records are in files that hold others too: an element, a section, a call. */
	element: z.string().optional(),
	/** Which of the records there are of this kind: those in which a field has one of some values. */
	where: z
		.strictObject({
			field: z.string(),
			is: z.array(z.string()).min(1),
			/** Or begins with one of them. */
			begins: z.boolean().optional()
		})
		.optional(),
	/** Where records have their shown name themselves, instead of in a text with a key. */
	name: name.optional(),
	inherits: inherits.optional(),
	separator: z.string().optional(),
	/** Path of the list or map that holds the records, empty for the root; null where a file is one record. */
	at: z.string().nullable().optional(),
	/** Paths that the one record of a file leaves out, since records of other kinds stand there. */
	except: z.array(z.string()).min(1).optional(),
	written: writtenSchema.optional(),
	/** Whether a later layer replaces the whole file, single records, or single fields of them (lists as a whole). */
	merge: z.enum(['record', 'file', 'field']).default('file'),
	/** Lists that are joined with those below, by their paths, where layers replace single fields. */
	joins: z.record(z.string().regex(/^[^[\]]+$/, 'must be the path of a list'), join).optional(),
	/** Where layers replace single fields: a later `null` removes the field, as in JSON Merge Patch (RFC 7396). */
	nulls: z.enum(['value', 'removes']).optional(),
	/** Which record counts where two layers have one of an id, where layers do not replace whole files; the last, if nothing is said. */
	second: z.enum(['first', 'last']).optional(),
	/** A record in which a field has this value takes the record of its id out of the layers below. */
	out: z.strictObject({ field: z.string(), is: z.string() }).optional(),
	/** Why a mod's files are taken to add to the game's, if nobody stated it. */
	adds: found,
	/**
	 * Paths of files of which each record is taken out of the layers below, where one of them says exactly the same;
	 * written as the kind's own files are. `{mod}`.
	 */
	removes: z.array(glob).optional(),
	/** Where new records of this kind are written in a mod; the base's own path when absent. `{language}`, `{mod}`. */
	write: z.string().optional(),
	/** The game shows the records of a file the last first. */
	reversed: z.boolean().optional(),
	/** What the game does with a faulty record: leave it out, refuse the file, or take it as it is. */
	fault: z.enum(['skips', 'refuses', 'ignores']).default('refuses'),
	limits: z
		.strictObject({ rows: z.int().positive().optional(), id: z.int().positive().optional() })
		.default({}),
	groups: z.array(z.string()).default([]),
	texts: z.array(text).default([]),
	/** By path. In a path, `[]` is any item of a list, `*` any name without points, and a last `**` any name at all; `#id`, `#folder` and `#file` are the record's id, and the folder and the file (without its ending) that it is in. */
	fields: z.record(z.string(), field).default({}),
	assets: z.array(asset).optional(),
	twins: z.array(twin).optional(),
	covers: z.array(cover).optional(),
	budget: budget.optional(),
	/** What was found of it and is not so. */
	not: z.array(z.enum(['texts', 'assets', 'twins', 'covers', 'inherits', 'name'])).optional(),
	/** Told from the files alone, not written down by anybody. */
	inferred: z.boolean().default(false),
	found
});

const words = z.strictObject({
	/** The kind whose records are texts. */
	kind: z.string(),
	/** Language code to the name shown for it. */
	languages: z.record(z.string(), z.string()),
	/** The language in which names are shown. */
	main: z.string(),
	/** What the game puts in for a placeholder, to see a text with it: some value, or a field of the record that it is of. */
	samples: z
		.record(z.string().min(1), z.union([z.string().max(200), z.strictObject({ field: z.string() })]))
		.optional(),
	/** What is between the sections of a text, and whether the game shows the last one first. */
	sections: z
		.strictObject({ between: z.string().min(1).max(40), reversed: z.boolean().optional() })
		.optional(),
	/** A file of the game in which every character of its fonts stands. */
	letters: z.string().min(1).max(1000).optional(),
	/** Forms of a text for numbers: its keys, with `{form}` for the form, such as `{key}.{form}`. */
	plurals: z
		.string()
		.regex(
			/^(?=.*\{key\})(?=.*\{form\})[^{}]*\{key\}[^{}]*\{form\}[^{}]*$/,
			'needs “{key}” and “{form}”, such as “{key}.{form}”'
		)
		.optional(),
	/** Words that are always translated in one way: each in the main language, with what it is in others. */
	terms: z
		.array(z.record(z.string(), z.string().min(1).max(200)))
		.max(5000)
		.optional()
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

const patchFiles = z.strictObject({
	/** Their paths: `{path}` stands for the path of the file that is changed. */
	files: z
		.string()
		.max(200)
		.regex(
			/^(?!\{path\}$)[^{}]*\{path\}[^{}]*$/,
			'must be a path that contains “{path}”, such as “{path}.patch”'
		),
	/** A list of operations as in JSON Patch (RFC 6902), or a document that is merged in as in JSON Merge Patch (RFC 7396). */
	form: z.enum(['json-patch', 'merge-patch'])
});
export const patchFilesSchema = z.array(patchFiles);

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
	/** Files of layers that are patches of other files. */
	patches: patchFilesSchema.optional(),
	/** Where mods are installed, and how the game's log is read. */
	install: installSchema.optional(),
	kinds: z.record(z.string(), kind).default({}),
	/** Values that are known and what each means, such as the codes of keys: fields name the set that their values are from. */
	sets: z.record(z.string(), z.record(z.string().max(200), z.string().min(1).max(200))).optional(),
	/** Maps, by the kind of which each record is one. */
	places: z.record(z.string(), placeSchema).optional(),
	/** Names of maps that were found and are none. */
	noPlaces: z.array(z.string()).max(1000).optional(),
	scripts: z.array(script).optional(),
	/** The call by which scripts load others. */
	loader: z.string().min(1).optional(),
	/** What the game asks scripts for, and its functions that they call, by name. */
	events: z.record(z.string(), event).optional(),
	calls: z.record(z.string(), call).optional(),
	/** Calls that show pages of text. */
	pages: z.array(page).optional(),
	markup: z.array(markup).optional(),
	spoils: z.array(spoils).optional(),
	/** Files that are made from others. */
	derived: z.array(derived).max(50).optional(),
	/** Procedures of several steps, by name. */
	recipes: z.record(z.string(), recipeSchema).optional(),
	/** What goes along with a mod that is given away: the template of its read-me, with `{…}` for the parts of the usual one. */
	share: z.strictObject({ readme: z.string().min(1).max(50_000) }).optional(),
	/** What can be asked of the game with a change and without it, by name. */
	scenarios: z.record(z.string(), scenarioSchema).optional(),
	notes: z.array(noteSchema).default([])
});

export type Note = z.infer<typeof noteSchema>;
export type NoteTarget = Note['on'];
export type Guide = z.infer<typeof guideSchema>;
export type KindGuide = z.infer<typeof kind>;
export type FieldGuide = z.infer<typeof field>;
export type NameGuide = z.infer<typeof name>;
export type TextGuide = z.infer<typeof text>;
export type WordsGuide = z.infer<typeof words>;
export type ReferenceGuide = z.infer<typeof reference>;
export type AssetGuide = z.infer<typeof asset>;
export type TwinGuide = z.infer<typeof twin>;
export type CoverGuide = z.infer<typeof cover>;
export type InheritsGuide = z.infer<typeof inherits>;
export type BudgetGuide = z.infer<typeof budget>;

/** The JSON Schema of the file of a guide. */
export const guideJsonSchema = (): object => ({
	title: 'Field guide',
	...z.toJSONSchema(guideSchema, { io: 'input', unrepresentable: 'any' })
});
