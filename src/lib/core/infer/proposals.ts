// Every way in which a text can be read as records, with how much of it each explains: for people to choose from.
import {
	blockLayout,
	groupsLayout,
	linesLayout,
	linesOf,
	positionalLayout,
	taggedLayout,
	tellFormats,
	TEXT_FORMATS,
	formatOf,
	guessPacked,
	isPacked,
	ownersIn,
	packedLayout,
	readDocument,
	type Document,
	type ReadHints,
	type RecordPlace,
	type TextDocument,
	type TextFormat
} from '../formats';
import { patternOf } from '../guide';

/** How a text is to be read. */
export type ReadHow = Pick<
	ReadHints,
	'format' | 'layout' | 'separator' | 'header' | 'quote' | 'comment' | 'at' | 'key'
>;

/** One way to read a file, and what comes of it. */
export interface Proposal {
	how: ReadHow;
	/** Share of the lines that say something, or of the bytes, that are read without a fault, from 0 to 1. */
	explained: number;
	/** What speaks for it, in sentences. */
	because?: string[];
	records: number;
	/** Names of fields, those of list items once. */
	fields: string[];
}

/** Fields that are counted. */
const MOST_FIELDS = 200;
/** Proposals that are worth a look. */
const MOST = 8;
/** Records whose fields are looked at. */
const SOME = 300;

const formatNamed = (id: string): TextFormat => TEXT_FORMATS.find((format) => format.id === id)!;

