// Texts that are given to somebody else to translate, each with what helps with it.
import { changedRows, displayName, type Stack, type Table } from '../stack';
import type { Links } from '../links';
import { staleRows, textTable } from './coverage';

/** One text to be translated. */
export interface TextUnit {
	key: string;
	/** The text in the main language. */
	source: string;
	/** As it is translated now; empty where it is not. */
	target: string;
	/** Whether my mod changed the main text after it was translated. */
	stale: boolean;
	/** What uses it, for people: “Red bench (bench b_1, name)”. */
	usedBy: string[];
	/** What the game's file says beside it. */
	remark: string | undefined;
	/** Letters that the game has room for; null where that is not known. */
	longest: number | null;
	/** The other languages that it is there in, by code. */
	others: [string, string][];
}

/** Which texts are given out. */
export interface GiveAsked {
	/** The language that is translated into, by its code. */
	to: string;
	/** Only what is missing there, or older than the main text. */
	open: boolean;
	/** Only texts that my mod adds or changes. */
	mine: boolean;
}

/** Texts of a game as they are given out. */
export interface Given {
	from: string;
	to: string;
	units: TextUnit[];
}

/** Users of a text that are named. */
const MOST_USERS = 3;

/** For each row that is asked for who uses the text, and how long it may be. */
function usersOf(
	stack: Stack,
	links: Links,
	texts: Table,
	asked: ReadonlySet<number>
): Map<number, { usedBy: string[]; longest: number | null }> {
	const start = links.starts.get(texts.kind)!;
	const found = new Map<number, { usedBy: string[]; longest: number | null }>();
	for (const { table, field, text, rows, to } of links.strands) {
		if (table === texts) continue;
		const about = text ? table.guide.texts.find(({ label }) => label === field) : undefined;
		const title = (about?.label ?? table.guide.fields[field]?.title ?? field).toLowerCase();
		for (const [entry, place] of to.entries()) {
			const row = place - start;
			if (!asked.has(row)) continue;
			const known = found.get(row) ?? { usedBy: [], longest: null };
			if (about?.longest !== undefined)
				known.longest = Math.min(known.longest ?? about.longest, about.longest);
			if (known.usedBy.length < MOST_USERS) {
				const record = table.record(rows ? rows[entry]! : entry);
				known.usedBy.push(
					`${displayName(stack, record)} (${table.guide.title.toLowerCase()} ${record.id}, ${title})`
				);
			}
			found.set(row, known);
		}
	}
	return found;
}

/**
 * The texts that are asked for, in the order of the game, with their places in what uses them. What is not there in the
 * main language is not among them: nobody could translate it.
 */
export function givenOut(stack: Stack, links: Links, { to, open, mine }: GiveAsked): Given {
	const [{ words }, table] = [stack.guide, textTable(stack)];
	if (!words || !table) return { from: '', to, units: [] };
	const { main } = words;
	const [sources, targets, stale] = [table.column(main), table.column(to), staleRows(table, to, main)];
	const own = mine ? new Set(changedRows(table)) : null;
	const rows = new Set<number>();
	for (let row = 0; row < table.count; row++)
		if (
			sources[row]! > 0 &&
			table.pool.at(sources[row]!) !== '' &&
			(own?.has(row) ?? true) &&
			(!open || !(targets[row]! > 0) || stale[row] === 1)
		)
			rows.add(row);
	const users = usersOf(stack, links, table, rows);
	const others = Object.keys(words.languages).filter((code) => code !== main && code !== to);
	const columns = others.map((code) => table.column(code));
	const said = (text: number) => (text > 0 ? table.pool.at(text) : '');
	return {
		from: main,
		to,
		units: [...rows].map((row) => {
			const { presences } = table.record(row);
			return {
				key: said(table.rows.ids[row]!),
				source: said(sources[row]!),
				target: said(targets[row]!),
				stale: stale[row] === 1,
				usedBy: users.get(row)?.usedBy ?? [],
				remark: presences.findLast(({ language, remark }) => language === main && remark)?.remark,
				longest: users.get(row)?.longest ?? null,
				others: others.flatMap((code, nth): [string, string][] => {
					const text = said(columns[nth]![row]!);
					return text === '' ? [] : [[code, text]];
				})
			};
		})
	};
}
