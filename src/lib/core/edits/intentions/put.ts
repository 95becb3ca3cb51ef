// The files that the game reads together: records of one go into another, into a new one, or all of them, and the file
// with them.
import { counted } from '../../wording';
import * as z from 'zod';
import { EditRefused } from '../../formats';
import { claimBy, type KindGuide } from '../../guide';
import { fileBelow, isEditable, displayName, fileContent } from '../../stack';
import type { Draft } from '../draft';
import type { Say } from '../steps';
import { find, isInside, note, NotPossible, type Work } from '../work';
import { name, type Drafted } from './intention';

const schema = z.object({
	do: z.literal('put'),
	kind: name,
	ids: z.array(name).min(1).max(100_000),
	/** Where they are taken from one file only. */
	from: name.optional(),
	into: name
});

/** My mod has a file by now, if need be the whole of what is below. False where nobody has it. */
function takeFile(draft: Draft, path: string, merge: KindGuide['merge'], say: Say): boolean {
	if (draft.has(path)) return true;
	const under = merge === 'file' ? fileBelow(draft.stack, path) : undefined;
	if (!under?.facts) return false;
	draft.put(path, fileContent(under));
	say(`The game reads ${path} whole, so your mod gets a copy of the whole file.`);
	return true;
}

/** Starts a file for records like those of another. */
function start(work: Work, path: string, like: string): void {
	const { draft, say } = work;
	const format = draft.format(like);
	if (draft.format(path)?.id !== format.id)
		throw new NotPossible(
			`${path} has another format than ${like}; records can only move between files of one format.`
		);
	const written = draft.stack.mine?.files.get(like)?.text ?? fileBelow(draft.stack, like)?.text;
	draft.create(path, format.blank(draft.doc(like)!), written ?? null);
	if (!draft.doc(path)) throw new EditRefused(`${path} cannot be created as a separate file.`);
	say(
		fileBelow(draft.stack, path)
			? `${path} is also a file of the game; yours adds to it record by record.`
			: `${path} is a new file of your mod: it adds to the game's files and overrides none.`
	);
}

/** Ids by the file that they are taken from: one that is named, else that of my mod, else where the game reads whole files. */
function sources(
	{ stack }: Work,
	kind: string,
	ids: readonly string[],
	from: string | undefined,
	language: string | undefined
): Map<string, Set<string>> {
	const found = new Map<string, Set<string>>();
	for (const id of new Set(ids)) {
		const record = find(stack, kind, id);
		const here = record.presences.filter(
			(one) => (from === undefined || one.path === from) && one.language === language
		);
		const there = here.find(({ layer }) => isEditable(layer)) ?? here.at(-1);
		if (!there)
			throw new NotPossible(
				language
					? `${id} cannot be put there: the file holds texts in ${language}, and ${from ?? 'the record'} has none in it.`
					: `${id} is not in ${from ?? 'a file that can be merged with this one'}.`
			);
		const { path } = there;
		found.set(path, (found.get(path) ?? new Set()).add(id));
	}
	return found;
}

/** Moves records of one file into another. True where all of it went. */
function putFrom(work: Work, kind: string, from: string, ids: ReadonlySet<string>, into: string): boolean {
	const { draft, stack, say } = work;
	const about = stack.guide.kinds[kind]!;
	if (from === into) throw new NotPossible(`${[...ids].join(', ')} is in this file already.`);
	if (!takeFile(draft, from, about.merge, say))
		throw new NotPossible(`Your mod has no ${from}; add its records to your mod first.`);
	const doc = draft.doc(from, kind)!;
	// A file that is one record: its name is the id, and where it lies is who it is.
	const byPlace = (id: string) => /#\d+$/.test(id);
	const isNamed = about.id !== undefined && ![...ids].every(byPlace);
	if (isNamed || (doc.records.length === 1 && doc.records[0]!.id === doc.hints.id))
		throw new NotPossible(`In ${from} the file names its record; rename the record instead.`);
	const chosen = doc.records.filter(({ id }) => ids.has(id));
	const missing = [...ids].find((id) => !chosen.some((record) => record.id === id));
	if (missing !== undefined) throw new NotPossible(`${from} of your mod has no record ${missing}.`);
	if (!takeFile(draft, into, about.merge, say)) start(work, into, from);
	const format = draft.format(into);
	if (format.id !== draft.format(from).id)
		throw new NotPossible(`${into} is written in another format than ${from}.`);
	for (const record of chosen) {
		if (!byPlace(record.id) && draft.record({ path: into, kind, id: record.id }))
			throw new NotPossible(`${into} has a record ${record.id} already.`);
		draft.edit(into, format.insert(draft.doc(into, kind)!, doc, record));
		note(work, find(stack, kind, record.id), 'file', from, into);
	}
	const whole = chosen.length === draft.doc(from)!.records.length;
	const under = fileBelow(draft.stack, from);
	if (whole && !(about.merge === 'file' && under)) {
		draft.drop(from);
		say(`${from} is empty now, so it is removed from your mod.`);
	} else {
		// The last first: those that go by their place keep it until it is their turn.
		for (const { id } of [...chosen].reverse())
			draft.edit(from, format.remove(draft.doc(from, kind)!, draft.record({ path: from, kind, id })!));
		if (whole) say(`${from} stays, empty: without it the game would read its own file again.`);
	}
	if (about.merge !== 'file' && under?.doc?.records.some(({ id }) => ids.has(id)))
		say(`The game still has its own version in ${from}; the one in your mod wins, wherever it is.`);
	return whole;
}

/** Records into another file of their kind, which may be a new one; a file that is left empty goes. */
export const put: Drafted<typeof schema> = {
	schema,
	draft(work, { kind, ids, from, into }) {
		const { stack } = work;
		const about = stack.guide.kinds[kind];
		if (!about) throw new NotPossible(`There is no kind “${kind}” in this project.`);
		const target = claimBy(stack.guide, into, kind);
		if (!isInside(into)) throw new NotPossible(`“${into}” is not a path inside a mod.`);
		if (!target)
			throw new NotPossible(
				`${into} would not be read as ${about.title.toLowerCase()}: files of this kind are ${about.files.join(', ')}.`
			);
		const files = sources(work, kind, ids, from, target.language);
		const whole = [...files].filter(([path, some]) => putFrom(work, kind, path, some, into));
		if (whole.length === files.size) return `Merge ${[...files.keys()].join(', ')} into ${into}`;
		const what =
			ids.length === 1
				? displayName(stack, find(stack, kind, ids[0]!))
				: counted(ids.length, about.title.toLowerCase(), (about.plural ?? about.title).toLowerCase());
		return `Put ${what} into ${into}`;
	},
	words: ({ said, data }) => `Put ${Array.isArray(data.ids) ? data.ids.join(', ') : ''} into ${said('into')}`
};
