// My mod's files on the new version: what is to be there is known, record by record; each way of writing it is read again
// before it counts.
import { applyPlan, bytesOf, type FileContent, type Files } from '../change';
import {
	removeRecord,
	setField,
	startDraft,
	take,
	valuesOf,
	writeMany,
	type CellWrite,
	type Draft,
	type Place
} from '../edits';
import { EditRefused, partOf, type Document, type RecordNode } from '../formats';
import { claimsOf, hintsFor, isFromPath, type Claim } from '../guide';
import {
	fileContent,
	isEditable,
	openFileOf,
	ownFiles,
	recordKey,
	unitOf,
	withFiles,
	withKinds,
	type Layer,
	type LayerFile,
	type Presence,
	type Stack
} from '../stack';
import { textLike, Unwritable } from '../text';
import type { Want } from './decide';
import { valuesIn } from './mine';
import type { Moves } from './moves';
import { itemsOf, mergeLines, sameUnit, unitsOf, type Unit } from './three';

/** What the writing of files leans on. */
export interface Writing {
	before: Stack;
	/** The layers of the new version with my mod empty. */
	after: Stack;
	moves: Moves;
	wants: readonly Want[];
}

/** A file of my mod that holds data, and what is to come of its records. */
export interface MyFile {
	path: string;
	file: LayerFile;
	claims: readonly Claim[];
	wants: Want[];
	/** How the kinds in it are merged: the whole file, or less. */
	whole: boolean;
}

/** The stack of the new version with some files as my mod. @param kinds those that are looked into */
export function stackWith(
	after: Stack,
	files: ReadonlyMap<string, FileContent>,
	kinds: Iterable<string> = after.tables.keys()
): Stack {
	const { guide, pool } = after;
	const at = after.layers.findIndex(isEditable);
	const empty: Layer = { ...after.layers[at]!, files: new Map() };
	const mine = withFiles(empty, files, guide, pool, after.layers.slice(0, at));
	return withKinds(after, after.layers.with(at, mine), kinds);
}

/** What names a record, and what is made from its path, is said by where it stands. */
const bare = (values: Unit, key: string | undefined): Unit =>
	new Map([...values].filter(([path]) => path !== key && !isFromPath(path)));

/** The first value in which a record is not as it is to be, as a sentence; null where it is. */
function unlike(id: string, is: Unit, wanted: Unit): string | null {
	for (const path of new Set([...wanted.keys(), ...is.keys()]))
		if (is.get(path) !== wanted.get(path))
			return `${path} of ${id} would be ${is.get(path) ?? 'absent'} instead of ${wanted.get(path) ?? 'absent'}.`;
	return null;
}

/** What is wrong with the records of one kind in a file as it would be; null where all are as they are wanted. */
function wrongIn(
	{ after }: Writing,
	{ kind, language, removes }: Claim,
	values: ReadonlyMap<string, Unit>,
	base: ReadonlyMap<string, Unit>,
	wants: ReadonlyMap<string, Want>
): string | null {
	const { key, merge } = after.guide.kinds[kind]!;
	for (const [id, said] of values) {
		const is = bare(said, key);
		const want = wants.get(id);
		if (removes) {
			const there = after.tables.get(kind)?.byId.get(id);
			const wrong =
				there && want?.what === 'remove'
					? unlike(id, is, bare(valuesIn(there), key))
					: `${id} is not to be removed.`;
			if (wrong) return wrong;
			continue;
		}
		if (want?.what === 'remove') return `${id} would still be there.`;
		const whole = want && want.what !== 'copy' ? want.values : base.get(id);
		if (!whole) return `${id} would be there.`;
		const wanted = bare(whole, key);
		if (language !== undefined) {
			if (is.get(language) !== wanted.get(language)) return `The text of ${id} would not be as it is to be.`;
		} else if (merge === 'field') {
			const own = [...wanted].filter(([path]) => is.has(path) || want?.own.has(unitOf(path)));
			const wrong = unlike(id, is, new Map(own));
			if (wrong) return wrong;
		} else {
			const wrong = unlike(id, is, wanted);
			if (wrong) return wrong;
		}
	}
	if (!removes && merge === 'file')
		for (const id of base.keys())
			if (!values.has(id) && wants.get(id)?.what !== 'remove') return `${id} would be gone.`;
	return null;
}

/**
 * What is not as it is wanted in files as they would be: a record of theirs, or one that they should not change; null where
 * all is.
 */
