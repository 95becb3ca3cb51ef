// What changed besides what was asked for, in words.
import { counted, listed } from '../wording';
import type { FollowSort, ValueChange } from './plan';

const NOUNS: Record<FollowSort, [string, string]> = {
	derived: ['calculated field', 'calculated fields'],
	text: ['text', 'texts'],
	twin: ['twin value', 'twin values'],
	pair: ['value of its counterpart', 'values of its counterpart'],
	list: ['list', 'lists'],
	asset: ['file named after it', 'files named after it'],
	counter: ['counter', 'counters'],
	reference: ['reference', 'references'],
	script: ['place in scripts', 'places in scripts']
};

/** What also changed, by sort and with the first names: `2 references (Oak and Elm)`; empty where nothing did. */
export function followedInWords(values: readonly ValueChange[]): string {
	const sorts = new Map<FollowSort, ValueChange[]>();
	for (const value of values) if (value.by) sorts.set(value.by, [...(sorts.get(value.by) ?? []), value]);
	const parts = [...sorts].map(([sort, some]) => {
		const names = [...new Set(some.map(({ name }) => name))];
		const told = names.length > 2 ? [...names.slice(0, 2), `${names.length - 2} more`] : names;
		return `${counted(some.length, ...NOUNS[sort])} (${listed(told)})`;
	});
	return parts.length === 0 ? '' : listed(parts);
}
