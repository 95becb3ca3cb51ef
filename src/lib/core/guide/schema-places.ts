// Records that stand somewhere: on which map, where, from when to when, and what leads to what.
import * as z from 'zod';
import { found, glob } from './schema-common';

const range = z
	.tuple([z.number(), z.number()])
	.refine(([low, high]) => low < high, 'must be a lower and a higher number');

const thing = z.strictObject({
	/** The kind of what stands there. */
	kind: z.string(),
	/** The field that names the map it stands on; where nothing does, it stands on each. */
	in: z.string().optional(),
	/** The field that names what it is, where it has no name of its own. */
	what: z.string().optional(),
	x: z.string(),
	y: z.string(),
	/** Height or depth, in the same direction as the ground's numbers. */
	z: z.string().optional(),
	/** Where it faces, in degrees clockwise from the top of the map. */
	angle: z.string().optional(),
	/** How far it reaches, in the units of the map. */
	radius: z.string().optional(),
	/** How many it stands for. */
	amount: z.string().optional(),
	/** The first day or level on which it is there, and the last one; the same one, if only the first is said. */
	from: z.string().optional(),
	until: z.string().optional(),
	/**
	 * What it leads to: a field that names others of its kind (`next`, `exits[]`, `exits[].to`), whether that also leads
	 * back, and how wide or deep it is.
	 */
	to: z.string().optional(),
	both: z.string().optional(),
	width: z.string().optional(),
	/** How far apart two of its kind must be, in the units of the map. */
	apart: z.number().positive().optional()
});

/** Records that lead from one thing to another of its kind. */
const link = z.strictObject({
	kind: z.string(),
	/** The fields that name its two ends. */
	from: z.string(),
	to: z.string(),
	/** Whether it also leads back, and how wide or deep it is. */
	both: z.string().optional(),
	width: z.string().optional()
});

/** A map for each record of a kind; or one map, if it has a title. */
export const placeSchema = z.strictObject({
	/** Of the one map on which everything stands, where no record is a map: what it is called. */
	title: z.string().max(100).optional(),
	/** What the numbers across and along can be. */
	x: range,
	y: range,
	/** Whether numbers along grow towards the top of the map. */
	upwards: z.boolean().default(false),
	unit: z.string().max(20).optional(),
	/** What the map lies on: rows of numbers in a file, the first row at the top, spread evenly over the map. */
	ground: z
		.strictObject({
			/** Its path, with `{id}` for the record's id. */
			file: glob,
			/** Whether greater numbers are deeper or higher. */
			says: z.enum(['depth', 'height']).default('height'),
			unit: z.string().max(20).optional()
		})
		.optional(),
	/** A picture of all of the map: its path, with `{id}` for the record's id. */
	picture: glob.optional(),
	/** The days or levels: what they are called, the first and the last, and whether they begin again after that. */
	days: z
		.strictObject({
			title: z.string().default('Day'),
			first: z.int().default(1),
			last: z.int(),
			repeats: z.boolean().default(false)
		})
		.refine(({ first, last }) => first <= last, 'must begin before they end')
		.optional(),
	/**
	 * The fields of the map's record that name what everything has to lead to, and from what all of it must be reached; of
	 * the one map, their ids.
	 */
	goal: z.string().optional(),
	start: z.string().optional(),
	things: z.array(thing).min(1).max(50),
	links: z.array(link).max(20).optional(),
	found
});

export type PlaceGuide = z.output<typeof placeSchema>;
export type ThingGuide = PlaceGuide['things'][number];
export type LinkGuide = NonNullable<PlaceGuide['links']>[number];
