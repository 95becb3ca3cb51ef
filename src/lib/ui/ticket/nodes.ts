// The fields of a ticket as they are nested: blocks, lists and their items, in the order in which they first come.
import type { FieldRow, ListView } from '$core/views';

/** A field, or something that holds several. */
export type Node =
	| { is: 'field'; path: string; row: FieldRow }
	| { is: 'block'; path: string; name: string; nodes: Node[] }
	| { is: 'list'; path: string; list: ListView; items: Item[] };

/** An item of a list: one value, or all that it holds. */
export interface Item {
	path: string;
	/** Its number, or its name in a map. */
	key: string;
	row: FieldRow | null;
	nodes: Node[];
}

/** Steps of a path: `a.b[2].c` is `a`, `.b`, `[2]`, `.c`. */
const stepsOf = (path: string): string[] => path.match(/^[^.[]+|\.[^.[]+|\[[^\]]*\]/g) ?? [path];

/** The rows of a group as nodes. */
export function nodesOf(rows: readonly FieldRow[], lists: readonly ListView[]): Node[] {
	const byPath = new Map(lists.map((list) => [list.path, list]));
	const root: Node[] = [];
	const holders = new Map<string, { nodes: Node[] } | { items: Item[]; list: ListView }>();
	holders.set('', { nodes: root });

	const holderAt = (path: string, steps: string[]): { nodes: Node[] } | { items: Item[]; list: ListView } => {
		const known = holders.get(path);
		if (known) return known;
		const own = steps.at(-1)!;
		const above = steps.slice(0, -1).join('');
		const holder = holderAt(above, steps.slice(0, -1));
		const list = byPath.get(path);
		let made: { nodes: Node[] } | { items: Item[]; list: ListView };
		if ('items' in holder) {
			const item: Item = { path, key: own.replace(/^[.[]|\]$/g, ''), row: null, nodes: [] };
			holder.items.push(item);
			made = item;
		} else if (list) {
			const node = { is: 'list' as const, path, list, items: [] };
			holder.nodes.push(node);
			made = node;
		} else {
			const node = { is: 'block' as const, path, name: own.replace(/^\./, ''), nodes: [] };
			holder.nodes.push(node);
			made = node;
		}
		holders.set(path, made);
		return made;
	};

	for (const row of rows) {
		const steps = stepsOf(row.path);
		// A name that the steps do not spell out (a dot in a name) stands by itself.
		if (steps.join('') !== row.path) {
			root.push({ is: 'field', path: row.path, row });
			continue;
		}
		const holder = holderAt(steps.slice(0, -1).join(''), steps.slice(0, -1));
		if ('items' in holder)
			holder.items.push({ path: row.path, key: steps.at(-1)!.replace(/^[.[]|\]$/g, ''), row, nodes: [] });
		else holder.nodes.push({ is: 'field', path: row.path, row });
	}
	return sorted(root);
}

/** Items by their numbers: the columns of a kind may name them in another order. */
function sorted(nodes: Node[]): Node[] {
	for (const node of nodes) {
		if (node.is === 'block') sorted(node.nodes);
		if (node.is !== 'list') continue;
		if (!node.list.named) node.items.sort((a, b) => Number(a.key) - Number(b.key));
		for (const item of node.items) sorted(item.nodes);
	}
	return nodes;
}
