// References of my mod to records that have another id in the new version, or none.
import { fieldOf, mentionsIn, withMention } from '../guide';
import { valueOf, type EffectiveRecord } from '../stack';
import type { Deciding } from './deciding';

/**
 * Hears of a reference to a record that the new version does not have; gives the id that is chosen in its place, or null.
 * @param likely the record that it is now, where the reference was only detected: a guess never writes
 */
export type Missing = (
	field: string,
	value: string,
	id: string,
	kinds: readonly string[],
	likely?: { kind: string; id: string }
) => string | null;

/** Values with each reference to a record that has another id naming that. */
export function followed(
	{ before, below, after, moves }: Deciding,
	kind: string,
	record: EffectiveRecord,
	values: ReadonlyMap<string, string>,
	gone: Missing
): Map<string, string> {
	const about = before.guide.kinds[kind];
	return new Map(
		[...values].map(([path, value]): [string, string] => {
			const reference = fieldOf(about, path)?.reference;
			// The field by which a record is named may be another one than its id.
			if (!reference || reference.key !== undefined || reference.names) return [path, value];
			const decided = reference.by ? valueOf(record, reference.by.field) : undefined;
			let next = value;
			for (const mention of mentionsIn(reference, value, decided).reverse()) {
				const kinds = mention.kind === undefined ? reference.kinds : [mention.kind];
				const target = kinds.find((one) => before.tables.get(one)?.byId.has(mention.id));
				if (target === undefined || kinds.some((one) => after.tables.get(one)?.byId.has(mention.id)))
					continue;
				const now = moves.record(target, mention.id);
				const isKnown = now !== undefined && kinds.includes(now.kind);
				if (isKnown && !reference.found) next = withMention(reference, next, mention, now.id);
				else if (isKnown) {
					const other = gone(path, value, mention.id, kinds, now);
					if (other !== null) next = withMention(reference, next, mention, other);
				} else if (below.tables.get(target)?.byId.has(mention.id)) {
					const other = gone(path, value, mention.id, kinds);
					if (other !== null) next = withMention(reference, next, mention, other);
				}
			}
			return [path, next];
		})
	);
}
