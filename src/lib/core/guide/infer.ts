import type { Facts } from '../facts';
import type { FormatId } from '../formats';
import type { FieldGuide, Guide, KindGuide } from './schema';
import { claimOf } from './claims';

/** A file that reads as data. */
export interface DataFile {
	path: string;
	facts: Facts;
}

const WHOLE = /^-?\d+$/;
const NUMBER = /^-?\d+(\.\d+)?$/;

/** Whether all values of a field seen so far are whole numbers, numbers, switches; nothing is known of empty ones. */
interface Seen {
	any: boolean;
	whole: boolean;
	number: boolean;
	truth: boolean;
}

const typeOf = ({ any, whole, number, truth }: Seen): FieldGuide['type'] =>
	!any ? 'text' : whole ? 'whole' : number ? 'decimal' : truth ? 'switch' : 'text';

function typesOf({ pool, count, shapes, shape, firsts, values }: Facts): Map<string, FieldGuide['type']> {
	const seen = new Map<number, Seen>();
	for (let nth = 0; nth < count; nth++) {
		const paths = shapes[shape[nth]!] ?? [];
		for (let at = 0; at < paths.length; at++) {
			let about = seen.get(paths[at]!);
			if (!about) seen.set(paths[at]!, (about = { any: false, whole: true, number: true, truth: true }));
			const value = values[firsts[nth]! + at]!;
			if (value === 0 || !(about.number || about.truth)) continue;
			const text = pool.at(value);
			about.any = true;
			about.whole &&= WHOLE.test(text);
			about.number &&= NUMBER.test(text);
			about.truth &&= text === 'true' || text === 'false';
		}
	}
	return new Map([...seen].map(([path, about]) => [pool.at(path), typeOf(about)]));
}

const titleOf = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase());

/** Kinds told before, so that the same file gives the same kind. */
const told = new WeakMap<Facts, Map<string, KindGuide>>();

function inferKind({ path, facts }: DataFile, name: string, title: string): KindGuide {
	const known = told.get(facts) ?? new Map<string, KindGuide>();
	told.set(facts, known);
	const key = `${name} ${path}`;
	let kind = known.get(key);
	if (!kind) {
		const fields: Record<string, FieldGuide> = {};
		for (const [field, type] of typesOf(facts)) fields[field] = { type, required: false, unused: false };
		kind = {
			title,
			files: [path],
			...(facts.key ? { key: facts.key } : {}),
			...(facts.at === undefined ? {} : { at: facts.at }),
			merge: 'file',
			fault: 'refuses',
			limits: {},
			groups: [],
			texts: [],
			fields,
			inferred: true
		};
		known.set(key, kind);
	}
	return kind;
}

/** Formats in which one record alone may mean less than many do. */
const NESTED: readonly FormatId[] = ['json', 'yaml', 'toml', 'lua'];

/** Where the records of a kind stand, when all its files agree; undefined where they do not. */
function placeOf(files: DataFile[]): string | null | undefined {
	const places = new Set(files.map(({ facts }) => facts.at));
	return places.size === 1 ? [...places][0] : undefined;
}

const placed = new WeakMap<KindGuide, Map<string | null, KindGuide>>();

function withPlace(kind: KindGuide, at: string | null): KindGuide {
	const known = placed.get(kind) ?? new Map<string | null, KindGuide>();
	placed.set(kind, known);
	if (!known.has(at)) known.set(at, { ...kind, at });
	return known.get(at)!;
}

/** Kinds that people described without saying where in a file the records stand: as the files have it. */
function withPlaces(guide: Guide, files: readonly DataFile[]): Record<string, KindGuide> {
	const byKind = new Map<string, DataFile[]>();
	for (const file of files) {
		const claim = claimOf(guide, file.path);
		if (!claim || guide.kinds[claim.kind]!.at !== undefined || !NESTED.includes(file.facts.format!)) continue;
		const list = byKind.get(claim.kind) ?? [];
		byKind.set(claim.kind, list);
		list.push(file);
	}
	const kinds = { ...guide.kinds };
	for (const [kind, list] of byKind) {
		const at = placeOf(list);
		if (at !== undefined) kinds[kind] = withPlace(kinds[kind]!, at);
	}
	return kinds;
}

/**
 * The guide with a kind added for every file that reads as data and that nobody claims: named by the file, types told
 * from the values, whole-file merge (which is right for any game, if not the finest). The same guide and files give the
 * same kinds, down to their identity.
 */
export function withInferred(guide: Guide, files: readonly DataFile[]): Guide {
	const kinds = withPlaces(guide, files);
	for (const data of files) {
		const { path, facts } = data;
		if (claimOf(guide, path) || facts.count === 0) continue;
		const file = path.slice(path.lastIndexOf('/') + 1);
		const stem = file.replace(/\.[^.]+$/, '').toLowerCase();
		let name = stem;
		for (let nth = 2; name in kinds; nth++) name = `${stem}-${nth}`;
		kinds[name] = inferKind(data, name, titleOf(stem));
	}
	return { ...guide, kinds };
}
