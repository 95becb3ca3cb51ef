// Many records and values at once: each file is spliced once for all of them, however many they are.
import { together, type Content, type Splice } from '../change';
import { EditRefused, findField, type Document, type RecordNode } from '../formats';
import { fieldOf } from '../guide';
import { hiddenRecord, isEditable, recordKey, unitOf, type EffectiveRecord } from '../stack';
import type { Draft } from './draft';
import { isSparse, sparseCopy } from './sparse';
import {
	asWritten,
	mustCount,
	setField,
	spliceFor,
	take,
	type FieldAbout,
	type Say,
	type Writing
} from './steps';

/** One value that is to be written. */
export interface CellWrite {
	record: EffectiveRecord;
	field: string;
	value: string;
	/** Written as it is, not in the style of the value before it. */
	verbatim?: boolean;
	/** For all records that point at the value, where several do. */
	everywhere?: boolean | undefined;
}

/** A field as the lowest layer that has it writes it. */
export function lowestField(record: EffectiveRecord, path: string): FieldAbout['like'] {
	// My mod's copy of a whole file hides the game's own.
	const hidden = hiddenRecord(record);
	const under = hidden && findField(hidden.record, path);
	if (under) return { doc: hidden.doc, field: under };
	for (const { doc, record: source } of record.presences) {
		const field = findField(source, path);
		if (field) return { doc, field };
	}
	return undefined;
}

/** Splices that each put something at the same place, one behind the other; null where they are others. */
export function inARow(lists: readonly Splice<Content>[][]): Splice<Content>[] | null {
	const [first] = lists;
	if (!first) return [];
	const rest = first.slice(0, -1);
	const last = first.at(-1);
	if (!last || rest.length > 0) return null;
	const alike = lists.every(
		(list) =>
			list.length === 1 && list[0]!.from === last.from && list[0]!.to === last.from && last.from === last.to
	);
	return alike && lists.every((list) => typeof list[0]!.insert === 'string')
		? [{ ...last, insert: lists.map((list) => list[0]!.insert).join('') }]
		: null;
}

/** Records of a document by id; of two with one id the first. */
export function recordsOf({ records }: Document): Map<string, RecordNode> {
	const found = new Map<string, RecordNode>();
	for (const record of records) {
		const { id } = record;
		if (!found.has(id)) found.set(id, record);
	}
	return found;
}

/** Puts copies of records behind those of a file of my mod, all in one splice where the format lets them. */
function insertMany(
	draft: Draft,
	path: string,
	kind: string,
	sources: readonly EffectiveRecord[],
	parts: Parts
): void {
	const format = draft.format(path);
	const one = (source: EffectiveRecord) => {
		const { doc, record } = isSparse(draft, kind)
			? sparseCopy(draft, source, parts.get(recordKey(kind, source.id)) ?? new Set())
			: source.presences.at(-1)!;
		return format.insert(draft.doc(path, kind)!, doc, record);
	};
	// The first shows how a list begins, the second how it goes on.
	let at = 0;
	for (; at < Math.min(2, sources.length); at++) draft.edit(path, one(sources[at]!));
	const before = draft.doc(path, kind)!.records.length;
	const rest = sources.slice(at);
	if (rest.length === 0) return;
	const splices = inARow(rest.map(one));
	const kept = draft.doc(path)!;
	if (splices) {
		draft.edit(path, splices);
		if (draft.doc(path, kind)!.records.length === before + rest.length) return;
		draft.restore(path, kept);
	}
	for (const source of rest) draft.edit(path, one(source));
}

/** A file and a kind: records of several kinds may be in one. */
const fileKey = ({ kind }: EffectiveRecord, path: string) => JSON.stringify([kind, path]);

/** Fields and lists of records that are to be there, by record. */
type Parts = ReadonlyMap<string, ReadonlySet<string>>;

/**
 * Makes sure that my mod has all of the records and gives the path of the file that each is in; as `take` does for one.
 */
export function takeMany(
	draft: Draft,
	records: readonly EffectiveRecord[],
	say: Say,
	parts: Parts = new Map()
): Map<EffectiveRecord, string> {
	const paths = new Map<EffectiveRecord, string>();
	const missing = new Map<string, [path: string, records: EffectiveRecord[]]>();
	// One record may be asked for several times, as another object each time.
	const asked = new Set<string>();
	for (const record of records) {
		const mine = record.presences.find(({ layer }) => isEditable(layer));
		const { path } = mine ?? record.presences.at(-1)!;
		paths.set(record, path);
		const name = recordKey(record.kind, record.id);
		if (mine || asked.has(name)) continue;
		mustCount(draft, record);
		asked.add(name);
		const list = missing.get(fileKey(record, path));
		if (list) list[1].push(record);
		else missing.set(fileKey(record, path), [path, [record]]);
	}
	for (const [path, list] of missing.values()) {
		const [first, ...rest] = list;
		const { kind } = first!;
		const [part] = parts.get(recordKey(kind, first!.id)) ?? [];
		take(draft, first!, say, part);
		const { merge } = draft.stack.guide.kinds[kind]!;
		if (merge === 'file' || rest.length === 0) continue;
		const there = recordsOf(draft.doc(path, kind)!);
		insertMany(
			draft,
			path,
			kind,
			rest.filter(({ id }) => !there.has(id)),
			parts
		);
	}
	return paths;
}

