// The field guide of a project as people change it: statement by statement, merged with another, from a table of docs.
import { counted } from '$core/wording';
import { z } from 'zod';
import {
	completedGuide,
	composeGuides,
	fieldOf,
	GuideFault,
	installSchema,
	kindToWrite,
	mergeGuides,
	parseGuide,
	patchFilesSchema,
	placeDocs,
	readDocs,
	recipeSchema,
	scenarioSchema,
	statementIn,
	withoutFound,
	withStatement,
	writtenSchema,
	type FieldGuide,
	type Guide,
	guideToYaml,
	guideWithNotes
} from '$core/guide';
import { formulaFor } from '$core/numbers';
import type { GuideAnswer, GuideChange } from '$core/views';
import { lastGuideStep, putGuides, readGuides, takeBackGuideStep, type WrittenGuides } from './db/guides';
import { changing } from './changing';
import { bumpProject } from './db/projects';
import { readNotes } from './db/notes';
import { db } from './db/pool';
import { modelOf, type Model } from './model';

/** What of a field was found and can be accepted or rejected at once. */
const FOUND = [
	'type',
	'reference',
	'derive',
	'counts',
	'codes',
	'unit',
	'meaning',
	'separator',
	'weight',
	'decimals',
	'min',
	'max'
] as const;
/** What is said of a kind apart from its fields. */
const PARTS = ['texts', 'assets', 'twins', 'covers', 'inherits'] as const;

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
	z.object({ do: z.literal('script'), call: z.string(), argument: z.number(), accept: z.boolean() }),
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

/** A kind is in one's own guide before anything is said of its fields, where the shared one does not have it. */
function withKind(written: WrittenGuides, guide: Guide, kind: string): string | null {
	const there = statementIn(written.shared, ['kinds', kind]) ?? statementIn(written.mine, ['kinds', kind]);
	const found = guide.kinds[kind];
	if (!found) throw new GuideFault(`There is no kind “${kind}”.`);
	return there === undefined
		? withStatement(written.mine, ['kinds', kind], kindToWrite(found))
		: written.mine;
}

/** The kinds to which a reference leads have to be in the guide too. */
function withTargets(written: WrittenGuides, guide: Guide, field: Partial<FieldGuide>): string | null {
	let { mine } = written;
	for (const target of field.reference?.kinds ?? []) mine = withKind({ ...written, mine }, guide, target);
	return mine;
}

function accepted(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'accept' | 'reject' }>
): string | null {
	const { kind, field, part } = change;
	let mine = withKind(written, guide, kind);
	if (part !== undefined)
		return withStatement(mine, ['kinds', kind, part], withoutFound(guide.kinds[kind]![part]));
	if (field === undefined) return mine;
	const found = fieldOf(guide.kinds[kind], field);
	if (!found) throw new GuideFault(`${guide.kinds[kind]!.title} has no field “${field}”.`);
	mine = withTargets({ ...written, mine }, guide, found);
	const plain = withoutFound(found);
	for (const name of FOUND)
		if (
			plain[name] !== undefined &&
			statementIn(written.shared, ['kinds', kind, 'fields', field, name]) === undefined
		)
			mine = withStatement(mine, ['kinds', kind, 'fields', field, name], plain[name]);
	return mine;
}

function rejected(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'accept' | 'reject' }>
): string | null {
	const { kind, field, part } = change;
	const mine = withKind(written, guide, kind);
	const without = (path: string[], name: string) => {
		const old = statementIn(mine, path);
		return withStatement(mine, path, [...new Set([...(Array.isArray(old) ? (old as string[]) : []), name])]);
	};
	if (part !== undefined) return without(['kinds', kind, 'not'], part);
	if (field === undefined)
		throw new GuideFault('A kind cannot be rejected; assign its files to another kind instead.');
	const found = fieldOf(guide.kinds[kind], field);
	// The more telling statement goes first: what looked like a reference is still a text.
	const aspect = found?.reference
		? 'reference'
		: found?.derive
			? 'derive'
			: found?.counts
				? 'counts'
				: 'type';
	return without(['kinds', kind, 'fields', field, 'not'], aspect);
}

