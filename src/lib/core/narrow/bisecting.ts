/** What came of a try: the fault was there, or not. */
export type Outcome = 'fails' | 'passes';

/** What was found. Parts are named by their numbers, from 0. */
export interface Narrowed {
	/** The fault is there without any part, or is not there with all of them: there is nothing to find. */
	none: 'without any' | 'not with all' | null;
	/** Smallest sets that each bring it about by themselves: without one of its parts, none does. */
	causes: number[][];
}

/** A line of a log without what differs from start to start: its numbers. */
export const bareLine = (line: string): string => line.replace(/\d+/g, '#').trim();

/** What tells one set of parts from another. @param parts in order */
export const keyOf = (parts: readonly number[]): string => parts.join(',');

/**
 * Finds the smallest sets of parts that bring a fault about. What is yielded is tried by the caller, who answers.
 *
 * Delta debugging (Zeller and Hildebrandt, Simplifying and Isolating Failure-Inducing Input, 2002) in the form for
 * parts that have an order: the shortest beginning of the list that fails is found by halves; its last part is one of
 * the guilty. With it kept, the shortest beginning before it is found that fails together with it, and so on, until
 * what is kept fails alone. What is left over is then searched in the same way, as there may be a second cause. For one
 * guilty part of n it takes 3 + ceil(log2 n) tries besides the one that only confirms the fault with all parts.
 * @param count of parts
 * @param most causes that are looked for
 */
export function* bisecting(count: number, most = 5): Generator<number[], Narrowed, Outcome> {
	let left = Array.from({ length: count }, (_, nth) => nth);
	if ((yield []) === 'fails') return { none: 'without any', causes: [] };
	const causes: number[][] = [];
	while (left.length > 0 && causes.length < most) {
		if ((yield left) === 'passes') break;
		const cause: number[] = yield* causeIn(left);
		causes.push(cause);
		left = left.filter((part) => !cause.includes(part));
	}
	return { none: causes.length === 0 ? 'not with all' : null, causes };
}

/** A smallest set within one that fails. */
function* causeIn(all: readonly number[]): Generator<number[], number[], Outcome> {
	let kept: number[] = [];
	let open = [...all];
	for (;;) {
		// The kept ones alone pass, with all open ones they fail.
		let [passes, fails] = [0, open.length];
		while (fails - passes > 1) {
			const middle = (passes + fails) >> 1;
			if ((yield [...open.slice(0, middle), ...kept]) === 'fails') fails = middle;
			else passes = middle;
		}
		kept = [open[fails - 1]!, ...kept];
		open = open.slice(0, fails - 1);
		// With nothing before it, it was tried alone just now.
		if (open.length === 0 || (yield kept) === 'fails') return kept;
	}
}

/**
 * Searches sets of parts one after the other, where not all parts can be in together.
 * @param rounds numbers of the parts of each set; a part may be in several
 */
export function* inRounds(
	rounds: readonly (readonly number[])[],
	most = 5
): Generator<number[], Narrowed, Outcome> {
	const causes = new Map<string, number[]>();
	let none: Narrowed['none'] = 'not with all';
	for (const round of rounds) {
		const search = bisecting(round.length, most);
		let next = search.next();
		while (!next.done) next = search.next(yield next.value.map((nth) => round[nth]!));
		for (const cause of next.value.causes) {
			const parts = cause.map((nth) => round[nth]!);
			causes.set(keyOf(parts), parts);
		}
		if (next.value.none === 'without any') return next.value;
		if (causes.size > 0) none = null;
	}
	return { none, causes: [...causes.values()] };
}
