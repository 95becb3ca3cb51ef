import { lineAt } from '../text';
import type { TextDocument, FieldNode, RecordNode, Scalar, TakeField } from './document';
import { leadFrom, remarkOf, startOf, trailTo } from './tape';

/** How a format makes a record out of a node of its tape. */
export interface RecordShape {
	/** Where the id is written; null where it is not. */
	idSpan(doc: TextDocument, node: number): { from: number; to: number } | null;
	/** The written id; empty for none. */
	id(doc: TextDocument, node: number): string;
	fields(doc: TextDocument, node: number): FieldNode[];
	/** The same, without a list of them. */
	each?(doc: TextDocument, node: number, take: TakeField): void;
	/** One value, without making all of them; undefined where there is none. */
	valueAt?(doc: TextDocument, node: number, path: string): Scalar | undefined;
	/** Where a node ends with the mark that closes it, where it has one. */
	endOf?(doc: TextDocument, node: number): number;
	/** Whether commentary behind the record on its line is part of it; not where a separator is between. */
	trail: boolean;
}

/** The node that a record is as a whole: itself, or the item of a list in which it stands alone under its name. */
export const unitOf = ({ wrapped }: Pick<TextDocument, 'wrapped'>, node: number): number =>
	wrapped ? node - 1 : node;

/** A record that is a place on the tape until somebody asks for more. */
class LazyRecord implements RecordNode {
	constructor(
		private readonly doc: TextDocument,
		readonly node: number,
		/** Its number among the records without an id, from 1. */
		private readonly nth: number,
		private readonly shape: RecordShape
	) {}
	get idSpan() {
		return this.shape.id(this.doc, this.node) === '' ? null : this.shape.idSpan(this.doc, this.node);
	}
	get id() {
		const id = this.shape.id(this.doc, this.node);
		if (id !== '') return id;
		const { at, hints } = this.doc;
		return (at === null && hints.id) || `${hints.prefix ?? ''}#${this.nth}`;
	}
	/** What is put in, taken out and moved with it. */
	private get unit() {
		return unitOf(this.doc, this.node);
	}
	get from() {
		return leadFrom(this.doc.tape, startOf(this.doc.tape, this.unit));
	}
	get to() {
		const to = this.shape.endOf?.(this.doc, this.unit) ?? this.doc.tape.to(this.unit);
		return this.shape.trail ? trailTo(this.doc.tape, to) : to;
	}
	get line() {
		return lineAt(this.doc.lines, startOf(this.doc.tape, this.unit));
	}
	get fields() {
		return this.shape.fields(this.doc, this.node);
	}
	eachField(take: TakeField) {
		if (this.shape.each) this.shape.each(this.doc, this.node, take);
		else for (const { path, value, remark } of this.fields) take(path, value, remark);
	}
	get home() {
		return this.doc;
	}
	valueAt(path: string) {
		if (this.shape.valueAt) return this.shape.valueAt(this.doc, this.node, path);
		return this.fields.findLast((field) => field.path === path)?.value;
	}
	within(part: TextDocument, nth: number) {
		return new LazyRecord(part, this.node, nth, this.shape);
	}
	get remark() {
		return remarkOf(this.doc.tape, startOf(this.doc.tape, this.unit), this.doc.tape.to(this.unit));
	}
}

/** Adds the record at a node to the document; `nth` counts from 1. */
export function addRecord(doc: TextDocument, node: number, nth: number, shape: RecordShape): void {
	doc.records.push(new LazyRecord(doc, node, nth, shape));
}
