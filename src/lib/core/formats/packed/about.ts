// What each byte of a packed file belongs to.
import { plainValue, type Placed, type Section } from './places';
import { knownValues, type PoolValue } from './pools';
import { idOf, rangeOfBits, valueAt, type PackedFile } from './read';

/** Bytes `[from, to)` that belong to one thing. */
export interface Owned {
	from: number;
	to: number;
	/** A field of the head or of a row, a value of a pool, a check sum, what the layout leaves as it is, or nothing. */
	of: 'head' | 'row' | 'pool' | 'sum' | 'filler' | 'nothing';
	/** The table or pool. */
	section?: string;
	/** The row, from 0, and its name. */
	row?: number;
	id?: string;
	path?: string;
	/** What it says. */
	value?: string;
	/** Of a value of a pool: how many addresses point at it. */
	users?: number;
}

interface Values {
	sorted: PoolValue[];
	users: Map<number, number>;
}

const pools = new WeakMap<PackedFile, Map<string, Values>>();

function valuesOf(file: PackedFile, section: Section): Values {
	let all = pools.get(file);
	if (!all) pools.set(file, (all = new Map()));
	let known = all.get(section.name);
	if (!known) {
		const users = new Map<number, number>();
		for (const { target, address } of file.pointers)
			if (target === section) users.set(address, (users.get(address) ?? 0) + 1);
		const found = [...knownValues(file.bytes, section, file.places, file.pointers).values()];
		known = { sorted: found.sort((a, b) => a.from - b.from || b.to - a.to), users };
		all.set(section.name, known);
	}
	return known;
}

const shown = (file: PackedFile, start: number, place: Placed): string => {
	if (!place.field.bits) return String(valueAt(file, start, place) ?? '');
	const whole = Number(plainValue(file.bytes, start, place));
	return Object.entries(place.field.bits)
		.map(([name, range]) => {
			const [low, high] = rangeOfBits(range);
			return `${name} ${Math.floor(whole / 2 ** low) % 2 ** (high - low + 1)}`;
		})
		.join(', ');
};

/** The fields of one row or of the head, each with its bytes. */
function* inFields(
	file: PackedFile,
	fields: readonly Placed[],
	start: number,
	about: Omit<Owned, 'from' | 'to'>
): Generator<Owned> {
	for (const place of fields) {
		const from = start + place.at;
		const to = from + place.size;
		if (to > file.bytes.length) continue;
		if (place.path === null) yield { ...about, from, to, of: 'filler' };
		else yield { ...about, from, to, path: place.path, value: shown(file, start, place) };
	}
}

function* inSection(file: PackedFile, section: Section, from: number, to: number): Generator<Owned> {
	const { name: own, length, rows, fields } = section;
	if (section.table) {
		const first = Math.max(0, Math.floor((from - section.from) / length));
		const last = Math.min(rows - 1, Math.floor((to - 1 - section.from) / length));
		for (let row = first; row <= last; row++)
			yield* inFields(file, fields, section.from + row * length, {
				of: 'row',
				section: own,
				row,
				id: idOf(file, section, row)
			});
		return;
	}
	const { sorted, users } = valuesOf(file, section);
	for (const value of sorted)
		if (value.to > from && value.from < to)
			yield {
				from: value.from,
				to: value.to,
				of: 'pool',
				section: own,
				value: String(value.value),
				users: users.get(value.from) ?? 0
			};
}

/** What the bytes of a window belong to, in their order, without gaps; of what overlaps, the first. */
export function ownersIn(file: PackedFile, from: number, to: number): Owned[] {
	const { places, bytes } = file;
	const end = Math.min(to, bytes.length);
	const sums = places.sums.map(({ sum, at, width }): Owned => ({
		from: at,
		to: at + width,
		of: 'sum',
		value: sum.as
	}));
	const isSum = ({ from: at }: Owned) => sums.some((sum) => sum.from === at);
	const found = [
		...sums,
		...[...inFields(file, places.head, 0, { of: 'head' })].filter((one) => !isSum(one)),
		...places.sections.flatMap((section) =>
			section.to > from && section.from < end ? [...inSection(file, section, from, end)] : []
		)
	].sort((a, b) => a.from - b.from || a.to - b.to);
	const owners: Owned[] = [];
	let at = from;
	for (const one of found) {
		if (one.to <= at || one.from >= end) continue;
		if (one.from > at) owners.push({ from: at, to: one.from, of: 'nothing' });
		owners.push({ ...one, from: Math.max(one.from, at), to: Math.min(one.to, end) });
		at = Math.min(one.to, end);
	}
	if (at < end) owners.push({ from: at, to: end, of: 'nothing' });
	return owners;
}
