import { either } from '../wording';
import type { Facts } from '../facts';
import { isEditable, isGame, type Layer } from '../stack';
import { filesWith } from './paths';
import { quoted, snagOfFile, type Rule } from './snag';

/** Files of a format from which on it says something that none of the game's is written so; or records, in tables. */
const ENOUGH = 10;
const ENOUGH_ROWS = 60;

/** What the files of a layer in one format are written with. */
interface Custom {
	files: number;
	records: number;
	habits: Set<string>;
	encodings: Set<string>;
	ends: Set<string>;
	marked: boolean;
}

const known = new WeakMap<Layer['files'], Map<string, Custom>>();

/** What a layer's files are written with, by format; gone through once for the same files. */
function customsOf(layer: Layer): ReadonlyMap<string, Custom> {
	let found = known.get(layer.files);
	if (found) return found;
	known.set(layer.files, (found = new Map()));
	for (const [, { format, habits, letters, count }] of filesWith(layer, 'format')) {
		const custom = found.get(format!) ?? {
			files: 0,
			records: 0,
			habits: new Set<string>(),
			encodings: new Set<string>(),
			ends: new Set<string>(),
			marked: false
		};
		found.set(format!, custom);
		custom.files++;
		custom.records += count;
		for (const [habit] of habits) custom.habits.add(habit);
		if (!letters) continue;
		custom.encodings.add(letters.encoding);
		custom.ends.add(letters.eol);
		custom.marked ||= letters.bom;
	}
	return found;
}

const SAID = {
	comment: 'has a comment',
	'last comma': 'has a comma with nothing after it',
	'same name': 'has a name twice in one record',
	'stray quote': 'has a cell with a closing quote and no opening one',
	tab: 'is indented with tabs'
};

const ENDS: Record<string, string> = { lf: 'LF', crlf: 'CRLF', cr: 'CR' };

/**
 * How a file is written that none of the game's in its format is: what it does, the line, whether readers may mind, and
 * whether each row could be written so. Between braces and brackets, space means nothing.
 */
function* strange(
	{ format, habits, letters }: Facts,
	game: Custom
): Generator<[what: string, line: number, grave: boolean, ofRows?: boolean]> {
	for (const [habit, line] of habits)
		if (!game.habits.has(habit))
			yield [SAID[habit], line, habit !== 'tab' || format !== 'json', habit === 'stray quote'];
	if (!letters) return;
	if (letters.bom && !game.marked) yield ['begins with a byte-order mark', 1, true];
	else if (letters.confidence === 1 && !game.encodings.has(letters.encoding))
		yield [`is in ${letters.encoding}`, 1, true];
	const ends = [...game.ends].filter((end) => end !== 'none');
	if (ENDS[letters.eol] && ends.length > 0 && !ends.includes(letters.eol) && !ends.includes('mixed'))
		yield [`has ${ENDS[letters.eol]} line ends`, 1, true];
}

/** A file of mine that is written in a way that no file of the game in its format is: its reader may not take it. */
export const unlikeGame: Rule = {
	id: 'unlike-game',
	title: 'Not written like the game’s files',
	reads: ['files'],
	*find({ stack }) {
		const base = stack.layers.find(isGame);
		if (!base) return;
		const customs = customsOf(base);
		for (const layer of stack.layers.filter(isEditable))
			for (const [{ path }, facts] of filesWith(layer, 'format')) {
				const game = customs.get(facts.format!);
				if (!game || facts.told) continue;
				for (const [what, line, grave, ofRows] of strange(facts, game))
					yield snagOfFile(
						layer,
						path,
						{
							rule: 'unlike-game',
							severity:
								grave && (game.files >= ENOUGH || (ofRows && game.records >= ENOUGH_ROWS)) ? 'warns' : 'note',
							line,
							message: `${quoted(path)} ${what} (line ${line}). None of the game’s ${game.files} files of this format ${either(game.files, 'is', 'are')} written so; the game may refuse the file.`
						},
						what
					);
			}
	}
};
