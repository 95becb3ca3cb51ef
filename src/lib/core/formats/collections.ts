// Collections against structures: which lists and maps of a file hold things of one sort, and which are one thing with
// parts. Told by how alike the names in their items are, as the key-space entropy of Spoth et al., "Reducing Ambiguity in
// JSON Schema Discovery" (SIGMOD 2021).
import { itemsOf, LIST, MAP, TEXT, type Tape } from './tape';

/** Items that are looked at; what many are like shows in these. */
const SAMPLE = 60;
/** How alike the names in the items of a collection are at least, from 0 to 1. */
const ALIKE = 0.15;
/** Maps that need not be alike where they are all that a file holds. */
const FEW = 4;
/** A map of so many maps, or so many lists, is a collection, however little these are alike. */
const MAPS = 20;
/** A map of so many values of one type is a collection of them. */
const VALUES = 50;
/** A collection of so many is one, whatever is beside it. */
const MANY = 8;
/** Single values that may be beside the collections of a file: a version, a title. */
const BESIDE = 4;
/** Share of a file that its collections must be, where they are not all there is. */
const MOST = 0.75;
/** So many maps of plain values beside each other are things of one sort where this share of their names comes again. */
const [BESIDE_EACH_OTHER, IN_COMMON] = [3, 0.2];
/** Maps in maps that are looked into for collections. */
const DEEPEST = 3;
/** Collections that a file is cut into at most: more are the parts of something that is one. */
const MOST_PARTS = 24;

const isHolder = (tape: Tape, node: number) => tape.kind(node) === MAP || tape.kind(node) === LIST;

const nameOf = (tape: Tape, node: number) => tape.text.slice(tape.keyFrom(node), tape.keyTo(node));

function sampled(items: readonly number[]): readonly number[] {
	if (items.length <= SAMPLE) return items;
	return Array.from({ length: SAMPLE }, (_, at) => items[Math.floor((at * items.length) / SAMPLE)]!);
}

/**
 * How alike the names in some maps are: the share of the other maps in which a name stands, on average over all names
 * that are in them. 1 where all have the same, 0 where each has its own.
 */
export function likenessOf(tape: Tape, maps: readonly number[]): number {
	const counts = new Map<string, number>();
	let all = 0;
	const some = sampled(maps);
	for (const map of some)
		for (const item of itemsOf(tape, map)) {
			const name = nameOf(tape, item);
			counts.set(name, (counts.get(name) ?? 0) + 1);
			all++;
		}
	if (all === 0) return maps.length > 0 ? 1 : 0;
	let squares = 0;
	for (const count of counts.values()) squares += Math.min(count, some.length) ** 2;
	const share = squares / (some.length * all);
	// Of two maps that have no name in common, each name is in half.
	return some.length === 1 ? share : (share * some.length - 1) / (some.length - 1);
}

/** What the values of a map are, where all are of one type; -1 where they differ or are no single values. */
function typeOf(tape: Tape, items: readonly number[]): number {
	const type = (node: number) => {
		if (isHolder(tape, node)) return -1;
		if (tape.kind(node) === TEXT) return 0;
		return /^[-+.\d]/.test(tape.text.slice(tape.from(node), tape.from(node) + 2)) ? 1 : 2;
	};
	const first = items.length > 0 ? type(items[0]!) : -1;
	return sampled(items).every((item) => type(item) === first) ? first : -1;
}

/**
 * Whether the items of a list or map are things of one sort.
 * @param alike how alike the names in a few maps must be
 */
export function isCollection(tape: Tape, node: number, alike = ALIKE): boolean {
	if (!isHolder(tape, node)) return false;
	const items = itemsOf(tape, node);
	if (items.length === 0) return false;
	const maps = items.every((item) => tape.kind(item) === MAP);
	if (tape.kind(node) === LIST) return maps;
	if (items.length >= MAPS && items.every((item) => tape.kind(item) === LIST)) return true;
	if (!maps) return items.length >= VALUES && typeOf(tape, items) >= 0;
	return items.length >= MAPS || likenessOf(tape, items) >= alike;
}

/** Maps of lists or single values, beside each other, that hold the same names now and then: each is one of several things. */
function haveNamesInCommon(tape: Tape, maps: readonly number[]): boolean {
	if (maps.length < BESIDE_EACH_OTHER) return false;
	const counts = new Map<string, number>();
	for (const map of maps) {
		if (tape.kind(map) !== MAP) return false;
		for (const item of itemsOf(tape, map)) {
			if (tape.kind(item) === MAP) return false;
			counts.set(nameOf(tape, item), (counts.get(nameOf(tape, item)) ?? 0) + 1);
		}
	}
	const shared = [...counts.values()].filter((count) => count > 1).length;
	return shared > counts.size * IN_COMMON;
}

/** The collections below a map that is none itself, each in no other. */
function below(tape: Tape, node: number, depth: number): number[] {
	return itemsOf(tape, node).flatMap((item) => {
		if (isCollection(tape, item)) return [item];
		return depth > 0 && tape.kind(item) === MAP ? below(tape, item, depth - 1) : [];
	});
}

/** Names under which files keep what they hold. */
const WRAPPERS = /^["']?(?:data|records?|items|entries|list|rows|values|content|contents|all)["']?$/i;
const OWN = /^["']?(?:id|key|uid|guid)["']?$/i;

/**
 * The lists and maps of a file whose items are its records, in their order; none where the file is one record. What
 * is beside them must be little: a record with a long list in it is still a record.
 */
export function collectionsIn(tape: Tape, root: number): number[] {
	return within(tape, root, true);
}

/** The same of what a file holds, or of the one map in it. */
function within(tape: Tape, root: number, outmost: boolean): number[] {
	if (!isHolder(tape, root)) return [];
	const items = itemsOf(tape, root);
	// One map alone may be a record under its name, or what is around many.
	if (tape.kind(root) === MAP && items.length === 1 && tape.kind(items[0]!) === MAP) {
		const inside = within(tape, items[0]!, false);
		const many = inside.some((node) => itemsOf(tape, node).length >= MANY);
		if (inside.length > 0 && (many || WRAPPERS.test(nameOf(tape, items[0]!)))) return inside;
	}
	if (isCollection(tape, root)) return [root];
	if (tape.kind(root) !== MAP || items.length === 0) return [];
	const found = below(tape, root, DEEPEST);
	// A few maps that are all there is may have no name in common, unless they hold many things themselves.
	const many = found.some((node) => itemsOf(tape, node).length >= MANY);
	if (outmost && !many && items.length <= FEW && isCollection(tape, root, 0)) return [root];
	if (found.length > MOST_PARTS) return [];
	const [only] = items;
	if (items.length === 1 && isHolder(tape, only!)) {
		if (found.length > 0) return found;
		// A list or map that holds nothing yet.
		return tape.after(only!) === only! + 1 ? [only!] : [];
	}
	if (found.length === 0) return [];
	if (found.length === items.length && haveNamesInCommon(tape, items)) return [root];
	const values = items.filter((item) => !isHolder(tape, item));
	if (values.length > BESIDE || values.some((item) => OWN.test(nameOf(tape, item)))) return [];
	const nodes = found.reduce((sum, node) => sum + tape.after(node) - node, 0);
	if (nodes < (tape.after(root) - root) * MOST) return [];
	const wrapped = found.some((node) => WRAPPERS.test(nameOf(tape, node)));
	return many || wrapped ? found : [];
}
