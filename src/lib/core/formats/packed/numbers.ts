// Numbers, texts and check sums as bytes have them.
import crc16 from 'crc/calculators/crc16';
import crc32 from 'crc/calculators/crc32';
import { decodeAs, encode, isEncoding, Unwritable, type Encoding } from '../../text';
import { counted } from '../../wording';
import { EditRefused } from '../document';
import type { NumberSort, PackedSum } from './schema';

export type Order = 'little' | 'big';

/** Bytes that a number of a sort takes. */
export const widthOf = (sort: NumberSort): number => Number(sort.slice(1)) / 8;

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** A number of 64 bits, as digits where a number cannot hold it. */
const exactly = (value: bigint): number | string =>
	value <= BigInt(Number.MAX_SAFE_INTEGER) && value >= BigInt(Number.MIN_SAFE_INTEGER)
		? Number(value)
		: String(value);

/** The shortest decimal number that is the same one in 32 bits. */
function shortFloat(value: number): number {
	if (!Number.isFinite(value)) return value;
	for (let digits = 1; digits < 10; digits++) {
		const short = Number(value.toPrecision(digits));
		if (Math.fround(short) === value) return short;
	}
	return value;
}

/** The number at an offset. The bytes must be there. */
export function numberAt(bytes: Uint8Array, at: number, sort: NumberSort, order: Order): number | string {
	const view = viewOf(bytes);
	const little = order === 'little';
	switch (sort) {
		case 'u8':
			return view.getUint8(at);
		case 'i8':
			return view.getInt8(at);
		case 'u16':
			return view.getUint16(at, little);
		case 'i16':
			return view.getInt16(at, little);
		case 'u32':
			return view.getUint32(at, little);
		case 'i32':
			return view.getInt32(at, little);
		case 'u64':
			return exactly(view.getBigUint64(at, little));
		case 'i64':
			return exactly(view.getBigInt64(at, little));
		case 'f32':
			return shortFloat(view.getFloat32(at, little));
		case 'f64':
			return view.getFloat64(at, little);
	}
}

const WHOLE = /^[+-]?\d+$/;

/** The bytes of a whole number, as many as it takes, of which the highest come last. */
function wholeBytes(value: bigint, width: number, order: Order): Uint8Array {
	const bytes = new Uint8Array(width);
	let rest = BigInt.asUintN(width * 8, value);
	for (let nth = 0; nth < width; nth++) {
		bytes[order === 'little' ? nth : width - 1 - nth] = Number(rest & 255n);
		rest >>= 8n;
	}
	return bytes;
}

/** The least and the greatest whole number of a sort. */
export function rangeOf(sort: NumberSort): [bigint, bigint] {
	const bits = BigInt(sort.slice(1));
	return sort.startsWith('i') ? [-(1n << (bits - 1n)), (1n << (bits - 1n)) - 1n] : [0n, (1n << bits) - 1n];
}

/** The bytes of a number. @throws EditRefused where it has no place in them */
export function numberBytes(value: string, sort: NumberSort, order: Order): Uint8Array {
	const said = value.trim();
	if (sort === 'f32' || sort === 'f64') {
		const number = said === '' ? NaN : Number(said);
		if (!Number.isFinite(number) || (sort === 'f32' && !Number.isFinite(Math.fround(number))))
			throw new EditRefused(`“${value}” is not a number that ${widthOf(sort)} bytes can hold.`);
		const bytes = new Uint8Array(widthOf(sort));
		if (sort === 'f32') viewOf(bytes).setFloat32(0, number, order === 'little');
		else viewOf(bytes).setFloat64(0, number, order === 'little');
		return bytes;
	}
	const [least, most] = rangeOf(sort);
	if (!WHOLE.test(said) || BigInt(said) < least || BigInt(said) > most)
		throw new EditRefused(
			`“${value}” does not fit: the file has room for a whole number from ${least} to ${most} here.`
		);
	return wholeBytes(BigInt(said), widthOf(sort), order);
}

/** Bytes of the smallest unit of an encoding. */
export const unitOf = (encoding: Encoding): number =>
	/^utf-?16/i.test(encoding) ? 2 : /^utf-?32/i.test(encoding) ? 4 : 1;

