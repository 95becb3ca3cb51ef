// My mod's files on the new version: what is to be there is known, record by record; each way of writing it is read again
// before it counts.
import { applyPlan, bytesOf, type FileContent, type Files } from '../change';
import { removeRecord, startDraft, take, writeMany, type CellWrite, type Draft, type Place } from '../edits';
import { EditRefused, partOf } from '../formats';
import { fileBelow, fileContent, isEditable, unitOf, type Layer, type Stack } from '../stack';
import { textLike, Unwritable } from '../text';
import { bringRecord, mineOf, nodeValues } from './bring';
import type { Want } from './deciding';
import { valuesIn } from './mine';
import type { Moves } from './moves';
import { mergeLines, unitsOf } from './three';
import { bare, unlikeWanted } from './verify';
import { type MyFile, type Writing } from './writing';

/**
 * Writes all single values at once of records that differ from what is wanted in nothing else.
 * @param path the file of my mod that they are in; undefined where it has none of them yet
 */
function writeSimple(draft: Draft, stack: Stack, wants: readonly Want[], path?: string): Set<Want> {
	const done = new Set<Want>();
	const cells: CellWrite[] = [];
	for (const want of wants) {
		if (want.what === 'copy' || want.what === 'remove' || want.from.kind !== want.kind) continue;
		const record = stack.tables.get(want.kind)?.byId.get(path === undefined ? want.id : want.from.id);
		if (!record || record.presences.some(({ language }) => language !== undefined)) continue;
		const { key, merge } = stack.guide.kinds[want.kind]!;
		const mine = record.presences.find((one) => isEditable(one.layer) && one.path === path);
		if (path !== undefined && (!mine || want.from.id !== want.id)) continue;
		const said = bare(mine ? nodeValues(mine.record) : valuesIn(record), key);
		const sparse = merge === 'field' && mine !== undefined;
		const wanted = [...bare(want.values, key)].filter(
			([field]) => !sparse || said.has(field) || want.own.has(unitOf(field))
		);
		if (wanted.length !== said.size || !wanted.every(([field]) => said.has(field))) continue;
		done.add(want);
		for (const [field, value] of wanted)
			if (said.get(field) !== value) cells.push({ record, field, value, verbatim: true });
	}
	writeMany(draft, cells, () => undefined);
	return done;
}

/** Gives the fields of a record of my mod the names that they have in the new version. */
function renameFields(draft: Draft, place: Place, kind: string, moves: Moves): void {
	if (!moves.fieldsChanged(kind)) return;
	const { path } = place;
	for (const { path: field } of draft.record(place)?.fields ?? []) {
		const next = moves.field(kind, field);
		if (next === field || field.includes('[')) continue;
		const node = draft.record(place)!;
		if (!node.fields.some((one) => one.path === field)) continue;
		const name = next.slice(next.lastIndexOf('.') + 1);
		draft.edit(path, draft.format(path).renameKey(draft.doc(path, place.kind)!, node, field, name));
	}
}

/** My file with as few edits as it takes: what is stale is refreshed in it, what is only a copy leaves it. */
function editMine(writing: Writing, { path, file, wants, claims }: MyFile): Draft {
	const { before, after, moves } = writing;
	const at = after.layers.findIndex(isEditable);
	const mine: Layer = { ...after.layers[at]!, files: new Map([[path, file]]) };
	const stack: Stack = { ...after, layers: after.layers.with(at, mine), mine };
	const draft = startDraft(stack);
	const to = moves.file(path);
	const done = claims.some(({ removes }) => removes)
		? new Set<Want>()
		: writeSimple(draft, before, wants, path);
	for (const want of wants) {
		const { from } = want;
		if (done.has(want)) continue;
		const claim = claims.find(({ kind }) => kind === from.kind);
		if (!claim || from.kind !== want.kind) throw new EditRefused('It is of another kind now.');
		const place = { path, kind: from.kind, id: from.id };
		if (!draft.record(place)) continue;
		const about = after.guide.kinds[want.kind]!;
		if (claim.removes) {
			const record = after.tables.get(want.kind)?.byId.get(want.id);
			if (!record || want.what !== 'remove') removeRecord(draft, place, () => undefined);
			else bringRecord(writing, draft, place, { ...want, values: valuesIn(record) }, undefined);
			if (!draft.has(path)) return draft;
			continue;
		}
		if (want.what === 'remove' || want.what === 'copy') {
			removeRecord(draft, place, () => undefined);
			if (!draft.has(path)) return draft;
			continue;
		}
		if (from.id !== want.id)
			draft.edit(
				path,
				draft.format(path).rename(draft.doc(path, place.kind)!, draft.record(place)!, want.id)
			);
		const now = { ...place, id: want.id };
		renameFields(draft, now, from.kind, moves);
		const sparse = about.merge === 'field';
		const own = sparse ? new Set(unitsOf(nodeValues(draft.record(now)!)).keys()) : null;
		bringRecord(
			writing,
			draft,
			now,
			want,
			claim.language,
			own ? (unit) => own.has(unit) || want.own.has(unit) : undefined
		);
	}
	if (to !== path && draft.has(path) && !draft.has(to)) draft.move(path, to);
	return draft;
}

