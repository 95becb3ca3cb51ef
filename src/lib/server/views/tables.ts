// All tables of a project, to choose one: searched, ordered, by folder.
import { fold } from '$core/search';
import type { TablesView } from '$core/views';
import type { Model } from '../model';
import { kindsOf } from './table';

/** Tables that are listed at a time. */
const MOST = 300;
const SORTS = ['folder', 'records', 'name', 'changed'] as const;

/** The folder that holds a kind's files: the parts of its first glob before anything is left open. */
function folderOf(globs: string): string {
	const [first = ''] = globs.split(/, | · /);
	const parts = first.split('/').slice(0, -1);
	const open = parts.findIndex((part) => /[*?{[]/.test(part));
	return parts.slice(0, open < 0 ? parts.length : open).join('/');
}

/** The tables that pass a search, in an order. @param asked `q`, `sort`, `mine` */
export function tablesOf(model: Model, asked: URLSearchParams): TablesView {
	const q = (asked.get('q') ?? '').slice(0, 200);
	const sort = SORTS.find((name) => name === asked.get('sort')) ?? 'folder';
	const mine = asked.has('mine');
	const { guide, tables } = model.stack;
	const referred = new Set(
		Object.values(guide.kinds).flatMap(({ fields }) =>
			Object.values(fields).flatMap(({ reference }) => reference?.kinds ?? [])
		)
	);
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
	const name = (a: { title: string }, b: { title: string }) =>
		a.title.localeCompare(b.title, 'en', { numeric: true });
	passing.sort(
		(a, b) =>
			(sort === 'records' ? b.records - a.records : 0) ||
			(sort === 'changed' ? b.mine - a.mine || b.records - a.records : 0) ||
			(sort === 'folder' ? a.folder.localeCompare(b.folder, 'en') : 0) ||
			name(a, b)
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
