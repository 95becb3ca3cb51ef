// Paths of fields as the guide names them: one statement for all items of a list, and for all names of a map.
import { addTo } from '../gather';
import type { FieldGuide, KindGuide } from './schema';

/** Path of the id itself, and of the folder and the file that a record is in. */
export const ID = '#id';
export const FOLDER = '#folder';
export const FILE = '#file';

/** Whether a field is made from the path of its record, and not written in it. */
export const isFromPath = (path: string): boolean => path === ID || path === FOLDER || path === FILE;

/** The name of a file without folders and ending. */
export const fileIn = (path: string): string => path.replace(/^.*\//, '').replace(/\.[^.]*$/, '');

/** A path with another name for the file, in its folder and with its ending. */
export const inFile = (path: string, name: string): string =>
	path.slice(0, path.lastIndexOf('/') + 1) + name + (/\.[^./]*$/.exec(path)?.[0] ?? '');

/** A path with the numbers of list items left out: `able[2].id` is `able[].id`. */
export const patternOf = (path: string): string =>
	path.includes('[') ? path.replace(/\[\d+\]/g, '[]') : path;

/** Whether a path speaks of many: of any item of a list, or of any name. */
export const isPattern = (path: string): boolean => path.includes('[]') || path.includes('*');

/** The end of a pattern that means any name, also one with dots in it. */
const ANY_NAME = '**';

/**
 * Whether paths are meant by a pattern: `[]` is any item of a list, `[1]` the second one, `*` any name without dots,
 * `**` at its end any name.
 */
export function pathMatcher(pattern: string): (path: string) => boolean {
	const source = pattern
		.replace(/[\\^$.|?+(){}[\]]/g, '\\$&')
		.replaceAll('\\[\\]', '\\[\\d+\\]')
		.replace(/\*\*$/, '[^[\\]]+')
		.replaceAll('*', '[^.[\\]]+');
	const expression = new RegExp(`^${source}$`);
	return (path) => expression.test(path);
}

/** What all paths that a pattern means begin with. */
export const headOf = (pattern: string): string => /^[^*[]*/.exec(pattern)![0];

/**
 * How all paths that a pattern means end, from the last point on, and of how many names they are; null where that is left
 * open.
 */
export function tailOf(pattern: string): string | null {
	const last = pattern.slice(pattern.lastIndexOf('.') + 1);
	if (/[*[]/.test(last)) return null;
	return `${pattern.split('.').length}.${last}`;
}

/** The name at the end of a path: its last part, or all that a pattern leaves open, where names have dots in them. */
export function nameAtEnd(pattern: string, path: string): string {
	if (!pattern.endsWith(ANY_NAME)) return path.slice(path.lastIndexOf('.') + 1);
	return path
		.split('.')
		.slice(pattern.split('.').length - 1)
		.join('.');
}

/** A pattern with its number among those of a kind; what tells whether it means a path is made when it is first asked. */
interface Open {
	nth: number;
	pattern: string;
	fits?: (path: string) => boolean;
}

/** Patterns that leave names open or mean one place of a list; those of most kinds are none. */
interface Loose {
	/** By how their paths end, where it is said, else by the whole names that they begin with. */
	byTail: Map<string, Open[]>;
	byHead: Map<string, Open[]>;
	/** What was asked before: tables may have thousands of columns that a few patterns mean. */
	known: Map<string, string | null>;
}

const loose = new WeakMap<KindGuide['fields'], Loose>();

/** Paths that are remembered of a kind. */
const MOST_KNOWN = 100_000;

/** The first of some patterns that means a path. */
function firstThatFits({ byHead, byTail }: Loose, path: string): Open | undefined {
	let found: Open | undefined;
	const look = (among: readonly Open[] | undefined) => {
		for (const open of among ?? []) {
			if (found && found.nth < open.nth) return;
			open.fits ??= pathMatcher(open.pattern);
			if (!open.fits(path)) continue;
			found = open;
			return;
		}
	};
	look(byTail.get(tailOf(path) ?? ''));
	if (byHead.size > 0)
		for (let end = 0; ; end = path.indexOf('.', end) + 1) {
			look(byHead.get(path.slice(0, end)));
			if (!path.includes('.', end)) break;
		}
	return found;
}

function spokenLoosely(fields: KindGuide['fields'], path: string): string | null {
	let own = loose.get(fields);
	if (!own) {
		own = { byHead: new Map(), byTail: new Map(), known: new Map() };
		for (const [nth, pattern] of Object.keys(fields).entries()) {
			if (!/\*|\[\d/.test(pattern)) continue;
			const [head, tail] = [headOf(pattern), tailOf(pattern)];
			if (tail !== null) addTo(own.byTail, tail, { nth, pattern });
			else addTo(own.byHead, head.slice(0, head.lastIndexOf('.') + 1), { nth, pattern });
		}
		loose.set(fields, own);
	}
	if (own.byHead.size + own.byTail.size === 0) return null;
	let spoken = own.known.get(path);
	if (spoken === undefined) {
		spoken = firstThatFits(own, path)?.pattern ?? null;
		if (own.known.size < MOST_KNOWN) own.known.set(path, spoken);
	}
	return spoken;
}

/** The name under which the guide speaks of a path; null where it does not. */
export function spokenPath({ fields }: Pick<KindGuide, 'fields'>, path: string): string | null {
	if (Object.hasOwn(fields, path)) return path;
	const pattern = patternOf(path);
	if (pattern !== path && Object.hasOwn(fields, pattern)) return pattern;
	return spokenLoosely(fields, path);
}

/** What the guide says of a field. */
export function fieldOf(kind: Pick<KindGuide, 'fields'> | undefined, path: string): FieldGuide | undefined {
	const spoken = kind ? spokenPath(kind, path) : null;
	return spoken === null ? undefined : kind!.fields[spoken];
}

/** The first number of a list item in a path, as it is written, from a place on; null for none. */
function numberIn(path: string, from: number): { written: string; end: number } | null {
	for (let at = path.indexOf('[', from); at >= 0; at = path.indexOf('[', at + 1)) {
		let end = at + 1;
		while (path.charCodeAt(end) >= 48 && path.charCodeAt(end) <= 57) end++;
		if (end > at + 1 && path[end] === ']') return { written: path.slice(at, end + 1), end: end + 1 };
	}
	return null;
}

/** The path of another field of the same list item: for `ends[1].id` and `ends[].as` it is `ends[1].as`. */
export function beside(path: string, pattern: string): string {
	if (!pattern.includes('[]')) return pattern;
	let found = '';
	let from = 0;
	let last = 0;
	for (let at = pattern.indexOf('[]'); at >= 0; at = pattern.indexOf('[]', from)) {
		const number = numberIn(path, last);
		found += pattern.slice(from, at) + (number?.written ?? '[0]');
		from = at + 2;
		last = number?.end ?? path.length;
	}
	return found + pattern.slice(from);
}

/** The folder by which files of a kind differ: what the first open folder of its globs stands for; null for none. */
export function folderIn(globs: readonly string[], path: string): string | null {
	for (const glob of globs) {
		const at = glob.split('/').indexOf('*');
		if (at >= 0 && at < glob.split('/').length - 1) return path.split('/')[at] ?? null;
	}
	return path.split('/').at(-2) ?? null;
}

/** A path with another folder in the place that `folderIn` tells. */
export function inFolder(globs: readonly string[], path: string, folder: string): string {
	const parts = path.split('/');
	for (const glob of globs) {
		const at = glob.split('/').indexOf('*');
		if (at < 0 || at >= glob.split('/').length - 1) continue;
		parts[at] = folder;
		return parts.join('/');
	}
	if (parts.length > 1) parts[parts.length - 2] = folder;
	return parts.join('/');
}

/** The first part of a path: the field that all of it is within. */
export function topOf(path: string): string {
	const [dot, list] = [path.indexOf('.'), path.indexOf('[')];
	if (dot < 0 && list < 0) return path;
	return path.slice(0, dot < 0 ? list : list < 0 ? dot : Math.min(dot, list));
}

/**
 * What a field is called where it stands by itself; of one place of a list that has a title as a whole, with the number of
 * the place, from 1: the third of `Falloff` is `Falloff 3`.
 */
export function titleOf(kind: Pick<KindGuide, 'fields'> | undefined, path: string): string {
	const title = fieldOf(kind, path)?.title;
	if (title === undefined) return path;
	const places = Object.hasOwn(kind!.fields, path) ? [] : [...path.matchAll(/\[(\d+)\]/g)];
	return [title, places.map(([, nth]) => Number(nth) + 1).join('.')].filter(Boolean).join(' ');
}
