// Plans as they are kept and sent: plain data with a format version, validated whenever it is read.
import * as z from 'zod';
import { FOLLOW_SORTS, type FileChange, type Plan } from './plan';
import type { Splice } from './splice';

/** Raised whenever what is kept of a plan changes; see `upgraded` for what becomes of older ones. */
export const PLAN_FORMAT = 2;

/** Kept data are no plan that is known here. */
export class PlanFault extends Error {}

const digest = z
	.string()
	.regex(/^[0-9a-f]{64}$/)
	.nullable();
const place = z.int().min(0);

const splice = z.object({ from: place, to: place, insert: z.string() });

const about = { path: z.string().min(1), movedFrom: z.string().optional(), before: digest, after: digest };

const change = z.discriminatedUnion('of', [
	z.object({
		...about,
		of: z.literal('text'),
		encoding: z.string(),
		bom: z.boolean(),
		splices: z.array(splice)
	}),
	/** Of bytes that are put in, Base64 is kept. */
	z.object({
		...about,
		of: z.literal('bytes'),
		splices: z.array(splice.extend({ insert: z.base64() })).nullable()
	})
]);

const followSort = z.enum(FOLLOW_SORTS);

const planSchema = z.object({
	format: z.literal(PLAN_FORMAT),
	title: z.string(),
	changes: z.array(change),
	values: z.array(
		z.object({
			kind: z.string(),
			id: z.string(),
			name: z.string(),
			field: z.string(),
			before: z.string().nullable(),
			after: z.string().nullable(),
			follows: z.string().optional(),
			by: followSort.optional()
		})
	),
	notes: z.array(z.string()),
	detected: z.array(z.object({ by: followSort, count: place })).optional()
});

/** A plan as plain data, as it is in the ledger and goes to the screen. */
export type KeptPlan = z.input<typeof planSchema>;

export const toBase64 = (bytes: Uint8Array): string => {
	let letters = '';
	for (const byte of bytes) letters += String.fromCharCode(byte);
	return btoa(letters);
};
export const fromBase64 = (text: string): Uint8Array =>
	Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));

/** A plan as plain data. */
export const keptPlan = (plan: Plan): KeptPlan => ({
	format: PLAN_FORMAT,
	...plan,
	changes: plan.changes.map((one) =>
		one.of === 'text'
			? one
			: {
					...one,
					splices:
						one.splices && one.splices.map(({ insert, ...at }) => ({ ...at, insert: toBase64(insert) }))
				}
	)
});

/** A change of the first format: always of a text, or whole where the file was none. */
interface FirstChange {
	path: string;
	before: string | null;
	after: string | null;
	encoding: string;
	bom: boolean;
	splices: Splice[];
	whole?: boolean;
}

/** Data of an earlier format as it is kept now; what is of no format that was ever written stays as it is. */
function upgraded(data: unknown): unknown {
	if (typeof data !== 'object' || data === null || 'format' in data) return data;
	const { changes, ...rest } = data as { changes?: FirstChange[] };
	if (!Array.isArray(changes)) return data;
	return {
		...rest,
		format: PLAN_FORMAT,
		changes: changes.map(({ whole, encoding, bom, splices, ...one }) =>
			whole ? { ...one, of: 'bytes', splices: null } : { ...one, of: 'text', encoding, bom, splices }
		)
	};
}

/** Whether splices are in order and do not overlap. */
const inOrder = (splices: readonly Splice[]): boolean =>
	splices.every(({ from, to }, at) => to >= from && (at === 0 || from >= splices[at - 1]!.to));

/**
 * The plan that was kept, of whatever format.
 * @throws PlanFault naming what is wrong with it
 */
export function readPlan(data: unknown): Plan {
	const read = planSchema.safeParse(upgraded(data));
	if (!read.success) {
		const [issue] = read.error.issues;
		throw new PlanFault(`${issue!.path.join('.') || 'the plan'}: ${issue!.message}`);
	}
	const { format, changes, ...rest } = read.data;
	return {
		...rest,
		changes: changes.map((one): FileChange => {
			if (one.splices && !inOrder(one.splices))
				throw new PlanFault(`${one.path}: its splices are out of order`);
			const { movedFrom, ...plain } = one;
			const moved = movedFrom === undefined ? {} : { movedFrom };
			if (plain.of === 'text') return { ...plain, ...moved };
			const splices =
				plain.splices &&
				plain.splices.map(({ insert, ...at }): Splice<Uint8Array> => ({ ...at, insert: fromBase64(insert) }));
			return { ...plain, ...moved, splices };
		})
	};
}
