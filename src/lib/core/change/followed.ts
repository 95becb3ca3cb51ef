// What changed besides what was asked for, in words.
import { addTo } from '../gather';
import { counted, listed } from '../wording';
import type { FollowSort, ValueChange } from './plan';

/** Values that changed because they stand for one that was changed have no sort: nobody can decline them. */
const NOUNS: Record<FollowSort | 'shared', [string, string]> = {
	derived: ['calculated field', 'calculated fields'],
	text: ['text', 'texts'],
	twin: ['twin value', 'twin values'],
	pair: ['value of its counterpart', 'values of its counterpart'],
	list: ['list', 'lists'],
	asset: ['file named after it', 'files named after it'],
	counter: ['counter', 'counters'],
	reference: ['reference', 'references'],
	script: ['place in scripts', 'places in scripts'],
	shared: ['record that shares the value', 'records that share the value']
};

/** What also changed, by sort and with the first names: `2 references (Oak and Elm)`; empty where nothing did. */
export function followedInWords(values: readonly ValueChange[]): string {
	const sorts = new Map<FollowSort | 'shared', ValueChange[]>();
	for (const value of values) {
		if (value.follows === undefined) continue;
		const sort = value.by ?? 'shared';
		addTo(sorts, sort, value);
	}
	const parts = [...sorts].map(([sort, some]) => {
		const names = [...new Set(some.map(({ name }) => name))];
		const told = names.length > 2 ? [...names.slice(0, 2), `${names.length - 2} more`] : names;
		return `${counted(some.length, ...NOUNS[sort])} (${listed(told)})`;
	});
	return parts.length === 0 ? '' : listed(parts);
}
