// What the guide says of a field, as a Zod schema: the same while typing, at the server and in the checks.
import * as z from 'zod/mini';
import type { FieldGuide, TextGuide } from '../guide';
import { limitFault, roomFault, typeFault } from './values';

type Fault = (text: string) => string | null;

const text = (faults: readonly Fault[]) =>
	z.string().check(
		...faults.map((fault) =>
			z.check<string>((context) => {
				const said = fault(context.value);
				if (said !== null) context.issues.push({ code: 'custom', message: said, input: context.value });
			})
		)
	);

/** Values that a field takes, as written; what is wrong is said as the end of a sentence that begins with the field. */
export const valueSchema = (field: FieldGuide) =>
	text([
		(value) => typeFault(field, value),
		(value) => {
			const limit = typeFault(field, value) === null ? limitFault(field, value) : null;
			return limit && `${limit.said}, the limit of the game`;
		}
	]);

/** Texts that have room in the game. */
export const textSchema = (about: Pick<TextGuide, 'longest' | 'oneLine'>) =>
	text([(value) => roomFault(about, value)]);

/** What is wrong with a value by a schema, in words; null where nothing is. */
export function faultOf(schema: ReturnType<typeof text>, value: string): string | null {
	const read = schema.safeParse(value);
	return read.success ? null : read.error.issues[0]!.message;
}
