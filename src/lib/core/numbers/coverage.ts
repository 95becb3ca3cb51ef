// What ranges over one or two axes cover together, where nothing does, and where several do.

/** One rule: its ranges, one to an axis, the upper ends not part of them. */
export interface Band {
	id: string;
	ranges: [number, number][];
}

/** A cell of the axes cut at all ends of ranges, with the bands over it. */
export interface Cell {
	ranges: [number, number][];
	/** Numbers of bands in the order given. */
	over: number[];
}

/** The cells of the field between the ends of its axes, in the order of the first axis, then the second. */
export function coverage(bands: readonly Band[], ends: readonly [number, number][]): Cell[] {
	const cuts = ends.map(([low, high], axis) =>
		[...new Set([low, high, ...bands.flatMap(({ ranges }) => ranges[axis] ?? [])])]
			.filter((cut) => cut >= low && cut <= high)
			.sort((a, b) => a - b)
	);
	let cells: [number, number][][] = [[]];
	for (const list of cuts)
		cells = cells.flatMap((cell) =>
			list.slice(1).map((to, at): [number, number][] => [...cell, [list[at]!, to]])
		);
	return cells.map((ranges) => ({
		ranges,
		over: bands.flatMap((band, nth) =>
			ranges.every(([from, to], axis) => {
				const own = band.ranges[axis];
				return own !== undefined && own[0] <= from && own[1] >= to;
			})
				? [nth]
				: []
		)
	}));
}
