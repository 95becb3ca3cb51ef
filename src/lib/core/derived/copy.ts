// A file that has records of other files once more, in a form of its own, such as a compiled table: made anew from them
// by the way it is read.
import { applySplices, contentOf, together, type Content, type FileContent, type Splice } from '../change';
import {
	EditRefused,
	formatFor,
	readDocument,
	type Document,
	type Format,
	type RecordNode,
	type ValueWrite
} from '../formats';
import { claimAt, hintsFor, matchPath, type DerivedGuide, type Guide } from '../guide';
import { textLike } from '../text';
import type { Sources } from './derived';
import { recordsIn, type WrittenRecord } from './records';

/** All records that the copy is made from, as the game has them with my mod: what comes later counts. */
function sourceRecords(
	guide: Guide,
	about: DerivedGuide,
	{ mine, below, belowPaths }: Sources
): Map<string, Record<string, string>> {
	const found = new Map<string, Record<string, string>>();
	const isOf = ({ kind }: WrittenRecord) => about.of === undefined || about.of.includes(kind);
	const take = (path: string, bytes: Uint8Array | undefined) => {
		for (const record of bytes ? recordsIn(guide, path, bytes) : []) {
			if (!isOf(record)) continue;
			const byField = guide.kinds[record.kind]?.merge === 'field';
			found.set(record.id, byField ? { ...found.get(record.id), ...record.fields } : record.fields);
		}
	};
	const paths = [...new Set([...belowPaths, ...mine.keys()])]
		.filter((path) => path !== about.file && about.from.some((glob) => matchPath(glob, path)))
		.sort();
	for (const path of paths) {
		const own = mine.get(path);
		const replaces =
			own !== undefined &&
			recordsIn(guide, path, own).every(({ kind }) => guide.kinds[kind]?.merge === 'file');
		if (!replaces && belowPaths.has(path)) take(path, below(path));
	}
	for (const path of paths) take(path, mine.get(path));
	return found;
}

/** A file that is changed step by step, and read again after each. */
class Work {
	readonly format: Format;
	doc: Document;
	#byId: Map<string, RecordNode> | null = null;
	constructor(
		readonly guide: Guide,
		readonly path: string,
		public content: FileContent
	) {
		const format = formatFor(path, hintsFor(guide, path));
		const doc = this.read();
		if (!format || !doc) throw new EditRefused(`The field guide does not say how ${path} is written.`);
		[this.format, this.doc] = [format, doc];
	}
	private read() {
		return readDocument(this.path, contentOf(this.content), hintsFor(this.guide, this.path));
	}
	edit(splices: readonly Splice<Content>[]): void {
		const { content } = this;
		if (splices.length === 0) return;
		this.content =
			content instanceof Uint8Array
				? applySplices(content, splices as Splice<Uint8Array>[])
				: textLike(applySplices(content.text, splices as Splice[]), content, content);
		this.doc = this.read()!;
		this.#byId = null;
	}
	/** Sets values: with one splicing of the file, where they do not touch. @throws EditRefused */
	write(writes: readonly ValueWrite[]): void {
		const { format, doc } = this;
		const one = ({ record, path, value }: ValueWrite) => format.set(this.doc, record, path, value);
		const all = format.setMany ? format.setMany(doc, writes) : together(writes.map(one));
		if (all) this.edit(all);
		else for (const write of writes) this.edit(one({ ...write, record: this.record(write.record.id)! }));
	}
	/** The records that a kind of the guide has there: those of the first part, of a file with several. */
	records(): readonly RecordNode[] {
		const { doc, guide, path } = this;
		let first = 0;
		const parts = doc.parts?.map(({ spec, doc: part }) => {
			const place = { spec, first };
			first += part.records.length;
			return place;
		});
		return doc.records.filter((_, nth) => claimAt(guide, path, parts, nth) !== null);
	}
	record(id: string): RecordNode | undefined {
		// Of two with one id the first.
		this.#byId ??= new Map([...this.doc.records].reverse().map((record) => [record.id, record]));
		return this.#byId.get(id);
	}
}

const isSame = (is: string, wanted: string): boolean =>
	is === wanted || (is.trim() !== '' && wanted.trim() !== '' && Number(is) === Number(wanted));

/** Fields that the copy has, too, with the values that they are to have where they differ. */
function different(record: RecordNode, wanted: Readonly<Record<string, string>>): [string, string][] {
	return record.fields.flatMap(({ path, value }): [string, string][] => {
		const next = wanted[path];
		return next === undefined || isSame(String(value ?? ''), next) ? [] : [[path, next]];
	});
}

/**
 * The copy as it is to be: each record has the values of the record of its id, new ones are behind the others, and
 * those that are gone are not in it.
 * @throws EditRefused where the copy cannot hold what it is made from, with what would fit
 */
export function followCopy(
	guide: Guide,
	about: DerivedGuide,
	model: FileContent,
	sources: Sources
): FileContent {
	const wanted = sourceRecords(guide, about, sources);
	const work = new Work(guide, about.file, model);
	const there = new Set(work.records().map(({ id }) => id));
	if (there.size > 0 && wanted.size > 0 && ![...there].some((id) => wanted.has(id)))
		throw new EditRefused(`No record of ${about.file} has the id of one that it is made from.`);
	for (const id of there) if (!wanted.has(id)) work.edit(work.format.remove(work.doc, work.record(id)!));
	for (const id of wanted.keys()) {
		if (!there.has(id)) {
			const like = work.records().at(-1);
			if (!like) throw new EditRefused(`${about.file} has no record that a new one could be made like.`);
			work.edit(work.format.insert(work.doc, work.doc, like));
			work.edit(work.format.rename(work.doc, work.records().at(-1)!, id));
		}
	}
	const writes = [...wanted].flatMap(([id, fields]) => {
		const record = work.record(id)!;
		return different(record, fields).map(([path, value]): ValueWrite => ({ record, path, value }));
	});
	if (writes.length > 0) work.write(writes);
	return work.content;
}
