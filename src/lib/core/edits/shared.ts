// Values that several records have from one place in a file (an anchor and its aliases): who changes one changes all.
import { partOf, sharedTexts, type Document } from '../formats';
import { claimsOf } from '../guide';
import { fileAt } from './belongings';
import type { Work } from './work';

/** The values of each record; what stands for a whole list or map says all that this holds. */
function valuesIn(doc: Document): Map<string, Map<string, string>> {
	const stands = sharedTexts(doc);
	return new Map(
		doc.records.map((record) => [
			record.id,
			new Map(record.fields.map(({ path, value, from }) => [path, stands?.get(from) ?? String(value ?? '')]))
		])
	);
}

/** Notes for the plan every value of other records that changed because it stands for one that was changed. */
export function noteShared(work: Work, paths: readonly string[]): void {
	const { draft, stack } = work;
	for (const path of paths) {
		const [now, then] = [draft.doc(path), fileAt(stack, path)?.doc];
		if (!now || !then || !sharedTexts(now)) continue;
		for (const claim of claimsOf(stack.guide, path))
			notePart(work, path, claim.kind, partOf(then, claim.spec), partOf(now, claim.spec));
	}
}

/** The same for the records of one kind. */
function notePart(work: Work, path: string, kind: string, before: Document, after: Document): void {
	const named = new Set(work.values.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	const old = valuesIn(before);
	for (const [id, fields] of valuesIn(after))
		for (const [field, value] of fields) {
			const was = old.get(id)?.get(field);
			if (was === undefined || was === value || named.has(JSON.stringify([kind, id, field]))) continue;
			const follows = 'shares this value: it is written once in the file, under an anchor';
			work.values.push({ kind, id, name: id, field, before: was, after: value, follows });
			work.say(`${path} keeps this value once for several records; all of them change.`);
		}
}
