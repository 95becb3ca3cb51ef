// What a refusal that no snag foretold teaches: a rule for the field guide, from the value that the game did not take and
// those that it took. Only offered; whoever mods decides.
import { fieldOf } from '../guide';
import { recordNamed, type Stack, type Table } from '../stack';
import type { Foretold } from './foretold';
import { isSaid } from './fields';
import { below } from './out-of-order';

export interface Lesson {
	kind: string;
	field: string;
	/**
	 * A number beyond which the game seems to take none, that the value must be an id of these kinds, that it must be
	 * there, or that it must not be below, or before, that of another field.
	 */
	rule:
		| { bound: 'max' | 'min'; value: number }
		| { kinds: string[] }
		| { required: true }
		| { notBefore: string };
	/** What was refused, and the nearest value that was taken (of a reference: null); where it widens, the bound so far. */
	refused: string;
	taken: number | null;
	/** Whether a bound of the guide is too narrow: the game took what lies beyond it. */
	widens: boolean;
	/** What is put into the guide for it. */
	statements: Record<string, unknown>;
}

const numberIn = (text: string): number => (text.trim() === '' ? NaN : Number(text));

/** Whether a line speaks of a word by itself. */
function speaksOf(line: string, word: string): boolean {
	if (word.trim() === '') return false;
	const marked = word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
	return new RegExp(`(?<![\\p{L}\\p{N}_.])${marked}(?![\\p{L}\\p{N}_])`, 'u').test(line);
}

/** The texts of a field in the rows that were not refused. */
function* takenIn(table: Table, field: string, refused: ReadonlySet<string>): Generator<string> {
	const column = table.column(field);
	for (let row = 0; row < table.count; row++) {
		const text = column[row]!;
		if (text >= 0 && !refused.has(table.pool.at(table.rows.ids[row]!))) yield table.pool.at(text);
	}
}

/** Whether a line speaks of a field, by its name or its title. */
const speaksOfField = (table: Table, line: string, field: string): boolean => {
	const title = fieldOf(table.guide, field)?.title;
	return speaksOf(line, field) || (title !== undefined && speaksOf(line.toLowerCase(), title.toLowerCase()));
};

/** Records that a rule about a whole column has to hold in. */
const ENOUGH = 5;

/** A lesson that is put into the guide as it is. */
const asRule = (
	{ kind }: Table,
	field: string,
	refused: string,
	rule: { required: true } | { notBefore: string }
): Lesson => ({ kind, field, rule, refused, taken: null, widens: false, statements: rule });

/** A field that the line speaks of, that is empty here and filled in all records that were taken. */
function* missingIn(
	table: Table,
	record: string,
	line: string,
	refused: ReadonlySet<string>
): Generator<Lesson> {
	const own = table.byId.get(record)!;
	for (const field of table.columns) {
		if (field === table.guide.key || (own.value(field) ?? '') !== '') continue;
		const about = fieldOf(table.guide, field);
		if ((about?.required && isSaid(about, 'required')) || !speaksOfField(table, line, field)) continue;
		const taken = [...takenIn(table, field, refused)].filter((text) => text !== '').length;
		const others = table.count - refused.size;
		if (taken < ENOUGH || taken < others) continue;
		yield asRule(table, field, '', { required: true });
	}
}

/** Two fields that the line speaks of, the first of which lies before the second here and in no record that was taken. */
function* orderIn(
	table: Table,
	record: string,
	line: string,
	refused: ReadonlySet<string>
): Generator<Lesson> {
	const own = table.byId.get(record)!;
	const named = table.columns.filter((field) => speaksOfField(table, line, field));
	for (const field of named)
		for (const other of named) {
			if (field === other || !below(own.value(field) ?? '', own.value(other) ?? '')) continue;
			const about = fieldOf(table.guide, field);
			if (about?.notBefore !== undefined && (about.notBefore !== other || isSaid(about, 'notBefore')))
				continue;
			const [ends, starts] = [table.column(field), table.column(other)];
			let held = 0;
			let broken = 0;
			for (let row = 0; row < table.count; row++) {
				if (ends[row]! < 0 || starts[row]! < 0 || refused.has(table.pool.at(table.rows.ids[row]!))) continue;
				const [end, start] = [table.pool.at(ends[row]!), table.pool.at(starts[row]!)];
				if (below(end, start)) broken++;
				else if (end === start || below(start, end)) held++;
			}
			if (broken > 0 || held < ENOUGH) continue;
			yield asRule(table, field, own.value(field) ?? '', { notBefore: other });
		}
}

