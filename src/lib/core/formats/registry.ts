import { block } from './block';
import { csv, tsv } from './delimited';
import type { Content } from '../change';
import type { Document, Format, FormatId, PartHints, ReadHints, TextDocument, TextFormat } from './document';
import { html } from './html';
import { groups } from './groups';
import { indented } from './indented';
import { ini } from './ini';
import { json, jsonLines } from './json';
import { given, json5 } from './json5';
import { lua } from './lua';
import { namedTogether, readParts } from './parts';
import { outline } from './outline';
import { packed } from './packed';
import { parens } from './parens';
import { po } from './po';
import { positional } from './positional';
import { properties } from './properties';
import { sections } from './sections';
import { stanzas } from './stanzas';
import { tagged } from './tagged';
import { textLines } from './text-lines';
import { toml } from './toml';
import { xml } from './xml';
import { yaml } from './yaml';

/** Every format of texts, in one place. */
export const TEXT_FORMATS: readonly TextFormat[] = [
	tsv,
	csv,
	ini,
	xml,
	html,
	properties,
	po,
	json,
	jsonLines,
	json5,
	given,
	yaml,
	toml,
	lua,
	block,
	positional,
	textLines,
	stanzas,
	sections,
	tagged,
	indented,
	outline,
	parens,
	groups
];

/** Every format. */
export const FORMATS: readonly Format[] = [...TEXT_FORMATS, packed];

/** All formats by their short names. */
export const FORMAT_IDS: readonly string[] = FORMATS.map(({ id }) => id);

/** The format of a short name; undefined for none that is known. */
export const formatOf = (id: FormatId): Format | undefined => FORMATS.find((format) => format.id === id);

/** The format of a path: what the guide says, else by its ending; null where it is none that is read as data. */
export function formatFor(path: string, hints: ReadHints = {}): Format | null {
	const said = hints.format ?? hints.layout?.shape;
	if (said !== undefined) return formatOf(said) ?? null;
	const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
	return FORMATS.find((format) => format.endings.includes(ending)) ?? null;
}

/** What of hints is said of a part of a file, and what of the whole. */
function parted(hints: PartHints & ReadHints): [PartHints, ReadHints] {
	const { parts: _, others: _others, whole: _whole, ...said } = hints;
	const { at, leaves, except, element, key, keyParts, spare, id, prefix, where, ...common } = said;
	const part = { at, leaves, except, element, key, keyParts, spare, id, prefix, where };
	return [Object.fromEntries(Object.entries(part).filter(([, value]) => value !== undefined)), common];
}

const isWithin = (path: string, outer: string): boolean =>
	path === outer || outer === '' || path.startsWith(`${outer}.`) || path.startsWith(`${outer}[`);

/** The parts that a document has besides those that are spoken of; none where these may be anywhere. */
function unclaimed(format: Format, doc: Document, claimed: readonly PartHints[]): PartHints[] {
	const isAnywhere = ({ at, element, except }: PartHints) => element === undefined && !except && !at;
	if (claimed.some(isAnywhere)) return [];
	const places = claimed.flatMap(({ at, element }) => (element === undefined && at ? [at] : []));
	const beside = claimed.flatMap(({ except = [] }) => except);
	const words = new Set(claimed.map(({ element }) => element));
	return format.partsIn!(doc, [...places, ...beside]).flatMap((part): PartHints[] => {
		if (part.element !== undefined) return words.has(part.element) ? [] : [part];
		if (part.except) return beside.length > 0 ? [] : [part];
		return places.some((place) => isWithin(part.at!, place) || isWithin(place, part.at!)) ? [] : [part];
	});
}

/**
 * Reads a text, or bytes, by what the guide says of it or by the ending of its path; null where neither tells a format,
 * or where that is one of the other sort.
 */
export function readDocument(path: string, content: string, hints?: ReadHints): TextDocument | null;
export function readDocument(path: string, content: Content, hints?: ReadHints): Document | null;
export function readDocument(path: string, content: Content, hints: ReadHints = {}): Document | null {
	const format = formatFor(path, hints);
	const sort = typeof content === 'string' ? 'text' : 'bytes';
	if (format?.of !== sort) return null;
	const claimed = hints.parts ?? [hints];
	// Read once: as it shows itself, and again by what is said of it.
	const asIs =
		hints.others && format.partsIn && format.again ? format.read(content, parted(hints)[1]) : undefined;
	const others = asIs ? unclaimed(format, asIs, claimed) : [];
	if (others.length > 0) {
		const parts = [...claimed.map((part) => parted(part)[0]), ...others];
		return readParts(format, content, { ...parted(hints)[1], parts }, asIs);
	}
	if (hints.parts) return readParts(format, content, hints, asIs);
	const read = asIs && format.again ? format.again(asIs, hints) : format.read(content, hints);
	const doc = hints.keyParts ? namedTogether(read, hints.keyParts) : read;
	const told = hints.whole || hints.at !== undefined || hints.element !== undefined;
	if (told || !format.partsIn) return doc;
	const parts = format.partsIn(doc);
	// What is under one word says by that word what it is.
	return parts.length === 0 || (parts.length === 1 && parts[0]!.element === undefined)
		? doc
		: readParts(format, content, { ...hints, parts }, doc);
}
