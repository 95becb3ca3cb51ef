// The game tells the record's line in its log; a snag points at the field's own.
import type { Snag } from '$core/checks';
import type { Stack } from '$core/stack';

/** The line of the record that a snag is about, in the file that it names. */
export function recordLine(stack: Stack, { kind, record, field, layer, file, line }: Snag): number {
	if (kind === null || record === null || field === null) return line;
	const presence = stack.tables
		.get(kind)
		?.byId.get(record)
		?.presences.find((one) => one.layer.id === layer && one.path === file);
	return presence?.line ?? line;
}
