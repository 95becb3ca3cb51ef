<script lang="ts">
	import { tick, type Snippet } from 'svelte';
	import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
	import { counted } from '$core/wording';
	import Curve from '../charts/Curve.svelte';
	import ReferencePicker from '../pickers/ReferencePicker.svelte';
	import ValueEditor from '../editors/ValueEditor.svelte';
	import { applyIntention } from '../frame/client.svelte';
	import { Grip } from '../frame/icons';
	import ItemButtons from './ItemButtons.svelte';
	import type { Item, Node } from './nodes';

	/** A list that grows, shrinks and changes its order: on the ticket, and larger on a page of its own. */
	let {
		slug,
		kind,
		id,
		node,
		large = false,
		optional = false,
		item: row
	}: {
		slug: string;
		kind: string;
		id: string;
		node: Extract<Node, { is: 'list' }>;
		large?: boolean;
		/** Whether others of the kind do without the list. */
		optional?: boolean;
		/** What an item holds. */
		item: Snippet<[Item]>;
	} = $props();

	const { list } = $derived(node);
	const path = $derived(node.path);
	type Dragged = Item & { id: string };
	const standing = $derived(node.items.map((one): Dragged => ({ ...one, id: one.path })));
	/** While an item is dragged, where it would go. */
	let dragged = $state<Dragged[] | null>(null);
	const items = $derived(dragged ?? standing);
	let root = $state<HTMLElement>();

	type Change = { how: 'insert'; value: string } | { how: 'copy' | 'remove' } | { how: 'move'; to: number };
	const change = (at: number, wish: Change) =>
		applyIntention(slug, { do: 'item', kind, id, list: path, at, change: wish });

	/** Puts the focus where the eye is: on the item that was moved or added. */
	async function focusOn(nth: number, what: string) {
		await tick();
		const all = root?.querySelectorAll<HTMLElement>(':scope > [data-items] > [data-item]');
		const inside = `${what}:not(:disabled), button:not(:disabled), input`;
		all?.[nth]?.querySelector<HTMLElement>(inside)?.focus();
	}

	/** Moves or removes an item: by its number, or by its name where it has one. */
	const alter = (nth: number, to: number | null) =>
		list.named
			? applyIntention(slug, {
					do: 'part',
					kind,
					id,
					path: items[nth]!.path,
					change: to === null ? { how: 'remove' } : { how: 'move', to: items[to]!.path }
				})
			: change(nth, to === null ? { how: 'remove' } : { how: 'move', to });

	async function move(nth: number, by: -1 | 1) {
		if (await alter(nth, nth + by)) await focusOn(nth + by, by < 0 ? '[data-move-up]' : '[data-move-down]');
	}

	async function remove(nth: number) {
		if (await alter(nth, null)) await focusOn(Math.min(nth, node.items.length - 1), '[data-edit]');
	}

	async function copy(nth: number) {
		if (await change(nth, { how: 'copy' })) await focusOn(nth + 1, '[data-edit]');
	}

	async function add(value: string): Promise<boolean> {
		if (value === '') return false;
		if (list.named)
			return applyIntention(slug, {
				do: 'set',
				kind,
				id,
				field: `${path}.${value}`,
				value: '1',
				expected: null
			});
		return change(node.items.length, { how: 'insert', value });
	}

	/** The order that was dragged becomes the order of the file. */
	async function drop(next: Dragged[]) {
		const at = standing.findIndex((one, nth) => one.id !== next[nth]?.id);
		if (at >= 0) {
			// One item has moved: it is the one whose neighbours keep their order without it.
			const ids = next.map((one) => one.id);
			const moved = standing[at]!.id === ids[at + 1] ? ids[at]! : standing[at]!.id;
			const from = standing.findIndex((one) => one.id === moved);
			await change(from, { how: 'move', to: ids.indexOf(moved) });
		}
		dragged = null;
	}

	const bend = (values: Map<number, string>) =>
		applyIntention(slug, {
			do: 'fill',
			kind,
			id,
			values: [...values].map(([nth, value]) => ({ field: items[nth]!.path, value })),
			from: ''
		});
	/** Labels of rows in a list: what the list is called, with the number of the item. */
	const called = (one: Item, nth: number) => `${list.title} ${list.named ? one.key : nth + 1}`;
