/** The values that a field takes over all records of a kind. */
export interface Spread {
	/** Ascending; not finite ones left out. */
	values: number[];
	min: number;
	max: number;
}

/** The spread of written values; null where fewer than two are numbers or all but a few are not. */
export function spreadOf(written: readonly string[]): Spread | null {
	const filled = written.filter((value) => value.trim() !== '');
	const values = filled
		.map(Number)
		.filter(Number.isFinite)
		.sort((a, b) => a - b);
	if (values.length < 2 || values.length < filled.length * 0.9) return null;
	return { values, min: values[0]!, max: values.at(-1)! };
}

/** Share of the values that are smaller, plus half of those that are equal: 0 to 1. */
export function rankOf(spread: Spread, value: number): number {
	let below = 0;
	let equal = 0;
	for (const other of spread.values) {
		if (other < value) below++;
		else if (other === value) equal++;
	}
	return (below + equal / 2) / spread.values.length;
}
