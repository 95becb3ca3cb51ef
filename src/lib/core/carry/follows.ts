// What is said of a game and a mod besides their files, on a new version: the field guide, options and notes go by the
// new names of fields, records and files, as far as these are sure.
import {
	isMap,
	isScalar,
	isSeq,
	parseDocument,
	stringify,
	visit,
	type Document,
	type Scalar,
	type YAMLMap
} from 'yaml';
import { applySplices, type Splice } from '../change';
import { renamedInBraces, targetKey, type Note } from '../guide';
import type { ModOption } from '../options';
import { counted } from '../wording';
import type { GameChanges } from './changes';
import { SURE, type Moves } from './moves';

/** All that is said besides the files. Guides as they are written; null where there is none. */
export interface Sayings {
	shared: string | null;
	mine: string | null;
	options: readonly ModOption[];
	notes: readonly Note[];
}

/** A scalar as it is written, with another value in its place. */
function written({ type }: Scalar, value: string): string {
	if (type === 'QUOTE_SINGLE') return `'${value.replaceAll("'", "''")}'`;
	if (type === 'QUOTE_DOUBLE') return JSON.stringify(value);
	return stringify(value, { lineWidth: 0 }).trimEnd();
}

/** A guide while it is followed: its document, and what is to be written otherwise. */
class Following {
	readonly splices: Splice[] = [];
	constructor(readonly doc: Document) {}

	/** Puts another value in the place of a scalar; every other letter stays. */
	put(node: unknown, valueOf: (value: string) => string): void {
		if (!isScalar(node) || !node.range || typeof node.value === 'object') return;
		const value = String(node.value);
		const next = valueOf(value);
		if (next !== value)
			this.splices.push({ from: node.range[0], to: node.range[1], insert: written(node, next) });
	}

	/** The keys of a map under their new names; what a new name says already stays. */
	keys(map: unknown, nameOf: (name: string) => string): void {
		if (!isMap(map)) return;
		const names = map.items.map(({ key }) => (isScalar(key) ? String(key.value) : null));
		for (const { key } of map.items)
			this.put(key, (name) => (names.includes(nameOf(name)) ? name : nameOf(name)));
	}
}

/** What a guide says of one kind, under the new names of its fields. */
function followKind(guide: Following, about: YAMLMap, nameOf: (path: string) => string): void {
	guide.keys(about.get('fields'), nameOf);
	for (const part of ['costs', 'from']) guide.keys(about.getIn(['budget', part]), nameOf);
	guide.put(about.get('key', true), nameOf);
	for (const [part, name] of [
		['texts', 'key'],
		['assets', 'path']
	] as const) {
		const list = about.get(part);
		for (const item of isSeq(list) ? list.items : [])
			if (isMap(item)) guide.put(item.get(name, true), (text) => renamedInBraces(text, nameOf));
	}
}

/** The steps and blanks of recipes, with records and fields under their new names. */
function followRecipes(guide: Following, moves: Moves): void {
	const recipes = guide.doc.get('recipes', true);
	if (!isMap(recipes)) return;
	visit(recipes, {
		Map(_, map) {
			const kind = map.get('kind');
			if (typeof kind !== 'string') return;
			const record = (id: string) => moves.record(kind, id)?.id ?? id;
			for (const name of ['id', 'example']) guide.put(map.get(name, true), record);
			guide.put(map.get('field', true), (path) => moves.field(kind, path));
		}
	});
}

/** A written guide on the new version; every letter that is no name stays. */
function followGuide(text: string | null, changes: GameChanges, moves: Moves): string | null {
	if (text === null) return null;
	const doc = parseDocument(text, { merge: true, uniqueKeys: false });
	if (doc.errors.length > 0) return text;
	const guide = new Following(doc);
	for (const kind of new Set(changes.fields.map((one) => one.kind))) {
		const about = doc.getIn(['kinds', kind]);
		if (isMap(about)) followKind(guide, about, (path) => moves.field(kind, path));
	}
	const kinds = doc.get('kinds');
	for (const { value } of isMap(kinds) ? kinds.items : []) {
		const files = isMap(value) ? value.get('files') : null;
		for (const file of isSeq(files) ? files.items : []) guide.put(file, (path) => moves.file(path));
	}
	followRecipes(guide, moves);
	return applySplices(
		text,
		guide.splices.sort((a, b) => a.from - b.from)
	);
}

/** An option with the values that it sets under their new names. */
function followOption(option: ModOption, moves: Moves): ModOption {
	const cells = option.cells.map((cell) => {
		const { kind, id } = moves.record(cell.kind, cell.id) ?? cell;
		return { ...cell, kind, id, field: moves.field(cell.kind, cell.field) };
	});
	return JSON.stringify(cells) === JSON.stringify(option.cells) ? option : { ...option, cells };
}

function followNote(note: Note, moves: Moves): Note {
	const { on } = note;
	const { kind, record, field, file } = on;
	const there = kind !== undefined && record !== undefined ? moves.record(kind, record) : undefined;
	const next = {
		...on,
		...(there ? { kind: there.kind, record: there.id } : {}),
		...(kind !== undefined && field !== undefined ? { field: moves.field(kind, field) } : {}),
		...(file === undefined ? {} : { file: moves.file(file) })
	};
	return targetKey(next) === targetKey(on) ? note : { ...note, on: next };
}

/**
 * What is said besides the files, on a new version.
 * @returns what it is then, and in sentences what of it has another name
 */
export function followedSayings(
	now: Sayings,
	changes: GameChanges,
	moves: Moves
): { sayings: Sayings; words: string[] } {
	const sayings: Sayings = {
		shared: followGuide(now.shared, changes, moves),
		mine: followGuide(now.mine, changes, moves),
		options: now.options.map((option) => followOption(option, moves)),
		notes: now.notes.map((note) => followNote(note, moves))
	};
	const guides = sayings.shared !== now.shared || sayings.mine !== now.mine;
	const fields = changes.fields.flatMap((one) =>
		one.what === 'renamed' && one.sure >= SURE
			? [`${one.from} → ${one.to}${one.sure < 1 ? ` (${Math.round(one.sure * 100)} % sure)` : ''}`]
			: []
	);
	const options = sayings.options.filter((option, at) => option !== now.options[at]).length;
	const notes = sayings.notes.filter((note, at) => note !== now.notes[at]).length;
	return {
		sayings,
		words: [
			...(guides
				? [
						`The field guide uses the new names${fields.length > 0 ? `: ${fields.slice(0, 6).join(', ')}${fields.length > 6 ? ' and others' : ''}` : ''}.`
					]
				: []),
			...(options > 0 ? [`${counted(options, 'option uses', 'options use')} the new names.`] : []),
			...(notes > 0
				? [
						`${counted(notes, 'note goes', 'notes go')} along with what ${notes === 1 ? 'it is' : 'they are'} on.`
					]
				: [])
		]
	};
}