/** Where the first zero is, in whole units; `to` where there is none. */
export function zeroAt(bytes: Uint8Array, from: number, to: number, unit: number): number {
	for (let at = from; at + unit <= to; at += unit) {
		let nth = 0;
		while (nth < unit && bytes[at + nth] === 0) nth++;
		if (nth === unit) return at;
	}
	return to;
}

/** Bytes as a text; letters that they are not stand as �. */
export const textIn = (bytes: Uint8Array, encoding: Encoding): string =>
	decodeAs(bytes, isEncoding(encoding) ? encoding : 'iso-8859-1');

/** The bytes of a text. @throws EditRefused where its encoding has no bytes for a letter */
export function bytesIn(text: string, encoding: Encoding): Uint8Array {
	if (!isEncoding(encoding)) throw new EditRefused(`The encoding “${encoding}” is not known here.`);
	try {
		return encode({ text, encoding, bom: false });
	} catch (error) {
		if (error instanceof Unwritable) throw new EditRefused(error.message);
		throw error;
	}
}

/** The longest beginning of a text that takes at most so many bytes. */
function beginningOf(text: string, encoding: Encoding, most: number): string {
	let found = '';
	for (const letter of text) {
		if (bytesIn(found + letter, encoding).length > most) break;
		found += letter;
	}
	return found;
}

/** Why a text has no place, with what of it would. @param room and needed in bytes */
export function tooLong(value: string, encoding: string, room: number, needed: number): string {
	const fits = beginningOf(value, encoding, room);
	return `“${value}” takes ${counted(needed, 'byte')}; there is room for ${room}.${fits === '' ? '' : ` “${fits}” would fit.`}`;
}

/** Bytes as people read them: `0a ff 10`. */
export const hexOf = (bytes: Uint8Array): string =>
	Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join(' ');

/** The bytes that are written so. @throws EditRefused */
export function hexBytes(text: string): Uint8Array {
	const digits = text.replace(/\s+/g, '');
	if (digits.length % 2 === 1 || /[^0-9a-f]/i.test(digits))
		throw new EditRefused(`“${text}” must be bytes in pairs of hex digits, such as “0a ff”.`);
	return Uint8Array.from(digits.match(/../g) ?? [], (pair) => parseInt(pair, 16));
}

/** Bytes that a check sum takes. */
export const sumWidth = ({ as }: Pick<PackedSum, 'as'>): number => Number(/\d+$/.exec(as)![0]) / 8;

/** A check sum over bytes. The cyclic ones are CRC-32 (ISO 3309) and CRC-16 (ARC). */
export function sumOf(bytes: Uint8Array, as: PackedSum['as']): number {
	if (as === 'crc32') return crc32(bytes) >>> 0;
	if (as === 'crc16') return crc16(bytes) & 0xffff;
	let sum = 0;
	if (as === 'xor8') {
		for (const byte of bytes) sum ^= byte;
		return sum;
	}
	for (const byte of bytes) sum = (sum + byte) % 2 ** 32;
	return sum % 2 ** Number(as.slice(3));
}

/** Some bits of a whole number. */
export const bitsIn = (value: number | string, [low, high]: readonly [number, number]): number | string =>
	exactly(BigInt.asUintN(high - low + 1, BigInt(value) >> BigInt(low)));

/** A whole number with some bits changed. @throws EditRefused where they cannot hold the value */
export function withBits(
	value: number | string,
	[low, high]: readonly [number, number],
	said: string
): bigint {
	const width = BigInt(high - low + 1);
	const most = (1n << width) - 1n;
	const trimmed = said.trim();
	const wanted =
		trimmed === 'true' ? 1n : trimmed === 'false' ? 0n : WHOLE.test(trimmed) ? BigInt(trimmed) : -1n;
	if (wanted < 0n || wanted > most)
		throw new EditRefused(
			`“${said}” does not fit: the file has room for a whole number from 0 to ${most} here.`
		);
	return (BigInt(value) & ~(most << BigInt(low))) | (wanted << BigInt(low));
}
