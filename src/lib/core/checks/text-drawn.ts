// Texts of mine that the game reads and still does not draw as they should be, by what the guide says of its screens.
import type { TextGuide } from '../guide';
import { derived, isChanged, valueOf, type Table } from '../stack';
import { counted, listed } from '../wording';
import {
	drawn,
	drawnPlaces,
	drawnText,
	familiesIn,
	formOf,
	formsFor,
	keyOfForm,
	lookOf,
	usedRows
} from '../words';
import { eachOfMyTexts, insteadOf } from './my-texts';
import { quoted, snagAt, type Rule, type Severity } from './snag';
import { roomFault } from './values';

/** The room of a place, as the subject of a sentence. */
function roomSaid({ label, lines, oneLine, width }: TextGuide): string {
	const most = lines ?? (oneLine ? 1 : 0);
	const wide =
		width === undefined
			? ''
			: typeof width === 'number'
				? ` of ${counted(width, 'letter')}`
				: ` of ${counted(width.pixels, 'pixel')}`;
	return `“${label}” has room for ${counted(most, 'line')}${wide}`;
}

/** Words that are told of what is still seen. */
const WORDS = 4;

/** A text of mine that does not fit into the place in which the game draws it. */
export const cutOff: Rule = {
	id: 'cut-off',
	title: 'Text that is cut off',
	reads: ['records', 'links'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const { guide } = scene.stack;
			const places = drawnPlaces(scene.links, table).filter(
				({ about }) => about.lines !== undefined || about.oneLine
			);
			const known = new Map<string, Severity>();
			/** Whether it is worth a warning: not where the game cuts off its own texts. */
			const gravityIn = ({ table: of, about, rows }: (typeof places)[number], code: string): Severity => {
				const name = JSON.stringify([of.kind, about.label, code]);
				let found = known.get(name);
				if (found === undefined) {
					const column = table.column(code);
					const cuts = [...rows].some(
						([row, user]) =>
							column[row]! > 0 &&
							!isChanged(table, row) &&
							drawn(
								table.pool.at(column[row]!),
								lookOf(guide, about, (field) => valueOf(of.record(user), field))
							).cut
					);
					known.set(name, (found = cuts || about.found ? 'note' : 'warns'));
				}
				return found;
			};
			return function* (mine) {
				const { record, row, code, title, text, presence } = mine;
				for (const place of places) {
					const { table: of, about, rows } = place;
					const user = rows.get(row);
					if (user === undefined || roomFault(about, text) !== null) continue;
					const shown = drawn(
						text,
						lookOf(guide, about, (field) => valueOf(of.record(user), field))
					);
					if (!shown.cut) continue;
					const last = drawnText({ ...shown, lines: shown.lines.slice(-1) });
					const seen = about.cut && last.endsWith(about.cut) ? last.slice(0, -about.cut.length) : last;
					yield snagAt(scene.stack, record, presence, {
						rule: 'cut-off',
						severity: gravityIn(place, code),
						field: code,
						message: `${roomSaid(about)}. The ${title} text ${quoted(record.id)} needs more and is cut off after “${seen.split(' ').slice(-WORDS).join(' ')}” (line ${presence.line}).`,
						...insteadOf(mine)
					});
					break;
				}
			};
		})
};

/** How the game's own texts with forms are in a language: in how many there is a form, and in how many not. */
function formsInGame(table: Table, pattern: string, code: string, form: string): [number, number] {
	const mine = new Set(
		derived(table, `my forms ${pattern}`, () =>
			Array.from(table.rows.ids.keys())
				.filter((row) => isChanged(table, row))
				.flatMap((row) => formOf(pattern, table.pool.at(table.rows.ids[row]!))?.text ?? [])
		)
	);
	const game = [...familiesIn(table, pattern, code)].filter(([text]) => !mine.has(text));
	const having = game.filter(([, forms]) => forms.has(form)).length;
	return [having, game.length - having];
}

/** A text of mine that has forms for numbers, but not all that its language has. */
export const pluralForms: Rule = {
	id: 'plural-forms',
	title: 'Form for a number that is missing',
	reads: ['records'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const pattern = scene.stack.guide.words?.plurals;
			const told = new Set<string>();
			return function* ({ record, code, title, presence }) {
				const own = pattern === undefined ? null : formOf(pattern, record.id);
				const forms = own && formsFor(code);
				const name = JSON.stringify([own?.text, code]);
				if (pattern === undefined || !own || !forms || told.has(name)) return;
				told.add(name);
				const there = familiesIn(table, pattern, code).get(own.text)!;
				const missing = forms
					.filter((form) => !there.has(form))
					.map((form) => ({ form, game: formsInGame(table, pattern, code, form) }))
					// What no text of the game has in this language, the game does not ask for.
					.filter(({ game: [having, lacking] }) => having > 0 || lacking === 0);
				if (missing.length === 0) return;
				const firm = missing.some(({ game: [having, lacking] }) => having > 0 && lacking === 0);
				yield snagAt(scene.stack, record, presence, {
					rule: 'plural-forms',
					severity: firm ? 'warns' : 'note',
					field: code,
					message: `${title} has other words for other numbers. The text ${quoted(own.text)} lacks the ${missing.length === 1 ? 'form' : 'forms'} ${listed(missing.map(({ form }) => `“${form}”`))}: the game finds no text for such a number (line ${presence.line}).`,
					candidates: missing.map(({ form }) => keyOfForm(pattern, own.text, form)),
					repairable: true
				});
			};
		})
};

/** Of a hundred texts of the game those that nothing is known to use, beyond which nothing is said of mine. */
const UNUSED = 5;
/** Texts of the game from which on it is known how many are used. */
const ENOUGH = 100;

/** A text that my mod adds, and that nothing is known to use. */
export const unusedText: Rule = {
	id: 'unused-text',
	title: 'Text that nothing is known to use',
	reads: ['records', 'links'],
	find: (scene) =>
		eachOfMyTexts(scene, (table) => {
			const used = usedRows(scene.links, table);
			let [game, unused] = [0, 0];
			const isNew = (row: number) => table.record(row).presences.every(({ layer }) => layer.owner === 'me');
			for (let row = 0; row < table.count; row++) {
				if (isChanged(table, row)) continue;
				game++;
				if (used[row] === 0) unused++;
			}
			if (game < ENOUGH || unused * 100 > game * UNUSED) return () => [];
			const told = new Set<number>();
			return function* ({ record, row, presence }) {
				if (used[row] === 1 || told.has(row) || !isNew(row)) return;
				told.add(row);
				yield snagAt(scene.stack, record, presence, {
					rule: 'unused-text',
					severity: 'note',
					field: null,
					message: `No record and no script is known to use the text ${quoted(record.id)}. The game may never show it (line ${presence.line}).`,
					repairable: false
				});
			};
		})
};