/** A file of my mod as one kind of its records is read. */
interface OpenFile {
	path: string;
	kind: string;
	doc: Document;
	/** @throws EditRefused where there is no such record */
	nodeOf: (cell: CellWrite) => RecordNode;
}

/** Writes values of a file one by one: those that are there with one splicing, where they do not touch. */
function writeEach(
	draft: Draft,
	{ path, kind, doc, nodeOf }: OpenFile,
	list: readonly CellWrite[],
	writing: (cell: CellWrite) => Writing
): void {
	const format = draft.format(path);
	const splices: Splice<Content>[][] = [];
	const later: CellWrite[] = [];
	const fields = new Map<RecordNode, Set<string>>();
	const inTurn = format.setMany !== undefined && list.length > 1;
	for (const cell of list) {
		const node = nodeOf(cell);
		let known = fields.get(node);
		if (!known) fields.set(node, (known = new Set(node.fields.map((field) => field.path))));
		// A field that is absent is put in by itself: where, depends on what else was.
		if (known.has(cell.field) && !inTurn) splices.push(spliceFor(format, doc, node, writing(cell)));
		else later.push(cell);
	}
	const all = together(splices);
	if (all) draft.edit(path, all);
	else later.unshift(...list.filter((cell) => !later.includes(cell)));
	for (const cell of later) setField(draft, { path, kind, id: cell.record.id }, writing(cell), cell.record);
}

/**
 * Writes many values, and gives what is there afterwards, in their order. Several values of one record, and of many,
 * cost one splicing of each file.
 * @throws EditRefused
 */
export function writeMany(draft: Draft, cells: readonly CellWrite[], say: Say): string[] {
	const parts = new Map<string, Set<string>>();
	for (const { record, field } of cells) {
		if (!isSparse(draft, record.kind)) continue;
		const name = recordKey(record.kind, record.id);
		const units = parts.get(name);
		if (units) units.add(unitOf(field));
		else parts.set(name, new Set([unitOf(field)]));
	}
	const paths = takeMany(draft, [...new Set(cells.map(({ record }) => record))], say, parts);
	const byFile = new Map<string, [path: string, list: CellWrite[]]>();
	for (const cell of cells) {
		const path = paths.get(cell.record)!;
		const list = byFile.get(fileKey(cell.record, path));
		if (list) list[1].push(cell);
		else byFile.set(fileKey(cell.record, path), [path, [cell]]);
	}
	const writing = ({ record, field, value, verbatim, everywhere }: CellWrite): Writing => ({
		field,
		value,
		everywhere,
		...(verbatim
			? {}
			: {
					about: {
						type: fieldOf(draft.stack.guide.kinds[record.kind], field)?.type,
						like: lowestField(record, field)
					}
				}),
		say
	});
	const written = new Map<CellWrite, string>();
	for (const [path, list] of byFile.values()) {
		const { kind } = list[0]!.record;
		const doc = draft.doc(path, kind)!;
		const format = draft.format(path);
		const nodes = recordsOf(doc);
		const nodeOf = ({ record: { id } }: CellWrite): RecordNode => {
			const node = nodes.get(id);
			if (!node) throw new EditRefused(`${path} has no record ${id}.`);
			return node;
		};
		if (format.setMany && list.length > 1 && !list.some(({ everywhere }) => everywhere)) {
			const values = list.map((cell) => ({
				record: nodeOf(cell),
				path: cell.field,
				value: asWritten(writing(cell))
			}));
			draft.edit(path, format.setMany(doc, values));
		} else writeEach(draft, { path, kind, doc, nodeOf }, list, writing);
		const now = recordsOf(draft.doc(path, kind)!);
		const values = new Map<string, Map<string, string>>();
		for (const cell of list) {
			const { id } = cell.record;
			let known = values.get(id);
			if (!known)
				values.set(
					id,
					(known = new Map(now.get(id)?.fields.map((field) => [field.path, String(field.value ?? '')])))
				);
			written.set(cell, known.get(cell.field) ?? cell.value);
		}
	}
	return cells.map((cell) => written.get(cell)!);
}
