// What is understood of a game and what is not, in a few lines, and what people should look at first: where being wrong
// would matter the most.
import { counted, either } from '../wording';
import { isFromPath, type FieldGuide, type KindGuide } from '../guide';
import type { Links } from '../links';
import { isEditable, type Stack } from '../stack';

/** A line of what is understood: a number, what it is of, and whether people should know that something is open. */
export interface UnderstoodLine {
	count: number;
	what: string;
	open: boolean;
}

/** Something found that much depends on. */
export interface ToConfirm {
	kind: string;
	/** Of the kind. */
	title: string;
	field: string;
	/** What was found, in words; null where it is its type. */
	says: string | null;
	type: string;
	sure: number;
	/** Values that would be misread if it were wrong. */
	hangs: number;
}

export interface Understood {
	lines: UnderstoodLine[];
	/** The weightiest first. */
	first: ToConfirm[];
}

/** Sureness below which something is open. */
const SURE = 0.9;
/** How many are proposed to be looked at first. */
const FIRST = 5;

const sureOf = ({ reference, found }: FieldGuide): number =>
	Math.min(reference?.found?.sure ?? 1, found?.sure ?? 1);

function saysOf({ reference, derive }: FieldGuide): string | null {
	if (!reference) return derive ? `is made as ${derive}` : null;
	const { kinds } = reference;
	return `names ${kinds.slice(0, 3).join(' or ')}${kinds.length > 3 ? ' …' : ''}`;
}

/** How many values hang on what is said of a field: what it names, where it is a reference; else none. */
function hangsOf(links: Links): (kind: string, path: string) => number {
	const counts = new Map<string, number>();
	for (const { table, field, values, text } of links.strands)
		if (!text) counts.set(`${table.kind}\n${field}`, values.filter((value) => value >= 0).length);
	return (kind, path) => counts.get(`${kind}\n${path}`) ?? 0;
}

/** How many kinds have records that are known only by their places: no field holds an id, and no name does. */
const withoutIds = (kinds: readonly (readonly [string, KindGuide])[], tables: Stack['tables']): number =>
	kinds.filter(
		([kind, { key, keyParts = [], id }]) =>
			key === undefined &&
			keyParts.length === 0 &&
			!id &&
			!tables.get(kind)!.files.some(({ facts }) => facts.written[0] === 1)
	).length;

/** What is understood of the game below my mod, and what to look at first. */
export function understoodOf({ guide, layers, tables }: Stack, links: Links): Understood {
	const below = layers.filter((layer) => !isEditable(layer));
	const kinds = Object.entries(guide.kinds).filter(([kind]) => (tables.get(kind)?.count ?? 0) > 0);
	let [read, faulty, told, other] = [0, 0, 0, 0];
	for (const { files, paths } of below) {
		for (const { facts } of files.values()) {
			if (!facts || facts.format === null) continue;
			read++;
			if (facts.problems.length > 0) faulty++;
			if (facts.told) told++;
		}
		other += (paths?.size ?? files.size) - [...files.values()].filter(({ facts }) => facts?.format).length;
	}
	const fields = kinds.flatMap(([kind, { fields: all }]) =>
		Object.entries(all).map(([path, field]) => ({ kind, path, field, sure: sureOf(field) }))
	);
	const references = fields.filter(({ field }) => field.reference);
	const unsure = fields.filter(({ sure }) => sure < SURE);
	const byPlace = withoutIds(kinds, tables);
	const supposed = kinds.filter(([, { inferred, merge, adds }]) => inferred && merge === 'file' && !adds);
	const line = (count: number, one: string, several: string, open = false): UnderstoodLine[] =>
		count === 0 ? [] : [{ count, what: either(count, one, several), open }];
	const records = kinds.reduce((sum, [kind]) => sum + tables.get(kind)!.count, 0);
	const hangs = hangsOf(links);
	return {
		lines: [
			...line(read, 'file is read as data', 'files are read as data'),
			...line(
				told,
				'of them is in a format detected from its content',
				'of them are in formats detected from their content',
				true
			),
			...line(faulty, 'of them could not be read completely', 'of them could not be read completely', true),
			...line(
				other,
				'other file is listed by name only, or is plain text',
				'other files are listed by name only, or are plain text'
			),
			...line(records, `record of ${kinds.length} kinds`, `records of ${counted(kinds.length, 'kind')}`),
			...line(kinds.length - byPlace, 'kind has ids', 'kinds have ids'),
			...line(
				byPlace,
				'kind has no ids: its records go by position',
				'kinds have no ids: their records go by position',
				true
			),
			...line(references.length, 'field refers to records', 'fields refer to records'),
			...line(
				kinds.filter(([, { inherits }]) => inherits).length,
				'kind has records that inherit from others',
				'kinds have records that inherit from others'
			),
			...line(unsure.length, 'field is unsure', 'fields are unsure', true),
			...line(
				supposed.length,
				'kind: it is not known whether a mod’s file adds to the game’s or replaces it',
				'kinds: it is not known whether a mod’s file adds to the game’s or replaces it',
				true
			)
		],
		first: unsure
			.filter(({ path, field }) => field.found && !isFromPath(path))
			.map(({ kind, path, field, sure }): ToConfirm => ({
				kind,
				title: guide.kinds[kind]!.plural ?? guide.kinds[kind]!.title,
				field: path,
				says: saysOf(field),
				type: field.type ?? 'text',
				sure,
				hangs: hangs(kind, path)
			}))
			.sort((a, b) => (1 - b.sure) * b.hangs - (1 - a.sure) * a.hangs || a.sure - b.sure)
			.slice(0, FIRST)
	};
}
