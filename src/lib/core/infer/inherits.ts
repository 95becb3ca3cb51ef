// Which field names the record that another one is made from: those that have it leave out what all others say, and the
// record that they name has it.
import type { Facts } from '../facts';
import type { FieldGuide, InheritsGuide, ReferenceGuide } from '../guide';
import type { Group } from './group';
import { topsAt } from './sketch';
import { atLeast, finding, said } from './sure';

/** Records that are made from others, and fields that they leave out, from which on that says something. */
const FEWEST = { records: 3, left: 6 };
/** Share of the records without the field that have what counts as usual. */
const USUAL = 0.9;
/** Share of what is usual that those with the field leave out at least, and share of it that is found where they point. */
const LEFT_OUT = 0.15;
const FOUND = 0.9;
/** Patterns that are too few to be taken for ids by themselves. */
const MOST_PATTERNS = 16;
/** Records that are gone through on the way up. */
const HIGHEST = 50;

interface Standing {
	facts: Facts;
	nth: number;
	/** The record that it names; -1 for none. */
	from: number;
}

/** The fields of each shape, by the number of the shape. */
const topsIn = ({ pool, shapes }: Facts): ReadonlySet<string>[] => shapes.map((paths) => topsAt(pool, paths));

/** All records of a group, with what they name in a field, and the fields that each has. */
function recordsOf(
	{ files }: Group,
	field: string,
	tops: ReadonlyMap<Facts, ReadonlySet<string>[]>
): { records: Standing[]; has: (one: Standing) => ReadonlySet<string> } {
	const records: Standing[] = [];
	for (const { facts } of files) {
		const path = facts.pool.find(field);
		const places = facts.shapes.map((paths) => paths.indexOf(path));
		for (let nth = 0; nth < facts.count; nth++) {
			const place = places[facts.shape[nth]!] ?? -1;
			const value = place < 0 ? 0 : facts.values[facts.firsts[nth]! + place]!;
			records.push({ facts, nth, from: value > 0 ? value : -1 });
		}
	}
	const none = new Set<string>();
	return { records, has: ({ facts, nth }) => tops.get(facts)![facts.shape[nth]!] ?? none };
}

/** Maps that only records made from others have, whose names are fields of numbers: what is added, and multiplied by. */
function changesIn(
	{ sketch }: Group,
	only: ReadonlySet<string>,
	pool: Facts['pool']
): Pick<InheritsGuide, 'adds' | 'times'> {
	const found: Pick<InheritsGuide, 'adds' | 'times'> = {};
	for (const map of only) {
		const below = [...sketch.columns.values()].filter(({ path }) => path.startsWith(`${map}.`));
		const isNumber = (path: string) => {
			const column = sketch.columns.get(path);
			return column !== undefined && column.values.every((value) => !Number.isNaN(pool.number(value)));
		};
		if (
			below.length === 0 ||
			!below.every(({ path }) => isNumber(path) && isNumber(path.slice(map.length + 1)))
		)
			continue;
		const numbers = below.flatMap(({ values }) => Array.from(values, (value) => pool.number(value)));
		const parts = numbers.filter((number) => !Number.isInteger(number)).length;
		// Factors are mostly broken numbers around one.
		const factor = /times|factor|scale|mult|proport|percent/i.test(map) || parts > numbers.length / 2;
		found[factor ? 'times' : 'adds'] ??= map;
	}
	return found;
}

/** Names that say of a map of lists that items are taken out, where the values do not. */
const TAKES_OUT = /del|remov|drop|minus|without|lose|strip|cut|less/i;
/** Items that must be looked up for their values to say so. */
const FEWEST_ITEMS = 4;

/** The list of which a path or pattern is an item that is a plain value; undefined where it is none. */
const listIn = (path: string): string | undefined => /^([^[\]]+)\[\d*\]$/.exec(path)?.[1];

/** The values of the lists of a record by the paths of these, as numbers of texts. */
function listsOf({ facts, nth }: Standing): Map<string, number[]> {
	const { pool, shapes, shape, firsts, values } = facts;
	const found = new Map<string, number[]>();
	(shapes[shape[nth]!] ?? new Int32Array()).forEach((path, at) => {
		const text = pool.at(path);
		const list = listIn(text);
		if (list === undefined) return;
		const items = found.get(list) ?? [];
		found.set(list, items);
		items.push(values[firsts[nth]! + at]!);
	});
	return found;
}

/**
 * Maps that only records made from others have, whose names are lists of plain values: of what is put behind these, and of
 * what is taken out, told by whether the record that they are made from has it.
 */
