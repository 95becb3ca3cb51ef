// Names inside of files that came along with a copied record: records that would be there twice, and scripts that still
// speak of the model.
import type { Splice } from '../change';
import { claimsOf, fieldOf, mentionsIn, withMention } from '../guide';
import type { EffectiveRecord, Stack } from '../stack';
import { setField } from './steps';
import { note, wanted, type Work } from './work';

/** A record in the folder of another, and the id that its copy gets. */
export interface InsideId {
	kind: string;
	id: string;
	next: string;
}

const escaped = (text: string) => text.replace(/[\\^$.*+?()[\]{}|-]/g, '\\$&');

/** An id where it stands as a word, or as a part of one between marks (`bay_knot`, `on-knot`). */
const wordOf = (id: string) => new RegExp(`(?<![\\p{L}\\p{N}])${escaped(id)}(?![\\p{L}\\p{N}])`, 'gu');

/** The id of a copy: the model's name in it becomes the new one, or the new one goes before it. */
function nextId(own: string, id: string, newId: string, taken: (id: string) => boolean): string {
	const replaced = own.replace(wordOf(id), newId);
	const first = replaced === own ? `${newId}_${own}` : replaced;
	let next = first;
	for (let nth = 2; taken(next); nth++) next = `${first}_${nth}`;
	return next;
}

/** The files in the folder that names a record. */
function* pathsInside(stack: Stack, record: EffectiveRecord): Generator<string> {
	if (stack.guide.kinds[record.kind]!.id !== 'folder') return;
	const { path } = record.presences.at(-1)!;
	const folder = path.slice(0, path.lastIndexOf('/') + 1);
	const seen = new Set<string>();
	for (const { files } of stack.layers)
		for (const other of files.keys())
			if (other !== path && other.startsWith(folder) && !seen.has(other)) {
				seen.add(other);
				yield other;
			}
}

/** Records with ids of their own in the folder of a record: a copy of the folder would have each of them twice. */
export function idsInside(stack: Stack, record: EffectiveRecord, newId: string): InsideId[] {
	const found: InsideId[] = [];
	const given = new Set<string>();
	for (const path of pathsInside(stack, record))
		for (const { kind } of claimsOf(stack.guide, path)) {
			const table = stack.tables.get(kind);
			if (!table || kind === record.kind) continue;
			for (const from of table.files) {
				if (from.file.path !== path) continue;
				from.facts.ids.forEach((text, nth) => {
					const id = table.pool.at(text);
					if (from.facts.written[nth] !== 1 || found.some((one) => one.kind === kind && one.id === id))
						return;
					const next = nextId(
						id,
						record.id,
						newId,
						(one) => table.byId.has(one) || given.has(`${kind}/${one}`)
					);
					given.add(`${kind}/${next}`);
					found.push({ kind, id, next });
				});
			}
		}
	return found;
}

/**
 * Gives the records in a copied folder ids of their own, and has the copies refer to each other.
 * @param paths files of the copy in my mod
 */
export function renameInside(work: Work, paths: readonly string[], ids: readonly InsideId[]): void {
	const { draft, stack } = work;
	const { guide } = stack;
	const next = (kind: string, id: string) => ids.find((one) => one.kind === kind && one.id === id)?.next;
	for (const path of paths)
		for (const { kind } of claimsOf(guide, path))
			for (const { id, next: to } of ids.filter((one) => one.kind === kind)) {
				const node = draft.record({ path, kind, id });
				if (!node?.idSpan) continue;
				draft.edit(path, draft.format(path).rename(draft.doc(path, kind)!, node, to));
				note(work, { kind, id: to }, guide.kinds[kind]!.key ?? 'id', id, to, {
					follows: 'its copy needs an id of its own',
					by: 'reference'
				});
			}
	for (const path of paths)
		for (const { kind } of claimsOf(guide, path))
			for (const { id } of draft.doc(path, kind)?.records ?? []) {
				const place = { path, kind, id };
				for (const { path: field, value } of draft.record(place)?.fields ?? []) {
					const rule = fieldOf(guide.kinds[kind], field)?.reference;
					if (!rule || rule.names || rule.key !== undefined || value === null) continue;
					if (!wanted(work, 'reference', rule.found)) continue;
					let text = String(value);
					for (const mention of mentionsIn(rule, text).reverse()) {
						const target = (mention.kind === undefined ? rule.kinds : [mention.kind])
							.map((one) => next(one, mention.id))
							.find((one) => one !== undefined);
						if (target !== undefined) text = withMention(rule, text, mention, target);
					}
					if (text === String(value)) continue;
					setField(draft, place, { field, value: text });
					note(work, { kind, id }, field, String(value), text, {
						follows: 'refers to the copy',
						by: 'reference'
					});
				}
			}
}

/**
 * An id where it is surely meant in a script: in quotes, or joined with other words (`bay_knot`, `log.knot`). Alone it may
 * be a word of the language, and a number is a number.
 */
function isMeant(text: string, from: number, id: string): boolean {
	const joints = /^\d+$/.test(id) ? /["'`_]/ : /["'`_./-]/;
	return joints.test(text[from - 1] ?? '') || joints.test(text[from + id.length] ?? '');
}

/** Has a copied script or text speak of the copy wherever it surely spoke of the model. Gives how many places did. */
export function renameInText(work: Work, path: string, id: string, newId: string): number {
	const { draft } = work;
	const text = draft.text(path);
	if (text === undefined) return 0;
	const splices: Splice[] = [...text.matchAll(wordOf(id))]
		.filter(({ index }) => isMeant(text, index, id))
		.map(({ index }) => ({ from: index, to: index + id.length, insert: newId }));
	if (splices.length === 0) return 0;
	draft.edit(path, splices);
	return splices.length;
}
