// Records of later layers that say only some fields, made whole from the layers below: then all else can take them as records.
import { copyFacts, type Facts, type Pool } from '../facts';
import type { KindGuide } from '../guide';
import { cellsOver, unitOf, type Cell, type ItemDone } from './join';
import { numberOf } from './changed';
import { sameRecord, type TableFile } from './table';

/** Where a value of a composed record was said: the file, its record, and the cell in it. */
export interface Origin {
	from: TableFile;
	nth: number;
	/** The path there: items of joined lists have other numbers in their own file. */
	path: string;
}

/** An item of a joined list that changes nothing. */
export interface Idle {
	/** Number of the record. */
	nth: number;
	/** The list, and the number of the item in it (from 0) as the file has it. */
	list: string;
	item: number;
	/** It is there already and the first counts, or there is nothing for it to take out. */
	why: 'second' | 'nothing there';
	/** What it names: of one that takes out, the mark left off. */
	name: string;
	/** What the list below has, by the same names. */
	below: readonly string[];
}

/** What a file itself says, where its records are made whole from those below. */
export interface Composed {
	own: Facts;
	/** Where a value of a record that was made whole was said, by its place in the record's shape. */
	originAt(nth: number, place: number): Origin;
	/** What a patch changed a value from, where it is the patch that says it. */
	wasAt?(nth: number, place: number): { from: TableFile; value: number } | null;
	/** What a patch changed in a record: paths and values, as numbers of texts; -1 for what it removed. */
	changes?: ((nth: number) => [path: number, value: number][]) | undefined;
	idle: readonly Idle[];
}

/** The last record of an id in files that are below. */
interface Below {
	from: TableFile;
	nth: number;
}

const shapeOf = ({ from, nth }: Below): Int32Array | undefined => from.facts.shapes[from.facts.shape[nth]!];

function cellsIn(one: Below): Cell<Origin>[] {
	const { from, nth } = one;
	const { facts, composed } = from;
	const first = facts.firsts[nth]!;
	return Array.from(shapeOf(one) ?? [], (text, place) => {
		const path = facts.pool.at(text);
		return {
			path,
			value: facts.values[first + place]!,
			type: facts.types[first + place]!,
			origin: composed?.originAt(nth, place) ?? { from, nth, path }
		};
	});
}

/** How records of one shape come over those of another: for each value of the result its place in the later record, or -1 less its place below. */
interface Mixture {
	shape: Int32Array;
	places: Int32Array;
}

type Joins = NonNullable<KindGuide['joins']>;

/** Which lists are joined depends on what they say, all else on the paths alone: that is worked out once for each pair of shapes. */
function mixer(pool: Pool, joins: Joins) {
	const none = new Int32Array(0);
	const known = new Map<Int32Array, Map<Int32Array, Mixture | null>>();
	const cells = (shape: Int32Array, own: boolean): Cell<number>[] =>
		Array.from(shape, (text, place) => ({
			path: pool.at(text),
			value: 0,
			type: 0,
			origin: own ? place : -1 - place
		}));
	return (below: Int32Array = none, own: Int32Array = none): Mixture | null => {
		let byOwn = known.get(below);
		if (!byOwn) known.set(below, (byOwn = new Map()));
		let mixed = byOwn.get(own);
		if (mixed === undefined) {
			const later = cells(own, true);
			if (below.length > 0 && later.some(({ path }) => joins[unitOf(path)])) mixed = null;
			else {
				const list = cellsOver(cells(below, false), later, NO_JOINS, pool);
				mixed = {
					shape: Int32Array.from(list, ({ path }) => pool.find(path)),
					places: Int32Array.from(list, ({ origin }) => origin)
				};
			}
			byOwn.set(own, mixed);
		}
		return mixed;
	};
}

/** What `kindOfScalar` says of nothing. */
const NOTHING = 3;