function unlikeWanted(
	writing: Writing,
	{ claims, wants }: Pick<MyFile, 'claims' | 'wants'>,
	files: ReadonlyMap<string, FileContent>
): string | null {
	const { after } = writing;
	const { guide, pool } = after;
	/** Records that are in one of the files. */
	const found = new Set<string>();
	for (const [path, content] of files) {
		const file = openFileOf(path, content, hintsFor(guide, path), pool);
		if (
			file.facts &&
			file.facts.problems.length > 0 &&
			!writing.before.mine?.files.get(path)?.facts?.problems.length
		)
			return `${path} could not be read whole.`;
		const below = belowFile(after, path);
		for (const claim of claimsOf(guide, path)) {
			const byId = new Map(wants.filter(({ kind }) => kind === claim.kind).map((want) => [want.id, want]));
			const values = valuesOf(file, claim);
			const wrong = wrongIn(writing, claim, values, valuesOf(below, claim), byId);
			if (wrong) return wrong;
			for (const id of values.keys()) found.add(recordKey(claim.kind, id));
		}
	}
	const removers = claims.some(({ removes }) => removes);
	for (const { kind, id, what } of wants) {
		const there = found.has(recordKey(kind, id));
		if (what === 'remove') {
			const record = after.tables.get(kind)?.byId.get(id);
			const isWhole = guide.kinds[kind]?.merge === 'file';
			if (record && !there && (removers || (isWhole && !files.has(record.presences.at(-1)!.path))))
				return `${id} would still be there.`;
		} else if (what !== 'copy' && !there) return `${id} would be gone.`;
	}
	return null;
}

/** Where a field or list can be taken from as a whole. */
interface Source {
	doc: Document;
	record: RecordNode;
}

const nodeValues = ({ fields }: RecordNode): Map<string, string> =>
	new Map(fields.map(({ path, value }) => [path, String(value ?? '')]));

/** Brings a field or list of a record of my mod to what it is to say. @throws EditRefused where the format cannot */
function bringUnit(draft: Draft, place: Place, unit: string, want: Unit, sources: readonly Source[]): void {
	const { path, kind } = place;
	const format = draft.format(path);
	const node = () => {
		const found = draft.record(place);
		if (!found) throw new EditRefused(`${path} has no record ${place.id}.`);
		return found;
	};
	const doc = () => draft.doc(path, kind)!;
	const have = () => unitsOf(nodeValues(node())).get(unit) ?? new Map<string, string>();
	const now = have();
	if (sameUnit(now, want)) return;
	const set = () => {
		for (const [field, value] of want)
			if (have().get(field) !== value) setField(draft, place, { field, value });
	};
	if (now.size === want.size && [...want.keys()].every((field) => now.has(field))) return set();
	if (want.size === 0) {
		const splices = format.unset(doc(), node(), unit);
		if (splices.length > 0) draft.edit(path, splices);
		else
			for (let left = itemsOf(unit, now).length; left > 0; left--)
				draft.edit(path, format.removeItem(doc(), node(), unit, left - 1));
		return;
	}
	if (now.size === 0 && format.parts) {
		// After a model, a number stays a number and a text a text.
		const held = (one: Source) => unitsOf(nodeValues(one.record)).get(unit);
		const model = sources.find((one) => {
			const there = held(one);
			return there?.size === want.size && [...want.keys()].every((field) => there.has(field));
		});
		if (model) {
			draft.edit(path, format.parts.insert(doc(), node(), unit, { ...model, path: unit }));
			return set();
		}
	}
	if (now.size === 0 && want.size === 1 && want.has(unit)) return set();
	const items = itemsOf(unit, want);
	const scalars = items.length > 0 && items.every((item) => item.size === 1 && item.has(''));
	const source = sources.find((one) =>
		sameUnit(unitsOf(nodeValues(one.record)).get(unit) ?? new Map<string, string>(), want)
	);
	if (now.size > 0 && scalars && itemsOf(unit, now).every((item) => item.has(''))) {
		const texts = items.map((item) => item.get('')!);
		const old = itemsOf(unit, now).length;
		for (let nth = old; nth < texts.length; nth++)
			draft.edit(path, format.insertItem(doc(), node(), unit, nth, { value: texts[nth]! }));
		for (let nth = old; nth > texts.length; nth--)
			draft.edit(path, format.removeItem(doc(), node(), unit, nth - 1));
		return set();
	}
	if (source && format.parts) {
		if (now.size > 0) draft.edit(path, format.unset(doc(), node(), unit));
		draft.edit(
			path,
			format.parts.insert(doc(), node(), unit, { doc: source.doc, record: source.record, path: unit })
		);
		return;
	}
	throw new EditRefused(`${unit} of ${place.id} cannot be written in ${path}.`);
}

/** The version of a record that my mod's file had. */
function mineOf({ before }: Writing, want: Want, path: string): Presence | undefined {
	const record = before.tables.get(want.from.kind)?.byId.get(want.from.id);
	return record?.presences.findLast((one) => isEditable(one.layer) && one.path === path);
}

const sourceOf = (presence: Presence | undefined): Source[] =>
	presence ? [{ doc: presence.doc, record: presence.record }] : [];

/** The field under which a file of one language has its text. */
const textField = (node: RecordNode): string => {
	const names = node.fields.map(({ path }) => path);
	return names.includes('text') ? 'text' : names[0]!;
};

