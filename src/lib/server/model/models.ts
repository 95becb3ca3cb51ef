// Projects in memory: the tables, links, snags and index of one version. A cache: it can always be made again.
import { composeGuides, EMPTY_GUIDE, type Guide } from '$core/guide';
import type { Stack } from '$core/stack';
import { linkSteps, type Links } from '$core/links';
import { checkSteps, countSnags, vouchedFor, type Counts, type Snag, type Vouched } from '$core/checks';
import { stackSteps, startMemory, type Memory } from '$core/model';
import { spreadSteps } from '$core/numbers';
import { buildIndexSteps, measureSteps, type SearchIndex } from '$core/search';
import type { OpeningState } from '$core/views';
import { inSteps } from '../breath';
import { readCopied } from '../db/copied';
import { db, type Queries } from '../db/pool';
import { readLayers, readProject, type LayerRow, type ProjectRow } from '../db/projects';
import { NotThere } from '../faults';
import { build, factsKeyOf, sourceOf } from './build';

export interface Model {
	project: ProjectRow;
	layers: LayerRow[];
	guide: Guide;
	stack: Stack;
	links: Links;
	snags: Snag[];
	counts: Counts;
	/** What the snags speak for. */
	vouched(): Vouched;
	/** Made when it is first asked for, in steps that leave room for other work. */
	index(): Promise<SearchIndex>;
}

/** What is kept of a project between versions. */
export interface Kept {
	memory: Memory;
	model: Model | null;
	index: SearchIndex | null;
	/** Layers as a change left them, before anybody read them again. */
	handed: LayerRow[];
	/** The version that is being built, and how far that is. */
	coming: { version: number; model: Promise<Model> } | null;
}

const kept = new Map<string, Kept>();

function keptOf(slug: string): Kept {
	let own = kept.get(slug);
	if (!own)
		kept.set(slug, (own = { memory: startMemory(), model: null, index: null, handed: [], coming: null }));
	return own;
}

/** What is kept of a project that is open; undefined otherwise. */
export const keptNow = (slug: string): Kept | undefined => kept.get(slug);

/** Records of a kind from which on its spreads are made before somebody asks. */
const LARGE = 2000;
/** Records from which on a first loading leaves much behind. */
const MANY = 50_000;

const composed = new Map<string, [string, Guide]>();

/** The guide as written, by others and by oneself; the same object as long as neither changes. */
function writtenGuide({ slug, guide, ownGuide }: ProjectRow): Guide {
	if (guide === null && ownGuide === null) return EMPTY_GUIDE;
	const text = JSON.stringify([guide, ownGuide]);
	const old = composed.get(slug);
	if (old?.[0] === text) return old[1];
	const next = composeGuides(guide, ownGuide);
	composed.set(slug, [text, next]);
	return next;
}

async function buildModel(q: Queries, project: ProjectRow, own: Kept): Promise<Model> {
	const known = [...(own.model?.layers ?? []), ...own.handed];
	const layers = await readLayers(q, project.slug, { known });
	own.handed = [];
	const guide = writtenGuide(project);
	const copied = await readCopied(q, project.slug);
	const before = own.memory.stack;
	const steps = stackSteps({
		// What is switched off is not there for anything but the list of layers.
		layers: layers
			.filter(({ on }) => on)
			.map((row) => ({ ...sourceOf(row), ...(row.owner === 'me' ? { copied } : {}) })),
		guide,
		memory: own.memory,
		keyOf: factsKeyOf
	});
	const stack = await build(q, steps);
	// Over another pool nothing of before can be used.
	if (before?.pool !== stack.pool) own.index = null;
	const older = before?.pool === stack.pool ? own.model?.links : undefined;
	const links = await inSteps(linkSteps(stack, older));
	const snags = await inSteps(checkSteps(stack, links));
	let index: Promise<SearchIndex> | null = null;
	let vouched: Vouched | null = null;
	return {
		project,
		layers,
		guide,
		stack,
		links,
		snags,
		counts: countSnags(snags),
		vouched: () => (vouched ??= vouchedFor(stack, links)),
		index: () =>
			(index ??= inSteps(buildIndexSteps(stack, links, own.index ?? undefined)).then((built) => {
				if (own.index === null && links.places > MANY) globalThis.gc?.();
				void inSteps(spreadSteps(stack, LARGE)).then(() => inSteps(measureSteps(stack, LARGE)));
				return (own.index = built);
			}))
	};
}

/**
 * The project as it is now, from memory where its version has not changed.
 * @throws NotThere
 */
export async function modelOf(slug: string, q: Queries = db(), lock = false): Promise<Model> {
	const project = await readProject(q, slug, lock);
	if (!project) throw new NotThere(`There is no project “${slug}”.`);
	const own = keptOf(slug);
	if (own.model?.project.version === project.version) return own.model;
	if (own.coming?.version !== project.version) {
		const before = own.coming?.model.catch(() => undefined);
		const model = (async () => {
			await before;
			return buildModel(lock ? q : db(), project, own);
		})();
		own.coming = { version: project.version, model };
	}
	const coming = own.coming;
	try {
		const model = await coming.model;
		if (own.coming !== coming) return model;
		// Whoever opens a game will look for something in it.
		if (own.model === null) model.index().catch(() => undefined);
		return (own.model = model);
	} finally {
		if (own.coming === coming) own.coming = null;
	}
}

/** Hands a layer on as a change left it, so that nobody need read from the database what is known already. */
export function handOn(slug: string, row: LayerRow): void {
	const own = kept.get(slug);
	if (own) own.handed = [...own.handed.filter(({ id }) => id !== row.id), row];
}

/**
 * Waits a while (milliseconds) for a project to be open, and tells how far that is. It goes on being opened meanwhile.
 * @throws NotThere
 */
export async function openedSoon(slug: string, milliseconds: number): Promise<OpeningState> {
	const coming = modelOf(slug);
	const late = new Promise<null>((done) => setTimeout(done, milliseconds, null));
	// The next caller is told of a fault.
	coming.catch(() => undefined);
	const open = (await Promise.race([coming, late])) !== null;
	const { step, done, total } = kept.get(slug)?.memory.progress ?? startMemory().progress;
	return { open, step, done: Math.min(done, total), total };
}

/** Whether a project is in memory, though perhaps not as it is now: then it is made again in a moment. */
export const isOpen = (slug: string): boolean => Boolean(kept.get(slug)?.model);

/** Lets go of a project that is no more. */
export function letGo(slug: string): void {
	kept.delete(slug);
	composed.delete(slug);
}

/** The layer of a project that is edited. @throws NotThere */
export function mineOf(model: Model): LayerRow {
	const mine = model.layers.find((layer) => layer.owner === 'me');
	if (!mine) throw new NotThere('This project has no mod of yours.');
	return mine;
}
