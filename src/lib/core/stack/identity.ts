// Who a mod is: from its own file where the game has such a file, else from what people said of it.
import * as z from 'zod';
import { findField, type Document } from '../formats';
import type { Layer } from './layer';
import { valueOf, type Stack } from './stack';

const line = z.string().trim().max(200);

/** What people say of their mod. */
export const identitySchema = z.object({
	/** The name of its folder. */
	name: line.min(1),
	title: line.min(1),
	version: line.default('0.1.0'),
	gameVersion: line.default(''),
	description: z.string().trim().max(5000).default(''),
	/** Names of mods that must be there, and of those that must be loaded before it where they are. */
	requires: z.array(line.min(1)).max(100).default([]),
	after: z.array(line.min(1)).max(100).default([]),
	/** Names of mods with which it does not work. */
	notWith: z.array(line.min(1)).max(100).default([])
});

export type Identity = z.infer<typeof identitySchema>;

/** The texts of an identity, in the order in which they are written. */
export const IDENTITY_TEXTS = ['name', 'title', 'version', 'gameVersion', 'description'] as const;
export const IDENTITY_LISTS = ['requires', 'after', 'notWith'] as const;

/** A mod's name is no name for a folder: nothing may be written under it. */
export class UnsafeName extends Error {}

/** Characters of a folder's name. */
const LONGEST_NAME = 100;

/**
 * A name as it may stand for a folder everywhere: letters, digits, spaces, `-`, `_` and `.`, not first or last.
 * @throws UnsafeName
 */
export function safeName(name: string): string {
	const whole = /^[\p{L}\p{N}_](?:[\p{L}\p{M}\p{N} ._-]*[\p{L}\p{M}\p{N}_-])?$/u;
	const reserved = /^(?:con|prn|aux|nul|com\d|lpt\d)$/i;
	if (whole.test(name) && !reserved.test(name) && name.length <= LONGEST_NAME) return name;
	throw new UnsafeName(
		`The name of the mod, “${name.slice(0, LONGEST_NAME)}”, cannot be the name of a folder. Use letters, digits, “-” and “_” only; nothing was written.`
	);
}

/** What a mod's own file says of it. */
export function identityIn(doc: Document | null | undefined): Partial<Identity> {
	const record = doc?.records[0];
	if (!record) return {};
	const found: Partial<Identity> = {};
	for (const field of IDENTITY_TEXTS) {
		const value = findField(record, field)?.value;
		if (value !== undefined && value !== null && value !== '') found[field] = String(value);
	}
	for (const list of IDENTITY_LISTS) {
		const items = record.fields.filter(
			({ path }) => /^\[\d+\]$/.test(path.slice(list.length)) && path.startsWith(list)
		);
		if (items.length > 0) found[list] = items.map(({ value }) => String(value ?? ''));
	}
	return found;
}

/** The document of the file in which a layer says who it is; null where it has none. */
const fileOf = ({ guide }: Stack, layer: Layer | null | undefined): Document | null =>
	(guide.identity && layer?.files.get(guide.identity)?.doc) || null;

/** What a layer says of itself in its own file; empty where it has none. */
export const layerIdentity = (stack: Stack, layer: Layer): Partial<Identity> =>
	identityIn(fileOf(stack, layer));

/** How a layer is called by others: by its own file, else by its title. */
export const layerName = (stack: Stack, layer: Layer): string =>
	identityIn(fileOf(stack, layer)).name ?? layer.title;

/**
 * Who my mod is.
 * @param said what people said of it; or only the name of its folder
 * @throws UnsafeName
 */
export function identityOf(stack: Stack, said: string | Partial<Identity>): Identity {
	const told: Partial<Identity> =
		typeof said === 'string' ? { name: said.toLowerCase().replace(/[^a-z0-9_-]+/g, '-'), title: said } : said;
	const own = identityIn(fileOf(stack, stack.mine));
	const whole = {
		version: '0.1.0',
		gameVersion: gameVersionOf(stack) ?? '',
		description: '',
		requires: [],
		after: [],
		notWith: [],
		...told,
		...own
	};
	const name = whole.name ?? 'my-mod';
	return { ...whole, name: safeName(name), title: whole.title ?? name };
}

/** An identity as a file: what is empty is left out. */
export const identityText = (identity: Identity): string => {
	const filled = [...IDENTITY_TEXTS, ...IDENTITY_LISTS].filter((field) => identity[field].length > 0);
	return `${JSON.stringify(Object.fromEntries(filled.map((field) => [field, identity[field]])), null, '\t')}\n`;
};

/** The version of the game that the base says it is, where the guide knows the place. */
export function gameVersionOf(stack: Stack): string | null {
	const place = stack.guide.game?.version;
	if (!place) return null;
	for (const table of stack.tables.values()) {
		const at = table.files.findIndex(({ file }) => file.path === place.file);
		const row = at < 0 ? -1 : table.rows.rowsOf[at]![0];
		if (row !== undefined && row >= 0) return valueOf(table.record(row), place.field) ?? null;
	}
	return null;
}
