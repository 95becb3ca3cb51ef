// What makes a record whole besides itself: its texts, its files, its twin, its pair in another file, the lists it is in.
import { counted, either } from '../wording';
import { EditRefused } from '../formats';
import {
	fieldOf,
	fillPattern,
	folderIn,
	ID,
	mentionsIn,
	nameFromPath,
	severalIdsIn,
	type Found,
	type ReferenceGuide
} from '../guide';
import { linksTo, type Link, type Links } from '../links';
import { fileContent, textKeysOf, valueOf, type EffectiveRecord, type LayerFile, type Stack } from '../stack';
import { idsInside, renameInside, renameInText } from './copied-folder';
import { hookUp } from './hooked';
import type { Place } from './draft';
import { twinOf, twinsOfFile } from './follow';
import { setField, take } from './steps';
import { wholeCopy } from './sparse';
import { note, NotPossible, textBefore, wanted, write, type Following, type Work } from './work';

/** What the fields of a record that follow from its id become under another id. */
export function derivedFor(stack: Stack, record: EffectiveRecord, newId: string): Map<string, string> {
	const found = new Map<string, string>();
	for (const [field, { derive, type }] of Object.entries(stack.guide.kinds[record.kind]!.fields)) {
		const next = derive && fillPattern(derive, (name) => (name === 'id' ? newId : valueOf(record, name)));
		const now = valueOf(record, field);
		if (!next || now === undefined || next === now) continue;
		// A file that is only known by its name cannot be made again: the field goes on naming the old one.
		if (type === 'file' && !isThere(stack, next) && !fileAt(stack, now)) continue;
		found.set(field, next);
	}
	return found;
}

/** The key of each text of a record, and what it is under another id; those that stay are left out. */
export function textsFor(
	stack: Stack,
	record: EffectiveRecord,
	newId: string,
	derived: ReadonlyMap<string, string>
): { key: string; next: string; name: boolean }[] {
	return textKeysOf(stack, record).flatMap(({ key, pattern, name }) => {
		const next = fillPattern(pattern, (part) =>
			part === 'id' ? newId : (derived.get(part) ?? valueOf(record, part))
		);
		return key === null || next === null || key === next ? [] : [{ key, next, name }];
	});
}

/** A file of the layers together, by its path; the last layer's counts. */
export const fileAt = ({ layers }: Stack, path: string): LayerFile | undefined =>
	layers.findLast(({ files }) => files.has(path))?.files.get(path);

const isThere = ({ layers }: Stack, path: string): boolean =>
	layers.some(({ paths, files }) => (paths ?? files).has(path));

/** The files that belong to a record by their names, and what these are under another id. */
export function assetsFor(
	stack: Stack,
	record: EffectiveRecord,
	newId: string
): { path: string; next: string }[] {
	const { assets = [], fields } = stack.guide.kinds[record.kind]!;
	const named = Object.values(fields).flatMap(({ type, derive }) =>
		type === 'file' && derive !== undefined ? [{ path: derive }] : []
	);
	return [...assets, ...named].flatMap(({ path: pattern }) => {
		const under = (id: string) =>
			fillPattern(pattern, (name) => (name === 'id' ? id : valueOf(record, name)));
		const [path, next] = [under(record.id), under(newId)];
		return path && next && path !== next && isThere(stack, path) && !isThere(stack, next)
			? [{ path, next }]
			: [];
	});
}

/** A record that belongs to another, and how that was detected if nobody stated it. */
export interface Other {
	record: EffectiveRecord;
	found: Found;
}

/** Records of other kinds that are one thing with a record because they have its id. */
export function pairsOf(stack: Stack, record: EffectiveRecord): Other[] {
	const pairs: Other[] = [];
	const own = stack.guide.kinds[record.kind]!.fields[ID]?.reference;
	for (const [kind, guide] of Object.entries(stack.guide.kinds)) {
		const reference = guide.fields[ID]?.reference;
		const rule = reference?.kinds.includes(record.kind) ? reference : own?.kinds.includes(kind) ? own : null;
		if (!rule) continue;
		const other = kind === record.kind ? undefined : stack.tables.get(kind)?.byId.get(record.id);
		if (other) pairs.push({ record: other, found: rule.found });
	}
	return pairs;
}

/** The records in twins of a record's file, with the fields that may differ. */
export const twinsOf = (stack: Stack, record: EffectiveRecord): (Other & { but: readonly string[] })[] =>
	twinsOfFile(stack, record.presences.at(-1)!.path).flatMap((twin) => {
		const other = twinOf(stack, record, twin);
		return other ? [{ record: other, found: twin.found, but: twin.but }] : [];
	});

