// The rows of a table that are in sight, fetched in pieces as they come; what is not there yet is undefined.
import { browser } from '$app/environment';
import type { TableRow, TableView } from '$core/views';

/** Rows of a piece: as many as the page itself comes with. */
const PIECE = 60;
/** Milliseconds that are waited for more, and within which a piece counts as in sight. */
const WAIT = 30;
const STILL = 60;

export class Rows {
	/** Counts up whenever rows come, so that what shows them is drawn again. */
	private come = $state(0);
	private pieces: Record<number, TableRow[]> = {};
	private older: Record<number, TableRow[]> = {};
	private asked: Record<number, boolean> = {};
	private query = '';
	private version = -1;
	private address = '';

	/** Takes over what the page was loaded with. Rows of the same order stay until newer ones are there. */
	start(address: string, query: string, table: TableView): void {
		if (this.query === query && this.version === table.version && this.address === address) return;
		this.older = this.query === query && this.address === address ? this.pieces : {};
		this.pieces = { 0: table.rows };
		this.asked = { 0: true };
		[this.address, this.query, this.version] = [address, query, table.version];
		this.come++;
	}

	/** A row, and its piece is fetched where it is not there. */
	at(index: number): TableRow | undefined {
		void this.come;
		const piece = Math.floor(index / PIECE);
		const own = this.pieces[piece];
		if (!own) this.want(piece);
		return (own ?? this.older[piece])?.[index - piece * PIECE];
	}

	/** Pieces that came into sight, with when: what is scrolled past is not fetched. */
	private wanted: Record<number, number> = {};
	private waiting: ReturnType<typeof setTimeout> | undefined;

	private want(piece: number): void {
		if (this.asked[piece] || !browser) return;
		this.wanted[piece] = performance.now();
		this.waiting ??= setTimeout(() => {
			this.waiting = undefined;
			const late = performance.now() - STILL;
			const pieces = Object.entries(this.wanted);
			this.wanted = {};
			for (const [name, when] of pieces) if (when > late) void this.fetch(Number(name));
		}, WAIT);
	}

	/** Shows a value before the server has it; the returned function takes that back where it was refused. */
	put(index: number, column: number, value: string): () => void {
		const row = this.at(index);
		if (!row) return () => undefined;
		const next = {
			...row,
			mine: true,
			cells: row.cells.with(column, value),
			changed: [...row.changed, column]
		};
		const piece = Math.floor(index / PIECE);
		const list = [...(this.pieces[piece] ?? this.older[piece] ?? [])];
		list[index - piece * PIECE] = next;
		this.pieces[piece] = list;
		this.come++;
		return () => {
			const now = this.pieces[piece];
			if (now?.[index - piece * PIECE] !== next) return;
			this.pieces[piece] = now.with(index - piece * PIECE, row);
			this.come++;
		};
	}

	/** All rows between two, fetched where they are not there. */
	async between(from: number, to: number): Promise<(TableRow | undefined)[]> {
		const missing = [];
		for (let piece = Math.floor(from / PIECE); piece <= Math.floor(to / PIECE); piece++)
			if (!this.pieces[piece]) missing.push(this.fetch(piece, true));
		await Promise.all(missing);
		return Array.from({ length: to - from + 1 }, (_, nth) => this.at(from + nth));
	}

	private async fetch(piece: number, again = false): Promise<void> {
		if (this.asked[piece] && !again) return;
		this.asked[piece] = true;
		const { query, version, address } = this;
		const separator = query === '' ? '?' : '&';
		try {
			const answer = await fetch(`${address}${query}${separator}from=${piece * PIECE}&count=${PIECE}`);
			if (!answer.ok) throw new Error(String(answer.status));
			const said = (await answer.json()) as { rows: TableRow[] };
			if (query !== this.query || version !== this.version || address !== this.address) return;
			this.pieces[piece] = said.rows;
			this.come++;
		} catch {
			// Asked for again when it comes into sight the next time.
			this.asked[piece] = false;
		}
	}
}
