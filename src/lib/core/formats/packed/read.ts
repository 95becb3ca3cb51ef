// A packed table as a document: each row is a record, and each of its values knows its bytes.
import {
	MOST_PROBLEMS,
	type Document,
	type FieldNode,
	type PartHints,
	type Problem,
	type ReadHints,
	type RecordNode,
	type Scalar
} from '../document';
import { bitsIn, hexOf } from './numbers';
import { placesOf, plainValue, type Placed, type Places, type Section } from './places';
import { addressIn, pointersIn, poolValue, rowAt, type Pointer } from './pools';
import { packedLayout, type PackedLayout } from './schema';

/** A file of bytes with all that its layout tells, shared by the documents of its tables. */
export interface PackedFile {
	bytes: Uint8Array;
	places: Places;
	/** Made when it is first asked for. */
	readonly pointers: readonly Pointer[];
	readonly problems: readonly Problem[];
	section(name: string): Section | undefined;
}

/** A table of a packed file. */
export interface PackedDocument extends Document<Uint8Array> {
	packed: PackedFile;
	/** Null where its one record is the head. */
	section: Section | null;
}

export const isPacked = (doc: Document): doc is PackedDocument => doc.format === 'packed';

/** The name under which the head is read as a record. */
export const HEAD = 'head';

/** Rows of single bytes: what a file is without a layout. */
export const PLAIN: PackedLayout = packedLayout.parse({
	shape: 'packed',
	tables: [{ name: 'rows', fields: [{ name: 'bytes', as: 'bytes', length: 16 }] }]
});

const layoutOf = ({ layout }: ReadHints): PackedLayout => (layout?.shape === 'packed' ? layout : PLAIN);

const files = new WeakMap<Uint8Array, PackedFile>();

/** A file by its layout; made once for the same bytes and layout. */
export function packedFile(bytes: Uint8Array, layout: PackedLayout): PackedFile {
	const known = files.get(bytes);
	if (known?.places.layout === layout) return known;
	const places = placesOf(bytes, layout);
	let pointers: readonly Pointer[] | null = null;
	let problems: readonly Problem[] | null = null;
	const file: PackedFile = {
		bytes,
		places,
		get pointers() {
			return (pointers ??= [...pointersIn(bytes, places)]);
		},
		get problems() {
			return (problems ??= problemsOf(file));
		},
		section: (name) => places.sections.find((section) => section.name === name)
	};
	files.set(bytes, file);
	return file;
}

/** What a field is at a place: the value itself, or what its address points at; null where that is nothing. */
export function valueAt(file: PackedFile, start: number, place: Placed): Scalar {
	const { bytes, places } = file;
	const { to } = place.field;
	const target = to === undefined ? undefined : file.section(to);
	if (!target) return plainValue(bytes, start, place);
	const address = addressIn(bytes, start, place, target);
	if (address === null) return null;
	if (target.pool) return poolValue(bytes, target, places, address)?.value ?? null;
	const row = rowAt(target, address);
	return row === null ? null : idOf(file, target, row);
}

/** The name of a row of a table by the layout. */
export function idOf(
	file: PackedFile,
	section: Section,
	row: number,
	key = section.table!.key,
	prefix = ''
): string {
	const place = key === undefined ? undefined : section.fields.find(({ path }) => path === key);
	const value = place && valueAt(file, section.from + row * section.length, place);
	return value === undefined || value === null || value === '' ? `${prefix}#${row + 1}` : String(value);
}

/** A name within a field: one of its bits. */
const bitPath = (path: string, bit: string) => `${path}.${bit}`;

export const rangeOfBits = (range: number | [number, number]): [number, number] =>
	typeof range === 'number' ? [range, range] : range;

/** The values of a field: one, or one for each name of its bits; a single bit is true or false. */
function* valuesOf(file: PackedFile, start: number, place: Placed): Generator<FieldNode> {
	const { path, at, size, field } = place;
	if (path === null) return;
	const span = { from: start + at, to: start + at + size };
	if (!field.bits) {
		yield { path, value: valueAt(file, start, place), ...span };
		return;
	}
	const whole = plainValue(file.bytes, start, place);
	for (const [bit, range] of Object.entries(field.bits)) {
		const [low, high] = rangeOfBits(range);
		const value = bitsIn(whole, [low, high]);
		yield { path: bitPath(path, bit), value: low === high ? value === 1 : value, ...span };
	}
}

/** A value by its path: its place, and which of its bits. */
export function placeIn(
	fields: readonly Placed[],
	path: string
): { place: Placed; bit?: [number, number] } | null {
	const whole = fields.find((place) => place.path === path && !place.field.bits);
	if (whole) return { place: whole };
	for (const place of fields)
		if (place.path !== null && place.field.bits && path.startsWith(`${place.path}.`)) {
			const range = place.field.bits[path.slice(place.path.length + 1)];
			if (range !== undefined) return { place, bit: rangeOfBits(range) };
		}
	return null;
}

class Row implements RecordNode {
	constructor(
		readonly home: PackedDocument,
		readonly id: string,
		readonly idSpan: { from: number; to: number } | null,
		readonly from: number,
		readonly to: number,
		readonly line: number,
		readonly node: number
	) {}

	get fields(): FieldNode[] {
		const { packed } = this.home;
		return fieldsOf(this.home).flatMap((place) =>
			this.from + place.at + place.size > packed.bytes.length ? [] : [...valuesOf(packed, this.from, place)]
		);
	}

