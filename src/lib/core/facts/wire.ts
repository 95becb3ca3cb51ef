import type { LocalFacts } from './facts';

/** Packed facts that are of another version or damaged; they are made again from the bytes. */
export class FactsFault extends Error {}

/** Changes whenever readers or facts do, so that what was kept before is read again. */
export const VERSION = 18;

const NUMBERS = [
	'ids',
	'lines',
	'shape',
	'firsts',
	'values',
	'remarks',
	'fieldRemarks',
	'doubles',
	'prose'
] as const;

/**
 * Facts as bytes: a head of Int32 (version, lengths), the numbers, the flags, then two texts in UTF-8: JSON of all that
 * is small, and all texts behind each other, whose lengths (in UTF-16 units) are among the numbers.
 */
export function packFacts(facts: LocalFacts): Uint8Array {
	const { texts, shapes } = facts;
	const lengths = new Int32Array(texts.length);
	for (let at = 0; at < texts.length; at++) lengths[at] = texts[at]!.length;
	const paths = new Int32Array(shapes.reduce((sum, shape) => sum + shape.length, 0));
	let at = 0;
	for (const shape of shapes) {
		paths.set(shape, at);
		at += shape.length;
	}
	const encoder = new TextEncoder();
	const about = encoder.encode(
		JSON.stringify({
			format: facts.format,
			letters: facts.letters,
			key: facts.key,
			keyParts: facts.keyParts,
			at: facts.at,
			columns: facts.columns,
			parts: facts.parts,
			told: facts.told,
			problems: facts.problems,
			habits: facts.habits,
			count: facts.count
		})
	);
	const body = encoder.encode(texts.join(''));
	const arrays = [
		...NUMBERS.map((name) => facts[name]),
		lengths,
		Int32Array.from(shapes, (shape) => shape.length),
		paths
	];
	const head = Int32Array.from([
		VERSION,
		about.length,
		body.length,
		facts.types.length,
		facts.written.length,
		...arrays.map((array) => array.length)
	]);
	const size =
		head.byteLength +
		arrays.reduce((sum, array) => sum + array.byteLength, 0) +
		facts.types.length +
		facts.written.length +
		about.length +
		body.length;
	const bytes = new Uint8Array(size);
	let to = 0;
	for (const array of [head, ...arrays]) {
		bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), to);
		to += array.byteLength;
	}
	for (const part of [facts.types, facts.written, about, body]) {
		bytes.set(part, to);
		to += part.length;
	}
	return bytes;
}

/** The facts that were packed. @throws FactsFault when they are of another version */
export function unpackFacts(bytes: Uint8Array): LocalFacts {
	// Int32 needs an even place, which a slice of a larger buffer need not have.
	const own = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
	const parts = NUMBERS.length + 3;
	const head = new Int32Array(own.buffer, own.byteOffset, 5 + parts);
	if (head[0] !== VERSION) throw new FactsFault(`facts of version ${head[0]}, not ${VERSION}`);
	let at = own.byteOffset + head.byteLength;
	const arrays: Int32Array[] = [];
	for (let part = 0; part < parts; part++) {
		const length = head[5 + part]!;
		// A copy, so that what is kept does not hold the text behind it.
		arrays.push(new Int32Array(own.buffer, at, length).slice());
		at += length * 4;
	}
	const take = (length: number) => {
		const part = new Uint8Array(own.buffer, at, length);
		at += length;
		return part;
	};
	const types = take(head[3]!).slice();
	const written = take(head[4]!).slice();
	const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
	const about = JSON.parse(decoder.decode(take(head[1]!))) as Pick<
		LocalFacts,
		| 'format'
		| 'letters'
		| 'key'
		| 'keyParts'
		| 'at'
		| 'columns'
		| 'parts'
		| 'told'
		| 'problems'
		| 'habits'
		| 'count'
	>;
	const body = decoder.decode(take(head[2]!));
	const numbers = Object.fromEntries(NUMBERS.map((name, index) => [name, arrays[index]!])) as Pick<
		LocalFacts,
		(typeof NUMBERS)[number]
	>;
	const [lengths, widths, paths] = arrays.slice(NUMBERS.length) as [Int32Array, Int32Array, Int32Array];
	const texts: string[] = new Array(lengths.length);
	let from = 0;
	for (let index = 0; index < lengths.length; index++) {
		texts[index] = body.slice(from, from + lengths[index]!);
		from += lengths[index]!;
	}
	const shapes: Int32Array[] = [];
	let place = 0;
	for (const width of widths) {
		shapes.push(paths.slice(place, place + width));
		place += width;
	}
	return { ...about, at: about.at, ...numbers, types, written, shapes, texts };
}
