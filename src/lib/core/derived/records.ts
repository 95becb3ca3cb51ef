import { readDocument, type FieldNode } from '../formats';
import { claimAt, encodingFor, hintsFor, type Guide } from '../guide';
import { decode } from '../text';

/** A record as its file has it. */
export interface WrittenRecord {
	kind: string;
	id: string;
	/** From 1. */
	line: number;
	/** Values by their paths; numbers as they are written. */
	fields: Record<string, string>;
}

function writtenIn(text: string, { value, from, to }: FieldNode): string {
	if (typeof value === 'string') return value;
	const written = text.slice(from, to);
	return typeof value === 'number' && Number(written) === value ? written : String(value ?? '');
}

/** The records in the bytes of a file, of the kinds that the guide knows there; none where it is not read as data. */
export function recordsIn(guide: Guide, path: string, bytes: Uint8Array): WrittenRecord[] {
	const { text } = decode(bytes, encodingFor(guide, path));
	const doc = readDocument(path, text, hintsFor(guide, path));
	let first = 0;
	const parts = doc?.parts?.map(({ spec, doc: { records } }) => {
		const part = { spec, first };
		first += records.length;
		return part;
	});
	return (doc?.records ?? []).flatMap((record, nth) => {
		const claim = claimAt(guide, path, parts, nth);
		const fields = () => record.fields.map((field): [string, string] => [field.path, writtenIn(text, field)]);
		return claim
			? [{ kind: claim.kind, id: record.id, line: record.line, fields: Object.fromEntries(fields()) }]
			: [];
	});
}
