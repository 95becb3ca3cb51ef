// A file of bytes as it is shown: line by line what its bytes belong to, and which of them my mod changed.
import type { Owned } from '../formats';

/** Bytes of one field or value. */
export interface ByteCell {
	from: number;
	/** Each byte in two hex digits, and whether it differs from the file that my mod stands in for. */
	bytes: [hex: string, mine: boolean][];
	/** Name of the field; null for what has none. */
	path: string | null;
	value: string;
	of: Owned['of'];
}

/** Bytes that belong together: a row, the head, a value of a pool, or some that nothing explains. */
export interface ByteLine {
	from: number;
	of: Owned['of'];
	/** The table or pool; null for what has none. */
	section: string | null;
	/** The row by its name, and the record that it is. */
	id: string | null;
	kind: string | null;
	/** How many addresses point at it; null for what is no value of a pool. */
	users: number | null;
	cells: ByteCell[];
	/** As letters, for what nothing explains. */
	letters: string;
}

export interface BytesPage {
	from: number;
	to: number;
	size: number;
	lines: ByteLine[];
	/** The parts that the layout tells; none without a layout. */
	sections: { name: string; of: 'table' | 'pool'; from: number; to: number; rows: number }[];
	/** Bytes of these lines that no part of the layout explains. */
	unexplained: number;
	/** How many bytes of the whole file my mod changed; null where the two have different sizes, or it changed nothing. */
	changed: number | null;
}
