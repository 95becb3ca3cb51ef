// What some bytes are, in words.
import type { ByteCell } from '$core/views';

/** What a value is called: its field, or what else it is. */
const saidOf = ({ path, value, of }: ByteCell): string => {
	if (of === 'nothing') return 'nothing in the layout explains it';
	if (of === 'filler') return 'left as it is';
	if (of === 'sum') return `check sum (${value})`;
	return path === null ? value : `${path}: ${value}`;
};

/** Bytes with their place and what they are: `Bytes 4 to 5, rows: 8`. */
export const bytesInWords = (cell: ByteCell): string =>
	`${cell.bytes.length > 1 ? `Bytes ${cell.from} to ${cell.from + cell.bytes.length - 1}` : `Byte ${cell.from}`}, ${saidOf(cell)}`;
