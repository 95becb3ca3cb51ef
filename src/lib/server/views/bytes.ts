// What the bytes of a file belong to, a window at a time.
import {
	hexOf,
	isPacked,
	ownersIn,
	partOf,
	type Document,
	type Owned,
	type PackedDocument
} from '$core/formats';
import { claimsOf, type Guide } from '$core/guide';
import { hiddenRecord, isEditable, type EffectiveRecord, type LayerFile } from '$core/stack';
import type { ByteCell, ByteLine, ByteSource, BytesPage } from '$core/views';

/** Bytes that are shown at a time. */
const WINDOW = 1536;
const A_LINE = 16;

const letters = (bytes: Uint8Array): string =>
	Array.from(bytes, (byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : '·')).join('');

/** The bytes of some owners cut into pieces of one line, where nothing tells them apart. */
function* pieces(owners: readonly Owned[]): Generator<Owned> {
	for (const one of owners) {
		if (one.of !== 'nothing') yield one;
		else
			for (let from = one.from; from < one.to; from += A_LINE)
				yield { ...one, from, to: Math.min(from + A_LINE, one.to) };
	}
}

const isBeside = (line: ByteLine, { of, section, id }: Owned): boolean =>
	of === 'row' || of === 'filler'
		? line.section === (section ?? null) && line.id === (id ?? null) && line.of !== 'pool'
		: (of === 'head' || of === 'sum') && (line.of === 'head' || line.of === 'sum') && line.section === null;

/** The bytes of one thing. */
const cellOf = (bytes: Uint8Array, one: Owned, isMine: (place: number) => boolean): ByteCell => ({
	from: one.from,
	bytes: hexOf(bytes.subarray(one.from, one.to))
		.split(' ')
		.map((hex, nth): [string, boolean] => [hex, isMine(one.from + nth)]),
	path: one.path ?? null,
	value: one.value ?? '',
	of: one.of
});

/** The bytes of a record in each layer that has it in a file of bytes, the highest first. */
export function recordBytes(record: EffectiveRecord): ByteSource[] {
	const { presences } = record;
	const found = presences.flatMap(({ layer, path, doc, record: { from, to } }, nth): ByteSource[] => {
		if (!isPacked(doc)) return [];
		const { bytes } = doc.packed;
		const below = presences[nth - 1] ?? (isEditable(layer) ? hiddenRecord(record) : undefined);
		const under = below && isPacked(below.doc) ? below : undefined;
		const isMine = (place: number) =>
			isEditable(layer) &&
			under !== undefined &&
			(under.doc as PackedDocument).packed.bytes[under.record.from + place - from] !== bytes[place];
		const cells = ownersIn(doc.packed, from, to).map((one) => cellOf(bytes, one, isMine));
		return [{ layer: layer.title, layerId: layer.id, owner: layer.owner, path, from, cells }];
	});
	return found.reverse();
}

/** The whole document of a packed file; null for other files of bytes. */
const packedOf = (doc: Document | null): PackedDocument | null => (doc && isPacked(doc) ? doc : null);

/** The kind of which the rows of a table are. */
const kindIn = (guide: Guide, path: string, doc: PackedDocument) => (section: string) => {
	const claims = claimsOf(guide, path);
	return claims.find(({ spec }) => partOf(doc, spec).at === section)?.kind ?? null;
};

/**
 * Some bytes of a file with what they belong to.
 * @param doc how it is read; null for a file that no layout tells of
 * @param below the file that it stands in for
 * @param at a byte of the window
 */
export function bytesPage(
	bytes: Uint8Array,
	doc: Document | null,
	{ below, at, kindOf }: { below: Uint8Array | null; at: number; kindOf: (section: string) => string | null }
): BytesPage {
	const packed = packedOf(doc)?.packed;
	const size = bytes.length;
	const from = Math.max(0, Math.min(Math.floor(at / WINDOW) * WINDOW, size - 1));
	const to = Math.min(size, from + WINDOW);
	const owners = packed ? ownersIn(packed, from, to) : size > 0 ? [{ from, to, of: 'nothing' as const }] : [];
	const isAlike = below !== null && below.length === size;
	const isMine = (place: number) => isAlike && below[place] !== bytes[place];
	const lines: ByteLine[] = [];
	for (const one of pieces(owners)) {
		const cell = cellOf(bytes, one, isMine);
		const last = lines.at(-1);
		if (last && isBeside(last, one)) last.cells.push(cell);
		else
			lines.push({
				from: one.from,
				of: one.of,
				section: one.section ?? null,
				id: one.id ?? null,
				kind: one.section !== undefined && one.of === 'row' ? kindOf(one.section) : null,
				users: one.users ?? null,
				cells: [cell],
				letters: one.of === 'nothing' ? letters(bytes.subarray(one.from, one.to)) : ''
			});
	}
	let changed = 0;
	if (isAlike) for (let place = 0; place < size; place++) if (isMine(place)) changed++;
	return {
		from,
		to,
		size,
		lines,
		sections: (packed?.places.sections ?? []).map(({ name, table, from: first, to: last, rows }) => ({
			name,
			of: table ? 'table' : 'pool',
			from: first,
			to: last,
			rows
		})),
		unexplained: owners.reduce((sum, one) => sum + (one.of === 'nothing' ? one.to - one.from : 0), 0),
		changed: isAlike ? changed : null
	};
}

/** A file of a layer that is no text, as it is shown. */
export function fileBytes(
	guide: Guide,
	file: LayerFile,
	{ below, at }: { below: LayerFile | undefined; at: number }
): BytesPage {
	const doc = packedOf(file.doc);
	return bytesPage(file.bytes(), doc, {
		below: below?.bytes() ?? null,
		at,
		kindOf: doc ? kindIn(guide, file.path, doc) : () => null
	});
}