/** Commentary behind the values of a line. */
const withoutRemark = (line: string) => line.replace(/\s+(?:#|;|\/\/|--).*$/, '').trim();

/** Lines of as many values each; a first line that counts the others is the head. Null where the lines are not alike. */
function byPosition(all: readonly string[]): ReadHow | null {
	const widths = all.map((line) => withoutRemark(line).split(/\s+/).length);
	const counts = new Map<number, number>();
	for (const width of widths) counts.set(width, (counts.get(width) ?? 0) + 1);
	const [most] = [...counts].sort((a, b) => b[1] - a[1]);
	if (!most || most[0] < 2 || most[1] < (all.length - 1) * 0.8) return null;
	const counter = widths[0] === 1 && Number(withoutRemark(all[0]!)) === all.length - 1;
	const record = [Array.from({ length: most[0] }, (_, nth) => `value_${nth + 1}`)];
	const layout = positionalLayout.parse({
		shape: 'positional',
		record,
		...(counter ? { head: [['count']], count: 'count' } : {})
	});
	return { format: 'positional', layout };
}

/** Formats of texts that are in brackets from end to end, the strictest first. */
const ENCLOSED: readonly string[] = ['json', 'jsonl', 'xml', 'json5'];

/** What a text must have to be worth trying in a format that takes nearly anything. */
const NEEDS: Record<string, RegExp> = {
	yaml: /^\s*(?:- |[^\s#:]+:(?:\s|$))/m,
	toml: /=/,
	lua: /\{/,
	ini: /=/,
	sections: /^\s*\[/m,
	stanzas: /^\w[\w-]*:/m,
	indented: /^[ \t]+\S/m,
	properties: /[=:]/,
	po: /^msgid/m
};

/** Ways that are tried besides those that the text suggests. */
function* candidates(text: string, first: readonly ReadHow[]): Generator<ReadHow> {
	yield* first;
	for (const { format, layout } of tellFormats(text)) yield { format, ...(layout ? { layout } : {}) };
	const { all } = linesOf(text);
	for (const id of ['json', 'xml', ...Object.keys(NEEDS)])
		if (NEEDS[id]?.test(text) ?? true) yield { format: id };
	for (const separator of [',', ';', '\t', '|'])
		if (all[0]?.includes(separator)) yield { format: 'csv', separator };
	const tag = /^([\p{L}_+-]{1,6})[:=]/u.exec(all[0] ?? '');
	if (tag)
		yield {
			format: 'tagged',
			layout: taggedLayout.parse({ shape: 'tagged', first: tag[1]!, separator: tag[0].slice(tag[1]!.length) })
		};
	if (/[{}]/.test(text))
		for (const assign of ['=', '', ':'])
			yield { format: 'block', layout: blockLayout.parse({ shape: 'block', assign }) };
	const positions = byPosition(all);
	if (positions) yield positions;
	if (all.length > 3 && all.length % 2 === 0)
		yield { format: 'groups', layout: groupsLayout.parse({ shape: 'groups' }) };
	yield { format: 'lines', layout: linesLayout.parse({ shape: 'lines' }) };
}

/** Reads a text in one way. */
export function readIn(text: string, how: ReadHow): TextDocument {
	const id = how.format ?? how.layout?.shape ?? 'lines';
	return formatNamed(id).read(text, how);
}

/** Where the records of a document may stand; none where that is not open. */
export const placesIn = (doc: Document): RecordPlace[] => formatOf(doc.format)?.placesIn?.(doc) ?? [];

/** The fields that records have, by pattern, with how many of the first records have each. */
export function fieldsIn({ records }: Document): Map<string, number> {
	const fields = new Map<string, number>();
	for (const record of records.slice(0, SOME))
		for (const pattern of new Set(record.fields.map(({ path }) => patternOf(path))))
			if (fields.has(pattern) || fields.size < MOST_FIELDS)
				fields.set(pattern, (fields.get(pattern) ?? 0) + 1);
	return fields;
}

/** How much of a text a reading explains, from 0 to 1. */
export function explainedBy({ problems }: TextDocument, lines: number): number {
	const wrong = new Set(problems.map(({ line }) => line)).size;
	return lines === 0 ? 0 : Math.max(0, 1 - wrong / lines);
}

/**
 * The ways in which a text can be read, the best first: what explains more of it, and of those that explain as much, what
 * the text itself suggests. A plain list of lines is always one of them.
 * @param first ways that come before all others
 */
export function proposalsFor(text: string, first: readonly ReadHow[] = []): Proposal[] {
	const { all } = linesOf(text);
	const seen = new Set<string>();
	const found: Proposal[] = [];
	for (const how of candidates(text, first)) {
		const name = JSON.stringify(how);
		if (seen.has(name)) continue;
		seen.add(name);
		const doc = readIn(text, how);
		if (doc.records.length === 0) continue;
		const fields = [...fieldsIn(doc).keys()];
		if (fields.length === 0) continue;
		found.push({ how, explained: explainedBy(doc, all.length), records: doc.records.length, fields });
	}
	const plain = found.filter(({ how }) => how.format === 'lines');
	const others = found
		.filter(({ how, explained }) => how.format !== 'lines' && explained >= 0.8)
		// One record with everything in it says little of where records stand, and one field little of what they hold.
		.sort(
			(a, b) =>
				b.explained - a.explained ||
				Number(a.records === 1) - Number(b.records === 1) ||
				Number(a.fields.length === 1) - Number(b.fields.length === 1)
		);
	const given = found.filter(({ how }) => first.includes(how));
	// What is in brackets from end to end, and reads so, is nothing else.
	const whole = found.find(({ how, explained }) => explained === 1 && ENCLOSED.includes(how.format ?? ''));
	if (whole) return [given.find(({ how }) => how.format === whole.how.format) ?? whole, ...plain];
	const news = others.filter((one) => !given.some((own) => own === one || givesTheSame(own, one)));
	return [...given, ...news.slice(0, MOST - 1), ...plain];
}

/** Whether two ways are one format, and as many records with the same fields come of both. */
const givesTheSame = (a: Proposal, b: Proposal): boolean =>
	a.how.format === b.how.format &&
	JSON.stringify(a.how.layout) === JSON.stringify(b.how.layout) &&
	a.how.separator === b.how.separator &&
	a.records === b.records &&
	a.fields.join('\n') === b.fields.join('\n');

/** Bytes that are looked at to tell how much of a file a layout explains. */
const SOME_BYTES = 65_536;

/** A file of bytes read in one way. */
export function readBytesIn(bytes: Uint8Array, how: ReadHow): Document {
	const table = how.layout?.shape === 'packed' ? how.layout.tables[0]!.name : null;
	return readDocument('', bytes, { ...how, format: 'packed', at: how.at ?? table })!;
}

/** How much of a file of bytes a layout explains, from 0 to 1. */
export function explainedBytes(doc: Document): number {
	if (!isPacked(doc) || doc.problems.length > 0) return 0;
	const size = Math.min(doc.packed.bytes.length, SOME_BYTES);
	const known = ownersIn(doc.packed, 0, size).reduce(
		(sum, { of, from, to }) => sum + (of === 'nothing' ? 0 : to - from),
		0
	);
	return size === 0 ? 0 : known / size;
}

/** Rows of sixteen bytes: a file of which nothing is known. */
const PLAIN_ROWS = packedLayout.parse({
	shape: 'packed',
	tables: [{ name: 'rows', fields: [{ name: 'bytes', as: 'bytes', length: 16 }] }]
});

/** The layouts that a file of bytes may have, the likeliest first; plain rows are always one of them. */
export function proposalsForBytes(bytes: Uint8Array, first: readonly ReadHow[] = []): Proposal[] {
	const proposal = (how: ReadHow, because: string[]): Proposal => {
		const doc = readBytesIn(bytes, how);
		return {
			how,
			because,
			explained: explainedBytes(doc),
			records: doc.records.length,
			fields: [...fieldsIn(doc).keys()]
		};
	};
	const guesses = guessPacked(bytes).map(({ layout, because }) =>
		proposal({ format: 'packed', layout }, because)
	);
	return [
		...first.map((how) => proposal(how, [])),
		...guesses,
		proposal({ format: 'packed', layout: PLAIN_ROWS }, ['A start for a layout of your own.'])
	];
}
