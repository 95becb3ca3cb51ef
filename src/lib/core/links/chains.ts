// Records that lead to others of their own kind, step by step: upgrades, successors, what follows what.
import { addTo } from '../gather';
import type { Table } from '../stack';
import type { Links } from './links';

/** One record of a chain. */
export interface Step {
	row: number;
	/** Row that it leads to; -1 where it ends, or names nothing that is there. */
	to: number;
	/** The id that it names and that is not there. */
	loose: string | null;
	/** Whether following it from here comes back to where one was. */
	circle: boolean;
	/** Steps to the end of the chain. */
	left: number;
	/** Place from the top, so that whoever leads to the same end is together. */
	place: number;
}

/**
 * The chains that a field makes, as a forest that grows together towards its ends. Records that neither lead anywhere nor
 * are led to are left out. A circle is cut at one of its links, which is marked.
 */
export function chainsIn(links: Links, table: Table, field: string): Step[] {
	const strand = links.strands.find((one) => one.table === table && one.field === field && !one.text);
	if (!strand || strand.rows) return [];
	const start = links.starts.get(table.kind)!;
	const target = (row: number) => {
		const to = strand.to[row]! - start;
		return to >= 0 && to < table.count ? to : -1;
	};
	const from = new Map<number, number[]>();
	const steps = new Map<number, Step>();
	for (let row = 0; row < table.count; row++) {
		const to = target(row);
		const loose = strand.values[row]! >= 0 && strand.to[row]! < 0 ? table.pool.at(strand.values[row]!) : null;
		if (to < 0 && loose === null) continue;
		steps.set(row, { row, to, loose, circle: false, left: 0, place: 0 });
		if (to >= 0) addTo(from, to, row);
	}
	for (const row of from.keys())
		if (!steps.has(row)) steps.set(row, { row, to: -1, loose: null, circle: false, left: 0, place: 0 });
	// A circle is found by walking on from each record until one meets a place of this walk or of an earlier one.
	const walked = new Map<number, number>();
	for (const step of steps.values()) {
		let now: Step | undefined = step;
		while (now && !walked.has(now.row)) {
			walked.set(now.row, step.row);
			const next: Step | undefined = now.to < 0 ? undefined : steps.get(now.to);
			if (next && walked.get(next.row) === step.row) now.circle = true;
			now = next;
		}
	}
	let place = 0;
	const settle = (step: Step, left: number): number => {
		step.left = left;
		const places = (from.get(step.row) ?? [])
			.map((row) => steps.get(row)!)
			.filter(({ circle }) => !circle)
			.map((source) => settle(source, left + 1));
		step.place = places.length === 0 ? place++ : (places[0]! + places.at(-1)!) / 2;
		return step.place;
	};
	for (const step of steps.values()) if (step.to < 0 || step.circle) settle(step, 0);
	return [...steps.values()];
}
