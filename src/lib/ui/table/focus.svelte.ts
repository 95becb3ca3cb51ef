// Where the focus of a grid is, and the block that is chosen. Rows count from 0; column -1 is the head of a row.

export interface Cell {
	row: number;
	column: number;
}

/** A chosen block, from its first row and column to its last, both included. */
export interface Block {
	top: number;
	bottom: number;
	first: number;
	last: number;
}

const between = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));

export class Focus {
	at = $state<Cell>({ row: 0, column: -1 });
	/** Where the block began. */
	private anchor = $state<Cell>({ row: 0, column: -1 });

	readonly block = $derived<Block>({
		top: Math.min(this.at.row, this.anchor.row),
		bottom: Math.max(this.at.row, this.anchor.row),
		first: Math.min(this.at.column, this.anchor.column),
		last: Math.max(this.at.column, this.anchor.column)
	});
	/** Whether more than one cell is chosen. */
	readonly several = $derived(this.block.bottom > this.block.top || this.block.last > this.block.first);

	/** Puts the focus somewhere. @param extend whether the block goes on from where it began */
	put(row: number, column: number, extend = false): void {
		this.at = { row, column };
		if (!extend) this.anchor = this.at;
	}

	/** The same, within a number of rows and columns. */
	go(row: number, column: number, within: { rows: number; columns: number }, extend: boolean): void {
		this.put(between(row, 0, within.rows - 1), between(column, -1, within.columns - 1), extend);
	}

	/** Only the cell with the focus stays chosen. */
	letGo(): void {
		this.anchor = this.at;
	}

	/** Whether a cell is in the chosen block. */
	has(row: number, column: number): boolean {
		const { top, bottom, first, last } = this.block;
		return row >= top && row <= bottom && column >= first && column <= last;
	}
}

/** By how many rows and columns a key moves the focus; undefined for one that does not. @param page rows in sight */
export function stepOf({ key, ctrlKey, metaKey }: KeyboardEvent, page: number): [number, number] | undefined {
	const far = ctrlKey || metaKey;
	const steps: Record<string, [number, number]> = {
		ArrowDown: [far ? Infinity : 1, 0],
		ArrowUp: [far ? -Infinity : -1, 0],
		ArrowRight: [0, far ? Infinity : 1],
		ArrowLeft: [0, far ? -Infinity : -1],
		PageDown: [page, 0],
		PageUp: [-page, 0],
		Home: far ? [-Infinity, -Infinity] : [-Infinity, 0],
		End: far ? [Infinity, Infinity] : [Infinity, 0]
	};
	return steps[key];
}
