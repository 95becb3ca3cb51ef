// What stands on the maps of the game as the game does not take it: outside of the map, in the ground, on top of another,
// without a way.
import KDBush from 'kdbush';
import { fieldOf, isPattern } from '../guide';
import {
	groundAt,
	isInGround,
	linkedKinds,
	mapOf,
	mapsOf,
	meet,
	mendingLink,
	strayIn,
	type PlaceMap,
	type Thing
} from '../places';
import type { EffectiveRecord, Presence, Stack } from '../stack';
import { snagAt, type Rule, type Scene, type Snag } from './snag';

/** The maps of a stack that somebody spoke of: what was only found is not held against anything. */
const saidMaps = (stack: Stack): PlaceMap[] =>
	Object.entries(stack.guide.places ?? {}).flatMap(([kind, { found }]) =>
		found ? [] : mapsOf(stack, kind).flatMap((id) => mapOf(stack, kind, id) ?? [])
	);

interface Standing {
	map: PlaceMap;
	thing: Thing;
	record: EffectiveRecord;
	presence: Presence;
}

/** Things that are looked at in one step. */
const AT_ONCE = 200;

/** The things of all maps for which something is so, with their records; null for every step without one. */
function* standingWhere(
	{ stack }: Scene,
	is: (map: PlaceMap, thing: Thing) => boolean
): Generator<Standing | null> {
	for (const map of saidMaps(stack))
		for (const [nth, thing] of map.things.entries()) {
			if (nth % AT_ONCE === 0) yield null;
			if (!is(map, thing)) continue;
			const record = stack.tables.get(thing.kind)!.record(thing.row);
			yield { map, thing, record, presence: record.presences.at(-1)! };
		}
}

const aboutOf = (map: PlaceMap, { kind }: Thing) => map.guide.things.find((one) => one.kind === kind)!;

/** The limits that the guide states for a field by itself: what is beyond them is told there. */
const isLimited = ({ stack }: Scene, kind: string, path: string): boolean => {
	const field = fieldOf(stack.guide.kinds[kind], path);
	return field?.min !== undefined && field.max !== undefined;
};

function isBeyond({ guide }: PlaceMap, thing: Thing, axis: 'x' | 'y'): boolean {
	const value = thing[axis];
	return value === null || value < guide[axis][0] || value > guide[axis][1];
}

/** Something that stands outside of its map, or nowhere. */
export const offTheMap: Rule = {
	id: 'off-the-map',
	title: 'Outside of the map',
	reads: ['records'],
	*find(scene) {
		for (const found of standingWhere(
			scene,
			(map, thing) => isBeyond(map, thing, 'x') || isBeyond(map, thing, 'y')
		)) {
			if (!found) {
				yield null;
				continue;
			}
			const { map, thing, record, presence } = found;
			const about = aboutOf(map, thing);
			for (const axis of ['x', 'y'] as const) {
				const value = thing[axis];
				const [low, high] = map.guide[axis];
				if (!isBeyond(map, thing, axis)) continue;
				if (value !== null && isLimited(scene, thing.kind, about[axis])) continue;
				yield snagAt(scene.stack, record, presence, {
					rule: 'off-the-map',
					severity: 'warns',
					field: about[axis],
					message:
						value === null
							? `It has no place on the map: “${about[axis]}” must be a number (line ${presence.line}).`
							: `It stands outside of the map: ${about[axis]} is ${value}, and the map goes from ${low} to ${high} (line ${presence.line}).`,
					repairable: false
				});
			}
		}
	}
};

function isBuried({ ground, guide }: PlaceMap, { x, y, z }: Thing): boolean {
	if (!ground || x === null || y === null || z === null) return false;
	const there = groundAt(ground, guide, x, y);
	return there !== null && isInGround(guide, there, z);
}

/** Something that is in the ground of its map. */
export const inTheGround: Rule = {
	id: 'in-the-ground',
	title: 'In the ground',
	reads: ['records', 'files'],
	*find(scene) {
		for (const found of standingWhere(scene, isBuried)) {
			if (!found) {
				yield null;
				continue;
			}
			const { map, thing, record, presence } = found;
			const ground = groundAt(map.ground!, map.guide, thing.x!, thing.y!)!;
			const { says, unit = '' } = map.guide.ground!;
			const field = aboutOf(map, thing).z!;
			const title = fieldOf(scene.stack.guide.kinds[thing.kind], field)?.title ?? field;
			yield snagAt(scene.stack, record, presence, {
				rule: 'in-the-ground',
				severity: 'warns',
				field,
				message:
					`${title} is ${thing.z}, and the ${says === 'depth' ? 'ground is at' : 'ground rises to'} ${Math.round(ground * 100) / 100} ${unit} there (line ${presence.line}).`.replace(
						/ +/g,
						' '
					),
				repairable: false
			});
		}
	}
};