/** What is one thing with a record and follows it now: its twins, then its pair, each with why. */
export function* othersOf(work: Work, record: EffectiveRecord): Generator<[EffectiveRecord, Following]> {
	for (const { record: other, found } of twinsOf(work.stack, record))
		if (wanted(work, 'twin', found)) yield [other, { follows: 'its twin changes too', by: 'twin' }];
	for (const { record: other, found } of pairsOf(work.stack, record))
		if (wanted(work, 'pair', found)) yield [other, { follows: 'belongs together with it', by: 'pair' }];
}

/** The rule by which a field of a record names others. */
export const ruleAt = (stack: Stack, { from, field }: Link): ReferenceGuide =>
	fieldOf(stack.guide.kinds[from.kind], field)!.reference!;

/** The list that a field is an item of, and its number in it; null where it is alone. */
export function itemOf(path: string): { list: string; at: number } | null {
	const match = /^(.*)\[(\d+)\]$/.exec(path);
	return match ? { list: match[1]!, at: Number(match[2]) } : null;
}

/** Links from lists in which a record is beside others. */
export const listLinks = (links: Links, record: EffectiveRecord): Link[] =>
	linksTo(links, record).filter(
		(link) =>
			!link.text &&
			!link.field.startsWith('#') &&
			!(link.from.kind === record.kind && link.from.id === record.id) &&
			(itemOf(link.field) !== null || ruleAt(links.stack, link).list !== undefined)
	);

/** The value of a list in one cell with an entry more, behind the one that names a record and as that is written. */
export function withAlike(reference: ReferenceGuide, value: string, id: string, newId: string): string {
	const { list } = reference;
	const mention = mentionsIn(reference, value).find((one) => one.id === id);
	if (!mention || list === undefined) return value;
	const start =
		value.lastIndexOf(list, mention.from) < 0 ? 0 : value.lastIndexOf(list, mention.from) + list.length;
	const behind = value.indexOf(list, mention.to);
	const end = behind < 0 ? value.length : behind;
	const alike = value.slice(start, mention.from) + newId + value.slice(mention.to, end);
	return value.slice(0, end) + list + alike + value.slice(end);
}

/** Puts a copy of a file of some layer into my mod, under another path. */
export function copyFile(work: Work, path: string, next: string): boolean {
	const file = fileAt(work.stack, path);
	if (!file) {
		work.say(`${path} is listed by name only, so its copy ${next} must be made by hand.`);
		return false;
	}
	work.draft.put(next, fileContent(file));
	return true;
}

/** The path of a file that is named after a record, under another id. */
export function pathUnder(stack: Stack, record: EffectiveRecord, newId: string): string {
	const { path } = record.presences.at(-1)!;
	const { id, files } = stack.guide.kinds[record.kind]!;
	if (id === 'file') return path.replace(/[^/]*?(\.[^./]*)?$/, `${newId}$1`);
	const folder = folderIn(files, path);
	if (id !== 'folder' || folder === null || nameFromPath(path, id, files) !== record.id)
		throw new NotPossible('This record goes by its position in the file, so a copy has no id to set.');
	return path.replace(`/${folder}/`, `/${newId}/`);
}

/** Copies a record that is named after its file, with the whole folder where that names it. */
function copyNamed(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	ids: Readonly<Record<string, string>>
): string {
	const { stack } = work;
	const { path } = record.presences.at(-1)!;
	const next = pathUnder(stack, record, newId);
	copyFile(work, path, next);
	if (stack.guide.kinds[record.kind]!.id !== 'folder') return next;
	const folder = path.slice(0, path.lastIndexOf('/') + 1);
	const into = next.slice(0, next.lastIndexOf('/') + 1);
	const others = new Set(stack.layers.flatMap(({ paths, files }) => [...(paths ?? files.keys())]));
	const inside = idsInside(stack, record, newId).map((one) => ({
		...one,
		next: ids[`${one.kind}/${one.id}`]?.trim() || one.next
	}));
	const made: string[] = [];
	for (const other of others)
		if (other !== path && other.startsWith(folder)) {
			const to = into + other.slice(folder.length);
			if (copyFile(work, other, to)) made.push(to);
		}
	// What the record itself says of what is in its folder goes with it, too.
	renameInside(work, [...made, next], inside);
	return next;
}

