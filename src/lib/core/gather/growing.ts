/** Numbers whose count is not known before, in a list of four bytes or one each instead of the eight of a plain one. */
export class Growing<T extends Int32Array | Uint8Array> {
	/** How many there are. */
	at = 0;
	/** Those that there are, and room behind them. */
	list: T;

	/** @param list room to begin with; at least one */
	constructor(list: T) {
		this.list = list;
	}

	push(value: number): void {
		if (this.at === this.list.length) {
			const wider = (
				this.list instanceof Uint8Array ? new Uint8Array(this.at * 2) : new Int32Array(this.at * 2)
			) as T;
			wider.set(this.list);
			this.list = wider;
		}
		this.list[this.at++] = value;
	}

	/** The numbers alone, in a list of just their length. */
	get done(): T {
		return (this.at === this.list.length ? this.list : this.list.slice(0, this.at)) as T;
	}
}
