// All that files alone tell of a game, put together: what an earlier finding said and still holds is the same object.
import { addTo, inOneGo } from '../gather';
import { claimOf, ID, type FieldGuide, type Guide, type KindGuide } from '../guide';
import type { Pool } from '../facts';
import { formatOf, type Layout } from '../formats';
import { coversOf } from './covers';
import { assetsOf, textsOf } from './derived';
import { fieldsOf } from './fields';
import type { DataFile, Group, Scope } from './group';
import { groupSteps, splitGroup } from './kinds';
import { positionalIn } from './layouts';
import { inheritsIn } from './inherits';
import { pairsIn } from './pairs';
import { ownersOf, type Owners } from './owners';
import { letValuesGo } from './match';
import { placesIn } from './places';
import { scriptsIn } from './scripts';
import { nameIn, referredBy } from './shown-names';
import { finding } from './sure';
import { twinsIn } from './twins';
import { letPlacesGo, sketchOf } from './sketch';
import { isKept } from './together';

const titleOf = (name: string) => name.replace(/[_.-]+/g, ' ').replace(/^./, (first) => first.toUpperCase());

/** Where the records of a kind stand that people described without saying so: as the files have it. */
const placed = ({ said, at, files }: Group): KindGuide =>
	said!.at === undefined &&
	at !== undefined &&
	files.every(({ facts }) => formatOf(facts.format!)?.traits.nested)
		? { ...said!, at }
		: said!;

/** How files are written of which neither their endings nor people say it. */
function writtenOf({ files }: Group): Pick<KindGuide, 'written'> {
	const told = files.flatMap(({ facts }) => facts.told ?? []);
	const [first] = told;
	if (!first) return {};
	if (first.layout?.shape !== 'tagged')
		return { written: first.layout ? { layout: first.layout } : { format: first.format } };
	const texts = told.flatMap(({ layout }) => (layout?.shape === 'tagged' ? layout.texts : []));
	return { written: { layout: { ...first.layout, texts: [...new Set(texts)] } } };
}

/** A kind without fields, as it is known from its files. */
const bare = (group: Group): KindGuide =>
	group.said
		? placed(group)
		: {
				title: titleOf(group.kind),
				files: group.globs,
				...(group.key === null ? {} : { key: group.key }),
				...(group.keyParts ? { keyParts: [...group.keyParts] } : {}),
				...(group.severalIds ? { severalIds: true } : {}),
				...(group.id ? { id: group.id } : {}),
				...(group.at === undefined ? {} : { at: group.at }),
				...writtenOf(group),
				...(group.except === undefined ? {} : { except: [...group.except] }),
				...(group.element === undefined ? {} : { element: group.element }),
				...(group.where === undefined ? {} : { where: { ...group.where, is: [...group.where.is] } }),
				merge: 'file',
				fault: 'refuses',
				limits: {},
				groups: [],
				texts: [],
				fields: {},
				inferred: true,
				found: finding(
					group.files.length > 1 ? 0.95 : 0.8,
					`${group.because.charAt(0).toUpperCase()}${group.because.slice(1)}.`
				)
			};

/** Groups that are named file by file are cut in one for each file. */
function cutUp(groups: readonly Group[], pool: Pool): Group[] {
	const candidates = groups.filter(
		({ said, id, texts, files }) => !said && !id && !texts && files.length > 1 && files.length <= 12
	);
	if (candidates.length === 0) return [...groups];
	const fileOf = new Map<number, [Group, number][]>();
	for (const group of candidates)
		group.files.forEach(({ facts }, nth) => {
			for (const id of new Set(facts.ids)) addTo(fileOf, id, [group, nth]);
		});
	const named = new Map<Group, Set<number>>();
	for (const group of groups)
		for (const column of group.sketch.columns.values()) {
			if (column.values.length < 4) continue;
			const hits = new Map<Group, Set<number>>();
			let all = 0;
			for (const value of column.values) {
				if (!Number.isNaN(pool.number(value))) continue;
				const own = fileOf.get(value);
				if (own) all++;
				for (const [target, nth] of own ?? [])
					if (target !== group) hits.set(target, (hits.get(target) ?? new Set()).add(nth));
			}
			if (all < column.values.length * 0.8) continue;
			for (const [target, files] of hits) {
				if (files.size !== 1) continue;
				const [nth] = files;
				if (target.files[nth!]!.facts.count > target.sketch.count * 0.8) continue;
				named.set(target, (named.get(target) ?? new Set()).add(nth!));
			}
		}
	const names = new Set(groups.map(({ kind }) => kind));
	const apart = groups
		.filter((group) => (named.get(group)?.size ?? 0) > 1)
		// The one that lies highest takes the plain names.
		.sort((a, b) => a.globs[0]!.split('/').length - b.globs[0]!.split('/').length);
	const parts = new Map(apart.map((group) => [group, splitGroup(group, names)]));
	return groups.flatMap((group) => parts.get(group) ?? [group]);
}

