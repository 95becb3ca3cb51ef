// The layout of a packed table while it is put together in a form.
import type { PackedField, PackedLayout } from '$core/formats';

/** Sorts of fields, for people. */
export const fieldSorts: Record<PackedField['as'], string> = {
	u8: 'number, 1 byte',
	i8: 'number with sign, 1 byte',
	u16: 'number, 2 bytes',
	i16: 'number with sign, 2 bytes',
	u32: 'number, 4 bytes',
	i32: 'number with sign, 4 bytes',
	u64: 'number, 8 bytes',
	i64: 'number with sign, 8 bytes',
	f32: 'decimal number, 4 bytes',
	f64: 'decimal number, 8 bytes',
	text: 'text',
	bytes: 'bytes'
};

/** Bytes that a field takes. */
export const sizeOfField = ({ as, length, times = 1 }: PackedField): number =>
	times * (length ?? Number(as.slice(1)) / 8);

const sizeOfAll = (fields: readonly PackedField[]) =>
	fields.reduce((sum, field) => sum + sizeOfField(field), 0);

/** Where the rows begin, where their number stands before them (null for nowhere), and as what. */
export interface Counted {
	begin: number;
	at: number | null;
	as: 'u8' | 'u16' | 'u32';
}

/** Where the rows begin. */
export const beginOf = ({ head, tables }: PackedLayout): number => tables[0]!.at ?? sizeOfAll(head);

/** What the head says of the rows. */
export function countOf(layout: PackedLayout): Counted {
	const nth = layout.head.findIndex(({ counts }) => counts !== undefined);
	const field = layout.head[nth];
	return {
		begin: beginOf(layout),
		at: field ? sizeOfAll(layout.head.slice(0, nth)) : null,
		as: (field?.as ?? 'u16') as Counted['as']
	};
}

const gap = (length: number): PackedField[] =>
	length > 0 ? [{ as: 'bytes', length, pad: 'zero', from: 'file' }] : [];

/** The layout with another head: rows begin somewhere else, or their number stands somewhere else. */
export function withCount(layout: PackedLayout, { begin, at, as }: Counted): PackedLayout {
	const table = layout.tables[0]!;
	const { at: _, ...rest } = table;
	if (at === null) return { ...layout, head: gap(begin), tables: [rest] };
	const size = Number(as.slice(1)) / 8;
	const head: PackedField[] = [
		...gap(at),
		{ name: 'rows', as, counts: table.name, pad: 'zero', from: 'file' },
		...gap(begin - at - size)
	];
	return { ...layout, head, tables: [rest] };
}

/** The layout with other fields in its rows. */
export const withFields = (layout: PackedLayout, fields: PackedField[]): PackedLayout => ({
	...layout,
	tables: [{ ...layout.tables[0]!, fields }]
});

/** The layout with texts from a byte on that rows can point at; without, no field does. */
export function withTexts(layout: PackedLayout, at: number | undefined): PackedLayout {
	if (at !== undefined) {
		const pool = layout.pools[0] ?? { name: 'texts', as: 'text', length: 'zero', align: 1, grows: false };
		return { ...layout, pools: [{ ...pool, at }] };
	}
	const fields = layout.tables[0]!.fields.map(({ to: _, ...field }) => field);
	return { ...withFields(layout, fields), pools: [] };
}
