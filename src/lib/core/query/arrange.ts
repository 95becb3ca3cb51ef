// The rows of a table that pass conditions, in an order: worked out in numbers, so that a hundred thousand rows take no time.
import { derived, effectiveColumn, isChanged, type Stack, type Table, isWide, valuesIn } from '../stack';
import type { Links } from '../links';
import { sortedColumn } from '../numbers';
import { againstTermRows, sameRows, staleRows, unlikeRows, usedRows, usersOf } from '../words';
import type { Condition } from './conditions';

/** All that conditions may ask of. */
export interface Around {
	stack: Stack;
	links: Links;
	/** The gravest snag of each record of the kind, by id. */
	snags: ReadonlyMap<string, 'blocks' | 'warns' | 'note'>;
}

const names = new WeakMap<Int32Array, { main: Int32Array; texts: Int32Array }>();
const NONE = new Int32Array(0);

/** The text of the shown name of each row, in the main language or else any other; -1 where there is none. */
export function nameColumn({ stack, links }: Pick<Around, 'stack' | 'links'>, table: Table): Int32Array {
	const strand = links.strands.find((one) => one.table === table && one.text && one.name);
	const words = stack.guide.words;
	const texts = words && stack.tables.get(words.kind);
	if (texts === table) return wearerColumn({ stack, links }, table);
	if (!strand || !texts) return NONE;
	const codes = [words.main, ...Object.keys(words.languages).filter((code) => code !== words.main)];
	const columns = codes.map((code) => texts.column(code));
	const known = names.get(strand.to);
	if (known && known.main === columns[0]) return known.texts;
	const start = links.starts.get(words.kind)!;
	const found = strand.to.map((place) => {
		if (place < 0) return -1;
		for (const column of columns) if (column[place - start]! > 0) return column[place - start]!;
		return -1;
	});
	names.set(strand.to, { main: columns[0]!, texts: found });
	return found;
}

const wearers = new WeakMap<Links, Int32Array>();

/** For each text the name of the first record that it belongs to, as text; -1 where it belongs to none that has a name. */
function wearerColumn(around: Pick<Around, 'stack' | 'links'>, texts: Table): Int32Array {
	const { links } = around;
	const known = wearers.get(links);
	if (known) return known;
	const found = new Int32Array(texts.count).fill(-1);
	const start = links.starts.get(texts.kind)!;
	for (const { table, text, to } of links.strands) {
		if (!text || table === texts) continue;
		const own = nameColumn(around, table);
		to.forEach((place, row) => {
			if (place >= 0 && found[place - start]! < 0 && (own[row] ?? -1) > 0) found[place - start] = own[row]!;
		});
	}
	wearers.set(links, found);
	return found;
}

/** A test of texts by their numbers; each text is looked at once. */
function byText(table: Table, column: Int32Array, test: (text: string) => boolean): (row: number) => boolean {
	const seen = new Map<number, boolean>();
	return (row) => {
		const text = column[row] ?? -1;
		let passes = seen.get(text);
		if (passes === undefined) seen.set(text, (passes = test(text < 0 ? '' : table.pool.at(text))));
		return passes;
	};
}

const columnOf = (around: Around, table: Table, path: string): Int32Array =>
	path === 'name' && !table.columns.includes('name')
		? nameColumn(around, table)
		: path === 'id' && !table.columns.includes('id')
			? table.rows.ids
			: effectiveColumn(table, path);

function numberTest(table: Table, column: Int32Array, passes: (value: number) => boolean) {
	return (row: number) => {
		const value = column[row]! > 0 ? table.pool.number(column[row]!) : NaN;
		return Number.isFinite(value) && passes(value);
	};
}

/** Rows of which some cell, the id or the shown name holds a text. */
function anywhere(around: Around, table: Table, text: string): (row: number) => boolean {
	const wanted = text.toLowerCase();
	const wide = isWide(table);
	const columns = [
		table.rows.ids,
		nameColumn(around, table),
		...(wide ? [] : table.columns.map((path) => table.column(path)))
	];
	// 0 for a text that nobody looked at yet, 1 for one that holds it, 2 for one that does not.
	const seen = new Uint8Array(table.pool.size);
	const holds = (value: number) => {
		if (value <= 0) return false;
		if (seen[value] === 0) seen[value] = table.pool.at(value).toLowerCase().includes(wanted) ? 1 : 2;
		return seen[value] === 1;
	};
	return (row) => {
		for (const column of columns) if (holds(column[row] ?? -1)) return true;
		if (wide) for (const value of valuesIn(table, row)) if (holds(value)) return true;
		return false;
	};
}

