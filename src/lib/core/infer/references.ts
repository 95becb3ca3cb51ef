// Fields whose values name records of some kind. Inclusion alone is not enough (small numbers are included in each
// other by chance), so that names, coverage and the number of different values weigh in, as in foreign key discovery
// (Rostin et al. 2009; Zhang et al. 2010).
import type { ReferenceGuide } from '../guide';
import { cellsOf, idColumn, meansNothing, pairsOf } from './columns';
import { likeness } from './likeness';
import type { Ids, Owners } from './owners';
import { affixesIn } from './affixes';
import { isPlace } from './refine';
import { cutMark, marksOf, type Marked } from './marks';
import { sketchOfAll, type Column } from './sketch';
import { atLeast, finding, listed, said } from './sure';
import { nameOfRecord, type Group } from './group';

/** Share of the values from which on they count as ids of a kind. */
const ENOUGH = 0.9;
/** How many of so many cells must be ids; one that names nothing is forgiven where there are few. */
const needed = (cells: number, share: number) =>
	cells >= 6 ? Math.min(cells * share, cells - 1) : cells * share;
/** Different ids that must be named where names do not tell anything. */
const FEW = 3;
/** Likeness from which on a name tells something. */
const ALIKE = 0.7;

/** A reference that was found: what the guide says of it. */
export type FoundReference = ReferenceGuide & { found: NonNullable<ReferenceGuide['found']> };

/** A kind whose ids are in a column, and how well. */
interface Match {
	ids: Ids;
	/** Different values that are ids, and cells that hold one. */
	distinct: number;
	cells: number;
	like: number;
	/** Whether its files are in the same tree: of two worlds with the same ids, one's own is meant. */
	near: boolean;
}

interface Value {
	text: number;
	count: number;
}

/** The values of a column that stand for something, and those that stand for nothing. */
function valuesOf(
	column: Column,
	owners: Owners
): { values: Value[]; none: string[]; cells: number; numeric: boolean } {
	const values: Value[] = [];
	const none: string[] = [];
	let cells = 0;
	let numbers = 0;
	for (let at = 0; at < column.values.length; at++) {
		const [text, count] = [column.values[at]!, column.counts[at]!];
		const written = owners.pool.at(text);
		if (written.length < 5 && (meansNothing(written) || written === '-1') && owners.of(text).length === 0) {
			none.push(written);
			continue;
		}
		if (!Number.isNaN(owners.pool.number(text))) numbers += count;
		values.push({ text, count });
		cells += count;
	}
	return { values, none, cells, numeric: numbers > cells / 2 };
}

const kindOf = ({ group }: Ids) => group.kind;

/** The kind that is named, and the field by which it is. */
const targetOf = (ids: Ids): Pick<ReferenceGuide, 'kinds' | 'key'> => ({
	kinds: [kindOf(ids)],
	...(ids.by === undefined ? {} : { key: ids.by })
});

/** What a column names, in words. */
const inWords = (ids: Ids) =>
	ids.by === undefined ? `ids of ${kindOf(ids)}` : `the ${ids.by} of ${kindOf(ids)}`;

/** Whether the files of two groups are below the same folder of the game. */
const isNear = (one: Group, other: Group): boolean => {
	const top = ({ files }: Group) => files[0]!.path.split('/')[0];
	return one.files[0]!.path.includes('/') && top(one) === top(other);
};

function matches(
	group: Group,
	path: string,
	values: readonly Value[],
	owners: Owners,
	look: (text: number) => readonly number[]
): Match[] {
	const found = new Map<number, Match>();
	for (const { text, count } of values)
		for (const nth of look(text)) {
			const ids = owners.list[nth]!;
			if (path === '#id' && (ids.group === group || ids.by !== undefined)) continue;
			if (ids.by === path && ids.group === group) continue;
			let match = found.get(nth);
			if (!match)
				found.set(nth, (match = { ids, distinct: 0, cells: 0, like: 0, near: isNear(group, ids.group) }));
			match.distinct++;
			match.cells += count;
		}
	for (const match of found.values()) match.like = likeness(path, match.ids.group.names);
	return [...found.values()];
}

