// Texts with marks in them, as they are shown.

/** How what is between two marks is shown. */
export type Shows = 'strong' | 'emphasis' | 'small';

/** What is between two marks is shown so; a colour is one of CSS. */
export interface PairMark {
	open: string;
	close: string;
	shows: Shows | 'colour';
	colour?: string | undefined;
}

/** A code that stands for itself: a new line, a picture (drawn here as some character), or nothing to see. */
export interface CodeMark {
	code: string;
	shows: 'break' | 'icon' | 'nothing';
	as?: string | undefined;
}

/** What in a text is not for reading but says how it is drawn. */
export type Markup = PairMark | CodeMark;

/** A piece of a text that is shown in one way. A new line is a piece of its own, `\n`. */
export interface Piece {
	text: string;
	shows: Shows[];
	colour?: string;
	/** What is not written there as such: a picture, or a value that the game puts in. */
	from?: 'icon' | 'value';
}

/** Drawn for a picture of which nothing is said. */
const ICON = '◆';

const literal = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&');

/** Finds any of some texts; of several at one place the one that is listed first. Null for none. */
export const anyOf = (texts: readonly string[]): RegExp | null =>
	texts.length === 0 ? null : new RegExp(texts.map(literal).join('|'), 'g');

const startOf = (mark: Markup): string => ('code' in mark ? mark.code : mark.open);

/** A text in pieces, without its marks; a mark that is never closed is part of the text. */
export function markedUp(text: string, markup: readonly Markup[]): Piece[] {
	const pieces: Piece[] = [];
	const marks = anyOf(markup.map(startOf));
	const add = (piece: Piece) => {
		if (piece.text !== '') pieces.push(piece);
	};
	const walk = (from: number, to: number, look: Omit<Piece, 'text' | 'from'>): void => {
		let [plain, at] = [from, from];
		while (marks && at < to) {
			marks.lastIndex = at;
			const hit = marks.exec(text);
			if (!hit || hit.index >= to) break;
			// Several marks may begin alike, and the first of them may not be closed.
			let next: number | null = null;
			for (const mark of markup) {
				const start = startOf(mark);
				const inside = hit.index + start.length;
				if (!text.startsWith(start, hit.index) || inside > to) continue;
				if ('code' in mark) {
					add({ ...look, text: text.slice(plain, hit.index) });
					if (mark.shows === 'break') add({ ...look, text: '\n' });
					if (mark.shows === 'icon') add({ ...look, text: mark.as ?? ICON, from: 'icon' });
					next = inside;
					break;
				}
				const close = text.indexOf(mark.close, inside);
				if (close < 0 || close + mark.close.length > to) continue;
				add({ ...look, text: text.slice(plain, hit.index) });
				walk(
					inside,
					close,
					mark.shows === 'colour'
						? { ...look, ...(mark.colour === undefined ? {} : { colour: mark.colour }) }
						: { ...look, shows: [...look.shows, mark.shows] }
				);
				next = close + mark.close.length;
				break;
			}
			at = next ?? hit.index + 1;
			if (next !== null) plain = next;
		}
		add({ ...look, text: text.slice(plain, to) });
	};
	walk(0, text.length, { shows: [] });
	return pieces;
}

/** Pairs of marks of which a text has one without the other: what would close, or what should have opened. */
export function openMarks(text: string, markup: readonly Markup[]): PairMark[] {
	return markup.filter((mark): mark is PairMark => {
		if ('code' in mark) return false;
		const often = (sign: string) => text.split(sign).length - 1;
		return mark.open === mark.close ? often(mark.open) % 2 === 1 : often(mark.open) !== often(mark.close);
	});
}
