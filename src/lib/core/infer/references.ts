// Fields whose values name records of some kind. Inclusion alone is not enough (small numbers are included in each
// other by chance), so that names, coverage and the number of different values weigh in, as in foreign key discovery
// (Rostin et al. 2009; Zhang et al. 2010).
import { cellsOf, idColumn } from './columns';
import { likeness } from './likeness';
import type { Ids, Owners } from './owners';
import { affixesIn } from './affixes';
import { cutMark, marksOf, type Marked } from './marks';
import type { Column } from './sketch';
import { finding, said } from './sure';
import { nameOfRecord, type Group } from './group';
import {
	ENOUGH,
	needed,
	ALIKE,
	type FoundReference,
	type Match,
	type Value,
	valuesOf,
	kindOf,
	targetOf,
	inWords,
	matches,
	tells,
	numbersTell,
	best,
	surely,
	because
} from './match';
import { decided } from './unions';

function exact(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (cells === 0) return null;
	const all = matches(group, column.path, values, owners, owners.by);
	const fitting = all.filter(
		(match) =>
			match.cells >= needed(cells, match.like >= ALIKE ? Math.min(0.8, enough) : enough) &&
			tells(match) &&
			(!numeric || (numbersTell(match, values, owners, none) && match.cells >= cells * (enough + 0.05)))
	);
	const own = fitting.some(({ ids }) => ids.group === group) && isOwnId(group, column);
	const good = own ? fitting.filter(({ ids }) => ids.group !== group) : fitting;
	const match = best(
		// Of a text and a field that has the keys of texts as well, the text is meant.
		good.some(({ ids }) => ids.group.texts) ? good.filter(({ ids }) => ids.by === undefined) : good,
		cells
	);
	if (!match) return null;
	const others = values
		.filter(({ text }) => !owners.by(text).includes(match.ids.nth))
		.map(({ text }) => text);
	return {
		...targetOf(match.ids),
		none: none.filter((text) => text !== '-'),
		found: finding(surely(match, cells), because(owners, inWords(match.ids), match.cells, cells, others))
	};
}

/** Whether a column only repeats the id of its record, in whatever case. */
function isOwnId(group: Group, column: Column): boolean {
	if (column.path === '#id') return true;
	if (column.path === group.key) return true;
	let own = 0;
	let all = 0;
	cellsOf(group, column.path, (value, file, nth) => {
		if (value === 0) return;
		all++;
		const { pool } = file.facts;
		if (nameOfRecord(group, file, nth).toLowerCase() === pool.at(value).toLowerCase()) own++;
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
	const others = values
		.map(({ text }) => owners.pool.at(text))
		.filter((text) => !owners.ofFolded(text).includes(match.ids.nth));
	return {
		kinds: [kindOf(match.ids)],
		none: none.filter((text) => text !== '-'),
		anyCase: true,
		found: finding(
			surely(match, cells),
			`${because(owners, `ids of ${kindOf(match.ids)} in some case of their letters`, match.cells, cells, others)} ${said(same)} of them in the same case.`
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

/** Share of the values that have the same around an id. */
const SAME = 0.8;

function affixed(group: Group, column: Column, owners: Owners, enough = ENOUGH): FoundReference | null {
	const { values, none, cells, numeric } = valuesOf(column, owners);
	if (values.length < 2 || numeric) return null;
	const sample = sampled(values).map(({ text }) => owners.pool.at(text));
	const first = sample.slice(0, Math.ceil(sample.length / 4));
	// Even if it were around all the others, what is around too few of the first ones would not be around enough.
	const most = (affixesIn(first, owners)[0]?.distinct ?? 0) + sample.length - first.length;
	if (most < sample.length * SAME) return null;
	const [candidate] = affixesIn(sample, owners);
	if (!candidate || candidate.distinct < sample.length * SAME) return null;
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

/** Values of which a part is split first, to see whether it is worth splitting all. */
const FIRST = 25;
/** Share of the parts that must be ids then. */
const SOME = 0.1;

/** Whether at least a few of some parts are ids of anything, perhaps with a weight. */
function someAreIds(pieces: readonly string[], owners: Owners): boolean {
	const isId = (text: string) => owners.by(Math.max(0, owners.pool.find(text))).length > 0;
	const known = pieces.filter((piece) => isId(piece) || isId(WEIGHTED.exec(piece)?.[1] ?? ''));
	return known.length >= pieces.length * SOME;
}

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
		if (sample.length > FIRST && !someAreIds(sample.slice(0, FIRST).flatMap(parts), owners)) continue;
		const pieces = sample.flatMap(parts);
		const marks = pieces.map((piece) => WEIGHTED.exec(piece)?.[2]).filter((mark) => mark !== undefined);
		const weight = marks.length >= pieces.length * 0.8 ? marks[0] : undefined;
		if (list === null && weight === undefined) continue;
		const bare = (piece: string) => (weight === undefined ? piece : (WEIGHTED.exec(piece)?.[1] ?? piece));
		const counts = new Map<number, number>();
		let all = 0;
		for (const { text, count } of values)
			for (const piece of parts(owners.pool.at(text))) {
				const id = owners.pool.find(bare(piece));
				all += count;
				if (id >= 0) counts.set(id, (counts.get(id) ?? 0) + count);
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
		const isOther = (piece: string) =>
			!owners.by(Math.max(0, owners.pool.find(piece))).includes(match.ids.nth);
		const others = new Set(
			match.cells === all
				? []
				: values.flatMap(({ text }) => parts(owners.pool.at(text)).map(bare).filter(isOther))
		);
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
					[...others]
				)
			)
		};
	}
	return null;
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
	// What is beside the collections of some files is not of the same as others because these have the same names.
	const isByPath = group.id === 'both' || group.id === 'path';
	if (group.texts || group.except || isByPath || group.sketch.count < 3) return null;
	const ids = idColumn(group);
	if (ids.values.length > SAMPLE * 2 && !exact(group, someOf(ids), owners, ENOUGH - 0.1)) return null;
	const found = exact(group, ids, owners);
	const target = owners.list.find(({ group: other }) => other.kind === found?.kinds[0]);
	return found && target && !target.group.texts ? found : null;
}