const tells = ({ distinct, like }: Pick<Match, 'distinct' | 'like'>) => distinct >= FEW || like >= ALIKE;

/** How unlikely it must be that numbers are ids by chance. */
const CHANCE = 1e-6;

/**
 * Whether numbers are ids and not only as large as ids: the name says so, or as many numbers drawn at random from
 * between the smallest and the largest of them would hardly all be ids.
 */
function numbersTell(
	{ ids, distinct, like }: Match,
	values: readonly Value[],
	owners: Owners,
	none: readonly string[] = []
): boolean {
	if (like >= 0.8) return true;
	if (distinct < 10) return false;
	let [low, high] = [Infinity, -Infinity];
	for (const { text } of values) {
		const number = owners.pool.number(text);
		if (!Number.isInteger(number)) continue;
		low = Math.min(low, number);
		high = Math.max(high, number);
	}
	let within = 0;
	for (const id of ids.ids) {
		const number = owners.pool.number(id);
		if (number >= low && number <= high) within++;
	}
	// Plain amounts seldom need a number that stands for none, nor do they keep to the range of the ids from end to end.
	if (none.includes('-1') && low >= ids.low && high >= ids.low + (ids.high - ids.low) * 0.8) return true;
	return distinct * Math.log(within / (high - low + 1)) < Math.log(CHANCE);
}

/** The likeliest of several kinds that a column may name. */
function best(list: readonly Match[], cells: number): Match | undefined {
	const score = ({ ids, cells: hits, distinct, like, near }: Match) =>
		hits / cells +
		(near ? 0.15 : 0) +
		0.5 * like +
		0.1 * (distinct / ids.ids.length) -
		(ids.group.texts ? 0.2 : 0) -
		(ids.by === undefined ? 0 : 0.1);
	// Of kinds with the same ids, the one that says the most of them is meant.
	const columns = ({ ids }: Match) => ids.group.sketch.columns.size;
	return list.toSorted(
		(a, b) => score(b) - score(a) || a.ids.ids.length - b.ids.ids.length || columns(b) - columns(a)
	)[0];
}

function surely(
	{ distinct, cells: hits, like }: Pick<Match, 'distinct' | 'cells' | 'like'>,
	cells: number
): number {
	// Of made-up games that these were not fitted to, as many were right as is said here.
	const few = distinct >= 8 ? 0 : distinct >= FEW ? 0.09 : 0.27;
	const exact = hits === cells ? 1 : (atLeast(hits, cells) + hits / cells) / 2;
	return exact * (like >= ALIKE ? 0.99 : 0.96) - few;
}

function because(
	owners: Owners,
	what: string,
	hits: number,
	cells: number,
	others: readonly number[]
): string {
	if (hits === cells) return `All ${said(cells)} values are ${what}.`;
	return `${said(hits)} of ${said(cells)} values are ${what}; the others: ${listed(others.map((text) => owners.pool.at(text)))}.`;
}

function exact(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (cells === 0) return null;
	const all = matches(group, column.path, values, owners, owners.by);
	const good = all.filter(
		(match) =>
			match.cells >= needed(cells, match.like >= ALIKE ? Math.min(0.8, enough) : enough) &&
			tells(match) &&
			(!numeric || (numbersTell(match, values, owners, none) && match.cells >= cells * (enough + 0.05)))
	);
	const match = best(
		// Of a text and a field that has the keys of texts as well, the text is meant.
		good.some(({ ids }) => ids.group.texts) ? good.filter(({ ids }) => ids.by === undefined) : good,
		cells
	);
	if (!match) return null;
	if (match.ids.group === group && isOwnId(group, column)) return null;
	const others = values
		.filter(({ text }) => !owners.by(text).includes(match.ids.nth))
		.map(({ text }) => text);
	return {
		...targetOf(match.ids),
		none: none.filter((text) => text !== '-'),
		found: finding(surely(match, cells), because(owners, inWords(match.ids), match.cells, cells, others))
	};
}

