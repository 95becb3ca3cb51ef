// gather: things put together under what they have in common, in time that grows with their number; and long
// work in steps, run to its end.
export { Growing } from './growing';
export { bytesFor, numbersFor } from './slabs';
export { inOneGo } from './steps';

/** Adds an item to those that a map has under a key. */
export function addTo<K, T>(map: Map<K, T[]>, key: K, item: T): void {
	const there = map.get(key);
	if (there) there.push(item);
	else map.set(key, [item]);
}

/** Items by what they have in common, in the order of the first of each. */
export function groupedBy<K, T>(items: Iterable<T>, keyOf: (item: T) => K): Map<K, T[]> {
	const groups = new Map<K, T[]>();
	for (const item of items) addTo(groups, keyOf(item), item);
	return groups;
}

/** The largest of some numbers, however many: a call takes some hundred thousand at most. -Infinity where there are none. */
export function largest(numbers: Iterable<number>): number {
	let found = -Infinity;
	for (const number of numbers) if (number > found) found = number;
	return found;
}

/** The smallest of some numbers, however many. Infinity where there are none. */
export function smallest(numbers: Iterable<number>): number {
	let found = Infinity;
	for (const number of numbers) if (number < found) found = number;
	return found;
}
