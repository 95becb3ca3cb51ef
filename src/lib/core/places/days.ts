// When what is there: day by day, or level by level.
import { sum } from 'd3-array';
import type { PlaceGuide } from '../guide';

type Days = NonNullable<PlaceGuide['days']>;

/** From when to when something is there; null for always. */
export interface Span {
	from: number | null;
	until: number | null;
}

/** All days, in their order. */
export const daysIn = ({ first, last }: Days): number[] =>
	Array.from({ length: last - first + 1 }, (_, nth) => first + nth);

/** The same day in the first round, where days begin again. */
export function dayIn({ first, last, repeats }: Days, day: number): number {
	if (!repeats) return day;
	const count = last - first + 1;
	return first + ((((day - first) % count) + count) % count);
}

/** Whether something is there on a day. A span that ends before it begins goes on over the turn, where days repeat. */
export function isThere(days: Days, { from, until }: Span, day: number): boolean {
	if (from === null && until === null) return true;
	const on = dayIn(days, day);
	const begin = from ?? days.first;
	const end = until ?? from!;
	if (begin <= end) return on >= begin && on <= end;
	return days.repeats && (on >= begin || on <= end);
}

/** Whether two things are there on one day; where there are no days, they always are. */
export const meet = (days: Days | undefined, a: Span, b: Span): boolean =>
	days === undefined || daysIn(days).some((day) => isThere(days, a, day) && isThere(days, b, day));

/** What there is of each day: how many, and whether that is none or many more than usual. */
export interface DayCount {
	day: number;
	count: number;
	is: 'gap' | 'pile' | null;
}

/** Standard deviations above the mean, and things more than it, from which on a day is one on which things pile up. */
const PILE = { spread: 2, least: 3 };

/** How much is there on each day. What is always there is not counted. */
export function countDays(days: Days, spans: readonly Span[]): DayCount[] {
	const bound = spans.filter(({ from, until }) => from !== null || until !== null);
	const alike = new Map<number | null, Map<number | null, number>>();
	for (const { from, until } of bound) {
		const ends = alike.get(from) ?? new Map<number | null, number>();
		alike.set(from, ends);
		ends.set(until, (ends.get(until) ?? 0) + 1);
	}
	const counts = daysIn(days).map((day) => ({
		day,
		count: sum(alike, ([from, ends]) =>
			sum(ends, ([until, count]) => (isThere(days, { from, until }, day) ? count : 0))
		)
	}));
	const mean = counts.reduce((sum, { count }) => sum + count, 0) / counts.length;
	const spread = Math.sqrt(counts.reduce((sum, { count }) => sum + (count - mean) ** 2, 0) / counts.length);
	return counts.map(({ day, count }) => ({
		day,
		count,
		is:
			bound.length === 0
				? null
				: count === 0
					? 'gap'
					: count >= mean + Math.max(PILE.spread * spread, PILE.least)
						? 'pile'
						: null
	}));
}
