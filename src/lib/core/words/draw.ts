// A text as the game draws it: sections in their order, marks as they look, values filled in, lines broken where the room
// ends, and cut off where the game cuts it off.
import { eastAsianWidth } from 'get-east-asian-width';
import type { Guide, TextGuide } from '../guide';
import { anyOf, markedUp, type Markup, type Piece } from '../text';
import fonts from './font-widths.json' with { type: 'json' };

/** What is known of how a text is drawn. */
export interface TextLook {
	markup: readonly Markup[];
	/** What stands in for each placeholder, as it is written. */
	samples: Readonly<Record<string, string>>;
	sections: { between: string; reversed?: boolean | undefined } | null;
	width: NonNullable<TextGuide['width']> | null;
	/** Lines that are drawn; null for all. */
	lines: number | null;
	/** What is drawn where it is cut off. */
	cut: string;
}

/** A text as it is drawn. */
export interface Drawn {
	lines: Piece[][];
	/** Whether something of it does not fit. */
	cut: boolean;
}

/** How the texts of a game are drawn in one place. @param about that place, where the text is of a record */
export function lookOf(
	{ markup = [], words }: Pick<Guide, 'markup' | 'words'>,
	about?: Pick<TextGuide, 'width' | 'lines' | 'oneLine' | 'cut'>,
	valueOf: (field: string) => string | undefined = () => undefined
): TextLook {
	const samples = Object.entries(words?.samples ?? {}).flatMap(([code, sample]): [string, string][] => {
		const value = typeof sample === 'string' ? sample : valueOf(sample.field);
		return value === undefined ? [] : [[code, value]];
	});
	return {
		markup,
		samples: Object.fromEntries(samples),
		sections: words?.sections ?? null,
		width: about?.width ?? null,
		lines: about?.lines ?? (about?.oneLine ? 1 : null),
		cut: about?.cut ?? ''
	};
}

/** Letters as people count them: what is drawn as one. */
const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });
/** ASCII but for a letter that has marks of others behind it; and the rest. The segmenter is slow on long texts. */
const RUNS = /[\x20-\x7e]+(?![^\x20-\x7e])|[\x20-\x7e]?[^\x20-\x7e]+/g;
const lettersOf = (text: string): string[] =>
	(text.match(RUNS) ?? []).flatMap((run) =>
		/^[\x20-\x7e]/.test(run) && !/[^\x20-\x7e]/.test(run)
			? [...run]
			: Array.from(graphemes.segment(run), ({ segment }) => segment)
	);

/** Width of a letter that a font's table does not have, in parts of its size: a common one, and a full-width one. */
const OTHER = { narrow: 0.55, wide: 1 };

/** How wide a letter is: in letters of one width, or in pixels of a font. @param letter one grapheme */
function widthOf(letter: string, width: TextLook['width']): number {
	const point = letter.codePointAt(0)!;
	const wide = eastAsianWidth(point) === 2;
	if (width === null || typeof width === 'number') return wide ? 2 : 1;
	const { unit, advances } = fonts[width.font];
	const known = (advances as Readonly<Record<string, number>>)[letter] ?? null;
	return width.size * (known === null ? (wide ? OTHER.wide : OTHER.narrow) : known / unit);
}

/** One letter with the piece that it is of. */
interface Letter {
	text: string;
	width: number;
	of: Piece;
	/** Whether a line may be broken beside it without a space. */
	wide: boolean;
}

/** The pieces of a text, with values in the place of placeholders. */
function piecesOf(text: string, { markup, samples, sections }: TextLook): Piece[] {
	const parts = sections ? text.split(sections.between) : [text];
	if (sections?.reversed) parts.reverse();
	const codes = Object.keys(samples).sort((a, b) => b.length - a.length);
	const pattern = anyOf(codes);
	const filled = (piece: Piece): Piece[] => {
		if (!pattern || piece.from) return [piece];
		const found: Piece[] = [];
		let at = 0;
		for (const { 0: code, index } of piece.text.matchAll(pattern)) {
			found.push({ ...piece, text: piece.text.slice(at, index) });
			found.push({ ...piece, text: samples[code]!, from: 'value' });
			at = index + code.length;
		}
		found.push({ ...piece, text: piece.text.slice(at) });
		return found.filter(({ text }) => text !== '');
	};
	return parts.flatMap((part, nth) => [
		...(nth > 0 ? [{ text: '\n', shows: [] }] : []),
		...markedUp(part, markup).flatMap(filled)
	]);
}

