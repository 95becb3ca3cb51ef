// Files of one shape in several folders are one kind, although a few differ: an add-on that adds to a table of the game,
// a table that was cut in pieces. What is compared shares a column that few others have.
import type { Facts } from '../facts';
import { formatOf } from '../formats';
import type { DataFile } from './group';
import { stemOf } from './paths';
import { sketchOfAll } from './sketch';

/** Share of the columns of either that two kinds must have both, or of the smaller where that has many. */
const ALIKE = 0.6;
const WITHIN = { share: 0.85, columns: 4 };
/** Share of the ids of the smaller that may be those of the other, where their files are not called alike. */
const SAME_IDS = 0.05;
/** Share of the ids of the larger from which on the other is a table beside it. */
const BESIDE = 0.5;
/** The rarest columns by which those are found that are compared. */
const RARE = 3;

/** What may be part of a kind. */
export interface Candidate {
	files: readonly DataFile[];
	single: boolean;
}

interface About {
	columns: Set<string>;
	ids: Set<number>;
	stems: Set<string>;
	/** What must be the same. */
	sort: string;
}

function aboutOf({ files, single }: Candidate, worldOf: (path: string) => string): About {
	const { columns } = sketchOfAll(files);
	const { facts, path } = files[0]!;
	const ids = new Set<number>();
	for (const { facts: own } of files) own.ids.forEach((id, nth) => own.written[nth] === 1 && ids.add(id));
	return {
		columns: new Set([...columns.keys()].filter((name) => name !== facts.key)),
		ids,
		stems: new Set(files.map((file) => stemOf(file.path).toLowerCase())),
		sort: JSON.stringify([facts.format, facts.at, single, worldOf(path), isNamed(facts)])
	};
}

const isNamed = ({ key, written }: Facts) => key === null && written[0] === 1;

const common = <T>(a: ReadonlySet<T>, b: ReadonlySet<T>): number => {
	const [few, many] = a.size < b.size ? [a, b] : [b, a];
	let both = 0;
	for (const one of few) if (many.has(one)) both++;
	return both;
};

const calledAlike = (a: About, b: About): boolean =>
	[...a.stems].some((stem) => [...b.stems].some((other) => stem.endsWith(other) || other.endsWith(stem)));

function isSame(a: About, b: About): boolean {
	const both = common(a.columns, b.columns);
	const fewer = Math.min(a.columns.size, b.columns.size);
	// A single column, as of values under names, says nothing.
	if (fewer < 2 && !calledAlike(a, b)) return false;
	const close = both >= (a.columns.size + b.columns.size - both) * ALIKE;
	const within = fewer >= WITHIN.columns && both >= fewer * WITHIN.share;
	if (!close && !within) return false;
	const same = common(a.ids, b.ids);
	if (same <= Math.min(a.ids.size, b.ids.size) * SAME_IDS) return true;
	// What says something else of a few of them is in their place; what does of all is beside them.
	return calledAlike(a, b) && same <= Math.max(a.ids.size, b.ids.size) * BESIDE;
}

/** Candidates in groups that are one kind each. In steps. */
export function* alikeSteps<T extends Candidate>(
	candidates: readonly T[],
	worldOf: (path: string) => string
): Generator<void, T[][]> {
	const usable = candidates.filter(
		({ files }) => formatOf(files[0]!.facts.format!)?.traits.fixedIds !== true
	);
	const about = new Map<T, About>();
	for (const one of usable) {
		about.set(one, aboutOf(one, worldOf));
		yield;
	}
	const frequency = new Map<string, number>();
	for (const { columns, sort } of about.values())
		for (const column of columns) {
			const name = `${sort}\n${column}`;
			frequency.set(name, (frequency.get(name) ?? 0) + 1);
		}
	const groups = new Map<T, T[]>(candidates.map((one) => [one, [one]]));
	const byColumn = new Map<string, T[]>();
	for (const one of usable) {
		const own = about.get(one)!;
		const rare = [...own.columns]
			.map((column) => `${own.sort}\n${column}`)
			.sort((a, b) => frequency.get(a)! - frequency.get(b)!)
			.slice(0, RARE);
		const others = new Set(rare.flatMap((name) => byColumn.get(name) ?? []));
		for (const other of others) {
			const group = groups.get(other)!;
			if (group === groups.get(one) || !isSame(own, about.get(other)!)) continue;
			const joined = [...group, ...groups.get(one)!];
			for (const member of joined) groups.set(member, joined);
		}
		// Those that come later are found by any column that is rare for them.
		for (const column of own.columns) {
			const name = `${own.sort}\n${column}`;
			const list = byColumn.get(name);
			if (list) list.push(one);
			else byColumn.set(name, [one]);
		}
		yield;
	}
	return [...new Set(groups.values())];
}
