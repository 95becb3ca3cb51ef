// Names in Lua by the scopes of the language: which places mean the same variable, and another name for all of them.
import { parse } from 'luaparse';
import type { Splice } from '../change';

/** A variable of a script: local to a block, or global. */
export interface Variable {
	name: string;
	local: boolean;
	/** Where it is named, `[from, to)` in UTF-16 code units, ascending. */
	at: [number, number][];
}

/** A name cannot be changed so; says why. */
export class NameFault extends Error {}

const KEYWORDS = new Set(
	'and break do else elseif end false for function goto if in local nil not or repeat return then true until while'.split(
		' '
	)
);

interface Node {
	type: string;
	range: [number, number];
	[name: string]: unknown;
}

type Scope = Map<string, Variable>;

const isNode = (of: unknown): of is Node =>
	typeof of === 'object' && of !== null && typeof (of as Node).type === 'string';

/** Walks a tree by the rules of scope of Lua 5.3 (reference manual, §3.5). */
class Resolver {
	readonly variables: Variable[] = [];
	private readonly globals: Scope = new Map();
	private scopes: Scope[] = [];

	private known(name: string): Variable {
		for (let nth = this.scopes.length - 1; nth >= 0; nth--) {
			const found = this.scopes[nth]!.get(name);
			if (found) return found;
		}
		let global = this.globals.get(name);
		if (!global) {
			global = { name, local: false, at: [] };
			this.globals.set(name, global);
			this.variables.push(global);
		}
		return global;
	}

	private name({ range, name }: Node): void {
		this.known(name as string).at.push(range);
	}

	private declare({ range, name }: Node): void {
		const fresh: Variable = { name: name as string, local: true, at: [range] };
		this.variables.push(fresh);
		this.scopes.at(-1)!.set(fresh.name, fresh);
	}

	private inside(work: () => void): void {
		this.scopes.push(new Map());
		work();
		this.scopes.pop();
	}

	private all(nodes: unknown): void {
		for (const one of nodes as Node[]) this.visit(one);
	}

	private declared(nodes: unknown): void {
		for (const one of nodes as Node[]) if (one.type === 'Identifier') this.declare(one);
	}

	private functionOf(node: Node): void {
		const named = isNode(node.identifier) ? node.identifier : null;
		if (named && node.isLocal) this.declare(named);
		else if (named) this.visit(named);
		this.inside(() => {
			// A function with a colon in its name has a first parameter that is not written.
			if (named?.type === 'MemberExpression' && named.indexer === ':')
				this.scopes.at(-1)!.set('self', { name: 'self', local: true, at: [] });
			this.declared(node.parameters);
			this.all(node.body);
		});
	}

	visit(node: unknown): void {
		if (!isNode(node)) return;
		switch (node.type) {
			case 'Identifier':
				return this.name(node);
			case 'MemberExpression':
				return this.visit(node.base);
			case 'TableKeyString':
				return this.visit(node.value);
			case 'LabelStatement':
			case 'GotoStatement':
				return;
			case 'LocalStatement':
				this.all(node.init);
				return this.declared(node.variables);
			case 'FunctionDeclaration':
				return this.functionOf(node);
			case 'ForNumericStatement':
				for (const one of [node.start, node.end, node.step]) this.visit(one);
				return this.inside(() => {
					this.declared([node.variable]);
					this.all(node.body);
				});
			case 'ForGenericStatement':
				this.all(node.iterators);
				return this.inside(() => {
					this.declared(node.variables);
					this.all(node.body);
				});
			case 'RepeatStatement':
				// The condition sees what the block declared.
				return this.inside(() => {
					this.all(node.body);
					this.visit(node.condition);
				});
			case 'WhileStatement':
				this.visit(node.condition);
				return this.inside(() => this.all(node.body));
			case 'DoStatement':
			case 'Chunk':
				return this.inside(() => this.all(node.body));
			case 'IfClause':
			case 'ElseifClause':
			case 'ElseClause':
				this.visit(node.condition);
				return this.inside(() => this.all(node.body));
			default:
				for (const [name, one] of Object.entries(node)) {
					if (name === 'range' || name === 'loc' || name === 'type') continue;
					if (Array.isArray(one)) this.all(one);
					else this.visit(one);
				}
		}
	}
}

/** The variables of a script; null where it cannot be read as Lua. */
export function variablesIn(code: string): Variable[] | null {
	let tree: unknown;
	try {
		tree = parse(code, { ranges: true, comments: false, luaVersion: '5.3', encodingMode: 'none' });
	} catch {
		return null;
	}
	const resolver = new Resolver();
	resolver.visit(tree);
	for (const { at } of resolver.variables) at.sort(([a], [b]) => a - b);
	return resolver.variables;
}

/** The variable that is named at a place; undefined where none is. */
export const variableAt = (variables: readonly Variable[], place: number): Variable | undefined =>
	variables.find(({ at }) => at.some(([from, to]) => from <= place && place <= to));

/** @throws NameFault where a text is no name of a variable */
export function mustBeName(name: string): void {
	if (!/^[A-Za-z_][A-Za-z0-9_]*$/.test(name))
		throw new NameFault(`“${name}” is not a name: letters, digits and “_”, not beginning with a digit.`);
	if (KEYWORDS.has(name)) throw new NameFault(`“${name}” is a word of the language and cannot be a name.`);
}

const places = (variables: readonly Variable[]): string =>
	variables
		.map(({ local, at }) => `${local}:${at.map(([from]) => from).join(',')}`)
		.sort()
		.join('\n');

/**
 * What gives a variable another name everywhere in its script.
 * @throws NameFault where the new name is none, or would mean something else there
 */
export function renamed(code: string, variable: Variable, to: string): Splice[] {
	mustBeName(to);
	const before = variablesIn(code);
	if (!before) throw new NameFault('The script has a fault; correct it first.');
	const splices = variable.at.map(([from, end]) => ({ from, to: end, insert: to }));
	// Whether every place still means what it meant, told by reading the result.
	const grown = to.length - variable.name.length;
	const moved = (place: number) => place + grown * variable.at.filter(([from]) => from < place).length;
	const expected = before.map(({ at, ...rest }) => ({
		...rest,
		at: at.map(([from, end]): [number, number] => [moved(from), end])
	}));
	const next = [...splices]
		.reverse()
		.reduce((text, { from, to: end }) => text.slice(0, from) + to + text.slice(end), code);
	const after = variablesIn(next);
	if (!after || places(after) !== places(expected))
		throw new NameFault(`“${to}” already means something else where “${variable.name}” is used.`);
	return splices;
}
