// Which calls in scripts take ids, detected from the ids that they are given.
import type { ScriptGuide } from '../guide';
import { spokenBy } from '../scripts';
import { likeness } from './likeness';
import type { Owners } from './owners';
import { atLeast, finding, listed, said } from './sure';
import type { DataFile } from './group';

const isScript = (path: string) => /\.(lua|js|py|gd|script|scr|nut|squirrel)$/i.test(path);

/** Which calls in the scripts name records of which kinds. In steps. */
export function* scriptsIn(files: readonly DataFile[], owners: Owners): Generator<void, ScriptGuide[]> {
	const byCall = new Map<string, { call: string; argument: number; texts: Map<string, number> }>();
	for (const { path, facts } of files) {
		if (!isScript(path)) continue;
		yield;
		for (const { spoken } of spokenBy(facts))
			for (const { call, argument, text } of spoken) {
				const key = `${call} ${argument}`;
				const own = byCall.get(key) ?? { call, argument, texts: new Map<string, number>() };
				byCall.set(key, own);
				own.texts.set(text, (own.texts.get(text) ?? 0) + 1);
			}
	}
	const found: ScriptGuide[] = [];
	for (const { call, argument, texts } of byCall.values()) {
		const all = [...texts.values()].reduce((sum, count) => sum + count, 0);
		const hits = new Map<number, { cells: number; distinct: number }>();
		for (const [text, count] of texts) {
			const id = owners.pool.find(text);
			if (id < 0 || /^\d*$/.test(text)) continue;
			for (const nth of owners.of(id)) {
				const hit = hits.get(nth) ?? { cells: 0, distinct: 0 };
				hits.set(nth, { cells: hit.cells + count, distinct: hit.distinct + 1 });
			}
		}
		const like = (nth: number) => likeness(call, owners.list[nth]!.group.names);
		const [first] = [...hits]
			.filter(([, { cells }]) => cells >= all * 0.8)
			.sort((a, b) => b[1].cells + like(b[0]) - (a[1].cells + like(a[0])));
		if (!first) continue;
		const [nth, { cells, distinct }] = first;
		if (distinct < 2 && like(nth) < 0.7) continue;
		const kind = owners.list[nth]!.group.kind;
		const others = [...texts.keys()].filter(
			(text) => !owners.of(Math.max(0, owners.pool.find(text))).includes(nth)
		);
		found.push({
			call,
			argument,
			kinds: [kind],
			found: finding(
				(cells === all ? 0.97 : atLeast(cells, all)) - (distinct < 3 ? 0.1 : 0),
				`${said(cells)} of ${said(all)} texts there are ids of ${kind}${others.length > 0 ? `; the others: ${listed(others)}` : ''}.`
			)
		});
	}
	return found.sort((a, b) => (a.call < b.call ? -1 : 1));
}
