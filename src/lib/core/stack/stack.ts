import { addTo, inOneGo } from '../gather';
import { partOf, type Document, type RecordNode } from '../formats';
import { partFacts, valueAt, valueIn, type Facts, type Pool } from '../facts';
import { claimsOf, isFromPath, type Guide, type KindGuide } from '../guide';
import { fileUnder, numberOf } from './changed';
import type { LayerFile } from './files';
import { isEditable, isOn, type Layer } from './layer';
import { attributePatched, composeFiles, withGone } from './compose';
import { filesThatCount } from './merge';
import type { EffectiveRecord } from './record';
import { sameRecord, tableOver, type Removal, type Table, type TableFile, type TableFiles } from './table';

/** The layers merged as the guide says. */
export interface Stack {
	guide: Guide;
	layers: Layer[];
	pool: Pool;
	tables: Map<string, Table>;
	/** The layer that is edited; null where there is none. */
	mine: Layer | null;
}

/** Files of a layer by the kind that claims them. */
/** Files that are looked at in one step. */
const FILES = 100;

type Claimed = Map<string, TableFile[]>;

const claimed = new WeakMap<Layer['files'], { guide: Guide; layer: Layer; byKind: Claimed }>();

function* claimedOf(layer: Layer, guide: Guide): Generator<void, Claimed> {
	const known = claimed.get(layer.files);
	const same = known?.guide === guide && known.layer.id === layer.id && known.layer.owner === layer.owner;
	if (same && known.layer.title === layer.title) return known.byKind;
	const byKind: Claimed = new Map();
	let nth = 0;
	for (const file of layer.files.values()) {
		if (++nth % FILES === 0) yield;
		if (!file.facts?.format) continue;
		const claims = claimsOf(guide, file.path);
		const { parts } = file.facts;
		partFacts(file.facts).forEach((facts, nth) => {
			const spec = parts?.[nth]!.spec ?? 0;
			const claim = claims[spec];
			if (!claim) return;
			const list = byKind.get(claim.kind) ?? [];
			byKind.set(claim.kind, list);
			list.push({ layer, file, spec, facts, language: claim.language, removes: claim.removes });
		});
	}
	claimed.set(layer.files, { guide, layer, byKind });
	return byKind;
}

const NONE: TableFile[] = [];
const NOTHING: Removal[] = [];

/** Files without the records that later layers take out of them, because they say exactly the same. */
function takeOut(
	files: TableFile[],
	removers: readonly TableFile[],
	layers: readonly Layer[]
): { counting: TableFile[]; removals: Removal[] } {
	const removals = removers.flatMap((from) =>
		Array.from({ length: from.facts.count }, (_, nth) => ({ from, nth, hits: 0 }))
	);
	const counting = files.map((file) => {
		const over = removals.filter(({ from }) => layers.indexOf(from.layer) > layers.indexOf(file.layer));
		const gone = new Set<number>();
		for (const removal of over) {
			const { facts } = removal.from;
			for (let nth = file.facts.ids.indexOf(facts.ids[removal.nth]!); nth >= 0;) {
				if (sameRecord(facts, removal.nth, file.facts, nth)) {
					gone.add(nth);
					removal.hits++;
				}
				nth = file.facts.ids.indexOf(facts.ids[removal.nth]!, nth + 1);
			}
		}
		return withGone(file, gone);
	});
	return { counting, removals };
}

