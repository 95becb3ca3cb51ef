// The field guide of a project as people change it: statement by statement, merged with another, from a table of docs.
import * as z from 'zod';
import {
	composeGuides,
	GuideFault,
	installSchema,
	mergeGuides,
	patchFilesSchema,
	recipeSchema,
	scenarioSchema,
	writtenSchema,
	guideToYaml,
	guideWithNotes
} from '$core/guide';
import type { GuideAnswer, GuideChange } from '$core/views';
import { lastGuideStep, putGuides, readGuides, takeBackGuideStep } from './db/guides';
import { outcomeOf } from './guide-outcomes';
import { changing } from './changing';
import { bumpProject } from './db/projects';
import { readNotes } from './db/notes';
import { db } from './db/pool';
import { modelOf, type Model } from './model';

/** What is said of a kind apart from its fields. */
const PARTS = ['texts', 'assets', 'twins', 'covers', 'inherits', 'name'] as const;

export const guideChange = z.discriminatedUnion('do', [
	z.object({
		do: z.enum(['accept', 'reject']),
		kind: z.string(),
		field: z.string().optional(),
		part: z.enum(PARTS).optional()
	}),
	z.object({
		do: z.literal('say'),
		kind: z.string(),
		field: z.string().optional(),
		/** Statements by name; null takes one's own back. */
		statements: z.record(z.string(), z.unknown())
	}),
	z.object({
		do: z.literal('code'),
		kind: z.string(),
		field: z.string(),
		code: z.string().max(200),
		/** Empty takes it back. */
		means: z.string().max(500)
	}),
	z.object({
		/** Keeps what the values of a field mean as a set, from which other fields may be, too. */
		do: z.literal('set'),
		kind: z.string(),
		field: z.string(),
		name: z
			.string()
			.trim()
			.regex(/^[\p{L}\p{N}][\p{L}\p{N} _-]*$/u, 'letters, digits, spaces and dashes')
			.max(60)
	}),
	z.object({ do: z.literal('script'), call: z.string(), argument: z.number(), accept: z.boolean() }),
	z.object({ do: z.literal('place'), name: z.string(), accept: z.boolean() }),
	z.object({ do: z.literal('merge'), yaml: z.string(), prefer: z.enum(['here', 'there']) }),
	z.object({ do: z.literal('docs'), text: z.string() }),
	z.object({ do: z.literal('patches'), patches: patchFilesSchema.max(20) }),
	z.object({ do: z.literal('install'), install: installSchema }),
	z.object({
		do: z.literal('recipe'),
		name: z
			.string()
			.regex(/^[\p{L}\p{N}_-]+$/u, 'letters, digits and dashes')
			.max(100),
		/** Null takes it out. */
		recipe: recipeSchema.nullable()
	}),
	z.object({
		do: z.literal('languages'),
		/** All of them, by code. */
		languages: z.record(
			z.string().regex(/^[A-Za-z][\w-]{0,39}$/, 'letters, digits, dashes and _, and a letter first'),
			z.string().trim().min(1).max(100)
		)
	}),
	z.object({
		do: z.literal('terms'),
		terms: z.array(z.record(z.string(), z.string().min(1).max(200))).max(5000)
	}),
	z.object({
		do: z.literal('share'),
		/** Null: the usual one. */
		readme: z.string().min(1).max(50_000).nullable()
	}),
	z.object({
		do: z.literal('scenario'),
		name: z
			.string()
			.regex(/^[\p{L}\p{N}_-]+$/u, 'letters, digits and dashes')
			.max(100),
		/** Null removes it. */
		scenario: scenarioSchema.nullable()
	}),
	z.object({
		do: z.literal('read'),
		kind: z
			.string()
			.regex(/^[\p{L}\p{N}_-]+$/u, 'letters, digits, dashes and _')
			.max(100),
		title: z.string().trim().min(1).max(200),
		files: z.array(z.string().min(1).max(1000)).min(1).max(20),
		key: z.string().max(200).optional(),
		id: z.enum(['file', 'folder', 'both']).optional(),
		at: z.string().max(200).nullable().optional(),
		separator: z.string().max(20).optional(),
		written: writtenSchema
	}),
	z.object({ do: z.literal('undo') })
]);

/**
 * Changes the guide of a project in one step that can be undone.
 * @throws GuideFault where the result would be no guide; nothing is changed then
 */
export async function changeGuide(slug: string, change: GuideChange): Promise<GuideAnswer> {
	return await changing(slug, async (client) => {
		const model = await modelOf(slug, client, true);
		if (change.do === 'undo') {
			const last = await lastGuideStep(client, slug);
			if (!last) throw new GuideFault('There is nothing to undo.');
			await takeBackGuideStep(client, slug, last.id);
			return { said: `Undone: ${last.title}`, left: [], version: await bumpProject(client, slug) };
		}
		const written = await readGuides(client, slug);
		const { next, said, left = [] } = outcomeOf(change, written, model.stack.guide);
		composeGuides(next.shared, next.mine);
		await putGuides(client, slug, next, said);
		return { said, left, version: await bumpProject(client, slug) };
	});
}

/**
 * The field guide as a file to share, with the nicknames and notes of people in it: what is written, comments too.
 * @param found whether it is all that was found as well, each with how sure it is
 */
export async function guideFile({ project, stack }: Model, found = false): Promise<string> {
	const { guide, ownGuide } = project;
	const written =
		guide !== null && ownGuide !== null ? mergeGuides(guide, ownGuide, 'there').yaml : (guide ?? ownGuide);
	return guideWithNotes(
		found ? guideToYaml({ ...stack.guide, notes: [] }, true) : written,
		await readNotes(db(), project.slug)
	);
}
