// What Find found, for its page and for its endpoint.
import { performance } from 'node:perf_hooks';
import { search, type Hit, type HitGroup } from '$core/search';
import { givenIn } from './notes';
import type { Model } from '../model';

/** What is looked for, as it is in the address. */
export interface FindQuery {
	q: string;
	kind: string;
	layer: string;
	folder: string;
	language: string;
	format: string;
	group: string;
	exact: boolean;
	whole: boolean;
	pattern: boolean;
}

/** The query that an address says. */
export function queryOf(parameters: URLSearchParams): FindQuery {
	const text = (name: string) => (parameters.get(name) ?? '').slice(0, 400);
	const on = (name: string) => parameters.get(name) === 'on';
	return {
		q: text('q'),
		kind: text('kind'),
		layer: text('layer'),
		folder: text('folder'),
		language: text('language'),
		format: text('format'),
		group: text('group'),
		exact: on('exact'),
		whole: on('whole'),
		pattern: on('pattern')
	};
}

/** One way to narrow, with how many records it would leave. */
export interface Narrow {
	value: string;
	title: string;
	count: number;
}

export interface FoundView {
	hits: (Hit & { mine: boolean; layerTitle: string })[];
	/** Records that answer; of them `hits` holds the best. */
	total: number;
	milliseconds: number;
	narrow: { kind: Narrow[]; layer: Narrow[]; folder: Narrow[]; format: Narrow[]; language: Narrow[] };
	titles: Record<string, string>;
}

/** Records that are sent to the page. */
const MOST = 50;

const GROUPS: HitGroup[] = ['record', 'text', 'kind', 'field', 'meaning', 'file', 'folder', 'line', 'note'];

/** Looks everywhere. */
export async function findIn(model: Model, query: FindQuery): Promise<FoundView> {
	const { stack } = model;
	const [index, given] = await Promise.all([model.index(), givenIn(model.project.slug)]);
	const started = performance.now();
	const found = search(index, query.q, {
		kind: query.kind || undefined,
		layer: query.layer || undefined,
		folder: query.folder || undefined,
		language: query.language || undefined,
		format: query.format || undefined,
		group: GROUPS.find((group) => group === query.group),
		exactCase: query.exact,
		whole: query.whole,
		pattern: query.pattern,
		most: MOST,
		given
	});
	const milliseconds = performance.now() - started;
	const kindTitle = (kind: string) =>
		stack.guide.kinds[kind]?.plural ?? stack.guide.kinds[kind]?.title ?? kind;
	const layers = new Map(stack.layers.map((layer) => [layer.id, layer]));
	const list = (counts: Map<string, number>, title: (value: string) => string): Narrow[] =>
		[...counts]
			.map(([value, count]) => ({ value, title: title(value), count }))
			.sort((a, b) => b.count - a.count)
			.slice(0, 40);
	const kinds = new Set(found.hits.flatMap((hit) => (hit.kind === null ? [] : [hit.kind])));
	return {
		hits: found.hits.map((hit) => ({
			...hit,
			mine: layers.get(hit.layer)?.owner === 'me',
			layerTitle: layers.get(hit.layer)?.title ?? ''
		})),
		total: found.total,
		milliseconds,
		narrow: {
			kind: list(found.counts.kind, kindTitle),
			layer: list(found.counts.layer, (id) => layers.get(id)?.title ?? id),
			folder: list(found.counts.folder, (folder) => folder || 'the top folder'),
			format: list(found.counts.format, (format) => format),
			language: Object.entries(stack.guide.words?.languages ?? {}).map(([value, title]) => ({
				value,
				title,
				count: 0
			}))
		},
		titles: Object.fromEntries([...kinds].map((kind) => [kind, kindTitle(kind)]))
	};
}
