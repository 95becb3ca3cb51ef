// Conditions on the rows of a table, in the words in which people type them and in which they stand in an address.

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
	| { is: 'text'; text: string };

const NUMBER = String.raw`-?\d+(?:\.\d+)?`;
const COMPARE = new RegExp(String.raw`^(.+?)\s*(<=|>=|<|>|=)\s*(${NUMBER})$`);
const BETWEEN = new RegExp(String.raw`^(.+?)\s+(?:from\s+)?(${NUMBER})\s+to\s+(${NUMBER})$`);
const ONE = /^(.+?)\s+is\s+(not\s+)?(.+)$/;
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

/** One condition as it is typed; words that are none are looked for in the whole row. Null for nothing. */
export function conditionFrom(typed: string, columns: readonly Named[]): Condition | null {
	const text = typed.trim();
	if (text === '') return null;
	const plain = text.toLowerCase();
	if (plain === 'changed by me' || plain === 'mine') return { is: 'mine' };
	if (plain === 'has snags' || plain === 'snags') return { is: 'snags', severity: null };
	if (plain === 'blocks' || plain === 'warns') return { is: 'snags', severity: plain };
	if (plain === 'has notes') return { is: 'snags', severity: 'note' };
	const names = /^refers to\s+(\S+)$/i.exec(text);
	if (names) return { is: 'names', id: names[1]! };
	const compare = COMPARE.exec(text);
	let field = compare && columnIn(columns, compare[1]!);
	if (compare && field) return { is: 'compare', field, by: compare[2] as '<', value: Number(compare[3]) };
	const between = BETWEEN.exec(text);
	field = between && columnIn(columns, between[1]!);
	if (between && field) return { is: 'between', field, low: Number(between[2]), high: Number(between[3]) };
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
	return { is: 'text', text };
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
			return condition.severity === null
				? 'has snags'
				: condition.severity === 'note'
					? 'has notes'
					: condition.severity;
		case 'names':
			return `refers to ${condition.id}`;
		case 'text':
			return condition.text;
	}
}

/** What is typed into one box: a condition, or words of which each may be one. */
export function conditionsFrom(typed: string, columns: readonly Named[]): Condition[] {
	const whole = conditionFrom(typed, columns);
	if (!whole) return [];
	if (whole.is !== 'text') return [whole];
	const parts = typed.trim().split(/\s+/);
	const each = parts.map((part) => conditionFrom(part, columns)!);
	return each;
}
