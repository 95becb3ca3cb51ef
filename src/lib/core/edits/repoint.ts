// What names an id has to name another: fields of records, and scripts.
import { lineIndex } from '../text';
import { mentionsIn, withMention } from '../guide';
import { spokenBy } from '../scripts';
import { linksTo, type Link, type Links } from '../links';
import { fileContent, valueOf, type EffectiveRecord } from '../stack';
import type { CellWrite } from './batch';
import { fileAt, ruleAt } from './belongings';
import { setValues } from './follow';
import { take } from './steps';
import { note, wanted, type Following, type Work } from './work';

/** The value of a field with every mention of an id exchanged. */
export function repointed(link: Link, value: string, id: string, newId: string, links: Links): string {
	const rule = ruleAt(links.stack, link);
	const decided = rule.by ? valueOf(link.from, rule.by.field) : undefined;
	const same = rule.anyCase ? id.toLowerCase() : id;
	let next = value;
	// From the end, so that the places of the others stay.
	for (const mention of mentionsIn(rule, value, decided).reverse())
		if ((rule.anyCase ? mention.id.toLowerCase() : mention.id) === same)
			next = withMention(rule, next, mention, newId);
	return next;
}

/** Has every field that names a record name another. Gives how many fields did. */
export function repoint(
	work: Work,
	links: Links,
	record: EffectiveRecord,
	newId: string,
	following: Following
): number {
	const { stack, draft } = work;
	const cells: CellWrite[] = [];
	const keys: Link[] = [];
	const seen = new Set<string>();
	for (const link of linksTo(links, record)) {
		const { from, field, text } = link;
		if (text || field.startsWith('#')) continue;
		// By another of its ids, which stays.
		if (link.value !== record.id && stack.guide.kinds[record.kind]!.severalIds) continue;
		const place = `${from.kind}/${from.id} ${field}`;
		if (seen.has(place)) continue;
		seen.add(place);
		// The field by which it is named stays as it is.
		if (ruleAt(stack, link).key !== undefined) continue;
		if (ruleAt(stack, link).names) keys.push(link);
		else
			cells.push({
				record: from,
				field,
				value: repointed(link, valueOf(from, field) ?? '', record.id, newId, links)
			});
	}
	setValues(work, cells, following);
	for (const { from, field } of keys) {
		const path = take(draft, from, work.say, field);
		const node = draft.record({ path, kind: from.kind, id: from.id });
		if (!node) continue;
		draft.edit(path, draft.format(path).renameKey(draft.doc(path)!, node, field, newId));
		note(work, from, field, record.id, newId, following);
	}
	return seen.size;
}

/** Has scripts that ask for an id ask for another. */
export function repointScripts(work: Work, kinds: readonly string[], id: string, newId: string): number {
	if (!wanted(work, 'script')) return 0;
	const { stack, draft } = work;
	const rules = (stack.guide.scripts ?? []).filter((rule) => rule.kinds.some((kind) => kinds.includes(kind)));
	if (rules.length === 0) return 0;
	let count = 0;
	const paths = new Set(stack.layers.flatMap(({ files }) => [...files.keys()]));
	for (const path of paths) {
		const file = fileAt(stack, path)!;
		if (!file.facts || file.facts.prose.length === 0) continue;
		const places = spokenBy(file.facts).flatMap(({ line, spoken }) =>
			spoken.flatMap(({ call, argument, text, from }) =>
				text === id && rules.some((rule) => rule.call === call && rule.argument === argument)
					? [{ line, from }]
					: []
			)
		);
		if (places.length === 0) continue;
		if (!stack.mine!.files.has(path) && !draft.has(path)) {
			draft.put(path, fileContent(file));
			work.say(`The game reads ${path} whole, so your mod gets a copy of the whole file.`);
		}
		// Ids in the draft may be elsewhere by now: they are looked for in its text.
		const now = draft.text(path)!;
		const starts = lineIndex(now);
		const splices = places.flatMap(({ line, from }) => {
			// Lines are known without the spaces before them.
			const start = starts[line - 1]!;
			const at = start + /^[^\S\n]*/.exec(now.slice(start, start + 1000))![0].length + from;
			return now.startsWith(id, at) ? [{ from: at, to: at + id.length, insert: newId }] : [];
		});
		draft.edit(
			path,
			splices.sort((a, b) => a.from - b.from)
		);
		count += splices.length;
		for (const { line } of places)
			work.values.push({
				kind: rules[0]!.kinds[0]!,
				id,
				name: id,
				field: `${path} line ${line}`,
				before: id,
				after: newId,
				follows: 'a script asks for it',
				by: 'script'
			});
	}
	return count;
}
