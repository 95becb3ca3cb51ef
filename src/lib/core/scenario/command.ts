// How a scenario of the guide is played: the arguments of the program, with what is put in their places.
import type { ScenarioGuide } from '../guide';

/** What fills the places of a scenario's arguments. */
export interface Filling {
	/** Ids of records, by the names of the inputs. */
	inputs: Readonly<Record<string, string>>;
	times: number;
	seed: number;
}

/** The arguments with all places filled; a place that nothing is known of stays as it is. */
export const argumentsOf = (
	{ arguments: given = [] }: ScenarioGuide,
	{ inputs, times, seed }: Filling
): string[] =>
	given.map((word) =>
		word.replace(/\{([\p{L}\p{N}_-]+)\}/gu, (whole, name: string) =>
			name === 'times' ? String(times) : name === 'seed' ? String(seed) : (inputs[name] ?? whole)
		)
	);

/** Seeds from one on, in shares that are played at the same time. */
export function shares(times: number, seed: number, workers: number): { times: number; seed: number }[] {
	const size = Math.ceil(times / Math.max(1, workers));
	const found: { times: number; seed: number }[] = [];
	for (let at = 0; at < times; at += size) found.push({ times: Math.min(size, times - at), seed: seed + at });
	return found;
}