/** Whether a column only repeats the id of its record. */
function isOwnId(group: Group, column: Column): boolean {
	if (column.path === '#id') return true;
	if (column.path === group.key) return true;
	let own = 0;
	let all = 0;
	cellsOf(group, column.path, (value, file, nth) => {
		if (value === 0) return;
		all++;
		if (nameOfRecord(group, file, nth) === file.facts.pool.at(value)) own++;
	});
	return own > all * 0.8;
}

function anyCase(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (cells === 0 || numeric) return null;
	const all = matches(group, column.path, values, owners, (text) => owners.ofFolded(owners.pool.at(text)));
	const match = best(
		all.filter(
			(candidate) =>
				candidate.ids.by === undefined && candidate.cells >= needed(cells, enough) && tells(candidate)
		),
		cells
	);
	if (!match || (match.ids.group === group && isOwnId(group, column))) return null;
	const same = values
		.filter(({ text }) => owners.of(text).includes(match.ids.nth))
		.reduce((sum, { count }) => sum + count, 0);
	return {
		kinds: [kindOf(match.ids)],
		none: none.filter((text) => text !== '-'),
		anyCase: true,
		found: finding(
			surely(match, cells),
			`${because(owners, `ids of ${kindOf(match.ids)} in some case of their letters`, match.cells, cells, [])} ${said(same)} of them in the same case.`
		)
	};
}

/** Values of a column that are looked through for parts that are ids. */
const SAMPLE = 300;

function sampled<T>(list: readonly T[], most = SAMPLE): readonly T[] {
	if (list.length <= most) return list;
	const step = list.length / most;
	return Array.from({ length: most }, (_, nth) => list[Math.floor(nth * step)]!);
}

function affixed(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (values.length < 2 || numeric) return null;
	const sample = sampled(values);
	const [candidate] = affixesIn(
		sample.map(({ text }) => owners.pool.at(text)),
		owners
	);
	if (!candidate || candidate.distinct < sample.length * 0.8) return null;
	const { before, after, nth } = candidate;
	const ids = owners.list[nth]!;
	if (ids.by !== undefined) return null;
	const match: Match = {
		ids,
		distinct: 0,
		cells: 0,
		like: likeness(column.path, ids.group.names),
		near: true
	};
	const others: number[] = [];
	for (const { text, count } of values) {
		const written = owners.pool.at(text);
		const inner =
			written.startsWith(before) && written.endsWith(after)
				? owners.pool.find(written.slice(before.length, written.length - after.length))
				: -1;
		if (inner >= 0 && owners.of(inner).includes(nth)) {
			match.distinct++;
			match.cells += count;
		} else others.push(text);
	}
	if (match.cells < needed(cells, enough) || !tells(match)) return null;
	return {
		kinds: [kindOf(ids)],
		none: none.filter((text) => text !== '-'),
		...(before ? { before } : {}),
		...(after ? { after } : {}),
		found: finding(
			surely(match, cells),
			because(
				owners,
				`“${before}” + an id of ${kindOf(ids)}${after ? ` + “${after}”` : ''}`,
				match.cells,
				cells,
				others
			)
		)
	};
}

const SEPARATORS = [';', '|', ',', '/', '+', '&', ' ', ':'];
const WEIGHTED = /^(.+?)\s*([:*=x×@])\s*[-+]?\d+(?:\.\d+)?%?$/;

