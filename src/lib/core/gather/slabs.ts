/** Numbers that are kept together, and how many of a list at most are kept so. */
const [SLAB, LARGE] = [1 << 14, 1 << 10];
let numbers = new Int32Array();
let bytes = new Uint8Array();
let [nextNumber, nextByte] = [0, 0];

/** A list of so many zeros. Thousands of small ones are parts of a few large ones: each by itself takes ten times the room. */
export function numbersFor(count: number): Int32Array {
	if (count > LARGE) return new Int32Array(count);
	if (nextNumber + count > numbers.length) [numbers, nextNumber] = [new Int32Array(SLAB), 0];
	return numbers.subarray(nextNumber, (nextNumber += count));
}

/** The same for numbers from 0 to 255. */
export function bytesFor(count: number): Uint8Array {
	if (count > LARGE) return new Uint8Array(count);
	if (nextByte + count > bytes.length) [bytes, nextByte] = [new Uint8Array(SLAB), 0];
	return bytes.subarray(nextByte, (nextByte += count));
}
