// What benches say, and how they take times.

/** Milliseconds as they are read. */
export const ms = (value: number) => (value < 10 ? value.toFixed(1) : value.toFixed(0));
/** A line: what was measured, what came of it, what was aimed at. */
export const row = (what: string, said: string, limit = '') =>
	console.log(`${what.padEnd(46)} ${said.padEnd(50)} ${limit}`);
export const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1]!;
export const most = (list: number[]) => Math.max(...list);

/** The work and the milliseconds it took. */
export function timed<T>(work: () => T): [T, number] {
	const started = performance.now();
	const result = work();
	return [result, performance.now() - started];
}