/** A bound that keeps the refused number out and all taken ones in; null where there is none. */
function boundOf(value: number, taken: readonly number[]): { bound: 'max' | 'min'; value: number } | null {
	let [least, most] = [Infinity, -Infinity];
	for (const one of taken) [least, most] = [Math.min(least, one), Math.max(most, one)];
	if (taken.length < 3) return null;
	return value > most ? { bound: 'max', value: most } : value < least ? { bound: 'min', value: least } : null;
}

/**
 * What a line of the log teaches of the record that it refuses: fields whose value it names, or that it names itself,
 * most telling first.
 * @param line its words, without the place
 * @param refused ids of all records of the kind that the log refuses
 */
export function lessonsFrom(
	stack: Stack,
	{ kind, record, line }: { kind: string; record: string; line: string },
	refused: ReadonlySet<string>
): Lesson[] {
	const table = stack.tables.get(kind);
	const own = table?.byId.get(record);
	if (!table || !own) return [];
	const found: { lesson: Lesson; telling: number }[] = [];
	// What is said of two fields tells more than a bound of one of them.
	for (const lesson of orderIn(table, record, line, refused)) found.push({ lesson, telling: 4 });
	for (const lesson of missingIn(table, record, line, refused)) found.push({ lesson, telling: 1 });
	for (const [field, { value }] of own.values) {
		if (field === table.guide.key) continue;
		const about = fieldOf(table.guide, field);
		const names = speaksOfField(table, line, field);
		const says = value !== record && speaksOf(line, value);
		if (!names && !says) continue;
		const telling = Number(names) + 2 * Number(says);
		const number = numberIn(value);
		const lesson = (rule: Lesson['rule'], taken: number | null, statements: Lesson['statements']) =>
			found.push({
				lesson: { kind, field, rule, refused: value, taken, widens: false, statements },
				telling
			});
		if (about?.reference?.found && says) {
			const { found: _, ...reference } = about.reference;
			const known = reference.kinds.some((one) => recordNamed(stack.tables.get(one), value, reference.key));
			if (!known) lesson({ kinds: reference.kinds }, null, { reference, type: 'reference' });
		} else if (Number.isFinite(number) && about?.type !== 'reference') {
			const taken = [...takenIn(table, field, refused)].map(numberIn).filter(Number.isFinite);
			const rule = boundOf(number, taken);
			if (rule && about?.[rule.bound] === undefined) lesson(rule, rule.value, { [rule.bound]: rule.value });
		}
	}
	return found.sort((a, b) => b.telling - a.telling).map(({ lesson }) => lesson);
}

/** What a snag teaches that should have blocked, where the game took the value: a wider bound; null where it is of no bound. */
export function lessonFromTaken(stack: Stack, { kind, record, field }: Foretold): Lesson | null {
	if (kind === null || record === null || field === null) return null;
	const table = stack.tables.get(kind);
	const value = numberIn(table?.byId.get(record)?.value(field) ?? '');
	const about = table && fieldOf(table.guide, field);
	if (!about || !Number.isFinite(value)) return null;
	const bound =
		about.max !== undefined && value > about.max
			? 'max'
			: about.min !== undefined && value < about.min
				? 'min'
				: null;
	return (
		bound && {
			kind,
			field,
			rule: { bound, value },
			refused: String(about[bound]),
			taken: value,
			widens: true,
			statements: { [bound]: value }
		}
	);
}