/** The file that a patch made this one of; undefined where no patch made it. */
const patchedFrom = (file: TableFile, files: readonly TableFile[]): TableFile | undefined =>
	file.file.patched &&
	files.find(
		(one) => one.file === file.file.patched!.over && one.spec === file.spec && one.language === file.language
	);

/** The place of a value of a record that has the same path; -1 where there is none. */
const placeIn = ({ shapes, shape }: Facts, nth: number, path: number): number =>
	shapes[shape[nth]!]?.indexOf(path) ?? -1;

/** Where the values of a file that a patch made were said: what it left as it was, where it was said before. */
function attributed(file: TableFile, under: TableFile): TableFile {
	const { facts } = file;
	const made: TableFile = { ...file };
	const before = (nth: number, place: number) => {
		const path = facts.shapes[facts.shape[nth]!]![place]!;
		const then = numberOf(under.facts, facts.ids[nth]!);
		const at = then === undefined ? -1 : placeIn(under.facts, then, path);
		if (then === undefined || at < 0) return null;
		const value = under.facts.values[under.facts.firsts[then]! + at]!;
		return { path, then, at, value, same: value === facts.values[facts.firsts[nth]! + place] };
	};
	made.composed = {
		own: facts,
		idle: [],
		originAt(nth, place) {
			const known = before(nth, place);
			const path = facts.pool.at(facts.shapes[facts.shape[nth]!]![place]!);
			if (!known?.same) return { from: made, nth, path };
			return under.composed?.originAt(known.then, known.at) ?? { from: under, nth: known.then, path };
		},
		wasAt(nth, place) {
			const known = before(nth, place);
			return known && !known.same ? { from: under, value: known.value } : null;
		},
		changes(nth) {
			const shape = facts.shapes[facts.shape[nth]!]!;
			const then = numberOf(under.facts, facts.ids[nth]!);
			const before = then === undefined ? undefined : under.facts.shapes[under.facts.shape[then]!]!;
			const [first, was] = [facts.firsts[nth]!, then === undefined ? 0 : under.facts.firsts[then]!];
			const changed = Array.from(shape, (path, place): [number, number] => [
				path,
				facts.values[first + place]!
			]);
			return [
				...changed.filter(([path, value]) => {
					const at = before?.indexOf(path) ?? -1;
					return at < 0 || under.facts.values[was + at] !== value;
				}),
				...Array.from(before ?? [])
					.filter((path) => !shape.includes(path))
					.map((path): [number, number] => [path, -1])
			];
		}
	};
	return made;
}

/**
 * Files that patches made of others: each of their values is known by who said it, and where layers replace single
 * records or fields, records that a patch left alone do not count again, and those that it removed are gone.
 * @param counting in load order
 * @param all also the files that others stand in for
 */
export function attributePatched(
	merge: KindGuide['merge'],
	counting: readonly TableFile[],
	all: readonly TableFile[]
): TableFile[] {
	if (!all.some(({ file }) => file.patched)) return [...counting];
	const files = [...counting];
	const known = new Map<TableFile, TableFile>();
	for (const one of all) {
		const from = patchedFrom(one, all);
		if (!from) continue;
		const made = attributed(one, known.get(from) ?? from);
		known.set(one, made);
		const at = files.indexOf(one);
		if (at < 0) continue;
		files[at] = made;
		if (merge === 'file') continue;
		const [now, then] = [one.facts, from.facts];
		const same = Array.from(now.ids.keys()).filter((nth) => {
			const was = numberOf(then, now.ids[nth]!);
			return was !== undefined && sameRecord(now, nth, then, was);
		});
		files[at] = withGone(made, same);
		const removed = Array.from(then.ids).filter((id) => numberOf(now, id) === undefined);
		for (let under: TableFile | undefined = from; under; under = patchedFrom(under, all)) {
			const { facts } = under;
			const below = files.findIndex((other) => other.facts === facts);
			const gone = removed.flatMap((id) => numberOf(facts, id) ?? []);
			if (below >= 0) files[below] = withGone(files[below]!, gone);
		}
	}
	return files;
}

