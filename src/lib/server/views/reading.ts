// How a file can be read: what each way gives, for a page that asks before anything is said in the guide.
import * as z from 'zod';
import { claimsOf, globMatcher, statementIn, writtenSchema } from '$core/guide';
import type { Content } from '$core/change';
import {
	explainedBy,
	explainedBytes,
	fieldsIn,
	placesIn,
	proposalsFor,
	proposalsForBytes,
	readBytesIn,
	readIn,
	type ReadHow
} from '$core/infer';
import { layoutFrom, linesOf, type TextDocument } from '$core/formats';
import type { LayerFile, Layer } from '$core/stack';
import type { ReadingPage, ReadPreview } from '$core/views';
import { NotThere } from '../faults';
import type { Model } from '../model';
import { bytesPage } from './bytes';
import { layerIn } from './file';

/** How a file is to be read, as it is asked. */
export const howSchema = z.object({
	format: writtenSchema.shape.format,
	layout: writtenSchema.shape.layout,
	header: writtenSchema.shape.header,
	quote: writtenSchema.shape.quote,
	comment: writtenSchema.shape.comment,
	separator: z.string().max(20).optional(),
	at: z.string().max(200).nullable().optional(),
	key: z.string().max(200).optional()
});

const MOST_LINES = 400;
const MOST_ROWS = 12;
const MOST_COLUMNS = 8;
const MOST_PROBLEMS = 20;

/** A file of a layer, as text or as bytes. @throws NotThere */
function contentOf(
	{ stack }: Model,
	layerId: string,
	path: string
): { layer: Layer; file: LayerFile; content: Content } {
	const layer = layerIn(stack, layerId);
	const file = layer?.files.get(path);
	if (!layer || !file) throw new NotThere(`There is no file ${path} in this layer.`);
	return { layer, file, content: file.text?.text ?? file.bytes() };
}

function previewIn(content: Content, how: ReadHow): ReadPreview {
	const doc = typeof content === 'string' ? readIn(content, how) : readBytesIn(content, how);
	const counts = fieldsIn(doc);
	const columns = [...counts.keys()].slice(0, MOST_COLUMNS);
	const values = doc.records
		.slice(0, 2000)
		.map((record) => new Map(record.fields.map(({ path, value }) => [path, String(value ?? '')])));
	const unique = (path: string) => {
		const all = values.map((own) => own.get(path));
		return (
			all.length > 1 && !all.includes(undefined) && !all.includes('') && new Set(all).size === all.length
		);
	};
	return {
		records: doc.records.length,
		explained:
			typeof content === 'string'
				? explainedBy(doc as TextDocument, linesOf(content).all.length)
				: explainedBytes(doc),
		places: placesIn(doc),
		at: doc.at ?? null,
		fields: [...counts].map(([path, filled]) => ({ path, filled, unique: unique(path) })),
		problems: doc.problems.slice(0, MOST_PROBLEMS).map(({ line, message }) => ({ line, message })),
		starts: doc.records.slice(0, MOST_LINES * 2).map(({ line }) => line),
		rows: doc.records.slice(0, MOST_ROWS).map((record, nth) => ({
			id: record.id,
			line: record.line,
			values: columns.map((path) => values[nth]?.get(path.replaceAll('[]', '[0]')) ?? '')
		})),
		fault: doc.records.length === 0 ? 'Read like this, the file has no records.' : null,
		bytes:
			typeof content === 'string' ? null : bytesPage(content, doc, { below: null, at: 0, kindOf: () => null })
	};
}

/** What one way of reading a file gives. @throws NotThere */
export const previewReading = (model: Model, layer: string, path: string, how: ReadHow): ReadPreview =>
	previewIn(contentOf(model, layer, path).content, how);

/** The same by a layout that somebody pasted. @throws NotThere, NotPacked */
export function previewPasted(model: Model, layer: string, path: string, written: string): ReadPreview {
	const how: ReadHow = { format: 'packed', layout: layoutFrom(written) };
	return { ...previewReading(model, layer, path, how), how };
}

/** Ways to say which files are meant: this one, those of its ending beside it, those anywhere. */
function globsFor({ stack }: Model, path: string, told: readonly string[]): ReadingPage['files'] {
	const paths = new Set(stack.layers.flatMap(({ files }) => [...files.keys()]));
	const slash = path.lastIndexOf('/') + 1;
	const dot = path.lastIndexOf('.');
	const ending = dot > slash ? path.slice(dot) : '';
	const escaped = path.replace(/[\\*?[\]{}()!+@]/g, '\\$&');
	// What was detected as one kind belongs together.
	const globs = [
		escaped,
		...(ending ? [`${path.slice(0, slash)}*${ending}`] : []),
		...told.filter((glob) => glob !== escaped),
		...(ending ? [`**/*${ending}`] : [])
	];
	const counted = globs.map((glob) => {
		const fits = globMatcher(glob);
		return { glob, count: [...paths].filter((one) => fits(one)).length, told: told.includes(glob) };
	});
	return counted.filter(({ count }, nth) => nth === 0 || count > counted[nth - 1]!.count);
}

/** Everything that the page of choosing shows at first. @throws NotThere */
export function readingOf(model: Model, layerId: string, path: string): ReadingPage {
	const { layer, file, content } = contentOf(model, layerId, path);
	const { guide } = model.stack;
	// As it is read now comes first; what else would do, behind it.
	const about = guide.kinds[claimsOf(guide, path)[0]?.kind ?? ''];
	const { encoding: _, ...written } = about?.written ?? {};
	const separator = about?.separator;
	const format = file.facts?.format;
	const at = about?.at === undefined ? {} : { at: about.at };
	const now = format ? { ...written, ...(separator ? { separator } : {}), ...at, format } : null;
	const first = now ? [now as ReadHow] : [];
	const proposals =
		typeof content === 'string' ? proposalsFor(content, first) : proposalsForBytes(content, first);
	const lines = typeof content === 'string' ? content.split(/\r\n|\n|\r/) : [];
	const stem = path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');
	const base = stem.replace(/[^\p{L}\p{N}_-]+/gu, '_') || 'file';
	let kind = base;
	for (let nth = 2; Object.hasOwn(guide.kinds, kind); nth++) kind = `${base}_${nth}`;
	const kinds = [...new Set(claimsOf(guide, path).map((claim) => claim.kind))];
	const isMine =
		kinds[0] !== undefined && statementIn(model.project.ownGuide, ['kinds', kinds[0]]) !== undefined;
	return {
		path,
		layer: { id: layer.id, title: layer.title },
		now: {
			kinds: kinds.map((one) => ({
				kind: one,
				title: guide.kinds[one]!.title,
				said:
					statementIn(model.project.guide, ['kinds', one]) !== undefined
						? 'shared'
						: statementIn(model.project.ownGuide, ['kinds', one]) !== undefined
							? 'mine'
							: null
			})),
			format: file.facts?.format ?? null
		},
		proposals,
		preview: previewIn(content, proposals[0]?.how ?? { format: 'lines' }),
		files: globsFor(model, path, about && (about.inferred || isMine) ? about.files : []),
		suggested:
			about && (about.inferred || isMine)
				? { kind: kinds[0]!, title: about.title }
				: { kind, title: stem.replace(/[_-]+/g, ' ').replace(/^./, (letter) => letter.toUpperCase()) },
		lines: lines.slice(0, MOST_LINES).map((line) => line.slice(0, 400)),
		total: lines.length
	};
}
