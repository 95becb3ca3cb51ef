// What follows from the id of a record: a value of its own, its texts, its files.
import { addTo } from '../gather';
import { fillPattern, inCapitals, type AssetGuide, type TextGuide } from '../guide';
import type { Pool } from '../facts';
import { cellsOf } from './columns';
import type { Ids, Owners } from './owners';
import { affixesBy, affixesIn, type Affix } from './affixes';
import type { Column } from './sketch';
import { atLeast, finding, said } from './sure';
import { nameOfRecord, type Group } from './group';

/** Cells after which it is seen whether a column may follow from the id. */
const EARLY = 60;

/** The pattern by which a value follows from the id of its record, e.g. `item.{id}`; null where it does not. */
export function derivedFrom(
	group: Group,
	column: Column,
	owners: Owners
): { pattern: string; found: ReturnType<typeof finding> } | null {
	if (column.path.includes('[]') || column.filled < 3) return null;
	const votes = new Map<string, number>();
	let all = 0;
	let fit = 0;
	cellsOf(group, column.path, (value, file, nth) => {
		if (value === 0) return;
		// Most columns do not, which shows soon.
		if (++all > EARLY && fit < all / 2) return false;
		const text = owners.pool.at(value);
		const id = nameOfRecord(group, file, nth);
		const at = id.length < 2 ? -1 : text.indexOf(id);
		if (at < 0) return;
		fit++;
		const pattern = `${text.slice(0, at)}{id}${text.slice(at + id.length)}`;
		votes.set(pattern, (votes.get(pattern) ?? 0) + 1);
	});
	const [first] = [...votes].sort((a, b) => b[1] - a[1]);
	if (!first || first[1] < all * 0.9) return null;
	const [pattern, hits] = first;
	return {
		pattern,
		found: finding(atLeast(hits, all), `${said(hits)} of ${said(all)} values are “${pattern}”.`)
	};
}

const tidy = (text: string) => text.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');
const asTitle = (text: string) => {
	const words = tidy(text).replace(/[_.\-/]+/g, ' ');
	return words === '' ? 'Name' : words.charAt(0).toUpperCase() + words.slice(1);
};

const NAMES = /^(name|title|label|shown|display|full|long)?$/i;

/** Keys that are looked through for how ids are in them; of each first and last part of keys, and of all. */
const OF_A_PART = 200;
const MOST_PARTS = 200;
const OF_ALL = 5000;

/** Some keys, so that each sort of them is among these. */
function someKeys(ids: Int32Array, pool: Pool): Set<string> {
	const some = new Set<string>();
	const step = Math.max(1, ids.length / OF_ALL);
	for (let at = 0; at < ids.length; at += step) some.add(pool.at(ids[Math.floor(at)]!));
	if (step === 1) return some;
	for (const part of [/^[\p{L}\p{N}]+/u, /[\p{L}\p{N}]+$/u]) {
		const byPart = new Map<string, number>();
		for (const id of ids) {
			const key = pool.at(id);
			const name = part.exec(key)?.[0] ?? '';
			const times = byPart.get(name) ?? 0;
			if (times === 0 && byPart.size >= MOST_PARTS) break;
			byPart.set(name, times + 1);
			if (times < OF_A_PART) some.add(key);
		}
	}
	return some;
}

const known = new WeakMap<object, Map<string, TextGuide[]>>();

/** The texts that belong to the records of each kind, by patterns of their keys. */
export function textsOf(texts: Group, owners: Owners): Map<string, TextGuide[]> {
	let found = known.get(owners.epoch);
	if (!found) known.set(owners.epoch, (found = readTexts(texts, owners)));
	return found;
}

/** Keys of a sort that are looked at. */
const LOOKED_AT = 40;