</script>

<div
	class="border-b border-line/60 py-1"
	role="group"
	aria-label={list.title}
	data-list={path}
	bind:this={root}
>
	<div class="flex items-baseline gap-2">
		<span class="font-semibold">{list.title}</span>
		<span class="text-[12px] text-steam">{counted(node.items.length, 'item')}</span>
		<span class="ml-auto flex items-baseline gap-3 text-[12px]">
			{#if optional}<button
					class="text-steam underline-offset-2 hover:underline"
					onclick={() => void applyIntention(slug, { do: 'part', kind, id, path, change: { how: 'remove' } })}
					aria-label="Remove {list.title} completely">remove list</button
				>{/if}
			{#if !large}<a
					class="follow text-steam"
					href="/p/{slug}/list/{encodeURIComponent(kind)}/{encodeURIComponent(id)}/{encodeURIComponent(path)}"
					aria-label="Open {list.title} in a larger editor">larger</a
				>{/if}
		</span>
	</div>
	{#if list.blank?.meaning}<p class="text-[12px] leading-4 text-steam">{list.blank.meaning}</p>{/if}
	{#if list.numbers && items.length > 1}
		<Curve
			title={list.title}
			values={node.items.map((one) => one.row?.value ?? '')}
			base={node.items.map((one) => one.row?.base ?? null)}
			height={large ? 220 : 56}
			save={bend}
		/>
	{/if}
	<div
		data-items
		use:dragHandleZone={{
			items,
			flipDurationMs: 120,
			type: path,
			dragDisabled: list.named,
			dropTargetStyle: {},
			dropAnimationDisabled: true
		}}
		onconsider={(event) => (dragged = event.detail.items as Dragged[])}
		onfinalize={(event) => void drop(event.detail.items as Dragged[])}
	>
		{#each items as one, nth (one.id)}
			<div class="group/item flex items-start gap-1" data-item={one.key}>
				<span class="mt-1 grid w-9 shrink-0 grid-cols-[14px_1fr] items-center text-[12px] text-steam">
					{#if !list.named}<span
							use:dragHandle
							aria-label="Drag {called(one, nth)}"
							class="rounded opacity-40 group-hover/item:opacity-100 focus:opacity-100"
							><Grip size={14} /></span
						><span class="text-right font-mono">{nth + 1}</span>{/if}
				</span>
				<span class="min-w-0 flex-1">{@render row(one)}</span>
				<span class="mt-1"
					><ItemButtons
						label={called(one, nth)}
						first={nth === 0}
						last={nth === items.length - 1}
						move={(by) => void move(nth, by)}
						copy={list.named ? null : () => void copy(nth)}
						remove={() => void remove(nth)}
					/></span
				>
			</div>
		{/each}
	</div>
	<!-- Under the values of the items, which stand behind what the base says. -->
	<div class="flex items-center gap-2 py-0.5 {list.blank ? 'pl-[145px]' : 'pl-10'}">
		{#if list.blank?.reference}
			<ReferencePicker
				{slug}
				{kind}
				row={{ ...list.blank, title: `Add to ${list.title}`, value: '' }}
				placeholder="add one…"
				save={add}
			/>
		{:else if list.blank}
			<span class="w-40"
				><ValueEditor
					value=""
					label="Add to {list.title}"
					empty="add one…"
					numeric={list.numbers}
					save={add}
				/></span
			>
		{:else if items.length > 0}
			<button
				class="rounded px-1 text-steam underline-offset-2 hover:underline"
				onclick={() => void copy(items.length - 1)}>Add another like {items.length}</button
			>
		{/if}
	</div>
</div>
