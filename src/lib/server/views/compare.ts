// Two to six records side by side, from any layer or version.
import { unitless } from '$core/guide';
import { displayName, type EffectiveRecord, type Stack } from '$core/stack';
import type { CompareColumn, CompareRow, CompareView } from '$core/views';
import { besideRows, besideStack, type Model } from '../model';

export const MOST_COMPARED = 6;

interface Asked {
	key: string;
	kind: string;
	id: string;
	/** Id of a layer or of a version beside one; empty for what the game will see. */
	source: string;
}

/** `kind/id` or `kind/id@source`. */
export function askedOf(key: string): Asked {
	const slash = key.indexOf('/');
	const at = /@(\d+)$/.exec(key);
	return {
		key,
		kind: key.slice(0, slash),
		id: key.slice(slash + 1, at ? at.index : undefined),
		source: at?.[1] ?? ''
	};
}

interface Had {
	record: EffectiveRecord;
	stack: Stack;
	values: Map<string, string>;
	title: string;
	mine: boolean;
}

/** The values of a record as one layer alone has them; null where it does not have the record. */
function inLayer(record: EffectiveRecord, layer: string): Map<string, string> | null {
	const own = record.presences.filter((presence) => presence.layer.id === layer);
	if (own.length === 0) return null;
	return new Map(
		own.flatMap((presence) => presence.fields.map((field) => [presence.language ?? field.path, field.value]))
	);
}

async function have(model: Model, { kind, id, source }: Asked): Promise<Had | null> {
	const layer = model.stack.layers.find((candidate) => candidate.id === source);
	if (source === '' || layer) {
		const record = model.stack.tables.get(kind)?.byId.get(id);
		if (!record) return null;
		const values = layer
			? inLayer(record, layer.id)
			: new Map([...record.values].map(([path, { value }]) => [path, value]));
		return (
			values && {
				record,
				stack: model.stack,
				values,
				title: layer ? layer.title : 'as the game sees it',
				mine: layer?.role === 'mine'
			}
		);
	}
	const other = await besideStack(model, source);
	const record = other?.stack.tables.get(kind)?.byId.get(id);
	if (!other || !record) return null;
	const values = new Map([...record.values].map(([path, { value }]) => [path, value]));
	return { record, stack: other.stack, values, title: other.title, mine: false };
}

/** The comparison that an address asks for: fields that differ first. */
export async function compareOf(model: Model, keys: string[]): Promise<CompareView> {
	const asked = [...new Set(keys)].slice(0, MOST_COMPARED).map(askedOf);
	const found = await Promise.all(asked.map((one) => have(model, one)));
	const beside = await besideRows(model);
	const columns: CompareColumn[] = [];
	const had: Had[] = [];
	const missing: string[] = [];
	for (const [at, one] of asked.entries()) {
		const own = found[at];
		if (!own) {
			missing.push(one.key);
			continue;
		}
		had.push(own);
		const key = `${one.kind}/${one.id}`;
		const here = model.stack.tables.get(one.kind)?.byId.get(one.id);
		const layers = new Map((here?.presences ?? []).map(({ layer }) => [layer.id, layer.title]));
		columns.push({
			key: one.key,
			kind: one.kind,
			id: one.id,
			name: displayName(own.stack, own.record),
			source: one.source,
			sourceTitle: own.title,
			mine: own.mine,
			effective: one.source === '',
			sources: [
				{ key, title: 'as the game sees it' },
				...[...layers].map(([id, title]) => ({ key: `${key}@${id}`, title })),
				...beside.map((row) => ({
					key: `${key}@${row.id}`,
					title: `${row.title}, ${row.version || `brought in ${row.importedAt.slice(0, 10)}`}`
				}))
			]
		});
	}
	const paths = new Set(had.flatMap(({ values }) => [...values.keys()]));
	const guides = had.map(({ record }) => record.table.guide);
	const keysOfKinds = new Set(guides.map((guide) => guide.key));
	const rows = [...paths]
		.filter((path) => !keysOfKinds.has(path))
		.map((path): CompareRow => {
			const about = guides.map((guide) => guide.fields[path]).find(Boolean);
			const cells = had.map(({ values }) => values.get(path) ?? null);
			return {
				path,
				title: about?.title ?? path,
				unit: about?.unit ?? null,
				group: about?.group ?? '',
				cells,
				numeric: cells.some(Boolean) && cells.every((cell) => !cell || unitless(cell) !== null),
				differs: new Set(cells.map((cell) => cell ?? '')).size > 1
			};
		});
	return {
		columns,
		rows: [...rows.filter((row) => row.differs), ...rows.filter((row) => !row.differs)],
		missing
	};
}