/** A file without some of its records. */
export const withGone = (file: TableFile, gone: Iterable<number>): TableFile => {
	const all = new Set([...(file.gone ?? []), ...gone]);
	return all.size === (file.gone?.length ?? 0) ? file : { ...file, gone: [...all].sort((a, b) => a - b) };
};

/** Of a record that a patch changed: what it says now, and the fields and lists that it removed. */
function patchedCells(
	own: Cell<Origin>[],
	file: TableFile,
	nth: number,
	under: TableFile
): { own: Cell<Origin>[]; removed: Set<string> } {
	const then = numberOf(under.facts, file.facts.ids[nth]!);
	if (then === undefined) return { own, removed: new Set() };
	const said = (cells: readonly Cell<Origin>[]) => {
		const units = new Map<string, string>();
		for (const { path, value } of cells)
			units.set(unitOf(path), `${units.get(unitOf(path)) ?? ''}|${path}=${value}`);
		return units;
	};
	const [before, now] = [said(cellsIn({ from: { ...under, composed: undefined }, nth: then })), said(own)];
	return {
		own: own.filter(({ path }) => before.get(unitOf(path)) !== now.get(unitOf(path))),
		removed: new Set([...before.keys()].filter((unit) => !now.has(unit)))
	};
}

/** The facts of a file with every record made whole from the one of its id below. */
function composedFile(
	file: TableFile,
	{ joins = NO_JOINS, nulls }: KindGuide,
	below: (id: number) => Below | undefined,
	patched: TableFile | undefined
): TableFile {
	const { facts: own } = file;
	const removing = nulls === 'removes' ? (type: number) => type === NOTHING : () => false;
	const removes = (nth: number) => own.types.subarray(own.firsts[nth], own.firsts[nth + 1]).some(removing);
	const { pool } = own;
	const made: TableFile = { ...file };
	const mix = mixer(pool, joins);
	const facts = copyFacts(own, pool);
	facts.shapes = [];
	facts.shape = new Int32Array(own.count);
	facts.firsts = new Int32Array(own.count + 1);
	facts.fieldRemarks = new Int32Array(0);
	const numbers = new Map<Int32Array, number>();
	const [values, types]: [number[], number[]] = [[], []];
	const idle: Idle[] = [];
	const unders: (Below | undefined)[] = [];
	const mixtures: (Mixture | null)[] = [];
	/** Of records with joined lists. */
	const joined = new Map<number, Origin[]>();
	const hear = (nth: number) => (list: string, effects: readonly ItemDone[], there: readonly string[]) =>
		effects.forEach(({ effect, name }, item) => {
			if (effect === 'ignored') idle.push({ nth, list, item, why: 'second', name, below: there });
			if (effect === 'nothing') idle.push({ nth, list, item, why: 'nothing there', name, below: there });
		});
	for (let nth = 0; nth < own.count; nth++) {
		const under = below(own.ids[nth]!);
		const mixed = patched || removes(nth) ? null : mix(under && shapeOf(under), shapeOf({ from: file, nth }));
		unders.push(under);
		mixtures.push(mixed);
		facts.firsts[nth] = values.length;
		let shape: Int32Array;
		if (mixed) {
			shape = mixed.shape;
			const [first, base] = [own.firsts[nth]!, under ? under.from.facts.firsts[under.nth]! : 0];
			for (const place of mixed.places) {
				const from = place >= 0 ? own : under!.from.facts;
				const at = place >= 0 ? first + place : base - 1 - place;
				values.push(from.values[at]!);
				types.push(from.types[at]!);
			}
		} else {
			const said = cellsIn({ from: { ...file, composed: undefined }, nth }).map((cell) => ({
				...cell,
				origin: { ...cell.origin, from: file }
			}));
			const done = patched && patchedCells(said, file, nth, patched);
			const held = under ? cellsIn(under) : [];
			const cells = cellsOver(
				done ? held.filter(({ path }) => !done.removed.has(unitOf(path))) : held,
				done?.own ?? said,
				// What a patch makes of a list is all of it.
				under && !done ? joins : NO_JOINS,
				pool,
				({ type }) => removing(type),
				hear(nth)
			);
			shape = pool.shape(Int32Array.from(cells, ({ path }) => pool.of(path)));
			for (const { value, type } of cells) {
				values.push(value);
				types.push(type);
			}
			joined.set(
				nth,
				cells.map(({ origin }) => (origin.from === file ? { ...origin, from: made } : origin))
			);
		}
		let number = numbers.get(shape);
		if (number === undefined) {
			numbers.set(shape, (number = facts.shapes.length));
			facts.shapes.push(shape);
		}
		facts.shape[nth] = number;
	}
	facts.firsts[own.count] = values.length;
	facts.values = Int32Array.from(values);
	facts.types = Uint8Array.from(types);
	const originAt = (nth: number, place: number): Origin => {
		const known = joined.get(nth)?.[place];
		if (known) return known;
		const at = mixtures[nth]!.places[place]!;
		const path = pool.at(mixtures[nth]!.shape[place]!);
		if (at >= 0) return { from: made, nth, path };
		const under = unders[nth]!;
		return under.from.composed?.originAt(under.nth, -1 - at) ?? { ...under, path };
	};
	const composed: Composed = { own, originAt, idle, changes: file.composed?.changes };
	Object.assign(made, { facts, composed });
	facts.fieldRemarks = remarksOf(own, facts, composed);
	return made;
}

