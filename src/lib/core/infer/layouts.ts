// Lists of numbers that mean something by their place in the line: files of no known format that look so throughout.
import { copyFacts, type Facts } from '../facts';
import type { PositionalLayout } from '../formats';

/** A file that was read as lines of numbers. */
export interface Positional {
	facts: Facts;
	layout: PositionalLayout;
}

const COMMENT = /\s*(?:#|;|\/\/|--).*$/;
const NUMBER = /^[-+]?\d+(?:\.\d+)?$/;
/** Numbers in a line beyond which it is rather a picture or a grid. */
const WIDEST = 12;

const known = new WeakMap<Facts, Positional | null>();

/** The facts of such a file as they will be when it is read so; null for any other. Told once for the same facts. */
export function positionalIn(facts: Facts): Positional | null {
	let found = known.get(facts);
	if (found === undefined) known.set(facts, (found = tell(facts)));
	return found;
}

function tell(facts: Facts): Positional | null {
	const { prose, pool } = facts;
	if (prose.length < 8) return null;
	const lines: { line: number; cells: string[] }[] = [];
	let mark: string | null = null;
	for (let at = 0; at < prose.length; at += 2) {
		const text = pool.at(prose[at + 1]!);
		const comment = COMMENT.exec(text);
		mark ??= comment && comment[0].trim() !== '' ? /#|;|\/\/|--/.exec(comment[0])![0] : null;
		const bare = text.replace(COMMENT, '').trim();
		if (bare === '') continue;
		const cells = bare.split(/\s+/);
		if (cells.length > WIDEST || !cells.every((cell) => NUMBER.test(cell))) return null;
		lines.push({ line: prose[at]!, cells });
	}
	const counted =
		lines.length > 3 && lines[0]!.cells.length === 1 && Number(lines[0]!.cells[0]) === lines.length - 1;
	const rows = counted ? lines.slice(1) : lines;
	const width = rows[0]?.cells.length ?? 0;
	if (rows.length < 3 || width < 2 || rows.some(({ cells }) => cells.length !== width)) return null;
	const names = Array.from({ length: width }, (_, nth) => `v${nth + 1}`);
	const count = rows.length;
	const blank = new Int32Array(0);
	return {
		layout: {
			shape: 'positional',
			separator: '',
			comments: mark === null ? ['#'] : [mark],
			titled: false,
			head: counted ? [['count']] : [],
			record: [names],
			count: counted ? 'count' : null
		},
		facts: Object.assign(copyFacts(facts, pool), {
			format: 'positional',
			key: null,
			at: undefined,
			columns: names,
			count,
			ids: Int32Array.from(rows, (_, nth) => pool.of(`#${nth + 1}`)),
			written: new Uint8Array(count),
			lines: Int32Array.from(rows, ({ line }) => line),
			shapes: [Int32Array.from(names, (name) => pool.of(name))],
			shape: new Int32Array(count),
			firsts: Int32Array.from({ length: count + 1 }, (_, nth) => nth * width),
			values: Int32Array.from(
				rows.flatMap(({ cells }) => cells),
				(cell) => pool.of(cell)
			),
			types: new Uint8Array(count * width),
			remarks: blank,
			fieldRemarks: blank,
			doubles: blank
		})
	};
}
