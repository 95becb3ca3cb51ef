// The files that the game reads together: records of one go into another, into a new one, or all of them, and the file
// with them.
import { EditRefused } from '../formats';
import { claimOf, hintsFor, type KindGuide } from '../guide';
import { displayName } from '../stack';
import type { Draft } from './draft';
import type { Intention } from './intention';
import type { Say } from './steps';
import { note, NotPossible, plural, type Work } from './work';

/** The file of a layer below my mod, the latest that has it. */
const below = ({ stack }: Draft, path: string) =>
	stack.layers.findLast(({ role, files }) => role !== 'mine' && files.get(path)?.text)?.files.get(path);

/** My mod has a file by now, if need be the whole of what is below. False where nobody has it. */
function takeFile(draft: Draft, path: string, merge: KindGuide['merge'], say: Say): boolean {
	if (draft.has(path)) return true;
	const under = merge === 'file' ? below(draft, path) : undefined;
	if (!under?.text) return false;
	draft.create(path, under.text.text, under.text);
	say(`The game reads ${path} whole, so my mod gets a copy of the whole file.`);
	return true;
}

/** Starts a file for records like those of another. */
function start(work: Work, path: string, like: string): void {
	const { draft, say } = work;
	const format = draft.format(like);
	if (draft.format(path)?.id !== format.id)
		throw new NotPossible(
			`${path} would be written in another format than ${like}; records are moved between files of one format.`
		);
	const written = draft.stack.mine?.files.get(like)?.text ?? below(draft, like)?.text;
	draft.create(path, format.blank(draft.doc(like)!), written ?? { encoding: 'utf-8', bom: false });
	if (!draft.doc(path)) throw new EditRefused(`${path} cannot be started as a file of its own.`);
	say(
		below(draft, path)
			? `${path} is also a file of the game; mine adds to it record by record.`
			: `${path} is a new file of my mod: it adds, and overrides none of the game's.`
	);
}

/** Moves records into another file of their kind. */
export function put(work: Work, { from, ids, into }: Extract<Intention, { do: 'put' }>): string {
	const { draft, stack, say } = work;
	const { guide } = stack;
	const [claim, target] = [claimOf(guide, from), claimOf(guide, into)];
	const kind = claim && guide.kinds[claim.kind];
	if (!claim || !kind) throw new NotPossible(`${from} is no file with records.`);
	if (from === into) throw new NotPossible('The records are already in this file.');
	if (/(^|\/)\.{0,2}(\/|$)|\\|^[a-z]:/i.test(into) || /[\0-\x1f]/.test(into))
		throw new NotPossible(`“${into}” is no path inside of a mod.`);
	if (target?.kind !== claim.kind || target.language !== claim.language)
		throw new NotPossible(
			`${into} would not be read with ${from}: files of this kind are ${kind.files.join(', ')}.`
		);
	if (!takeFile(draft, from, kind.merge, say))
		throw new NotPossible(`My mod has no ${from}; take its records into my mod first.`);
	const doc = draft.doc(from)!;
	// A file that is one record: its name is the id, and where it lies is who it is.
	if (kind.id || (doc.records.length === 1 && doc.records[0]!.id === hintsFor(guide, from).id))
		throw new NotPossible(`In ${from} the file names its record; rename the record instead.`);
	const chosen = doc.records.filter(({ id }) => ids.includes(id));
	const missing = ids.find((id) => !chosen.some((record) => record.id === id));
	if (missing !== undefined) throw new NotPossible(`${from} of my mod has no record ${missing}.`);
	if (!takeFile(draft, into, kind.merge, say)) start(work, into, from);
	const format = draft.format(into);
	if (format.id !== draft.format(from).id)
		throw new NotPossible(`${into} is written in another format than ${from}.`);
	const table = stack.tables.get(claim.kind);
	for (const record of chosen) {
		if (draft.record(into, record.id)) throw new NotPossible(`${into} has a record ${record.id} already.`);
		draft.edit(into, format.insert(draft.doc(into)!, doc, record));
		const known = table?.byId.get(record.id);
		note(work, known ?? { kind: claim.kind, id: record.id }, 'file', from, into);
	}
	const whole = chosen.length === doc.records.length;
	if (whole && !(kind.merge === 'file' && below(draft, from))) {
		draft.drop(from);
		say(`${from} holds nothing more, so my mod loses the file.`);
	} else {
		for (const { id } of chosen) draft.edit(from, format.remove(draft.doc(from)!, draft.record(from, id)!));
		if (whole) say(`${from} stays, empty: without it the game would read its own again.`);
	}
	if (kind.merge === 'record' && below(draft, from)?.doc?.records.some(({ id }) => ids.includes(id)))
		say(`The game still has its own version in ${from}; the one of my mod counts, wherever it stands.`);
	const known = table?.byId.get(chosen[0]!.id);
	const what =
		chosen.length === 1
			? known
				? displayName(stack, known)
				: chosen[0]!.id
			: plural(chosen.length, kind.title.toLowerCase(), (kind.plural ?? kind.title).toLowerCase());
	return whole ? `Merge ${from} into ${into}` : `Put ${what} into ${into}`;
}
