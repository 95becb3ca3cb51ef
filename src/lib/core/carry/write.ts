// My mod's files on the new version: what is to be there is known, record by record; each way of writing it is read again
// before it counts.
import { applyPlan, type FileContent, type Files } from '../change';
import {
	removeRecord,
	setField,
	startDraft,
	take,
	writeMany,
	type CellWrite,
	type Draft,
	type Place
} from '../edits';
import { EditRefused, partOf, type Document, type RecordNode } from '../formats';
import { claimsOf, hintsFor, isFromPath, type Claim } from '../guide';
import {
	buildStack,
	fileContent,
	isEditable,
	openFileOf,
	recordKey,
	type Layer,
	type LayerFile,
	type Presence,
	type Stack
} from '../stack';
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

/** The stack of the new version with some files as my mod. */
export function stackWith(after: Stack, files: ReadonlyMap<string, FileContent>): Stack {
	const { guide, pool } = after;
	const opened = new Map(
		[...files]
			.sort(([a], [b]) => (a < b ? -1 : 1))
			.map(([path, file]) => [path, openFileOf(path, file, hintsFor(guide, path), pool)])
	);
	const layers = after.layers.map((layer): Layer =>
		isEditable(layer) ? { ...layer, files: opened } : layer
	);
	return buildStack(layers, guide, pool, after);
}

/** The value of a want that a file says: of texts, the one of its language. */
const inLanguage = (values: ReadonlyMap<string, string>, language: string | undefined): Unit =>
	language === undefined ? values : new Map(values.has(language) ? [[language, values.get(language)!]] : []);

/**
 * What is not as it is wanted with some files as my mod: a record of theirs, or one that they should not change; null where
 * all is.
 */
function unlikeWanted(
	{ after }: Writing,
	{ claims, wants }: Pick<MyFile, 'claims' | 'wants'>,
	files: ReadonlyMap<string, FileContent>
): string | null {
	const stack = stackWith(after, files);
	for (const { kind, language, removes } of claims) {
		const [now, base] = [stack.tables.get(kind), after.tables.get(kind)];
		if (!now || !base) return `There is no kind ${kind}.`;
		const byId = new Map(wants.filter((want) => want.kind === kind).map((want) => [want.id, want]));
		const key = now.guide.key;
		const bare = (values: Unit) =>
			new Map([...inLanguage(values, language)].filter(([path]) => path !== key && !isFromPath(path)));
		/** The first value in which a record is not as it is to be, as a sentence; null where it is. */
		const unlike = (id: string, is: Unit, want: Unit): string | null => {
			const [has, wanted] = [bare(is), bare(want)];
			for (const path of new Set([...wanted.keys(), ...has.keys()]))
				if (has.get(path) !== wanted.get(path))
					return `${path} of ${id} would be ${has.get(path) ?? 'absent'} instead of ${wanted.get(path) ?? 'absent'}.`;
			return null;
		};
		for (const [id, want] of byId) {
			const record = now.byId.get(id);
			if (want.what === 'remove') {
				if (record) return `${id} would still be there.`;
				continue;
			}
			const wrong = record ? unlike(id, valuesIn(record), want.values) : `${id} would be gone.`;
			if (wrong) return wrong;
		}
		if (removes) continue;
		for (const id of new Set([...now.byId.keys(), ...base.byId.keys()])) {
			if (byId.has(id)) continue;
			const [is, was] = [now.byId.get(id), base.byId.get(id)];
			if (!is || !was) return `${id} would be ${is ? 'new' : 'gone'}.`;
			const wrong =
				is.presences.some(({ layer }) => isEditable(layer)) && unlike(id, valuesIn(is), valuesIn(was));
			if (wrong) return wrong;
		}
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
		const id = path === undefined ? want.id : want.from.id;
		const record = stack.tables.get(want.kind)?.byId.get(id);
		if (!record || record.presences.some(({ language }) => language !== undefined)) continue;
		if (path !== undefined && !record.presences.some((one) => isEditable(one.layer) && one.path === path))
			continue;
		const differing = [...want.values].filter(([field, value]) => record.value(field) !== value);
		const isSimple =
			(id === want.id || path === undefined) &&
			differing.every(([field]) => record.values.has(field)) &&
			[...record.values.keys()].every(
				(field) => want.values.has(field) || field === stack.guide.kinds[want.kind]!.key
			);
		if (!isSimple) continue;
		done.add(want);
		cells.push(...differing.map(([field, value]) => ({ record, field, value, verbatim: true })));
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
function editMine(
	writing: Writing,
	{ path, wants, claims }: MyFile,
	files: ReadonlyMap<string, FileContent>
): Draft {
	const { after, moves } = writing;
	const stack = stackWith(after, files);
	const draft = startDraft(stack);
	const to = moves.file(path);
	writeSimple(draft, stack, wants, path);
	for (const want of wants) {
		const { from } = want;
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
		const [was, is] = [belowFile(before, path), belowFile(after, to)];
		if (!was?.text || !is?.text || !file.text)
			throw new EditRefused('There is no such text in both versions.');
		const merged = mergeLines(file.text.text, was.text.text, is.text.text);
		if (merged === null) throw new EditRefused('The changes touch each other.');
		return new Map([[to, { ...is.text, text: merged }]]);
	};
	const edited = () => filesOf(editMine(writing, mine, own), own);
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
			const wrong = unlikeWanted(writing, all, files);
			if (wrong === null) return files;
			why = wrong;
		} catch (fault) {
			if (!(fault instanceof EditRefused)) throw fault;
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
	for (const [path, file] of before.mine?.files ?? []) {
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