/** Writes a record again under another id, with the fields that follow from it. Gives the file and these fields. */
export function copyRecord(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	following?: Following,
	/** Ids for copies of the records in its folder, by `kind/id`. */
	ids: Readonly<Record<string, string>> = {}
): { path: string; derived: Map<string, string> } {
	const { stack, draft } = work;
	const guide = stack.guide.kinds[record.kind]!;
	const last = record.presences.at(-1)!;
	const source = guide.merge === 'field' ? { ...wholeCopy(draft, record), file: last.file } : last;
	let { path } = last;
	if (!source.record.idSpan) path = copyNamed(work, record, newId, ids);
	else {
		const format = draft.format(path);
		if (guide.merge === 'file') take(draft, record, work.say);
		else if (!draft.doc(path)) draft.create(path, format.blank(source.doc), source.file.text);
		const { kind } = record;
		const end = draft.doc(path, kind)!.records.length;
		draft.edit(path, format.insert(draft.doc(path, kind)!, source.doc, source.record));
		const now = draft.doc(path, kind)!;
		draft.edit(path, format.rename(now, now.records[end]!, newId));
		// Of several ids only the one by which it is known becomes another: the rest name the record that it is a copy of.
		const several = severalIdsIn(
			guide,
			source.record.fields.map((field) => field.path)
		);
		for (let at = several.length - 1; at > 0; at--) {
			const copy = draft.doc(path, kind)!;
			draft.edit(path, format.removeItem(copy, copy.records[end]!, guide.key!, at));
		}
	}
	const made = { kind: record.kind, id: newId };
	note(work, made, guide.key ?? 'id', null, newId, following);
	const derived = derivedFor(stack, record, newId);
	for (const [field, next] of derived) {
		setField(draft, { path, kind: record.kind, id: newId }, { field, value: next });
		note(
			work,
			made,
			field,
			valueOf(record, field)!,
			next,
			following ?? { follows: 'follows from the id', by: 'derived' }
		);
	}
	return { path, derived };
}

/** Writes the texts of a record under the keys that they have with another id. */
export function copyTexts(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	derived: ReadonlyMap<string, string>,
	names: Readonly<Record<string, string>> = {}
): void {
	const { stack } = work;
	if (!wanted(work, 'text')) return;
	for (const { key, next, name } of textsFor(stack, record, newId, derived))
		for (const language of Object.keys(stack.guide.words?.languages ?? {})) {
			const text = (name ? names[language] : undefined) ?? textBefore(stack, key, language);
			if (text !== null) write(work, next, language, text, { follows: `text of ${newId}`, by: 'text' });
		}
}

/** Copies the files that belong to a record by their names. */
export function copyAssets(work: Work, record: EffectiveRecord, newId: string): void {
	if (!wanted(work, 'asset')) return;
	for (const { path, next } of assetsFor(work.stack, record, newId)) {
		if (!copyFile(work, path, next)) continue;
		note(work, { kind: record.kind, id: newId }, 'file', null, next, {
			follows: 'is named after it',
			by: 'asset'
		});
		hookUp(work, { kind: record.kind, id: newId }, path, next);
		const places = renameInText(work, next, record.id, newId);
		if (places > 0)
			work.say(
				`In ${next}, ${counted(places, 'place')} that named ${record.id} now ${either(places, 'names', 'name')} ${newId}.`
			);
	}
}

/** Has a twin say of fields that follow from the id what the record itself says. */
export function alike({ draft }: Work, place: Place, derived: ReadonlyMap<string, string>): void {
	for (const [field, next] of derived)
		if (draft.record(place)?.fields.some((one) => one.path === field))
			setField(draft, place, { field, value: next });
}

/** Copies what is one thing with a record: its twins and its pair. */
export function copyOthers(
	work: Work,
	record: EffectiveRecord,
	newId: string,
	derived: ReadonlyMap<string, string>
): void {
	const { stack } = work;
	for (const [other, following] of [...othersOf(work, record)]) {
		if (stack.tables.get(other.kind)!.byId.has(newId)) continue;
		try {
			const { path } = copyRecord(work, other, newId, following);
			if (following.by === 'twin') alike(work, { path, kind: other.kind, id: newId }, derived);
		} catch (fault) {
			if (!(fault instanceof EditRefused || fault instanceof NotPossible)) throw fault;
			work.say(`${other.id} in ${other.presences.at(-1)!.path} was not copied: ${fault.message}`);
		}
	}
}
