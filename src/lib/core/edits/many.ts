// One change for many records: what each value becomes. The same for the preview and for the plan.
import * as z from 'zod';
import { formulaFor, numberIn, FormulaFault } from '../numbers';
import { replaced } from '../words';
import { buildStack, valueOf, type EffectiveRecord, type Layer, type Stack } from '../stack';

const number = z.number().finite();

/** How the values of a field are changed. */
export const howSchema = z.discriminatedUnion('by', [
	z.object({ by: z.literal('set'), value: z.string().max(10_000) }),
	z.object({ by: z.literal('add'), amount: number }),
	z.object({ by: z.literal('multiply'), factor: number }),
	z.object({ by: z.literal('clamp'), low: number.nullable(), high: number.nullable() }),
	/** To the nearest multiple of a step. */
	z.object({ by: z.literal('round'), step: z.number().positive() }),
	/** So that the smallest becomes `low` and the largest `high`. */
	z.object({ by: z.literal('scale'), low: number, high: number }),
	/** See `Replacing`: `leave` are forms of the word that stay. */
	z.object({
		by: z.literal('replace'),
		find: z.string().min(1),
		with: z.string(),
		keepCase: z.boolean().optional(),
		outside: z.boolean().optional(),
		leave: z.array(z.string()).max(1000).optional()
	}),
	z.object({ by: z.literal('copy'), from: z.string() }),
	/** What a layer or another version says. */
	z.object({ by: z.literal('layer'), layer: z.string() }),
	z.object({ by: z.literal('formula'), formula: z.string().min(1).max(2000) })
]);

export type How = z.infer<typeof howSchema>;

/** What a value becomes; `fault` says why it cannot be told, and then it stays. */
export interface NewValue {
	record: EffectiveRecord;
	before: string | null;
	after: string;
	fault?: string;
}

/** What a layer says of a field of a record; undefined where it says nothing. */
export type SaidBy = (layer: string, record: EffectiveRecord, field: string) => string | undefined;

/**
 * What one layer of a stack says. A whole file of a later layer may hide the layer's own; then the layer is asked as if
 * it were alone, which is made when that is first needed.
 */
export function saidByLayer({ guide, pool }: Stack, layer: Layer): SaidBy {
	let alone: Stack | undefined;
	return (_, record, field) => {
		const there = record.presences.findLast((one) => one.layer.id === layer.id);
		if (there) return there.fields.find(({ path }) => path === field)?.value;
		alone ??= buildStack([layer], guide, pool);
		const own = alone.tables.get(record.kind)?.byId.get(record.id);
		return own && valueOf(own, field);
	};
}

/** A number as people would write it: at most nine decimals, without the dust of binary fractions. */
const plain = (value: number): string => String(Number(value.toFixed(9)));

function ofNumber(how: How, range: () => [number, number]): ((value: number) => number) | null {
	switch (how.by) {
		case 'add':
			return (value) => value + how.amount;
		case 'multiply':
			return (value) => value * how.factor;
		case 'clamp':
			return (value) => Math.min(how.high ?? Infinity, Math.max(how.low ?? -Infinity, value));
		case 'round':
			return (value) => Math.round(value / how.step) * how.step;
		case 'scale': {
			const [low, high] = range();
			const width = high - low;
			return (value) => (width === 0 ? how.low : how.low + ((value - low) / width) * (how.high - how.low));
		}
		default:
			return null;
	}
}

/**
 * What the field becomes in each of the records. Whole numbers stay whole: their results are rounded.
 * @param whole whether the field takes whole numbers only
 * @throws FormulaFault when a formula cannot be read
 */
export function newValues(
	records: readonly EffectiveRecord[],
	field: string,
	how: How,
	{ whole = false, said }: { whole?: boolean; said?: SaidBy } = {}
): NewValue[] {
	const written = (value: number) => plain(whole ? Math.round(value) : value);
	const numbers = () =>
		records.map((record) => numberIn(valueOf(record, field) ?? '')).filter(Number.isFinite);
	const change = ofNumber(how, () => {
		let [low, high] = [Infinity, -Infinity];
		for (const value of numbers()) [low, high] = [Math.min(low, value), Math.max(high, value)];
		return [low, high];
	});
	const formula = how.by === 'formula' ? formulaFor(how.formula) : null;
	return records.map((record): NewValue => {
		const before = valueOf(record, field) ?? null;
		const stays = (fault?: string): NewValue => ({
			record,
			before,
			after: before ?? '',
			...(fault ? { fault } : {})
		});
		const becomes = (after: string): NewValue => ({ record, before, after });
		if (change) {
			const value = numberIn(before ?? '');
			if (Number.isFinite(value)) return becomes(written(change(value)));
			return stays(before === null || before === '' ? 'is empty' : `“${before}” is not a number`);
		}
		if (formula) {
			try {
				const result = formula((name) => (name === 'value' ? (before ?? undefined) : valueOf(record, name)));
				return becomes(typeof result === 'number' ? written(result) : result);
			} catch (fault) {
				if (!(fault instanceof FormulaFault)) throw fault;
				return stays(fault.message);
			}
		}
		switch (how.by) {
			case 'set':
				return becomes(how.value);
			case 'replace':
				return becomes(replaced(before ?? '', how));
			case 'copy': {
				const other = valueOf(record, how.from);
				return other === undefined ? stays(`has no ${how.from}`) : becomes(other);
			}
			case 'layer': {
				const other = said?.(how.layer, record, field);
				return other === undefined ? stays('is not there') : becomes(other);
			}
			default:
				return stays();
		}
	});
}

/** How a change reads in words. */
export function howInWords(how: How): string {
	switch (how.by) {
		case 'set':
			return `to ${how.value || 'nothing'}`;
		case 'add':
			return how.amount < 0 ? `less ${-how.amount}` : `plus ${how.amount}`;
		case 'multiply':
			return `times ${how.factor}`;
		case 'clamp':
			return [how.low === null ? '' : `at least ${how.low}`, how.high === null ? '' : `at most ${how.high}`]
				.filter(Boolean)
				.join(', ');
		case 'round':
			return `to steps of ${how.step}`;
		case 'scale':
			return `scaled to ${how.low} to ${how.high}`;
		case 'replace':
			return `with “${how.with}” for “${how.find}”`;
		case 'copy':
			return `to what ${how.from} says`;
		case 'layer':
			return 'to its value in another layer';
		case 'formula':
			return `by ${how.formula}`;
	}
}
