// How well a guide that was found agrees with what is known: precision and recall of each rule.
import { claimOf, edgesOf, fillPattern, REFERENCE_RULES, type Guide, type RuleName } from '$core/guide';
import type { Truth } from './guided';

export interface Score {
	/** Found and true, found and not true, true and not found. */
	right: number;
	wrong: string[];
	missed: string[];
}

/** Findings that count: what is less sure is shown to people as a question only. */
export const COUNTS = 0.5;

const keyOf = ({ rule, from, field, to }: Truth) => `${rule}: ${from} ${field} → ${to}`;

/** What a guide says, with its kinds named by one of the files that they have. */
export function* truthsOf(guide: Guide, nameOf: (kind: string) => string): Generator<Truth> {
	for (const { rule, from, field, to, sure } of edgesOf(guide)) {
		if (sure < COUNTS) continue;
		const kind = guide.kinds[from];
		// A key that begins with another field of the record is named by what that follows from.
		const place =
			kind?.written?.layout?.shape === 'positional' ? kind.written.layout.record.flat().indexOf(field) : -1;
		const derived = (name: string) => kind?.fields[name]?.derive ?? `{${name}}`;
		yield {
			rule,
			from: rule === 'script' ? from : nameOf(from),
			// Values that are known by their place only have no names of their own.
			field: rule === 'text' ? fillPattern(field, derived)! : place >= 0 ? `value ${place + 1}` : field,
			to: rule === 'file' ? to : nameOf(to)
		};
	}
}

/** Names kinds by the file of each that is known to the other side. */
export function namer(guide: Guide, files: readonly string[]): (kind: string) => string {
	const names = new Map<string, string>();
	for (const file of files) {
		const claim = claimOf(guide, file);
		if (claim && !names.has(claim.kind)) names.set(claim.kind, file);
	}
	return (kind) => names.get(kind) ?? `kind ${kind}`;
}

/** Compares what was found with what is true, rule by rule. */
export function judge(found: readonly Truth[], truths: readonly Truth[]): Map<RuleName, Score> {
	const scores = new Map<RuleName, Score>(
		REFERENCE_RULES.map((rule) => [rule, { right: 0, wrong: [], missed: [] }])
	);
	const there = new Set(found.map(keyOf));
	const wanted = new Set(truths.map(keyOf));
	for (const truth of found)
		if (!wanted.has(keyOf(truth))) scores.get(truth.rule as RuleName)!.wrong.push(keyOf(truth));
	for (const truth of truths) {
		const score = scores.get(truth.rule as RuleName)!;
		if (there.has(keyOf(truth))) score.right++;
		else score.missed.push(keyOf(truth));
	}
	return scores;
}

export const precision = ({ right, wrong }: Score): number =>
	right + wrong.length === 0 ? 1 : right / (right + wrong.length);
export const recall = ({ right, missed }: Score): number =>
	right + missed.length === 0 ? 1 : right / (right + missed.length);