function testOf(around: Around, table: Table, condition: Condition): (row: number) => boolean {
	switch (condition.is) {
		case 'compare': {
			const { by, value } = condition;
			const tests = {
				'<': (own: number) => own < value,
				'<=': (own: number) => own <= value,
				'>': (own: number) => own > value,
				'>=': (own: number) => own >= value,
				'=': (own: number) => own === value
			};
			return numberTest(table, columnOf(around, table, condition.field), tests[by]);
		}
		case 'between': {
			const { low, high } = condition;
			return numberTest(table, columnOf(around, table, condition.field), (own) => own >= low && own <= high);
		}
		case 'one': {
			const wanted = new Set(condition.values.map((value) => value.toLowerCase()));
			const is = byText(table, columnOf(around, table, condition.field), (text) =>
				wanted.has(text.toLowerCase())
			);
			return condition.not ? (row) => !is(row) : is;
		}
		case 'has': {
			const wanted = condition.text.toLowerCase();
			return byText(table, columnOf(around, table, condition.field), (text) =>
				text.toLowerCase().includes(wanted)
			);
		}
		case 'filled': {
			const column = columnOf(around, table, condition.field);
			return condition.not ? (row) => (column[row] ?? -1) <= 0 : (row) => (column[row] ?? -1) > 0;
		}
		case 'mine':
			return (row) => isChanged(table, row);
		case 'snags': {
			const { severity } = condition;
			return (row) => {
				const gravest = around.snags.get(table.pool.at(table.rows.ids[row]!));
				return gravest !== undefined && (severity === null || gravest === severity);
			};
		}
		case 'names': {
			const wanted = table.pool.find(condition.id);
			const rows = new Set<number>();
			for (const strand of around.links.strands)
				if (strand.table === table && !strand.text)
					strand.values.forEach((value, entry) => {
						if (value === wanted) rows.add(strand.rows?.[entry] ?? entry);
					});
			return (row) => rows.has(row);
		}
		case 'same':
		case 'unlike':
		case 'stale': {
			const rowsOf = { same: sameRows, unlike: unlikeRows, stale: staleRows }[condition.is];
			const found = rowsOf(table, condition.field, condition.other);
			return (row) => found[row]! > 0;
		}
		case 'terms': {
			const { words } = around.stack.guide;
			const found = againstTermRows(table, condition.field, words?.main ?? '', words?.terms ?? []);
			return (row) => found[row]! > 0;
		}
		case 'layer': {
			const wanted = condition.layer.toLowerCase();
			const found = new Set<number>();
			table.files.forEach(({ layer }, nth) => {
				if (layer.title.toLowerCase() !== wanted && layer.id.toLowerCase() !== wanted) return;
				for (const row of table.rows.rowsOf[nth]!) found.add(row);
			});
			return (row) => found.has(row);
		}
		case 'used': {
			const wanted = condition.by.toLowerCase();
			const users = usersOf(around.links, table);
			const own = users.find(({ kind, title, plural }) =>
				[kind, title, plural].some((name) => name.toLowerCase() === wanted)
			);
			return (row) => own?.rows[row] === 1;
		}
		case 'unused': {
			const used = usedRows(around.links, table);
			return (row) => used[row] === 0;
		}
		case 'unknown':
			return () => false;
		case 'text':
			return anywhere(around, table, condition.text);
	}
}

/** A text so that texts with numbers in them sort by these: `st_2` before `st_10`. */
const sortable = (text: string): string =>
	text.toLowerCase().replace(/\d+/g, (digits) => digits.padStart(12, '0'));

/** The place of each row's text among all of the column, in order; -1 for those that are empty. */
function ranksOf(table: Table, column: Int32Array): Int32Array {
	const distinct = [...new Set(column)].filter((text) => text > 0);
	const keys = distinct.map((text): [number, string] => [text, sortable(table.pool.at(text))]);
	keys.sort(([, a], [, b]) => (a < b ? -1 : a > b ? 1 : 0));
	const rank = new Map(keys.map(([text], nth) => [text, nth]));
	return column.map((text) => rank.get(text) ?? -1);
}

/** Whether a column holds numbers and nothing else. */
export const isNumeric = (table: Table, path: string): boolean => {
	const { numbers, filled } = sortedColumn(table, path);
	return filled > 0 && numbers.length === filled;
};

type Compare = (a: number, b: number) => number;

function compareBy(around: Around, table: Table, sort: string): Compare | null {
	const down = sort.startsWith('-');
	const path = down ? sort.slice(1) : sort;
	const own = table.columns.includes(path);
	if (!own && path !== 'name' && path !== 'id') return null;
	const column = columnOf(around, table, path);
	let keys: Float64Array | Int32Array;
	if (own && isNumeric(table, path))
		keys = Float64Array.from(column, (text) => (text > 0 ? table.pool.number(text) : NaN));
	else keys = own ? derived(table, `ranks ${path}`, () => ranksOf(table, column)) : ranksOf(table, column);
	const empty = (row: number) => (keys instanceof Int32Array ? keys[row]! < 0 : Number.isNaN(keys[row]));
	return (a, b) => {
		const [x, y] = [empty(a), empty(b)];
		if (x || y) return Number(x) - Number(y);
		return down ? keys[b]! - keys[a]! : keys[a]! - keys[b]!;
	};
}

/**
 * The rows of a table that pass all conditions, sorted by several columns one after the other: by path, downwards with
 * `-` before it, `name` and `id` too; numbers by value, texts with numbers in them by these, what is empty last.
 */
export function arrange(
	around: Around,
	table: Table,
	conditions: readonly Condition[],
	sorts: readonly string[]
): Int32Array {
	const tests = conditions.map((condition) => testOf(around, table, condition));
	const rows = new Int32Array(table.count);
	let count = 0;
	rows: for (let row = 0; row < table.count; row++) {
		for (const test of tests) if (!test(row)) continue rows;
		rows[count++] = row;
	}
	const found = rows.subarray(0, count);
	const compares = sorts.flatMap((sort) => compareBy(around, table, sort) ?? []);
	const [first, ...others] = compares;
	if (!first) return found;
	return found.sort((a, b) => {
		let order = first(a, b);
		for (const other of others) {
			if (order !== 0) break;
			order = other(a, b);
		}
		return order || a - b;
	});
}
