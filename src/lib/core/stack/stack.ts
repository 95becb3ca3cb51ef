import type { TextFile } from '../text';
import type { Document, RecordNode } from '../formats';
import { claimOf, type Guide, type KindGuide } from '../guide';

/** One file of a layer; without a document where it is not read as data. */
export interface LayerFile {
	path: string;
	size: number;
	text: TextFile | null;
	doc: Document | null;
}

/** One tree of files in the stack. */
export interface Layer {
	id: string;
	title: string;
	role: 'base' | 'mod' | 'mine';
	files: ReadonlyMap<string, LayerFile>;
}

/** A record as one file of one layer has it. */
export interface Presence {
	layer: Layer;
	path: string;
	doc: Document;
	record: RecordNode;
	/** Language of the file, where the kind has languages. */
	language?: string;
}

/** A value that the game will really see. */
export interface EffectiveValue {
	value: string;
	presence: Presence;
	/** The values below it in the stack, nearest first. */
	overrode: { layer: Layer; value: string }[];
	remark?: string;
}

/** A record after all layers are merged. */
export interface EffectiveRecord {
	kind: string;
	id: string;
	/** Every file that has it, in load order; the last one counts. */
	presences: Presence[];
	values: Map<string, EffectiveValue>;
}

/** All records of a kind. */
export interface Table {
	kind: string;
	guide: KindGuide;
	/** Field paths in the order the files have them. */
	columns: string[];
	records: EffectiveRecord[];
	byId: Map<string, EffectiveRecord>;
}

/** The layers merged as the guide says. */
export interface Stack {
	guide: Guide;
	layers: Layer[];
	tables: Map<string, Table>;
	/** The layer that is edited; null where there is none. */
	mine: Layer | null;
}

/** The field a value is kept under: the language for texts, else the field's own path. */
const slotOf = (presence: Presence, path: string) => presence.language ?? path;

/** Files that count: for kinds merged by file a later layer's file hides the same path below it. */
function* presencesOf(layers: Layer[], guide: Guide): Generator<[string, Presence]> {
	const hiddenBy = new Map<string, Layer>();
	for (const layer of layers) for (const path of layer.files.keys()) hiddenBy.set(path, layer);
	for (const layer of layers) {
		for (const { path, doc } of layer.files.values()) {
			const claim = doc && claimOf(guide, path);
			if (!doc || !claim) continue;
			if (guide.kinds[claim.kind]!.merge === 'file' && hiddenBy.get(path) !== layer) continue;
			const seen = new Set<string>();
			for (const record of doc.records) {
				// The first of two records with one id counts; the second is a snag of its own.
				if (seen.has(record.id)) continue;
				seen.add(record.id);
				yield [
					claim.kind,
					{ layer, path, doc, record, ...(claim.language ? { language: claim.language } : {}) }
				];
			}
		}
	}
}

function merge(record: EffectiveRecord, presence: Presence): void {
	record.presences.push(presence);
	const below = record.values;
	const values = presence.language ? below : new Map<string, EffectiveValue>();
	for (const field of presence.record.fields) {
		const slot = slotOf(presence, field.path);
		const under = below.get(slot);
		values.set(slot, {
			value: String(field.value ?? ''),
			presence,
			overrode: under ? [{ layer: under.presence.layer, value: under.value }, ...under.overrode] : [],
			...(field.remark ? { remark: field.remark } : under?.remark ? { remark: under.remark } : {})
		});
	}
	record.values = values;
}

/**
 * Merges the layers (in load order, the base first). A record of a later layer replaces the whole record below it;
 * texts merge language by language.
 */
export function buildStack(layers: Layer[], guide: Guide): Stack {
	const tables = new Map<string, Table>();
	for (const [kind, kindGuide] of Object.entries(guide.kinds))
		tables.set(kind, { kind, guide: kindGuide, columns: [], records: [], byId: new Map() });
	const columns = new Map<string, Set<string>>();
	for (const [kind, presence] of presencesOf(layers, guide)) {
		const table = tables.get(kind)!;
		const known = columns.get(kind) ?? new Set<string>();
		columns.set(kind, known);
		for (const field of presence.record.fields) known.add(slotOf(presence, field.path));
		let record = table.byId.get(presence.record.id);
		if (!record) {
			record = { kind, id: presence.record.id, presences: [], values: new Map() };
			table.byId.set(record.id, record);
			table.records.push(record);
		}
		merge(record, presence);
	}
	for (const [kind, known] of columns) tables.get(kind)!.columns = [...known];
	return { guide, layers, tables, mine: layers.find((layer) => layer.role === 'mine') ?? null };
}

/** The value the game will see, or undefined where the record has none. */
export function valueOf(record: EffectiveRecord, field: string): string | undefined {
	return record.values.get(field)?.value;
}

/** What the layers below my mod say; undefined where they have no such record or field. */
export function baseValueOf(record: EffectiveRecord, field: string): string | undefined {
	const value = record.values.get(field);
	if (value && value.presence.layer.role !== 'mine') return value.value;
	const under = value?.overrode.find((entry) => entry.layer.role !== 'mine');
	if (under) return under.value;
	const below = record.presences.findLast((presence) => presence.layer.role !== 'mine' && !presence.language);
	const found = below?.record.fields.find((candidate) => candidate.path === field);
	return found ? String(found.value ?? '') : undefined;
}
