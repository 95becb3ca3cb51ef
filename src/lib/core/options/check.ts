// What goes wrong only in some combinations of options: snags, and values that another option hides.
import { checkStack, type Snag } from '../checks';
import { claimsOf, fieldOf } from '../guide';
import { displayName, valueOf, type Stack } from '../stack';
import { combinationsOf, type Combination } from './combinations';
import { withOptions, type OptionLayer } from './layers';

/** Something that is wrong where some options are chosen, and not in the main part by itself. */
export interface OptionFinding {
	/** Options that have to be chosen for it, by what was looked at; empty where it is wrong in every combination. */
	needs: readonly string[];
	/** Whether every combination with these has it: another option may mend it. */
	always: boolean;
	/** The first combination in which it was seen. */
	seen: Combination;
	/** Null for a value that does not count. */
	snag: Snag | null;
	message: string;
	severity: Snag['severity'];
}

/** Findings of which the options that they need are narrowed down. */
const NARROWED = 20;

const said = ({ rule, kind, record, field, message }: Snag): string =>
	JSON.stringify([rule, kind, record, field, message]);

/** Values of chosen options that the game does not see, because another option's file or record hides them. */
function* hidden(stack: Stack, layers: readonly OptionLayer[], chosen: Combination): Generator<string> {
	const on = layers.filter(({ option }) => chosen.includes(option.id));
	for (const [nth, { option }] of on.entries())
		for (const { kind, id, field, value } of option.cells) {
			const later = on.slice(nth + 1);
			const set = (other: OptionLayer) =>
				other.option.cells.some((one) => one.kind === kind && one.id === id && one.field === field);
			const record = stack.tables.get(kind)?.byId.get(id);
			const now = record && (valueOf(record, field) ?? '');
			if (!record || now === value || later.some(set)) continue;
			const origin = record.values.get(field)?.presence;
			const by = later.find(({ layer }) => layer.id === origin?.layer.id);
			const about = stack.guide.kinds[kind]!;
			const how = about.merge === 'file' ? 'the whole file' : `the whole ${about.title.toLowerCase()}`;
			const called = fieldOf(about, field)?.title ?? field;
			yield `${called} of ${displayName(stack, record)} is ${now || 'nothing'}, not ${value || 'nothing'} as “${option.title}” sets it${by ? `: “${by.option.title}” contains ${how} and is loaded later` : ''}.`;
		}
}

/** Records and files of chosen options that the game does not see, because another option has the same. */
function* overlaid(
	{ tables, guide }: Stack,
	layers: readonly OptionLayer[],
	chosen: Combination
): Generator<string> {
	const on = layers.filter(({ option }) => chosen.includes(option.id));
	const titles = new Map(on.map(({ layer, option }) => [layer.id, option.title]));
	for (const [nth, { option }] of on.entries())
		for (const { path } of option.files) {
			const later = on
				.slice(nth + 1)
				.find(({ option: other }) => other.files.some((one) => one.path === path));
			if (later && claimsOf(guide, path).length === 0)
				yield `${path} of “${option.title}” does not count: “${later.option.title}” has its own and is loaded later.`;
		}
	const kinds = on.flatMap(({ option }) =>
		option.files.flatMap(({ path }) => claimsOf(guide, path).map(({ kind }) => kind))
	);
	for (const kind of new Set(kinds)) {
		const table = tables.get(kind);
		if (!table || table.guide.merge === 'field') continue;
		for (const { id, presences } of table.records) {
			const [last, before] = presences
				.flatMap(({ layer, language }) => {
					const title = titles.get(layer.id);
					return title === undefined ? [] : [{ title, language }];
				})
				.reverse();
			if (last && before && last.title !== before.title && last.language === before.language)
				yield `${table.guide.title} ${id} of “${before.title}” does not count: “${last.title}” has its own and is loaded later.`;
		}
	}
}

/**
 * Looks at every combination in which each option and each pair occurs, one after the other.
 * @yields after each combination, so that others may go first
 */
export function* checkOptions(
	stack: Stack,
	layers: readonly OptionLayer[]
): Generator<Combination, { combinations: Combination[]; findings: OptionFinding[] }> {
	const combinations = combinationsOf(layers.map(({ option }) => option));
	const main = new Set(checkStack(stack).map(said));
	/** What is wrong with some options chosen, besides what is wrong without any. */
	const faultsOf = (chosen: Combination): Map<string, { snag: Snag | null; message: string }> => {
		const variant = withOptions(stack, layers, chosen);
		const faults = new Map<string, { snag: Snag | null; message: string }>();
		for (const snag of checkStack(variant))
			if (!main.has(said(snag)) && snag.severity !== 'note')
				faults.set(said(snag), { snag, message: snag.message });
		for (const look of [hidden, overlaid])
			for (const message of look(variant, layers, chosen)) faults.set(message, { snag: null, message });
		return faults;
	};
	const found = new Map<string, { snag: Snag | null; message: string; in: Combination[] }>();
	for (const chosen of combinations) {
		for (const [key, fault] of faultsOf(chosen)) {
			const known = found.get(key);
			if (known) known.in.push(chosen);
			else found.set(key, { ...fault, in: [chosen] });
		}
		yield chosen;
	}
	const findings: OptionFinding[] = [];
	for (const [key, { snag, message, in: seen }] of found) {
		// What all combinations with the fault have in common; of that, what it goes without is left out.
		let needs = seen.reduce<Combination>((all, one) => all.filter((id) => one.includes(id)), seen[0]!);
		if (needs.length > 2 && findings.length < NARROWED)
			for (const id of needs) {
				const fewer = needs.filter((one) => one !== id);
				if (faultsOf(fewer).has(key)) needs = fewer;
				yield fewer;
			}
		const always = combinations.every((one) => seen.includes(one) || !needs.every((id) => one.includes(id)));
		findings.push({ needs, always, seen: seen[0]!, snag, message, severity: snag?.severity ?? 'warns' });
	}
	return { combinations, findings };
}
