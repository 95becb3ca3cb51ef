// Which field of a record holds its shown name, where that is no text with a key.
import type { FieldGuide, KindGuide, NameGuide } from '../guide';
import { isReadable, languageName } from '../text';
import type { Group } from './group';
import { wordsOf } from './likeness';
import type { Column } from './sketch';
import { atLeast, finding, said } from './sure';

/** What such a field is called, and what may stand beside that. */
const CALLED = new Set(['name', 'title', 'label', 'caption', 'shown', 'called', 'display', 'displayname']);
const BESIDE = new Set(['full', 'long', 'text', 'string', 'info', 'meta', 'ui', 'ingame', 'game', 'in']);

/** Share of the records that have one, of those that is not shared, and of texts that are no codes. */
const [MOST_HAVE, DIFFERENT, IN_WORDS] = [0.5, 0.5, 0.5];
/** Texts that are looked at, and their letters on average. */
const [LOOKED_AT, LONGEST] = [200, 40];
const FEWEST = 2;
/** That a field is called so tells much, but not all. */
const [LEAST_SURE, MOST_SURE] = [0.5, 0.98];

/** How surely a path is what players call a record: 0 for not at all. */
function calledSo(path: string, kind: ReadonlySet<string>): number {
	const words = wordsOf(path).filter((word) => !kind.has(word));
	if (!words.some((word) => CALLED.has(word))) return 0;
	const left = words.filter((word) => !CALLED.has(word));
	return left.some((word) => !BESIDE.has(word)) ? 0 : 1 / (words.length + left.length);
}

/** Whether texts read like names: short, in one line, no numbers, and most of them no codes. */
function areNames({ values }: Column, { files }: Group): boolean {
	const { pool } = files[0]!.facts;
	let [all, codes, letters] = [0, 0, 0];
	const step = Math.max(1, Math.floor(values.length / LOOKED_AT));
	for (let at = 0; at < values.length; at += step) {
		const text = pool.at(values[at]!);
		if (text.includes('\n') || !/\p{L}/u.test(text)) return false;
		all++;
		letters += text.length;
		if (!text.includes(' ') && /[_./:\\]/.test(text)) codes++;
	}
	return all > 0 && letters <= all * LONGEST && codes <= all * (1 - IN_WORDS);
}

/** Whether the ids are what people call the records, as they are where most of them can be read. */
function idsAreNames({ files, key, sketch }: Group): boolean {
	const { pool } = files[0]!.facts;
	const ids = (key === null ? undefined : sketch.columns.get(key))?.values ?? [];
	const step = Math.max(1, Math.floor(ids.length / LOOKED_AT));
	let [all, readable] = [0, 0];
	for (let at = 0; at < ids.length; at += step) {
		all++;
		if (isReadable(pool.at(ids[at]!))) readable++;
	}
	return readable > all * IN_WORDS;
}

/** A field that may hold names: its own column and, where it is a map, those of the texts in it. */
interface Candidate {
	from: string;
	columns: Column[];
}

/** Columns by the field that they may be the names of: themselves, or the map that they are in. */
function candidatesIn({ sketch, key }: Group): Candidate[] {
	const found = new Map<string, Column[]>();
	for (const [path, column] of sketch.columns) {
		if (path === key || path.startsWith('#') || path.includes('[]') || column.filled === 0) continue;
		const dot = path.lastIndexOf('.');
		for (const from of dot > 0 ? [path, path.slice(0, dot)] : [path]) {
			const list = found.get(from);
			if (list) list.push(column);
			else found.set(from, [column]);
		}
	}
	return [...found].map(([from, columns]) => ({ from, columns }));
}

/** Whether the texts in a map are one text in several languages, or in several forms. */
const areForms = (from: string, columns: readonly Column[]): boolean =>
	columns.every(({ path }) => {
		const name = path.slice(from.length + 1);
		return path === from || name === '*' || languageName(name) !== null || /^(?:str|text|value)\b/.test(name);
	});

/** What the two columns of a candidate have together: its own, and the fullest of those in the map. */
function sumOf(from: string, columns: readonly Column[]): Column[] {
	const own = columns.filter(({ path }) => path === from);
	const inside = columns.filter(({ path }) => path !== from);
	return inside.length === 0
		? own
		: [...own, inside.reduce((most, column) => (most.records >= column.records ? most : column))];
}

const total = (columns: readonly Column[], of: (column: Column) => number): number =>
	columns.reduce((sum, column) => sum + of(column), 0);

/**
 * The field that holds the shown names of a kind's records; null where none does.
 * @param by fields by which other kinds refer to its records, if any do
 * @param words the kind of the texts, whose keys may stand there instead of names
 */
export function nameIn(
	group: Group,
	fields: Record<string, FieldGuide>,
	by: ReadonlySet<string> | undefined,
	words: string | undefined
): NameGuide | null {
	const { sketch, kind, names, key } = group;
	if (sketch.count < FEWEST) return null;
	const own = new Set([kind, ...names].flatMap(wordsOf).filter((word) => !CALLED.has(word)));
	const leads = (path: string) => {
		const kinds = fields[path]?.reference?.kinds;
		return kinds?.length === 1 && kinds[0] === words;
	};
	const referred = by && !idsAreNames(group) ? by : undefined;
	let best: { score: number; name: NameGuide } | null = null;
	for (const { from, columns } of candidatesIn(group)) {
		const called = from === key ? 0 : calledSo(from, own);
		const score = called > 0 ? 1 + called : referred?.has(from) ? 1 : 0;
		if (score === 0 || (best && best.score >= score)) continue;
		if (columns.some(({ path }) => !leads(path) && !['text', 'code'].includes(fields[path]?.type ?? 'text')))
			continue;
		const counted = sumOf(from, columns);
		const have = Math.min(
			sketch.count,
			total(counted, ({ records }) => records)
		);
		const filled = total(counted, (column) => column.filled);
		const different = total(counted, ({ values }) => values.length);
		if (have < sketch.count * MOST_HAVE || different < filled * DIFFERENT) continue;
		if (counted.some((column) => !leads(column.path) && !areNames(column, group))) continue;
		if (columns.some(({ path }) => path !== from) && !areForms(from, columns)) continue;
		const because = `${have === sketch.count ? 'All' : `${said(have)} of`} ${said(sketch.count)} records have a short text there, ${different === filled ? 'no two the same' : `${said(different)} of them different`}${called > 0 ? '' : '; other records refer to them by it'}.`;
		const sure = atLeast(different, filled) * MOST_SURE;
		if (sure >= LEAST_SURE) best = { score, name: { from, found: finding(sure, because) } };
	}
	return best?.name ?? null;
}

/** By which fields the records of each kind are referred to, other than their ids. */
export function referredBy(kinds: Record<string, KindGuide>): ReadonlyMap<string, ReadonlySet<string>> {
	const by = new Map<string, Set<string>>();
	for (const { fields } of Object.values(kinds))
		for (const { reference } of Object.values(fields)) {
			if (reference?.key === undefined) continue;
			for (const kind of reference.kinds) by.set(kind, (by.get(kind) ?? new Set()).add(reference.key));
		}
	return by;
}
