// Facts of some of a file's records, or under another key, as if the file had been read so.
import { VALUE } from '../formats';
import { bytesFor, numbersFor } from '../gather';
import { copyFacts, type Facts } from './facts';
import { firstOf, placeIn } from './read';

const NONE = new Int32Array();

/** Pairs of a record and an earlier one of the same id. */
export function doublesIn(ids: Int32Array): Int32Array {
	const seen = new Map<number, number>();
	const doubles: number[] = [];
	for (let nth = 0; nth < ids.length; nth++) {
		const first = seen.get(ids[nth]!);
		if (first === undefined) seen.set(ids[nth]!, nth);
		else doubles.push(nth, first);
	}
	return doubles.length === 0 ? NONE : Int32Array.from(doubles);
}

/** The facts of the records with some numbers, ascending. Commentary is left out. */
export function selectFacts(facts: Facts, rows: Int32Array): Facts {
	const isAll = rows.length === facts.count;
	const chosen = isAll ? copyFacts(facts, facts.pool) : takenFrom(facts, rows);
	chosen.remarks = NONE;
	chosen.fieldRemarks = NONE;
	if (!isAll) chosen.doubles = doublesIn(chosen.ids);
	return chosen;
}

/** Groups of `step` numbers, sorted by the first, which is a record: those of some records, under their numbers there. */
function rowsOf(list: Int32Array, step: number, rows: Int32Array): Int32Array {
	if (list.length === 0) return NONE;
	const found: number[] = [];
	rows.forEach((nth, to) => {
		for (let at = firstOf(list, step, nth); list[at] === nth; at += step) {
			found.push(to);
			for (let next = 1; next < step; next++) found.push(list[at + next]!);
		}
	});
	return found.length === 0 ? NONE : Int32Array.from(found);
}

/** The facts of the records with some numbers, in any order, with their commentary; which ids come twice is left out. */
export function chosenFacts(facts: Facts, rows: Int32Array): Facts {
	const chosen = takenFrom(facts, rows);
	chosen.remarks = rowsOf(facts.remarks, 2, rows);
	chosen.fieldRemarks = rowsOf(facts.fieldRemarks, 3, rows);
	chosen.doubles = NONE;
	return chosen;
}

/** The facts of some records, but for what says of all of the file which records it is about. */
function takenFrom(facts: Facts, rows: Int32Array): Facts {
	const { firsts, values: theirValues, types: theirTypes, ids: theirIds } = facts;
	const { lines: theirLines, written: theirWritten, shape: theirShape } = facts;
	const count = rows.length;
	let size = 0;
	for (let to = 0; to < count; to++) size += firsts[rows[to]! + 1]! - firsts[rows[to]!]!;
	const [values, types] = [numbersFor(size), bytesFor(size)];
	const begins = numbersFor(count + 1);
	const [ids, lines, shape] = [numbersFor(count), numbersFor(count), numbersFor(count)];
	const written = bytesFor(count);
	const used = new Map<number, number>();
	// Most records are small: cell by cell is sooner done than a view of each.
	for (let to = 0, at = 0; to < count; to++) {
		const nth = rows[to]!;
		const end = firsts[nth + 1]!;
		for (let from = firsts[nth]!; from < end; from++, at++) {
			values[at] = theirValues[from]!;
			types[at] = theirTypes[from]!;
		}
		begins[to + 1] = at;
		ids[to] = theirIds[nth]!;
		lines[to] = theirLines[nth]!;
		written[to] = theirWritten[nth]!;
		const known = used.get(theirShape[nth]!);
		shape[to] = known ?? used.size;
		if (known === undefined) used.set(theirShape[nth]!, used.size);
	}
	const chosen = copyFacts(facts, facts.pool);
	chosen.count = count;
	chosen.ids = ids;
	chosen.written = written;
	chosen.lines = lines;
	chosen.shapes = [...used.keys()].map((nth) => facts.shapes[nth] ?? NONE);
	chosen.shape = shape;
	chosen.firsts = begins;
	chosen.values = values;
	chosen.types = types;
	return chosen;
}