function listChangesIn(
	only: ReadonlySet<string>,
	made: readonly Standing[],
	byId: ReadonlyMap<number, Standing>,
	{ columns }: Group['sketch']
): Pick<InheritsGuide, 'appends' | 'drops'> {
	const found: Pick<InheritsGuide, 'appends' | 'drops'> = {};
	const lists = new Set([...columns.keys()].map(listIn));
	for (const map of only) {
		const below = [...columns.keys()].filter((path) => path.startsWith(`${map}.`));
		const isList = (path: string) => lists.has(listIn(path.slice(map.length + 1)) ?? '');
		if (below.length === 0 || !below.every(isList)) continue;
		let [there, looked] = [0, 0];
		for (const one of made)
			for (const [list, items] of listsOf(one)) {
				if (!list.startsWith(`${map}.`)) continue;
				const name = list.slice(map.length + 1);
				let above = byId.get(one.from);
				for (let step = 0; above && step < HIGHEST && !listsOf(above).has(name); step++)
					above = byId.get(above.from);
				const own = above ? (listsOf(above).get(name) ?? []) : [];
				looked += items.length;
				there += items.filter((item) => own.includes(item)).length;
			}
		const told = looked >= FEWEST_ITEMS && Math.abs(there / looked - 0.5) > 0.3;
		const out = told ? there > looked / 2 : TAKES_OUT.test(map);
		found[out ? 'drops' : 'appends'] ??= map;
	}
	return found;
}

function inheritsBy(
	group: Group,
	field: string,
	tops: ReadonlyMap<Facts, ReadonlySet<string>[]>
): InheritsGuide | null {
	const { records, has } = recordsOf(group, field, tops);
	const made = records.filter(({ from }) => from >= 0);
	const others = records.length - made.length;
	if (made.length < FEWEST.records || others < FEWEST.records) return null;
	const counts = new Map<string, number>();
	const only = new Set<string>();
	for (const one of records)
		for (const name of has(one)) {
			if (one.from < 0) counts.set(name, (counts.get(name) ?? 0) + 1);
			else only.add(name);
		}
	const usual = [...counts].flatMap(([name, count]) => (count >= others * USUAL ? [name] : []));
	for (const name of counts.keys()) only.delete(name);
	const byId = new Map<number, Standing>();
	for (const one of records) byId.set(one.facts.ids[one.nth]!, one);
	if (made.filter(({ from }) => byId.has(from)).length < made.length * FOUND) return null;
	let [left, found] = [0, 0];
	for (const one of made)
		for (const name of usual) {
			if (has(one).has(name) || name === group.key || name === group.spare) continue;
			left++;
			let above = byId.get(one.from);
			for (let step = 0; above && step < HIGHEST && !has(above).has(name); step++)
				above = byId.get(above.from);
			if (above && has(above).has(name)) found++;
		}
	if (left < FEWEST.left || left < made.length * usual.length * LEFT_OUT || found < left * FOUND) return null;
	const { pool } = group.files[0]!.facts;
	return {
		from: field,
		...(group.spare === undefined ? {} : { pattern: group.spare }),
		...changesIn(group, only, pool),
		...listChangesIn(only, made, byId, group.sketch),
		found: finding(
			atLeast(found, left),
			`${said(made.length)} records refer to another of their kind in ${field} and leave out ${said(left)} values that the others have; ${said(found)} of these are in that record.`
		)
	};
}

const isOwn = ({ kinds, list, weight, key }: ReferenceGuide, { kind }: Group): boolean =>
	kinds.length === 1 && kinds[0] === kind && !list && !weight && key === undefined;

/** How records of a group inherit from others of it, by the field that names these; null where none does. */
export function inheritsIn(group: Group, fields: Record<string, FieldGuide>): InheritsGuide | null {
	let tops: Map<Facts, ReadonlySet<string>[]> | null = null;
	let ids: Set<number> | null = null;
	for (const [path, { reference, type }] of Object.entries(fields)) {
		if (/[.[*#]/.test(path) || path === group.key || path === group.spare) continue;
		// A few patterns may be all that is named, too few to be taken for ids by themselves.
		if (reference ? !isOwn(reference, group) : type !== 'code' && type !== 'text') continue;
		if (!reference) {
			const column = group.sketch.columns.get(path);
			if (!column || column.records === group.sketch.count) continue;
			if (column.values.length > MOST_PATTERNS) continue;
			ids ??= new Set(group.files.flatMap(({ facts }) => [...facts.ids]));
			if (column.values.some((value) => !ids!.has(value))) continue;
		}
		tops ??= new Map(group.files.map(({ facts }) => [facts, topsIn(facts)]));
		const found = inheritsBy(group, path, tops);
		if (found) return found;
	}
	return null;
}
