// JSON documents changed by patch documents: JSON Patch (RFC 6902) and JSON Merge Patch (RFC 7396). Only what a patch
// names is rewritten: everything else of the text, comments too, stays as it is written.
import { findNodeAtLocation, getNodeValue, parseTree } from 'jsonc-parser';
import type { Node, ParseError } from 'jsonc-parser';

/** How a patch document says what it changes. */
export type JsonPatchForm = 'json-patch' | 'merge-patch';

/** A patch that cannot be applied; says what stands in the way, as a sentence. */
export class JsonPatchFault extends Error {}

type Step = string | number;

/** Whether two values of JSON are the same: the order of names does not count. */
function isSame(a: unknown, b: unknown): boolean {
	if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
	const [own, other] = [Object.entries(a), Object.entries(b)];
	return (
		Array.isArray(a) === Array.isArray(b) &&
		own.length === other.length &&
		own.every(
			([name, value]) => Object.hasOwn(b, name) && isSame(value, (b as Record<string, unknown>)[name])
		)
	);
}

/** Text that is JSON, where comments and a last comma are let pass. @throws JsonPatchFault */
function treeOf(text: string, what: string): Node {
	const faults: ParseError[] = [];
	const tree = parseTree(text, faults, { allowTrailingComma: true });
	if (!tree || faults.length > 0) throw new JsonPatchFault(`${what} is not valid JSON.`);
	return tree;
}

const sourceOf = (text: string, { offset, length }: Node): string => text.slice(offset, offset + length);

const childOf = (node: Node, name: string): Node | undefined =>
	node.type === 'object'
		? node.children?.findLast(({ children }) => children?.[0]?.value === name)?.children?.[1]
		: undefined;

/** What a pointer (RFC 6901) names step by step. @throws JsonPatchFault */
function stepsOf(pointer: string): string[] {
	if (pointer !== '' && !pointer.startsWith('/'))
		throw new JsonPatchFault(`“${pointer}” is not a pointer: a pointer is empty or begins with “/”.`);
	return pointer
		.split('/')
		.slice(1)
		.map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));
}

/** A place in a document: the node that holds it, and what it is called there. */
interface Spot {
	path: Step[];
	holder: Node;
	last: Step;
}

/** Number of an item; `-` is the one behind the last. @throws JsonPatchFault */
function itemNumber(list: Node, step: string, most: number, pointer: string): number {
	const count = list.children?.length ?? 0;
	const nth = step === '-' ? count : /^(?:0|[1-9]\d*)$/.test(step) ? Number(step) : NaN;
	if (!(nth <= most)) throw new JsonPatchFault(`There is no item “${step}” at “${pointer}”.`);
	return nth;
}

/** Where a pointer leads; its last step need not be there. @throws JsonPatchFault */
function spotOf(tree: Node, pointer: string): Spot | null {
	const steps = stepsOf(pointer);
	const last = steps.pop();
	if (last === undefined) return null;
	let holder = tree;
	const path: Step[] = [];
	for (const step of steps) {
		const list = holder.type === 'array';
		const name = list ? itemNumber(holder, step, (holder.children?.length ?? 0) - 1, pointer) : step;
		const next = list ? holder.children![name as number] : childOf(holder, step);
		if (!next) throw new JsonPatchFault(`There is no “${step}” on the way to “${pointer}”.`);
		path.push(name);
		holder = next;
	}
	if (holder.type !== 'object' && holder.type !== 'array')
		throw new JsonPatchFault(`“${pointer}” lies in a single value.`);
	const count = holder.children?.length ?? 0;
	return { path, holder, last: holder.type === 'array' ? itemNumber(holder, last, count, pointer) : last };
}

/** What a pointer names. @throws JsonPatchFault where nothing is there */
function nodeAt(tree: Node, pointer: string): Node {
	const spot = spotOf(tree, pointer);
	if (!spot) return tree;
	const { holder, last } = spot;
	const found = typeof last === 'number' ? holder.children?.[last] : childOf(holder, last);
	if (!found) throw new JsonPatchFault(`There is nothing at “${pointer}”.`);
	return found;
}

const replaceNode = (text: string, { offset, length }: Node, by: string): string =>
	text.slice(0, offset) + by + text.slice(offset + length);

/** Puts a value, as it is written, into an object or a list. */
function put(text: string, { holder, last }: Spot, value: string): string {
	const children = holder.children ?? [];
	const named = typeof last === 'string' ? childOf(holder, last) : undefined;
	if (named) return replaceNode(text, named, value);
	const said = typeof last === 'string' ? `${JSON.stringify(last)}: ${value}` : value;
	const before = typeof last === 'number' ? children[last] : undefined;
	if (before) return `${text.slice(0, before.offset)}${said}, ${text.slice(before.offset)}`;
	const end = children.at(-1);
	const at = end ? end.offset + end.length : holder.offset + 1;
	return `${text.slice(0, at)}${end ? ', ' : ''}${said}${text.slice(at)}`;
}

/** Takes a member of an object or an item of a list out, with its comma. */
function without(text: string, holder: Node, last: Step): string {
	const children = holder.children ?? [];
	const at =
		typeof last === 'number'
			? last
			: children.findLastIndex(({ children: parts }) => parts?.[0]?.value === last);
	const [node, next, before] = [children[at]!, children[at + 1], children[at - 1]];
	const end = node.offset + node.length;
	if (next) return text.slice(0, node.offset) + text.slice(next.offset);
	return text.slice(0, before ? before.offset + before.length : node.offset) + text.slice(end);
}