/** The remarks on fields, at their new places. */
function remarksOf(own: Facts, facts: Facts, { originAt }: Composed): Int32Array {
	const found: number[] = [];
	for (let at = 0; at < own.fieldRemarks.length; at += 3) {
		const [nth, place, text] = own.fieldRemarks.subarray(at, at + 3) as unknown as [number, number, number];
		const path = own.pool.at(own.shapes[own.shape[nth]!]![place]!);
		const shape = facts.shapes[facts.shape[nth]!]!;
		for (let now = 0; now < shape.length; now++) {
			const origin = originAt(nth, now);
			if (origin.from.composed?.own === own && origin.nth === nth && origin.path === path)
				found.push(nth, now, text);
		}
	}
	return Int32Array.from(found);
}

const NO_JOINS = {};

/** What was made of a file the last time, and of which files below it. */
const known = new WeakMap<
	Facts,
	{ guide: KindGuide; file: TableFile; below: readonly TableFile[]; made: TableFile }
>();

const isSame = (a: TableFile, b: TableFile): boolean =>
	a.facts === b.facts &&
	a.layer === b.layer &&
	a.file === b.file &&
	String(a.gone ?? '') === String(b.gone ?? '');

/**
 * The files of a kind of which later layers replace single fields, with whole records. What was made before is taken
 * where the file and those below it are the same.
 * @param files in load order
 */
export function composeFiles(guide: KindGuide, files: readonly TableFile[]): TableFile[] {
	const below: TableFile[] = [];
	/** Where the last record of an id is, for the files below that were gone through. */
	const last = new Map<number, Below>();
	let read = 0;
	const find = (id: number): Below | undefined => {
		for (; read < below.length; read++) {
			const from = below[read]!;
			const gone = new Set(from.gone);
			from.facts.ids.forEach((one, nth) => {
				if (!gone.has(nth)) last.set(one, { from, nth });
			});
		}
		return last.get(id);
	};
	return files.map((file) => {
		const before = known.get(file.facts);
		const same =
			before?.guide === guide &&
			isSame(before.file, file) &&
			before.below.length === below.length &&
			before.below.every((one, nth) => isSame(one, below[nth]!));
		const over = same
			? before.made
			: file.layer === files[0]!.layer || file.facts.count === 0
				? file
				: composedFile(file, guide, find, patchedFrom(file, files));
		if (!same && over !== file) known.set(file.facts, { guide, file, below: [...below], made: over });
		below.push(over);
		return over;
	});
}