/** Says of groups whose files all follow files of another that they are its twins. */
function pairUp(groups: Group[], twins: ReturnType<typeof twinsIn>): Group[] {
	const names = new Set(groups.map(({ kind }) => kind));
	const owner = (list: readonly Group[]) =>
		new Map(list.flatMap((group) => group.files.map(({ path }) => [path, group] as const)));
	const before = owner(groups);
	const targets = (group: Group) =>
		group.files
			.map(({ path }) => before.get(twins.get(path)?.of ?? ''))
			.filter((target) => target !== undefined);
	// A group that follows several is cut as they are.
	const cut = groups.flatMap((group) =>
		!group.said &&
		group.files.length > 1 &&
		new Set(targets(group)).size > 1 &&
		targets(group).length === group.files.length
			? splitGroup(group, names)
			: [group]
	);
	const after = owner(cut);
	for (const group of cut) {
		const followed = group.files.map(({ path }) => after.get(twins.get(path)?.of ?? ''));
		if (followed[0] && followed[0] !== group && followed.every((target) => target === followed[0]))
			group.twinOf = followed[0];
	}
	return cut;
}

/** Pairs that name each other are said once, from the kind with fewer records, fewer fields or the later name. */
function oneWay(kinds: Record<string, KindGuide>, counts: ReadonlyMap<string, number>): void {
	for (const [kind, { fields }] of Object.entries(kinds)) {
		const target = fields[ID]?.reference?.kinds[0];
		const back = target && kinds[target]?.fields[ID]?.reference?.kinds[0];
		if (!target || back !== kind || !fields[ID]!.found) continue;
		const [own, other] = [kind, target].map((name) => Object.keys(kinds[name]!.fields).length) as [
			number,
			number
		];
		const [records, others] = [counts.get(kind)!, counts.get(target)!];
		const later = records !== others ? records > others : own !== other ? own > other : kind < target;
		if (later) delete fields[ID];
	}
}

/** Says where records have their shown names themselves, now that it is known by what all kinds refer to each other. */
function nameAll(
	groups: readonly Group[],
	kinds: Record<string, KindGuide>,
	{ freeOnly }: Scope,
	words: string | undefined
): void {
	const by = referredBy(kinds);
	for (const group of groups) {
		if ((freeOnly && group.said) || group.texts || group.twinOf) continue;
		const kind = kinds[group.kind]!;
		if (kind.name || kind.not?.includes('name') || kind.texts.some(({ name }) => name)) continue;
		const name = nameIn(group, kind.fields, by.get(group.kind), words);
		if (name) kinds[group.kind] = { ...kind, name };
	}
}

/** Kinds that were found before, by their text: what is found again is the same object. */
const before = new WeakMap<Guide, Map<string, [string, KindGuide]>>();

function settled(guide: Guide, name: string, kind: KindGuide): KindGuide {
	let known = before.get(guide);
	if (!known) before.set(guide, (known = new Map()));
	const text = JSON.stringify(kind);
	const old = known.get(name);
	if (old?.[0] === text) return old[1];
	known.set(name, [text, kind]);
	return kind;
}

/** A guide that was found before and kept: what is found again from the same files is the same object from now on. */
export function recalled(guide: Guide, found: Guide): Guide {
	const kinds: Record<string, KindGuide> = {};
	for (const [name, kind] of Object.entries(found.kinds)) {
		const said = guide.kinds[name];
		kinds[name] = said && JSON.stringify(said) === JSON.stringify(kind) ? said : settled(guide, name, kind);
	}
	return { ...found, kinds };
}

/** Files that nobody claims, as tables by position where they look like it: their facts then, and their layouts by path. */
function positionalsIn(
	guide: Guide,
	files: readonly DataFile[]
): { read: DataFile[]; layouts: Map<string, Layout> } {
	const layouts = new Map<string, Layout>();
	const free = files.filter(({ path, facts }) => facts.format === null && !claimOf(guide, path));
	const pairs = pairsIn(free);
	const unread = new Set(free);
	const read = files.map((file): DataFile => {
		const found = pairs.get(file) ?? (unread.has(file) ? positionalIn(file.facts) : null);
		if (!found) return file;
		layouts.set(file.path, found.layout);
		return { path: file.path, facts: found.facts };
	});
	return { read, layouts };
}

/** What is found besides the kinds themselves. */
interface Ground {
	owners: Owners;
	groups: readonly Group[];
	asked: Scope;
	twins: ReturnType<typeof twinsIn>;
	/** Files that somebody said are twins. */
	saidTwins: ReadonlySet<string>;
	keys: ReadonlyMap<string, KindGuide['texts']>;
	assets: ReturnType<typeof assetsOf>;
	layouts: ReadonlyMap<string, Layout>;
}

/** Who inherits from whom comes to an end: the field that says so, as a reference that must. */
function endingChain(
	group: Group,
	from: FieldGuide,
	found: NonNullable<KindGuide['inherits']>['found']
): FieldGuide {
	const { reference, ...told } = from;
	return reference
		? { ...from, reference: { ...reference, ends: true } }
		: {
				...told,
				type: 'reference',
				found,
				reference: { kinds: [group.kind], none: [], found, ends: true }
			};
}

