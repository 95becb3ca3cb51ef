// Whether the files of mods add to the game's or replace them, if nobody stated it: detected from layers that have a file at
// the path of one of the game's.
import { claimsOf, type Guide } from '../guide';
import { partFacts, type Facts } from '../facts';
import { finding, said } from './sure';

/** What is known of a layer's files: the facts of each that was read, by path. */
export type FilesOf = ReadonlyMap<string, { facts: Facts | null }>;

/** Records of the game's file from which on a few of them say something. */
const ENOUGH = 4;
/** Share of the game's records that a file which adds has of it at most, and one that replaces it at least. */
const [FEW, MOST] = [0.2, 0.6];

interface Tally {
	/** The first file that holds few of the game's records, how many, and of how many. */
	sparse: { path: string; common: number; of: number } | null;
	/** Files that hold most of them. */
	whole: number;
}

function* recordsIn(guide: Guide, path: string, facts: Facts): Generator<[string, ReadonlySet<number>]> {
	const claims = claimsOf(guide, path);
	for (const [nth, part] of partFacts(facts).entries()) {
		const kind = claims[facts.parts?.[nth]?.spec ?? 0]?.kind;
		if (kind !== undefined) yield [kind, new Set(part.ids)];
	}
}

const known = new WeakMap<Guide, Map<string, Guide>>();

/**
 * The guide with the kinds of which the files of later layers add records, as far as the layers show it and nobody said.
 * The same object for the same kinds.
 * @param base the files of the game, and `later` those of the layers over it
 */
export function withMerge(guide: Guide, base: FilesOf, later: readonly FilesOf[]): Guide {
	const tallies = new Map<string, Tally>();
	for (const files of later)
		for (const [path, { facts }] of files) {
			const under = base.get(path)?.facts;
			if (!facts || facts.format === null || !under) continue;
			const own = new Map(recordsIn(guide, path, facts));
			for (const [kind, ids] of recordsIn(guide, path, under)) {
				const about = guide.kinds[kind];
				if (!about?.inferred || about.merge !== 'file' || about.at === null || ids.size < ENOUGH) continue;
				const tally = tallies.get(kind) ?? { sparse: null, whole: 0 };
				tallies.set(kind, tally);
				const common = [...ids].filter((id) => own.get(kind)?.has(id)).length;
				if (common >= ids.size * MOST) tally.whole++;
				else if (common <= ids.size * FEW) tally.sparse ??= { path, common, of: ids.size };
			}
		}
	const adding = [...tallies].flatMap(([kind, { sparse, whole }]) =>
		sparse && whole === 0 ? [[kind, sparse] as const] : []
	);
	if (adding.length === 0) return guide;
	const name = JSON.stringify(adding);
	const made = known.get(guide) ?? new Map<string, Guide>();
	known.set(guide, made);
	let found = made.get(name);
	if (!found) {
		const kinds = { ...guide.kinds };
		for (const [kind, { path, common, of }] of adding)
			kinds[kind] = {
				...kinds[kind]!,
				merge: 'record',
				adds: finding(
					0.7,
					`${path} holds ${common === 0 ? 'none' : said(common)} of the ${said(of)} records that the game’s file of that path has, so it probably adds to them.`
				)
			};
		made.set(name, (found = { ...guide, kinds }));
	}
	return found;
}