function inList(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, numeric } = valuesOf(column, owners);
	if (values.length === 0 || (numeric && !values.some(({ text }) => /[;|,/]/.test(owners.pool.at(text)))))
		return null;
	const sample = sampled(values).map(({ text }) => owners.pool.at(text));
	for (const list of [...SEPARATORS, null]) {
		const held = list === null ? 0 : sample.filter((text) => text.includes(list)).length;
		if (list !== null && held < Math.max(1, sample.length * 0.2)) continue;
		const parts = (text: string) =>
			(list === null ? [text] : text.split(list)).map((part) => part.trim()).filter((part) => part !== '');
		const pieces = sample.flatMap(parts);
		const marks = pieces.map((piece) => WEIGHTED.exec(piece)?.[2]).filter((mark) => mark !== undefined);
		const weight = marks.length >= pieces.length * 0.8 ? marks[0] : undefined;
		if (list === null && weight === undefined) continue;
		const bare = (piece: string) => (weight === undefined ? piece : (WEIGHTED.exec(piece)?.[1] ?? piece));
		const counts = new Map<number, number>();
		const strange: string[] = [];
		let all = 0;
		for (const { text, count } of values)
			for (const piece of parts(owners.pool.at(text))) {
				const id = owners.pool.find(bare(piece));
				all += count;
				if (id >= 0) counts.set(id, (counts.get(id) ?? 0) + count);
				else strange.push(piece);
			}
		const pieceValues = [...counts].map(([text, count]) => ({ text, count }));
		const match = best(
			matches(group, column.path, pieceValues, owners, owners.by).filter(
				(candidate) =>
					(!candidate.ids.numeric || numbersTell(candidate, pieceValues, owners)) &&
					candidate.cells >= needed(all, enough) &&
					tells(candidate)
			),
			all
		);
		if (!match) continue;
		const others = pieceValues
			.filter(({ text }) => !owners.by(text).includes(match.ids.nth))
			.map(({ text }) => text);
		return {
			...targetOf(match.ids),
			none: none.filter((text) => text !== '-'),
			...(list === null ? {} : { list }),
			...(weight === undefined ? {} : { weight }),
			found: finding(
				surely(match, all),
				because(
					owners,
					`${inWords(match.ids)}${list === null ? '' : `, with “${list}” between them`}${weight ? `, each with a weight after “${weight}”` : ''}`,
					match.cells,
					all,
					others
				)
			)
		};
	}
	return null;
}

/** Another field of the record that decides which kind is meant. */
function* decided(
	group: Group,
	column: Column,
	owners: Owners,
	enough: number
): Generator<void, FoundReference | null> {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (numeric || values.length < 2) return null;
	const some = values.filter(({ text }) => owners.of(text).length > 0);
	const known = some.reduce((sum, { count }) => sum + count, 0);
	if (known < cells * (enough - 0.05) || some.length < FEW) return null;
	const parent = column.path.slice(0, column.path.lastIndexOf('.') + 1);
	const deciders = [...group.sketch.columns.values()].filter(
		({ path, values: taken, filled }) =>
			path !== column.path &&
			path !== group.key &&
			path.slice(0, path.lastIndexOf('.') + 1) === parent &&
			taken.length >= 2 &&
			taken.length <= 16 &&
			filled >= column.filled * 0.9
	);
	for (const decider of deciders) {
		yield;
		const byValue = new Map<number, { all: number; hits: Map<number, number>; ids: Set<number> }>();
		pairsOf(group, column.path, decider.path, (value, by) => {
			if (value === 0 || by === 0 || none.includes(owners.pool.at(value))) return undefined;
			let tally = byValue.get(by);
			if (!tally) byValue.set(by, (tally = { all: 0, hits: new Map(), ids: new Set() }));
			tally.all++;
			tally.ids.add(value);
			for (const nth of owners.of(value)) tally.hits.set(nth, (tally.hits.get(nth) ?? 0) + 1);
		});
		const kinds: Record<string, string> = {};
		let hits = 0;
		let all = 0;
		for (const [by, tally] of byValue) {
			const word = owners.pool.at(by);
			const [first] = [...tally.hits].sort(
				(a, b) =>
					b[1] - a[1] ||
					likeness(word, owners.list[b[0]]!.group.names) - likeness(word, owners.list[a[0]]!.group.names)
			);
			all += tally.all;
			if (!first || first[1] < tally.all * 0.6) continue;
			hits += first[1];
			kinds[word] = kindOf(owners.list[first[0]]!);
		}
		if (hits < all * 0.85 || new Set(Object.values(kinds)).size < 2) continue;
		const pairs = Object.entries(kinds).map(([word, kind]) => `“${word}” means ${kind}`);
		return {
			kinds: [...new Set(Object.values(kinds))],
			none: none.filter((text) => text !== '-'),
			by: { field: decider.path, kinds },
			found: finding(
				surely({ distinct: some.length, cells: hits, like: ALIKE }, all),
				`${said(hits)} of ${said(all)} values are ids of the kind that ${decider.path} tells: ${pairs.slice(0, 6).join(', ')}.`
			)
		};
	}
	return union(group, column, owners, values, none, cells, enough);
}

