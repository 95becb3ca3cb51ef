// What a version kept beside the base changed, as a page: all of it, or what concerns my mod.
import { concernsOf, fieldInShort, summaryOf, type FieldSummary, type RecordChange } from '$core/carry';
import { titleOf } from '$core/guide';
import type { Stack } from '$core/stack';
import type { UpdatedPage } from '$core/views';
import { targetOf } from '../carry';
import type { Model } from '../model';

/** Records of a kind, values of a record, and files that are shown. */
const [MOST, VALUES, FILES] = [40, 6, 200];

type Title = (path: string) => string;

const valueView = ({ path, from, count, middle, range }: FieldSummary, titled: Title) => ({
	title: titled(path),
	from,
	count,
	middle,
	range
});

const recordView = (one: RecordChange, titled: Title, kindTitle: (kind: string) => string) => ({
	id: one.record,
	name: one.name,
	what: one.what,
	was:
		one.from === undefined
			? null
			: one.from.kind !== one.kind
				? kindTitle(one.from.kind)
				: one.what === 'renamed'
					? one.from.record
					: one.from.file,
	sure: one.sure,
	values: one.fields
		.slice(0, VALUES)
		.map(({ path, old, new: fresh }) => ({ title: titled(path), old, new: fresh })),
	more: Math.max(0, one.fields.length - VALUES)
});

/**
 * The page of what a version changed.
 * @param mine whether only what concerns my mod is on it
 * @throws NotThere
 */
export async function updatedPage(model: Model, to: string, mine: boolean): Promise<UpdatedPage> {
	const { changes, after, title } = await targetOf(model, to);
	const { kinds, files } = summaryOf(changes, mine ? concernsOf(model.stack, model.links) : undefined);
	const about = (stack: Stack, kind: string) => stack.guide.kinds[kind];
	const kindTitle = (kind: string) => about(after, kind)?.title ?? about(model.stack, kind)?.title ?? kind;
	return {
		slug: model.project.slug,
		to,
		title,
		mine,
		records: kinds.reduce((sum, { records }) => sum + records.length, 0),
		kinds: kinds.map(({ kind, counts, whole, fields, values, records }) => {
			const guide = about(after, kind) ?? about(model.stack, kind);
			const titled: Title = (path) => titleOf(guide, path);
			return {
				kind,
				title: guide?.plural ?? kindTitle(kind),
				counts,
				whole,
				fields: fields.map(fieldInShort),
				values: values.slice(0, MOST).map((one) => valueView(one, titled)),
				records: records.slice(0, MOST).map((one) => recordView(one, titled, kindTitle)),
				more: Math.max(0, records.length - MOST)
			};
		}),
		files: files.slice(0, FILES).map(({ path, what, from }) => ({ path, what, from: from ?? null })),
		moreFiles: Math.max(0, files.length - FILES)
	};
}
