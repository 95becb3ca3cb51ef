<script lang="ts">
	import { page } from '$app/state';
	import FieldLine from '$ui/ticket/FieldLine.svelte';
	import FieldTree from '$ui/ticket/FieldTree.svelte';
	import ListBlock from '$ui/ticket/ListBlock.svelte';
	import { nodesOf, type Node } from '$ui/ticket/nodes';
	import { applyIntention } from '$ui/frame/client.svelte';
	import { withTicket } from '$ui/frame/address';

	/** One list of a record, with room. */
	let { data } = $props();
	const slug = $derived(data.project.slug);
	const { of, list } = $derived(data);
	const linkTo = (kind: string, id: string) => withTicket(page.url, kind, id);
	const set = (field: string, value: string, expected: string | null) =>
		applyIntention(slug, { do: 'set', kind: of.kind, id: of.id, field, value, expected });

	/** The list itself, from the blocks that hold it. */
	function found(nodes: Node[]): Extract<Node, { is: 'list' }> | null {
		for (const node of nodes) {
			if (node.is === 'list' && node.path === list.path) return node;
			const inner =
				node.is === 'block' ? node.nodes : node.is === 'list' ? node.items.flatMap((one) => one.nodes) : [];
			const within = found(inner);
			if (within) return within;
		}
		return null;
	}
	const node = $derived(found(nodesOf(data.rows, data.lists)));
</script>

<svelte:head><title>{list.title} of {of.name} · Kettle Dial</title></svelte:head>
<div class="max-w-4xl px-6 py-5">
	<p class="text-steam">
		{of.kindTitle} <code>{of.id}</code> ·
		<a class="follow" href={linkTo(of.kind, of.id)}>Open the ticket</a>
	</p>
	<h1>{list.title} of {of.name}</h1>
	<p class="mt-1 text-steam">
		Drag an item by its handle, or use the arrow buttons. Every change can be undone.
	</p>
	<div class="plate mt-3 px-4 py-2">
		{#if node}
			<ListBlock {slug} kind={of.kind} id={of.id} {node} large>
				{#snippet item(one)}
					{#if one.row}
						<FieldLine {slug} kind={of.kind} id={of.id} row={one.row} plain={!list.named} {set} {linkTo} />
					{:else}
						<FieldTree
							{slug}
							kind={of.kind}
							id={of.id}
							nodes={one.nodes}
							optional={data.optional}
							{set}
							{linkTo}
						/>
					{/if}
				{/snippet}
			</ListBlock>
		{/if}
	</div>
</div>