/** My changes of a file written anew over what the new version has. */
function writeAnew(writing: Writing, draft: Draft, { path, file, wants, claims }: MyFile): void {
	const { after, moves } = writing;
	const to = moves.file(path);
	const silent = () => undefined;
	const language = claims.find((claim) => claim.language)?.language;
	const done = writeSimple(draft, after, wants);
	for (const want of wants) {
		const { kind, id } = want;
		if (want.what === 'copy' || done.has(want)) continue;
		const record = after.tables.get(kind)?.byId.get(id);
		if (want.what === 'remove') {
			if (!record) continue;
			const at = take(draft, record, silent);
			removeRecord(draft, { path: at, kind, id }, silent);
			continue;
		}
		if (record && language === undefined) {
			const [first] = want.own;
			const at = take(draft, record, silent, first);
			const sparse = after.guide.kinds[kind]!.merge === 'field';
			const only = sparse ? (unit: string) => want.own.has(unit) : undefined;
			bringRecord(writing, draft, { path: at, kind, id }, want, undefined, only);
			continue;
		}
		const mine = mineOf(writing, want, path);
		if (!mine) throw new EditRefused(`${path} has no record ${want.from.id}.`);
		const model = after.tables
			.get(kind)
			?.files.find((one) => one.file.path === to && one.language === language);
		if (!draft.has(to)) {
			const format = draft.format(to);
			const like = model?.file.doc ? partOf(model.file.doc, model.spec) : mine.doc;
			if (after.guide.kinds[kind]!.merge === 'file' && model) draft.put(to, fileContent(model.file));
			else draft.create(to, format.blank(like), file.text);
		}
		const place = { path: to, kind, id };
		if (!draft.record(place)) {
			const format = draft.format(to);
			const doc = () => draft.doc(to, kind) ?? draft.doc(to)!;
			const at = doc().records.length;
			try {
				draft.edit(to, format.insert(doc(), mine.doc, mine.record));
			} catch (fault) {
				// Its columns may have other names by now: one of the game's is the model then.
				const like = model?.file.doc && partOf(model.file.doc, model.spec);
				if (!(fault instanceof EditRefused) || !like?.records[0]) throw fault;
				draft.edit(to, format.insert(doc(), like, like.records[0]));
			}
			const inserted = doc().records[at];
			if (inserted && inserted.id !== id) draft.edit(to, format.rename(doc(), inserted, id));
		}
		if (language === undefined) renameFields(draft, place, want.from.kind, moves);
		bringRecord(writing, draft, place, want, language);
	}
}

/** What a draft makes of files of my mod. */
const filesOf = (draft: Draft, files: Files): Map<string, FileContent> =>
	new Map(applyPlan(files, { changes: draft.changes() }));

/** Copies in a file from which on it is sooner written anew than edited. */
const MANY_COPIES = 50;

/** Ways of writing one file, the one that leaves most of it as it is first. */
function waysFor(writing: Writing, mine: MyFile): (() => Map<string, FileContent>)[] {
	const { before, after, moves } = writing;
	const { path, file, whole, wants } = mine;
	const to = moves.file(path);
	const own = new Map([[path, fileContent(file)]]);
	const copies = whole ? 0 : wants.filter(({ what }) => what === 'copy').length;
	const byLines = () => {
		const [was, is] = [fileBelow(before, path), fileBelow(after, to)];
		if (!was?.text || !is?.text || !file.text)
			throw new EditRefused('One of the two versions does not have this text.');
		const merged = mergeLines(file.text.text, was.text.text, is.text.text);
		if (merged === null) throw new EditRefused('The changes touch each other.');
		return new Map([[to, textLike(merged, is.text, is.text)]]);
	};
	const edited = () => filesOf(editMine(writing, mine), own);
	const anew = () => {
		const draft = startDraft(after);
		writeAnew(writing, draft, mine);
		return filesOf(draft, new Map());
	};
	return [
		// Copies do not stay in a file by themselves.
		...(copies === 0 ? [() => own] : []),
		...(copies === 0 && to !== path ? [() => new Map([[to, fileContent(file)]])] : []),
		...(whole ? [byLines, anew] : copies > MANY_COPIES ? [anew, edited] : [edited, anew])
	];
}

/**
 * What came of files of my mod that have to be written together: the files in their place, or why no way of writing them
 * says what is wanted.
 */
export function carryFiles(writing: Writing, group: readonly MyFile[]): Map<string, FileContent> | string {
	const [first] = group;
	const all: Pick<MyFile, 'claims' | 'wants'> = {
		claims: group.flatMap(({ claims }) => claims),
		wants: [...new Set(group.flatMap(({ wants }) => wants))]
	};
	const together = () => {
		const draft = startDraft(writing.after);
		for (const mine of group) writeAnew(writing, draft, mine);
		return filesOf(draft, new Map());
	};
	const own = () => new Map(group.map(({ path, file }) => [path, fileContent(file)]));
	// Files that only hold copies leave my mod.
	const onlyCopies = all.wants.every(({ what }) => what === 'copy' || what === 'remove');
	const ways = [
		...(onlyCopies ? [() => new Map<string, FileContent>()] : []),
		...(group.length === 1 ? waysFor(writing, first!) : [own, together])
	];
	let why = '';
	for (const way of ways)
		try {
			const files = way();
			for (const content of files.values()) bytesOf(content);
			const wrong = unlikeWanted(writing, all, files);
			if (wrong === null) return files;
			why = wrong;
		} catch (fault) {
			// My letters may not be in the encoding of the new version.
			if (!(fault instanceof EditRefused || fault instanceof Unwritable)) throw fault;
			why = fault.message;
		}
	return why;
}