/** Everything found of a kind, under what people said of it. */
function* kindFrom(group: Group, ground: Ground): Generator<void, KindGuide> {
	const { owners, groups, asked, twins, saidTwins, keys, assets, layouts } = ground;
	const fields = group.twinOf ? {} : yield* fieldsOf(group, owners, groups, asked);
	const layout = layouts.get(group.files[0]!.path);
	const kind = { ...bare(group), ...(layout ? { written: { layout } } : {}) };
	const not = (part: NonNullable<KindGuide['not']>[number]) => kind.not?.includes(part) ?? false;
	const own = group.files.flatMap(({ path }) => (saidTwins.has(path) ? [] : (twins.get(path) ?? [])));
	const covers = kind.covers ?? (group.twinOf || not('covers') ? [] : coversOf(group));
	const named = new Set(Object.values({ ...kind.fields, ...fields }).map(({ derive }) => derive));
	const files = (assets.get(group.kind) ?? []).filter(({ path }) => !named.has(path));
	const inherits =
		kind.inherits ??
		(group.twinOf || not('inherits') ? null : inheritsIn(group, { ...kind.fields, ...fields }));
	const chain = inherits?.found && fields[inherits.from];
	if (chain) fields[inherits.from] = endingChain(group, chain, inherits.found);
	return {
		...kind,
		...(inherits ? { inherits } : {}),
		fields: { ...kind.fields, ...fields },
		texts: kind.texts.length > 0 || group.twinOf || not('texts') ? kind.texts : (keys.get(group.kind) ?? []),
		...(own.length > 0 && !kind.twins && !not('twins') ? { twins: own } : {}),
		...(covers.length > 0 ? { covers } : {}),
		...(files.length > 0 && !kind.assets && !not('assets') ? { assets: files } : {})
	};
}

/**
 * The guide with everything that the files tell and nobody has stated: kinds, types, references, texts, files, twins,
 * counters, ranges, maps, names in scripts. Each statement that was found says how sure it is and why. Yields now and
 * then, so that others get their turn.
 */
export function* inferSteps(guide: Guide, files: readonly DataFile[], asked: Scope): Generator<void, Guide> {
	const [first] = files;
	if (!first) return guide;
	const { pool } = first.facts;
	for (const { facts } of files) {
		if (!isKept(facts)) continue;
		sketchOf(facts);
		yield;
	}
	const { read, layouts } = positionalsIn(guide, files);
	yield;
	const { groups: told, languages } = yield* groupSteps(guide, read);
	yield;
	letPlacesGo();
	const twins = twinsIn(files);
	yield;
	const groups = pairUp(cutUp(told, pool), twins);
	yield;
	const owners = ownersOf(groups, pool);
	const kinds: Record<string, KindGuide> = { ...guide.kinds };
	const counts = new Map<string, number>();
	const texts = groups.find((group) => group.texts);
	const keys = texts ? textsOf(texts, owners) : new Map<string, KindGuide['texts']>();
	yield;
	const saidTwins = new Set(
		Object.values(guide.kinds).flatMap((kind) => (kind.twins ?? []).map(({ file }) => file))
	);
	const assets = assetsOf(asked.paths, groups, owners);
	yield;
	const ground: Ground = { owners, groups, asked, twins, saidTwins, keys, assets, layouts };
	for (const group of groups) {
		if (asked.freeOnly && group.said) continue;
		counts.set(group.kind, group.sketch.count);
		kinds[group.kind] = yield* kindFrom(group, ground);
		// Hardly any other kind needs them again.
		letPlacesGo();
		yield;
	}
	oneWay(kinds, counts);
	nameAll(groups, kinds, asked, texts?.kind);
	const places = asked.freeOnly ? {} : yield* placesIn(groups, kinds, guide);
	letPlacesGo();
	letValuesGo();
	const scripts = guide.scripts ?? (yield* scriptsIn(files, owners));
	for (const group of groups) {
		yield;
		const kind = kinds[group.kind]!;
		if (kind !== guide.kinds[group.kind]) kinds[group.kind] = settled(guide, group.kind, kind);
	}
	// What a mod adds to known kinds tells nothing: the guide stays the same object.
	const same =
		Object.keys(kinds).every((kind) => kinds[kind] === guide.kinds[kind]) &&
		!(languages && texts) &&
		Object.keys(places).length === 0 &&
		(scripts.length === 0 || scripts === guide.scripts);
	if (same) return guide;
	return {
		...guide,
		...(languages && texts
			? { words: { kind: texts.kind, languages: languages.languages, main: languages.main } }
			: {}),
		kinds,
		...(Object.keys(places).length > 0 ? { places: { ...guide.places, ...places } } : {}),
		...(scripts.length > 0 ? { scripts } : {})
	};
}

/** The same, in one go. */
export const infer = (guide: Guide, files: readonly DataFile[], asked: Scope): Guide =>
	inOneGo(inferSteps(guide, files, asked));
