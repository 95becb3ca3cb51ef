import type { Pool } from '../facts';
import { claimOf, type Guide } from '../guide';
import type { LayerFile } from './files';
import type { EffectiveRecord } from './record';
import { tableOver, type Table, type TableFile } from './table';

/** One tree of files in the stack. */
export interface Layer {
	id: string;
	title: string;
	role: 'base' | 'mod' | 'mine';
	files: ReadonlyMap<string, LayerFile>;
	/** All paths of the layer, where some files are known by their digest alone. */
	paths?: ReadonlySet<string> | undefined;
}

/** The layers merged as the guide says. */
export interface Stack {
	guide: Guide;
	layers: Layer[];
	pool: Pool;
	tables: Map<string, Table>;
	/** The layer that is edited; null where there is none. */
	mine: Layer | null;
}

/** Files that count, by kind: for kinds merged by file a later layer's file hides the same path below it. */
function filesByKind(layers: Layer[], guide: Guide): Map<string, TableFile[]> {
	const hiddenBy = new Map<string, Layer>();
	for (const layer of layers) for (const path of layer.files.keys()) hiddenBy.set(path, layer);
	const byKind = new Map<string, TableFile[]>();
	for (const layer of layers) {
		for (const file of layer.files.values()) {
			const { path, facts } = file;
			const claim = facts?.format && claimOf(guide, path);
			if (!facts || !claim) continue;
			if (guide.kinds[claim.kind]!.merge === 'file' && hiddenBy.get(path) !== layer) continue;
			const list = byKind.get(claim.kind) ?? [];
			byKind.set(claim.kind, list);
			list.push({ layer, file, facts, language: claim.language });
		}
	}
	return byKind;
}

/**
 * Merges the layers (in load order, the base first). All of a layer's facts are over `pool`.
 * @param older a stack of which the tables that did not change are taken over
 */
export function buildStack(layers: Layer[], guide: Guide, pool: Pool, older?: Stack): Stack {
	const byKind = filesByKind(layers, guide);
	const tables = new Map<string, Table>();
	for (const [kind, kindGuide] of Object.entries(guide.kinds))
		tables.set(kind, tableOver(kind, kindGuide, byKind.get(kind) ?? [], pool, older?.tables.get(kind)));
	return { guide, layers, pool, tables, mine: layers.find((layer) => layer.role === 'mine') ?? null };
}

/** The value the game will see, or undefined where the record has none. */
export function valueOf(record: EffectiveRecord, field: string): string | undefined {
	return record.value(field);
}

/** What the layers below my mod say; undefined where they have no such record or field. */
export function baseValueOf(record: EffectiveRecord, field: string): string | undefined {
	const value = record.values.get(field);
	if (value && value.presence.layer.role !== 'mine') return value.value;
	const under = value?.overrode.find((entry) => entry.layer.role !== 'mine');
	if (under) return under.value;
	const below = record.presences.findLast((presence) => presence.layer.role !== 'mine' && !presence.language);
	return below?.fields.find((candidate) => candidate.path === field)?.value;
}
