// Which columns are where: pinned, grouped, folded, and which of them are in sight.
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Column } from '$core/views';
import { asLines, linesOf, overCells, sizeOf } from '../../src/lib/ui/table/cells';
import { arrange, inSight, leftsOf, widthOf } from '../../src/lib/ui/table/columns';

const column = (path: string, group: string | null = null): Column => ({
	path,
	title: path,
	unit: null,
	numeric: false,
	coded: false,
	reference: false,
	meaning: null,
	group,
	unused: false,
	letters: 4,
	places: 0,
	ticks: null,
	range: null
});
const table = {
	groups: ['Way', 'Load'],
	columns: [column('a', 'Load'), column('b', 'Way'), column('c'), column('d', 'Load'), column('e', 'Way')]
};
const plain = { cols: [], pin: [], grouped: false, folded: [] };

describe('columns', () => {
	test('stand as the guide has them, chosen, pinned and grouped as one wants', () => {
		expect(arrange(table, plain)).toEqual({ paths: ['a', 'b', 'c', 'd', 'e'], pinned: 0, bands: [] });
		expect(arrange(table, { ...plain, cols: ['d', 'x', 'a'] }).paths).toEqual(['d', 'a']);
		expect(arrange(table, { ...plain, pin: ['d', 'x'] })).toMatchObject({
			paths: ['d', 'a', 'b', 'c', 'e'],
			pinned: 1
		});
		expect(arrange(table, { ...plain, grouped: true, pin: ['d'], folded: ['Way'] })).toEqual({
			paths: ['d', 'b', 'a', 'c'],
			pinned: 1,
			bands: [
				{ title: 'Way', from: 1, count: 1, hidden: 1 },
				{ title: 'Load', from: 2, count: 1, hidden: 0 },
				{ title: '', from: 3, count: 1, hidden: 0 }
			]
		});
	});

	test('each is shown once, pinned ones first, and bands cover the others without gaps', () => {
		const path = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'x');
		fc.assert(
			fc.property(
				fc.uniqueArray(path),
				fc.uniqueArray(path),
				fc.boolean(),
				fc.subarray(['Way', 'Load', '']),
				(cols, pin, grouped, folded) => {
					const { paths, pinned, bands } = arrange(table, { cols, pin, grouped, folded });
					expect(new Set(paths).size).toBe(paths.length);
					const known = cols.filter((one) => one !== 'x');
					const all = known.length > 0 ? known : ['a', 'b', 'c', 'd', 'e'];
					expect(paths.slice(0, pinned)).toEqual(pin.filter((one) => all.includes(one)));
					const hidden = bands.reduce((sum, band) => sum + band.hidden, 0);
					expect(paths.length + hidden).toBe(all.length);
					let next = pinned;
					for (const { from, count } of bands) {
						expect(from).toBe(next);
						next += count;
					}
					if (grouped) expect(next).toBe(paths.length);
				}
			)
		);
	});

	test('in sight are all that touch the window, and few more', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: 20, max: 280 }), { minLength: 1, maxLength: 60 }),
				fc.nat(5),
				fc.nat(9000),
				fc.integer({ min: 100, max: 1400 }),
				(widths, pins, scrolled, wide) => {
					const pinned = Math.min(pins, widths.length);
					const lefts = leftsOf(widths, 200);
					const fixed = lefts[pinned] ?? 0;
					const edges = [scrolled + fixed, scrolled + fixed + wide] as const;
					const [from, to] = inSight(lefts, widths, pinned, edges);
					widths.forEach((width, nth) => {
						const touches = lefts[nth]! < edges[1] && lefts[nth]! + width > edges[0];
						if (nth >= pinned && touches) expect(nth >= from && nth <= to).toBe(true);
					});
					expect(from).toBeGreaterThanOrEqual(pinned);
					const most = widths.filter(
						(width, nth) => lefts[nth]! < edges[1] && lefts[nth]! + width > edges[0]
					);
					expect(to - from + 1).toBeLessThanOrEqual(most.length + 3);
				}
			)
		);
		expect(widthOf(column('speed'))).toBe(74);
	});
});

describe('cells as text', () => {
	const cell = fc.string({ unit: fc.constantFrom('a', '7', ' ', 'ß', '.') });
	const block = fc
		.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 5 }))
		.chain(([rows, columns]) =>
			fc.array(fc.array(cell, { minLength: columns, maxLength: columns }), {
				minLength: rows,
				maxLength: rows
			})
		);

	test('copied and pasted over the same rows they change nothing, over empty ones they say the same', () => {
		fc.assert(
			fc.property(block, (cells) => {
				const rows = cells.map((own, at) => ({ id: `r${at}`, cells: own }));
				const columns = cells[0]!.map((_, index) => ({ path: `c${index}`, index }));
				// An empty last line is the end of the text for whoever reads it.
				fc.pre(cells[0]!.length > 1 || cells.at(-1)![0] !== '');
				const places = columns.map(({ index }) => index);
				const lines = linesOf(asLines(rows, places, false));
				expect(lines).toEqual(cells);
				expect(overCells(rows, columns, lines)).toEqual([]);
				expect(sizeOf(lines, 1, 1)).toEqual([cells.length, cells[0]!.length]);
				const bare = rows.map(({ id }) => ({ id, cells: places.map(() => '-') }));
				const written = overCells(bare, columns, lines);
				expect(written.map(({ value }) => value)).toEqual(cells.flat());
			})
		);
	});

	test('one value fills all that is chosen', () => {
		const lines = linesOf('3\n');
		expect(sizeOf(lines, 2, 2)).toEqual([2, 2]);
		const rows = [{ id: 'a', cells: ['1', '3'] }, undefined, { id: 'b', cells: ['', ''] }];
		const columns = [
			{ path: 'x', index: 0 },
			{ path: 'y', index: 1 }
		];
		expect(overCells(rows, columns, lines)).toEqual([
			{ id: 'a', field: 'x', value: '3' },
			{ id: 'b', field: 'x', value: '3' },
			{ id: 'b', field: 'y', value: '3' }
		]);
	});
});
