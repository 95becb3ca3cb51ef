// What becomes of a clash: by a rule where only one layer truly changes the value, else as people choose.
import { addTo } from '../gather';
import { fieldOf } from '../guide';
import type { Stack } from '../stack';
import type { Clash } from './clashes';

/** What is chosen for a clash: the value of a layer, both numbers together, one of them, both lists, or another value. */
export type Choice =
	| { by: 'layer'; layer: string }
	| { by: 'sum' | 'larger' | 'smaller' | 'joined' }
	| { by: 'value'; value: string };

const NUMBER = /^[-+]?\d+(?:\.\d+)?$/;

const decimals = (text: string) => /\.(\d+)$/.exec(text)?.[1]!.length ?? 0;

/** The values that are changes, each once, in the order of loading. */
const changesOf = ({ values }: Clash): string[] => [
	...new Set(values.flatMap(({ value, copied }) => (copied || value === null ? [] : [value])))
];

/** The value that counts by itself: the only one that a layer truly sets; null where several do. */
export function valueByRule(clash: Clash): string | null {
	const changes = changesOf(clash);
	return changes.length === 1 ? changes[0]! : null;
}

/** What is between the items of a list in one value; null where the field is none. */
const separatorOf = ({ guide }: Stack, { kind, field }: Clash): string | null =>
	kind === null || field === null
		? null
		: (fieldOf(guide.kinds[kind], field)?.separator ??
			fieldOf(guide.kinds[kind], field)?.reference?.list ??
			null);

/** The ways in which a clash can be settled besides choosing a layer. */
export function waysFor(stack: Stack, clash: Clash): ('sum' | 'larger' | 'smaller' | 'joined')[] {
	const changes = changesOf(clash);
	if (changes.length < 2) return [];
	const ways: ReturnType<typeof waysFor> = [];
	if (changes.every((value) => NUMBER.test(value))) {
		if (clash.base !== null && NUMBER.test(clash.base)) ways.push('sum');
		ways.push('larger', 'smaller');
	}
	if (separatorOf(stack, clash) !== null) ways.push('joined');
	return ways;
}

/** Items of all lists: those of the game that no layer takes out, and those that any adds, each once. */
function joined(base: string, lists: readonly string[], separator: string): string {
	const items = (text: string) => (text === '' ? [] : text.split(separator));
	const all = lists.map(items);
	const kept = items(base).filter((item) => all.every((list) => list.includes(item)));
	const added = all.flat().filter((item) => !items(base).includes(item));
	return [...new Set([...kept, ...added])].join(separator);
}

/** The value that a choice gives; null where it gives none. */
export function settledValue(stack: Stack, clash: Clash, choice: Choice): string | null {
	const changes = changesOf(clash);
	switch (choice.by) {
		case 'value':
			return choice.value;
		case 'layer':
			return clash.values.find(({ layer }) => layer.id === choice.layer)?.value ?? null;
		case 'larger':
		case 'smaller': {
			const sign = choice.by === 'larger' ? -1 : 1;
			return changes.toSorted((a, b) => (Number(a) - Number(b)) * sign)[0] ?? null;
		}
		case 'sum': {
			const base = Number(clash.base);
			const places = Math.max(decimals(clash.base ?? ''), ...changes.map(decimals));
			return changes.reduce((sum, value) => sum + Number(value) - base, base).toFixed(places);
		}
		case 'joined': {
			const separator = separatorOf(stack, clash);
			return separator === null ? null : joined(clash.base ?? '', changes, separator);
		}
	}
}

/** A value that settles a clash. */
export interface Settled {
	kind: string;
	id: string;
	field: string;
	value: string;
	/** What the game uses now. */
	expected: string | null;
}

/** The values to be written for clashes and their choices: those that the game does not use already. */
export function settledValues(stack: Stack, chosen: Iterable<readonly [Clash, Choice]>): Settled[] {
	const found: Settled[] = [];
	for (const [clash, choice] of chosen) {
		if (clash.kind === null || clash.field === null) continue;
		const value = settledValue(stack, clash, choice);
		const expected = clash.values.at(-1)!.value;
		if (value !== null && value !== expected)
			found.push({ kind: clash.kind, id: clash.record, field: clash.field, value, expected });
	}
	return found;
}

/** Values of several kinds as steps that set them, one for each kind. */
export function cellSteps<T extends { kind: string }>(cells: readonly T[]) {
	const byKind = new Map<string, Omit<T, 'kind'>[]>();
	for (const { kind, ...cell } of cells) addTo(byKind, kind, cell);
	return [...byKind].map(([kind, list]) => ({ do: 'cells' as const, kind, cells: list }));
}

/** The same as one step of changes. */
export const settledStep = (settled: readonly Settled[], title: string) => ({
	do: 'several' as const,
	title,
	steps: cellSteps(settled)
});
