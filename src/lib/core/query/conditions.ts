// Conditions on the rows of a table, in the words in which people type them and in which they are in an address.

/** What a condition may speak of: a column by its path or its title. */
export interface Named {
	path: string;
	title: string;
}

export type Condition =
	| { is: 'compare'; field: string; by: '<' | '<=' | '>' | '>=' | '='; value: number }
	| { is: 'between'; field: string; low: number; high: number }
	| { is: 'one'; field: string; values: string[]; not: boolean }
	| { is: 'has'; field: string; text: string }
	| { is: 'filled'; field: string; not: boolean }
	| { is: 'mine' }
	| { is: 'snags'; severity: 'blocks' | 'warns' | 'note' | null }
	| { is: 'names'; id: string }
	/**
	 * The two fields hold the same text, or texts with other placeholders, tags or spaces around them, or my mod changed
	 * the other one and not this.
	 */
	| { is: 'same' | 'unlike' | 'stale'; field: string; other: string }
	/** The field does not follow the terms of the project. */
	| { is: 'terms'; field: string }
	/** No record, script or text that is known names it. */
	| { is: 'unused' }
	/** A layer, by its title or id, has a file that says something of it. */
	| { is: 'layer'; layer: string }
	/** A record of a kind names it (by its name, one or many), or a script. */
	| { is: 'used'; by: string }
	| { is: 'text'; text: string }
	/** What reads as a condition on a column that is not there: no row passes, and people are told. */
	| { is: 'unknown'; text: string; said: string };

const NUMBER = String.raw`-?\d+(?:\.\d+)?`;
const COMPARE = new RegExp(String.raw`^(.+?)\s*(<=|>=|<|>|=)\s*(${NUMBER})$`);
const BETWEEN = new RegExp(String.raw`^(.+?)\s+(?:from\s+)?(${NUMBER})\s+to\s+(${NUMBER})$`);
const ONE = /^(.+?)\s+is\s+(not\s+)?(.+)$/;
const TERMS = /^(.+?)\s+is\s+against\s+the\s+terms$/;
const LAYER = /^in layer\s+(.+)$/i;
const USED = /^used by\s+(.+)$/i;
const LIKE = /^(.+?)\s+is\s+(the\s+same\s+as|unlike|older\s+than)\s+(.+)$/;
const LIKENESS: Record<string, 'same' | 'unlike' | 'stale'> = {
	'the same as': 'same',
	unlike: 'unlike',
	'older than': 'stale'
};
const HAS = /^(.+?)\s+has\s+(.+)$/;

/** The columns that conditions know besides those of the table: the shown name and the id. */
const NAME: Named = { path: 'name', title: 'Name' };
const ROW_ID: Named = { path: 'id', title: 'Id' };

function columnIn(columns: readonly Named[], said: string): string | null {
	const wanted = said.trim().toLowerCase();
	const all = [...columns, NAME, ROW_ID];
	const found =
		all.find(({ path }) => path.toLowerCase() === wanted) ??
		all.find(({ title }) => title.toLowerCase() === wanted);
	return found?.path ?? null;
}

const split = (list: string): string[] =>
	list
		.split(/\s*,\s*|\s+or\s+/)
		.map((part) => part.trim())
		.filter((part) => part !== '');

/** Conditions that stand for themselves. No single word is among them: it may be what somebody looks for. */
const PHRASES: Record<string, Condition> = {
	'changed by me': { is: 'mine' },
	'used by nothing': { is: 'unused' },
	'has snags': { is: 'snags', severity: null },
	'has blocking snags': { is: 'snags', severity: 'blocks' },
	'has warnings': { is: 'snags', severity: 'warns' },
	'has notes': { is: 'snags', severity: 'note' }
};

/**
 * One condition as typed; words that are none are looked for in the whole row. Null for nothing.
 * @param meant whether somebody meant a condition: then “x is y” and “x has y” are never looked for as words
 */