/** Kinds that one field may name. */
const MOST_KINDS = 40;

/** Kinds that a column names without anything to tell which: as few as will do. */
function union(
	group: Group,
	column: Column,
	owners: Owners,
	values: readonly Value[],
	none: readonly string[],
	cells: number,
	enough: number
): FoundReference | null {
	let left = values;
	const kinds: Match[] = [];
	while (left.length > 0 && kinds.length < MOST_KINDS) {
		const list = matches(group, column.path, left, owners, owners.of).filter(
			({ ids, distinct }) =>
				distinct >= Math.max(kinds.length < 2 ? 4 : 2, left.length * 0.05) &&
				!ids.group.texts &&
				!ids.numeric &&
				ids.by === undefined
		);
		const match = list.sort((a, b) => b.cells - a.cells || b.like - a.like)[0];
		if (!match) break;
		kinds.push(match);
		left = left.filter(({ text }) => !owners.of(text).includes(match.ids.nth));
	}
	const hits = cells - left.reduce((sum, { count }) => sum + count, 0);
	if (kinds.length < 2 || hits < cells * (enough + 0.05)) return null;
	return {
		kinds: kinds.map(({ ids }) => kindOf(ids)),
		none: none.filter((text) => text !== '-'),
		found: finding(
			surely({ distinct: values.length, cells: hits, like: 0 }, cells),
			because(
				owners,
				`ids of ${kinds.map(({ ids }) => kindOf(ids)).join(' or ')}`,
				hits,
				cells,
				left.map(({ text }) => text)
			)
		)
	};
}

const isRound = (number: number) =>
	number % 100 === 0 || (number >= 128 && Number.isInteger(Math.log2(number)));

/** Numbers that are the number of a record plus an offset that says of which kind. */
function offset(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const targets = owners.list.filter(
		({ numeric, ids, by }) => numeric && ids.length >= 5 && by === undefined
	);
	if (targets.length === 0) return null;
	const { values, cells } = valuesOf(column, owners);
	const numbers = values
		.map(({ text, count }) => ({ number: owners.pool.number(text), count }))
		.filter(({ number }) => Number.isInteger(number));
	if (numbers.length < 5 || numbers.length < values.length) return null;
	const sorted = numbers.toSorted((a, b) => a.number - b.number);
	if (sorted[0]!.number < 100) return null;
	const highest = sorted.at(-1)!.number;
	interface Band {
		ids: Ids;
		plus: number;
		hits: number;
		inside: number;
		cells: number;
		like: number;
	}
	const bands: Band[] = [];
	for (const ids of targets) {
		const there = new Set(Array.from(ids.ids, (id) => owners.pool.number(id)));
		const tried = new Set<number>();
		for (const { number } of sorted)
			for (let plus = Math.max(100, number - ids.high); plus <= number - ids.low; plus++)
				if (isRound(plus)) tried.add(plus);
		for (const plus of tried) {
			if (plus > highest) continue;
			const inside = sorted.filter(({ number }) => number >= plus + ids.low && number <= plus + ids.high);
			const hits = inside.filter(({ number }) => there.has(number - plus));
			const like = likeness(column.path, ids.group.names);
			// Numbers that are anywhere among many say nothing; those that are most of what there is do.
			if (hits.length < ids.ids.length * 0.3 && like < ALIKE) continue;
			if (hits.length >= 3 && hits.length >= inside.length * 0.95)
				bands.push({
					ids,
					plus,
					hits: hits.length,
					inside: inside.length,
					cells: hits.reduce((sum, { count }) => sum + count, 0),
					like
				});
		}
	}
	// Of two kinds whose ids fit alike, the one of which most are named is meant.
	const weight = ({ cells: own, hits, ids }: Band) => own * (0.5 + (0.5 * hits) / ids.ids.length);
	bands.sort((a, b) => weight(b) - weight(a) || b.like - a.like);
	const chosen: Band[] = [];
	for (const band of bands) {
		const apart = chosen.every(
			(other) =>
				other.ids !== band.ids &&
				(band.plus + band.ids.low > other.plus + other.ids.high ||
					band.plus + band.ids.high < other.plus + other.ids.low)
		);
		if (apart) chosen.push(band);
	}
	const hits = chosen.reduce((sum, band) => sum + band.cells, 0);
	if (chosen.length === 0 || hits < cells * (enough + 0.05)) return null;
	const [only] = chosen;
	const covers = only!.hits >= only!.ids.ids.length * 0.5 && only!.hits >= 8 && only!.like > 0;
	if (chosen.length < 2 && only!.like < ALIKE && !covers) return null;
	return {
		kinds: chosen.map(({ ids }) => kindOf(ids)),
		none: [],
		plus: Object.fromEntries(chosen.map(({ ids, plus }) => [kindOf(ids), plus])),
		found: finding(
			surely({ distinct: numbers.length, cells: hits, like: only!.like }, cells) -
				(chosen.length < 2 ? 0.15 : 0),
			`${said(hits)} of ${said(cells)} numbers are ${chosen.map(({ ids, plus }) => `that of a record of ${kindOf(ids)} plus ${plus}`).join(', or ')}.`
		)
	};
}