/** Files in load order without the records that a marked record of a later layer takes out by its id. */
function takeOutMarked(
	files: readonly TableFile[],
	{ field, is }: NonNullable<KindGuide['out']>
): { counting: TableFile[]; removals: Removal[] } {
	const removals: Removal[] = [];
	/** Where each id is in the files gone through. */
	const standing = new Map<number, { at: number; nth: number; layer: Layer }[]>();
	const gone = files.map(() => new Set<number>());
	files.forEach((from, at) => {
		const { facts, layer } = from;
		const [path, mark] = [facts.pool.find(field), facts.pool.find(is)];
		facts.ids.forEach((id, nth) => {
			const marked = path >= 0 && mark >= 0 && valueIn(facts, nth, path) === mark;
			if (!marked) {
				addTo(standing, id, { at, nth, layer });
				return;
			}
			gone[at]!.add(nth);
			const hit = (standing.get(id) ?? []).filter((one) => one.layer !== layer);
			for (const one of hit) gone[one.at]!.add(one.nth);
			standing.delete(id);
			removals.push({ from, nth, hits: hit.length });
		});
	});
	return { counting: files.map((file, at) => withGone(file, gone[at]!)), removals };
}

/** Files in load order of which the first record of an id counts; the others, which change nothing, beside. */
function firstCounts(files: readonly TableFile[]): { counting: TableFile[]; ignored: Removal[] } {
	const owners = new Map<number, Layer>();
	const ignored: Removal[] = [];
	const counting = files.map((from) => {
		const gone = new Set<number>();
		const out = new Set(from.gone);
		from.facts.ids.forEach((id, nth) => {
			if (out.has(nth)) return;
			const owner = owners.get(id);
			if (owner === undefined) owners.set(id, from.layer);
			else if (owner !== from.layer) {
				gone.add(nth);
				ignored.push({ from, nth, hits: 0 });
			}
		});
		return withGone(from, gone);
	});
	return { counting, ignored };
}

/** Files of a kind that count, those that do not, what is taken out of them, and what does not count beside them. */
function* filesOf(kind: string, layers: readonly Layer[], guide: Guide): Generator<void, TableFiles> {
	const about = guide.kinds[kind]!;
	const all: TableFile[][] = [];
	for (const layer of layers)
		all.push(isOn(layer) ? ((yield* claimedOf(layer, guide)).get(kind) ?? NONE) : NONE);
	const lists = about.removes ? all.map((list) => list.filter((file) => !file.removes)) : all;
	const { hidden, ...rest } = filesThatCount(about.merge, lists, layers);
	let counting = attributePatched(about.merge, rest.counting, lists.flat());
	let [removals, ignored] = [NOTHING, NOTHING];
	if (about.removes) {
		const removers = all.flat().filter((file) => file.removes);
		({ counting, removals } = takeOut(counting, removers, layers));
	}
	if (about.out) {
		const taken = takeOutMarked(counting, about.out);
		counting = taken.counting;
		removals = [...removals, ...taken.removals];
	}
	if (about.second === 'first' && about.merge !== 'file') ({ counting, ignored } = firstCounts(counting));
	if (about.merge === 'field') counting = composeFiles(about, counting);
	return { counting, hidden, removals, ignored };
}

/** Takes from the maps of a guide what every object has by itself: no kind is called `constructor` unless somebody calls it so. */
function bareNames({ kinds, recipes, scenarios, words }: Guide): void {
	for (const names of [kinds, recipes, scenarios, words?.languages])
		if (names && Object.getPrototypeOf(names) !== null) Object.setPrototypeOf(names, null);
}

/**
 * Merges the layers (in load order, the base first). All of a layer's facts are over `pool`. In steps.
 * @param older a stack of which the tables that did not change are taken over
 */
export function* buildSteps(
	layers: Layer[],
	guide: Guide,
	pool: Pool,
	older?: Stack
): Generator<void, Stack> {
	bareNames(guide);
	const tables = new Map<string, Table>();
	for (const [kind, about] of Object.entries(guide.kinds)) {
		const files = yield* filesOf(kind, layers, guide);
		tables.set(kind, tableOver(kind, about, files, pool, older?.tables.get(kind)));
		yield;
	}
	return { guide, layers, pool, tables, mine: layers.find(isEditable) ?? null };
}

