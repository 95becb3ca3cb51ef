import { baseValueOf, derived, isChanged, isEditable, type Table } from '../stack';
import type { Markup } from '../text';
import { gameUnlike, marksUnlike, textTable, unlikeIn, type Difference } from '../words';
import { listed } from '../wording';
import { myRows } from './fields';
import { insteadOf } from './my-texts';
import { quoted, snagAt, type Rule, type Severity } from './snag';

/** Texts of the game in both languages from which on it is known what it does with them. */
const ENOUGH = 60;

/** What becomes of it, as far as that can be said without the game. */
const FOLLOWS: Record<Difference['sort'], string> = {
	placeholders: 'The game may show the placeholder itself, or leave the value out',
	tags: 'The game may show the tag as text, or draw the rest of the line wrong',
	spaces: 'Words may run into each other where the game joins texts'
};

const ticked = (list: readonly string[]) => listed([...new Set(list)].map((one) => `\`${one}\``));

/** What differs, from the side of the text that is mine. */
function said({ sort, lacks, adds }: Difference, other: string): string {
	if (sort === 'spaces')
		return adds.length > 0
			? `has a space ${listed(adds)}, which it does not have in ${other}`
			: `has no space ${listed(lacks)}, as it has in ${other}`;
	const parts = [
		...(lacks.length > 0 ? [`lacks ${ticked(lacks)}, which it has in ${other}`] : []),
		...(adds.length > 0 ? [`has ${ticked(adds)}, which it does not have in ${other}`] : [])
	];
	return parts.join(', and ');
}

/** A text with the spaces around it that another has. */
const withSpacesOf = (text: string, other: string): string =>
	/^\s*/.exec(other)![0] + text.trim() + /\s*$/.exec(other)![0];

/** How many texts of the game have other marks than in the main language. */
const gameMarksUnlike = (table: Table, code: string, main: string, markup: readonly Markup[]): number =>
	derived(table, `marks unlike ${code} ${main} ${JSON.stringify(markup)}`, () => {
		const [own, sources] = [table.column(code), table.column(main)];
		let found = 0;
		for (let row = 0; row < table.count; row++)
			if (own[row]! > 0 && sources[row]! > 0 && !isChanged(table, row))
				found += marksUnlike(table.pool.at(own[row]!), table.pool.at(sources[row]!), markup) ? 1 : 0;
		return found;
	});

/**
 * A text of mine with other placeholders, tags or spaces around it than the same text in the main language, where the
 * game's own texts never differ so.
 */
export const unlikeText: Rule = {
	id: 'unlike-text',
	title: 'Placeholders or tags that differ between languages',
	reads: ['records'],
	*find({ stack }) {
		const [{ words, markup = [] }, table] = [stack.guide, textTable(stack)];
		if (!stack.mine || !words || !table) return;
		const rows = myRows(table);
		if (rows.size === 0) return;
		for (const [code, title] of Object.entries(words.languages)) {
			if (code === words.main) continue;
			for (const row of rows) {
				const record = table.record(row);
				const [one, source] = [record.value(code) ?? '', record.value(words.main) ?? ''];
				const marked = one !== '' && source !== '' ? marksUnlike(one, source, markup) : null;
				const difference = unlikeIn(table, row, code, words.main)[0] ?? marked;
				if (!difference) continue;
				// Told where I wrote it: at the translation, or at the text that was translated.
				const isMine = (field: string) =>
					isEditable(record.said(field)?.presence.layer) &&
					record.value(field) !== baseValueOf(record, field);
				const own = [code, words.main].find(isMine);
				if (own === undefined) continue;
				const { presence } = record.said(own)!;
				const swapped = { ...difference, lacks: difference.adds, adds: difference.lacks };
				const [language, other] =
					own === code ? [title, words.languages[words.main]!] : [words.languages[words.main]!, title];
				const game = gameUnlike(table, code, words.main);
				const held =
					difference === marked ? gameMarksUnlike(table, code, words.main, markup) : game.by[difference.sort];
				const firm = difference.sort !== 'spaces' && game.texts >= ENOUGH && held === 0;
				const severity: Severity = firm ? 'warns' : 'note';
				yield snagAt(stack, record, presence, {
					rule: 'unlike-text',
					severity,
					field: own,
					sort: difference.sort,
					...insteadOf(
						{ record, code: own, text: record.value(own) ?? '' },
						difference.sort === 'spaces'
							? withSpacesOf(record.value(own) ?? '', record.value(own === code ? words.main : code) ?? '')
							: null
					),
					message: `The ${language} text ${quoted(record.id)} ${said(own === code ? difference : swapped, other)}. ${FOLLOWS[difference.sort]} (line ${presence.line}).`
				});
			}
		}
	}
};
