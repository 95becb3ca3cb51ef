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

/** All places for texts that records have, with the records that have which text. */
export function drawnPlaces(links: Links, texts: Table): DrawnIn[] {
	const start = links.starts.get(texts.kind);
	if (start === undefined) return [];
	return links.strands.flatMap(({ table, field, text, rows, to }) => {
		const about = text ? table.guide.texts.find(({ label }) => label === field) : undefined;
		if (!about) return [];
		const found = new Map<number, number>();
		for (const [entry, place] of to.entries()) {
			const row = place - start;
			if (row >= 0 && row < texts.count && !found.has(row)) found.set(row, rows ? rows[entry]! : entry);
		}
		return [{ table, about, rows: found }];
	});
}
