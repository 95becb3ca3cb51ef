// A project in memory: the effective records, links, snags and index of one version. A cache: it can always be made again.
import { digestOf, type TextFile } from '$core/text';
import type { Document } from '$core/formats';
import { EMPTY_GUIDE, parseGuide, type Guide } from '$core/guide';
import { assembleStack, type LayerBytes, type Stack } from '$core/stack';
import { buildLinks, type Links } from '$core/links';
import { checkStack, countSnags, type Counts, type Snag } from '$core/checks';
import { buildIndex, type SearchIndex } from '$core/search';
import { readBlobs } from './db/blobs';
import { readLayers, readProject, type LayerRow, type ProjectRow } from './db/projects';
import { db, type Queries } from './db/pool';

export interface Model {
	project: ProjectRow;
	layers: LayerRow[];
	guide: Guide;
	stack: Stack;
	links: Links;
	snags: Snag[];
	counts: Counts;
	/** Made when it is first asked for. */
	index(): SearchIndex;
}

/** What is asked for is not there. */
export class NotThere extends Error {}

const models = new Map<string, Model>();
const documents = new Map<string, [TextFile, Document | null]>();
const MOST_DOCUMENTS = 20_000;

async function bytesOf(q: Queries, rows: LayerRow[]): Promise<LayerBytes[]> {
	const wanted = rows.flatMap((row) => row.files.filter((file) => file.kept).map((file) => file.sha256));
	const blobs = await readBlobs(q, [...new Set(wanted)]);
	return rows.map(({ id, role, title, files, encodings }) => ({
		id,
		role,
		title,
		encodings: new Map(Object.entries(encodings)),
		files: new Map(files.filter((file) => file.kept).map((file) => [file.path, blobs.get(file.sha256)!]))
	}));
}

async function buildModel(q: Queries, project: ProjectRow): Promise<Model> {
	const layers = await readLayers(q, project.slug);
	const guide = project.guide ? parseGuide(project.guide) : EMPTY_GUIDE;
	if (documents.size > MOST_DOCUMENTS) documents.clear();
	const stack = assembleStack(await bytesOf(q, layers), guide, (path, bytes, how, read) => {
		const key = `${how} ${path} ${digestOf(bytes)}`;
		let known = documents.get(key);
		if (!known) documents.set(key, (known = read()));
		return known;
	});
	const links = buildLinks(stack);
	const snags = checkStack(stack, links);
	let index: SearchIndex | null = null;
	return {
		project,
		layers,
		guide,
		stack,
		links,
		snags,
		counts: countSnags(snags),
		index: () => (index ??= buildIndex(stack, links))
	};
}

/**
 * The project as it is now, from memory where its version has not changed.
 * @throws NotThere
 */
export async function modelOf(slug: string, q: Queries = db(), lock = false): Promise<Model> {
	const project = await readProject(q, slug, lock);
	if (!project) throw new NotThere(`There is no project “${slug}”.`);
	const known = models.get(slug);
	if (known?.project.version === project.version) return known;
	const model = await buildModel(q, project);
	models.set(slug, model);
	return model;
}

/** Forgets a project that changed elsewhere or could not be changed here. */
export function forget(slug: string): void {
	models.delete(slug);
}

/** The layer of a project that is edited. @throws NotThere */
export function mineOf(model: Model): LayerRow {
	const mine = model.layers.find((layer) => layer.role === 'mine');
	if (!mine) throw new NotThere('This project has no mod of mine.');
	return mine;
}

/** The texts of my mod, for applying a plan. */
export function myFiles(model: Model): Map<string, TextFile> {
	const files = new Map<string, TextFile>();
	for (const [path, { text }] of model.stack.mine?.files ?? []) if (text) files.set(path, text);
	return files;
}
