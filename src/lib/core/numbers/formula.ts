// Formulas over the fields of a record, such as `round(load * 1.1 + 2)`. Read by jsep; worked out here, so that nothing
// else than numbers, fields and the functions below can be reached.
import jsep, { type Expression } from 'jsep';
import { numberOf } from '../facts';

/** A formula that cannot be read or worked out; says why. */
export class FormulaFault extends Error {}

/** The value of a field of the record at hand; undefined where it has none. */
export type Fields = (name: string) => string | undefined;

type Value = number | string | boolean;

/** What may be called, with how many arguments at least. */
const CALLS: Record<string, [number, (...values: number[]) => number]> = {
	min: [1, Math.min],
	max: [1, Math.max],
	round: [1, (value, step = 1) => Math.round(value / step) * step],
	floor: [1, Math.floor],
	ceil: [1, Math.ceil],
	abs: [1, Math.abs],
	sqrt: [1, Math.sqrt],
	clamp: [3, (value, low, high) => Math.min(high!, Math.max(low!, value))]
};

/** The names of the functions that a formula may call. */
const FORMULA_CALLS: readonly string[] = Object.keys(CALLS);

/** The number that a text is, also with spaces around it; NaN for any other text. */
export const numberIn = (text: string): number => numberOf(text.trim());

/** A chain of names and numbers in brackets as the path of a field: `effect[0].add`. */
function pathOf(node: Expression): string | null {
	if (node.type === 'Identifier') return String(node.name);
	if (node.type !== 'MemberExpression') return null;
	const owner = pathOf(node.object as Expression);
	const part = node.property as Expression;
	if (owner === null) return null;
	if (!node.computed) return part.type === 'Identifier' ? `${owner}.${String(part.name)}` : null;
	const inside = part.type === 'Literal' ? String(part.value) : pathOf(part);
	return inside === null ? null : `${owner}[${inside}]`;
}

const asNumber = (value: Value, where: string): number => {
	const number = typeof value === 'string' ? numberIn(value) : Number(value);
	if (!Number.isFinite(number))
		throw new FormulaFault(`${where} ${value === '' ? 'is empty' : `is “${value}”, which is not a number`}`);
	return number;
};

const said = (node: Expression) => pathOf(node) ?? 'a part of the formula';

function compare(operator: string, a: Value, b: Value): boolean | null {
	const [x, y] = [
		typeof a === 'string' ? numberIn(a) : Number(a),
		typeof b === 'string' ? numberIn(b) : Number(b)
	];
	const numeric = Number.isFinite(x) && Number.isFinite(y);
	switch (operator) {
		case '==':
		case '===':
			return numeric ? x === y : String(a) === String(b);
		case '!=':
		case '!==':
			return numeric ? x !== y : String(a) !== String(b);
		case '<':
			return numeric ? x < y : String(a) < String(b);
		case '>':
			return numeric ? x > y : String(a) > String(b);
		case '<=':
			return numeric ? x <= y : String(a) <= String(b);
		case '>=':
			return numeric ? x >= y : String(a) >= String(b);
		default:
			return null;
	}
}

function arithmetic(operator: string, x: number, y: number): number {
	switch (operator) {
		case '+':
			return x + y;
		case '-':
			return x - y;
		case '*':
			return x * y;
		case '/':
			if (y === 0) throw new FormulaFault('there is a division by 0');
			return x / y;
		case '%':
			if (y === 0) throw new FormulaFault('there is a division by 0');
			return x % y;
		default:
			throw new FormulaFault(`“${operator}” is not an operator here; use + - * / % or a comparison`);
	}
}

function work(node: Expression, fields: Fields): Value {
	const path = pathOf(node);
	if (path !== null) {
		const value = fields(path);
		if (value === undefined) throw new FormulaFault(`there is no field “${path}”`);
		return value;
	}
	switch (node.type) {
		case 'Literal':
			return node.value as Value;
		case 'UnaryExpression': {
			const inner = work(node.argument as Expression, fields);
			if (node.operator === '!') return !isTrue(inner);
			const number = asNumber(inner, said(node.argument as Expression));
			return node.operator === '-' ? -number : number;
		}
		case 'BinaryExpression':
		case 'LogicalExpression': {
			const operator = String(node.operator);
			const left = work(node.left as Expression, fields);
			if (operator === '&&') return isTrue(left) ? work(node.right as Expression, fields) : left;
			if (operator === '||') return isTrue(left) ? left : work(node.right as Expression, fields);
			const right = work(node.right as Expression, fields);
			const compared = compare(operator, left, right);
			if (compared !== null) return compared;
			return arithmetic(
				operator,
				asNumber(left, said(node.left as Expression)),
				asNumber(right, said(node.right as Expression))
			);
		}
		case 'ConditionalExpression':
			return work(
				(isTrue(work(node.test as Expression, fields)) ? node.consequent : node.alternate) as Expression,
				fields
			);
		case 'CallExpression': {
			const name = pathOf(node.callee as Expression) ?? '';
			const call = Object.hasOwn(CALLS, name) ? CALLS[name] : undefined;
			if (!call)
				throw new FormulaFault(`“${name}” is not a function; use one of ${FORMULA_CALLS.join(', ')}`);
			const list = node.arguments as Expression[];
			if (list.length < call[0]) throw new FormulaFault(`${name} needs at least ${call[0]} values`);
			return call[1](...list.map((one) => asNumber(work(one, fields), said(one))));
		}
		default:
			throw new FormulaFault('this cannot be calculated');
	}
}

const isTrue = (value: Value): boolean =>
	typeof value === 'string' ? value !== '' && !/^(0|false|no|off)$/i.test(value) : Boolean(value);

/**
 * A formula, ready for any record. `value` stands for the field that is changed.
 * @returns gives a finite number or a text for the fields of a record, @throws FormulaFault
 * @throws FormulaFault when it cannot be read
 */
export function formulaFor(formula: string): (fields: Fields) => number | string {
	let tree: Expression;
	try {
		tree = jsep(formula);
	} catch (fault) {
		const { index, description } = fault as { index?: number; description?: string };
		const place = index === undefined ? '' : ` at character ${index + 1}`;
		throw new FormulaFault(`The formula cannot be read${place}: ${description ?? 'it is not complete'}.`);
	}
	if (tree.type === 'Compound')
		throw new FormulaFault(
			'The formula cannot be read: these are several formulas with nothing between them.'
		);
	return (fields) => {
		const result = work(tree, fields);
		if (typeof result === 'boolean') return Number(result);
		if (typeof result === 'number' && !Number.isFinite(result))
			throw new FormulaFault('the result is not a number');
		return result;
	};
}
