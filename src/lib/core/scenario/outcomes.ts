// What a program that plays a scenario prints: a line of JSON for each time it played, with the seed and the numbers that
// came of it.

/** What came of one play. */
export interface Play {
	seed: number;
	/** Numbers by their names; a truth value counts as 1 or 0. */
	values: Record<string, number>;
}

/** Outcomes that are looked at, of all that a program prints. */
const MOST = 40;

/** One line of what a program printed; null where it is no play: words of the game, or a broken line. */
export function playIn(line: string): Play | null {
	if (!line.startsWith('{')) return null;
	let said: unknown;
	try {
		said = JSON.parse(line);
	} catch {
		return null;
	}
	const { seed, ...rest } = said as Record<string, unknown>;
	if (typeof seed !== 'number' || !Number.isFinite(seed)) return null;
	const values = Object.entries(rest)
		.map(([name, value]) => [name, typeof value === 'boolean' ? Number(value) : value] as const)
		.filter((pair): pair is readonly [string, number] => Number.isFinite(pair[1]))
		.slice(0, MOST);
	return { seed, values: Object.fromEntries(values) };
}

/** Numbers of two sides that belong together, one of each for a seed. */
export interface Pairs {
	seeds: number[];
	base: Float64Array;
	mine: Float64Array;
}

/** Names of outcomes that both sides have, in the order in which they are printed. */
export function namesIn(base: readonly Play[], mine: readonly Play[]): string[] {
	const namesOf = (plays: readonly Play[]) => new Set(plays.flatMap(({ values }) => Object.keys(values)));
	const other = namesOf(mine);
	return [...namesOf(base)].filter((name) => other.has(name));
}

/** The numbers of one outcome, paired by seed; what only one side played is left out. */
export function pairsOf(name: string, base: readonly Play[], mine: readonly Play[]): Pairs {
	const theirs = new Map(mine.map(({ seed, values }) => [seed, values[name]]));
	const both = base.flatMap(({ seed, values }) => {
		const [one, other] = [values[name], theirs.get(seed)];
		return one === undefined || other === undefined ? [] : [{ seed, one, other }];
	});
	return {
		seeds: both.map(({ seed }) => seed),
		base: Float64Array.from(both, ({ one }) => one),
		mine: Float64Array.from(both, ({ other }) => other)
	};
}

/** All plays of both sides as a table: side, seed and each outcome. */
export function playsAsCsv(sides: readonly { side: string; plays: readonly Play[] }[]): string {
	const names = [
		...new Set(sides.flatMap(({ plays }) => plays.flatMap(({ values }) => Object.keys(values))))
	];
	const cell = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
	const rows = sides.flatMap(({ side, plays }) =>
		plays.map(({ seed, values }) =>
			[cell(side), String(seed), ...names.map((name) => String(values[name] ?? ''))].join(',')
		)
	);
	return `${['side', 'seed', ...names.map(cell)].join(',')}\n${rows.map((row) => `${row}\n`).join('')}`;
}