/** All records of a file as one, each under the name that it has there: what was taken for records are its parts. */
export function asOne(facts: Facts): Facts {
	const { pool, count, firsts, shapes, shape } = facts;
	const paths: number[] = [];
	const [times, seen] = [new Map<number, number>(), new Map<number, number>()];
	for (const id of facts.ids) times.set(id, (times.get(id) ?? 0) + 1);
	for (let nth = 0; nth < count; nth++) {
		const id = facts.ids[nth]!;
		const place = seen.get(id) ?? 0;
		seen.set(id, place + 1);
		const name = pool.at(id) + (times.get(id)! > 1 ? `[${place}]` : '');
		for (const path of shapes[shape[nth]!] ?? []) {
			const own = pool.at(path);
			paths.push(pool.of(own.startsWith('[') ? name + own : `${name}.${own}`));
		}
	}
	return Object.assign(copyFacts(facts, pool), {
		key: null,
		at: null,
		count: 1,
		ids: Int32Array.of(pool.of('#1')),
		written: Uint8Array.of(0),
		lines: Int32Array.of(1),
		shapes: [Int32Array.from(paths)],
		shape: Int32Array.of(0),
		firsts: Int32Array.of(firsts[0]!, firsts[count]!),
		remarks: NONE,
		fieldRemarks: NONE,
		doubles: NONE
	});
}

/** The values of a file's only record, each as a record under what follows a map in its path, with the value as its field. */
export function asValues(facts: Facts, map: string): Facts {
	const { pool } = facts;
	const paths = facts.shapes[facts.shape[0]!] ?? new Int32Array();
	const inside = `${map}.`;
	const ids = paths.map((path) => {
		const name = pool.at(path);
		return name.startsWith(inside) ? pool.of(name.slice(inside.length)) : path;
	});
	return Object.assign(copyFacts(facts, pool), {
		key: null,
		at: map,
		count: ids.length,
		ids,
		written: new Uint8Array(ids.length).fill(1),
		lines: ids.map(() => facts.lines[0]!),
		shapes: [Int32Array.of(pool.of(VALUE))],
		shape: new Int32Array(ids.length),
		firsts: Int32Array.from({ length: ids.length + 1 }, (_, nth) => nth),
		remarks: NONE,
		fieldRemarks: NONE,
		doubles: NONE
	});
}

/** The same facts with the values of several fields together as ids, none of them written. */
export function underParts(facts: Facts, parts: readonly string[]): Facts {
	const { pool, count, firsts, values, shape } = facts;
	const at = parts.map((field) => {
		const path = pool.find(field);
		return facts.shapes.map((paths) => placeIn(paths, path));
	});
	const seen = new Map<string, number>();
	const ids = Int32Array.from({ length: count }, (_, nth) => {
		if (parts.length === 0) return pool.of(`#${nth + 1}`);
		const own = at.map((places) => {
			const place = places[shape[nth]!];
			return place === undefined ? '' : pool.at(values[firsts[nth]! + place]!);
		});
		const name = own.join('/');
		const times = (seen.get(name) ?? 0) + 1;
		seen.set(name, times);
		return pool.of(times === 1 ? name : `${name}#${times}`);
	});
	const named = copyFacts(facts, pool);
	named.key = null;
	named.keyParts = parts;
	named.ids = ids;
	named.written = new Uint8Array(count);
	named.doubles = NONE;
	return named;
}

/**
 * The same facts with the values of a field as ids; records without one keep what they were called.
 * @param spare the field that names records without the first
 */
export function underKey(facts: Facts, key: string, spare?: string): Facts {
	if (facts.key === key && spare === undefined) return facts;
	const placesOfField = (field: string) => {
		const path = facts.pool.find(field);
		return facts.shapes.map((paths) => placeIn(paths, path));
	};
	const [own, other] = [placesOfField(key), spare === undefined ? [] : placesOfField(spare)];
	const ids = facts.ids.slice();
	const written = facts.written.slice();
	for (let nth = 0; nth < facts.count; nth++) {
		const place = own[facts.shape[nth]!] ?? other[facts.shape[nth]!];
		const value = place === undefined ? 0 : facts.values[facts.firsts[nth]! + place]!;
		if (value === 0) continue;
		ids[nth] = value;
		written[nth] = 1;
	}
	const named = copyFacts(facts, facts.pool);
	named.key = key;
	named.ids = ids;
	named.written = written;
	named.doubles = doublesIn(ids);
	return named;
}
