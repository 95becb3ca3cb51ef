// What was foretold held against what the game said: snags that block against lines of its log that refuse something.
import type { Snag } from './snag';

/** A snag that blocked when a trial began. */
export type Foretold = Pick<
	Snag,
	'id' | 'rule' | 'layer' | 'file' | 'line' | 'kind' | 'record' | 'field' | 'message'
>;

/** What a refusing line of a log speaks of, as far as it can be read. */
export interface Refused {
	kind: string | null;
	record: string | null;
	layer: string | null;
	path: string | null;
	line: number | null;
}

export interface Held {
	/** Of each line the snag that foretold it; null where none did. */
	by: (Foretold | null)[];
	/** Snags of which the log has nothing: the game took what was said to block. */
	unseen: Foretold[];
}

/** The snags that block, as they are kept with a trial. */
export const foretoldBy = (snags: readonly Snag[], most: number): Foretold[] =>
	snags
		.filter(({ severity }) => severity === 'blocks')
		.slice(0, most)
		.map(({ id, rule, layer, file, line, kind, record, field, message }) => ({
			id,
			rule,
			layer,
			file,
			line,
			kind,
			record,
			field,
			message
		}));

const isOf = (snag: Foretold, { kind, record, layer, path, line }: Refused): boolean =>
	(record !== null && snag.record === record && (kind === null || snag.kind === kind)) ||
	(path !== null &&
		snag.file === path &&
		snag.layer === layer &&
		(snag.line === line || snag.record === null));

/**
 * Holds lines that refuse something against the snags that blocked: by the record that both speak of, else by the place.
 * One snag may foretell several lines, and a line may be foretold by several; the first is named.
 */
export function heldAgainst(lines: readonly Refused[], foretold: readonly Foretold[]): Held {
	const seen = new Set<Foretold>();
	const by = lines.map((line) => {
		const own = foretold.filter((snag) => isOf(snag, line));
		for (const snag of own) seen.add(snag);
		return own[0] ?? null;
	});
	return { by, unseen: foretold.filter((snag) => !seen.has(snag)) };
}
