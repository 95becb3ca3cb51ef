import { block } from './block';
import { csv, tsv } from './delimited';
import type { Document, Format, ReadHints } from './document';
import { html } from './html';
import { ini } from './ini';
import { json } from './json';
import { lua } from './lua';
import { po } from './po';
import { positional } from './positional';
import { properties } from './properties';
import { textLines } from './text-lines';
import { toml } from './toml';
import { xml } from './xml';
import { yaml } from './yaml';

/** Every format, in one place. */
export const FORMATS: readonly Format[] = [
	tsv,
	csv,
	ini,
	xml,
	html,
	properties,
	po,
	json,
	yaml,
	toml,
	lua,
	block,
	positional,
	textLines
];

/** The format of a path: what the guide says, else by its ending; null where it is none that is read as data. */
export function formatFor(path: string, hints: ReadHints = {}): Format | null {
	const said = hints.format ?? hints.layout?.shape;
	if (said !== undefined) return FORMATS.find((format) => format.id === said) ?? null;
	const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
	return FORMATS.find((format) => format.endings.includes(ending)) ?? null;
}

/** Reads a text by what the guide says of it or by the ending of its path; null where neither tells a format. */
export function readDocument(path: string, text: string, hints: ReadHints = {}): Document | null {
	return formatFor(path, hints)?.read(text, hints) ?? null;
}
