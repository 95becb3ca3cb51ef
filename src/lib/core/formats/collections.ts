// Collections against structures: which lists and maps of a file hold things of one sort, and which are one thing with
// parts. Told by how alike the names in their items are, as the key-space entropy of Spoth et al., "Reducing Ambiguity in
// JSON Schema Discovery" (SIGMOD 2021).
import { BARE, itemsOf, LIST, MAP, TEXT, type Tape } from './tape';

/** Items that are looked at; what many are like shows in these. */
const SAMPLE = 60;
/** How alike the names in the items of a collection are at least, from 0 to 1. */
export const ALIKE = 0.15;
/** A map of so many maps, or so many lists, is a collection, however little these are alike. */
const MAPS = 20;
/** A map of so many values of one type is a collection of them. */
const VALUES = 50;
/** Of so many texts, or of so many whose names have parts, a map is a collection: nothing that is one has so many. */
const [TEXTS, NAMED_TEXTS] = [16, 3];
/** A name with parts: `unit.gull.name`. */
const WITH_PARTS = /^["']?[^"'\s]+[.:/][^"'\s]+["']?$/;
/** A collection of so many is one, whatever is beside it. */
const MANY = 8;
/** Single values that may be beside the collections of a file: a version, a title. */
const BESIDE = 4;
/** Share of a file that its collections must be, where they are not all there is. */
const MOST = 0.75;
/** So many maps of plain values beside each other are things of one sort where this share of their names comes again. */
const [BESIDE_EACH_OTHER, IN_COMMON] = [3, 0.2];
/** So many maps, or lists of maps, with so much in common are things of one sort, wherever they stand. */
const [PLAIN, MUCH] = [3, 0.7];
/** Up to so many maps of at least so many things each are what is said of the things, which are in all of them. */
const [SIDES, TURNED] = [4, 40];
/** Share of the many things under names that are maps at least, and how often one that is said in a word is next to one. */
const [SPELT_OUT, MIXED] = [0.5, 4];
/** Maps in maps that are looked into for collections. */
const DEEPEST = 3;
/** Collections that a file is cut into at most, unless they are large: more small ones are the parts of something that is one. */
const MOST_PARTS = 24;

const isHolder = (tape: Tape, node: number) => tape.kind(node) === MAP || tape.kind(node) === LIST;

const nameOf = (tape: Tape, node: number) => tape.text.slice(tape.keyFrom(node), tape.keyTo(node));

/** What stands in a list for a thing that is not there. */
const isNothing = (tape: Tape, node: number) =>
	tape.kind(node) === BARE && /^(?:null|nil|~)$/.test(tape.text.slice(tape.from(node), tape.to(node)));

/** A name that the rest of a file uses in place of a value. */
const isConstant = (tape: Tape, node: number) =>
	!isHolder(tape, node) && tape.keyFrom(node) >= 0 && '@$'.includes(tape.text[tape.keyFrom(node)]!);

/**
 * The items of a list or map that are things: lists whose things have the numbers of their places have gaps, and beside
 * the things under their names there are constants, or a version.
 */
export function filledItems(tape: Tape, node: number): number[] {
	const items = itemsOf(tape, node);
	if (tape.kind(node) === LIST) return items.filter((item) => !isNothing(tape, item));
	const things = items.filter((item) => !isConstant(tape, item));
	const maps = things.filter((item) => tape.kind(item) === MAP);
	const others = things.filter((item) => tape.kind(item) !== MAP);
	// A version beside many things is none of them.
	if (maps.length >= MANY && others.every((item) => !isHolder(tape, item) && isAboutFile(nameOf(tape, item))))
		return maps;
	return things.some((item) => isHolder(tape, item)) ? things : items;
}

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
	const items = filledItems(tape, node);
	if (items.length === 0) return false;
	const maps = items.every((item) => tape.kind(item) === MAP);
	if (tape.kind(node) === LIST) return maps;
	if (items.every((item) => tape.kind(item) === LIST))
		return items.length >= MAPS ? !areTables(tape, items) : areListsAlike(tape, items);
	if (!maps) return areValues(tape, items) || areSpeltOut(tape, items, alike) || areMostlyLists(tape, items);
	if (areTurned(tape, items)) return false;
	return items.length >= MAPS || likenessOf(tape, items) >= alike || takeOver(tape, items);
}

