// How sure a finding is, and the sentence that says what for.
import type { Found } from '../guide';

/**
 * The lower end of what a share may really be, when `hits` of `all` were seen (Wilson's interval at 90 %): few
 * observations are never quite sure.
 */
export function atLeast(hits: number, all: number): number {
	if (all === 0) return 0;
	const z = 1.28;
	const share = hits / all;
	const middle = share + (z * z) / (2 * all);
	const spread = z * Math.sqrt((share * (1 - share)) / all + (z * z) / (4 * all * all));
	return Math.max(0, (middle - spread) / (1 + (z * z) / all));
}

export { numbered as said } from '../wording';

/** `a, b, c …` in quotes, the first few. */
export const listed = (values: readonly string[], most = 3): string =>
	values
		.slice(0, most)
		.map((value) => `“${value.length > 40 ? `${value.slice(0, 39)}…` : value}”`)
		.join(', ') + (values.length > most ? ' …' : '');

/** A finding. `sure` is kept to two digits, and is never 1: only what people say is. */
export const finding = (sure: number, because: string): NonNullable<Found> => ({
	sure: Math.min(0.99, Math.round(Math.max(0, sure) * 100) / 100),
	because
});
