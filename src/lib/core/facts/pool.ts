/** Texts kept once each, known by number from 0. Only grows. */
export interface Pool {
	readonly size: number;
	/** The number of a text, which is added where it is new. */
	of(text: string): number;
	/** The number of a text; -1 where it is not there. */
	find(text: string): number;
	at(id: number): string;
	/** The text as a number; NaN where it is none. */
	number(id: number): number;
	/** The one list of these paths, given by their numbers, that all records with exactly these fields share. */
	shape(paths: Int32Array): Int32Array;
}

const PLAIN_NUMBER = /^\s*[-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?\s*$/;

/** A written value as a number; NaN where it is none. */
export const numberOf = (text: string): number =>
	text.length <= 32 && PLAIN_NUMBER.test(text) ? Number(text) : NaN;

function isSame(a: Int32Array, b: Int32Array): boolean {
	if (a.length !== b.length) return false;
	for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return false;
	return true;
}

/** A pool that holds nothing but the empty text, which is number 0. */
export function createPool(): Pool {
	const ids = new Map<string, number>([['', 0]]);
	const texts = [''];
	let numbers = new Float64Array(1024).fill(NaN);
	let known = 0;
	// By a hash of their numbers: texts made of them would be long for wide records.
	const shapes = new Map<number, Int32Array>();
	return {
		get size() {
			return texts.length;
		},
		of(text) {
			let id = ids.get(text);
			if (id === undefined) {
				id = texts.length;
				ids.set(text, id);
				texts.push(text);
			}
			return id;
		},
		find: (text) => ids.get(text) ?? -1,
		at: (id) => texts[id]!,
		number(id) {
			if (id >= known) {
				if (texts.length > numbers.length) {
					const wider = new Float64Array(Math.ceil(texts.length * 1.25)).fill(NaN);
					wider.set(numbers);
					numbers = wider;
				}
				for (; known < texts.length; known++) numbers[known] = numberOf(texts[known]!);
			}
			return numbers[id]!;
		},
		shape(paths) {
			let hash = paths.length;
			for (let at = 0; at < paths.length; at++) hash = (Math.imul(hash, 31) + paths[at]!) | 0;
			// Others of the same hash are under the next free number.
			for (let shape; (shape = shapes.get(hash)); hash = (hash + 1) | 0)
				if (isSame(shape, paths)) return shape;
			shapes.set(hash, paths);
			return paths;
		}
	};
}
