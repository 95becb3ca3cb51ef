// How what several layers say of one thing comes together: a function of the rule that the game follows.
import type { FactField } from '../facts';
import type { KindGuide } from '../guide';
import type { EffectiveValue, Presence } from './record';
import type { Layer } from './layer';
import { isOn } from './layer';
import type { TableFile } from './table';

/**
 * What of a later layer stands in for what of those below it: the whole file of a path, the whole record of an id, or
 * each field, of which lists may be joined.
 */
export type MergeRule = KindGuide['merge'];

/** Files of a kind that count, and those that the file of a later layer stands in for. */
export interface Counting {
	counting: TableFile[];
	hidden: TableFile[];
}

const NONE: TableFile[] = [];

const FILES: Record<MergeRule, (lists: readonly TableFile[][], layers: readonly Layer[]) => Counting> = {
	record: (lists) => ({ counting: lists.flat(), hidden: NONE }),
	field: (lists) => ({ counting: lists.flat(), hidden: NONE }),
	file(lists, layers) {
		const [counting, hidden]: [TableFile[], TableFile[]] = [[], []];
		lists.forEach((list, nth) => {
			const over = layers.slice(nth + 1).filter((layer) => isOn(layer) && layer.files.size > 0);
			for (const file of list)
				(over.some(({ files }) => files.has(file.file.path)) ? hidden : counting).push(file);
		});
		return { counting, hidden };
	}
};

/** Which files of a kind count. @param lists the files of each layer, in load order */
export const filesThatCount = (
	rule: MergeRule,
	lists: readonly TableFile[][],
	layers: readonly Layer[]
): Counting => FILES[rule](lists, layers);

/** The field a value is kept under: the language for texts, else the field's own path. */
const slotOf = (presence: Presence, path: string) => presence.language ?? path;

type Values = Map<string, EffectiveValue>;

/** A later version of a record over what is below: each of its values, also each item of a list, with its origin. */
function over(below: Values, presence: Presence): Values {
	// Of texts, each file says one language.
	const values = presence.language ? below : new Map<string, EffectiveValue>();
	const said: readonly (FactField & Partial<Presence['cells'][number]>)[] = presence.file.patched
		? presence.cells
		: presence.fields;
	for (const field of said) {
		const slot = slotOf(presence, field.path);
		values.set(slot, valueOver(below.get(slot), field, presence));
	}
	return values;
}

/** A value of a later version over that below it, with its origin. */
function valueOver(
	under: EffectiveValue | undefined,
	field: FactField & Partial<Presence['cells'][number]>,
	presence: Presence
): EffectiveValue {
	const remark = field.remark ?? under?.remark;
	const { was } = field;
	const origin = field.origin?.presence ?? presence;
	const beneath = under && under.presence.layer !== origin.layer ? under : undefined;
	return {
		value: field.value,
		presence: origin,
		overrode: beneath
			? [{ layer: beneath.presence.layer, value: beneath.value }, ...beneath.overrode]
			: was
				? [was]
				: [],
		...(remark ? { remark } : {})
	};
}

/** Cells of records that were made whole, each with where it was said; the later ones over those below. */
function composed(presences: readonly Presence[]): Values {
	let below: Values = new Map();
	/** What the values below are, by where they were said. */
	let known = new Map<string, EffectiveValue>();
	for (const presence of presences) {
		const [values, said]: [Values, typeof known] = [new Map(), new Map()];
		for (const { path, value, remark, origin } of presence.cells) {
			const home = `${origin.presence.layer.id}|${origin.presence.path}|${origin.presence.nth}|${origin.path}`;
			const same = known.get(home);
			const under = below.get(path);
			const heard = remark ?? under?.remark;
			const one: EffectiveValue = {
				value,
				presence: origin.presence,
				// Of joined lists, what has the same number below need not be the same item.
				overrode:
					same?.overrode ??
					(under && origin.path === path
						? [{ layer: under.presence.layer, value: under.value }, ...under.overrode]
						: []),
				...(heard ? { remark: heard } : {})
			};
			values.set(path, one);
			said.set(home, one);
		}
		[below, known] = [values, said];
	}
	return below;
}

const VALUES: Record<MergeRule, (presences: readonly Presence[]) => Values> = {
	// Of the files that count, no two of one path have a record: as where whole records stand in for each other.
	file: (presences) => presences.reduce<Values>(over, new Map()),
	record: (presences) => presences.reduce<Values>(over, new Map()),
	field: composed
};

/** Whether each version of a record stands in for those below it, as it is written. */
export const isPlain = (rule: MergeRule, presences: readonly Presence[]): boolean =>
	rule !== 'field' && !presences.some(({ language, file }) => language !== undefined || file.patched);

/** One of the values of a record whose versions are plain; the same as is found among all of them. */
export function saidBy(presences: readonly Presence[], path: string): EffectiveValue | undefined {
	let under: EffectiveValue | undefined;
	for (const presence of presences) {
		const field = presence.field(path);
		under = field && valueOver(under, field, presence);
	}
	return under;
}

/** The values of a record from all that count, in load order: of each its origin, and what it overrode. */
export const valuesThatCount = (rule: MergeRule, presences: readonly Presence[]): Values =>
	VALUES[rule](presences);
