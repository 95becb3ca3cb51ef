// Another id for a record, everywhere: what names it, its texts, its files, scripts. What belongs to the game cannot be
// renamed in it: then the new id is that of a copy, and all that named the old one names the copy.
import { lineIndex } from '../text';
import { mentionsIn, removesPath, withMention } from '../guide';
import { spokenBy } from '../infer';
import { buildLinks, linksTo, type Link, type Links } from '../links';
import { asText, displayName, valueOf, type EffectiveRecord, type Stack } from '../stack';
import type { CellWrite } from './batch';
import {
	alike,
	assetsFor,
	copyAssets,
	copyFile,
	copyOthers,
	copyRecord,
	copyTexts,
	derivedFor,
	fileAt,
	othersOf,
	ruleAt,
	textsFor
} from './belongings';
import { checkNewId } from './copy';
import { setValues } from './follow';
import type { Intention } from './intention';
import { removeRecord, setField, take } from './steps';
import { takeOutCopies } from './take-out';
import {
	find,
	note,
	NotPossible,
	plural,
	textBefore,
	wanted,
	write,
	type Following,
	type Work
} from './work';

/** Whether a record can get another id where it stands: it is mine alone, or my mod's copy of its whole file counts. */
function isOwn({ guide }: Stack, { kind, presences }: EffectiveRecord): boolean {
	if (presences.every(({ layer }) => layer.role === 'mine')) return true;
	return (
		guide.kinds[kind]!.merge === 'file' && presences.length === 1 && presences[0]!.record.idSpan !== null
	);
}

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
		const place = `${from.kind}/${from.id} ${field}`;
		if (seen.has(place)) continue;
		seen.add(place);
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
		const path = take(draft, from, work.say);
		const node = draft.record(path, from.id);
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
		const text = asText(file);
		if (!stack.mine!.files.has(path) && !draft.has(path)) {
			draft.create(path, text.text, text);
			work.say(`The game reads ${path} whole, so my mod gets a copy of the whole file.`);
		}
		// Ids in the draft may stand elsewhere by now: they are looked for in its text.
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

/** Writes another id in a record of my mod, or gives its file another name. */
function renameInPlace(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	following?: Following
): Map<string, string> {
	const { stack, draft } = work;
	const derived = derivedFor(stack, record, newId);
	take(draft, record, work.say);
	for (const { path } of record.presences) {
		let now = path;
		const node = draft.record(path, record.id);
		if (!node) continue;
		if (node.idSpan) draft.edit(path, draft.format(path).rename(draft.doc(path)!, node, newId));
		else {
			now = copyRecord({ ...work, values: [] }, record, newId).path;
			draft.drop(path);
		}
		for (const [field, next] of derived)
			if (draft.record(now, newId)?.fields.some((one) => one.path === field))
				setField(draft, now, newId, field, next);
	}
	note(work, record, stack.guide.kinds[record.kind]!.key ?? 'id', record.id, newId, following);
	for (const [field, next] of derived)
		note(
			work,
			record,
			field,
			valueOf(record, field) ?? null,
			next,
			following ?? { follows: 'follows from the id', by: 'derived' }
		);
	return derived;
}

/** Gives the texts of a record the keys that they have under another id; those of the game are written anew. */
function renameTexts(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	derived: ReadonlyMap<string, string>
): void {
	const { stack, draft } = work;
	const words = stack.guide.words;
	if (!words || !wanted(work, 'text')) return;
	const following = { follows: `text of ${newId}`, by: 'text' } as const;
	for (const { key, next } of textsFor(stack, record, newId, derived)) {
		const text = stack.tables.get(words.kind)?.byId.get(key);
		for (const language of Object.keys(words.languages)) {
			const before = textBefore(stack, key, language);
			if (before === null) continue;
			const mine = text?.presences.find((one) => one.layer.role === 'mine' && one.language === language);
			const node = mine && draft.record(mine.path, key);
			if (mine && node) {
				draft.edit(mine.path, draft.format(mine.path).rename(draft.doc(mine.path)!, node, next));
				work.values.push({
					kind: words.kind,
					id: next,
					name: next,
					field: language,
					before: null,
					after: before,
					...following
				});
			} else write(work, next, language, before, following);
		}
		repointScripts(work, [words.kind], key, next);
	}
}

