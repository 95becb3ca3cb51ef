// Values that several records have from one place in a file (an anchor and its aliases, an address): who changes it there
// changes all.
import { partOf, sharedTexts, type Document, type RecordNode } from '../formats';
import { claimsOf } from '../guide';
import { fileAt } from './belongings';
import type { Work } from './work';

/** Values of each record: of those fields, or of all; what stands for a whole list or map says all that this holds. */
function valuesIn(doc: Document, fields?: readonly string[]): Map<string, Map<string, string>> {
	const stands = sharedTexts(doc);
	const values = (record: RecordNode): [string, string][] =>
		fields
			? fields.map((path) => [path, String(record.valueAt?.(path) ?? '')])
			: record.fields.map(({ path, value, from }) => [path, stands?.get(from) ?? String(value ?? '')]);
	return new Map(doc.records.map((record) => [record.id, new Map(values(record))]));
}

/** Notes for the plan every value of other records that changed because it stands for one that was changed. */
export function noteShared(work: Work, paths: readonly string[]): void {
	const { draft, stack } = work;
	for (const path of paths) {
		const now = draft.doc(path);
		if (!now) continue;
		const { shared } = draft.format(path);
		if (!shared && !sharedTexts(now)) continue;
		// Of most files the older state need not be opened for this.
		const then = fileAt(stack, path)?.doc;
		if (!then) continue;
		for (const { kind, spec } of claimsOf(stack.guide, path)) {
			const [before, after] = [partOf(then, spec), partOf(now, spec)];
			const fields = shared?.fields(after);
			if (fields) notePart(work, kind, [valuesIn(before, fields), valuesIn(after, fields)], POINTS);
			else if (notePart(work, kind, [valuesIn(before), valuesIn(after)], ANCHORED))
				work.say(`${path} keeps this value once for several records; all of them change.`);
		}
	}
}

const POINTS = 'points at the same value';
const ANCHORED = 'shares this value: it is written once in the file, under an anchor';

type Values = ReadonlyMap<string, ReadonlyMap<string, string>>;

/** The same for the records of one kind; whether there were any. */
function notePart(work: Work, kind: string, [old, now]: readonly [Values, Values], follows: string): boolean {
	const named = new Set(work.values.map((one) => JSON.stringify([one.kind, one.id, one.field])));
	let any = false;
	for (const [id, fields] of now)
		for (const [field, value] of fields) {
			const was = old.get(id)?.get(field);
			if (was === undefined || was === value || named.has(JSON.stringify([kind, id, field]))) continue;
			work.values.push({ kind, id, name: id, field, before: was, after: value, follows });
			any = true;
		}
	return any;
}