function stated(
	written: WrittenGuides,
	guide: Guide,
	change: Extract<GuideChange, { do: 'say' }>
): string | null {
	const { kind, field, statements } = change;
	let mine = withKind(written, guide, kind);
	const path = field === undefined ? ['kinds', kind] : ['kinds', kind, 'fields', field];
	if (statements.reference)
		mine = withTargets({ ...written, mine }, guide, statements as Partial<FieldGuide>);
	for (const [name, value] of Object.entries(statements))
		mine = withStatement(mine, [...path, name], value === null ? undefined : value);
	return mine;
}

function documented(
	written: WrittenGuides,
	guide: Guide,
	text: string
): { mine: string | null; count: number; left: string[] } {
	const { placed, lost } = placeDocs(guide, readDocs(text));
	let { mine } = written;
	for (const { kind, field, text: meaning } of placed) {
		mine = withKind({ ...written, mine }, guide, kind);
		mine = withStatement(mine, ['kinds', kind, 'fields', field, 'meaning'], meaning);
	}
	return { mine, count: placed.length, left: lost.map(({ line, why }) => `Line ${line}: ${why}.`) };
}

interface Outcome {
	next: WrittenGuides;
	said: string;
	left?: string[];
}

/**
 * Somebody else's guide becomes part of the shared one, so that each statement still says who wrote it; one's own stay
 * over it, but for those that clash and are to give way.
 */
function merged(
	written: WrittenGuides,
	{ yaml, left }: { yaml: string; left: string[] },
	prefer: 'here' | 'there'
): Outcome {
	const shared = mergeGuides(written.shared, yaml, prefer);
	const own = mergeGuides(written.mine, yaml, prefer).clashes.filter(
		({ path }) => statementIn(written.mine, path) !== undefined && path[0] !== 'guide'
	);
	let { mine } = written;
	if (prefer === 'there') for (const { path } of own) mine = withStatement(mine, path, undefined);
	const counts = prefer === 'here' ? 'yours counts' : 'the imported guide counts';
	const clashes = new Set([...shared.clashes, ...own].map(({ path }) => path.join(' › ')));
	return {
		next: { shared: shared.yaml, mine },
		said: 'Merged a guide',
		left: [...left, ...[...clashes].map((path) => `Both guides set ${path}; ${counts}.`)]
	};
}