/** The field by which a thing leads to others, or the list of them, where it is one of its own. */
function fieldThatLeads({ guide, links }: PlaceMap, { kind, id }: Thing): { field?: string } {
	const to = guide.things.find((one) => one.kind === kind)?.to;
	if (to === undefined) return {};
	const said = isPattern(to) ? links.find((link) => link.kind === kind && link.id === id)?.field : to;
	return { field: said ?? to.replace(/\.?[[*].*$/, '') };
}

/** Something that stands closer to another of its kind than they must be apart, while both are there. */
export const onTop: Rule = {
	id: 'on-top',
	title: 'On top of another',
	reads: ['records'],
	*find({ stack }) {
		for (const map of saidMaps(stack))
			for (const { kind, apart } of map.guide.things) {
				if (apart === undefined) continue;
				const own = map.things.filter((thing) => thing.kind === kind && thing.x !== null && thing.y !== null);
				const index = new KDBush(own.length);
				for (const { x, y } of own) index.add(x!, y!);
				index.finish();
				for (const [nth, thing] of own.entries()) {
					if (nth % AT_ONCE === 0) yield null;
					const far = (other: Thing) => Math.hypot(other.x! - thing.x!, other.y! - thing.y!);
					const [other] = index
						.within(thing.x!, thing.y!, apart)
						.filter((at) => at !== nth && far(own[at]!) < apart && meet(map.guide.days, thing, own[at]!))
						.map((at) => own[at]!)
						.sort((a, b) => far(a) - far(b));
					if (!other) continue;
					const record = stack.tables.get(kind)!.record(thing.row);
					const presence = record.presences.at(-1)!;
					yield snagAt(stack, record, presence, {
						rule: 'on-top',
						severity: 'warns',
						field: aboutOf(map, thing).x,
						message: `It stands ${Math.round(far(other) * 100) / 100} from \`${other.id}\`; two of these must be at least ${apart} apart (line ${presence.line}).`,
						repairable: false
					});
				}
			}
	}
};

/** Points for which the shortest link that would mend it is looked for: all pairs are compared. */
const MOST_SOUGHT = 20;

/** What no links lead to the goal of its map, or none lead to from its start; with what would mend it. */
function* strays(
	{ stack }: Scene,
	of: 'cut' | 'lost',
	told: (map: PlaceMap, thing: Thing, line: number) => Pick<Snag, 'rule' | 'message'> & { field?: string }
): ReturnType<Rule['find']> {
	let sought = 0;
	for (const map of saidMaps(stack)) {
		const end = of === 'cut' ? map.goal : map.start;
		if (end === null) continue;
		for (const kind of linkedKinds(stack, map.guide)) {
			const { network, ...stray } = strayIn(map, kind);
			for (const [nth, thing] of map.things.entries()) {
				if (nth % AT_ONCE === 0) yield null;
				if (thing.kind !== kind || !stray[of].has(thing.id)) continue;
				const record = stack.tables.get(kind)!.record(thing.row);
				const presence = record.presences.at(-1)!;
				const [from, to] = of === 'cut' ? [thing.id, end] : [end, thing.id];
				const mend = sought++ < MOST_SOUGHT ? mendingLink(network, from, [to]) : null;
				const { message, ...about } = told(map, thing, presence.line);
				const would = mend ? ` The shortest link that would: from ${mend.from} to ${mend.to}.` : '';
				yield snagAt(stack, record, presence, {
					...about,
					severity: 'warns',
					message: message + would,
					repairable: false
				});
			}
		}
	}
}

/** Something from which nothing leads to the goal of its map any more. */
export const leadsNowhere: Rule = {
	id: 'leads-nowhere',
	title: 'No way to the goal',
	reads: ['records'],
	find: (scene) =>
		strays(scene, 'cut', (map, thing, line) => ({
			rule: 'leads-nowhere',
			...fieldThatLeads(map, thing),
			message: `Nothing leads from here to \`${map.goal}\` (line ${line}).`
		}))
};

/** Something to which nothing leads from the start of its map. */
export const neverReached: Rule = {
	id: 'never-reached',
	title: 'No way from the start',
	reads: ['records'],
	find: (scene) =>
		strays(scene, 'lost', ({ start }, _, line) => ({
			rule: 'never-reached',
			message: `Nothing leads here from \`${start}\` (line ${line}).`
		}))
};
