// Values that several records have from one place in a file (an anchor and its aliases): who changes one changes all.
import { sharedTexts, type Document } from '../formats';
import { claimOf } from '../guide';
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
		const after = draft.doc(path);
		const before = fileAt(stack, path)?.doc;
		const claim = claimOf(stack.guide, path);
		if (!after || !before || !claim || !sharedTexts(after)) continue;
		const named = new Set(work.values.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
		const old = valuesIn(before);
		for (const [id, fields] of valuesIn(after))
			for (const [field, value] of fields) {
				const was = old.get(id)?.get(field);
				if (was === undefined || was === value || named.has(JSON.stringify([claim.kind, id, field])))
					continue;
				const follows = 'shares the value: it stands once in the file, under an anchor';
				work.values.push({ kind: claim.kind, id, name: id, field, before: was, after: value, follows });
				work.say(`${path} keeps this value once for several records; all of them change.`);
			}
	}
}