const sizeOf = (tape: Tape, nodes: readonly number[]): number =>
	nodes.reduce((sum, node) => sum + tape.after(node) - node, 0);

/** Whether a few maps say different things of the same many: then these are the things. */
function areTurned(tape: Tape, maps: readonly number[]): boolean {
	if (maps.length > SIDES) return false;
	const large = maps.filter((map) => itemsOf(tape, map).length >= TURNED && isCollection(tape, map));
	return large.length > 0 && sizeOf(tape, large) >= sizeOf(tape, maps) * MOST;
}

/** Whether many things under names are lists of maps, though a few are maps of such. */
function areMostlyLists(tape: Tape, items: readonly number[]): boolean {
	const lists = items.filter((item) => tape.kind(item) === LIST);
	return (
		items.length >= MAPS &&
		lists.length >= items.length * MOST &&
		lists.every((list) => itemsOf(tape, list).every((item) => tape.kind(item) === MAP)) &&
		items.every((item) => isHolder(tape, item))
	);
}

/** Whether many things under names are of one sort, though some of them are a single value of one type. */
function areSpeltOut(tape: Tape, items: readonly number[], alike: number): boolean {
	if (items.length < MAPS) return false;
	const maps = items.filter((item) => tape.kind(item) === MAP);
	const others = items.filter((item) => tape.kind(item) !== MAP);
	// What is said of the file stands together, before the things or behind them.
	const changes = items.filter(
		(item, at) => at > 0 && isHolder(tape, item) !== isHolder(tape, items[at - 1]!)
	);
	return (
		changes.length >= MIXED &&
		maps.length >= items.length * SPELT_OUT &&
		likenessOf(tape, maps) >= alike &&
		typeOf(tape, others) >= 0
	);
}

/** Whether a map says that it takes over what another one has: they are of one sort, whatever else is in them. */
const takeOver = (tape: Tape, maps: readonly number[]): boolean =>
	maps.some((map) => itemsOf(tape, map).some((item) => nameOf(tape, item) === '<<'));

/** Whether single values under names are things of one sort. */
function areValues(tape: Tape, items: readonly number[]): boolean {
	const type = typeOf(tape, items);
	if (type < 0) return false;
	const withParts = () =>
		items.filter((item) => WITH_PARTS.test(nameOf(tape, item))).length >= items.length * MOST;
	const enough = type === 0 ? TEXTS : VALUES;
	return items.length >= enough || (type === 0 && items.length >= NAMED_TEXTS && withParts());
}

/** Whether lists are tables, each of things of its own sort: most of them are long, and alike only in themselves. */
function areTables(tape: Tape, lists: readonly number[]): boolean {
	const large = lists.filter((list) => itemsOf(tape, list).length >= MANY);
	if (large.length < lists.length / 2) return false;
	const things = large.map((list) => itemsOf(tape, list).filter((item) => tape.kind(item) === MAP));
	return (
		things.every((own) => own.length > 0 && likenessOf(tape, own) >= MUCH) &&
		likenessOf(tape, things.flat()) < MUCH
	);
}

/** Whether lists under names hold things of one sort that have no names of their own: each is what a thing has. */
function areListsAlike(tape: Tape, lists: readonly number[]): boolean {
	const inside = lists.flatMap((list) => itemsOf(tape, list));
	if (lists.length <= PLAIN || inside.length <= lists.length) return false;
	if (!inside.every((item) => tape.kind(item) === MAP) || likenessOf(tape, inside) < MUCH) return false;
	return !sampled(inside).some((map) => itemsOf(tape, map).some((item) => OWN.test(nameOf(tape, item))));
}

