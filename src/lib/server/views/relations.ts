// How a record stands to others: what is like it, what names it, and which values its fields take elsewhere.
import { linksAround, mentionsOf, notLookedInto, usesOf } from '$core/links';
import { columnSpread, valuesTaken } from '$core/numbers';
import { fieldOf, meaningOf, titleOf } from '$core/guide';
import { mostLike } from '$core/search';
import {
	isEditable,
	buildStack,
	displayName,
	valueOf,
	recordNamed,
	type EffectiveRecord,
	type Stack
} from '$core/stack';
import type { AlikeView, AroundView, TakenView } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** A record by kind and id. @throws NotThere */
export function recordIn({ stack }: Model, kind: string, id: string): EffectiveRecord {
	const table = stack.tables.get(kind);
	const record = table?.byId.get(id);
	if (!record)
		throw new NotThere(`No record of the kind “${table?.guide.title ?? kind}” has the id “${id}”.`);
	return record;
}

/** Fields that are named of what differs. */
const NAMED = 5;

/** The records most like one, with what differs. @throws NotThere */
export function alikeOf(model: Model, kind: string, id: string): AlikeView[] {
	const record = recordIn(model, kind, id);
	const { guide } = record.table;
	return mostLike(record).map(({ row, likeness, differs }) => {
		const other = record.table.record(row);
		return {
			kind,
			id: other.id,
			name: displayName(model.stack, other),
			likeness,
			differs: differs.slice(0, NAMED).map((path) => ({
				title: titleOf(guide, path),
				here: valueOf(record, path) ?? '',
				there: valueOf(other, path) ?? ''
			})),
			more: Math.max(0, differs.length - NAMED)
		};
	});
}

/** Records of a graph that can still be distinguished. */
const MOST_NODES = 60;

/** Who names a record and whom it names, over some steps. @throws NotThere */
export function aroundOf(model: Model, kind: string, id: string, depth: number): AroundView {
	const record = recordIn(model, kind, id);
	const { guide } = model.stack;
	const { nodes, edges, more } = linksAround(model.links, record, depth, MOST_NODES);
	return {
		kind,
		id,
		name: displayName(model.stack, record),
		kindTitle: guide.kinds[kind]!.title,
		nodes: nodes.map(({ place, record: own, far }) => ({
			place,
			far,
			kind: own.kind,
			kindTitle: guide.kinds[own.kind]!.title,
			id: own.id,
			name: displayName(model.stack, own),
			uses: usesOf(model.links, own)
		})),
		edges: edges.map((edge) => {
			const from = nodes.find((node) => node.place === edge.from)!.record;
			return { ...edge, field: fieldOf(guide.kinds[from.kind], edge.field)?.title ?? edge.field };
		}),
		more,
		mentions: mentionsOf(model.stack, id),
		unseen: notLookedInto(model.stack)
	};
}

/** Values that are listed at a time. */
const MOST_VALUES = 300;

const below = new WeakMap<Model, Stack>();

/** The stack without my mod: the base and whatever of others lies on it. */
export function stackBelow(model: Model): Stack {
	let stack = below.get(model);
	if (!stack) {
		const layers = model.stack.layers.filter((layer) => !isEditable(layer));
		below.set(model, (stack = buildStack(layers, model.stack.guide, model.stack.pool)));
	}
	return stack;
}

/** All values that a field takes in the layers below my mod, or with it. @throws NotThere */
export function takenOf(
	model: Model,
	kind: string,
	path: string,
	{ filter, withMine }: { filter: string; withMine: boolean }
): TakenView {
	const isMine = model.stack.tables.get(kind)?.files.some(({ layer }) => isEditable(layer)) ?? false;
	const table = (withMine || !isMine ? model.stack : stackBelow(model)).tables.get(kind);
	if (!table) throw new NotThere(`There is no kind “${kind}” in this project.`);
	if (!table.columns.includes(path)) throw new NotThere(`${table.guide.title} has no field “${path}”.`);
	const field = fieldOf(table.guide, path);
	const all = valuesTaken(table, path);
	const passing =
		filter === '' ? all : all.filter(({ value }) => value.toLowerCase().includes(filter.toLowerCase()));
	const targets = field?.reference?.kinds ?? [];
	return {
		kind,
		kindTitle: table.guide.plural ?? table.guide.title,
		path,
		title: field?.title ?? path,
		unit: field?.unit ?? null,
		meaning: field?.meaning ?? null,
		spread: columnSpread(table, path),
		records: table.count,
		filled: all.reduce((sum, taken) => sum + (taken.value === '' ? 0 : taken.count), 0),
		different: all.length,
		passing: passing.length,
		mine: isMine ? (withMine ? 'counted' : 'left out') : 'none',
		coded:
			!field?.reference && (field?.codes !== undefined || field?.type === 'code') && field?.type !== 'flags',
		values: passing.slice(0, MOST_VALUES).map((taken) => {
			const target = targets
				.map((name) => recordNamed(model.stack.tables.get(name), taken.value, field?.reference?.key))
				.find(Boolean);
			return {
				value: taken.value,
				count: taken.count,
				means: target ? displayName(model.stack, target) : meaningOf(field, taken.value),
				by: taken.rows.map((row) => {
					const record = table.record(row);
					return { kind, id: record.id, name: displayName(model.stack, record) };
				})
			};
		})
	};
}
