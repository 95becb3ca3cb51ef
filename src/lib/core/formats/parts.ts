// One file, several kinds: its records sorted into parts, each a document of its own over the same content.
import { addTo } from '../gather';
import type { Content } from '../change';
import type { Document, DocumentPart, Format, PartHints, ReadHints, RecordNode } from './document';

/** Values of a field, and beginnings of values, with the part that each tells. */
export interface PartWords {
	whole: Map<string, number>;
	begins: [string, number][];
}

/** By what the parts of one place are told apart, by field. */
export function wordsByField(specs: readonly (readonly [number, PartHints])[]): Map<string, PartWords> {
	const byField = new Map<string, PartWords>();
	for (const [nth, { where }] of specs) {
		if (!where) continue;
		const words: PartWords = byField.get(where.field) ?? { whole: new Map<string, number>(), begins: [] };
		byField.set(where.field, words);
		for (const value of where.is) {
			if (where.begins) words.begins.push([value, nth]);
			else if (!words.whole.has(value)) words.whole.set(value, nth);
		}
	}
	return byField;
}

/** The part that a value tells; undefined where it tells none. */
export const partOfValue = ({ whole, begins }: PartWords, value: string): number | undefined =>
	whole.get(value) ?? begins.find(([start]) => value.startsWith(start))?.[1];

type Sorted = Map<number, RecordNode[]>;

/** The parts of one place, and how a record is told to be of one of them. */
function sorterOf(specs: readonly [number, PartHints][], none: number): (record: RecordNode) => number {
	const plain = specs.find(([, { where }]) => where === undefined)?.[0] ?? none;
	const byField = wordsByField(specs);
	return (record) => {
		for (const [field, words] of byField) {
			const value = record.valueAt?.(field);
			if (value === undefined) continue;
			const found = partOfValue(words, String(value ?? ''));
			if (found !== undefined) return found;
		}
		return plain;
	};
}

/** The document of some records of another, which was read by what is said of all parts at their place. */
function partDocument<D extends Document>(whole: D, records: readonly RecordNode[], spec: PartHints): D {
	const hints = { ...whole.hints, spare: undefined, ...spec } as ReadHints;
	const key = spec.key !== undefined && !whole.named ? spec.key : whole.key;
	const asked = Object.entries(hints) as [keyof ReadHints, unknown][];
	const isAll = records.length === whole.records.length && key === whole.key && !spec.keyParts;
	// All records, read by all that is said of the part: that is the part.
	if (isAll && asked.every(([name, value]) => value === whole.hints[name])) return whole;
	const part = Object.create(whole) as D;
	part.hints = hints;
	part.key = key;
	part.records = records.map((record, at) => record.within?.(part, at + 1) ?? record);
	return spec.keyParts ? namedTogether(part, spec.keyParts) : part;
}

/** What is between the values that name a record together. */
const BETWEEN = '/';

/**
 * The document with its records called by several of their values: no place holds the whole id, so that none is written.
 * A second one of the same values is told by a number; where no field names them, all are.
 */
export function namedTogether<D extends Document>(doc: D, keyParts: readonly string[]): D {
	const { prefix = '' } = doc.hints;
	const lead = prefix === '' ? '' : prefix + BETWEEN;
	const seen = new Map<string, number>();
	const named = Object.create(doc) as D;
	named.key = null;
	named.records = doc.records.map((record, at) => {
		const values = keyParts.map((path) => String(record.valueAt?.(path) ?? ''));
		const name = lead + values.join(BETWEEN);
		const nth = (seen.get(name) ?? 0) + 1;
		seen.set(name, nth);
		const id = keyParts.length === 0 ? `${prefix}#${at + 1}` : nth === 1 ? name : `${name}#${nth}`;
		return Object.create(record, {
			id: { value: id },
			idSpan: { value: null },
			home: { value: named }
		}) as RecordNode;
	});
	return named;
}

/** All parts behind each other, as one document. */
function joined<D extends Document>(first: D, parts: DocumentPart[], hints: ReadHints): D {
	const whole = Object.create(first) as D;
	whole.hints = hints;
	whole.parts = parts;
	whole.records = parts.flatMap(({ doc }) => doc.records);
	return whole;
}

/**
 * Reads a file whose records are of several kinds. Records that belong to none of the parts are a part of their own,
 * behind the others.
 * @param known the same content read before, by whatever hints
 */
export function readParts<C extends Content, D extends Document<C>>(
	format: Format<C, D>,
	content: C,
	hints: ReadHints,
	known?: D
): D {
	const { parts: specs = [], ...common } = hints;
	const byPlace = new Map<string, [number, PartHints][]>();
	specs.forEach((spec, nth) => {
		const place = JSON.stringify([spec.at, spec.element, spec.except]);
		addTo(byPlace, place, [nth, spec]);
	});
	let first = known;
	const parts: DocumentPart[] = [];
	const rest: DocumentPart[] = [];
	for (const here of byPlace.values()) {
		const { where: _, ...said } = here[0]![1];
		const own: ReadHints = { ...common };
		for (const [name, value] of Object.entries(said))
			if (value !== undefined) Object.assign(own, { [name]: value });
		const whole = first && format.again ? format.again(first, own) : format.read(content, own);
		first ??= whole;
		const sort = sorterOf(here, specs.length);
		const sorted: Sorted = new Map();
		for (const record of whole.records) {
			const spec = sort(record);
			const list = sorted.get(spec);
			if (list) list.push(record);
			else sorted.set(spec, [record]);
		}
		for (const [nth, spec] of here) {
			const records = sorted.get(nth);
			// An empty file of one kind is still of that kind.
			if (records || here.length === 1)
				parts.push({ spec: nth, doc: partDocument(whole, records ?? [], spec) });
		}
		const others = sorted.get(specs.length);
		if (others) rest.push({ spec: specs.length, doc: partDocument(whole, others, {}) });
	}
	parts.sort((a, b) => a.spec - b.spec);
	return joined(first!, [...parts, ...rest], hints);
}

/** The part in which a record stands. */
export const homeOf = <D extends Document>(doc: D, record: RecordNode): D =>
	doc.parts && record.home ? (record.home as D) : doc;

/** The part of a document that holds records like those of a part of another; the first where none does. */
export function partLike<D extends Document>(doc: D, other: Document): D {
	if (!doc.parts) return doc;
	const name = ({ at, except, element, where }: PartHints) => JSON.stringify([at, except, element, where]);
	const wanted = name(other.hints);
	const found = doc.parts.find(({ doc: part }) => name(part.hints) === wanted) ?? doc.parts[0];
	return (found?.doc as D | undefined) ?? doc;
}