/** Brings a record that is in a file of my mod to what is wanted. @param only the fields and lists that are looked at */
function bringRecord(
	writing: Writing,
	draft: Draft,
	place: Place,
	want: Want,
	language: string | undefined,
	only?: (unit: string) => boolean
): void {
	const { after } = writing;
	if (language !== undefined) {
		const value = want.values.get(language);
		const node = draft.record(place);
		if (value === undefined || !node) throw new EditRefused(`${place.path} has no text ${place.id}.`);
		const field = textField(node);
		if (nodeValues(node).get(field) !== value) setField(draft, place, { field, value });
		return;
	}
	const key = after.guide.kinds[want.kind]?.key;
	const mine =
		mineOf(writing, want, place.path) ?? mineOf(writing, want, want.from.is?.presences.at(-1)?.path ?? '');
	const there = after.tables.get(want.kind)?.byId.get(want.id);
	const sources = [
		...sourceOf(mine),
		...[...(want.from.is?.presences ?? []), ...(there?.presences ?? [])]
			.flatMap((one) => sourceOf(one))
			.reverse()
	];
	const wanted = unitsOf(want.values);
	const units = new Set([...unitsOf(nodeValues(draft.record(place)!)).keys(), ...wanted.keys()]);
	for (const unit of units) {
		if (unit === key || isFromPath(unit) || (only && !only(unit))) continue;
		bringUnit(draft, place, unit, wanted.get(unit) ?? new Map<string, string>(), sources);
	}
}

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

/**
 * Records of which all files of my mod together do not make what is wanted, with what is wrong: a last look at the game as
 * it will be.
 */
export function* wrongTogether(
	{ after, wants }: Writing,
	files: ReadonlyMap<string, FileContent>
): Generator<{ want: Want; why: string }> {
	const stack = stackWith(after, files, new Set(wants.map(({ kind }) => kind)));
	for (const want of wants) {
		const { kind, id, what } = want;
		const key = after.guide.kinds[kind]?.key;
		const record = stack.tables.get(kind)?.byId.get(id);
		const wrong =
			what === 'remove'
				? record && `${id} is still there.`
				: record
					? unlike(id, bare(valuesIn(record), key), bare(want.values, key))
					: `${id} is gone.`;
		if (wrong) yield { want, why: wrong };
	}
}

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
		const [was, is] = [belowFile(before, path), belowFile(after, to)];
		if (!was?.text || !is?.text || !file.text)
			throw new EditRefused('There is no such text in both versions.');
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

/** The file of a path in the layers below my mod that the game reads. */
export const belowFile = ({ layers }: Stack, path: string): LayerFile | undefined =>
	layers
		.filter((layer) => !isEditable(layer) && layer.on !== false)
		.findLast(({ files }) => files.has(path))
		?.files.get(path);

/** Files that have to be written together: where the game reads whole files, and a record went from one to another. */
export function filesTogether({ after, moves }: Writing, files: readonly MyFile[]): MyFile[][] {
	const groups = new Map<string, MyFile[]>();
	for (const mine of files) {
		const paths = new Set([mine.path, moves.file(mine.path)]);
		if (mine.whole)
			for (const { kind, id, what } of mine.wants) {
				const record = what === 'copy' ? undefined : after.tables.get(kind)?.byId.get(id);
				if (record) paths.add(record.presences.at(-1)!.path);
			}
		const joined = [...new Set([...paths].flatMap((path) => groups.get(path) ?? []))];
		const group = [...joined, mine];
		for (const path of paths) groups.set(path, group);
		for (const [path, other] of groups)
			if (other.some((one) => joined.includes(one))) groups.set(path, group);
	}
	return [...new Set(groups.values())];
}

/** The files of my mod that hold data of known kinds, with what is wanted of their records. */
export function myDataFiles({ before, after, wants }: Writing): MyFile[] {
	const byRecord = new Map<string, Want>();
	for (const want of wants) byRecord.set(recordKey(want.from.kind, want.from.id), want);
	const found: MyFile[] = [];
	for (const [path, file] of ownFiles(before.mine?.files ?? new Map())) {
		const claims = claimsOf(before.guide, path).filter(({ kind }) => after.tables.has(kind));
		if (claims.length === 0 || !file.facts?.format) continue;
		const own: Want[] = [];
		for (const { kind } of claims) {
			const table = before.tables.get(kind)!;
			const at = table.files.findIndex((one) => one.file === file);
			const rows = at < 0 ? [] : [...table.rows.rowsOf[at]!].filter((row) => row >= 0);
			const ids = new Set(rows.map((row) => table.pool.at(table.rows.ids[row]!)));
			const hidden = table.hidden.filter((one) => one.file.path === path);
			for (const { facts } of hidden) for (const id of facts.ids) ids.add(table.pool.at(id));
			const removals = table.removals.filter(({ from }) => from.file === file);
			for (const { from, nth } of removals) ids.add(table.pool.at(from.facts.ids[nth]!));
			for (const id of ids) {
				const want = byRecord.get(recordKey(kind, id));
				if (want) own.push(want);
			}
		}
		const whole = claims.some(({ kind }) => before.guide.kinds[kind]!.merge === 'file');
		found.push({ path, file, claims, wants: own, whole });
	}
	return found;
}