/** Whether a list or map is plainly one of things of one sort: several, with more than one name in common. */
function isPlain(tape: Tape, node: number): boolean {
	const items = filledItems(tape, node);
	if (items.length < PLAIN || likenessOf(tape, items) < MUCH) return false;
	return items.every((item) => tape.kind(item) === MAP && itemsOf(tape, item).length > 1);
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

/** The large collections in a map that only holds another one, or that one; none where it is something by itself. */
function wrappedIn(tape: Tape, node: number): number[] {
	const [inner, ...others] = itemsOf(tape, node);
	if (tape.kind(node) !== MAP || others.length > 0 || inner === undefined || tape.kind(inner) !== MAP)
		return [];
	const isLarge = (item: number) => isCollection(tape, item) && itemsOf(tape, item).length >= MANY;
	if (isLarge(inner)) return [inner];
	const deeper = wrappedIn(tape, inner);
	if (deeper.length > 0) return deeper;
	const found = itemsOf(tape, inner).filter((item) => isCollection(tape, item));
	return found.some(isLarge) && sizeOf(tape, found) >= sizeOf(tape, [inner]) * MOST ? found : [];
}

/** The collections below a map that is none itself, each in no other. */
function below(tape: Tape, node: number, depth: number): number[] {
	return itemsOf(tape, node).flatMap((item) => {
		const wrapped = wrappedIn(tape, item);
		if (wrapped.length > 0) return wrapped;
		if (isCollection(tape, item)) return [item];
		return depth > 0 && tape.kind(item) === MAP ? below(tape, item, depth - 1) : [];
	});
}

/** The collections in a file of which somebody said that it holds some: those that are plainly such. */
export const collectionsBeside = (tape: Tape, root: number): number[] =>
	tape.kind(root) === MAP ? below(tape, root, DEEPEST).filter((node) => isPlain(tape, node)) : [];

/** Names under which files keep what they hold. */
export const WRAPPER = /^["']?(?:data|records?|items|entries|list|rows|values|content|contents|all)["']?$/i;
const OWN = /^["']?(?:id|key|uid|guid)["']?$/i;
/** Names of values that say something of a file, not of what it holds. */
const ABOUT =
	/^["']?[$_#@]?(?:schema|version|format|revision|comments?|notes?|generated|generator|updated|modified|exported|authors?|licen[cs]e|copyright|encoding|count|total|checksum|return)["']?$/i;

/** Whether a value at the top of a file says something of the file, not of what it holds. */
export const isAboutFile = (name: string): boolean =>
	ABOUT.test(name.replace(/(?:[_-]?(?:format|schema|data|file))?[_-]?(?=version$)/i, ''));

/**
 * The lists and maps of a file whose items are its records, in their order; none where the file is one record. What
 * is beside them must be little: a record with a long list in it is still a record.
 */
export function collectionsIn(tape: Tape, root: number): number[] {
	return within(tape, root);
}

/** The same of what a file holds, or of the one map in it. */
function within(tape: Tape, root: number): number[] {
	if (!isHolder(tape, root)) return [];
	const items = itemsOf(tape, root);
	// One map alone may be a record under its name, or what is around many.
	if (tape.kind(root) === MAP && items.length === 1 && tape.kind(items[0]!) === MAP) {
		const inside = within(tape, items[0]!);
		const many = inside.some((node) => itemsOf(tape, node).length >= MANY);
		const plain = inside.length === 1 && isPlain(tape, inside[0]!);
		if (inside.length > 0 && (many || plain || WRAPPER.test(nameOf(tape, items[0]!)))) return inside;
	}
	if (isCollection(tape, root)) return [root];
	if (tape.kind(root) !== MAP || items.length === 0) return [];
	const found = below(tape, root, DEEPEST);
	const large = found.filter((node) => itemsOf(tape, node).length >= MANY).length;
	const many = large > 0;
	if (found.length > MOST_PARTS && large < found.length / 2) return [];
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
	if (sizeOf(tape, found) < sizeOf(tape, [root]) * MOST) return [];
	const wrapped = found.some((node) => WRAPPER.test(nameOf(tape, node)));
	const plain =
		found.every((node) => isPlain(tape, node)) && values.every((item) => isAboutFile(nameOf(tape, item)));
	return many || wrapped || plain ? found : [];
}
