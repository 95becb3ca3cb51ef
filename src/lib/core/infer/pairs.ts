// Files of pairs of lines, a text and its translation: detected from several of them, which have the first lines in common.
import { addTo } from '../gather';
import { copyFacts, type Facts } from '../facts';
import type { GroupsLayout } from '../formats';
import type { DataFile } from './group';
import { endingOf, folderOf } from './paths';

/** Pairs that a file has at least. */
const FEWEST = 10;
/** Share of the first lines that two such files have in common, and of the second ones that they may. */
const SAME = { first: 0.5, second: 0.3 };

/** How lines of programs end, or begin; of texts for people hardly any do. */
const OF_PROGRAMS = /[{};]\s*$|^\s*(?:\/\*|\*\/|\/\/|#\w+ )/;
/** Share of the lines that are such, from which on a file is a program. */
const PROGRAM = 0.2;

/** Files that were read as pairs of lines. */
export interface Pairs {
	facts: Facts;
	layout: GroupsLayout;
}

const LAYOUT: GroupsLayout = { shape: 'groups', names: ['source', 'text'] };

interface Lines {
	file: DataFile;
	/** Texts of the lines that hold anything, and their numbers. */
	texts: number[];
	numbers: number[];
	first: Set<number>;
	second: Set<number>;
}

function linesOf(file: DataFile): Lines | null {
	const { prose } = file.facts;
	const [texts, numbers]: [number[], number[]] = [[], []];
	for (let at = 0; at < prose.length; at += 2) {
		numbers.push(prose[at]!);
		texts.push(prose[at + 1]!);
	}
	if (texts.length < FEWEST * 2) return null;
	const ofProgram = texts.filter((text) => OF_PROGRAMS.test(file.facts.pool.at(text))).length;
	if (ofProgram > texts.length * PROGRAM) return null;
	const nth = (rest: number) => new Set(texts.filter((_, at) => at % 2 === rest));
	return { file, texts, numbers, first: nth(0), second: nth(1) };
}

const common = (a: ReadonlySet<number>, b: ReadonlySet<number>): number => {
	let both = 0;
	for (const text of a) if (b.has(text)) both++;
	return both / Math.max(1, Math.min(a.size, b.size));
};

function factsOf({ file: { facts }, texts, numbers }: Lines): Facts {
	const { pool } = facts;
	const count = Math.floor(texts.length / 2);
	const ids = Int32Array.from({ length: count }, (_, nth) => texts[nth * 2]!);
	return Object.assign(copyFacts(facts, pool), {
		format: 'groups' as const,
		key: 'source',
		at: '',
		columns: [],
		count,
		ids,
		written: new Uint8Array(count).fill(1),
		lines: Int32Array.from({ length: count }, (_, nth) => numbers[nth * 2]!),
		shapes: [Int32Array.from(LAYOUT.names, (name) => pool.of(name))],
		shape: new Int32Array(count),
		firsts: Int32Array.from({ length: count + 1 }, (_, nth) => nth * 2),
		values: Int32Array.from(texts.slice(0, count * 2)),
		types: new Uint8Array(count * 2)
	});
}

/** Whether two files have the same first lines of each pair, and other second ones. */
const arePaired = (a: Lines, b: Lines): boolean =>
	common(a.first, b.first) >= SAME.first && common(a.second, b.second) <= SAME.second;

/**
 * Whether one of some files is the partner of another, without comparing all with all: of two that share enough of their
 * first lines, the one with fewer has one of its rarest in common with the other, be it only the last of those that may be
 * missing (prefix filtering; Chaudhuri et al., "A Primitive Operator for Similarity Joins in Data Cleaning", ICDE 2006).
 */
function partnersIn(list: readonly Lines[]): (lines: Lines, isPartner: (other: Lines) => boolean) => boolean {
	const all = new Map<number, Lines[]>();
	for (const lines of list) for (const text of lines.first) addTo(all, text, lines);
	const rarest = new Map<Lines, number[]>();
	const byRarest = new Map<number, Lines[]>();
	for (const lines of list) {
		const sorted = [...lines.first].sort((a, b) => all.get(a)!.length - all.get(b)!.length || a - b);
		const some = sorted.slice(0, sorted.length - Math.ceil(sorted.length * SAME.first) + 1);
		rarest.set(lines, some);
		for (const text of some) addTo(byRarest, text, lines);
	}
	return (lines, isPartner) => {
		const tried = new Set([lines]);
		const hasPartner = (others: readonly Lines[] = []) =>
			others.some((other) => {
				if (tried.has(other)) return false;
				tried.add(other);
				return isPartner(other);
			});
		return (
			rarest.get(lines)!.some((text) => hasPartner(all.get(text))) ||
			[...lines.first].some((text) => hasPartner(byRarest.get(text)))
		);
	};
}

const known = new WeakMap<Facts, Pairs | null>();

/** Of files that are no data so far, those that are pairs of lines, as they will be when they are read so. */
export function pairsIn(files: readonly DataFile[]): Map<DataFile, Pairs> {
	const beside = new Map<string, Lines[]>();
	const found = new Map<DataFile, Pairs>();
	for (const file of files) {
		const told = known.get(file.facts);
		if (told) found.set(file, told);
		const lines = file.facts.prose.length > 0 ? linesOf(file) : null;
		if (!lines) continue;
		const place = `${folderOf(file.path)}\n${endingOf(file.path)}`;
		addTo(beside, place, lines);
	}
	for (const list of beside.values()) {
		const mayBe = partnersIn(list);
		for (const lines of list) {
			if (found.has(lines.file)) continue;
			if (!mayBe(lines, (other) => arePaired(lines, other))) continue;
			const pairs = { facts: factsOf(lines), layout: LAYOUT };
			known.set(lines.file.facts, pairs);
			found.set(lines.file, pairs);
		}
	}
	return found;
}
