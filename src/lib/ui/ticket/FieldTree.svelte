<script lang="ts">
	import { applyIntention } from '../frame/client.svelte';
	import FieldLine from './FieldLine.svelte';
	import Self from './FieldTree.svelte';
	import ItemButtons from './ItemButtons.svelte';
	import ListBlock from './ListBlock.svelte';
	import type { Node } from './nodes';

	/** Fields as they are nested; blocks and lists can be changed as a whole. */
	let {
		slug,
		kind,
		id,
		nodes,
		optional,
		removable = false,
		within = '',
		set,
		linkTo
	}: {
		slug: string;
		kind: string;
		id: string;
		nodes: Node[];
		optional: readonly string[];
		/** Whether any field can be taken out. */
		removable?: boolean;
		/** The block whose heading says the first part of the names. */
		within?: string;
		set: (field: string, value: string, expected: string | null) => Promise<boolean>;
		linkTo: (kind: string, id: string) => string;
	} = $props();

	/** Blocks that have a heading: those that others do without, and large ones. */
	const headed = (node: Extract<Node, { is: 'block' }>) =>
		optional.includes(node.path) || node.nodes.length > 2;
	/** The headed block before or behind another, with which it can change places. */
	function neighbour(path: string, by: -1 | 1): string | null {
		const blocks = nodes.filter((node) => node.is === 'block' && headed(node));
		const other = blocks[blocks.findIndex((node) => node.path === path) + by];
		return other?.path ?? null;
	}
	async function change(path: string, wish: { how: 'remove' } | { how: 'move'; to: string }) {
		const done = await applyIntention(slug, { do: 'part', kind, id, path, change: wish });
		// What was removed can be added again: that is where the eye goes.
		if (done && wish.how === 'remove')
			document.querySelector<HTMLElement>('[data-testid=add-part] select')?.focus();
	}
</script>

{#each nodes as node (node.path)}
	{#if node.is === 'field'}
		<FieldLine
			{slug}
			{kind}
			{id}
			row={within !== '' && node.row.title === node.path
				? { ...node.row, title: node.path.slice(within.length + 1) }
				: node.row}
			{set}
			{linkTo}
			remove={(removable || optional.includes(node.path)) &&
			node.row.value !== '' &&
			!node.path.startsWith('#')
				? () => void change(node.path, { how: 'remove' })
				: null}
		/>
	{:else if node.is === 'list'}
		<ListBlock {slug} {kind} {id} {node} optional={optional.includes(node.path)}>
			{#snippet item(one)}
				{#if one.row && node.list.named}
					<FieldLine
						{slug}
						{kind}
						{id}
						row={{ ...one.row, title: node.list.names[one.key] ?? one.key, meaning: null }}
						{set}
						{linkTo}
					/>
				{:else if one.row}
					<FieldLine {slug} {kind} {id} row={one.row} plain {set} {linkTo} />
				{:else}
					<Self {slug} {kind} {id} nodes={one.nodes} {optional} {removable} {set} {linkTo} />
				{/if}
			{/snippet}
		</ListBlock>
	{:else if headed(node)}
		<div role="group" aria-label={node.name} data-block={node.path}>
			<p class="group/item mt-1 flex items-center gap-2 border-b border-line/60 text-[12px]">
				<span class="font-semibold">{node.name}</span>
				<span class="ml-auto"
					><ItemButtons
						label={node.name}
						first={neighbour(node.path, -1) === null}
						last={neighbour(node.path, 1) === null}
						move={(by) => {
							const to = neighbour(node.path, by);
							if (to !== null) void change(node.path, { how: 'move', to });
						}}
						remove={() => void change(node.path, { how: 'remove' })}
					/></span
				>
			</p>
			<div class="pl-3">
				<Self
					{slug}
					{kind}
					{id}
					nodes={node.nodes}
					{optional}
					{removable}
					within={node.path}
					{set}
					{linkTo}
				/>
			</div>
		</div>
	{:else}
		<Self {slug} {kind} {id} nodes={node.nodes} {optional} {removable} {set} {linkTo} />
	{/if}
{/each}
