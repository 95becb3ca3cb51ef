// Made-up data in shapes that games of other makes have: lists of mixed kinds, maps of ids that are wide or deep in
// wrappers, records with thousands of fields, records made from others.
import { random } from './game';

const SORTS = 40;

/** Files by path; `scale` 1 is about half a megabyte. */
export function shapes(scale: number): Map<string, string> {
	const next = random(5);
	const below = (end: number) => Math.floor(next() * end);
	const files = new Map<string, string>();
	const put = (path: string, value: unknown) => files.set(path, `${JSON.stringify(value, null, 1)}\n`);
	const count = 1200 * scale;
	const id = (sort: number, nth: number) => `${String.fromCharCode(97 + (sort % 26))}${sort}_${nth}`;
	// Objects of many sorts, mixed over many files.
	const perFile = 40;
	for (let file = 0; file < count / perFile; file++)
		put(
			`mixed/${file % 9}/part_${file}.json`,
			Array.from({ length: perFile }, (_, at) => {
				const nth = file * perFile + at;
				const sort = nth % SORTS;
				return {
					sort: `sort_${sort}`,
					id: id(sort, nth),
					[`size_${sort}`]: below(90),
					[`colour_${sort % 7}`]: ['red', 'green', 'blue'][below(3)],
					...(nth >= SORTS ? { next_to: id(sort, nth - SORTS) } : {}),
					needs: Array.from({ length: below(3) }, () => [
						id((sort + 1) % SORTS, (below(count / SORTS) * SORTS + sort + 1) % count),
						below(9)
					])
				};
			})
		);
	// Towns whose roads are named by towns: as many columns as there are towns.
	const towns = Array.from({ length: 150 * scale }, (_, nth) => `town_${nth}`);
	const town = () => towns[below(towns.length)]!;
	put('maps/roads.json', {
		version: 3,
		data: Object.fromEntries(
			towns.map((name) => [
				name,
				{ roads: Object.fromEntries(Array.from({ length: 9 }, () => [town(), below(99)])) }
			])
		)
	});
	put('maps/deep.json', {
		world: {
			about: { made: 1 },
			places: {
				inner: Object.fromEntries(towns.map((name, nth) => [name, { height: nth % 90, by: town() }]))
			}
		}
	});
	// One table with very many columns.
	const wide = Array.from({ length: 300 * scale }, (_, nth) => `column_${nth}`);
	files.set(
		'wide.tsv',
		`id\t${wide.join('\t')}\n${Array.from({ length: 24 }, (_, nth) => `row_${nth}\t${wide.map(() => below(999)).join('\t')}\n`).join('')}`
	);
	// Boats made from others, which say only what differs.
	put(
		'boats.json',
		Array.from({ length: 200 * scale }, (_, nth) =>
			nth % 3 === 0
				? { id: `boat_${nth}`, seats: below(9), load: below(900), home: town(), speed: below(30) }
				: { id: `boat_${nth}`, made_from: `boat_${nth - (nth % 3)}`, speed: below(30) }
		)
	);
	return files;
}