	valueAt(path: string): Scalar | undefined {
		const found = placeIn(fieldsOf(this.home), path);
		if (!found) return undefined;
		const values = valuesOf(this.home.packed, this.from, found.place);
		for (const field of values) if (field.path === path) return field.value;
		return undefined;
	}

	within(part: Document, nth: number): RecordNode {
		const home = part as PackedDocument;
		return rowOf(home, this.node, home.section ? (home.hints.prefix ?? '') + `#${nth}` : undefined);
	}
}

/** The fields of a document's records. */
export const fieldsOf = ({ packed, section }: PackedDocument): readonly Placed[] =>
	section ? section.fields : packed.places.head;

function rowOf(doc: PackedDocument, row: number, otherwise?: string): RecordNode {
	const { section, packed, key } = doc;
	if (!section) return new Row(doc, doc.hints.id ?? HEAD, null, 0, packed.places.headSize, 1, 0);
	const from = section.from + row * section.length;
	const place = section.fields.find(({ path }) => path === key);
	const value = place && valueAt(packed, from, place);
	const isNamed = value !== undefined && value !== null && value !== '';
	const span = isNamed ? { from: from + place!.at, to: from + place!.at + place!.size } : null;
	const id = isNamed ? String(value) : (otherwise ?? `${doc.hints.prefix ?? ''}#${row + 1}`);
	return new Row(doc, id, span, from, from + section.length, row + 1, row);
}

/** Bytes that are quoted with a problem. */
const QUOTED = 16;

/** What in the rows does not fit: constants that are others, and addresses at which nothing is. */
function* rowMisfits(
	file: PackedFile,
	section: Section
): Generator<{ row: number; at: number; message: string }> {
	const { bytes, places } = file;
	const fixed = section.fields.filter(({ field }) => field.is !== undefined);
	const pointing = section.fields.filter(({ field }) => field.to !== undefined);
	if (fixed.length + pointing.length === 0) return;
	for (let row = 0; row < section.rows; row++) {
		const start = section.from + row * section.length;
		for (const place of fixed) {
			const value = plainValue(bytes, start, place);
			if (String(value) !== String(place.field.is))
				yield {
					row,
					at: place.at,
					message: `“${place.path ?? place.at}” should be ${place.field.is}; it is ${value}.`
				};
		}
		for (const place of pointing) {
			const target = file.section(place.field.to!)!;
			const address = addressIn(bytes, start, place, target);
			if (address === null) continue;
			const found = target.pool ? poolValue(bytes, target, places, address) : rowAt(target, address);
			if (found === null)
				yield {
					row,
					at: place.at,
					message: `“${place.path}” points at byte ${address}, where “${target.name}” has no value.`
				};
		}
	}
}

/** What does not fit in a file: of its parts, and of the rows of all tables, each with its row. */
function problemsOf(file: PackedFile): Problem[] {
	const { bytes, places } = file;
	const quoted = (from: number) => hexOf(bytes.subarray(from, from + QUOTED));
	const problems: Problem[] = places.misfits.slice(0, MOST_PROBLEMS).map(({ at, message }) => ({
		line: 1,
		column: Math.min(at, bytes.length) + 1,
		message,
		excerpt: quoted(at)
	}));
	const tables = places.sections.filter(({ table }) => table);
	for (const section of tables)
		for (const { row, at, message } of rowMisfits(file, section)) {
			const about = { line: row + 1, column: at + 1 };
			if (problems.length >= MOST_PROBLEMS)
				return [...problems, { ...about, message: 'More of these follow.', excerpt: '' }];
			const where = tables.length > 1 ? `Row ${row + 1} of “${section.name}”: ` : '';
			problems.push({
				...about,
				message: where + message,
				excerpt: quoted(section.from + row * section.length)
			});
		}
	return problems;
}

/** Where the rows begin, as lines do in a text: the n-th line is the n-th row. */
function rowStarts(section: Section | null): Int32Array {
	const starts = new Int32Array(Math.max(1, section?.rows ?? 1));
	for (let row = 1; row < starts.length; row++) starts[row] = section!.from + row * section!.length;
	return starts;
}

/** A file read by its layout: the table that is asked for by its name, else the first. */
export function readPacked(bytes: Uint8Array, hints: ReadHints): PackedDocument {
	const file = packedFile(bytes, layoutOf(hints));
	const { layout, sections } = file.places;
	const name = hints.at || layout.tables[0]!.name;
	const section = sections.find((one) => one.name === name && one.table !== undefined) ?? null;
	const key = hints.key ?? section?.table!.key ?? null;
	const doc: PackedDocument = {
		format: 'packed',
		content: bytes,
		lines: rowStarts(section),
		records: [],
		problems: [...file.problems],
		columns: [],
		key: section && section.fields.some(({ path }) => path === key) ? key : null,
		at: name,
		named: false,
		hints,
		packed: file,
		section
	};
	doc.columns = fieldsOf(doc).flatMap(({ path, field }) => {
		if (path === null) return [];
		return field.bits ? Object.keys(field.bits).map((bit) => bitPath(path, bit)) : [path];
	});
	if (section) doc.records = Array.from({ length: section.rows }, (_, row) => rowOf(doc, row));
	else if (name === HEAD) doc.records = [rowOf(doc, 0)];
	else doc.problems.push({ line: 1, column: 1, message: `The layout has no table “${name}”.`, excerpt: '' });
	return doc;
}

/** Its tables, where there are several. */
export const tablesIn = ({ packed }: PackedDocument): PartHints[] => {
	const { tables } = packed.places.layout;
	return tables.length < 2 ? [] : tables.map(({ name }) => ({ at: name }));
};