/** What a change makes of the written guides. @throws GuideFault */
function outcomeOf(
	change: Exclude<GuideChange, { do: 'undo' }>,
	written: WrittenGuides,
	guide: Guide
): Outcome {
	const named = (kind: string, field?: string) =>
		field === undefined
			? (guide.kinds[kind]?.title ?? kind)
			: `${field} of ${guide.kinds[kind]?.title ?? kind}`;
	switch (change.do) {
		case 'accept':
		case 'reject': {
			const accept = change.do === 'accept';
			const what = change.part === undefined ? '' : `${change.part} of `;
			return {
				next: { ...written, mine: (accept ? accepted : rejected)(written, guide, change) },
				said: `${accept ? 'Accepted' : 'Rejected'}: ${what}${named(change.kind, change.field)}`
			};
		}
		case 'say':
			return {
				next: { ...written, mine: stated(written, guide, change) },
				said: `Set for ${named(change.kind, change.field)}: ${Object.keys(change.statements)
					.filter((name) => name !== 'seen')
					.join(', ')}`
			};
		case 'code': {
			const { kind, field, code, means } = change;
			const codes = { ...fieldOf(guide.kinds[kind], field)?.codes };
			if (means === '') delete codes[code];
			else codes[code] = means;
			const statements = { codes: Object.keys(codes).length === 0 ? null : codes };
			return {
				next: { ...written, mine: stated(written, guide, { do: 'say', kind, field, statements }) },
				said: `Set for ${code || 'the empty code'} in ${named(kind, field)}: ${means || 'nothing'}`
			};
		}
		case 'script': {
			const all = guide.scripts ?? [];
			const own = all.find(({ call, argument }) => call === change.call && argument === change.argument);
			if (!own) throw new GuideFault(`The field guide does not know the call “${change.call}”.`);
			let { mine } = written;
			for (const kind of own.kinds) mine = withKind({ ...written, mine }, guide, kind);
			const kept = change.accept ? all : all.filter((script) => script !== own);
			return {
				next: { ...written, mine: withStatement(mine, ['scripts'], withoutFound(kept)) },
				said: `${change.accept ? 'Accepted' : 'Rejected'}: ids in ${change.call}`
			};
		}
		case 'merge': {
			const whole = completedGuide(change.yaml, guide);
			parseGuide(whole.yaml);
			return merged(written, whole, change.prefer);
		}
		case 'recipe': {
			const path = ['recipes', change.name];
			const title = change.recipe?.title ?? guide.recipes?.[change.name]?.title ?? change.name;
			if (change.recipe === null && statementIn(written.mine, path) === undefined)
				throw new GuideFault(`The recipe “${title}” comes from the shared guide and cannot be removed here.`);
			return {
				next: { ...written, mine: withStatement(written.mine, path, change.recipe ?? undefined) },
				said: `${change.recipe ? 'Saved the recipe' : 'Removed the recipe'} “${title}”`
			};
		}
		case 'scenario': {
			const { name, scenario } = change;
			const path = ['scenarios', name];
			const own = guide.scenarios && Object.hasOwn(guide.scenarios, name) ? guide.scenarios[name] : undefined;
			const title = scenario?.title ?? own?.title ?? name;
			if (scenario === null && statementIn(written.mine, path) === undefined)
				throw new GuideFault(
					`The scenario “${title}” comes from the shared guide and cannot be removed here.`
				);
			if (scenario?.formula !== undefined) formulaFor(scenario.formula);
			const kinds = [scenario?.kind, ...Object.values(scenario?.inputs ?? {}).map(({ kind }) => kind)];
			for (const kind of kinds)
				if (kind !== undefined && !guide.kinds[kind])
					throw new GuideFault(`The field guide has no kind “${kind}”.`);
			return {
				next: { ...written, mine: withStatement(written.mine, path, scenario ?? undefined) },
				said: `${scenario ? 'Saved the scenario' : 'Removed the scenario'} “${title}”`
			};
		}
		case 'read': {
			const { kind, title, files, key, id, at, separator } = change;
			if (statementIn(written.shared, ['kinds', kind]) !== undefined)
				throw new GuideFault(`The shared guide already has a kind “${kind}”; choose another name.`);
			const about = { title, files, key, id, at, separator, written: change.written };
			// What was said of its fields stays; how it is read is what is said now.
			const before = (statementIn(written.mine, ['kinds', kind]) ?? {}) as Record<string, unknown>;
			const { key: _key, keyParts: _parts, id: _id, at: place, except: _except, ...said } = before;
			// Which of the records at another place are meant is not known.
			const { element: _element, where: _where, ...others } = said;
			const kept = place === at ? said : others;
			const plain = Object.fromEntries(
				Object.entries({ ...kept, ...about }).filter(([, value]) => value !== undefined)
			);
			return {
				next: { ...written, mine: withStatement(written.mine, ['kinds', kind], plain) },
				said: `${title}: reads ${files.join(', ')}`
			};
		}
		case 'share':
			return {
				next: {
					...written,
					mine: withStatement(
						written.mine,
						['share'],
						change.readme === null ? undefined : { readme: change.readme }
					)
				},
				said:
					change.readme === null ? 'The read-me is the usual one again' : 'Saved the template of the read-me'
			};
		case 'patches':
			return {
				next: { ...written, mine: withStatement(written.mine, ['patches'], change.patches) },
				said: `Set the patch files: ${change.patches.map(({ files }) => files).join(', ') || 'none'}`
			};
		case 'install':
			return {
				next: { ...written, mine: withStatement(written.mine, ['install'], change.install) },
				said: 'Set how mods are installed and how the log is read'
			};
		case 'docs': {
			const { mine, count, left } = documented(written, guide, change.text);
			if (count === 0) throw new GuideFault(left[0] ?? 'The table is empty.');
			return {
				next: { ...written, mine },
				said: `Imported ${counted(count, 'field description')}`,
				left
			};
		}
	}
}

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