const isSpace = ({ text }: Letter): boolean => /^[ \t]$/.test(text);

/** The letters of each line that is written as one. */
function writtenLines(pieces: readonly Piece[], width: TextLook['width']): Letter[][] {
	const lines: Letter[][] = [[]];
	for (const of of pieces)
		for (const text of lettersOf(of.text)) {
			if (/^(?:\r\n|[\r\n])$/.test(text)) lines.push([]);
			else
				lines.at(-1)!.push({
					text,
					width: widthOf(text, width),
					of,
					wide: eastAsianWidth(text.codePointAt(0)!) === 2
				});
		}
	return lines;
}

const sum = (line: readonly Letter[]): number => line.reduce((all, { width }) => all + width, 0);

/** Parts of a line that are not broken: words, spaces, and full-width letters one by one. */
function wordsIn(line: readonly Letter[]): Letter[][] {
	const words: Letter[][] = [];
	for (const letter of line) {
		const last = words.at(-1)?.at(-1);
		const joins = last && !last.wide && !letter.wide && isSpace(last) === isSpace(letter);
		if (joins) words.at(-1)!.push(letter);
		else words.push([letter]);
	}
	return words;
}

/** A line in as many as it takes: broken at spaces, which go, and between full-width letters; else within a word. */
function broken(line: Letter[], room: number): Letter[][] {
	if (room === Infinity) return [line];
	const lines: Letter[][] = [[]];
	let spaces: Letter[] = [];
	let used = 0;
	for (const word of wordsIn(line)) {
		if (isSpace(word[0]!)) {
			spaces = [...spaces, ...word];
			continue;
		}
		const needs = sum(spaces) + sum(word);
		if (used + needs <= room) {
			lines.at(-1)!.push(...spaces, ...word);
			used += needs;
		} else {
			if (used > 0) lines.push([]);
			used = 0;
			for (const letter of word) {
				if (used > 0 && used + letter.width > room) {
					lines.push([]);
					used = 0;
				}
				lines.at(-1)!.push(letter);
				used += letter.width;
			}
		}
		spaces = [];
	}
	return lines;
}

/** Letters with the same look together. */
function joined(line: readonly Letter[]): Piece[] {
	const pieces: Piece[] = [];
	let last: Piece | null = null;
	for (const { text, of } of line) {
		if (of === last) pieces.at(-1)!.text += text;
		else pieces.push({ ...of, text });
		last = of;
	}
	return pieces;
}

/** A text as the game draws it. */
export function drawn(text: string, look: TextLook): Drawn {
	const { width, lines: most, cut } = look;
	const written = writtenLines(piecesOf(text, look), width);
	const room = width === null ? Infinity : typeof width === 'number' ? width : width.pixels;
	const lines = written.flatMap((line) => broken(line, room));
	if (most === null || lines.length <= most) return { lines: lines.map(joined), cut: false };
	const shown = lines.slice(0, most);
	const last = [...shown.at(-1)!];
	const mark = writtenLines(cut === '' ? [] : [{ text: cut, shows: [] }], width)[0]!;
	while (last.length > 0 && (sum(last) + sum(mark) > room || isSpace(last.at(-1)!))) last.pop();
	return { lines: [...shown.slice(0, -1), [...last, ...mark]].map(joined), cut: true };
}

/** What is drawn, as text alone: a line each. */
export const drawnText = ({ lines }: Drawn): string =>
	lines.map((line) => line.map(({ text }) => text).join('')).join('\n');
