// Values that several records have from one place in a file (an anchor and its aliases, an address): who changes it there
// changes all.
import { findRecord, partOf, sharedTexts, type Document } from '../formats';
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
		if (!now || !then) continue;
		notePointing(work, path, then, now);
		if (!sharedTexts(now)) continue;
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

/** The same for records that point at a value that was changed, in formats in which values have addresses. */
function notePointing(work: Work, path: string, before: Document, after: Document): void {
	const { draft, stack } = work;
	const { shared } = draft.format(path);
	if (!shared) return;
	const claims = claimsOf(stack.guide, path);
	const partAt = (name: string) => claims.find(({ spec }) => partOf(after, spec).at === name);
	const named = new Set(work.values.map(({ kind, id, field }) => JSON.stringify([kind, id, field])));
	for (const { kind, id, field } of [...work.values]) {
		const claim = claims.find((one) => one.kind === kind);
		const doc = claim && partOf(after, claim.spec);
		const record = doc && findRecord(doc, id);
		for (const other of (record && shared.of(doc, record, field)?.others) ?? []) {
			const theirs = partAt(other.part);
			const then = theirs && findRecord(partOf(before, theirs.spec), other.id)?.valueAt?.(other.path);
			const now = theirs && findRecord(partOf(after, theirs.spec), other.id)?.valueAt?.(other.path);
			const key = JSON.stringify([theirs?.kind, other.id, other.path]);
			if (then === undefined || now === undefined || then === now || named.has(key)) continue;
			named.add(key);
			work.values.push({
				kind: theirs!.kind,
				id: other.id,
				name: other.id,
				field: other.path,
				before: String(then ?? ''),
				after: String(now ?? ''),
				follows: 'points at the same value'
			});
		}
	}
}