function add(text: string, pointer: string, value: string): string {
	const tree = treeOf(text, 'The file');
	const spot = spotOf(tree, pointer);
	return spot ? put(text, spot, value) : replaceNode(text, tree, value);
}

function remove(text: string, pointer: string): string {
	const tree = treeOf(text, 'The file');
	nodeAt(tree, pointer);
	const spot = spotOf(tree, pointer);
	if (!spot) throw new JsonPatchFault('The whole document cannot be removed.');
	return without(text, spot.holder, spot.last);
}

/** What is asked of an operation's fields. @throws JsonPatchFault */
function textOf(operation: Node, name: string): string {
	const node = childOf(operation, name);
	if (node?.type !== 'string') throw new JsonPatchFault(`“${name}” is missing, or is not a text.`);
	return node.value as string;
}

function valueNode(operation: Node): Node {
	const node = childOf(operation, 'value');
	if (!node) throw new JsonPatchFault('“value” is missing.');
	return node;
}

/** What an operation does to a text. `source` is the text of the patch. */
type Operation = (text: string, operation: Node, source: string) => string;

const OPERATIONS: Readonly<Record<string, Operation>> = {
	add: (text, operation, source) =>
		add(text, textOf(operation, 'path'), sourceOf(source, valueNode(operation))),
	replace: (text, operation, source) =>
		replaceNode(
			text,
			nodeAt(treeOf(text, 'The file'), textOf(operation, 'path')),
			sourceOf(source, valueNode(operation))
		),
	remove: (text, operation) => remove(text, textOf(operation, 'path')),
	copy(text, operation) {
		const from = nodeAt(treeOf(text, 'The file'), textOf(operation, 'from'));
		return add(text, textOf(operation, 'path'), sourceOf(text, from));
	},
	move(text, operation) {
		const [from, to] = [textOf(operation, 'from'), textOf(operation, 'path')];
		if (to.startsWith(`${from}/`)) throw new JsonPatchFault(`“${from}” cannot be moved into itself.`);
		const value = sourceOf(text, nodeAt(treeOf(text, 'The file'), from));
		return from === to ? text : add(remove(text, from), to, value);
	},
	test(text, operation) {
		const pointer = textOf(operation, 'path');
		const there = getNodeValue(nodeAt(treeOf(text, 'The file'), pointer)) as unknown;
		if (!isSame(there, getNodeValue(valueNode(operation))))
			throw new JsonPatchFault(`The value at “${pointer}” is not the one that is tested for.`);
		return text;
	}
};

function applyOperations(text: string, patch: string): string {
	const tree = treeOf(patch, 'The patch');
	if (tree.type !== 'array')
		throw new JsonPatchFault('The patch is not a list of operations, as JSON Patch (RFC 6902) is.');
	let now = text;
	(tree.children ?? []).forEach((operation, nth) => {
		try {
			const op = textOf(operation, 'op');
			const done = Object.hasOwn(OPERATIONS, op) ? OPERATIONS[op] : undefined;
			if (!done) throw new JsonPatchFault(`There is no operation “${op}”.`);
			now = done(now, operation, patch);
		} catch (fault) {
			if (!(fault instanceof JsonPatchFault)) throw fault;
			throw new JsonPatchFault(`Operation ${nth + 1}: ${fault.message}`);
		}
	});
	return now;
}

/** Without what only removes something. */
function withoutNulls(text: string, node: Node): string {
	if (node.type !== 'object') return sourceOf(text, node);
	const kept = (node.children ?? []).flatMap(({ children = [] }) =>
		children[1]!.type === 'null'
			? []
			: [`${sourceOf(text, children[0]!)}: ${withoutNulls(text, children[1]!)}`]
	);
	return `{${kept.join(', ')}}`;
}

function mergeInto(text: string, path: readonly Step[], patch: Node, source: string): string {
	const here = findNodeAtLocation(treeOf(text, 'The file'), [...path]);
	if (!here) return text;
	if (patch.type !== 'object' || here.type !== 'object')
		return replaceNode(text, here, withoutNulls(source, patch));
	let now = text;
	for (const { children = [] } of patch.children ?? []) {
		const [name, value] = [children[0]!.value as string, children[1]!];
		const holder = findNodeAtLocation(treeOf(now, 'The file'), [...path])!;
		const under = childOf(holder, name);
		if (value.type === 'null') {
			if (under) now = without(now, holder, name);
		} else if (under) now = mergeInto(now, [...path, name], value, source);
		else now = put(now, { path: [...path], holder, last: name }, withoutNulls(source, value));
	}
	return now;
}

/**
 * The text of a JSON document after a patch.
 * @param patch the text of the patch: a list of operations (RFC 6902), or a document that is merged in (RFC 7396)
 * @throws JsonPatchFault where one of them is no JSON, or an operation cannot be done: then none of them is
 */
export function patchJson(text: string, patch: string, form: JsonPatchForm): string {
	if (form === 'json-patch') {
		treeOf(text, 'The file');
		return applyOperations(text, patch);
	}
	return mergeInto(text, [], treeOf(patch, 'The patch'), patch);
}
