// All tables of a project, to choose one: searched, ordered, by folder.
import type { Guide } from '$core/guide';
import { fold } from '$core/search';
import type { TablesView } from '$core/views';
import type { Model } from '../model';
import { kindsOf } from './table';

/** Tables that are listed at a time. */
const MOST = 300;
/** One for all: each call of `localeCompare` with a language would make one of its own. */
const ORDER = new Intl.Collator('en', { numeric: true });
const SORTS = ['folder', 'records', 'name', 'changed'] as const;

/** The folder that holds a kind's files: the parts of its first glob before anything is left open. */
function folderOf(globs: string): string {
	const [first = ''] = globs.split(/, | · /);
	const parts = first.split('/').slice(0, -1);
	const open = parts.findIndex((part) => /[*?{[]/.test(part));
	return parts.slice(0, open < 0 ? parts.length : open).join('/');
}

const referredTo = new WeakMap<Guide, ReadonlySet<string>>();

/** The kinds that some field refers to; found once for the same guide, which may speak of very many fields. */
function referredIn(guide: Guide): ReadonlySet<string> {
	const known = referredTo.get(guide);
	if (known) return known;
	const found = new Set<string>();
	for (const { fields } of Object.values(guide.kinds))
		for (const { reference } of Object.values(fields))
			for (const kind of reference?.kinds ?? []) found.add(kind);
	referredTo.set(guide, found);
	return found;
}

/** The tables that pass a search, in an order. @param asked `q`, `sort`, `mine` */
export function tablesOf(model: Model, asked: URLSearchParams): TablesView {
	const q = (asked.get('q') ?? '').slice(0, 200);
	const sort = SORTS.find((name) => name === asked.get('sort')) ?? 'folder';
	const mine = asked.has('mine');
	const { guide, tables } = model.stack;
	const referred = referredIn(guide);
	const all = kindsOf(model).map((kind) => ({
		...kind,
		folder: folderOf(kind.files),
		// One file with settings of its own, which nothing refers to: of use to few.
		single:
			kind.records === 1 &&
			kind.mine === 0 &&
			tables.get(kind.kind)!.columns.length < 8 &&
			!referred.has(kind.kind)
	}));
	const words = fold(q).split(/\s+/).filter(Boolean);
	const passing = all.filter(
		(kind) =>
			(!mine || kind.mine > 0) &&
			words.every((word) => fold(`${kind.title} ${kind.kind} ${kind.files}`).includes(word))
	);
	passing.sort(
		(a, b) =>
			(sort === 'records' ? b.records - a.records : 0) ||
			(sort === 'changed' ? b.mine - a.mine || b.records - a.records : 0) ||
			(sort === 'folder' ? ORDER.compare(a.folder, b.folder) : 0) ||
			ORDER.compare(a.title, b.title)
	);
	// Where there is nothing else, they are what there is.
	const folds = words.length === 0 && passing.some(({ single }) => !single);
	const shown = folds ? passing.filter(({ single }) => !single) : passing;
	return {
		q,
		sort,
		mine,
		kinds: shown.slice(0, MOST),
		passing: shown.length,
		singles: folds ? passing.filter(({ single }) => single).slice(0, MOST) : [],
		all: all.length,
		changed: all.filter((kind) => kind.mine > 0).length
	};
}