export function conditionFrom(typed: string, columns: readonly Named[], meant = false): Condition | null {
	const text = typed.trim();
	if (text === '') return null;
	const phrase = PHRASES[text.toLowerCase()];
	if (phrase && Object.hasOwn(PHRASES, text.toLowerCase())) return phrase;
	const names = /^refers to\s+(\S+)$/i.exec(text);
	if (names) return { is: 'names', id: names[1]! };
	const compare = COMPARE.exec(text);
	let field = compare && columnIn(columns, compare[1]!);
	if (compare && field) return { is: 'compare', field, by: compare[2] as '<', value: Number(compare[3]) };
	const between = BETWEEN.exec(text);
	field = between && columnIn(columns, between[1]!);
	if (between && field) return { is: 'between', field, low: Number(between[2]), high: Number(between[3]) };
	const like = LIKE.exec(text);
	const [own, other] = like ? [columnIn(columns, like[1]!), columnIn(columns, like[3]!)] : [null, null];
	if (own && other) return { is: LIKENESS[like![2]!.replace(/\s+/g, ' ')]!, field: own, other };
	const terms = TERMS.exec(text);
	field = terms && columnIn(columns, terms[1]!);
	if (terms && field) return { is: 'terms', field };
	const layer = LAYER.exec(text);
	if (layer) return { is: 'layer', layer: layer[1]! };
	const used = USED.exec(text);
	if (used) return { is: 'used', by: used[1]! };
	const one = ONE.exec(text);
	field = one && columnIn(columns, one[1]!);
	if (one && field) {
		const not = one[2] !== undefined;
		if (one[3] === 'empty') return { is: 'filled', field, not: !not };
		if (one[3] === 'filled') return { is: 'filled', field, not };
		const values = split(one[3]!);
		if (values.length > 0) return { is: 'one', field, values, not };
	}
	const has = HAS.exec(text);
	field = has && columnIn(columns, has[1]!);
	if (has && field) return { is: 'has', field, text: has[2]! };
	const said = compare?.[1] ?? (meant ? (between ?? one ?? has)?.[1] : undefined);
	return said === undefined ? { is: 'text', text } : { is: 'unknown', text, said };
}

/** The same condition in the words in which it is read back. */
export function inConditionWords(condition: Condition): string {
	switch (condition.is) {
		case 'compare':
			return `${condition.field} ${condition.by} ${condition.value}`;
		case 'between':
			return `${condition.field} ${condition.low} to ${condition.high}`;
		case 'one':
			return `${condition.field} is ${condition.not ? 'not ' : ''}${condition.values.join(', ')}`;
		case 'has':
			return `${condition.field} has ${condition.text}`;
		case 'filled':
			return `${condition.field} is ${condition.not ? 'empty' : 'filled'}`;
		case 'mine':
			return 'changed by me';
		case 'snags':
			return Object.entries(PHRASES).find(
				([, one]) => one.is === 'snags' && one.severity === condition.severity
			)![0];
		case 'names':
			return `refers to ${condition.id}`;
		case 'same':
			return `${condition.field} is the same as ${condition.other}`;
		case 'unlike':
			return `${condition.field} is unlike ${condition.other}`;
		case 'stale':
			return `${condition.field} is older than ${condition.other}`;
		case 'terms':
			return `${condition.field} is against the terms`;
		case 'layer':
			return `in layer ${condition.layer}`;
		case 'unused':
			return 'used by nothing';
		case 'used':
			return `used by ${condition.by}`;
		case 'text':
		case 'unknown':
			return condition.text;
	}
}

/** What is typed into one box: a condition, or words of which each may be one. */
export function conditionsFrom(typed: string, columns: readonly Named[], meant = false): Condition[] {
	const whole = conditionFrom(typed, columns, meant);
	if (!whole) return [];
	if (whole.is !== 'text') return [whole];
	const parts = typed.trim().split(/\s+/);
	const each = parts.map((part) => conditionFrom(part, columns)!);
	return each;
}

/** Why a condition cannot be followed; null where it can. */
export function conditionFault(condition: Condition): string | null {
	if (condition.is !== 'unknown') return null;
	return `There is no field “${condition.said.trim()}” in this table, so no rows match “${condition.text}”.`;
}