/** Renames a record of my mod with all that belongs to it. */
function renameOwn(work: Work, links: Links, record: EffectiveRecord, newId: string): number {
	const { stack, draft } = work;
	const count = repoint(work, links, record, newId, { follows: 'names it', by: 'reference' });
	const derived = renameInPlace(work, record, newId);
	renameTexts(work, record, newId, derived);
	if (wanted(work, 'asset'))
		for (const { path, next } of assetsFor(stack, record, newId)) {
			if (!copyFile(work, path, next)) continue;
			if (stack.mine!.files.has(path)) draft.drop(path);
			note(work, record, 'file', path, next, { follows: 'belongs to it by its name', by: 'asset' });
		}
	for (const [other, following] of [...othersOf(work, record)]) {
		if (isOwn(stack, other)) renameInPlace(work, other, newId, following);
		else copyRecord(work, other, newId, following);
		const path = other.presences.at(-1)!.path;
		if (following.by === 'twin') alike(work, path, newId, derived);
	}
	return count;
}

const withUsers = (count: number) =>
	count === 0 ? '' : `, with ${plural(count, 'field')} that ${count === 1 ? 'names' : 'name'} it`;

/** Another id for a record, everywhere. */
export function rename(
	work: Work,
	{ kind, id, newId }: Extract<Intention, { do: 'rename' }>,
	known?: Links
): string {
	const { stack } = work;
	const record = find(stack, kind, id);
	if (stack.guide.words?.kind === kind)
		throw new NotPossible('A text has the key that its record asks for; rename that.');
	if (newId !== id && newId.toLowerCase() !== id.toLowerCase()) checkNewId(stack, kind, newId);
	else if (newId === id || stack.tables.get(kind)!.byId.has(newId))
		throw new NotPossible(`The id “${newId}” is taken.`);
	const links = known ?? buildLinks(stack);
	const name = displayName(stack, record);
	if (isOwn(stack, record)) {
		const count = renameOwn(work, links, record, newId);
		repointScripts(work, [kind], id, newId);
		return `Rename ${name}: ${id} to ${newId}${withUsers(count)}`;
	}
	const { path, derived } = copyRecord(work, record, newId);
	copyTexts(work, record, newId, derived);
	copyAssets(work, record, newId);
	copyOthers(work, record, newId, derived);
	const count = repoint(work, links, record, newId, { follows: 'names it', by: 'reference' });
	// What the record says of itself is said of the copy too.
	for (const link of linksTo(links, record)) {
		if (link.text || link.field.startsWith('#') || link.from.kind !== kind || link.from.id !== id) continue;
		setField(
			work.draft,
			path,
			newId,
			link.field,
			repointed(link, valueOf(record, link.field) ?? '', id, newId, links)
		);
	}
	repointScripts(work, [kind], id, newId);
	if (wanted(work, 'text'))
		for (const text of textsFor(stack, record, newId, derived))
			repointScripts(work, [stack.guide.words!.kind], text.key, text.next);
	const out = removesPath(stack.guide.kinds[kind]!, work.name.mod);
	if (out !== null && record.presences.every(({ layer }) => layer.role !== 'mine')) {
		takeOutCopies(work, record, out);
		// What is one thing with it goes too, where my mod has the whole of its file by now.
		for (const [other] of [...othersOf(work, record)])
			for (const { path: place } of other.presences)
				if (work.draft.record(place, id)) removeRecord(work.draft, place, id, undefined, work.say);
		return `Rename ${name}: ${id} to ${newId}${withUsers(count)}`;
	}
	work.say(
		`${id} belongs to the game and stays in it, but nothing names it any more: all ${plural(count, 'field')} name ${newId}.`
	);
	return `Rename ${name}: ${id} to ${newId}, as a copy that ${plural(count, 'field')} name`;
}