/** Names of a map of which nearly every record has all. */
const FIXED = 12;

/** Names in paths that are ids: `ends.rescued` and `ends.lost` for the map `ends`. One finding for each map. */
export function namesInPaths(group: Group, owners: Owners): Map<string, FoundReference> {
	const found = new Map<string, FoundReference>();
	const maps = new Map<string, Column[]>();
	const whole = sketchOfAll(group.files);
	for (const column of whole.columns.values()) {
		const path = column.path.replace(/(?:\[\])+$/, '');
		const dot = path.lastIndexOf('.');
		if (dot === 0 || (dot < 0 && !group.sketch.columns.has(`*${column.path.slice(path.length)}`))) continue;
		const map = dot < 0 ? '' : path.slice(0, dot);
		if (isPlace(path.slice(dot + 1))) continue;
		maps.set(map, [...(maps.get(map) ?? []), { ...column, path }]);
	}
	for (const [map, columns] of maps) {
		if (columns.length < 2) continue;
		const values = columns.flatMap(({ path, cells }) => {
			const text = owners.pool.find(path.slice(map === '' ? 0 : map.length + 1));
			return text < 0 ? [] : [{ text, count: cells }];
		});
		const cells = columns.reduce((sum, column) => sum + column.cells, 0);
		// Names that nearly every record has are parts of it, whatever else is called so.
		const most = Math.max(...columns.map(({ records }) => records));
		if (columns.length <= FIXED && cells >= most * columns.length * 0.8) continue;
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
		found.set(map === '' ? '*' : `${map}.*`, {
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

/** Ids behind marks that say of which kind they are, among ids as they are or values that name nothing. */
function marked(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const known = marksOf(owners);
	if (known.size === 0) return null;
	const { values, none, cells } = valuesOf(column, owners);
	const marks: Record<string, string> = {};
	const [rest, strange]: [Value[], number[]] = [[], []];
	let [behind, hits, distinct] = [0, 0, 0];
	for (const value of values) {
		const [mark, id] = cutMark(owners.pool.at(value.text)) ?? ['', ''];
		const meant = known.get(mark);
		if (!meant || owners.of(value.text).length > 0) {
			rest.push(value);
			continue;
		}
		behind += value.count;
		const kind = kindOf(owners.list[meant.nth]!);
		// Of a kind with two marks it could not be said how an id is written.
		if ((marks[kind] ??= mark) !== mark) return null;
		distinct = Math.max(distinct, meant.distinct);
		if (owners.of(Math.max(0, owners.pool.find(id))).includes(meant.nth)) hits += value.count;
		else strange.push(value.text);
	}
	if (hits < 2 || hits < needed(behind, enough)) return null;
	const left = cells - behind;
	const plain = best(
		matches(group, column.path, rest, owners, owners.of).filter(
			(match) =>
				match.ids.by === undefined &&
				!match.ids.numeric &&
				tells(match) &&
				match.cells >= needed(left, enough)
		),
		left
	);
	const kinds = Object.keys(marks);
	const all = behind + (plain ? left : 0);
	return {
		kinds: [...(plain ? [kindOf(plain.ids)] : []), ...kinds.filter((kind) => kind !== plain?.ids.group.kind)],
		none: none.filter((text) => text !== '-'),
		marks,
		found: finding(
			surely({ distinct, cells: hits + (plain?.cells ?? 0), like: 0 }, all),
			because(
				owners,
				`${plain ? `${inWords(plain.ids)}, or ` : ''}ids after a mark: ${kinds.map((kind) => `“${marks[kind]}” before one of ${kind}`).join(', ')}`,
				hits + (plain?.cells ?? 0),
				all,
				strange
			)
		)
	};
}

/** The same where some values have no mark, or there are several. */
function mixed(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const known = marksOf(owners);
	if (known.size === 0) return null;
	const found = new Set<Marked | undefined>();
	for (const value of column.values) {
		if (value === 0) continue;
		found.add(owners.of(value).length > 0 ? undefined : known.get(cutMark(owners.pool.at(value))?.[0] ?? ''));
		if (found.size > 1) return marked(group, column, owners, enough);
	}
	return null;
}

type Ruling = (
	group: Group,
	column: Column,
	owners: Owners,
	enough: number
) => Generator<void, FoundReference | null>;

/** A rule that is soon done, as a step. */
const inOneStep = (rule: (...asked: Parameters<Ruling>) => FoundReference | null): Ruling =>
	function* (...asked) {
		yield;
		return rule(...asked);
	};

const RULES: readonly Ruling[] = [
	...[mixed, exact, anyCase, offset, affixed, inList].map(inOneStep),
	decided,
	inOneStep(marked)
];

const somes = new WeakMap<Column, Column>();

/** Some of the values of a column, evenly, as a column of its own. */
function someOf(column: Column): Column {
	let some = somes.get(column);
	if (!some) {
		const { values, counts } = column;
		const step = values.length / SAMPLE;
		const at = (nth: number) => Math.floor(nth * step);
		some = {
			...column,
			values: Int32Array.from({ length: SAMPLE }, (_, nth) => values[at(nth)]!),
			counts: Int32Array.from({ length: SAMPLE }, (_, nth) => counts[at(nth)]!)
		};
		somes.set(column, some);
	}
	return some;
}

/**
 * How a column names records; null where it does not seem to. Of a large column some values are looked at first, with
 * less asked of them.
 */
export function* referenceIn(
	group: Group,
	column: Column,
	owners: Owners
): Generator<void, FoundReference | null> {
	if (column.filled === 0 || column.path === group.key) return null;
	const some = column.values.length > SAMPLE * 2 ? someOf(column) : null;
	for (const rule of RULES) {
		if (some && !(yield* rule(group, some, owners, ENOUGH - 0.1))) continue;
		const reference = yield* rule(group, column, owners, ENOUGH);
		if (reference) return reference;
	}
	return null;
}

/** A kind whose every record has a partner of the same id in another kind; null where there is none. */
export function pairOf(group: Group, owners: Owners): FoundReference | null {
	if (group.texts || group.id === 'both' || group.sketch.count < 3) return null;
	const ids = idColumn(group);
	if (ids.values.length > SAMPLE * 2 && !exact(group, someOf(ids), owners, ENOUGH - 0.1)) return null;
	const found = exact(group, ids, owners);
	const target = owners.list.find(({ group: other }) => other.kind === found?.kinds[0]);
	return found && target && !target.group.texts ? found : null;
}
