// Two to six records side by side, from any layer or version.
import { fieldOf, titleOf, unitless } from '$core/guide';
import {
	isEditable,
	buildStack,
	displayName,
	type EffectiveRecord,
	type Layer,
	type Stack
} from '$core/stack';
import type { CompareColumn, CompareRow, CompareView } from '$core/views';
import { besideRows, besideStack, type Model } from '../model';

export const MOST_COMPARED = 6;

interface Wanted {
	key: string;
	kind: string;
	id: string;
	/** Id of a layer or of a version beside one; empty for what the game will see. */
	source: string;
}

/** `kind/id` or `kind/id@source`. */
export function wantedBy(key: string): Wanted {
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

const alone = new WeakMap<Model, Map<string, Stack>>();

/** One layer of the stack as if it were the only one: also what a later layer hides. */
function layerAlone(model: Model, layer: Layer): Stack {
	const known = alone.get(model) ?? new Map<string, Stack>();
	alone.set(model, known);
	let stack = known.get(layer.id);
	if (!stack) known.set(layer.id, (stack = buildStack([layer], model.stack.guide, model.stack.pool)));
	return stack;
}

async function have(model: Model, { kind, id, source }: Wanted): Promise<Had | null> {
	const layer = model.stack.layers.find((candidate) => candidate.id === source);
	const beside = source === '' || layer ? null : await besideStack(model, source);
	const stack = beside?.stack ?? (layer ? layerAlone(model, layer) : source === '' ? model.stack : null);
	const record = stack?.tables.get(kind)?.byId.get(id);
	if (!stack || !record) return null;
	return {
		record,
		stack,
		values: new Map([...record.values].map(([path, { value }]) => [path, value])),
		title: beside?.title ?? layer?.title ?? 'as the game sees it',
		mine: isEditable(layer)
	};
}

/** The comparison that an address asks for: fields that differ first. */
export async function compareOf(model: Model, keys: string[]): Promise<CompareView> {
	const asked = [...new Set(keys)].slice(0, MOST_COMPARED).map(wantedBy);
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
		const layers = model.stack.layers.filter((layer) =>
			layerAlone(model, layer).tables.get(one.kind)?.byId.has(one.id)
		);
		columns.push({
			key: one.key,
			kind: one.kind,
			id: one.id,
			name: displayName(
				model.stack.tables.get(one.kind)?.byId.has(one.id) ? model.stack : own.stack,
				own.record
			),
			source: one.source,
			sourceTitle: own.title,
			mine: own.mine,
			effective: one.source === '',
			sources: [
				{ key, title: 'as the game sees it' },
				...layers.map(({ id, title }) => ({ key: `${key}@${id}`, title })),
				...beside.map((row) => ({
					key: `${key}@${row.id}`,
					title: `${row.title}, ${row.version || `imported ${row.importedAt.slice(0, 10)}`}`
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
			const own = guides.find((guide) => fieldOf(guide, path));
			const about = fieldOf(own, path);
			const cells = had.map(({ values }) => values.get(path) ?? null);
			return {
				path,
				title: titleOf(own, path),
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