/** Tells of a pattern of keys whether most of its texts are sentences: what is said, and no name. */
function sentences({ files }: Group): (key: string, ids: Int32Array) => boolean {
	const texts = new Map<number, number>();
	for (const { facts } of files)
		facts.ids.forEach((id, nth) => {
			const [first, next] = [facts.firsts[nth]!, facts.firsts[nth + 1]!];
			if (next > first && !texts.has(id)) texts.set(id, facts.values[next - 1]!);
		});
	const { pool } = files[0]!.facts;
	return (key, ids) => {
		let [some, ends] = [0, 0];
		for (const id of ids) {
			const text = texts.get(pool.find(fillPattern(key, () => pool.at(id))!));
			if (text === undefined) continue;
			if (/\s/.test(pool.at(text)) && /[.!?…。！？]["'”»」]?$/u.test(pool.at(text))) ends++;
			if (++some === LOOKED_AT) break;
		}
		return ends > some / 2;
	};
}

const CAPITALS = inCapitals('id');

/** The texts of kinds whose keys have the ids in capitals, where the ids are not written so: `UNIT_OAK_NAME` of `oak`. */
function inCapitalsOf({ ids: keys, nth: own }: Ids, owners: Owners): { kind: string; text: TextGuide }[] {
	const { pool, list } = owners;
	const some = [...someKeys(keys, pool)].filter(
		(key) => key === key.toUpperCase() && key !== key.toLowerCase()
	);
	const found: { kind: string; text: TextGuide }[] = [];
	const folded = affixesBy(
		some.map((key) => key.toLowerCase()),
		(part) => owners.ofFolded(part)
	);
	for (const { nth, before, after, distinct } of folded) {
		const { group, ids, numeric } = list[nth]!;
		if (group.texts || numeric || before + after === '' || distinct < 3) continue;
		const key = `${before.toUpperCase()}${CAPITALS}${after.toUpperCase()}`;
		let hits = 0;
		for (const id of ids) {
			const text = pool.at(id);
			const at = text === text.toUpperCase() ? -1 : pool.find(fillPattern(key, () => text)!);
			if (at >= 0 && owners.of(at).includes(own)) hits++;
		}
		if (hits < 3 || hits < ids.length * 0.5) continue;
		const text = {
			label: asTitle(after || before),
			key,
			required: hits === ids.length,
			name: NAMES.test(tidy(after)),
			found: finding(
				atLeast(hits, ids.length),
				`${said(hits)} of ${said(ids.length)} ids appear in capitals in keys such as “${before.toUpperCase()}…${after.toUpperCase()}”.`
			)
		};
		found.push({ kind: group.kind, text });
	}
	return found;
}

function readTexts(texts: Group, owners: Owners): Map<string, TextGuide[]> {
	const { pool, list } = owners;
	const own = list.find(({ group }) => group === texts)!;
	const found = new Map<string, TextGuide[]>();
	/** Numbers are in many keys by chance: of kinds with such ids that one is meant of which the most have the key. */
	const numbers = new Map<string, { hits: number; kind: string }>();
	for (const affix of affixesIn(someKeys(own.ids, pool), owners, true)) {
		const { group, ids, numeric } = list[affix.nth]!;
		if (group.texts || affix.before + affix.after === '' || affix.distinct < 3) continue;
		let hits = 0;
		for (const id of ids) {
			const key = pool.find(affix.before + pool.at(id) + affix.after);
			if (key >= 0 && owners.of(key).includes(own.nth)) hits++;
		}
		const share = hits / ids.length;
		if (hits < 3 || share < (numeric ? 0.8 : 0.5)) continue;
		const key = `${affix.before}{id}${affix.after}`;
		if (numeric) {
			const best = numbers.get(key);
			if (best && best.hits >= hits) continue;
			const lost = best && found.get(best.kind);
			if (lost)
				found.set(
					best.kind,
					lost.filter((text) => text.key !== key)
				);
			numbers.set(key, { hits, kind: group.kind });
		}
		found.set(group.kind, [
			...(found.get(group.kind) ?? []),
			{
				label: asTitle(affix.after || affix.before),
				key,
				required: share === 1,
				name: NAMES.test(tidy(affix.after)),
				found: finding(
					atLeast(hits, ids.length),
					`${said(hits)} of ${said(ids.length)} ids appear in keys such as “${affix.before}…${affix.after}”.`
				)
			}
		]);
	}
	const exact = new Set(found.keys());
	for (const { kind, text } of inCapitalsOf(own, owners)) if (!exact.has(kind)) addTo(found, kind, text);
	const saying = sentences(texts);
	for (const [kind, list] of found) {
		const { ids } = list.length === 0 ? own : owners.list.find(({ group }) => group.kind === kind)!;
		const named = list.find(({ key }) => !saying(key, ids));
		if (named && !list.some(({ name }) => name)) named.name = true;
		const first = list.findIndex(({ name }) => name);
		list.forEach((text, at) => (text.name = at === first));
	}
	return found;
}

/** Whether a path begins like others and goes no deeper. */
const isBeside = (path: string, before: string) =>
	path.startsWith(before) && !path.includes('/', before.length);

/** Files whose names follow from the ids of a kind, apart from those that hold its records. */
export function assetsOf(
	paths: Iterable<string>,
	groups: readonly Group[],
	owners: Owners
): Map<string, AssetGuide[]> {
	const own = new Set(groups.flatMap(({ files }) => files.map(({ path }) => path)));
	const free = [...paths].filter((path) => !own.has(path));
	const found = new Map<string, AssetGuide[]>();
	const fits = ({ before, after }: Affix) => /(^|\/)[^/]*$/.test(before) && /^[^/]*\.[^/]+$/.test(after);
	for (const affix of affixesIn(free, owners, true)) {
		const { group, ids } = owners.list[affix.nth]!;
		if (group.texts || !fits(affix) || affix.distinct < 3) continue;
		const folder = affix.before.slice(0, affix.before.lastIndexOf('/') + 1);
		const share = affix.distinct / ids.length;
		if (share < 0.5) continue;
		// Of the files that begin so, most have to be such.
		const alike = free.reduce((count, path) => count + Number(isBeside(path, affix.before)), 0);
		if (affix.distinct < alike * 0.5) continue;
		found.set(group.kind, [
			...(found.get(group.kind) ?? []),
			{
				label: asTitle(folder || affix.after),
				path: `${affix.before}{id}${affix.after}`,
				required: share === 1,
				found: finding(
					atLeast(affix.distinct, ids.length),
					`${said(affix.distinct)} of ${said(ids.length)} records have a file “${affix.before}…${affix.after}”.`
				)
			}
		]);
	}
	return found;
}
