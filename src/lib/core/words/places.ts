// Where a text is drawn: in which fields of which records, with what is known of the room that it has there.
import type { TextGuide } from '../guide';
import type { Links } from '../links';
import type { Table } from '../stack';

/** A place in which the texts of records are drawn, such as the name on a card. */
interface DrawnIn {
	table: Table;
	about: TextGuide;
	/** The row of the record, by the row of the text. */
	rows: ReadonlyMap<number, number>;
}

/** The users of each strand by the row of the text, as long as it leads where it led. */
const known = new WeakMap<Int32Array, { start: number; rows: ReadonlyMap<number, number> }>();

/** All places for texts that records have, with the records that have which text. */
export function drawnPlaces(links: Links, texts: Table): DrawnIn[] {
	const start = links.starts.get(texts.kind);
	if (start === undefined) return [];
	return links.strands.flatMap(({ table, field, text, rows, to }) => {
		const about = text ? table.guide.texts.find(({ label }) => label === field) : undefined;
		if (!about) return [];
		const old = known.get(to);
		if (old?.start === start) return [{ table, about, rows: old.rows }];
		const found = new Map<number, number>();
		for (const [entry, place] of to.entries())
			if (place >= start && !found.has(place - start)) found.set(place - start, rows ? rows[entry]! : entry);
		known.set(to, { start, rows: found });
		return [{ table, about, rows: found }];
	});
}
