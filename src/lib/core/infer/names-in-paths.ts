// Names of maps that are ids of records.
import { addTo, largest } from '../gather';
import type { Owners } from './owners';
import { isPlace } from './open-maps';
import { sketchOfAll, type Column } from './sketch';
import { finding, listed, said } from './sure';
import type { Group } from './group';
import { ENOUGH, FEW, ALIKE, type FoundReference, kindOf, matches, best, surely } from './match';

/** Names of a map of which nearly every record has all. */
const FIXED = 12;

/** Behind the path of a map whose names have dots in them. */
const DOTTED = '\n**';

/** Paths that are looked at in one step. */
const STEP = 1000;

/** Maps with names that are ids with dots in them: `tools.forge.tongs` for the map `tools` and the id `forge.tongs`. */
function* dotted(columns: Iterable<Column>, owners: Owners): Generator<void, Map<string, Column[]>> {
	const found = new Map<string, Column[]>();
	const splits = [...columns].flatMap((column) => {
		const { path } = column;
		if (path.endsWith(']')) return [];
		const dots = [...path.matchAll(/\./g)].map(({ index }) => index).slice(0, -1);
		return dots.map((dot) => ({ column, map: path.slice(0, dot), name: path.slice(dot + 1) }));
	});
	for (const [nth, { map, name }] of splits.entries()) {
		if (nth % STEP === STEP - 1) yield;
		const text = owners.pool.find(name);
		if (text >= 0 && owners.of(text).length > 0) found.set(map, []);
	}
	for (const { map, column } of splits) found.get(map)?.push(column);
	return found;
}

/**
 * Names in paths that are ids: `ends.rescued` and `ends.lost` for the map `ends`. One finding for each map. In steps.
 */
export function* namesInPaths(group: Group, owners: Owners): Generator<void, Map<string, FoundReference>> {
	const found = new Map<string, FoundReference>();
	const maps = new Map<string, Column[]>();
	const whole = sketchOfAll(group.files);
	yield;
	for (const column of whole.columns.values()) {
		const path = column.path.replace(/(?:\[\])+$/, '');
		const dot = path.lastIndexOf('.');
		if (dot === 0 || (dot < 0 && !group.sketch.columns.has(`*${column.path.slice(path.length)}`))) continue;
		const map = dot < 0 ? '' : path.slice(0, dot);
		if (isPlace(path.slice(dot + 1))) continue;
		addTo(maps, map, { ...column, path });
	}
	yield;
	for (const [map, columns] of yield* dotted(whole.columns.values(), owners))
		maps.set(`${map}${DOTTED}`, columns);
	for (const [place, columns] of maps) {
		yield;
		const hasDots = place.endsWith(DOTTED);
		const map = hasDots ? place.slice(0, -DOTTED.length) : place;
		if (columns.length < 2) continue;
		const values = columns.flatMap(({ path, cells }) => {
			const text = owners.pool.find(path.slice(map === '' ? 0 : map.length + 1));
			return text < 0 ? [] : [{ text, count: cells }];
		});
		const cells = columns.reduce((sum, column) => sum + column.cells, 0);
		// Names that nearly every record has are parts of it, whatever else is called so; but parts have no dots in them.
		const most = largest(columns.map(({ records }) => records));
		if (!hasDots && columns.length <= FIXED && cells >= most * columns.length * 0.8) continue;
		const match = best(
			matches(group, map, values, owners, owners.of).filter(
				(candidate) =>
					!candidate.ids.group.texts &&
					!candidate.ids.numeric &&
					candidate.ids.by === undefined &&
					candidate.cells >= cells * ENOUGH &&
					(candidate.distinct >= FEW || candidate.like >= ALIKE)
			),
			cells
		);
		if (!match) continue;
		const others = columns
			.map(({ path }) => path.slice(map === '' ? 0 : map.length + 1))
			.filter((name) => !owners.of(Math.max(0, owners.pool.find(name))).includes(match.ids.nth));
		found.set(map === '' ? '*' : `${map}.${hasDots ? '**' : '*'}`, {
			kinds: [kindOf(match.ids)],
			none: [],
			names: true,
			found: finding(
				surely(match, cells),
				`${said(match.distinct)} of ${said(columns.length)} names in ${map} are ids of ${kindOf(match.ids)}${others.length > 0 ? `; the others: ${listed(others)}` : ''}.`
			)
		});
	}
	return found;
}
