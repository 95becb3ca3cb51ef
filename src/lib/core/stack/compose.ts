// Records of later layers that say only some fields, made whole from the layers below: then all else can take them as records.
import { fieldsAt, placesOf, type Facts } from '../facts';
import type { KindGuide } from '../guide';
import { cellsOver, type Cell, type ItemDone } from './join';
import type { TableFile } from './table';

/** Where a value of a composed record was said: the file, its record, and the cell in it. */
export interface Origin {
	from: TableFile;
	nth: number;
	/** The path there: items of joined lists have other numbers in their own file. */
	path: string;
}

/** An item of a joined list that changes nothing. */
export interface Idle {
	/** Number of the record. */
	nth: number;
	/** The list, and the number of the item in it (from 0) as the file has it. */
	list: string;
	item: number;
	/** It is there already and the first counts, or there is nothing for it to take out. */
	why: 'second' | 'nothing there';
	/** What it names: of one that takes out, the mark left off. */
	name: string;
	/** What the list below has, by the same names. */
	below: readonly string[];
}

/** What a file itself says, where its records are made whole from those below. */
export interface Composed {
	own: Facts;
	/** Of each cell of the facts that were made, where it was said. */
	origins: readonly Origin[];
	/** Items of joined lists that change nothing. */
	idle: readonly Idle[];
}

/** The last record of an id in files that are below. */
interface Below {
	from: TableFile;
	nth: number;
}

function cellsIn({ from, nth }: Below): Cell<Origin>[] {
	const { facts, composed } = from;
	const shape = facts.shapes[facts.shape[nth]!];
	if (!shape) return [];
	const first = facts.firsts[nth]!;
	return Array.from(shape, (text, place) => {
		const path = facts.pool.at(text);
		return {
			path,
			value: facts.values[first + place]!,
			type: facts.types[first + place]!,
			origin: composed?.origins[first + place] ?? { from, nth, path }
		};
	});
}

/** The facts of a file with every record made whole from the one of its id below. */
function composedFile(
	file: TableFile,
	joins: NonNullable<KindGuide['joins']>,
	below: (id: number) => Below | undefined
): TableFile {
	const { facts: own } = file;
	const { pool } = own;
	const made: TableFile = { ...file };
	const shapes = new Map<string, number>();
	const facts: Facts = {
		...own,
		shapes: [],
		shape: new Int32Array(own.count),
		firsts: new Int32Array(own.count + 1),
		fieldRemarks: new Int32Array(0)
	};
	const [values, types, origins, remarks]: [number[], number[], Origin[], number[]] = [[], [], [], []];
	const idle: Idle[] = [];
	const hear = (nth: number) => (list: string, effects: readonly ItemDone[], below: readonly string[]) =>
		effects.forEach(({ effect, name }, item) => {
			if (effect === 'ignored') idle.push({ nth, list, item, why: 'second', name, below });
			if (effect === 'nothing') idle.push({ nth, list, item, why: 'nothing there', name, below });
		});
	for (let nth = 0; nth < own.count; nth++) {
		const mine = cellsIn({ from: file, nth }).map((cell) => ({
			...cell,
			origin: { ...cell.origin, from: made }
		}));
		const under = below(own.ids[nth]!);
		const cells = under ? cellsOver(cellsIn(under), mine, joins, pool, hear(nth)) : mine;
		const paths = cells.map(({ path }) => pool.of(path));
		const name = paths.join();
		let shape = shapes.get(name);
		if (shape === undefined) {
			shapes.set(name, (shape = facts.shapes.length));
			facts.shapes.push(Int32Array.from(paths));
		}
		facts.shape[nth] = shape;
		facts.firsts[nth] = values.length;
		const said = new Map(fieldsAt(own, nth).map(({ path, remark }) => [path, remark]));
		cells.forEach(({ value, type, origin }, place) => {
			values.push(value);
			types.push(type);
			origins.push(origin);
			const remark = origin.from === made ? said.get(origin.path) : undefined;
			if (remark !== undefined) remarks.push(nth, place, pool.of(remark));
		});
	}
	facts.firsts[own.count] = values.length;
	facts.values = Int32Array.from(values);
	facts.types = Uint8Array.from(types);
	facts.fieldRemarks = Int32Array.from(remarks);
	return Object.assign(made, { facts, composed: { own, origins, idle } });
}

const NO_JOINS = {};

/** What was made of a file the last time, and of which files below it. */
const known = new WeakMap<
	Facts,
	{ guide: KindGuide; file: TableFile; below: readonly TableFile[]; made: TableFile }
>();

const isSame = (a: TableFile, b: TableFile): boolean =>
	a.facts === b.facts &&
	a.layer === b.layer &&
	a.file === b.file &&
	String(a.gone ?? '') === String(b.gone ?? '');

/**
 * The files of a kind of which later layers replace single fields, with whole records. What was made before is taken
 * where the file and those below it are the same.
 * @param files in load order
 */
export function composeFiles(guide: KindGuide, files: readonly TableFile[]): TableFile[] {
	const below: TableFile[] = [];
	/** Where the last record of an id is, for the files below that were gone through. */
	const last = new Map<number, Below>();
	let read = 0;
	const find = (id: number): Below | undefined => {
		for (; read < below.length; read++) {
			const from = below[read]!;
			const gone = new Set(from.gone);
			from.facts.ids.forEach((one, nth) => {
				if (!gone.has(nth)) last.set(one, { from, nth });
			});
		}
		return last.get(id);
	};
	return files.map((file) => {
		const before = known.get(file.facts);
		const same =
			before?.guide === guide &&
			isSame(before.file, file) &&
			before.below.length === below.length &&
			before.below.every((one, nth) => isSame(one, below[nth]!));
		const over = same
			? before.made
			: file.layer === files[0]!.layer || file.facts.count === 0
				? file
				: composedFile(file, guide.joins ?? NO_JOINS, find);
		if (!same && over !== file) known.set(file.facts, { guide, file, below: [...below], made: over });
		below.push(over);
		return over;
	});
}

/** The cell of a path in a record; undefined where it has none. */
export function originIn({ facts, composed }: TableFile, nth: number, path: string): Origin | undefined {
	if (!composed) return undefined;
	const shape = facts.shapes[facts.shape[nth]!];
	const place = shape && placesOf(shape).get(facts.pool.find(path));
	return place === undefined ? undefined : composed.origins[facts.firsts[nth]! + place];
}
