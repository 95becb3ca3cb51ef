import type { BudgetGuide } from '../guide';
import { numberIn } from './formula';

/** What a record spends by the cost table of its kind. */
export interface Budget {
	title: string;
	spent: number;
	/** What may be spent; null where nothing is said. */
	most: number | null;
	/** Points of each field, those that cost most first. */
	parts: { field: string; points: number }[];
}

const tidy = (points: number) => Number(points.toFixed(3));

/** What one field of a record costs; 0 for a value that is not a number or no code of the table. */
function pointsOf({ costs, from = {} }: BudgetGuide, field: string, value: string | undefined): number {
	const cost = costs[field];
	if (cost === undefined || value === undefined || value === '') return 0;
	if (typeof cost === 'object') return cost[value] ?? 0;
	const number = numberIn(value);
	return Number.isFinite(number) ? tidy((number - (from[field] ?? 0)) * cost) : 0;
}

/** The whole of it. */
export function budgetOf(budget: BudgetGuide, value: (field: string) => string | undefined): Budget {
	const parts = Object.keys(budget.costs)
		.map((field) => ({ field, points: pointsOf(budget, field, value(field)) }))
		.sort((a, b) => b.points - a.points);
	const { most } = budget;
	const limit = typeof most === 'string' ? numberIn(value(most) ?? '') : (most ?? NaN);
	return {
		title: budget.title,
		spent: tidy(parts.reduce((sum, { points }) => sum + points, 0)),
		most: Number.isFinite(limit) ? limit : null,
		parts
	};
}

/**
 * What a field costs, in words; null where it costs nothing.
 * @param meaning what a code of the field stands for; null where nobody says
 */
export function costInWords(
	{ costs, from = {}, title }: BudgetGuide,
	field: string,
	meaning: (code: string) => string | null
): string | null {
	const cost = costs[field];
	if (cost === undefined) return null;
	const unit = title.toLowerCase();
	if (typeof cost === 'object')
		return Object.entries(cost)
			.map(([code, points], nth) => `${points}${nth === 0 ? ` ${unit}` : ''} for ${meaning(code) ?? code}`)
			.join('; ');
	return `${cost} ${unit} for each${from[field] ? ` above ${from[field]}` : ''}`;
}
