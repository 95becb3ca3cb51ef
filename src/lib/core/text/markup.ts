// Texts with marks in them, as they are shown.

/** Marks of a text, and how what is between them is shown. */
export interface Markup {
	open: string;
	close: string;
	shows: 'strong' | 'emphasis' | 'small';
}

/** A piece of a text that is shown in one way. */
export interface Piece {
	text: string;
	shows: Markup['shows'][];
}

/** A text in pieces, without its marks; a mark that is never closed is part of the text. */
export function markedUp(text: string, markup: readonly Markup[]): Piece[] {
	const pieces: Piece[] = [];
	const add = (part: string, shows: Markup['shows'][]) => {
		if (part !== '') pieces.push({ text: part, shows });
	};
	const walk = (part: string, shows: Markup['shows'][]): void => {
		let [first, mark, end] = [part.length, null as Markup | null, 0];
		for (const one of markup) {
			const at = part.indexOf(one.open);
			const close = at < 0 ? -1 : part.indexOf(one.close, at + one.open.length);
			if (close >= 0 && at < first) [first, mark, end] = [at, one, close];
		}
		add(part.slice(0, first), shows);
		if (!mark) return;
		walk(part.slice(first + mark.open.length, end), [...shows, mark.shows]);
		walk(part.slice(end + mark.close.length), shows);
	};
	walk(text, []);
	return pieces;
}
