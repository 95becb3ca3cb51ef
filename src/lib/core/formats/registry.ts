import type { Document, Format, ReadHints } from './document';
import { csv, tsv } from './delimited';
import { ini } from './ini';
import { json } from './json';
import { properties } from './properties';
import { xml } from './xml';

/** Every format, in one place. */
export const FORMATS: readonly Format[] = [tsv, csv, ini, xml, properties, json];

/** The format of a path by its ending, or null where it is none that is read as data. */
export function formatFor(path: string): Format | null {
	const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
	return FORMATS.find((format) => format.endings.includes(ending)) ?? null;
}

/** Reads a text by the ending of its path; null where the ending is not known. */
export function readDocument(path: string, text: string, hints: ReadHints = {}): Document | null {
	return formatFor(path)?.read(text, hints) ?? null;
}
