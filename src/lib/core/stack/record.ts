import { fieldAt, fieldsAt, remarkAt, valueAt, type FactField } from '../facts';
import { FILE, fileIn, FOLDER, folderIn, ID } from '../guide';
import { partOf, type Document, type RecordNode } from '../formats';
import { lineAt } from '../text';
import type { Layer } from './layer';
import { isPlain, saidBy, valuesThatCount } from './merge';
import type { LayerFile } from './files';
import type { Table, TableFile } from './table';

/** A record as one file of one layer has it. */
export interface Presence {
	layer: Layer;
	path: string;
	file: LayerFile;
	/** Its number among the records of the file, from 0. */
	nth: number;
	/** Language of the file, where the kind has languages. */
	language?: string | undefined;
	/** Line of the record, from 1. */
	readonly line: number;
	/** Whether the id is written in the file. */
	readonly written: boolean;
	readonly remark: string | undefined;
	/** One of its fields; undefined where it has none. */
	field(path: string): FactField | undefined;
	/** What the record says from here on: all of it, also where its file says some fields only. */
	readonly fields: FactField[];
	/** The same, each with where it was said: of fields that layers replace one by one, that may be a layer below. */
	readonly cells: (FactField & {
		origin: { presence: Presence; path: string };
		/** What a patch changed it from. */
		was?: { layer: Layer; value: string };
	})[];
	/** The document (of a file with records of several kinds that part of it) and the record in it, opened when first asked for. */
	readonly doc: Document;
	readonly record: RecordNode;
}

/** A value that the game will really see. */
export interface EffectiveValue {
	value: string;
	presence: Presence;
	/** The values below it in the stack, nearest first. */
	overrode: { layer: Layer; value: string }[];
	remark?: string;
}

/** A record after all layers are merged. */
export interface EffectiveRecord {
	kind: string;
	id: string;
	table: Table;
	row: number;
	/** Every file that has it, in load order; the last one counts. */
	readonly presences: Presence[];
	readonly values: ReadonlyMap<string, EffectiveValue>;
	/** One of the values, without making all of them: a record may have tens of thousands. */
	said(field: string): EffectiveValue | undefined;
	/** The same as a text alone; also of what is no field, such as the id. */
	value(field: string): string | undefined;
}

class Standing implements Presence {
	private opened: Document | undefined;
	constructor(
		private readonly from: TableFile,
		readonly nth: number
	) {}
	get layer() {
		return this.from.layer;
	}
	get path() {
		return this.from.file.path;
	}
	get file() {
		return this.from.file;
	}
	get language() {
		return this.from.language;
	}
	get line() {
		return this.from.facts.lines[this.nth]!;
	}
	get written() {
		return this.from.facts.written[this.nth] === 1;
	}
	get remark() {
		return remarkAt(this.from.facts, this.nth);
	}
	field(path: string) {
		return fieldAt(this.from.facts, this.nth, path);
	}
	get fields() {
		return fieldsAt(this.from.facts, this.nth);
	}
	get cells(): Presence['cells'] {
		const { composed } = this.from;
		const homes = new Map<string, Presence>();
		return this.fields.map((field, place) => {
			const origin = composed?.originAt(this.nth, place);
			if (!origin || (origin.from.facts === this.from.facts && origin.nth === this.nth)) {
				const was = composed?.wasAt?.(this.nth, place);
				return {
					...field,
					origin: { presence: this as Presence, path: origin?.path ?? field.path },
					...(was ? { was: { layer: was.from.layer, value: was.from.facts.pool.at(was.value) } } : {})
				};
			}
			const home = `${origin.from.layer.id}|${origin.from.file.path}|${origin.nth}`;
			let presence = homes.get(home);
			if (!presence) homes.set(home, (presence = new Standing(origin.from, origin.nth)));
			return { ...field, origin: { presence, path: origin.path } };
		});
	}
	get doc() {
		return (this.opened ??= partOf(this.from.file.doc!, this.from.spec));
	}
	get record() {
		return this.doc.records[this.nth]!;
	}
}

/**
 * The line, from 1, on which a file says a field of a record: of texts in a language the file's own; that of the record
 * where it says no such field by itself. Opens the file.
 */
export function lineOfField(presence: Presence, field: string): number {
	const { record, language, doc, line } = presence;
	let places = begins.get(record);
	if (!places) {
		places = new Map(record.fields.map(({ path, from }) => [language ?? path, from]));
		begins.set(record, places);
	}
	const from = places.get(field);
	return from === undefined ? line : lineAt(doc.lines, from);
}

/** Where the fields of records begin that were asked for, often many of one record; of texts in a language the last. */
const begins = new WeakMap<RecordNode, Map<string, number | undefined>>();

/** A record that is a row of its table until somebody asks for more. */
export class Row implements EffectiveRecord {
	private known: { presences?: Presence[]; values?: Map<string, EffectiveValue> } = {};
	constructor(
		readonly table: Table,
		readonly row: number
	) {}
	get kind() {
		return this.table.kind;
	}
	get id() {
		return this.table.pool.at(this.table.rows.ids[this.row]!);
	}
	get presences() {
		return (this.known.presences ??= this.stand());
	}
	private stand(): Presence[] {
		const { firsts, file, nth } = this.table.rows;
		const list: Presence[] = [];
		for (let at = firsts[this.row]!; at < firsts[this.row + 1]!; at++)
			list.push(new Standing(this.table.files[file[at]!]!, nth[at]!));
		return list;
	}
	get values() {
		return (this.known.values ??= valuesThatCount(this.table.guide.merge, this.presences));
	}
	said(field: string) {
		const { merge } = this.table.guide;
		if (this.known.values || !isPlain(merge, this.presences)) return this.values.get(field);
		return saidBy(this.presences, field);
	}
	/** Where the version of it is that counts. */
	private lastPath(): string {
		const { firsts, file } = this.table.rows;
		return this.table.files[file[firsts[this.row + 1]! - 1]!]!.file.path;
	}
	/** The folder by which the files of the kind differ. */
	private folder(): string | undefined {
		return folderIn(this.table.guide.files, this.lastPath()) ?? undefined;
	}
	value(field: string) {
		if (field === ID) return this.id;
		if (field === FOLDER) return this.folder();
		if (field === FILE) return fileIn(this.lastPath());
		const { firsts, file, nth } = this.table.rows;
		for (let at = firsts[this.row + 1]! - 1; at >= firsts[this.row]!; at--) {
			const { facts, language } = this.table.files[file[at]!]!;
			if (language === undefined) return valueAt(facts, nth[at]!, field);
			const last = facts.firsts[nth[at]! + 1]! - 1;
			if (language === field && last >= facts.firsts[nth[at]!]!)
				return this.table.pool.at(facts.values[last]!);
		}
		return undefined;
	}
}