/** The same, in one go. */
export const buildStack = (layers: Layer[], guide: Guide, pool: Pool, older?: Stack): Stack =>
	inOneGo(buildSteps(layers, guide, pool, older));

/** A stack with other layers of which only some kinds are looked into: the tables of all others are taken over. */
export function withKinds(stack: Stack, layers: Layer[], kinds: Iterable<string>): Stack {
	const { guide, pool } = stack;
	const tables = new Map(stack.tables);
	for (const kind of kinds) {
		const about = guide.kinds[kind];
		if (!about) continue;
		const files = inOneGo(filesOf(kind, layers, guide));
		tables.set(kind, tableOver(kind, about, files, pool, stack.tables.get(kind)));
	}
	return { ...stack, layers, tables, mine: layers.find(isEditable) ?? null };
}

/** The value the game will see, or undefined where the record has none. */
export function valueOf(record: EffectiveRecord, field: string): string | undefined {
	return record.value(field);
}

/** The record as the file says it that the file of a later layer stands in for; null where there is none. */
function hiddenOf({ table, row, presences }: EffectiveRecord): { facts: Facts; nth: number } | null {
	const facts = fileUnder(table, presences.at(-1)!.path)?.facts;
	const nth = facts && numberOf(facts, table.rows.ids[row]!);
	return nth === undefined ? null : { facts: facts!, nth };
}

/** The text in a language as the file says it that a file of my mod stands in for; undefined where there is none. */
function hiddenWords({ table, row }: EffectiveRecord, language: string): string | undefined {
	for (const file of table.hidden.toReversed()) {
		if (file.language !== language || isEditable(file.layer)) continue;
		const { facts } = file;
		const nth = numberOf(facts, table.rows.ids[row]!);
		// What a file of texts says of a record is its last value, as it is where the file counts.
		const last = nth === undefined ? -1 : facts.firsts[nth + 1]! - 1;
		if (nth !== undefined && last >= facts.firsts[nth]!) return table.pool.at(facts.values[last]!);
	}
	return undefined;
}

/** The record in the file of a layer that my mod's file of the same path stands in for; null where there is none. */
export function hiddenRecord({
	table,
	row,
	presences
}: EffectiveRecord): { doc: Document; record: RecordNode } | null {
	const under = fileUnder(table, presences.at(-1)!.path);
	const nth = under && numberOf(under.facts, table.rows.ids[row]!);
	if (nth === undefined || !under?.file.doc) return null;
	const doc = partOf(under.file.doc, under.spec);
	const record = doc.records[nth];
	return record ? { doc, record } : null;
}

/** Whether some layer below my mod has a record, be it in a file that mine stands in for. */
export const isInBase = (record: EffectiveRecord): boolean =>
	record.presences.some(({ layer }) => !isEditable(layer)) || hiddenOf(record) !== null;

/** What the layers below my mod say; undefined where they have no such record or field. */
export function baseValueOf(record: EffectiveRecord, field: string): string | undefined {
	// What names a record and where it lies is the same in all layers.
	if (isFromPath(field)) return isInBase(record) ? record.value(field) : undefined;
	const value = record.values.get(field);
	if (value && !isEditable(value.presence.layer)) return value.value;
	const over = value?.overrode.find((entry) => !isEditable(entry.layer));
	if (over) return over.value;
	const below = record.presences.findLast((presence) => !isEditable(presence.layer) && !presence.language);
	if (below) return below.fields.find((candidate) => candidate.path === field)?.value;
	const words = hiddenWords(record, field);
	if (words !== undefined) return words;
	const under = hiddenOf(record);
	return under ? valueAt(under.facts, under.nth, field) : undefined;
}

/** The file of a path in the layers below my mod that the game reads. */
export const fileBelow = ({ layers }: Stack, path: string): LayerFile | undefined =>
	layers
		.filter((layer) => !isEditable(layer) && isOn(layer))
		.findLast(({ files }) => files.has(path))
		?.files.get(path);
