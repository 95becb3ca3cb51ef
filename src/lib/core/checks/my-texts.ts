import { baseValueOf, derived, isEditable, type EffectiveRecord, type Presence, type Table } from '../stack';
import { textTable } from '../words';
import { myRows } from './fields';
import type { Draft, Scene } from './snag';

/** A text that my mod writes, and writes otherwise than what is below it. */
export interface MyText {
	record: EffectiveRecord;
	row: number;
	code: string;
	/** What its language is called. */
	title: string;
	text: string;
	presence: Presence;
}

/** Where my mod adds or changes a text: the code of its language, and its row. Places in files may change meanwhile. */
const placesOfMine = (table: Table, codes: readonly string[]): readonly [string, number][] =>
	derived(table, 'my texts', () => {
		const rows = [...myRows(table)];
		return codes.flatMap((code) =>
			rows.flatMap((row): [string, number][] => {
				const record = table.record(row);
				const said = record.said(code);
				return said &&
					said.value !== '' &&
					isEditable(said.presence.layer) &&
					said.value !== baseValueOf(record, code)
					? [[code, row]]
					: [];
			})
		);
	});

/** Texts that are looked at between two breaths. */
const AT_ONCE = 500;

/**
 * A rule that looks at each text that my mod adds or changes.
 * @param begin looks at the table once, and gives what looks at a text: what is wrong with it, if anything
 */
export function* eachOfMyTexts(
	{ stack }: Scene,
	begin: (table: Table, main: string) => (text: MyText) => Iterable<Draft>
): Generator<Draft | null> {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	if (!stack.mine || !words || !table) return;
	const mine = placesOfMine(table, Object.keys(words.languages));
	if (mine.length === 0) return;
	const look = begin(table, words.main);
	for (const [nth, [code, row]] of mine.entries()) {
		const record = table.record(row);
		const { value: text, presence } = record.said(code)!;
		yield* look({ record, row, code, title: words.languages[code]!, text, presence });
		if (nth % AT_ONCE === AT_ONCE - 1) yield null;
	}
}

/** What may stand there instead, and whether there is anything: what the layers below say is always one way. */
export function insteadOf(
	{ record, code, text }: Pick<MyText, 'record' | 'code' | 'text'>,
	...candidates: (string | null)[]
): { candidates: string[]; repairable: boolean } {
	const found = candidates.filter((one): one is string => one !== null && one !== text);
	return { candidates: found, repairable: found.length > 0 || baseValueOf(record, code) !== undefined };
}
